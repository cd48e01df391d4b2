// Every conversion between the designer's words and the solver's: units, and the forms of one smoothing.
#pragma once

#include <numbers>
#include <optional>
#include <span>
#include <string_view>

namespace stasis {

/// What a number measures. `channel` stands for the unit that a channel declares for itself.
enum class UnitKind { none, time, frequency, rate, angle, length, percent, pixels, channel };

struct Unit {
  std::string_view symbol;
  UnitKind kind;
  double times; ///< to the kind's own unit: value * times / divided_by, so that "30 ms" is exactly 0.03
  double divided_by;
};

/// All units that a string in a feel may carry, the kind's own unit first.
std::span<const Unit> all_units() noexcept;
/// The unit written `symbol`, or nothing.
std::optional<Unit> find_unit(std::string_view symbol) noexcept;
/// The unit in which plain numbers of this kind are read: "s", "Hz", "1/s", "deg", "m", "%", "px"; "" if none.
std::string_view own_unit(UnitKind kind) noexcept;
/// The kind in words, as in "a time".
std::string_view kind_in_words(UnitKind kind) noexcept;

struct Quantity {
  double value; ///< in `unit`
  Unit unit;
};
/// Reads "110 ms" or "35mm": a decimal number, optional blanks, a known unit. Nothing if it is not of that form.
std::optional<Quantity> parse_quantity(std::string_view text) noexcept;

/// `value` in `from`, converted to `to` of the same kind.
double convert(double value, const Unit& from, const Unit& to) noexcept;

/// One whole turn, radians.
inline constexpr double whole_turn = 2.0 * std::numbers::pi;
/// Angular frequency (rad/s, > 0) of an undamped natural frequency (Hz, > 0).
constexpr double angular_frequency(double frequency_hz) noexcept { return whole_turn * frequency_hz; }
/// The inverse of angular_frequency.
constexpr double natural_frequency_hz(double angular) noexcept { return angular / whole_turn; }

constexpr double radians(double degrees) noexcept { return degrees * (std::numbers::pi / 180.0); }
constexpr double degrees(double radians) noexcept { return radians * (180.0 / std::numbers::pi); }

/// Rate (1/s) of the exponential approach that halves its gap every `half_life` seconds (> 0).
double rate_of_half_life(double half_life) noexcept;
/// Rate of the approach whose gap falls to 1/e in `time_constant` seconds (> 0).
constexpr double rate_of_time_constant(double time_constant) noexcept { return 1.0 / time_constant; }
/// Rate of the approach that first comes within `share` (0..1, both open) of its step after `time` seconds (> 0).
double rate_of_settling_time(double time, double share) noexcept;
/// Rate of the rule that closes the fraction `per_frame` (0..1, both open) of its gap on each of `fps` frames a second.
double rate_of_fraction(double per_frame, double fps) noexcept;

/// The share of a step within which a move counts as settled unless a channel says otherwise.
inline constexpr double default_settle_share = 0.02;

} // namespace stasis
