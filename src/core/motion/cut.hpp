// `cut`: the value is the goal, one frame later.
#pragma once

#include "core/motion/asked.hpp"

namespace stasis {

struct Cut {
  std::string_view name() const noexcept { return "cut"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const noexcept;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const noexcept;
  double starting_rate(const MoverState&, double, double, double slope) const noexcept { return slope; }
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const noexcept;
  std::optional<double> next_break(const FramePiece&, double) const noexcept { return std::nullopt; }
  Outlook outlook(const FramePiece& piece) const noexcept;
  double calm_time(const FramePiece&) const noexcept { return 0.0; }
  double smooth_stretch(const FramePiece&, double, double) const noexcept;
  std::optional<Response> response(double) const noexcept { return Response{}; }
  std::optional<double> lag() const noexcept { return 0.0; }
  Cut slowed(double) const noexcept { return *this; }
  MotionTraits traits() const noexcept { return {.jumps = true}; }
  MotionFacts facts() const noexcept;
  std::string sentence(bool) const { return "a cut: it jumps to its goal, one frame later"; }
  std::vector<EquivalentForm> forms() const { return {}; }
};

} // namespace stasis
