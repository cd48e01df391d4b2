// Axes in space, and turns of them. Right-handed, y up, yaw 0 looks along -z, positive yaw turns left.
#pragma once

#include "core/components.hpp"

namespace stasis {

/// Three axes at right angles.
struct Axes {
  Components right{1.0, 0.0, 0.0}, up{0.0, 1.0, 0.0}, back{0.0, 0.0, 1.0};

  const Components& operator[](std::size_t i) const noexcept { return i == 0 ? right : i == 1 ? up : back; }
  /// The parts of a vector along the axes.
  Components parts(const Components& vector) const noexcept;
  /// The vector that has these parts.
  Components sum(const Components& parts) const noexcept;
};

/// Axes turned by a heading, deg: about the vertical in space, in the plane of a flat view (where the first axis is
/// the heading itself).
Axes axes_of_heading(double heading, std::size_t components) noexcept;
/// Axes of a camera turned by yaw, pitch and roll, rad.
Axes axes_of_view(double yaw, double pitch, double roll) noexcept;

} // namespace stasis
