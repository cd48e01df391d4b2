// Obstacles as they stand on a plan, seen from above and cut to what it shows.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

/// A place seen from above: right (x) and back (z), in units.
using PlanPlace = std::array<double, 2>;

/// What a plan shows.
struct PlanBounds {
  double left, right, front, back; ///< least and greatest x, least and greatest z
};

/// What of a straight line lies in the plan: its two ends, or nothing.
std::vector<PlanPlace> line_within(PlanPlace from, PlanPlace to, const PlanBounds& view);

/// An obstacle on the plan.
struct PlanObstacle {
  std::string name;
  std::vector<std::vector<PlanPlace>> pieces; ///< outlines, or lines
  bool is_line = false;                       ///< a wall without thickness
};

/// Those that stand in the take and reach into `view`. A plane is cut at the
/// height `level`; one that lies level, such as a floor, is not on a plan, nor is a recorded clear distance.
std::vector<PlanObstacle> obstacles_on_plan(const Feel& feel, const Take& take, const PlanBounds& view, double level);

} // namespace stasis
