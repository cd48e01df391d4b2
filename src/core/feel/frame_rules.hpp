// The per-frame rules in a document, wherever they are written, and what each becomes.
#pragma once

#include <string>
#include <vector>

#include "core/feel/document.hpp"
#include "core/motion/per_frame.hpp"

namespace stasis {

/// A table that describes a per-frame rule.
struct FrameRuleAt {
  std::string path; ///< "motion.soft", "channel.fov.motion"
  PerFrame rule;
};

/// \param document with its settings resolved. What is not a whole rule is passed over: validation reports it.
std::vector<FrameRuleAt> frame_rules_in(const Node& document);

} // namespace stasis
