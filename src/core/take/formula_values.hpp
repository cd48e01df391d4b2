// What the names in formulas stand for while a take is played.
#pragma once

#include <vector>

#include "core/take/controls.hpp"
#include "core/view/camera.hpp"

namespace stasis {

class FormulaValues {
public:
  /// All of them outlive it. \param readers by track of the feel.
  FormulaValues(const Feel& feel, const Take& take, const std::vector<TrackReader>& readers, const Controls& controls)
      : feel_(feel), take_(take), readers_(readers), controls_(controls), variables_(feel.variables.size()) {}

  /// The number that a formula gives; NaN or infinite where it gives none. \param time s, of the frame; \param seen of
  /// the subjects that the camera sees.
  double of(const Formula& formula, double time, double seen, const ReadComponent& smooth, const ReadComponent& goal);

private:
  double value_of(const FormulaVariable& variable, double time, double seen, const ReadComponent& smooth,
                  const ReadComponent& goal) const;

  const Feel& feel_;
  const Take& take_;
  const std::vector<TrackReader>& readers_;
  const Controls& controls_;
  std::vector<double> variables_;
};

} // namespace stasis
