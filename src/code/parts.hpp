// The parts of every feel, in the language of read_program(): what stays the same whatever the feel says. They stand in
// code/parts/NAME.part, from which cmake/Parts.cmake makes these functions.
#pragma once

#include <string_view>

namespace stasis::code {

std::string_view numbers_part() noexcept;     ///< small functions of numbers, and the spaces
std::string_view records_part() noexcept;     ///< what is kept of a value, and of a shake
std::string_view steps_part() noexcept;       ///< the steps of glides, springs and per-frame rules
std::string_view curves_part() noexcept;      ///< easing curves, value and slope
std::string_view moves_part() noexcept;       ///< eased moves and paces under way
std::string_view chains_part() noexcept;      ///< glides and springs behind an eased or paced move
std::string_view stateless_part() noexcept;   ///< motions as functions of time
std::string_view controls_part() noexcept;    ///< what controls want, and clicks
std::string_view sticks_part() noexcept;      ///< sticks and pointers
std::string_view shakes_part() noexcept;      ///< waves, and hits that are felt
std::string_view values_part() noexcept;      ///< a value and its goal: jumps, delays, turns, goals that run
std::string_view frame_part() noexcept;       ///< all values, frame by frame
std::string_view rooms_part() noexcept;       ///< a value and the room that obstacles leave it
std::string_view limits_part() noexcept;      ///< what is told of that room
std::string_view clocks_part() noexcept;      ///< how long a frame takes on the clock
std::string_view leads_part() noexcept;       ///< values that a sequence has
std::string_view directions_part() noexcept;  ///< the angle of a direction
std::string_view tracks_part() noexcept;      ///< subjects, and how they go on in a frame
std::string_view track_calls_part() noexcept; ///< what is told of them
std::string_view face_part() noexcept;        ///< which way they look
std::string_view throttle_part() noexcept;    ///< how hard they are driven
std::string_view given_part() noexcept;       ///< goals that others give

} // namespace stasis::code
