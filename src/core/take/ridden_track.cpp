#include "core/take/ridden_track.hpp"

#include <algorithm>
#include <cmath>

#include "core/scene/track_rates.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// Rates by time of a coordinate, from those of its value in the unit.
Instant in_space(const SpaceMap& map, const Instant& unit) noexcept {
  const double y = to_space(map, unit.value);
  const SpaceRates f = rates_at(map, y);
  Instant now{y, unit.velocity / f.first, 0.0, 0.0};
  const double v = now.velocity;
  now.acceleration = (unit.acceleration - f.second * v * v) / f.first;
  now.jerk = (unit.jerk - f.third * v * v * v - 3.0 * f.second * v * now.acceleration) / f.first;
  return now;
}

/// A recording of angles without leaps of whole turns, so that it is straight the short way between rows.
Track unwrapped(const Track& track, const SpaceMap& space) {
  const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track.path);
  if (space.space != Space::turn || recorded == nullptr) return track;
  Track out = track;
  auto path = std::make_shared<RecordedPath>(**recorded);
  for (NumberColumn& column : path->place) {
    if (column.empty()) continue;
    NumberColumnWriter writer(column.shelf());
    double latest = column.front();
    for (std::size_t row = 0; row < column.size(); ++row) {
      latest = short_way(space, latest, column[row]);
      writer.add(latest);
    }
    column = writer.finish();
  }
  out.path = std::shared_ptr<const RecordedPath>(std::move(path));
  return out;
}

} // namespace

// many: what goes, as it is read, on which clock; and which value goes with it
RiddenTrack::RiddenTrack(const Track& track, const Tick& tick, const CourseClock& clock, const Channel& channel,
                         std::size_t component, double base)
    : track_(unwrapped(track, channel.space)), tick_(tick), clock_(clock), space_(channel.space), component_(component),
      range_(output_range(channel, component)), base_(base) {}

void RiddenTrack::lift(double time, double from) {
  if (space_.space != Space::turn) return;
  const double there = at(time, Side::at).value;
  lift_ += short_way(space_, from, there) - there;
}

Instant RiddenTrack::at(double time, Side side) const {
  const double rate = clock_.per_second;
  const PlaceRates place =
      place_rates(track_, tick_, clock_.of(time), (side == Side::before) == (rate > 0.0)); // gone back, from behind
  const double value = place.lost ? base_ : place.place[component_];
  const double held = std::clamp(value, range_.low, range_.high);
  if (place.lost || held != value) return {to_space(space_, held) + lift_, 0.0, 0.0, 0.0};
  Instant now =
      in_space(space_, {value, rate * place.velocity[component_], rate * rate * place.acceleration[component_],
                        rate * rate * rate * place.jerk[component_]});
  now.value += lift_;
  return now;
}

double RiddenTrack::next_break(double time) const {
  const double now = clock_.of(time);
  if (clock_.per_second > 0.0) return (next_place_break(track_, tick_, now) - clock_.begins) / clock_.per_second;
  // Gone back: what breaks last before then. Breaks lie close together, or far apart: it is looked for farther and
  // farther.
  constexpr double nearest = 1e-3, farther = 4.0;
  constexpr int most_times = 15;
  double apart = nearest, last = -unbounded;
  for (int k = 0; k < most_times && last == -unbounded; ++k) {
    double next = next_place_break(track_, tick_, now - apart);
    while (next < now - 1e-12 * std::max(1.0, std::fabs(now))) {
      last = next;
      next = next_place_break(track_, tick_, next);
    }
    apart *= farther;
  }
  return last == -unbounded ? double{unbounded} : (last - clock_.begins) / clock_.per_second;
}

double RiddenTrack::smooth_stretch(double) const {
  return smooth_place_stretch(track_, tick_) / std::fabs(clock_.per_second);
}

bool RiddenTrack::is_straight() const noexcept {
  return !is_logarithmic(space_.space) && smooth_place_stretch(track_, tick_) == unbounded;
}

EasedRide::EasedRide(std::shared_ptr<const RiddenTrack> ride, const Ease& ease, double begin, const Instant& from)
    : ride_(std::move(ride)), ease_(ease), begin_(begin) {
  EaseStart start;
  start.from = start.old_goal = from.value;
  start.to = ride_->at(begin, Side::at).value;
  start.velocity = from.velocity;
  run_ = begin_ease(ease_, start);
}

Instant EasedRide::at(double time, Side side) const {
  const double elapsed = std::max(0.0, time - begin_);
  const Instant there = ride_->at(time, side);
  Instant now = evaluate(ease_, run_, elapsed, there.value, there.velocity, side);
  if (there.acceleration == 0.0 && there.jerk == 0.0) return now;
  // What the goal's own bend adds, by the share of the way that is gone.
  EaseRun unit = run_;
  unit.from = unit.push = 0.0;
  const Instant share = evaluate(ease_, unit, elapsed, 1.0, 0.0, side);
  now.acceleration += there.acceleration * share.value;
  now.jerk += there.jerk * share.value + 3.0 * there.acceleration * share.velocity;
  return now;
}

double EasedRide::next_break(double time) const {
  return std::min(ride_->next_break(time), begin_ + stasis::next_break(ease_, run_, std::max(0.0, time - begin_)));
}

double EasedRide::smooth_stretch(double time) const {
  constexpr double parts = 32.0; // of the move
  const double whole = total_time(ease_, run_);
  return time - begin_ < whole ? std::min(ride_->smooth_stretch(time), whole / parts) : ride_->smooth_stretch(time);
}

namespace {
constexpr std::size_t steps_in_a_run = 64;
} // namespace

TrackChase::TrackChase(std::shared_ptr<const Motion> motion, std::shared_ptr<const RiddenTrack> goal, MoverState state,
                       double begin)
    : motion_(std::move(motion)), goal_(std::move(goal)), begin_(begin) {
  constexpr std::size_t usual_runs = 256; // a minute of chords
  kept_.reserve(usual_runs);
  pieces_.reserve(steps_in_a_run);
  kept_.push_back({begin, std::move(state)});
  step_from(0);
}

/// Until when the goal is taken as straight.
double TrackChase::next_corner(double time) const {
  constexpr double longest = 1.0, chord = 1.0 / 240.0, shortest = 1e-9; // s: below the last a sum may not go on
  const double step = goal_->is_straight() ? longest : chord;
  return std::max(time + shortest, std::min(goal_->next_break(time), time + step));
}

/// Makes the steps of a run. Of the last one what comes after it is known then.
void TrackChase::step_from(std::size_t kept) const {
  double from = kept_[kept].time;
  MoverState state = kept_[kept].state;
  pieces_.clear();
  run_ = kept;
  while (pieces_.size() < steps_in_a_run) {
    const double to = next_corner(from);
    Piece& made = pieces_.emplace_back();
    made.begin = from;
    FramePiece& piece = made.piece;
    piece.dt = to - from;
    piece.motion = motion_.get();
    piece.state = state;
    piece.run_elapsed = from - begin_;
    piece.goal = {goal_->at(from, Side::at).value, goal_->at(to, Side::before).value};
    piece.end_velocity = advance(*motion_, state, memory_, {from - begin_, to - begin_}, piece.goal, piece.dt);
    piece.end_value = state.value;
    if (std::holds_alternative<Chain>(*motion_)) piece.end_stages = StageRow{state.input, state.links};
    from = to;
  }
  if (kept + 1 == kept_.size()) kept_.push_back({from, std::move(state)});
}

const TrackChase::Piece& TrackChase::piece_at(double time, Side side) const {
  const double rounding = 1e-12 * std::max(1.0, std::fabs(time));
  const double reached =
      side == Side::at ? time + rounding : time - rounding; // an instant belongs to what begins there
  while (kept_.back().time <= reached) step_from(kept_.size() - 1);
  const auto after = std::upper_bound(kept_.begin(), kept_.end() - 1, reached,
                                      [](double at, const Kept& one) { return at < one.time; });
  const auto run = static_cast<std::size_t>(std::max<std::ptrdiff_t>(after - kept_.begin(), 1)) - 1;
  if (run != run_) step_from(run);
  const auto next = std::upper_bound(pieces_.begin(), pieces_.end(), reached,
                                     [](double at, const Piece& one) { return at < one.begin; });
  return next == pieces_.begin() ? pieces_.front() : *(next - 1);
}

Instant TrackChase::at(double time, Side side) const {
  const Piece& here = piece_at(time, side);
  return inside(here.piece, std::clamp(time - here.begin, 0.0, here.piece.dt), side);
}

double TrackChase::next_break(double time) const {
  const Piece& here = piece_at(time, Side::at);
  const auto inner = stasis::next_break(here.piece, std::clamp(time - here.begin, 0.0, here.piece.dt));
  return here.begin + (inner ? std::min(*inner, here.piece.dt) : here.piece.dt);
}

double TrackChase::smooth_stretch(double time) const {
  const Piece& here = piece_at(time, Side::at);
  const double u = std::clamp(time - here.begin, 0.0, here.piece.dt);
  return stasis::smooth_stretch(here.piece, u, u);
}

} // namespace stasis
