// From a document's table to a motion.
#pragma once

#include <optional>
#include <string>

#include "core/feel/reading.hpp"

namespace stasis {

/// The motion that a table describes; nothing, with problems added, where it does not describe one.
std::optional<Motion> read_motion(Reading& reading, const Node& node, const std::string& path);

/// The curve that a text is or names; nothing, with a problem, where it is neither.
std::optional<Curve> read_curve(Reading& reading, const std::string& text, const std::string& path, Position where);

} // namespace stasis
