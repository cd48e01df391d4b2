// The flights of a sequence: what is flown through stops, put together.
#pragma once

#include <string>
#include <vector>

#include "core/take/led_component.hpp"

namespace stasis {

/// Stops of a sequence that are flown through, one after the other.
struct FlightOrder {
  std::vector<LedComponent>& components;
  const std::vector<std::size_t>& stops; ///< of the sequence
  double begin;                          ///< s of the sequence
};
struct MadeFlight {
  std::vector<double> times;         ///< s of the sequence, by stop
  std::vector<std::string> given_up; ///< as of SequenceCourse
};
/// Adds the flight to the ways of its components. What comes to a subject goes on with it.
MadeFlight make_flight(const Feel& feel, const Sequence& sequence, const FlightOrder& order);

} // namespace stasis
