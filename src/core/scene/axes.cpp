#include "core/scene/axes.hpp"

#include <cmath>

#include "core/units.hpp"

namespace stasis {

Components Axes::parts(const Components& vector) const noexcept {
  return {dot(vector, right), dot(vector, up), dot(vector, back)};
}

Components Axes::sum(const Components& parts) const noexcept {
  return plus(plus(plus({}, right, parts[0]), up, parts[1]), back, parts[2]);
}

Axes axes_of_heading(double heading, std::size_t components) noexcept {
  const double angle = radians(heading), c = std::cos(angle), s = std::sin(angle);
  if (components == most_components) return {{c, 0.0, -s}, {0.0, 1.0, 0.0}, {s, 0.0, c}};
  return {{c, s, 0.0}, {-s, c, 0.0}, {0.0, 0.0, 1.0}};
}

Axes axes_of_view(double yaw, double pitch, double roll) noexcept {
  const Components forward{-std::sin(yaw) * std::cos(pitch), std::sin(pitch), -std::cos(yaw) * std::cos(pitch)};
  const Components level{std::cos(yaw), 0.0, -std::sin(yaw)};
  const Components above{level[1] * forward[2] - level[2] * forward[1], level[2] * forward[0] - level[0] * forward[2],
                         level[0] * forward[1] - level[1] * forward[0]};
  const double c = std::cos(roll), s = std::sin(roll);
  Axes axes;
  axes.right = plus(plus({}, level, c), above, s);
  axes.up = plus(plus({}, above, c), level, -s);
  axes.back = plus({}, forward, -1.0);
  return axes;
}

} // namespace stasis
