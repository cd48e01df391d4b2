// The camera that a picture of a plain scene is drawn with.
#pragma once

#include "core/scene/quaternion.hpp"
#include "core/view/camera.hpp"

namespace stasis {

struct ShownCamera {
  Components eye{};
  Axes axes;
  double half_height = 0.0; ///< tangent of half the vertical angle
};

/// Where the picture says where the eye is, camera_view() itself; where it does not, a place before a plain scene from
/// which what the channels say can be seen. Of a flat view: nothing that is drawn.
ShownCamera shown_camera(const Feel& feel, const ReadComponent& read);

/// How large a step of the scene is, in the feel's unit of length: a quarter of the resting distance.
double scene_step(const Feel& feel) noexcept;

} // namespace stasis
