// What the first link of a row of stages follows, and the links after it.
#pragma once

#include "core/motion/goal_segment.hpp"
#include "core/motion/mover.hpp"

namespace stasis {

/// Over a piece of a frame in which the goal runs straight: the goal itself, or the eased or paced move before the
/// links.
class ChainInput {
public:
  /// \param elapsed s since the run of `state` began, if there is one; \param h s, the length of the piece.
  ChainInput(const Chain& chain, const MoverState& state, double elapsed, GoalSegment goal, double h) noexcept;

  /// The same where the elapsed time at the piece's end is known better than by a sum, so that what follows goes on
  /// from the very same numbers.
  void end_at(double elapsed) noexcept { elapsed_end_ = elapsed; }

  /// `s` seconds into the piece.
  Instant at(double s, Side side = Side::at) const noexcept;
  /// The first instant after `s` at which value, velocity or acceleration may jump; infinite if there is none.
  double next_break(double s) const noexcept;
  /// Seconds within which an instant counts as the break that it misses.
  double rounding(double s) const noexcept;
  /// Seconds in which the move makes its way once along its curve; infinite where it follows none, or is over `s`
  /// seconds into the piece.
  double curve_time(double s) const noexcept;
  /// The largest size of what is on its way, from which rounding counts.
  double scale() const noexcept { return scale_; }
  GoalSegment goal() const noexcept { return goal_; }

private:
  const Ease* ease_;
  const Run* run_;
  std::optional<PaceChase> chase_; // of a pace whose goal moves, or has just moved
  double elapsed_, slope_;
  double length_, elapsed_end_;
  GoalSegment goal_;
  double standing_; // where nothing is under way
  bool has_head_;
  double scale_;
};

/// The input at the end of an advance, seen from both sides.
struct InputEnd {
  Instant before, at;
};

/// Advances the links by `h` seconds, to below 1e-11 of the move. \param start the input at the piece's beginning.
/// \param steps kept for lengths that come again; null: this one does not.
InputEnd advance_links(const Chain& chain, LinkStates& links, const ChainInput& input, const Instant& start, double h,
                       LinkSteps* steps);
/// The same for one of many looks into a piece, to the same bits: what was come to at the last break before an earlier
/// look is gone on from. \param kept filled, and used where it lies before the end.
InputEnd advance_links(const Chain& chain, LinkStates& links, const ChainInput& input, const Instant& start, double h,
                       std::optional<StagesAtBreak>& kept);

} // namespace stasis
