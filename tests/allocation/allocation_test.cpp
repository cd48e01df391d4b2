// What a session allocates while it is played. The program's own `operator new` counts, so this stands alone.
#include <atomic>
#include <cmath>
#include <cstdlib>
#include <new>

#include <gtest/gtest.h>

#include "core/take/session.hpp"
#include "embed/stasis.h"
#include "support/feels.hpp"

namespace {

std::atomic<std::int64_t> allocations{0};

} // namespace

void* operator new(std::size_t size) {
  ++allocations;
  if (void* const place = std::malloc(size)) return place;
  throw std::bad_alloc();
}
void operator delete(void* place) noexcept { std::free(place); }
void operator delete(void* place, std::size_t) noexcept { std::free(place); }

namespace stasis {
namespace {

/// All that a hand can do, with motions of every kind.
constexpr const char* all_kinds = R"toml(
[channel.fov]
space = "zoom"
unit = "deg"
rest = 60
range = [20, 100]
motion = { kind = "ease", duration = 0.3, curve = "ease-in-out", handover = "pro_rata" }
[channel.side]
unit = "m"
rest = [0.4, 1.6, 0.0]
motion = { kind = "spring", frequency = 2, damping_ratio = 0.6 }
[channel.yaw]
space = "turn"
unit = "deg"
rest = 0
motion = { kind = "pace", speed = 200, acceleration = 900 }
[channel.distance]
space = "ratio"
unit = "m"
rest = 3
range = [1, 9]
motion = { kind = "stages", stages = [{ kind = "delay", delay = 0.1 }, { kind = "glide", half_life = 0.05 }, { kind = "glide", half_life = 0.05 }] }
[channel.look]
unit = "m"
rest = 0
formula = "0.1 * distance + 0.2 * sin(time)"
motion = { kind = "glide", half_life = 0.1 }
[pose.near]
fov = 40
side = [0.2, 1.4, 0.1]
yaw = 30
[pose.far]
fov = 80
yaw = -60
distance = { times = 1.5 }
[control.near]
kind = "hold"
pose = "near"
[control.far_toggle]
kind = "toggle"
pose = "far"
[control.wheel]
kind = "clicks"
channel = "distance"
step = 1.1
[control.stick]
kind = "stick"
channel = "side.x"
gain = 0.5
[shake.rattle]
on = { yaw = 1.5, "side.y" = 0.05 }
wave = { kind = "noise", frequency = 9 }
decay = { kind = "half_life", half_life = 0.15 }
[take.t]
length = 1
)toml";

TEST(Allocation, ASessionNeedsNoMemoryOnceWarm) {
  const Feel feel = test::feel_from(all_kinds);
  Session session(feel, feel.takes[0]);
  const auto play = [&](int frames) {
    for (int n = 0; n < frames; ++n) {
      const double dt = (0.8 + 0.001 * (n * 37 % 400)) / 60.0;
      if (n % 50 == 10) session.press(0);
      if (n % 50 == 35) session.release(0);
      if (n % 70 == 20) session.press(1);
      if (n % 70 == 30) session.release(1);
      if (n % 20 == 5) session.click(2, n % 40 == 5 ? 2 : -2);
      if (n % 60 == 15) session.push_stick(3, n % 120 == 15 ? 0.5 : -0.5);
      if (n % 60 == 40) session.push_stick(3, 0.0);
      if (n % 30 == 12) session.hit(0);
      session.advance(dt);
    }
  };
  play(200);
  const std::int64_t before = allocations;
  play(3000);
  EXPECT_EQ(allocations - before, 0);
}

/// The same through stasis.h.
TEST(Allocation, TheLibraryNeedsNoMemoryOnceWarm) {
  const std::string text = all_kinds;
  stasis_source source{};
  source.text = text.data();
  source.length = text.size();
  stasis_session* const session = stasis_open(&source, nullptr);
  ASSERT_NE(session, nullptr);
  double shown = 0.0;
  const auto play = [&](int frames) {
    for (int n = 0; n < frames; ++n) {
      if (n % 50 == 10) stasis_press(session, 0, 0);
      if (n % 50 == 35) stasis_release(session, 0, 0);
      if (n % 20 == 5) stasis_click(session, 2, n % 40 == 5 ? 2 : -2);
      if (n % 60 == 15) stasis_stick(session, 3, n % 120 == 15 ? 0.5 : -0.5);
      if (n % 60 == 40) stasis_stick(session, 3, 0.0);
      if (n % 30 == 12) stasis_hit(session, 0, 1.0);
      stasis_advance(session, (0.8 + 0.001 * (n * 37 % 400)) / 60.0);
      for (int channel = 0; channel < 5; ++channel) shown += stasis_value(session, channel, 0);
    }
  };
  play(200);
  const std::int64_t before = allocations;
  play(3000);
  EXPECT_EQ(allocations - before, 0);
  EXPECT_TRUE(std::isfinite(shown));
  stasis_close(session);
}

} // namespace
} // namespace stasis
