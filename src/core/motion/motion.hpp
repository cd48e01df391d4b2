// The rules by which a value approaches its goal, as one value.
#pragma once

#include <string_view>
#include <variant>

#include "core/motion/asked.hpp"
#include "core/motion/chain.hpp"
#include "core/motion/cut.hpp"
#include "core/motion/ease.hpp"
#include "core/motion/glide.hpp"
#include "core/motion/led_motion.hpp"
#include "core/motion/pace.hpp"
#include "core/motion/per_frame.hpp"
#include "core/motion/spring.hpp"

namespace stasis {

using Motion = std::variant<Cut, Glide, Spring, Ease, Pace, Chain, PerFrame, Led>;

/// True if every alternative answers all that a motion is asked.
template<class Variant> inline constexpr bool all_answer = false;
template<class... Kinds> inline constexpr bool all_answer<std::variant<Kinds...>> = (AnswersAll<Kinds> && ...);
static_assert(all_answer<Motion>, "a kind of motion lacks one of its parts: asked.hpp lists them");

/// "cut", "glide", "spring", "ease", "pace", "per_frame", "led", or "stages" ("delay" for stages that only wait).
std::string_view kind_of(const Motion& motion) noexcept;
MotionFacts facts_of(const Motion& motion);
MotionTraits traits_of(const Motion& motion) noexcept;
/// See AnswersAll::sentence.
std::string sentence_of(const Motion& motion, bool in_doublings = false);
std::vector<EquivalentForm> forms_of(const Motion& motion);

/// The eased or paced move that the motion makes when its goal jumps, if it does.
const Ease* ease_of(const Motion& motion) noexcept;
const Pace* pace_of(const Motion& motion) noexcept;
/// A glide or spring that takes `times` as long, > 0, its speed going on as it is; any other motion as it is.
Motion slowed(const Motion& motion, double times) noexcept;
/// How long a jump of the goal waits before anything happens, seconds: of stages that hold a delay.
double wait_of(const Motion& motion) noexcept;

} // namespace stasis
