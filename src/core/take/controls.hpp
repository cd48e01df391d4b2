// The state of a take's controls, and the goals that follow from it.
#pragma once

#include <string>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

/// Which controls are down, and in which order they were pressed.
class Controls {
public:
  explicit Controls(const Feel& feel) : feel_(feel), down_(feel.controls.size(), 0) {}

  /// Applies one cue due at `frame`. \returns false, with a note added, where the control is already so.
  bool apply(const Cue& cue, std::int64_t frame, double fps, std::vector<std::string>& notes);

  /// The wish of a component: the value in the pose pressed last of those in force that name it, else home.
  struct Wish {
    double value;
    const PoseGoal* owner; ///< null at home
  };
  Wish wish(std::size_t channel, std::size_t component) const;

  const std::vector<std::uint8_t>& down() const noexcept { return down_; }

private:
  struct Press {
    std::size_t control;
    std::int64_t frame;
    double at;
  };

  const Feel& feel_;
  std::vector<std::uint8_t> down_;
  std::vector<Press> pressed_; ///< in order of pressing
};

} // namespace stasis
