// The rules by which a value approaches its goal, as one value.
#pragma once

#include <string_view>
#include <variant>

#include "core/motion/chain.hpp"
#include "core/motion/ease.hpp"
#include "core/motion/glide.hpp"
#include "core/motion/pace.hpp"
#include "core/motion/per_frame.hpp"
#include "core/motion/spring.hpp"

namespace stasis {

/// The value is the goal, one frame later.
struct Cut {};
/// The value is led along a way of its own, by its run; no feel names this motion, sequences put it into force.
struct Led {};

using Motion = std::variant<Cut, Glide, Spring, Ease, Pace, Chain, PerFrame, Led>;

/// "cut", "glide", "spring", "ease", "pace", "per_frame", "led", or "stages" ("delay" for stages that only wait).
std::string_view kind_of(const Motion& motion) noexcept;

/// The eased or paced move that the motion makes when its goal jumps, if it does.
const Ease* ease_of(const Motion& motion) noexcept;
const Pace* pace_of(const Motion& motion) noexcept;
/// A glide or spring that takes `times` as long, > 0, its speed going on as it is; any other motion as it is.
Motion slowed(const Motion& motion, double times) noexcept;
/// How long a jump of the goal waits before anything happens, seconds: of stages that hold a delay.
double wait_of(const Motion& motion) noexcept;

} // namespace stasis
