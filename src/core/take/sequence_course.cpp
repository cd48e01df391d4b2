#include "core/take/sequence_course.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <utility>

#include <fmt/format.h>

#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

/// s, and the share of a flight: in which one at a steady speed gathers it, if the sequence does not say.
constexpr double usual_ramp = 1.0, most_ramp_share = 0.25;

/// One component on its way.
struct LedComponent {
  ComponentRef component;
  std::shared_ptr<LedWay> way = std::make_shared<LedWay>();
  double base = 0.0; ///< in the unit
};

bool is_at_rest(const FramePiece& piece) {
  return piece.state.run == nullptr && piece.state.value == piece.goal.start && piece.state.velocity == 0.0;
}

class CourseMaker {
public:
  CourseMaker(const Feel& feel, const Sequence& sequence, const ReadLedStart& start, const ReadTrackPlace& place)
      : feel_(feel), sequence_(sequence), place_(place) {
    for (const PoseGoal& led : sequence.led)
      for (std::size_t i = 0; i < feel.channels[led.channel].components; ++i)
        if (is_named({led.channel, i})) begin({led.channel, i}, start({led.channel, i}));
  }

  SequenceCourse make() {
    for (std::size_t k = 0; k < sequence_.stops.size(); ++k) {
      const SequenceStop& stop = sequence_.stops[k];
      if (stop.way != SequenceStop::Way::flown) close_flight();
      switch (stop.way) {
      case SequenceStop::Way::flown: fly_to(k); break;
      case SequenceStop::Way::eased:
      case SequenceStop::Way::moved: move_to(k); break;
      case SequenceStop::Way::cut: cut_to(k, stop.at ? std::max(*stop.at, leave_) : leave_ + stop.after.value_or(0.0));
      }
      if (stop.hold > 0.0) close_flight();
      leave_ = course_.leaves.empty() ? 0.0 : course_.leaves.back();
    }
    close_flight();
    for (const LedComponent& one : components_)
      channel_of(one.component.channel).way[one.component.component] = one.way;
    course_.along = sequence_.along;
    return std::move(course_);
  }

private:
  bool is_named(ComponentRef component) const {
    return std::any_of(sequence_.stops.begin(), sequence_.stops.end(), [&](const SequenceStop& stop) {
      const PoseGoal* goal = goal_of(stop, component);
      return goal != nullptr;
    });
  }

  static const PoseGoal* goal_of(const SequenceStop& stop, ComponentRef component) noexcept {
    for (const PoseGoal& goal : stop.goals)
      if (goal.channel == component.channel && goal.value[component.component].rule != GoalRule::none) return &goal;
    return nullptr;
  }

  void begin(ComponentRef component, LedStart start) {
    LedComponent& one = components_.emplace_back();
    one.component = component;
    one.base = start.base;
    if (is_at_rest(start.going_on.piece))
      one.way->add(0.0, LedWay::Standing{start.going_on.piece.state.value});
    else
      one.way->add(0.0, std::move(start.going_on));
  }

  SequenceCourse::OfChannel& channel_of(std::size_t channel) {
    for (SequenceCourse::OfChannel& one : course_.channels)
      if (one.channel == channel) return one;
    return course_.channels.emplace_back(SequenceCourse::OfChannel{channel, {}});
  }

  const SpaceMap& space_of(const LedComponent& one) const { return feel_.channels[one.component.channel].space; }

  /// What a stop asks of a component, in its space: the short way round from where it then is.
  double goal_at(const LedComponent& one, const PoseGoal& goal, double time, double from) const {
    const std::size_t i = one.component.component;
    const double wanted = goal.track ? place_(*goal.track, time)[i] : goal.value[i].of(one.base);
    const SpaceMap& space = space_of(one);
    return to_space(space, space.space == Space::turn ? short_way(space, from, wanted) : wanted);
  }

  void arrive(std::size_t k, double time) {
    course_.arrives.push_back(time);
    course_.leaves.push_back(time + sequence_.stops[k].hold);
  }

  void cut_to(std::size_t k, double time) {
    course_.cuts.push_back(time);
    for (LedComponent& one : components_)
      if (const PoseGoal* goal = goal_of(sequence_.stops[k], one.component))
        one.way->add(time, LedWay::Standing{goal_at(one, *goal, time, one.way->at(time).value)});
    arrive(k, time);
  }

  // --- moves by curves and motions

  /// The straight way along from where the view is to a stop.
  double straight_way(std::size_t k) const {
    double square = 0.0;
    for (const LedComponent& one : components_) {
      if (one.component.channel != sequence_.along) continue;
      const PoseGoal* goal = goal_of(sequence_.stops[k], one.component);
      if (goal == nullptr) continue;
      const SpaceMap& space = space_of(one);
      const double from = one.way->at(leave_).value;
      const double gap = from_space(space, goal_at(one, *goal, leave_, from)) - from_space(space, from);
      square += gap * gap;
    }
    return std::sqrt(square);
  }

  /// The motion by which a component comes to a stop, and how long it waits first.
  std::shared_ptr<const Motion> motion_to(const SequenceStop& stop, const PoseGoal& goal, const LedComponent& one,
                                          double gap, double duration) const {
    if (stop.curve) return std::make_shared<const Motion>(Ease{duration, *stop.curve, Handover::carry});
    const Channel& channel = feel_.channels[one.component.channel];
    const MotionChoices& choices = goal.entering ? *goal.entering : channel.motion;
    const MotionChoice& choice = choices[one.component.component];
    return std::make_shared<const Motion>(
        slowed(feel_.motions[gap < 0.0 ? choice.falling : choice.rising].motion, channel.motion_times));
  }

  /// The time that the motions of a stop take by themselves, if they say so: eased moves do.
  double own_duration(std::size_t k) const {
    double longest = 0.0;
    for (const LedComponent& one : components_)
      if (const PoseGoal* goal = goal_of(sequence_.stops[k], one.component)) {
        const double from = one.way->at(leave_).value;
        const auto motion = motion_to(sequence_.stops[k], *goal, one, goal_at(one, *goal, leave_, from) - from, 0.0);
        if (const Ease* ease = ease_of(*motion)) longest = std::max(longest, wait_of(*motion) + total_time(*ease, {}));
      }
    return longest;
  }

  double duration_to(std::size_t k) const {
    const SequenceStop& stop = sequence_.stops[k];
    if (stop.at) return std::max(0.0, *stop.at - leave_);
    if (stop.after) return *stop.after;
    if (stop.speed) return straight_way(k) / *stop.speed;
    return own_duration(k);
  }

  void move_to(std::size_t k) {
    const double duration = duration_to(k);
    if (duration <= 0.0) return cut_to(k, leave_);
    for (const PoseGoal& led : sequence_.led) move_channel_to(k, led.channel, duration);
    arrive(k, leave_ + duration);
  }

  void move_channel_to(std::size_t k, std::size_t channel, double duration) {
    struct Move {
      LedComponent* one;
      std::shared_ptr<const Motion> motion;
      double begin, goal;
      MoverState state;
    };
    std::vector<Move> moves;
    for (LedComponent& one : components_) {
      const PoseGoal* goal = goal_of(sequence_.stops[k], one.component);
      if (one.component.channel != channel || goal == nullptr) continue;
      const double arrives = leave_ + duration, before = one.way->at(leave_).value;
      const double to = goal_at(one, *goal, arrives, before);
      auto motion = motion_to(sequence_.stops[k], *goal, one, to - before, duration);
      const double begin = leave_ + wait_of(*motion);
      const Instant now = one.way->at(begin);
      MoverState state = state_at_rest(now.value);
      state.velocity = now.velocity;
      adopt(*motion, state);
      moves.push_back({&one, std::move(motion), begin, to, std::move(state)});
    }
    const bool together = moves.size() > 1 && std::all_of(moves.begin(), moves.end(), [&](const Move& move) {
                            return pace_of(*move.motion) != nullptr && move.begin == moves[0].begin;
                          });
    PacePlan plan;
    if (together) {
      Components gap{}, velocity{};
      for (std::size_t m = 0; m < moves.size(); ++m) {
        const SpringState from = pace_start(*moves[m].motion, moves[m].state);
        gap[m] = moves[m].goal - from.value;
        velocity[m] = finite_or_zero(from.velocity);
      }
      plan = plan_pace(*pace_of(*moves[0].motion), gap, velocity);
    }
    for (std::size_t m = 0; m < moves.size(); ++m) {
      Move& move = moves[m];
      if (std::holds_alternative<Cut>(*move.motion)) {
        move.one->way->add(move.begin, LedWay::Standing{move.goal});
        continue;
      }
      MoveStart start;
      start.goal = move.goal;
      start.old_goal = move.state.value;
      start.plan = together ? &plan : nullptr;
      start.axis = m;
      begin_move(*move.motion, move.state, start);
      FramePiece piece;
      piece.dt = longest_part;
      piece.motion = move.motion.get();
      piece.state = std::move(move.state);
      piece.goal = {move.goal, move.goal};
      move.one->way->add(move.begin, LedWay::Moving{std::move(move.motion), std::move(piece)});
    }
  }

  // --- flights

  void fly_to(std::size_t k) {
    const SequenceStop& stop = sequence_.stops[k];
    const bool has_time = stop.at || stop.after || stop.speed;
    if (flown_.empty()) {
      const bool at_once =
          (!has_time && k == 0) || (stop.at && *stop.at <= leave_) || (stop.after && *stop.after == 0.0);
      if (at_once) return cut_to(k, leave_);
      flight_begin_ = leave_;
    }
    flown_.push_back(k);
    arrive(k, leave_); // put right when the flight is known
  }

  /// Times of the stops as they are asked for, s after the flight begins; those that are not told lie between the
  /// others. \param ways of each leg, where a speed is asked for.
  std::vector<double> asked_times(const std::vector<double>& ways) const {
    constexpr double untold = std::numeric_limits<double>::quiet_NaN();
    std::vector<double> times{0.0};
    double told = 0.0;
    for (std::size_t f = 0; f < flown_.size(); ++f) {
      const SequenceStop& stop = sequence_.stops[flown_[f]];
      double time = untold;
      if (stop.at) time = std::max(*stop.at - flight_begin_, told);
      if (stop.after) time = told + *stop.after;
      if (stop.speed) time = told + ways[f] / *stop.speed;
      times.push_back(time);
      if (std::isfinite(time)) told = time;
    }
    if (!std::isfinite(times.back())) times.back() = told > 0.0 ? told * 1.25 : 1.0;
    for (std::size_t f = 1; f < times.size(); ++f) {
      if (std::isfinite(times[f])) continue;
      std::size_t next = f;
      while (!std::isfinite(times[next])) ++next;
      times[f] = times[f - 1] + (times[next] - times[f - 1]) / static_cast<double>(next - f + 1);
    }
    // Two stops at one time would be no path: the later one comes an instant later.
    constexpr double shortest = 1e-6; // s
    for (std::size_t f = 1; f < times.size(); ++f) times[f] = std::max(times[f], times[f - 1] + shortest);
    return times;
  }

  std::vector<double> straight_ways() const {
    std::vector<double> ways(flown_.size(), 0.0);
    for (const LedComponent& one : components_) {
      if (one.component.channel != sequence_.along) continue;
      double from = one.way->at(flight_begin_).value;
      for (std::size_t f = 0; f < flown_.size(); ++f) {
        const PoseGoal* goal = goal_of(sequence_.stops[flown_[f]], one.component);
        if (goal == nullptr) continue;
        const double to = goal_at(one, *goal, flight_begin_, from);
        ways[f] = std::hypot(ways[f], to - from);
        from = to;
      }
    }
    return ways;
  }

  PathEnd end_of(double slope, const std::optional<double>& ease) const {
    return ease && *ease == 0.0 ? PathEnd{PathEnd::Kind::free, 0.0} : PathEnd{PathEnd::Kind::slope, slope};
  }

  FlightPlan plan_of(const std::vector<double>& times) {
    FlightPlan plan;
    plan.times = times;
    plan.between_neighbours = !sequence_.overshoot;
    bool along_everywhere = sequence_.along.has_value();
    flying_.clear();
    for (std::size_t c = 0; c < components_.size(); ++c) {
      const LedComponent& one = components_[c];
      if (turn_angle(one)) continue; // see turn_together()
      const Instant now = one.way->at(flight_begin_);
      FlightPlan::Axis axis{{0}, {now.value}, end_of(now.velocity, sequence_.ease_in), end_of(0.0, sequence_.ease_out)};
      if (now.velocity != 0.0) axis.start = {PathEnd::Kind::slope, now.velocity};
      for (std::size_t f = 0; f < flown_.size(); ++f)
        if (const PoseGoal* goal = goal_of(sequence_.stops[flown_[f]], one.component)) {
          axis.stops.push_back(f + 1);
          axis.values.push_back(goal_at(one, *goal, flight_begin_ + times[f + 1], axis.values.back()));
        }
      const bool is_along = one.component.channel == sequence_.along;
      if (is_along && axis.stops.size() != times.size()) along_everywhere = false;
      if (axis.stops.size() == 1) continue;
      if (is_along) plan.along.push_back(plan.axes.size());
      flying_.push_back(c);
      plan.axes.push_back(std::move(axis));
    }
    plan.closed = is_closed(plan);
    plan.steady = sequence_.steady && along_everywhere && !plan.along.empty();
    if (plan.steady && !plan.closed) {
      const double ramp = std::min(usual_ramp, most_ramp_share * times.back());
      plan.speed_up = sequence_.ease_in.value_or(ramp);
      plan.slow_down = sequence_.ease_out.value_or(ramp);
    }
    return plan;
  }

  /// True of a flight that is the whole of a sequence, made again and again, and ends where it began.
  bool is_closed(const FlightPlan& plan) const {
    if (sequence_.repeat == 1 || sequence_.there_and_back) return false;
    if (flown_.size() + 1 != sequence_.stops.size() || flown_.size() < 3) return false;
    return std::all_of(plan.axes.begin(), plan.axes.end(), [&](const FlightPlan::Axis& axis) {
      return axis.values.front() == axis.values.back() && axis.stops.size() == plan.times.size();
    });
  }

  /// The flight that goes so far from stop to stop.
  std::shared_ptr<const Flight> flight_of(const std::vector<double>& ways) {
    FlightPlan plan = plan_of(asked_times(ways));
    if (const auto& speed = sequence_.stops[flown_.back()].speed; plan.steady && speed) {
      // At one speed the whole way takes the time of its length, and half of what is spent on gathering speed more.
      double whole = 0.0;
      for (const double way : ways) whole += way;
      const double bare = whole / *speed;
      const double in = sequence_.ease_in.value_or(std::min(usual_ramp, bare / 3.0));
      const double out = sequence_.ease_out.value_or(std::min(usual_ramp, bare / 3.0));
      plan.speed_up = plan.closed ? 0.0 : in;
      plan.slow_down = plan.closed ? 0.0 : out;
      const double total = bare + 0.5 * (plan.speed_up + plan.slow_down), scale = total / plan.times.back();
      for (double& time : plan.times) time *= scale;
    }
    return std::make_shared<const Flight>(plan);
  }

  /// A flight whose stops are reached at the speeds that are asked for: times and ways depend on each other. Where no
  /// times agree with their ways (a short time after a leg by its speed makes the way swing out, which makes the leg
  /// longer), the speeds are those of the straight ways.
  std::shared_ptr<const Flight> flight() {
    const std::vector<double> straight = straight_ways();
    const bool by_speed =
        std::any_of(flown_.begin(), flown_.end(), [&](std::size_t k) { return sequence_.stops[k].speed.has_value(); });
    constexpr int most_rounds = 100;
    constexpr double exact = 1e-14, close = 1e-6, most_stretch = 20.0;
    double whole = 0.0;
    for (const double way : straight) whole += way;
    speeds_are_straight_ = false;
    std::vector<double> ways = straight;
    for (int round = 1; round <= most_rounds; ++round) {
      auto made = flight_of(ways);
      if (!by_speed) return made;
      double change = 0.0, now = 0.0;
      for (std::size_t f = 0; f < ways.size(); ++f) {
        const double way = made->way_between(f, f + 1);
        change = std::max(change, std::fabs(way - ways[f]) / std::max(1e-300, way));
        ways[f] = way;
        now += way;
      }
      if (change < exact || (round == most_rounds && change < close)) return made;
      if (!(now <= most_stretch * whole)) break; // it grows without end
    }
    speeds_are_straight_ = true;
    return flight_of(straight);
  }

  /// Which of yaw, pitch and roll a component is, where these are flown as one turn.
  std::optional<std::size_t> turn_angle(const LedComponent& one) const {
    if (sequence_.turns == SequenceTurns::angles) return std::nullopt;
    const Picture& picture = feel_.picture;
    const std::array roles{picture.yaw, picture.pitch, picture.roll};
    for (std::size_t angle = 0; angle < roles.size(); ++angle)
      if (roles[angle] == one.component.channel) return angle;
    return std::nullopt;
  }

  double radians_per_unit(const LedComponent& one) const {
    const auto unit = find_unit(feel_.channels[one.component.channel].unit);
    return unit ? radians(convert(1.0, *unit, *find_unit("deg"))) : 1.0;
  }

  /// The picture's angles as one turn through those stops of the flight that name any of them; one that a stop does
  /// not name stays as it was at the stop before.
  void turn_together(const Flight& flight) {
    TurnAngles now{}, rates{};
    std::vector<std::pair<std::size_t, LedComponent*>> turned;
    for (LedComponent& one : components_) {
      const auto angle = turn_angle(one);
      if (!angle) continue;
      const Instant there = one.way->at(flight_begin_);
      now[*angle] = there.value * radians_per_unit(one);
      rates[*angle] = there.velocity * radians_per_unit(one);
      turned.emplace_back(*angle, &one);
    }
    std::vector<double> times{0.0};
    std::vector<TurnAngles> angles{now};
    for (std::size_t f = 0; f < flown_.size(); ++f) {
      bool named = false;
      for (const auto& [angle, one] : turned)
        if (const PoseGoal* goal = goal_of(sequence_.stops[flown_[f]], one->component)) {
          const double time = flight_begin_ + flight.time_of(f + 1);
          now[angle] = goal_at(*one, *goal, time, now[angle] / radians_per_unit(*one)) * radians_per_unit(*one);
          named = true;
        }
      if (!named) continue;
      times.push_back(flight.time_of(f + 1));
      angles.push_back(now);
    }
    if (times.size() < 2) return;
    const auto kind = sequence_.turns == SequenceTurns::even ? TurnPath::Kind::even : TurnPath::Kind::smooth;
    const auto path = std::make_shared<const TurnPath>(kind, std::move(times), angles, rates);
    for (const auto& [angle, one] : turned)
      one->way->add(flight_begin_, LedWay::Turning{path, angle, 1.0 / radians_per_unit(*one)});
  }

  void close_flight() {
    if (flown_.empty()) return;
    const auto made = flight();
    for (std::size_t axis = 0; axis < flying_.size(); ++axis)
      components_[flying_[axis]].way->add(flight_begin_, LedWay::Flying{made, axis});
    turn_together(*made);
    for (std::size_t f = 0; f < flown_.size(); ++f) {
      const double time = flight_begin_ + made->time_of(f + 1);
      course_.arrives[flown_[f]] = time;
      course_.leaves[flown_[f]] = time + sequence_.stops[flown_[f]].hold;
    }
    tell_what_was_given_up(*made);
    leave_ = course_.leaves.back();
    flown_.clear();
  }

  void tell_what_was_given_up(const Flight& made) {
    const std::string stops = fmt::format("to stop {}", flown_.back() + 1);
    if (speeds_are_straight_)
      course_.given_up.push_back(fmt::format(
          "{}: the speed as the way goes; it is that of the straight way, since no times agree with its own", stops));
    if (sequence_.steady && !made.is_steady()) {
      course_.given_up.push_back(fmt::format("{}: one speed along the way, since {}", stops,
                                             sequence_.overshoot ? "two stops share a place, or one gives none"
                                                                 : "without overshoot the way turns round"));
      return;
    }
    if (!made.is_steady()) return;
    const auto has_time = [&](std::size_t k) {
      const SequenceStop& stop = sequence_.stops[k];
      return stop.at || stop.after || stop.speed;
    };
    if (std::any_of(flown_.begin(), flown_.end() - 1, has_time))
      course_.given_up.push_back(
          fmt::format("{}: the times of the stops between, since the flight goes at one speed", stops));
  }

  const Feel& feel_;
  const Sequence& sequence_;
  const ReadTrackPlace& place_;
  std::vector<LedComponent> components_;
  std::vector<std::size_t> flown_;  // stops of the flight that is open
  std::vector<std::size_t> flying_; // components, by axis of the flight
  double flight_begin_ = 0.0, leave_ = 0.0;
  bool speeds_are_straight_ = false; // of the flight that was made last
  SequenceCourse course_;
};

} // namespace

SequenceCourse course_of(const Feel& feel, const Sequence& sequence, const ReadLedStart& start,
                         const ReadTrackPlace& place) {
  return CourseMaker(feel, sequence, start, place).make();
}

SequenceCourse course_at_rest(const Feel& feel, const Take* take, const Sequence& sequence) {
  const auto still = std::make_shared<const Motion>(Cut{});
  const ReadLedStart at_rest = [&](ComponentRef component) {
    const Channel& channel = feel.channels[component.channel];
    LedStart start;
    start.base = starting_base(channel, component.component);
    start.going_on.motion = still;
    start.going_on.piece.motion = still.get();
    start.going_on.piece.state = state_at_rest(to_space(channel.space, start.base));
    start.going_on.piece.goal = {start.going_on.piece.state.value, start.going_on.piece.state.value};
    return start;
  };
  const ReadTrackPlace on_track = [&](std::size_t track, double seconds) {
    TrackReader reader(feel.tracks[take != nullptr ? played_track(*take, track) : track]);
    reader.enter(seconds);
    return reader.at(seconds).place;
  };
  return course_of(feel, sequence, at_rest, on_track);
}

} // namespace stasis
