// The value is led along a way of its own, by its run; no feel names this motion, sequences put it into force.
#pragma once

#include "core/motion/asked.hpp"

namespace stasis {

struct Led {
  std::string_view name() const noexcept { return "led"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const noexcept;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const noexcept;
  double starting_rate(const MoverState& state, double elapsed, double goal, double slope) const noexcept;
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const noexcept;
  std::optional<double> next_break(const FramePiece& piece, double u) const;
  Outlook outlook(const FramePiece& piece) const noexcept;
  double calm_time(const FramePiece&) const noexcept { return 0.0; } // its goal goes with it
  double smooth_stretch(const FramePiece& piece, double u, double since) const noexcept;
  std::optional<Response> response(double) const noexcept { return std::nullopt; }
  std::optional<double> lag() const noexcept { return std::nullopt; }
  Led slowed(double) const noexcept { return *this; }
  MotionTraits traits() const noexcept { return {}; }
  MotionFacts facts() const noexcept { return {.no_curve = "it is led by a sequence"}; } // it goes where it is led
  std::string sentence(bool) const { return "it is led by a sequence"; }
  std::vector<EquivalentForm> forms() const { return {}; }
};

} // namespace stasis
