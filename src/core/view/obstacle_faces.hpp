// Obstacles as bodies to be drawn in a picture: faces with corners, and balls.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

/// A flat face: its corners in order.
using Face = std::vector<Components>;

struct ObstacleFaces {
  std::string name;
  std::vector<Face> faces;
  std::optional<SphereShape> ball; ///< instead of faces
};

/// Those that stand in the take. What has no end ends `reach` from the obstacle's middle. A plane that lies level, such
/// as a floor, is left out, as is a recorded clear distance.
std::vector<ObstacleFaces> obstacle_faces(const Feel& feel, const Take& take, double reach);

} // namespace stasis
