#include "core/view/obstacle_faces.hpp"

#include <algorithm>
#include <array>
#include <cmath>

namespace stasis {
namespace {

/// The rectangles about a box; of one without thickness along an axis, the one across that axis.
void add_box(const BoxShape& box, double reach, std::vector<Face>& out) {
  Components low{}, high{};
  for (std::size_t i = 0; i < most_components; ++i) {
    low[i] = std::max(box.low[i], -reach);
    high[i] = std::min(box.high[i], reach);
  }
  for (std::size_t across = 0; across < most_components; ++across) {
    const std::size_t u = (across + 1) % most_components, v = (across + 2) % most_components;
    if (!(high[u] > low[u] && high[v] > low[v])) continue;
    for (int side = 0; side < (high[across] > low[across] ? 2 : 1); ++side) {
      Components corner{};
      corner[across] = side == 0 ? low[across] : high[across];
      Face face;
      for (const auto& [at_u, at_v] :
           {std::array{low[u], low[v]}, {high[u], low[v]}, {high[u], high[v]}, {low[u], high[v]}}) {
        corner[u] = at_u;
        corner[v] = at_v;
        face.push_back(plus(box.centre, box.axes.sum(corner)));
      }
      out.push_back(std::move(face));
    }
  }
}

void add_plane(const PlaneShape& plane, double reach, std::vector<Face>& out) {
  constexpr double least_slope = 1e-3;
  const Components& n = plane.normal;
  const double level = std::hypot(n[0], n[2]);
  if (level < least_slope) return;
  const Components along{n[2] / level, 0.0, -n[0] / level};
  const Components rising{-n[0] * n[1] / level, level, -n[2] * n[1] / level};
  Face face;
  for (const auto& [u, v] : {std::array{-1, -1}, {1, -1}, {1, 1}, {-1, 1}})
    face.push_back(plus(plus(plane.at, along, u * reach), rising, v * reach));
  out.push_back(std::move(face));
}

} // namespace

std::vector<ObstacleFaces> obstacle_faces(const Feel& feel, const Take& take, double reach) {
  std::vector<ObstacleFaces> all;
  for (std::size_t o = 0; o < feel.obstacles.size(); ++o) {
    if (!take.has_obstacle(o)) continue;
    ObstacleFaces one{feel.obstacles[o].name, {}, std::nullopt};
    const ObstacleShape& shape = feel.obstacles[o].shape;
    if (const auto* box = std::get_if<BoxShape>(&shape)) add_box(*box, reach, one.faces);
    if (const auto* plane = std::get_if<PlaneShape>(&shape)) add_plane(*plane, reach, one.faces);
    if (const auto* ball = std::get_if<SphereShape>(&shape)) one.ball = *ball;
    if (const auto* wall = std::get_if<WallShape>(&shape))
      for (const BoxShape& panel : wall->panels) add_box(panel, reach, one.faces);
    if (one.ball || !one.faces.empty()) all.push_back(std::move(one));
  }
  return all;
}

} // namespace stasis
