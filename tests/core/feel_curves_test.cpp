// The curves of a feel and the handles by which they are bent.
#include <cmath>

#include <fmt/format.h>
#include <gtest/gtest.h>

#include "core/curve/curve.hpp"
#include "core/feel/feel_curves.hpp"
#include "core/feel/motion_at.hpp"
#include "io/toml_reader.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

std::vector<FeelCurve> bent_curves(const std::string& text) {
  const auto document = io::read_toml(text, 0);
  EXPECT_TRUE(document);
  return document ? feel_curves(*document, test::feel_from(text)) : std::vector<FeelCurve>();
}
std::string eased_feel(const std::string& curve) {
  return test::step_feel(fmt::format("kind = \"ease\", duration = 1, curve = \"{}\"", curve), 60, 2);
}

// A curve with handles of its own is the curve through them.
TEST(FeelCurves, ExactHandlesAreTheCurve) {
  for (const char* const curve : {"linear", "ease", "cubic-bezier(0.1, -0.4, 0.8, 1.3)"}) {
    const auto found = bent_curves(eased_feel(curve));
    ASSERT_EQ(found.size(), 1u);
    ASSERT_TRUE(found[0].is_exact) << curve;
    ASSERT_EQ(found[0].handles, CurveHandles::bezier);
    const auto& handle = found[0].handle;
    const Curve again = CubicBezier{handle[0][0], handle[0][1], handle[1][0], handle[1][1]};
    for (double t = 0.0; t <= 1.0; t += 0.03)
      EXPECT_NEAR(evaluate(again, t).value, evaluate(found[0].curve, t).value, 1e-12) << curve << t;
  }
}

// Of a shape they are those of a curve that leaves and arrives as it does: powers of two and three are that curve.
TEST(FeelCurves, HandlesOfAShapeLeaveAndArriveAsItDoes) {
  for (const auto& [shape, most] : {std::pair{"in power 2", 1e-12},
                                    {"out power 2", 1e-12},
                                    {"in power 3", 1e-12},
                                    {"in-out sine", 0.01},
                                    {"out sine", 0.01},
                                    {"in-out power 3", 0.03}}) {
    const auto found = bent_curves(eased_feel(shape));
    ASSERT_EQ(found.size(), 1u) << shape;
    EXPECT_FALSE(found[0].is_exact);
    const auto& handle = found[0].handle;
    const Curve near = CubicBezier{handle[0][0], handle[0][1], handle[1][0], handle[1][1]};
    for (double t = 0.0; t <= 1.0; t += 0.03)
      EXPECT_NEAR(evaluate(near, t).value, evaluate(found[0].curve, t).value, most) << shape << t;
  }
  // One that leaves upright has a handle that can be seen.
  for (const char* const upright : {"out circle", "in-out circle", "out elastic"}) {
    const auto found = bent_curves(eased_feel(upright));
    ASSERT_EQ(found.size(), 1u) << upright;
    for (const auto& place : found[0].handle)
      EXPECT_TRUE(std::isfinite(place[1]) && std::fabs(place[1]) < 4.0) << upright;
  }
}

TEST(FeelCurves, StandWhereTheyAreWritten) {
  const std::string text = eased_feel("lean")
                           + "[curve.lean]\nshape = \"out back 1.7\"\n[curve.dots]\npoints = [[1, 0], "
                             "[2, 0.3], [5, 1]]\n[shake.s]\non = { a = 1 }\nwave = { kind = "
                             "\"noise\", frequency = 4 }\ndecay = { kind = \"eased\", duration = 1, "
                             "curve = \"in sine\" }\n";
  const auto found = bent_curves(text);
  std::vector<std::string> paths;
  for (const FeelCurve& one : found) paths.push_back(one.path);
  std::sort(paths.begin(), paths.end());
  EXPECT_EQ(paths, (std::vector<std::string>{"curve.dots.points", "curve.lean.shape", "shake.s.decay.curve"}));
  for (const FeelCurve& one : found)
    if (one.handles == CurveHandles::points) {
      EXPECT_EQ(one.handle, (std::vector<std::array<double, 2>>{{0, 0}, {0.25, 0.3}, {1, 1}}));
    }
}

TEST(MotionAt, IsFoundByItsPath) {
  const Feel feel = test::feel_from(
      "[channel.a]\nrest = 0\nmotion = \"soft\"\n[channel.b]\nrest = 0\nmotion = { kind = \"glide\", rate = 2 }\n"
      "[motion.soft]\nkind = \"glide\"\nrate = 3\n[take.t]\nlength = 1\n");
  EXPECT_EQ(std::get<Glide>(motion_at(feel, "motion.soft")->motion).rate, 3.0);
  EXPECT_EQ(std::get<Glide>(motion_at(feel, "channel.b.motion")->motion).rate, 2.0);
  for (const char* const none : {"motion.sof", "channel.a.motion", "soft.motion", ""})
    EXPECT_EQ(motion_at(feel, none), nullptr) << none;
}

} // namespace
} // namespace stasis
