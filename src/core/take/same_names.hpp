// Which part of a feel is which of another: what has the same name is the same.
#pragma once

#include <optional>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

/// For each part of the new feel its index in the old one; nothing where that had none of the name, or none that can go
/// on as this one does: a channel of other components, a control of another kind.
class SameNames {
public:
  SameNames(const Feel& old_feel, const Feel& new_feel);

  using Indices = std::vector<std::optional<std::size_t>>;
  Indices channels, controls, shakes, poses, switches, tracks, sequences;

  const Feel& old_feel;
  const Feel& new_feel;

  /// The other way: where a part of the old feel stands in the new one.
  static std::optional<std::size_t> now(const Indices& indices, std::size_t old_index) noexcept;
  /// The goal that a pose of the old feel has, in the new one; null where there is none.
  const PoseGoal* goal_now(const PoseGoal* old_goal) const noexcept;
  /// What an old cue means in the new feel; nothing where what it acts on is gone.
  std::optional<Cue> cue_now(Cue cue) const;
};

} // namespace stasis
