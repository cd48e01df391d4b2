#include "core/take/drawn_frames.hpp"

#include <algorithm>

#include "core/take/player.hpp"

namespace stasis {
namespace {

double between(double from, double to, double share) noexcept {
  return share == 1.0 || from == to ? to : from + (to - from) * share;
}

/// One row of a column that may be empty.
std::vector<double> row_of(const std::vector<double>& column, std::size_t row) {
  return column.empty() ? std::vector<double>{} : std::vector<double>{column[row]};
}

ComponentBlock row_of(const ComponentBlock& column, std::size_t row) {
  ComponentBlock out;
  out.state = row_of(column.state, row);
  out.rate = row_of(column.rate, row);
  out.smooth = row_of(column.smooth, row);
  out.value = row_of(column.value, row);
  out.velocity = row_of(column.velocity, row);
  out.wishes = row_of(column.wishes, row);
  out.goals = row_of(column.goals, row);
  out.goal_states = row_of(column.goal_states, row);
  out.free_wishes = row_of(column.free_wishes, row);
  out.remainders = row_of(column.remainders, row);
  out.shifts = row_of(column.shifts, row);
  out.wish = column.wish;
  out.goal = column.goal;
  out.goal_state = column.goal_state;
  out.acting_state = column.acting_state;
  out.rate_before = column.rate_before;
  out.motion = column.motion;
  out.slowed = column.slowed;
  return out;
}

} // namespace

DrawnFrames::DrawnFrames(const Scene& scene, std::span<BlockSink* const> sinks)
    : scene_(scene), tick_scene_(scene), sinks_(sinks), eye_(*scene.feel) {
  const Clock& clock = scene.clock;
  tick_scene_.clock = steady_clock(scene.take->tick.rate, clock.time(clock.frames - 1));
  for (const Track& track : scene.feel->tracks) readers_.emplace_back(track, scene.take->tick);
}

void DrawnFrames::begin(const Scene&) {
  jumped_.assign(scene_.feel->channels.size(), 0);
  turned_ = jumped_;
  unseen_clicks_.assign(jumped_.size(), 0);
  hits_.assign(scene_.feel->shakes.size(), {});
  for (BlockSink* sink : sinks_) sink->begin(scene_);
}

void DrawnFrames::consume(const Block& block) {
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    take_row(block, row);
    // Frames before the next tick show this one.
    const double next = tick_scene_.clock.time(now_.tick + 1);
    while (next_frame_ < scene_.clock.frames && scene_.clock.time(next_frame_) < next - instant_slack)
      draw(next_frame_++);
  }
}

void DrawnFrames::take_row(const Block& block, std::size_t row) {
  before_ = std::move(now_);
  now_ = {};
  now_.tick = block.first + static_cast<std::int64_t>(row);
  Block& out = now_.block;
  out.channels.resize(block.channels.size());
  for (std::size_t c = 0; c < block.channels.size(); ++c) {
    const ChannelBlock& from = block.channels[c];
    out.channels[c].track = from.track;
    out.channels[c].obstacle = from.obstacle;
    out.channels[c].hits = row_of(from.hits, row);
    out.channels[c].ceilings = row_of(from.ceilings, row);
    if (row == 0) unseen_clicks_[c] += from.unseen_clicks;
    for (std::size_t i = 0; i < scene_.feel->channels[c].components; ++i)
      out.channels[c].component[i] = row_of(from.component[i], row);
    if (row == 0 && from.moved) (from.turned ? turned_ : jumped_)[c] = 1;
  }
  out.shakes.resize(block.shakes.size());
  for (std::size_t s = 0; s < block.shakes.size(); ++s) {
    const ShakeBlock& from = block.shakes[s];
    out.shakes[s].is_felt = from.is_felt;
    out.shakes[s].amplitude = row_of(from.amplitude, row);
    for (const auto& part : from.parts) out.shakes[s].parts.push_back(row_of(part, row));
    if (row == 0) hits_[s].insert(hits_[s].end(), from.hits.begin(), from.hits.end());
  }
  out.control_down = block.control_down;
  out.control_state = block.control_state;
  out.pushed = block.pushed;
  out.switches = block.switches;
  out.sequences = block.sequences;
  if (row > 0) return;
  if (!block.cause.empty()) cause_ += (cause_.empty() ? "" : ", ") + block.cause;
  lost_presses_.insert(lost_presses_.end(), block.lost_presses.begin(), block.lost_presses.end());
  runs_to_end_.insert(runs_to_end_.end(), block.runs_to_end.begin(), block.runs_to_end.end());
}

/// How far a frame lies from the tick before towards the latest one; 1 where ticks are held, or there is only one.
double DrawnFrames::share_at(std::int64_t frame) const noexcept {
  if (!scene_.take->tick.blends || before_.tick < 0) return 1.0;
  const double since = scene_.clock.time(frame) * scene_.take->tick.rate - static_cast<double>(now_.tick);
  return std::clamp(since, 0.0, 1.0);
}

void DrawnFrames::draw_component(ComponentBlock& out, const ComponentBlock& before, const ComponentBlock& now,
                                 double share) const {
  out = now;
  out.drawn = true;
  if (share == 1.0) return;
  for (auto column : {&ComponentBlock::state, &ComponentBlock::smooth, &ComponentBlock::value})
    (out.*column)[0] = between((before.*column)[0], (now.*column)[0], share);
  for (auto column : {&ComponentBlock::wishes, &ComponentBlock::goals, &ComponentBlock::goal_states,
                      &ComponentBlock::free_wishes, &ComponentBlock::remainders, &ComponentBlock::shifts})
    if (!(out.*column).empty() && !(before.*column).empty())
      (out.*column)[0] = between((before.*column)[0], (now.*column)[0], share);
}

void DrawnFrames::draw_channel(std::size_t channel, double share) {
  ChannelBlock& out = frame_.channels[channel];
  const ChannelBlock& now_row = now_.block.channels[channel];
  out.track = now_row.track;
  out.obstacle = now_row.obstacle;
  out.hits = now_row.hits;
  out.ceilings = now_row.ceilings;
  if (before_.tick >= 0 && !out.hits.empty()) {
    // Room that was, or is, without end cannot be drawn in between.
    const ChannelBlock& before = before_.block.channels[channel];
    if (std::isfinite(out.hits[0]) && std::isfinite(before.hits[0]))
      out.hits[0] = between(before.hits[0], out.hits[0], share);
    if (std::isfinite(out.ceilings[0]) && std::isfinite(before.ceilings[0]))
      out.ceilings[0] = between(before.ceilings[0], out.ceilings[0], share);
  }
  out.unseen_clicks = std::exchange(unseen_clicks_[channel], 0);
  out.moved = jumped_[channel] != 0 || turned_[channel] != 0;
  out.turned = jumped_[channel] == 0 && turned_[channel] != 0;
  for (std::size_t i = 0; i < scene_.feel->channels[channel].components; ++i) {
    const ComponentBlock& now = now_.block.channels[channel].component[i];
    draw_component(out.component[i], before_.tick < 0 ? now : before_.block.channels[channel].component[i], now, share);
  }
}

void DrawnFrames::draw_tracks(std::int64_t frame) {
  const double time = scene_.clock.time(frame);
  frame_.tracks.resize(readers_.size());
  for (std::size_t t = 0; t < readers_.size(); ++t) {
    TrackReader& reader = readers_[played_track(*scene_.take, t)];
    reader.enter(time);
    const TrackPoint point = reader.at(time);
    TrackBlock& out = frame_.tracks[t];
    for (std::size_t i = 0; i < scene_.feel->tracks[t].components; ++i) out.place[i] = {point.place[i]};
    out.facing = {point.facing};
    out.lost = {static_cast<std::uint8_t>(point.lost ? 1 : 0)};
  }
}

void DrawnFrames::draw(std::int64_t frame) {
  frame_ = {};
  frame_.first = frame;
  frame_.count = 1;
  frame_.cause = std::move(cause_);
  cause_.clear();
  const double share = share_at(frame);
  frame_.channels.resize(now_.block.channels.size());
  for (std::size_t c = 0; c < frame_.channels.size(); ++c) draw_channel(c, share);
  frame_.shakes = now_.block.shakes;
  for (std::size_t s = 0; s < frame_.shakes.size(); ++s) frame_.shakes[s].hits = std::move(hits_[s]);
  hits_.assign(hits_.size(), {});
  draw_tracks(frame);
  eye_.fill(frame_);
  frame_.control_down = now_.block.control_down;
  frame_.control_state = now_.block.control_state;
  frame_.pushed = now_.block.pushed;
  frame_.switches = now_.block.switches;
  frame_.sequences = now_.block.sequences;
  for (SequenceMark& mark : frame_.sequences) // from the frame on which its beginning is seen
    mark.frame = first_frame_at(scene_.clock, tick_scene_.clock.time(mark.frame));
  frame_.lost_presses = std::move(lost_presses_);
  lost_presses_.clear();
  frame_.runs_to_end = std::move(runs_to_end_);
  runs_to_end_.clear();
  std::fill(jumped_.begin(), jumped_.end(), 0);
  std::fill(turned_.begin(), turned_.end(), 0);
  hand_on(frame);
}

/// The frame before is complete now: this one is where it leads.
void DrawnFrames::hand_on(std::int64_t frame) {
  const bool is_last = frame == scene_.clock.frames;
  if (waiting_) {
    const double dt = scene_.clock.dt(waiting_->first);
    for (std::size_t c = 0; c < waiting_->channels.size(); ++c)
      for (std::size_t i = 0; i < scene_.feel->channels[c].components; ++i) {
        ComponentBlock& column = waiting_->channels[c].component[i];
        const ComponentBlock& next = is_last ? column : frame_.channels[c].component[i];
        const double end = next.state[0], rate = (end - column.state[0]) / dt;
        column.state.push_back(end);
        column.rate = {rate, rate};
        column.velocity[0] = (next.smooth[0] - column.smooth[0]) / dt;
        // A jump of the goal is not part of the frame before it.
        const bool jumps = !is_last && frame_.channels[c].moved;
        for (auto list : {&ComponentBlock::wishes, &ComponentBlock::goals, &ComponentBlock::goal_states,
                          &ComponentBlock::free_wishes})
          if (!(column.*list).empty())
            (column.*list).push_back(jumps || (next.*list).empty() ? (column.*list)[0] : (next.*list)[0]);
        if (!is_last) frame_.channels[c].component[i].rate_before = rate;
      }
    for (BlockSink* sink : sinks_) sink->consume(*waiting_);
  }
  waiting_.reset();
  if (!is_last) waiting_ = std::move(frame_);
}

void DrawnFrames::end() {
  while (next_frame_ < scene_.clock.frames) draw(next_frame_++);
  hand_on(scene_.clock.frames);
  for (BlockSink* sink : sinks_) sink->end();
}

} // namespace stasis
