// From a document's table to a motion.
#pragma once

#include <optional>
#include <string>

#include "core/feel/document.hpp"
#include "core/motion/mover.hpp"

namespace stasis {

/// The motion that a table describes; nothing, with problems added, where it does not describe one.
std::optional<Motion> read_motion(const Node& node, const std::string& path, Problems& problems);

} // namespace stasis
