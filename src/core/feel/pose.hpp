// Goals of channels that are set together, and the motions that lead there.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/components.hpp"

namespace stasis {

/// The motions of one component by direction; the same one twice where it does not depend on it.
struct MotionChoice {
  std::size_t rising = 0;  ///< index into Feel::motions
  std::size_t falling = 0; ///< used when the goal jumps below the value
};
using MotionChoices = std::array<MotionChoice, most_components>;

enum class GoalRule : std::uint8_t {
  none,  ///< the pose leaves this component alone
  value, ///< the goal itself
  times, ///< a factor of the base
  add,   ///< added to the base
};

struct ComponentGoal {
  GoalRule rule = GoalRule::none;
  double amount = 0.0;

  /// The goal for a base value; meaningless for GoalRule::none.
  double of(double base) const noexcept {
    return rule == GoalRule::times ? amount * base : rule == GoalRule::add ? base + amount : amount;
  }
};

/// The goal of one channel in a pose.
struct PoseGoal {
  std::size_t channel;
  std::array<ComponentGoal, most_components> value{};
  std::optional<MotionChoices> entering; ///< instead of the channel's own, while this pose acts
  std::optional<MotionChoices> leaving;  ///< when the base takes over from this pose
  std::optional<std::size_t> track{};    ///< the channel follows this one instead of its own
};

struct Pose {
  std::string name;
  std::vector<PoseGoal> goals;
  bool mirrors = true; ///< a goal of a component that a control has mirrored is mirrored with it
};

} // namespace stasis
