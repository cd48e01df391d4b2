#include "core/measure/channel_frame.hpp"

#include <algorithm>
#include <cmath>

#include "core/root.hpp"

namespace stasis {

const FramePiece& ChannelFrame::piece_at(std::size_t component, double u, Side side) const noexcept {
  const auto& all = pieces[component];
  std::size_t k = all.size() - 1;
  while (k > 0 && (side == Side::at ? all[k].from > u : all[k].from >= u)) --k;
  return all[k];
}

Instant ChannelFrame::tied(const Instant& state) const noexcept {
  if (by_factors) return {state.value + std::log(tie.times), state.velocity, state.acceleration, state.jerk};
  return {state.value * tie.times, state.velocity * tie.times, state.acceleration * tie.times, state.jerk * tie.times};
}

ChannelInstant ChannelFrame::at(double u, Side side) const {
  ChannelInstant out{};
  KeptSpringStep kept;
  for (std::size_t i = 0; i < components; ++i) out[i] = component_at(i, u, side, &kept);
  if (axes == nullptr) return out;
  for (const auto rate : {&Instant::value, &Instant::velocity, &Instant::acceleration, &Instant::jerk}) {
    Components parts{};
    for (std::size_t i = 0; i < components; ++i) parts[i] = out[i].*rate;
    parts = axes->sum(parts);
    for (std::size_t i = 0; i < components; ++i) out[i].*rate = parts[i];
  }
  return out;
}

std::optional<double> ChannelFrame::next_break(double u) const {
  std::optional<double> next;
  const auto consider = [&](double at) {
    if (at > u && (!next || at < *next)) next = at;
  };
  for (std::size_t i = 0; i < components; ++i) {
    const FramePiece& piece = piece_at(i, u, Side::at);
    const auto own = stasis::next_break(piece, u - piece.from);
    if (&piece == &pieces[i].back()) {
      if (own) consider(piece.from + *own);
      continue;
    }
    // Where a piece ends, another goal or motion takes over: at once, where a move ends there too.
    const double end = (&piece + 1)->from;
    constexpr double one_instant = 1e-11;
    consider(own && piece.from + *own < end - one_instant ? piece.from + *own : end);
  }
  return next;
}

double ChannelFrame::smooth_stretch(double u, double since) const noexcept {
  double longest = unbounded;
  for (std::size_t i = 0; i < components; ++i) {
    const FramePiece& piece = piece_at(i, u, Side::at);
    longest = std::min(longest, stasis::smooth_stretch(piece, u - piece.from, std::min(since, u - piece.from)));
  }
  return longest;
}

// many: both ends of a stretch, each with what is there; a level; where to
void add_crossings(const ChannelFrame& frame, std::size_t component, double from, const Instant& a, double to,
                   const Instant& b, double level, std::vector<double>& out) {
  const auto at = [&](double u, double Instant::*part) {
    return frame.at(u, side_within(u, from, to))[component].*part;
  };
  const auto between = [&](double low, double at_low, double high, double at_high) {
    if (opposite(at_low - level, at_high - level))
      out.push_back(bracketed_root([&](double u) { return at(u, &Instant::value) - level; }, low, high, at_low - level,
                                   at_high - level));
  };
  if (!opposite(a.velocity, b.velocity)) return between(from, a.value, to, b.value);
  // It turns inside: both sides of the turn are looked at.
  const double turn =
      bracketed_root([&](double u) { return at(u, &Instant::velocity); }, from, to, a.velocity, b.velocity);
  const double there = at(turn, &Instant::value);
  between(from, a.value, turn, there);
  between(turn, there, to, b.value);
}

ChannelFrames::ChannelFrames(const Feel& feel, std::size_t channel, const Clock& clock)
    : feel_(feel), clock_(clock.of(feel.channels[moved_channel(feel, channel)].runs_on)), channel_(channel) {
  frame_.components = feel.channels[channel].components;
  if (!feel.channels[channel].tie) return;
  frame_.tie = *feel.channels[channel].tie;
  frame_.is_tied = true;
  frame_.by_factors = is_logarithmic(feel.channels[channel].space.space);
  channel_ = frame_.tie.channel;
}

void ChannelFrames::enter(const Block& block) {
  columns_ = &block.channels[channel_];
  first_ = block.first;
  rows_ = block.count;
  for (std::size_t i = 0; i < frame_.components; ++i) {
    const ComponentBlock& column = columns_->component[i];
    FramePiece& piece = whole_[i];
    piece.motion = column.slowed != nullptr ? column.slowed.get() : &feel_.motions[column.motion].motion;
    piece.state = {};
    piece.state.run = column.run;
    piece.run_elapsed = 0.0;
    piece.goal = {column.acting_state, column.acting_state};
    piece.end_stages.reset();
    piece.at_break.reset();
    piece.drawn = column.drawn;
    next_piece_[i] = 0;
  }
}

/// Rows that are one piece of the block's motion.
void ChannelFrames::read_row(std::size_t component, std::size_t row, std::size_t count) {
  const ComponentBlock& column = columns_->component[component];
  FramePiece& piece = whole_[component];
  piece.at_break.reset();
  piece.state.value = column.state[row];
  piece.state.velocity = column.rate[row];
  piece.end_value = column.state[row + count];
  piece.end_velocity = column.rate[row + count];
  piece.dt = frame_.dt;
  if (column.moves()) piece.goal = {column.goal_states[row], column.goal_states[row + 1]};
  if (!column.stages.empty()) {
    piece.state.input = column.stages[row].input;
    piece.state.links = column.stages[row].links;
    piece.end_stages = column.stages[row + count];
  }
  if (column.run != nullptr) piece.run_elapsed = column.run->elapsed(clock_, first_ + static_cast<std::int64_t>(row));
  frame_.pieces[component] = {&piece, 1};
}

std::size_t ChannelFrames::as_one(std::size_t row, std::size_t most) {
  if (most < 2 || !columns_->axes.empty()) return 1;
  double longest = unbounded;
  for (std::size_t i = 0; i < frame_.components; ++i) {
    const ComponentBlock& column = columns_->component[i];
    const bool is_undisturbed = column.pieces.empty() && !column.moves() && !column.drawn
                                && column.awaits_until <= first_ + static_cast<std::int64_t>(row);
    FramePiece& piece = whole_[i];
    if (!is_undisturbed || !traits_of(*piece.motion).goes_on_alike) return 1;
    if (column.run != nullptr) piece.run_elapsed = column.run->elapsed(clock_, first_ + static_cast<std::int64_t>(row));
    longest = std::min(longest, smooth_stretch(piece, 0.0, 0.0));
  }
  const std::int64_t frame = first_ + static_cast<std::int64_t>(row);
  std::size_t count = 1;
  while (count < most && clock_.elapsed(frame, frame + static_cast<std::int64_t>(count) + 1) <= longest) ++count;
  return count;
}

const ChannelFrame& ChannelFrames::at(std::size_t row, std::size_t count) {
  const std::int64_t frame = first_ + static_cast<std::int64_t>(row);
  frame_.arrived = frame_.awaits = false;
  frame_.turns.clear();
  frame_.dt = count == 1 ? clock_.dt(frame) : clock_.elapsed(frame, frame + static_cast<std::int64_t>(count));
  frame_.axes = columns_->axes.empty() ? nullptr : &columns_->axes[row];
  for (std::size_t i = 0; i < frame_.components; ++i) {
    const ComponentBlock& column = columns_->component[i];
    std::size_t& first = next_piece_[i];
    while (first < column.pieces.size() && column.pieces[first].row < row) ++first;
    std::size_t end = first;
    while (end < column.pieces.size() && column.pieces[end].row == row) ++end;
    if (end > first)
      frame_.pieces[i] = {&column.pieces[first], end - first};
    else
      read_row(i, row, count);
    frame_.arrived = frame_.arrived || (row == 0 && column.arrived) || frame_.pieces[i].front().arrived;
    frame_.awaits = frame_.awaits || frame < column.awaits_until;
    const auto& pieces = frame_.pieces[i];
    for (std::size_t k = 0; k < pieces.size(); ++k)
      find_turns(pieces[k], k + 1 < pieces.size() ? pieces[k + 1].from - 2.0 * instant_slack : frame_.dt);
  }
  if (static_cast<std::int64_t>(row + count) == rows_) keep_last();
  return frame_;
}

/// What a move is finished by when the next block has begun may not lie in the block.
void ChannelFrames::keep_last() {
  for (std::size_t i = 0; i < frame_.components; ++i) {
    last_motion_[i] = columns_->component[i].slowed;
    if (frame_.pieces[i].data() == &whole_[i]) continue;
    last_[i].assign(frame_.pieces[i].begin(), frame_.pieces[i].end());
    frame_.pieces[i] = last_[i];
  }
  if (frame_.axes == nullptr) return;
  last_axes_ = *frame_.axes;
  frame_.axes = &last_axes_;
}

/// \param end until when the piece acts, s into the frame; a jump that arrives then comes before a turn.
void ChannelFrames::find_turns(const FramePiece& piece, double end) {
  const Ease* ease = ease_of(*piece.motion);
  if (ease == nullptr || piece.state.run == nullptr || !ease->there_and_back) return;
  double elapsed = piece.run_elapsed + instant_slack;
  for (;;) {
    const double turn = next_turn(*ease, piece.state.run->way, elapsed);
    const double at = piece.from + turn - piece.run_elapsed;
    if (!(at <= end + instant_slack)) break;
    frame_.turns.push_back(std::min(at, frame_.dt));
    elapsed = turn + instant_slack;
  }
  // Components that turn at one instant turn once.
  std::sort(frame_.turns.begin(), frame_.turns.end());
  const auto same = [](double a, double b) { return b - a <= instant_slack; };
  frame_.turns.erase(std::unique(frame_.turns.begin(), frame_.turns.end(), same), frame_.turns.end());
}

} // namespace stasis
