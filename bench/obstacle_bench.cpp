// Rays of some thickness against each kind of obstacle, and a take of an hour whose view a bridge and two piers hold
// in.
#include <random>

#include <benchmark/benchmark.h>

#include "core/check/known_names.hpp"
#include "core/feel/read_feel.hpp"
#include "core/scene/obstacle.hpp"
#include "core/take/player.hpp"
#include "io/toml_reader.hpp"

namespace {

using namespace stasis;

std::vector<Ray> rays_of(double radius) {
  std::mt19937 random(5);
  std::uniform_real_distribution<double> share(-1.0, 1.0);
  std::vector<Ray> rays;
  for (int k = 0; k < 1000; ++k) {
    const Axes axes = axes_of_view(3.0 * share(random), share(random), 0.0);
    rays.push_back({{5 * share(random), 5 * share(random), 5 * share(random)}, axes.back, radius});
  }
  return rays;
}

void cast(benchmark::State& state, const ObstacleShape& shape, double radius) {
  const std::vector<Ray> rays = rays_of(radius);
  for (auto _ : state)
    for (const Ray& ray : rays) benchmark::DoNotOptimize(hit_of(ray, shape));
  state.SetItemsProcessed(state.iterations() * static_cast<std::int64_t>(rays.size()));
}

BoxShape turned_box() { return {{1, 0, -1}, axes_of_view(0.4, 0.2, 0.1), {-1, -2, -0.5}, {1, 2, 0.5}}; }

BENCHMARK_CAPTURE(cast, plane, PlaneShape{}, 0.2);
BENCHMARK_CAPTURE(cast, sphere, (SphereShape{{1, 0, -1}, 1.5}), 0.2);
BENCHMARK_CAPTURE(cast, turned_box_thin, turned_box(), 0.0);
BENCHMARK_CAPTURE(cast, turned_box, turned_box(), 0.2);
BENCHMARK_CAPTURE(cast, wall_of_three, wall_along({{-3, 2}, {0, 3}, {2, 2}, {3, -3}}, -1, 2), 0.2);

void held_hour(benchmark::State& state) {
  const auto document = io::read_toml(R"([picture]
focus = "focus"
distance = "radius"
yaw = "yaw"
[track.otter]
kind = "eight"
centre = [0, 0, 0]
width = 9
height = 5
lap = 14
[channel.focus]
rest = [0, 0, 0]
follow = "otter"
[channel.yaw]
unit = "deg"
rest = 40
[obstacle.bridge]
kind = "box"
centre = [0, 1.5, 0]
size = [13, 0.3, 1.6]
[obstacle.left]
kind = "box"
centre = [-1.9, 0, 0]
size = [0.8, 3, 1.8]
[obstacle.right]
kind = "box"
centre = [2.1, 0, 0.1]
size = [0.8, 3, 1.8]
turn = 14
[channel.radius]
rest = 3.6
range = [0.6, 6]
motion = { kind = "glide", half_life = 0.05 }
obstacles = { thickness = 0.3, stand_off = 0.2 }
[take.t]
length = 3600
)",
                                      0);
  const Feel feel = *read_feel(*document, all_known_names);
  const Scene scene{&feel, &feel.takes[0], clock_of(feel.takes[0])};
  for (auto _ : state) play(scene, {});
  state.SetItemsProcessed(state.iterations() * scene.clock.frames);
}
BENCHMARK(held_hour)->Unit(benchmark::kMillisecond);

} // namespace
