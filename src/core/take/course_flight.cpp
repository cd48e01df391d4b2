#include "core/take/course_flight.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include "core/units.hpp"

namespace stasis {
namespace {

/// s, and the share of a flight: in which one at a steady speed gathers it, if the sequence does not say.
constexpr double usual_ramp = 1.0, most_ramp_share = 0.25;

class FlightMaker {
public:
  FlightMaker(const Feel& feel, const Sequence& sequence, const FlightOrder& order)
      : feel_(feel), sequence_(sequence), order_(order) {}

  MadeFlight make() {
    const auto made = flight();
    for (std::size_t axis = 0; axis < flying_.size(); ++axis)
      order_.components[flying_[axis]].add(order_.begin, LedWay::Flying{made, axis});
    turn_together(*made);
    go_on_with_subjects(*made);
    for (std::size_t f = 0; f < order_.stops.size(); ++f) made_.times.push_back(order_.begin + made->time_of(f + 1));
    tell_what_was_given_up(*made);
    return std::move(made_);
  }

private:
  /// Times of the stops as they are asked for, s after the flight begins; those that are not told lie between the
  /// others. \param ways of each leg, where a speed is asked for.
  std::vector<double> asked_times(const std::vector<double>& ways) const {
    constexpr double untold = std::numeric_limits<double>::quiet_NaN();
    std::vector<double> times{0.0};
    double told = 0.0;
    for (std::size_t f = 0; f < order_.stops.size(); ++f) {
      const SequenceStop& stop = sequence_.stops[order_.stops[f]];
      double time = untold;
      if (stop.at) time = std::max(*stop.at - order_.begin, told);
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
    std::vector<double> ways(order_.stops.size(), 0.0);
    for (const LedComponent& one : order_.components) {
      if (one.component().channel != sequence_.along) continue;
      double from = one.at(order_.begin).value;
      for (std::size_t f = 0; f < order_.stops.size(); ++f) {
        const PoseGoal* goal = goal_of(sequence_.stops[order_.stops[f]], one.component());
        if (goal == nullptr) continue;
        const double to = one.goal_at(*goal, order_.begin, from);
        ways[f] = std::hypot(ways[f], to - from);
        from = to;
      }
    }
    return ways;
  }

  PathEnd end_of(double slope, const std::optional<double>& ease) const {
    return ease && *ease == 0.0 ? PathEnd{PathEnd::Kind::free, 0.0} : PathEnd{PathEnd::Kind::slope, slope};
  }

  /// \param seen when subjects are where they are met, s after the flight begins: at each of its stops.
  FlightPlan plan_of(const std::vector<double>& times, const std::vector<double>& seen) {
    FlightPlan plan;
    plan.times = times;
    plan.between_neighbours = !sequence_.overshoot;
    bool along_everywhere = sequence_.along.has_value();
    flying_.clear();
    for (std::size_t c = 0; c < order_.components.size(); ++c) {
      const LedComponent& one = order_.components[c];
      if (turn_angle(one)) continue; // see turn_together()
      const Instant now = one.at(order_.begin);
      FlightPlan::Axis axis{{0}, {now.value}, end_of(now.velocity, sequence_.ease_in), {}};
      if (now.velocity != 0.0) axis.start = {PathEnd::Kind::slope, now.velocity};
      for (std::size_t f = 0; f < order_.stops.size(); ++f)
        if (const PoseGoal* goal = goal_of(sequence_.stops[order_.stops[f]], one.component())) {
          axis.stops.push_back(f + 1);
          const double from = axis.values.back(), time = order_.begin + seen[f + 1];
          axis.values.push_back(one.goal_at(*goal, time, from));
          axis.end = end_of(one.speed_of(*goal, time, from), sequence_.ease_out);
        }
      const bool is_along = one.component().channel == sequence_.along;
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

  /// True of a flight that is the whole of a sequence, made again and again, and ends where it began; unless it is
  /// asked to gather or to lose its speed there.
  bool is_closed(const FlightPlan& plan) const {
    if (sequence_.repeat == 1 || sequence_.there_and_back) return false;
    if (sequence_.ease_in.value_or(0.0) > 0.0 || sequence_.ease_out.value_or(0.0) > 0.0) return false;
    if (order_.stops.size() + 1 != sequence_.stops.size() || order_.stops.size() < 3) return false;
    return std::all_of(plan.axes.begin(), plan.axes.end(), [&](const FlightPlan::Axis& axis) {
      return axis.values.front() == axis.values.back() && axis.stops.size() == plan.times.size();
    });
  }

  /// The flight that goes so far from stop to stop.
  std::shared_ptr<const Flight> flight_of(const std::vector<double>& ways, const std::vector<double>& seen) {
    const std::vector<double> asked = asked_times(ways);
    FlightPlan plan = plan_of(asked, seen.empty() ? asked : seen);
    if (const auto& speed = sequence_.stops[order_.stops.back()].speed; plan.steady && speed) {
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

  /// A flight whose stops are reached at the speeds that are asked for: times and ways depend on each other, and so do
  /// the times of a steady flight and where its subjects then are. Where no times agree with their ways (a short time
  /// after a leg by its speed makes the way swing out, which makes the leg longer), the speeds are those of the
  /// straight ways.
  std::shared_ptr<const Flight> flight() {
    const std::vector<double> straight = straight_ways();
    const bool by_speed = std::any_of(order_.stops.begin(), order_.stops.end(),
                                      [&](std::size_t k) { return sequence_.stops[k].speed.has_value(); });
    const bool settles_times = by_speed || (sequence_.steady && goes_with_subject(sequence_));
    constexpr int most_rounds = 100;
    constexpr double exact = 1e-14, close = 1e-6, most_stretch = 20.0;
    double whole = 0.0;
    for (const double way : straight) whole += way;
    speeds_are_straight_ = false;
    std::vector<double> ways = straight, seen;
    for (int round = 1; round <= most_rounds; ++round) {
      auto made = flight_of(ways, seen);
      if (!settles_times) return made;
      double change = 0.0, now = 0.0;
      seen.resize(ways.size() + 1, 0.0);
      for (std::size_t f = 0; f < ways.size(); ++f) {
        const double way = made->way_between(f, f + 1), time = made->time_of(f + 1);
        change = std::max({change, std::fabs(way - ways[f]) / std::max(1e-300, way),
                           std::fabs(time - seen[f + 1]) / std::max(1.0, time)});
        ways[f] = way;
        seen[f + 1] = time;
        now += way;
      }
      if (change < exact || (round == most_rounds && change < close)) return made;
      if (!(now <= most_stretch * whole)) break; // it grows without end
    }
    speeds_are_straight_ = true;
    return flight_of(straight, {});
  }

  /// Which of yaw, pitch and roll a component is, where these are flown as one turn.
  std::optional<std::size_t> turn_angle(const LedComponent& one) const {
    if (sequence_.turns == SequenceTurns::angles) return std::nullopt;
    const Picture& picture = feel_.picture;
    const std::array roles{picture.yaw, picture.pitch, picture.roll};
    for (std::size_t angle = 0; angle < roles.size(); ++angle)
      if (roles[angle] == one.component().channel) return angle;
    return std::nullopt;
  }

  double radians_per_unit(const LedComponent& one) const {
    const auto unit = find_unit(feel_.channels[one.component().channel].unit);
    return unit ? radians(convert(1.0, *unit, *find_unit("deg"))) : 1.0;
  }

  /// The picture's angles as one turn through those stops of the flight that name any of them; one that a stop does
  /// not name stays as it was at the stop before.
  void turn_together(const Flight& flight) {
    TurnAngles now{}, rates{};
    std::vector<std::pair<std::size_t, LedComponent*>> turned;
    for (LedComponent& one : order_.components) {
      const auto angle = turn_angle(one);
      if (!angle) continue;
      const Instant there = one.at(order_.begin);
      now[*angle] = there.value * radians_per_unit(one);
      rates[*angle] = there.velocity * radians_per_unit(one);
      turned.emplace_back(*angle, &one);
    }
    std::vector<double> times{0.0};
    std::vector<TurnAngles> angles{now};
    for (std::size_t f = 0; f < order_.stops.size(); ++f) {
      bool named = false;
      for (const auto& [angle, one] : turned)
        if (const PoseGoal* goal = goal_of(sequence_.stops[order_.stops[f]], one->component())) {
          const double time = order_.begin + flight.time_of(f + 1);
          now[angle] = one->goal_at(*goal, time, now[angle] / radians_per_unit(*one)) * radians_per_unit(*one);
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
      one->add(order_.begin, LedWay::Turning{path, angle, 1.0 / radians_per_unit(*one)});
  }

  /// What comes to a subject in flight goes on with it.
  void go_on_with_subjects(const Flight& made) {
    for (LedComponent& one : order_.components) {
      const PoseGoal* last = nullptr;
      double time = 0.0;
      for (std::size_t f = 0; f < order_.stops.size(); ++f)
        if (const PoseGoal* goal = goal_of(sequence_.stops[order_.stops[f]], one.component())) {
          last = goal;
          time = order_.begin + made.time_of(f + 1);
        }
      if (last == nullptr) continue;
      const double there = one.at(time).value;
      const double arriving = one.at(time, Side::before).velocity;
      auto subject = one.subject_of(*last, time, there);
      if (subject == nullptr) continue;
      const double going_on = subject->at(time, Side::at).velocity;
      constexpr double same = 1e-9;
      jumps_ = jumps_ || std::fabs(going_on - arriving) > same * std::max(1.0, std::fabs(going_on));
      one.add(time, LedWay::Riding{std::move(subject)});
    }
  }

  void tell_what_was_given_up(const Flight& made) {
    const std::string stops = fmt::format("to stop {}", order_.stops.back() + 1);
    if (speeds_are_straight_)
      made_.given_up.push_back(fmt::format(
          "{}: the speed as the way goes; it is that of the straight way, since no times agree with its own", stops));
    if (jumps_ && sequence_.ease_out != 0.0)
      made_.given_up.push_back(fmt::format("{}: a speed that goes on into its subject's, since {}", stops,
                                           made.is_steady()      ? "the flight goes at one speed"
                                           : sequence_.overshoot ? "the view turns as one"
                                                                 : "without overshoot it may not swing out"));
    if (sequence_.steady && !made.is_steady()) {
      made_.given_up.push_back(fmt::format("{}: one speed along the way, since {}", stops,
                                           sequence_.overshoot ? "two stops share a place, or one gives none"
                                                               : "without overshoot the way turns round"));
      return;
    }
    if (!made.is_steady()) return;
    const auto has_time = [&](std::size_t k) {
      const SequenceStop& stop = sequence_.stops[k];
      return stop.at || stop.after || stop.speed;
    };
    if (std::any_of(order_.stops.begin(), order_.stops.end() - 1, has_time))
      made_.given_up.push_back(
          fmt::format("{}: the times of the stops between, since the flight goes at one speed", stops));
  }

  const Feel& feel_;
  const Sequence& sequence_;
  const FlightOrder& order_;
  std::vector<std::size_t> flying_;  // components, by axis of the flight
  bool speeds_are_straight_ = false; // of the flight that was made last
  bool jumps_ = false;               // where it comes to a subject, and that goes on
  MadeFlight made_;
};

} // namespace

MadeFlight make_flight(const Feel& feel, const Sequence& sequence, const FlightOrder& order) {
  return FlightMaker(feel, sequence, order).make();
}

} // namespace stasis
