// Whether a finished take holds to what is wanted of it.
#pragma once

#include <optional>
#include <string>

#include "core/feel/feel.hpp"
#include "core/measure/take_measures.hpp"

namespace stasis {

struct WantVerdict {
  bool holds = false;
  std::optional<double> value; ///< nothing: it did not happen, and the want does not hold
  std::string measure;         ///< "fov.settling_time"
  std::string bound;           ///< "at most 0.6 s"
  std::string unit;
};

WantVerdict judge(const Want& want, const Feel& feel, const TakeMeasures& measures);

} // namespace stasis
