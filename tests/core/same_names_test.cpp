// What is the same of two feels, by name and kind, and what an old cue means in the new one.
#include <gtest/gtest.h>

#include "core/take/same_names.hpp"
#include "support/feels.hpp"

namespace stasis {
namespace {

constexpr const char* feel_of_then = R"(feel = 1
[channel.fov]
rest = 60
range = [20, 100]
motion = { kind = "glide", half_life = 0.1 }
[channel.focus]
rest = [0, 0]
range = [-9, 9]
motion = { kind = "glide", half_life = 0.1 }
follow = "otter"
[track.otter]
kind = "line"
from = [0, 0]
velocity = [1, 0]
[track.heron]
kind = "line"
from = [0, 0]
velocity = [0, 1]
[pose.near]
fov = 40
[pose.far]
fov = 80
[control.near]
kind = "hold"
pose = "near"
[control.far]
kind = "toggle"
pose = "far"
[control.wheel]
kind = "clicks"
channel = "fov"
step = 5
[shake.crash]
on = { fov = 2 }
wave = { kind = "noise", frequency = 5 }
decay = { kind = "half_life", half_life = 0.3 }
[shake.rattle]
on = { fov = 1 }
wave = { kind = "noise", frequency = 8 }
decay = { kind = "half_life", half_life = 0.2 }
)";

/// The same with other things first, the toggle a hold, the wheel gone, and focus of three components.
constexpr const char* feel_of_now = R"(feel = 1
[channel.lift]
rest = 1
range = [0, 2]
motion = { kind = "cut" }
[channel.focus]
rest = [0, 0, 0]
range = [-9, 9]
motion = { kind = "glide", half_life = 0.1 }
[channel.fov]
rest = 60
range = [20, 100]
motion = { kind = "glide", half_life = 0.3 }
[track.heron]
kind = "line"
from = [0, 0]
velocity = [0, 1]
[pose.far]
fov = 80
[pose.near]
fov = 40
[control.far]
kind = "hold"
pose = "far"
[control.near]
kind = "hold"
pose = "near"
[shake.rattle]
on = { fov = 1 }
wave = { kind = "noise", frequency = 8 }
decay = { kind = "half_life", half_life = 0.2 }
)";

std::size_t place(const auto& parts, std::string_view name) {
  std::size_t at = 0;
  while (at < parts.size() && parts[at].name != name) ++at;
  return at;
}

TEST(SameNames, PairsWhatHasTheSameNameAndMayGoOn) {
  const Feel old_feel = test::feel_from(feel_of_then), new_feel = test::feel_from(feel_of_now);
  const SameNames same(old_feel, new_feel);
  EXPECT_EQ(same.channels[place(new_feel.channels, "fov")], place(old_feel.channels, "fov"));
  EXPECT_EQ(same.channels[place(new_feel.channels, "lift")], std::nullopt);
  EXPECT_EQ(same.channels[place(new_feel.channels, "focus")], std::nullopt) << "it has another component";
  EXPECT_EQ(same.controls[place(new_feel.controls, "near")], place(old_feel.controls, "near"));
  EXPECT_EQ(same.controls[place(new_feel.controls, "far")], std::nullopt) << "it is of another kind";
  EXPECT_EQ(same.tracks[0], place(old_feel.tracks, "heron"));
  EXPECT_EQ(SameNames::now(same.tracks, place(old_feel.tracks, "otter")), std::nullopt);
  EXPECT_EQ(SameNames::now(same.poses, place(old_feel.poses, "near")), place(new_feel.poses, "near"));
  const PoseGoal& near = old_feel.poses[place(old_feel.poses, "near")].goals.front();
  EXPECT_EQ(same.goal_now(&near), &new_feel.poses[place(new_feel.poses, "near")].goals.front());
  EXPECT_EQ(same.goal_now(nullptr), nullptr);
}

TEST(SameNames, AnOldCueActsOnWhatHasTheName) {
  const Feel old_feel = test::feel_from(feel_of_then), new_feel = test::feel_from(feel_of_now);
  const SameNames same(old_feel, new_feel);
  const auto of_control = [&](CueAction action, std::string_view name) {
    Cue cue;
    cue.action = action;
    cue.control = place(old_feel.controls, name);
    return same.cue_now(cue);
  };
  for (const CueAction action : {CueAction::press, CueAction::release, CueAction::cancel, CueAction::lock}) {
    ASSERT_TRUE(of_control(action, "near"));
    EXPECT_EQ(of_control(action, "near")->control, place(new_feel.controls, "near"));
    EXPECT_FALSE(of_control(action, "far"));
  }
  EXPECT_FALSE(of_control(CueAction::click, "wheel"));
  Cue hit;
  hit.action = CueAction::hit;
  hit.shake = place(old_feel.shakes, "rattle");
  ASSERT_TRUE(same.cue_now(hit));
  EXPECT_EQ(same.cue_now(hit)->shake, place(new_feel.shakes, "rattle"));
  hit.shake = place(old_feel.shakes, "crash");
  EXPECT_FALSE(same.cue_now(hit)) << "it is gone";
  Cue goal;
  goal.action = CueAction::goal;
  goal.goals = {{{place(old_feel.channels, "fov"), 0}, 50.0}, {{place(old_feel.channels, "focus"), 0}, 1.0}};
  ASSERT_TRUE(same.cue_now(goal));
  ASSERT_EQ(same.cue_now(goal)->goals.size(), 1u);
  EXPECT_EQ(same.cue_now(goal)->goals[0].target.channel, place(new_feel.channels, "fov"));
  Cue follow;
  follow.action = CueAction::follow;
  follow.tracks = {{place(old_feel.channels, "focus"), place(old_feel.tracks, "heron")}};
  ASSERT_TRUE(same.cue_now(follow));
  EXPECT_TRUE(same.cue_now(follow)->tracks.empty());
}

} // namespace
} // namespace stasis
