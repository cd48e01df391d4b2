// What looks wrong with sequences.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/measure/sequence_preview.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class SequenceCheck {
public:
  SequenceCheck(const Feel& feel, std::size_t index, std::vector<Warning>& out)
      : feel_(feel), sequence_(feel.sequences[index]), index_(index), out_(out),
        preview_(preview_of(feel, nullptr, sequence_)) {}

  void check() {
    if (!is_begun()) warn("unused_sequence", fmt::format("no cue, no control and no switch begins {}", sequence_.name));
    check_stops();
    check_turns();
    check_end();
    check_again();
    check_looking();
  }

private:
  void warn(const char* code, std::string message) {
    out_.push_back({code, sequence_.name, "", std::move(message), ""});
  }

  bool is_begun() const {
    const bool by_control = std::any_of(feel_.controls.begin(), feel_.controls.end(), [&](const Control& control) {
      const auto* starter = std::get_if<Starter>(&control.rule);
      return starter != nullptr && starter->sequence == index_;
    });
    const bool by_switch = std::any_of(feel_.switches.begin(), feel_.switches.end(),
                                       [&](const Switch& one) { return one.sequence == index_; });
    return by_control || by_switch || std::any_of(feel_.takes.begin(), feel_.takes.end(), [&](const Take& take) {
             return std::any_of(take.cues.begin(), take.cues.end(), [&](const Cue& cue) {
               return cue.action == CueAction::start && cue.sequence == index_;
             });
           });
  }

  std::string value_text(const Channel& channel, double state) const {
    return readable(from_space(channel.space, state)) + (channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
  }

  /// A stop that is left before the motion that leads there has come near it.
  void check_stops() {
    const SequenceCourse& course = preview_.course;
    for (std::size_t k = 0; k < sequence_.stops.size(); ++k) {
      if (sequence_.stops[k].way != SequenceStop::Way::moved) continue;
      const double left = course.leaves[k], begun = k > 0 ? course.leaves[k - 1] : 0.0;
      for (const SequenceCourse::OfChannel& one : course.channels)
        for (std::size_t i = 0; i < most_components; ++i) {
          if (one.way[i] == nullptr || !names(sequence_.stops[k], {one.channel, i})) continue;
          const double goal = one.way[i]->heading_at(left, Side::before);
          const double there = one.way[i]->at(left, Side::before).value, from = one.way[i]->at(begun).value;
          constexpr double settled = 0.02;
          if (std::fabs(there - goal) <= settled * std::fabs(goal - from)) continue;
          const Channel& channel = feel_.channels[one.channel];
          warn("stop_not_reached",
               fmt::format("{} leaves stop {} with {} at {}, still on its way to {}", sequence_.name, k + 1,
                           component_name(channel, i), value_text(channel, there), value_text(channel, goal)));
        }
    }
  }

  static bool names(const SequenceStop& stop, ComponentRef component) {
    return std::any_of(stop.goals.begin(), stop.goals.end(), [&](const PoseGoal& goal) {
      return goal.channel == component.channel && goal.value[component.component].rule != GoalRule::none;
    });
  }

  /// A speed that jumps where the view comes to a stop, unless it cuts there.
  void check_turns() {
    double fastest = 0.0;
    for (const LegSummary& one : preview_.legs) fastest = std::max(fastest, one.leg.top_speed);
    constexpr double felt = 0.2;
    for (const LegSummary& one : preview_.legs) {
      const std::size_t k = one.leg.to - 1;
      const bool cuts = sequence_.stops[k].way == SequenceStop::Way::cut
                        || (k + 1 < sequence_.stops.size() && sequence_.stops[k + 1].way == SequenceStop::Way::cut
                            && sequence_.stops[k].hold == 0.0);
      if (cuts || one.leg.speed_jump <= felt * fastest) continue;
      const std::string& unit = feel_.channels[*sequence_.along].unit;
      warn("snap_at_stop",
           fmt::format("the speed of {} jumps by {} {}/s where it comes to stop {}, {} s after it begins",
                       sequence_.name, readable(one.leg.speed_jump), printable(unit, 16), one.leg.to,
                       readable(one.leg.start + one.leg.duration)));
    }
  }

  /// A channel that is given back by a cut jumps home.
  void check_end() {
    if (sequence_.stays || sequence_.repeat == 0) return;
    for (const PoseGoal& led : sequence_.led) {
      const Channel& channel = feel_.channels[led.channel];
      const MotionChoices& choices = led.leaving ? *led.leaving : channel.motion;
      for (const SequenceCourse::OfChannel& one : preview_.course.channels) {
        for (std::size_t i = 0; i < channel.components && one.channel == led.channel; ++i) {
          if (one.way[i] == nullptr || has_moving_home(channel)) continue;
          const double last = one.way[i]->at(preview_.course.total(), Side::before).value;
          const double home = to_space(channel.space, starting_base(channel, i));
          const auto& motion = feel_.motions[last > home ? choices[i].falling : choices[i].rising].motion;
          if (!std::holds_alternative<Cut>(motion) || std::fabs(last - home) < 1e-9) continue;
          warn("snap_at_end", fmt::format("{} jumps from {} to {} when {} gives it back, because it has no motion",
                                          component_name(channel, i), value_text(channel, last),
                                          value_text(channel, home), sequence_.name));
        }
      }
    }
  }

  static bool has_moving_home(const Channel& channel) {
    return channel.follow || channel.realign || channel.is_placed || has_formula(channel);
  }

  /// Gone through again it jumps from its last stop to its first, unless they are one place.
  void check_again() {
    if (sequence_.repeat == 1 || sequence_.there_and_back) return;
    for (const SequenceCourse::OfChannel& one : preview_.course.channels)
      for (std::size_t i = 0; i < most_components; ++i) {
        if (one.way[i] == nullptr) continue;
        const double last = one.way[i]->at(preview_.course.total(), Side::before).value;
        const double first = one.way[i]->at(preview_.course.arrives.front()).value;
        if (std::fabs(last - first) <= 1e-9 * std::max(1.0, std::fabs(first))) continue;
        const Channel& channel = feel_.channels[one.channel];
        return warn("snap_at_stop",
                    fmt::format("{} jumps from {} to {} each time that {} begins again", component_name(channel, i),
                                value_text(channel, last), value_text(channel, first), sequence_.name));
      }
  }

  /// Close by what it looks at the view whirls round.
  void check_looking() {
    if (!preview_.nearest) return;
    constexpr double close = 0.15;
    if (preview_.nearest->distance > close * preview_.nearest->usual) return;
    warn("passes_look_point",
         fmt::format("{} passes what it looks at by {} ({} s after it begins; {} is usual), so the view whirls round",
                     sequence_.name, readable(preview_.nearest->distance), readable(preview_.nearest->time),
                     readable(preview_.nearest->usual)));
  }

  const Feel& feel_;
  const Sequence& sequence_;
  std::size_t index_;
  std::vector<Warning>& out_;
  SequencePreview preview_;
};

} // namespace

void warn_of_sequences(const Feel& feel, std::vector<Warning>& out) {
  for (std::size_t s = 0; s < feel.sequences.size(); ++s) SequenceCheck(feel, s, out).check();
}

} // namespace stasis
