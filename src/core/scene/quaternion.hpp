// Turns of the camera as unit quaternions, (x, y, z) the axis part and w the scalar part.
#pragma once

#include "core/scene/axes.hpp"

namespace stasis {

struct Quaternion {
  double x = 0.0, y = 0.0, z = 0.0, w = 1.0;
};

/// The turn that brings the world's axes (x right, y up, z back) to these; unit length to rounding, w >= 0.
/// Source: the entries of a rotation matrix, by its largest diagonal part (no cancellation).
Quaternion quaternion_of(const Axes& axes) noexcept;

/// The same turn, on the side of the other (of the two that mean it): what lies between goes the short way round.
Quaternion beside(const Quaternion& turn, const Quaternion& other) noexcept;

} // namespace stasis
