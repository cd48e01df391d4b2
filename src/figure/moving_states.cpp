#include "figure/moving_states.hpp"

#include <algorithm>
#include <cmath>

#include "figure/plan_series.hpp"

namespace stasis::figure {
namespace {

double between_states(double from, double to, double share) noexcept { return from + share * (to - from); }

/// True if a component is cut between two frames: it goes much farther than its speed at either would take it.
bool leaps_between(const MovingState& from, const MovingState& to, std::size_t k) noexcept {
  constexpr double much = 4.0, a_rounding = 1e-9;
  const double way = std::fabs(to.smooth[k] - from.smooth[k]);
  const double speed = std::max(std::fabs(from.speeds[k]), std::fabs(to.speeds[k]));
  return way > much * speed * (to.time - from.time) + a_rounding * std::fabs(to.smooth[k]);
}

} // namespace

std::size_t first_component_of(const Feel& feel, std::size_t channel) noexcept {
  std::size_t first = 0;
  for (std::size_t c = 0; c < channel; ++c) first += feel.channels[c].components;
  return first;
}

void MovingSink::begin(const Scene& scene) {
  scene_ = scene;
  follower_ = plan_channel(*scene.feel);
}

void MovingSink::take_row(const Block& block, std::size_t row, MovingState& state) const {
  state.time = scene_.clock.drawn_time(block.first + static_cast<std::int64_t>(row));
  state.values.clear();
  state.goals.clear();
  state.smooth.clear();
  state.speeds.clear();
  for (std::size_t c = 0; c < scene_.feel->channels.size(); ++c)
    for (std::size_t i = 0; i < scene_.feel->channels[c].components; ++i) {
      state.values.push_back(block.channels[c].component[i].value[row]);
      state.goals.push_back(block.channels[c].component[i].goal_at(row));
      state.smooth.push_back(block.channels[c].component[i].smooth[row]);
      state.speeds.push_back(block.channels[c].component[i].velocity[row]);
    }
  state.subject.reset();
  if (!follower_) return;
  const std::size_t counted = block.channels[*follower_].track;
  if (counted == 0 || scene_.feel->tracks[counted - 1].in != TrackPlace::world) return;
  const TrackBlock& track = block.tracks[counted - 1];
  Components place{};
  for (std::size_t i = 0; i < scene_.feel->tracks[counted - 1].components; ++i) place[i] = track.place[i][row];
  state.subject = place;
}

void MovingSink::keep(const MovingState& from, const MovingState& to, double share) {
  MovingState state = from;
  state.leaps.assign(state.values.size(), 0);
  state.time = between_states(from.time, to.time, share);
  for (std::size_t k = 0; k < state.values.size(); ++k) {
    state.values[k] = leaps_between(from, to, k) ? from.values[k] : between_states(from.values[k], to.values[k], share);
    state.goals[k] = from.goals[k];
  }
  if (from.subject && to.subject)
    for (std::size_t i = 0; i < state.subject->size(); ++i)
      (*state.subject)[i] = between_states((*from.subject)[i], (*to.subject)[i], share);
  const Feel& feel = *scene_.feel;
  state.camera = shown_camera(
      feel, [&](ComponentRef one) { return state.values[first_component_of(feel, one.channel) + one.component]; });
  states_.push_back(std::move(state));
}

void MovingSink::consume(const Block& block) {
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    MovingState now = last_ ? *last_ : MovingState{};
    take_row(block, row, now);
    if (row == 0 && !block.cause.empty()) {
      now.cause = block.cause;
      now.cause_at = now.time;
    }
    constexpr double a_rounding = 1e-9;
    for (;;) {
      const double next = static_cast<double>(states_.size()) / rate_;
      if (next > now.time - a_rounding || !last_) break;
      const double share = (next - last_->time) / (now.time - last_->time);
      keep(*last_, now, share);
      states_.back().time = next;
    }
    // The picture before a leap knows of it, however many frames lie between two pictures.
    if (last_ && !states_.empty())
      for (std::size_t k = 0; k < now.values.size(); ++k)
        if (leaps_between(*last_, now, k)) states_.back().leaps[k] = 1;
    last_ = std::move(now);
  }
}

/// The last frame is shown as long as any other.
void MovingSink::end() {
  if (!last_) return;
  const double next = static_cast<double>(states_.size()) / rate_;
  keep(*last_, *last_, 0.0);
  states_.back().time = std::min(next, last_->time);
}

} // namespace stasis::figure
