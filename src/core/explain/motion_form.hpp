// A glide or a spring by other keys, or one as the other: what `set --form` writes.
#pragma once

#include <array>
#include <optional>
#include <string_view>

#include <tl/expected.hpp>

#include "core/motion/motion.hpp"

namespace stasis {

/// A way to give a glide or a spring.
struct MotionForm {
  std::string_view first, second; ///< its keys; a glide has one
  bool is_spring = false;
};

/// The form that a key begins, for a motion: settling_time begins one of each kind, and means that of the motion.
std::optional<MotionForm> form_named(std::string_view key, const Motion& motion) noexcept;

/// Every key that a form of either kind begins, and that follows one.
inline constexpr std::array<std::string_view, 7> first_form_keys{
    "half_life", "time_constant", "rate", "per_frame", "frequency", "stiffness", "settling_time"};
inline constexpr std::array<std::string_view, 3> second_form_keys{"damping_ratio", "damping", "overshoot"};
/// Keys that belong to one form only, and have no counterpart.
inline constexpr std::array<std::string_view, 2> lone_form_keys{"at_fps", "mass"};

struct FormNumbers {
  double first = 0.0, second = 0.0;
  bool is_same_motion = true; ///< false: another kind, with the same settling time
};

/// The motion in a form; the error says why there is none, for the end of a sentence. A glide becomes the spring of
/// ratio 1, a spring the glide, that settles in the same time.
tl::expected<FormNumbers, std::string_view> numbers_in(const MotionForm& form, const Motion& motion);

} // namespace stasis
