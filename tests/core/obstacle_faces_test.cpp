// Obstacles as bodies: faces that lie on them, and nothing left open.
#include <algorithm>
#include <cmath>
#include <map>

#include <gtest/gtest.h>

#include "core/unbounded.hpp"
#include "core/view/obstacle_faces.hpp"

namespace stasis {
namespace {

constexpr double rays_reach = 20.0;

ObstacleFaces faces_of(ObstacleShape shape) {
  Feel feel;
  feel.obstacles.push_back({"one", std::move(shape)});
  const auto all = obstacle_faces(feel, {}, rays_reach);
  return all.empty() ? ObstacleFaces{} : all.front();
}

TEST(ObstacleFaces, OfABoxLieOnItAndCloseIt) {
  const BoxShape box{{1, 2, -3}, axes_of_view(0.4, 0.3, -0.2), {-1, -2, -0.5}, {1, 2, 0.5}};
  const ObstacleFaces body = faces_of(box);
  ASSERT_EQ(body.faces.size(), 6u);
  const auto key = [](const Components& at) {
    return std::array{std::lround(at[0] * 1e9), std::lround(at[1] * 1e9), std::lround(at[2] * 1e9)};
  };
  std::map<std::array<std::array<long, 3>, 2>, int> edges;
  for (const Face& face : body.faces) {
    ASSERT_EQ(face.size(), 4u);
    for (std::size_t k = 0; k < 4; ++k) {
      const Components own = box.axes.parts(plus(face[k], box.centre, -1));
      for (std::size_t i = 0; i < 3; ++i) EXPECT_NEAR(std::fabs(own[i]), box.high[i], 1e-12);
      const auto a = key(face[k]), b = key(face[(k + 1) % 4]);
      ++edges[{std::min(a, b), std::max(a, b)}];
    }
  }
  EXPECT_EQ(edges.size(), 12u);
  for (const auto& [edge, count] : edges) EXPECT_EQ(count, 2);
}

TEST(ObstacleFaces, OfAWallAreItsPanelsAndEndSomewhere) {
  const ObstacleFaces body = faces_of(wall_along({{0, 0}, {4, 0}, {4, 3}}, 1, unbounded));
  ASSERT_EQ(body.faces.size(), 2u);
  for (const Face& face : body.faces) {
    const auto [low, high] =
        std::minmax_element(face.begin(), face.end(), [](const auto& a, const auto& b) { return a[1] < b[1]; });
    EXPECT_EQ((*low)[1], 1.0);
    EXPECT_EQ((*high)[1], rays_reach);
  }
  for (const Components& corner : body.faces[0]) EXPECT_NEAR(corner[2], 0.0, 1e-12);
  for (const Components& corner : body.faces[1]) EXPECT_NEAR(corner[0], 4.0, 1e-12);
}

TEST(ObstacleFaces, OfAPlaneLieInItUnlessItIsLevel) {
  for (const Components normal : {Components{1, 0, 0}, Components{0.6, 0.8, 0}, Components{0.48, 0.6, -0.64}}) {
    const PlaneShape plane{{1, 2, 3}, normal};
    const ObstacleFaces body = faces_of(plane);
    ASSERT_EQ(body.faces.size(), 1u);
    for (std::size_t k = 0; k < 4; ++k) {
      const Components& corner = body.faces[0][k];
      EXPECT_NEAR(dot(plus(corner, plane.at, -1), normal), 0.0, 1e-12);
      EXPECT_NEAR(length_of(plus(body.faces[0][(k + 1) % 4], corner, -1)), 2 * rays_reach, 1e-12);
    }
  }
  EXPECT_TRUE(faces_of(PlaneShape{{0, -1, 0}, {0, 1, 0}}).faces.empty());
}

TEST(ObstacleFaces, ABallIsABallAndOnlyWhatStandsIsThere) {
  Feel feel;
  feel.obstacles = {{"ball", SphereShape{{1, 2, 3}, 4}}, {"clear", RecordedClearance{0}}, {"box", BoxShape{}}};
  feel.obstacles[2].shape = BoxShape{{}, {}, {-1, -1, -1}, {1, 1, 1}};
  Take take;
  EXPECT_EQ(obstacle_faces(feel, take, rays_reach).size(), 2u);
  take.obstacles = {0, 1};
  const auto standing = obstacle_faces(feel, take, rays_reach);
  ASSERT_EQ(standing.size(), 1u);
  EXPECT_EQ(standing[0].name, "ball");
  ASSERT_TRUE(standing[0].ball);
  EXPECT_EQ(standing[0].ball->radius, 4.0);
}

} // namespace
} // namespace stasis
