// The legs of a sequence that pass a stretch of motion. Method: docs/maths.md, section "Recordings".
#pragma once

#include <cstdint>
#include <string>
#include <vector>

#include "core/recorded/flight_fit.hpp"

namespace stasis {

/// One leg or flight, with the curve's name.
struct NamedLegs {
  FittedLegs legs;
  std::string curve;
};
using Legs = std::vector<NamedLegs>;

/// What is done about a path that no few stops pass: it is left at that, or passed by stops at its rows.
enum class StopEffort : std::uint8_t { few, as_many_as_it_takes };

std::size_t stops_of(const Legs& legs) noexcept;
/// True if all legs pass their rows within what is allowed, and each begins where and when the one before has ended.
bool pass(const LedRows& rows, const Legs& legs);

/// The fewest stops: one leg, legs between the instants at which it halts, or a flight. What is not passed within what
/// is allowed comes as near as was found.
Legs legs_of(const LedRows& rows, const MovingStretch& stretch, StopEffort effort);

} // namespace stasis
