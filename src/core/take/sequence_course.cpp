#include "core/take/sequence_course.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>
#include <utility>

#include <fmt/format.h>

#include "core/scene/track_rates.hpp"
#include "core/take/course_flight.hpp"

namespace stasis {
namespace {

bool is_at_rest(const FramePiece& piece) {
  return piece.state.run == nullptr && piece.state.value == piece.goal.start && piece.state.velocity == 0.0;
}

class CourseMaker {
public:
  CourseMaker(const CourseScene& scene, const Sequence& sequence, const ReadLedStart& start)
      : scene_(scene), feel_(*scene.feel), sequence_(sequence) {
    for (const PoseGoal& led : sequence.led)
      for (std::size_t i = 0; i < feel_.channels[led.channel].components; ++i)
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
      channel_of(one.component().channel).way[one.component().component] = one.way();
    add_jumps_of_subjects();
    std::sort(course_.cuts.begin(), course_.cuts.end());
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

  void begin(ComponentRef component, LedStart start) {
    if (is_at_rest(start.going_on.piece))
      components_.emplace_back(component, scene_, LedWay::Standing{start.going_on.piece.state.value}, start.base);
    else
      components_.emplace_back(component, scene_, std::move(start.going_on), start.base);
  }

  SequenceCourse::OfChannel& channel_of(std::size_t channel) {
    for (SequenceCourse::OfChannel& one : course_.channels)
      if (one.channel == channel) return one;
    return course_.channels.emplace_back(SequenceCourse::OfChannel{channel, {}});
  }

  /// What goes with a subject jumps as it does.
  void add_jumps_of_subjects() {
    const CourseClock& clock = scene_.clock;
    const double ends[] = {clock.of(0.0), clock.of(course_.total())};
    std::vector<double> times;
    for (const SequenceStop& stop : sequence_.stops)
      for (const PoseGoal& goal : stop.goals)
        if (goal.track)
          add_jumps(track_of(scene_, *goal.track), std::min(ends[0], ends[1]), std::max(ends[0], ends[1]), times);
    for (const double time : times) course_.cuts.push_back((time - clock.begins) / clock.per_second);
  }

  void arrive(std::size_t k, double time) {
    course_.arrives.push_back(time);
    course_.leaves.push_back(time + sequence_.stops[k].hold);
  }

  void cut_to(std::size_t k, double time) {
    course_.cuts.push_back(time);
    for (LedComponent& one : components_)
      if (const PoseGoal* goal = goal_of(sequence_.stops[k], one.component()))
        one.add(time, one.arrival(*goal, time, one.at(time).value));
    arrive(k, time);
  }

  // --- moves by curves and motions

  /// The straight way along from where the view is to where a stop is at a time.
  double straight_way(std::size_t k, double time) const {
    double square = 0.0;
    for (const LedComponent& one : components_) {
      if (one.component().channel != sequence_.along) continue;
      const PoseGoal* goal = goal_of(sequence_.stops[k], one.component());
      if (goal == nullptr) continue;
      const SpaceMap& space = one.space();
      const double from = one.at(leave_).value;
      const double gap = from_space(space, one.goal_at(*goal, time, from)) - from_space(space, from);
      square += gap * gap;
    }
    return std::sqrt(square);
  }

  /// The motion by which a component comes to a stop, and how long it waits first.
  std::shared_ptr<const Motion> motion_to(const SequenceStop& stop, const PoseGoal& goal, const LedComponent& one,
                                          double gap, double duration) const {
    if (stop.curve) return std::make_shared<const Motion>(Ease{duration, *stop.curve, Handover::carry});
    const Channel& channel = feel_.channels[one.component().channel];
    const MotionChoices& choices = goal.entering ? *goal.entering : channel.motion;
    const MotionChoice& choice = choices[one.component().component];
    return std::make_shared<const Motion>(
        slowed(feel_.motions[gap < 0.0 ? choice.falling : choice.rising].motion, channel.motion_times));
  }

  /// The time that the motions of a stop take by themselves, if they say so: eased moves do.
  double own_duration(std::size_t k) const {
    double longest = 0.0;
    for (const LedComponent& one : components_)
      if (const PoseGoal* goal = goal_of(sequence_.stops[k], one.component())) {
        const double from = one.at(leave_).value;
        const auto motion = motion_to(sequence_.stops[k], *goal, one, one.goal_at(*goal, leave_, from) - from, 0.0);
        if (const Ease* ease = ease_of(*motion)) longest = std::max(longest, wait_of(*motion) + total_time(*ease, {}));
      }
    return longest;
  }

  double duration_to(std::size_t k) {
    const SequenceStop& stop = sequence_.stops[k];
    if (stop.at) return std::max(0.0, *stop.at - leave_);
    if (stop.after) return *stop.after;
    if (stop.speed) return duration_at(k, *stop.speed);
    return own_duration(k);
  }

  /// A subject goes on meanwhile: the way and its time depend on each other. One that is faster is not come to.
  double duration_at(std::size_t k, double speed) {
    constexpr int most_rounds = 1000;
    constexpr double exact = 1e-13, longest = 1e5; // s
    const double first = straight_way(k, leave_) / speed;
    double duration = first;
    for (int round = 0; round < most_rounds && duration < longest; ++round) {
      const double next = straight_way(k, leave_ + duration) / speed;
      if (std::fabs(next - duration) <= exact * std::max(1.0, next)) return next;
      duration = next;
    }
    course_.given_up.push_back(fmt::format("to stop {}: its speed, since the subject that it names outruns it", k + 1));
    return first;
  }

  void move_to(std::size_t k) {
    const double duration = duration_to(k);
    if (duration <= 0.0) return cut_to(k, leave_);
    for (const PoseGoal& led : sequence_.led) move_channel_to(k, led.channel, duration);
    arrive(k, leave_ + duration);
  }

  /// One component on its way to a stop by a motion.
  struct Move {
    LedComponent* one;
    std::shared_ptr<const Motion> motion;
    double begin, goal;
    MoverState state;
    std::shared_ptr<const RiddenTrack> subject; ///< null: its goal stands
  };

  void move_channel_to(std::size_t k, std::size_t channel, double duration) {
    std::vector<Move> moves;
    for (LedComponent& one : components_) {
      const PoseGoal* goal = goal_of(sequence_.stops[k], one.component());
      if (one.component().channel != channel || goal == nullptr) continue;
      const double arrives = leave_ + duration, before = one.at(leave_).value;
      const double to = one.goal_at(*goal, arrives, before);
      auto motion = motion_to(sequence_.stops[k], *goal, one, to - before, duration);
      const double begin = leave_ + wait_of(*motion);
      const Instant now = one.at(begin);
      MoverState state = state_at_rest(now.value);
      state.velocity = now.velocity;
      adopt(*motion, state);
      auto subject = one.subject_of(*goal, arrives, before, wait_of(*motion));
      moves.push_back({&one, std::move(motion), begin, to, std::move(state), std::move(subject)});
    }
    const bool together =
        moves.size() > 1 && std::all_of(moves.begin(), moves.end(), [&](const Move& move) {
          return pace_of(*move.motion) != nullptr && move.begin == moves[0].begin && move.subject == nullptr;
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
    for (std::size_t m = 0; m < moves.size(); ++m) begin(moves[m], together ? &plan : nullptr, m);
  }

  void begin(Move& move, const PacePlan* plan, std::size_t axis) {
    if (move.subject != nullptr)
      return go_after(*move.one, std::move(move.motion), std::move(move.subject), move.begin, std::move(move.state));
    if (std::holds_alternative<Cut>(*move.motion)) return move.one->add(move.begin, LedWay::Standing{move.goal});
    MoveStart start;
    start.goal = move.goal;
    start.old_goal = move.state.value;
    start.plan = plan;
    start.axis = axis;
    begin_move(*move.motion, move.state, start);
    FramePiece piece;
    piece.dt = longest_part;
    piece.motion = move.motion.get();
    piece.state = std::move(move.state);
    piece.goal = {move.goal, move.goal};
    move.one->add(move.begin, LedWay::Moving{std::move(move.motion), std::move(piece)});
  }

  /// A motion whose goal moves as a subject does.
  // many: what goes after what, by which motion, from when and in which state
  static void go_after(LedComponent& one, std::shared_ptr<const Motion> motion,
                       std::shared_ptr<const RiddenTrack> subject, double begin, MoverState state) {
    if (std::holds_alternative<Cut>(*motion)) return one.add(begin, LedWay::Riding{std::move(subject)});
    if (const auto* ease = std::get_if<Ease>(motion.get())) {
      const Instant from{state.value, state.velocity, 0.0, 0.0};
      return one.add(begin, LedWay::Riding{std::make_shared<const EasedRide>(subject, *ease, begin, from)});
    }
    MoveStart start;
    start.goal = subject->at(begin, Side::at).value;
    start.old_goal = state.value;
    begin_move(*motion, state, start);
    one.add(begin, LedWay::Riding{std::make_shared<const TrackChase>(std::move(motion), std::move(subject),
                                                                     std::move(state), begin)});
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

  void close_flight() {
    if (flown_.empty()) return;
    MadeFlight made = make_flight(feel_, sequence_, {components_, flown_, flight_begin_});
    for (std::size_t f = 0; f < flown_.size(); ++f) {
      course_.arrives[flown_[f]] = made.times[f];
      course_.leaves[flown_[f]] = made.times[f] + sequence_.stops[flown_[f]].hold;
    }
    std::move(made.given_up.begin(), made.given_up.end(), std::back_inserter(course_.given_up));
    leave_ = course_.leaves.back();
    flown_.clear();
  }

  const CourseScene scene_;
  const Feel& feel_;
  const Sequence& sequence_;
  std::vector<LedComponent> components_;
  std::vector<std::size_t> flown_; // stops of the flight that is open
  double flight_begin_ = 0.0, leave_ = 0.0;
  SequenceCourse course_;
};

} // namespace

SequenceCourse course_of(const CourseScene& scene, const Sequence& sequence, const ReadLedStart& start,
                         const SequencePart& part) {
  // When it is where on its way says where its subjects then are, which may say how long the way takes.
  CourseScene seen = scene;
  SequenceCourse course;
  constexpr int most_rounds = 50;
  for (int round = 0; round < most_rounds; ++round) {
    course = CourseMaker(seen, sequence, start).make();
    if (!goes_with_subject(sequence)) break;
    const LedTime time = time_of(sequence, course, part);
    const double rate = (time.backward ? -1.0 : 1.0) / time.pace;
    const CourseClock clock{scene.clock.begins - rate * (time.backward ? time.to : time.first), rate};
    if (clock == seen.clock) break;
    seen.clock = clock;
  }
  return course;
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
  double begins = 0.0;
  if (take != nullptr)
    for (const Cue& cue : take->cues)
      if (cue.action == CueAction::start && &feel.sequences[cue.sequence] == &sequence) {
        begins = cue.at;
        break;
      }
  return course_of({&feel, take, {begins, 1.0}}, sequence, at_rest);
}

} // namespace stasis
