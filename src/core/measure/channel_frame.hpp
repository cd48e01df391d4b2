// The frames of a channel seen from inside, one after the other.
#pragma once

#include <algorithm>
#include <array>
#include <optional>
#include <span>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

/// A channel at one instant, in its space.
using ChannelInstant = std::array<Instant, most_components>;

/// One frame of a channel, each component cut into its pieces.
struct ChannelFrame {
  std::size_t components = 1;
  std::array<std::span<const FramePiece>, most_components> pieces;
  const Axes* axes = nullptr; ///< in which the pieces are meant; null: the world's
  double dt = 0.0;            ///< s: how long it is
  bool arrived = false;       ///< a jump has come through a delay at its very start
  bool awaits = false;        ///< another one is still on its way
  Tie tie;                    ///< of a channel that is tied: how its state comes from that of the pieces
  bool is_tied = false, by_factors = false;
  std::vector<double> turns; ///< s into it at which a component's move that goes there and back turns, ascending

  /// `u` seconds into the frame; beyond its end, as if its last goal went on.
  ChannelInstant at(double u, Side side = Side::at) const;
  /// One component of it; only where no axes are set.
  Instant component_at(std::size_t component, double u, Side side = Side::at, KeptSpringStep* kept = nullptr) const {
    const FramePiece& piece = piece_at(component, u, side);
    const Instant state = inside(piece, u - piece.from, side, kept);
    return is_tied ? tied(state) : state;
  }
  /// The first instant after `u` seconds, at the end of the frame at the latest, at which value, velocity or
  /// acceleration of a component may jump, if there is one.
  std::optional<double> next_break(double u) const;
  /// Longest stretch, seconds, from `u` on in which each component's value, speed and acceleration turn at most once,
  /// if the last break was `since` seconds before.
  double smooth_stretch(double u, double since) const noexcept;
  /// The first turn after `u` seconds, if there is one.
  std::optional<double> turn_after(double u) const noexcept {
    const auto next = std::upper_bound(turns.begin(), turns.end(), u);
    return next != turns.end() ? std::optional(*next) : std::nullopt;
  }
  /// The piece in which a component's frame ends.
  const FramePiece& last(std::size_t component) const noexcept { return pieces[component].back(); }

  /// The piece in which an instant lies.
  const FramePiece& piece_at(std::size_t component, double u, Side side) const noexcept;

private:
  Instant tied(const Instant& state) const noexcept;
};

/// From which side to look at an instant of a stretch that is bounded by breaks: a rounding may have put it beyond one.
inline Side side_within(double u, double from, double to) noexcept {
  return u - from < to - u ? Side::at : Side::before;
}

/// Adds the instants of a stretch at which a component's value in the space crosses a level. \param a, b the component
/// at the stretch's ends.
void add_crossings(const ChannelFrame& frame, std::size_t component, double from, const Instant& a, double to,
                   const Instant& b, double level, std::vector<double>& out);

/// Calls `visit(from, to, breaks)` for each stretch of a frame from `from` to `end`, in order: value, speed and
/// acceleration of each component turn at most once in it; `breaks` says whether they may jump where it ends.
template<class Visit> void for_each_stretch(const ChannelFrame& frame, double from, double end, Visit visit) {
  double last_break = from;
  for (int k = 0; k < 100'000 && from < end; ++k) {
    const auto next_break = frame.next_break(from);
    const bool breaks = next_break && *next_break <= end;
    const double until = breaks ? *next_break : end;
    // What is set off at a break dies away from there, so that stretches may grow.
    constexpr double most_stretches = 4096.0;
    constexpr double one_instant = 1e-12; // s: below it a sum would not go on
    const double shortest = std::max(one_instant, (until - from) / most_stretches);
    do {
      const double longest = std::max(shortest, frame.smooth_stretch(from, from - last_break));
      const double to = until - from <= 1.001 * longest ? until : from + longest;
      visit(from, to, breaks && to == until);
      from = to;
    } while (from < until);
    last_break = from;
  }
}

/// Makes the frames of a block's rows. What a block has in common is set once, since most of it costs more to copy than
/// a row costs to follow.
class ChannelFrames {
public:
  /// \param clock of the take; instants within a frame are those of the time by which the channel goes.
  ChannelFrames(const Feel& feel, std::size_t channel, const Clock& clock);

  /// Goes on with this block, which outlives the reading of its rows.
  void enter(const Block& block);
  /// The frame that begins at this row of the block; rows are asked for in order. It stays until the next call.
  /// \param count so many frames as one; see as_one().
  const ChannelFrame& at(std::size_t row, std::size_t count = 1);
  /// How many frames from this row on, at most `most`, are as good as one long one: a motion that goes on
  /// undisturbed, and does not turn more than once.
  std::size_t as_one(std::size_t row, std::size_t most);
  /// The frame read last; a block's last frame stays when the block is gone.
  const ChannelFrame& last() const noexcept { return frame_; }
  /// By which the channel goes.
  const Clock& clock() const noexcept { return clock_; }

private:
  void read_row(std::size_t component, std::size_t row, std::size_t count);
  void find_turns(const FramePiece& piece, double end);
  void keep_last();

  const Feel& feel_;
  Clock clock_;         ///< by which the channel goes
  std::size_t channel_; // whose columns are read
  const ChannelBlock* columns_ = nullptr;
  std::int64_t first_ = 0, rows_ = 0;
  std::array<FramePiece, most_components> whole_;                          // a row that is one piece
  std::array<std::vector<FramePiece>, most_components> last_;              // of the block's last row, if it is more
  std::array<std::shared_ptr<const Motion>, most_components> last_motion_; // by which they move, if it is slowed
  Axes last_axes_;
  std::array<std::size_t, most_components> next_piece_{};
  ChannelFrame frame_;
};

} // namespace stasis
