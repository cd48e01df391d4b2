// The smallest feel in which something moves; for tests and benchmarks.
#pragma once

#include <string>

#include <fmt/format.h>

namespace stasis::test {

/// A channel `a` that goes from 0 to 1 by `motion` (the keys of a motion, on one line) when `c` is pressed at `at`.
inline std::string step_feel(const std::string& motion, double fps, double length, double at = 0.0,
                             const std::string& more_cues = "") {
  return fmt::format(R"(feel = 1
[channel.a]
rest = 0
range = [-100, 100]
motion = {{ {} }}
[pose.up]
a = 1
[control.c]
kind = "hold"
pose = "up"
[take.t]
length = {}
clock = {{ fps = {} }}
cues = [{{ at = {}, press = "c" }}, {}]
)",
                     motion, length, fps, at, more_cues);
}

} // namespace stasis::test
