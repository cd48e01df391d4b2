// The parts of every feel, in the language of read_program(): what stays the same whatever the feel says.
#pragma once

#include <string_view>

namespace stasis::code {

/// Small functions of numbers, and the spaces.
std::string_view numbers_part() noexcept;
/// The steps of glides, springs and per-frame rules.
std::string_view steps_part() noexcept;
/// Easing curves, value and slope.
std::string_view curves_part() noexcept;
/// Eased moves and paces under way.
std::string_view moves_part() noexcept;
/// What controls want, and clicks.
std::string_view controls_part() noexcept;
/// Waves and the sizes of shakes.
std::string_view shakes_part() noexcept;

} // namespace stasis::code
