// `stages`: motions in a row, each following the one before. Delays come first (a delay may stand anywhere in such a
// row with the same result), then perhaps an eased or paced move, then glides and springs, which are stepped together
// as one linear system. Source: docs/maths.md, sections 3 and 11.
#pragma once

#include <optional>
#include <variant>
#include <vector>

#include "core/motion/ease.hpp"
#include "core/motion/link_step.hpp"
#include "core/motion/pace.hpp"

namespace stasis {

/// A move that starts when its goal jumps.
using Head = std::variant<Ease, Pace>;

struct Chain {
  double delay = 0.0; ///< s, >= 0
  std::optional<Head> head;
  std::vector<Link> links; ///< at most most_links

  std::string_view name() const noexcept { return !head && links.empty() ? "delay" : "stages"; }
  void fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const;
  double go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const;
  double starting_rate(const MoverState& state, double elapsed, double goal, double slope) const;
  Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep& kept) const;
  std::optional<double> next_break(const FramePiece& piece, double u) const;
  Outlook outlook(const FramePiece& piece) const;
  double calm_time(const FramePiece& piece) const noexcept;
  double smooth_stretch(const FramePiece& piece, double u, double since) const noexcept;
  std::optional<Response> response(double angular) const noexcept;
  std::optional<double> lag() const noexcept;
  Chain slowed(double) const { return *this; } // reading a feel refuses it
  MotionTraits traits() const noexcept {
    return {.jumps = !head && links.empty(), // it only waits
            .keeps_speed = links.size() > 1 || (links.size() == 1 && head),
            .goes_on_alike = !head};
  }
  MotionFacts facts() const noexcept;
  std::string sentence(bool in_doublings) const;
  std::vector<EquivalentForm> forms() const { return {}; }
};

/// The eased move of a chain's head, if it has one.
inline const Ease* ease_of(const Chain& chain) noexcept {
  return chain.head ? std::get_if<Ease>(&*chain.head) : nullptr;
}

/// Bound on how far the output can still stray from its goal if the input stays within `input_stray` of it; infinite
/// where no simple bound holds.
double stray_bound(const Chain& chain, const LinkStates& states, double goal, double input_stray) noexcept;

} // namespace stasis
