// What a sweep found: a measure over one number, or over two as a map.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/search/sweep.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

/// A bound on a measure, to be drawn as a line, or as the edge of an area.
struct SweepBound {
  std::string name;        ///< "fov.overshoot at most 10 %"
  std::size_t measure = 0; ///< that it bounds; beyond the last: none that is drawn
  double limit = 0.0;
  const std::vector<std::uint8_t>* holds; ///< by point
};

struct SweepDrawing {
  const SweepPoints* points = nullptr;
  std::vector<std::string> names, units;                        ///< of the measures
  const std::vector<std::vector<Measured>>* measures = nullptr; ///< by measure, then point
  std::vector<SweepBound> bounds;
  std::optional<std::uint64_t> best;          ///< point
  std::vector<std::optional<double>> present; ///< by axis: what the feel has now
  std::string title;                          ///< of the feel
};

/// One numeric axis: up to four measures over it. Two: the first measure as a map. Nothing for more axes, and for those
/// without numbers.
std::optional<Figure> sweep_figure(const SweepDrawing& drawing);

} // namespace stasis::figure
