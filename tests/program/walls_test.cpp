// Obstacles through the built program: its columns against a ball that is marched through the scene, its measures
// against its own trace, its advice put back into the feel.
#include <cmath>
#include <numbers>
#include <random>

#include <fmt/format.h>
#include <gtest/gtest.h>
#include <nlohmann/json.hpp>

#include "support/program.hpp"

namespace stasis::test {
namespace {

using Vector = std::array<double, 3>;

Vector moved(const Vector& a, const Vector& b, double times) {
  return {a[0] + times * b[0], a[1] + times * b[1], a[2] + times * b[2]};
}
double size_of(const Vector& v) { return std::hypot(v[0], v[1], v[2]); }

/// A box turned by a heading, a ball, a fence and a floor, at random places.
struct RandomScene {
  Vector box{}, box_size{}, ball{};
  double heading, ball_diameter, floor;
  std::array<std::array<double, 2>, 3> fence{};

  explicit RandomScene(unsigned seed) {
    std::mt19937 random(seed);
    const auto between = [&](double low, double high) {
      return std::uniform_real_distribution<double>(low, high)(random);
    };
    for (auto* v : {&box, &ball}) *v = {between(-4, 4), between(-1, 2), between(-4, 4)};
    box_size = {between(0.3, 3), between(0.3, 3), between(0.3, 3)};
    heading = between(-180, 180);
    ball_diameter = between(0.4, 2);
    floor = between(-2.5, -1);
    for (auto& point : fence) point = {between(-5, 5), between(-5, 5)};
  }

  std::string text() const {
    return fmt::format(R"(
[obstacle.box]
kind = "box"
centre = [{}, {}, {}]
size = [{}, {}, {}]
turn = {}
[obstacle.ball]
kind = "sphere"
centre = [{}, {}, {}]
diameter = {}
[obstacle.floor]
kind = "plane"
at = [0, {}, 0]
[obstacle.fence]
kind = "wall"
points = [[{}, {}], [{}, {}], [{}, {}]]
)",
                       box[0], box[1], box[2], box_size[0], box_size[1], box_size[2], heading, ball[0], ball[1],
                       ball[2], ball_diameter, floor, fence[0][0], fence[0][1], fence[1][0], fence[1][1], fence[2][0],
                       fence[2][1]);
  }

  /// How far a place is from the nearest of them; 0 inside.
  double room_at(const Vector& at) const {
    const double angle = heading * std::numbers::pi / 180, c = std::cos(angle), s = std::sin(angle);
    const Vector d = moved(at, box, -1);
    const Vector own{c * d[0] - s * d[2], d[1], s * d[0] + c * d[2]};
    Vector out{};
    for (std::size_t i = 0; i < 3; ++i) out[i] = std::max(0.0, std::fabs(own[i]) - 0.5 * box_size[i]);
    double room = std::min(size_of(out), size_of(moved(at, ball, -1)) - 0.5 * ball_diameter);
    room = std::min(room, at[1] - floor);
    for (std::size_t k = 0; k < 2; ++k) {
      const double ux = fence[k + 1][0] - fence[k][0], uz = fence[k + 1][1] - fence[k][1];
      const double share =
          std::clamp(((at[0] - fence[k][0]) * ux + (at[2] - fence[k][1]) * uz) / (ux * ux + uz * uz), 0.0, 1.0);
      room = std::min(room, std::hypot(at[0] - fence[k][0] - share * ux, at[2] - fence[k][1] - share * uz));
    }
    return std::max(0.0, room);
  }

  /// Where a ball first touches on its way; infinite beyond 40.
  double marched(const Vector& from, const Vector& way, double radius) const {
    double at = 0;
    for (int k = 0; k < 200'000 && at < 40; ++k) {
      const double room = room_at(moved(from, way, at)) - radius;
      if (room <= 1e-9) return at;
      at += room;
    }
    return std::numeric_limits<double>::infinity();
  }
};

TEST(WallsProgram, HitsAreThoseOfAMarchOnEveryFrame) {
  int met = 0, missed = 0;
  for (unsigned seed = 1; seed <= 6; ++seed) {
    const RandomScene scene(seed);
    const double thickness = seed % 3 == 0 ? 0 : 0.1 * seed;
    const TempDir folder;
    folder.write("f.toml", fmt::format(R"x(
[picture]
focus = "focus"
distance = "radius"
yaw = "yaw"
pitch = "tilt"
[track.subject]
kind = "eight"
centre = [0, 0, 0]
width = 6
height = 4
lap = 3
[channel.focus]
rest = [0, 0, 0]
follow = "subject"
[channel.yaw]
unit = "deg"
rest = 0
formula = "100 * time"
[channel.tilt]
unit = "deg"
rest = 0
formula = "25 * sin(200 * time)"
[channel.radius]
rest = 3
range = [0.1, 9]
obstacles = {{ thickness = {}, stand_off = 0.2 }}
{}
[take.t]
length = 9
)x",
                                       thickness, scene.text()));
    const Ended ended = run_program(folder, {"run", "f.toml", "--figure", "none"});
    ASSERT_EQ(ended.status, 0) << ended.err;
    auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
    for (std::size_t k = 0; k < trace["time"].size(); ++k) {
      const double yaw = trace["yaw.smooth"][k] * std::numbers::pi / 180,
                   pitch = trace["tilt.smooth"][k] * std::numbers::pi / 180;
      const Vector focus{trace["focus.smooth.x"][k], trace["focus.smooth.y"][k], trace["focus.smooth.z"][k]};
      const Vector back{std::sin(yaw) * std::cos(pitch), -std::sin(pitch), std::cos(yaw) * std::cos(pitch)};
      const double expected = scene.marched(focus, back, 0.5 * thickness), hit = trace["radius.hit"][k];
      const double limit = trace["radius.limit"][k];
      if (std::isnan(hit)) { // nothing, unless a ball only just grazes something
        ++missed;
        EXPECT_TRUE(expected > 30 || scene.room_at(moved(focus, back, expected)) - 0.5 * thickness < 1e-6);
        continue;
      }
      ++met;
      EXPECT_LE(limit, hit);
      EXPECT_GE(limit, 0);
      EXPECT_LE(trace["radius.goal"][k], std::max(0.1, std::min(3.0, limit)) + 1e-12);
      if (std::fabs(hit - expected) < 1e-6) continue;
      // Along a surface the place is ill-conditioned: there it touches all the same.
      EXPECT_NEAR(scene.room_at(moved(focus, back, hit)), 0.5 * thickness, 1e-7) << seed << " row " << k;
    }
  }
  EXPECT_GT(met, 1000);
  EXPECT_GT(missed, 20);
}

/// Somebody walks backwards at 3 m/s towards a cliff behind the view.
std::string cliff_feel(const std::string& half_life) {
  return R"([picture]
focus = "focus"
distance = "radius"
[track.walker]
kind = "line"
from = [0, 1, -7]
velocity = [0, 0, 3]
[channel.focus]
unit = "m"
rest = [0, 1, -7]
follow = "walker"
[obstacle.cliff]
kind = "plane"
at = [0, 0, 0]
normal = [0, 0, -2]
[channel.radius]
unit = "m"
rest = 5
range = [0.3, 6]
motion = { rising = { kind = "glide", half_life = 0.8 }, falling = { kind = "glide", half_life = )"
         + half_life + R"( } }
obstacles = { stand_off = 0.12 }
[[want]]
take = "t"
measure = "radius.penetration"
at_most = 0
[take.t]
length = 2
)";
}

TEST(WallsProgram, ItsAdviceHoldsOnceItIsPutIn) {
  const TempDir folder;
  folder.write("f.toml", cliff_feel("0.25"));
  EXPECT_EQ(run_program(folder, {"check", "f.toml"}).status, 1);
  const Ended first = run_program(folder, {"run", "f.toml", "--figure", "none", "--json"});
  const auto before = nlohmann::json::parse(first.out)["channels"]["radius"];
  auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
  double deepest = 0;
  int frames = 0;
  for (std::size_t k = 0; k < trace["time"].size(); ++k) {
    const double beyond = trace["radius.smooth"][k] - trace["radius.hit"][k];
    deepest = std::max(deepest, beyond);
    frames += beyond > 1e-12 ? 1 : 0;
  }
  EXPECT_EQ(before["penetration"].get<double>(), deepest);
  EXPECT_EQ(before["penetration_frames"].get<int>(), frames);
  const double advised = before["advised_half_life"].get<double>();
  EXPECT_LE(advised, 0.12 * std::numbers::ln2 / 3);
  const Ended set =
      run_program(folder, {"set", "f.toml", fmt::format("channel.radius.motion.falling.half_life={}", advised)});
  ASSERT_EQ(set.status, 0) << set.err;
  EXPECT_EQ(run_program(folder, {"check", "f.toml"}).status, 0);
}

TEST(WallsProgram, SaysThatItGoesThroughAndWhatWouldHelp) {
  const TempDir folder;
  folder.write("f.toml", cliff_feel("0.25"));
  const Ended run = run_program(folder, {"run", "f.toml", "--figure", "none"});
  EXPECT_NE(run.out.find("through cliff at most"), std::string::npos) << run.out;
  EXPECT_NE(run.out.find("a glide inward with a half-life of 0.0277 s or less stays out"), std::string::npos)
      << run.out;
  const Ended explained = run_program(folder, {"explain", "f.toml", "--only", "radius"});
  EXPECT_NE(explained.out.find("is held in by cliff"), std::string::npos) << explained.out;
  const Ended check = run_program(folder, {"check", "f.toml"});
  EXPECT_NE(check.out.find("through_obstacle"), std::string::npos);
}

TEST(WallsProgram, ARecordedClearDistanceNeedsNoPicture) {
  const TempDir folder;
  folder.write("clear.csv", "time,clear\n0,9\n1,9\n1.5,2\n2.5,2\n2.6,9\n");
  folder.write("f.toml", R"([track.behind]
kind = "recorded"
file = "clear.csv"
columns = { time = "time", x = "clear" }
[obstacle.level]
kind = "recorded"
track = "behind"
[channel.radius]
rest = 4
range = [0.5, 6]
motion = { kind = "glide", half_life = 0.1 }
obstacles = { stand_off = 0.5 }
[take.t]
length = 4
clock = { fps = 10 }
)");
  ASSERT_EQ(run_program(folder, {"run", "f.toml", "--figure", "none"}).status, 0);
  auto trace = read_csv(folder.read("stasis-out/t.trace.csv"));
  EXPECT_NEAR(trace["radius.hit"][12], 9 - 7 * 0.4, 1e-12);
  EXPECT_NEAR(trace["radius.limit"][12], 9 - 7 * 0.4 - 0.5, 1e-12);
  EXPECT_EQ(trace["radius.goal"][20], 1.5);
  EXPECT_EQ(trace["radius.goal"][30], 4);
}

TEST(WallsProgram, TheSameBytesTwice) {
  const TempDir folder;
  folder.write("f.toml", cliff_feel("0.25"));
  for (const char* out : {"a", "b"})
    ASSERT_EQ(run_program(folder, {"run", "f.toml", "-o", out, "--figure", "svg"}).status, 0);
  for (const char* file : {"t.trace.csv", "t.measures.json", "t.svg", "t.plan.svg"})
    EXPECT_EQ(folder.read(std::string("a/") + file), folder.read(std::string("b/") + file)) << file;
}

} // namespace
} // namespace stasis::test
