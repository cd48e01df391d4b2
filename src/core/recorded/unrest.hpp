// What goes on in a recording where it rests.
#pragma once

#include "core/measure/spectrum.hpp"
#include "core/recorded/rests.hpp"

namespace stasis {

/// What goes on where it rests, on one component.
struct Unrest {
  double rms = 0.0;                      ///< unit: about the straight line that it drifts along
  PowerSpectrum spectrum;                ///< of the same
  double drift = 0.0, drift_error = 0.0; ///< unit/s, and the 95 % half width of it
  bool is_noise = false;                 ///< no more than what is random from row to row
};

/// \param noise what is random from row to row.
Unrest unrest_of(const RecordedRows& rows, const Rest& rest, std::size_t component, double noise);

} // namespace stasis
