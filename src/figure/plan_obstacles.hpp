// Obstacles as they stand on a plan, seen from above and cut to what it shows.
#pragma once

#include <string>
#include <vector>

#include "core/feel/feel.hpp"
#include "figure/figure.hpp"

namespace stasis {

/// An obstacle on the plan: right and back, in units.
struct PlanObstacle {
  std::string name;
  std::vector<std::vector<Point>> pieces; ///< outlines, or lines
  bool is_line = false;                   ///< a wall without thickness
};

/// Those that stand in the take and reach into `view` (left, least back, right, most back). A plane is cut at the
/// height `level`; one that lies level, such as a floor, is not on a plan, nor is a recorded clear distance.
std::vector<PlanObstacle> obstacles_on_plan(const Feel& feel, const Take& take, const Box& view, double level);

} // namespace stasis
