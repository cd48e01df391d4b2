#include "core/units.hpp"

#include <array>
#include <cmath>

#include "core/text.hpp"

namespace stasis {
namespace {

constexpr std::array units{
    Unit{"s", UnitKind::time, 1, 1},           Unit{"ms", UnitKind::time, 1, 1000},
    Unit{"min", UnitKind::time, 60, 1},        Unit{"Hz", UnitKind::frequency, 1, 1},
    Unit{"kHz", UnitKind::frequency, 1000, 1}, Unit{"1/s", UnitKind::rate, 1, 1},
    Unit{"/s", UnitKind::rate, 1, 1},          Unit{"1/ms", UnitKind::rate, 1000, 1},
    Unit{"deg", UnitKind::angle, 1, 1},        Unit{"rad", UnitKind::angle, 180, std::numbers::pi},
    Unit{"turn", UnitKind::angle, 360, 1},     Unit{"m", UnitKind::length, 1, 1},
    Unit{"km", UnitKind::length, 1000, 1},     Unit{"cm", UnitKind::length, 1, 100},
    Unit{"mm", UnitKind::length, 1, 1000},     Unit{"%", UnitKind::percent, 1, 1},
    Unit{"px", UnitKind::pixels, 1, 1},
};

} // namespace

std::span<const Unit> all_units() noexcept { return units; }

std::optional<Unit> find_unit(std::string_view symbol) noexcept {
  for (const Unit& unit : units)
    if (unit.symbol == symbol) return unit;
  return std::nullopt;
}

std::string_view own_unit(UnitKind kind) noexcept {
  for (const Unit& unit : units)
    if (unit.kind == kind) return unit.symbol;
  return "";
}

std::string_view kind_in_words(UnitKind kind) noexcept {
  switch (kind) {
  case UnitKind::none: return "a plain number";
  case UnitKind::time: return "a time";
  case UnitKind::frequency: return "a frequency";
  case UnitKind::rate: return "a rate";
  case UnitKind::angle: return "an angle";
  case UnitKind::length: return "a length";
  case UnitKind::percent: return "a percentage";
  case UnitKind::pixels: return "a number of pixels";
  case UnitKind::channel: return "a value in the channel's unit";
  }
  return "";
}

std::optional<Quantity> parse_quantity(std::string_view text) noexcept {
  const auto read = read_leading_number(trimmed(text));
  if (!read) return std::nullopt;
  const auto unit = find_unit(trimmed(read->rest));
  if (!unit) return std::nullopt;
  return Quantity{read->value, *unit};
}

double convert(double value, const Unit& from, const Unit& to) noexcept {
  if (from.symbol == to.symbol) return value;
  return value * (from.times * to.divided_by) / (from.divided_by * to.times);
}

double rate_of_half_life(double half_life) noexcept { return std::numbers::ln2 / half_life; }
double rate_of_settling_time(double time, double share) noexcept { return -std::log(share) / time; }
double rate_of_fraction(double per_frame, double fps) noexcept { return -fps * std::log1p(-per_frame); }

} // namespace stasis
