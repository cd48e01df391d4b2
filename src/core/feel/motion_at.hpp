// The motion that a path of a feel names.
#pragma once

#include <string_view>

#include "core/feel/feel.hpp"

namespace stasis {

/// The motion at "motion.soft", or at "channel.yaw.motion" for one that is written in place; null if there is none.
const NamedMotion* motion_at(const Feel& feel, std::string_view path) noexcept;

} // namespace stasis
