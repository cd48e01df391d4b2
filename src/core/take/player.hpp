// Plays a take: cues act on controls, controls on goals, motions follow. Semantics: docs/design.md, section 3.
#pragma once

#include <span>
#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

/// Longest block handed to a sink, frames: enough to amortise a call, small enough to stay in the cache.
inline constexpr std::int64_t longest_block = 512;

/// Plays `scene` from its first frame to its last into `sinks`. Memory does not grow with the length of the take.
/// \returns notes on inputs that had no effect, in order of time.
std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks);

} // namespace stasis
