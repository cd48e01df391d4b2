#include "core/take/formula_values.hpp"

#include <cmath>

namespace stasis {

double FormulaValues::value_of(const FormulaVariable& variable, double time, double seen, const ReadComponent& smooth,
                               const ReadComponent& goal) const {
  using Kind = FormulaVariable::Kind;
  switch (variable.kind) {
  case Kind::time: return time;
  case Kind::control: return controls_.state(variable.control);
  case Kind::smooth: return smooth(variable.component);
  case Kind::goal: return goal(variable.component);
  case Kind::track: break;
  }
  const TrackPoint point = readers_[played_track(take_, variable.track)].at(seen);
  switch (variable.field) {
  case TrackField::speed: return std::hypot(point.velocity[0], point.velocity[1], point.velocity[2]);
  case TrackField::heading: return point.facing;
  case TrackField::throttle: return point.throttle;
  case TrackField::place: break;
  }
  return point.place[variable.component.component];
}

double FormulaValues::of(const Formula& formula, double time, double seen, const ReadComponent& smooth,
                         const ReadComponent& goal) {
  for (const std::size_t v : formula.variables())
    variables_[v] = value_of(feel_.variables[v], time, seen, smooth, goal);
  return formula.evaluate(variables_);
}

} // namespace stasis
