// What happens on each frame, and what is read of the values.
#include <algorithm>
#include <iterator>

#include "code/lowering.hpp"
#include "code/parts.hpp"
#include "core/feel/goal_source.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis::code {
namespace {

/// The motion of a value by the pose that owns it, the one before, and whether it goes down.
void lower_choices(Lowering& to) {
  to.add("/// The motion of a value, by the pose that sends it (-1: home), the one before, and its direction.");
  to.add("whole motion_for(whole c, whole owner, whole before, flag falls) {{");
  const auto chosen = [&](const MotionChoice& one) {
    const auto name = [&](std::size_t m) { return "MOTION_" + to.capitals(to.motion_names[m]); };
    return one.rising == one.falling ? name(one.rising)
                                     : fmt::format("choose(falls, {}, {})", name(one.falling), name(one.rising));
  };
  for (const ComponentRef one : to.components) {
    std::string body;
    for (const Pose& pose : to.feel.poses)
      for (const PoseGoal& goal : pose.goals) {
        if (goal.channel != one.channel) continue;
        const std::string named = "POSE_" + to.capitals(identifier(pose.name));
        if (goal.entering)
          body += fmt::format("if (owner == {}) {{ return {}; }} ", named, chosen((*goal.entering)[one.component]));
        if (goal.leaving)
          body += fmt::format("if (owner < 0 && before == {}) {{ return {}; }} ", named,
                              chosen((*goal.leaving)[one.component]));
      }
    for (const Sequence& sequence : to.feel.sequences)
      for (const PoseGoal& led : sequence.led)
        if (led.channel == one.channel && led.leaving)
          body += fmt::format("if (owner < 0 && before == SEQUENCE_{}) {{ return {}; }} ",
                              to.capitals(identifier(sequence.name)), chosen((*led.leaving)[one.component]));
    to.add("  if (c == {}) {{ {}return {}; }}", to.value_name(one), body,
           chosen(channel_of(to, one).motion[one.component]));
  }
  to.add("  return 0;\n}}");
}

bool is_shaken(const Lowering& to, ComponentRef component) {
  return std::any_of(to.out.shakes.begin(), to.out.shakes.end(), [&](std::size_t s) {
    const auto& targets = to.feel.shakes[s].targets;
    return std::any_of(targets.begin(), targets.end(),
                       [&](const ShakeTarget& target) { return target.component == component; });
  });
}

/// A side of the picture that is tied to the other goes with it.
void go_with_tie(Lowering& to, std::size_t channel) {
  const Tie& tie = *to.feel.channels[channel].tie;
  const std::string value = to.value_name({channel, 0}), source = to.value_name({tie.channel, 0});
  to.add("  s.mover[{0}].shown = s.mover[{1}].shown * {2};\n  s.mover[{0}].goal = s.mover[{1}].goal * {2};", value,
         source, literal(tie.times));
}

void lower_getters(Lowering& to) {
  for (std::size_t c = 0; c < to.components.size(); ++c) {
    const std::string name = component_identifier(to.feel, to.components[c]);
    const std::string unit = unit_words(channel_of(to, to.components[c]));
    to.add("/// {} now{}.", component_name(channel_of(to, to.components[c]), to.components[c].component),
           unit.empty() ? "" : ", " + unit);
    const std::string free =
        fmt::format("s.mover[VALUE_{0}].shown{1}", to.capitals(name),
                    is_shaken(to, to.components[c]) ? fmt::format(" + shaken(s, VALUE_{})", to.capitals(name)) : "");
    if (const auto& cell = channel_of(to, to.components[c]).snap) {
      to.add("open real value_of_{}(State s) {{ return on_grid({}, {}); }}", name, free, literal(*cell));
      to.add(
          "/// What its grid leaves over.\nopen real remainder_of_{0}(State s) {{ return {1} - on_grid({1}, {2}); }}",
          name, free, literal(*cell));
    } else {
      to.add("open real value_of_{}(State s) {{ return {}; }}", name, free);
    }
    to.add("/// Where it is heading.");
    to.add("open real goal_of_{}(State s) {{ return s.mover[VALUE_{}].goal; }}", name, to.capitals(name));
  }
}

/// The values of a channel, by name.
template<class Say> void each_value(Lowering& to, std::size_t channel, const Say& say) {
  for (std::size_t i = 0; i < to.feel.channels[channel].components; ++i)
    say(to.value_name({channel, i}), to.feel.channels[channel].formula[i].has_value());
}

/// A value that goes after a subject begins where that sends it, unless it is to begin at rest.
void begin_after(Lowering& to, std::size_t channel) {
  if (!goes_after(to, channel)) return;
  const Channel& declared = to.feel.channels[channel];
  const std::string name = identifier(declared.name);
  if (declared.realign) to.add("  s.last_touch_{0} = 0.0;\n  s.was_held_{0} = false;\n  s.turns_{0} = false;", name);
  if (declared.follow)
    to.add("  s.is_centred_{0} = false;\n  s.has_begun_{0} = false;\n  s.goes_{0} = false;\n  s.told_{0} = -1;", name);
  if (!declared.follow && !declared.is_placed) return;
  to.add("  look_after_{}(s);", name);
  if (declared.follow && (declared.follow->starts_at_rest || declared.follow->only_in_poses)) return;
  each_value(to, channel, [&](const std::string& value, bool) {
    to.add("  rest_at(s, {0}, held(s.home[{0}], lowest({0}), highest({0})));", value);
  });
}

/// Values whose homes come from others begin where those send them.
void begin_in_order(Lowering& to) {
  for (const std::size_t channel : channel_order(to.feel)) {
    begin_after(to, channel);
    if (to.feel.channels[channel].tie) go_with_tie(to, channel);
    if (to.has_formula[channel] != 0)
      each_value(to, channel, [&](const std::string& value, bool has_formula) {
        if (has_formula)
          to.add("  s.home[{0}] = number_or(home_by_formula(s, {0}, 0.0), s.home[{0}]);\n  rest_at(s, {0}, "
                 "held(s.home[{0}], "
                 "lowest({0}), highest({0})));",
                 value);
      });
  }
}

void lower_begin(Lowering& to) {
  to.add("/// Every value at rest, at its start.\nact begin_values(changing State s) {{\n  rest_everywhere(s);");
  begin_in_order(to);
  if (has_limits(to.feel)) {
    to.add("}}\n/// Eyes that are placed begin where they are put.\nact begin_seats(changing State s) {{");
    for (const std::size_t channel : channel_order(to.feel))
      if (to.feel.channels[channel].is_placed) begin_after(to, channel);
  }
  if (!to.out.given.empty()) {
    to.add("}}\n/// Before the first frame: what reads a value that has been put elsewhere begins again.\nact "
           "begin_again(changing State s) {{\n  if (s.frame > 0) {{ return; }}");
    begin_in_order(to);
  }
  to.add(
      "}}\n/// Everything at rest, at its start. Call it once before anything else.\nopen act begin(changing State s) "
      "{{");
  if (!to.out.tracks.empty()) to.add("  begin_subjects(s);");
  to.add("  begin_values(s);\n}}");
}

bool by_amount(const Motion& motion) {
  const auto* rule = std::get_if<PerFrame>(&motion);
  return rule != nullptr && std::holds_alternative<AmountRule>(rule->rule);
}
bool by_waiting_pace(const Motion& motion) { return by_pace(motion) && wait_of(motion) > 0.0; }

/// True if one pace may move all values of a channel behind a delay.
bool waits_together(const Lowering& to, std::size_t channel) {
  return goes_together(to.feel, channel, by_waiting_pace);
}

/// "(s, FIRST, COUNT": the values of a channel as arguments.
std::string values_of(const Lowering& to, std::size_t channel) {
  return fmt::format("(s, {}, {}", to.value_name({channel, 0}), to.feel.channels[channel].components);
}

void set_off(Lowering& to, std::size_t channel) {
  if (goes_together(to.feel, channel, by_pace))
    to.add("  set_off_together{});", values_of(to, channel));
  else
    each_value(to, channel, [&](const std::string& value, bool) { to.add("  set_off_if_begun(s, {});", value); });
}

/// True if nothing but inputs changes what is wished of a channel, and none of its moves waits for anything: its goals
/// are read on frames on which something was heard.
bool is_asked_by_inputs_alone(const Lowering& to, std::size_t channel) {
  const Channel& declared = to.feel.channels[channel];
  if (may_run(to.feel, channel) || goes_after(to, channel) || to.has_formula[channel] != 0 || declared.obstacles
      || declared.tie || declared.motion_times_channel || !to.feel.sequences.empty() || !to.out.given.empty())
    return false;
  const std::vector<std::size_t> motions = motions_of(to.feel, channel);
  return std::all_of(motions.begin(), motions.end(), [&](std::size_t m) {
    const Motion& motion = to.feel.motions[m].motion;
    const Ease* ease = ease_of(motion);
    return wait_of(motion) == 0.0
           && (ease == nullptr || (!ease->there_and_back && ease->handover != Handover::finish_first));
  });
}

/// True if nothing but its motion moves a value between two inputs: it goes on by a function of its own.
bool goes_on_by_itself(const Lowering& to, std::size_t channel) {
  return is_asked_by_inputs_alone(to, channel) && !works_in_axes(to, channel)
         && !goes_together(to.feel, channel, by_amount);
}

/// The step of a value by whichever of its motions it has.
std::string step_by_any(const Lowering& to, ComponentRef value) {
  std::string text;
  const std::vector<std::size_t> motions = motions_of(to.feel, value);
  for (const std::size_t m : motions) {
    const bool is_last = m == motions.back();
    const std::string& name = to.motion_names[m];
    if (!text.empty()) text += " else ";
    if (!is_last) text += fmt::format("if (m.motion == MOTION_{}) ", to.capitals(name));
    const std::string step = fmt::format("step_by_{}(m, dt);", name);
    text += is_last && motions.size() == 1 ? step : fmt::format("{{ {} }}", step);
  }
  return text;
}

/// `go_on_with_NAME(m, dt)` of values that go on by themselves.
void lower_going_on(Lowering& to) {
  for (const ComponentRef one : to.components) {
    if (!goes_on_by_itself(to, one.channel)) continue;
    const Channel& channel = channel_of(to, one);
    to.add("/// {} goes on for `dt` seconds.\nact go_on_with_{}(changing Mover m, real dt) {{\n  m.from_at = "
           "m.acting_at;\n  {}",
           component_name(channel, one.component), component_identifier(to.feel, one), step_by_any(to, one));
    std::string shown = scale_text(channel, "m.value").out;
    // There and back again through another scale, a goal is missed by a rounding.
    if (shown != "m.value") {
      to.add("  real shown = {};\n  if (m.value == m.acting_at) {{ shown = m.acting; }}", shown);
      shown = "shown";
    }
    const ComponentRange range = goal_range(channel, one.component);
    const bool is_free = channel.space.space == Space::turn || (range.low == -unbounded && range.high == unbounded);
    if (!is_free) shown = fmt::format("held({1}, lowest_shown({0}), highest_shown({0}))", to.value_name(one), shown);
    to.add("  m.shown = {};\n}}", shown);
  }
}

/// Reads the goals of channels that only inputs move, where there was one.
void read_what_was_heard(Lowering& to, const std::vector<std::size_t>& channels) {
  if (channels.empty()) return;
  to.add("  if (s.heard) {{");
  for (const std::size_t channel : channels) {
    each_value(to, channel, [&](const std::string& value, bool) { to.add("  read_goal(s, {});", value); });
    set_off(to, channel);
  }
  to.add("  s.heard = false;\n  }}");
}

/// A channel goes on to the end of the frame.
void go_on_with(Lowering& to, std::size_t channel) {
  if (to.feel.channels[channel].tie) {
    go_with_tie(to, channel);
    return;
  }
  if (goes_after(to, channel)) to.add("  go_after_{}(s, dt);", identifier(to.feel.channels[channel].name));
  const char* const step = step_by(to.feel.channels[channel].runs_on);
  if (goes_on_by_itself(to, channel)) {
    for (std::size_t i = 0; i < to.feel.channels[channel].components; ++i)
      to.add("  go_on_with_{}(s.mover[{}], {});", component_identifier(to.feel, {channel, i}),
             to.value_name({channel, i}), step);
    return;
  }
  if (works_in_axes(to, channel)) {
    to.add("  move_along_axes_of_{}(s, {});", identifier(to.feel.channels[channel].name), step);
    return;
  }
  each_value(to, channel, [&](const std::string& value, bool has_formula) {
    if (has_formula && to.has_formula[channel] != 0)
      to.add("  s.next_home[{0}] = number_or(home_by_formula(s, {0}, time_then), s.home[{0}]);\n  s.runs_home[{0}] = "
             "true;",
             value);
    if (to.feel.channels[channel].obstacles)
      to.add("  move_within_room(s, {}, {});", value, step);
    else if (!goes_together(to.feel, channel, by_amount) && !waits_together(to, channel))
      to.add("  move_on(s, {}, {});", value, step);
  });
  if (goes_together(to.feel, channel, by_amount))
    to.add("  move_together{}, {});", values_of(to, channel), step);
  else if (waits_together(to, channel))
    to.add("  move_on_together{}, {});", values_of(to, channel), step);
}

void lower_advance(Lowering& to) {
  to.add("/// Goes on to the next frame, `dt` seconds later. What was pressed since the last call acts from this frame "
         "on.");
  to.add("open act advance(changing State s, real dt) {{\n  repeat_clicks(s, {}, true);\n  look_at_switches(s);\n  "
         "read_gains(s);",
         time_by(has_clock(to.feel) ? RunsOn::clock : RunsOn::game));
  const std::vector<std::size_t> order = channel_order(to.feel);
  std::vector<std::size_t> heard;
  std::copy_if(order.begin(), order.end(), std::back_inserter(heard),
               [&](std::size_t channel) { return is_asked_by_inputs_alone(to, channel); });
  read_what_was_heard(to, heard);
  for (const std::size_t channel : order) {
    if (to.feel.channels[channel].tie || std::find(heard.begin(), heard.end(), channel) != heard.end()) continue;
    if (goes_after(to, channel)) to.add("  look_after_{}(s);", identifier(to.feel.channels[channel].name));
    if (waits_together(to, channel)) to.add("  take_due_before{});", values_of(to, channel));
    each_value(to, channel, [&](const std::string& value, bool has_formula) {
      if (has_formula && to.has_formula[channel] != 0)
        to.add("  s.home[{0}] = number_or(home_by_formula(s, {0}, s.time), s.home[{0}]);", value);
      if (const auto& times = to.feel.channels[channel].motion_times_channel)
        to.add("  real times_of_{0} = s.mover[{1}].shown;\n  slow_down(s.mover[{2}], times_of_{0});", identifier(value),
               to.value_name(*times), value);
      to.add("  read_goal(s, {});", value);
    });
    set_off(to, channel);
  }
  if (has_clock(to.feel)) to.add("  if (!s.clock_told) {{ s.clock_step = dt; }}");
  to.add("  run_sticks(s, dt);\n  real time_then = s.time + dt;");
  if (!to.out.tracks.empty()) to.add("  subjects_go_on(s, dt);");
  for (const std::size_t channel : order) go_on_with(to, channel);
  to.add("  for k = 0 below {} {{ s.touched[k] = false; }}\n  pass_time(s, dt);\n}}",
         std::max<std::size_t>(1, to.feel.controls.size()));
}

/// The call that gives a channel another subject.
void lower_following(Lowering& to) {
  if (!has_cue(to.feel, CueAction::follow) || to.out.tracks.empty()) return;
  to.add("/// From now on a value goes after another subject, and so do all of its channel.\nopen act "
         "follow_track(changing State s, whole c, whole subject) {{");
  for (std::size_t channel = 0; channel < to.feel.channels.size(); ++channel)
    if (to.feel.channels[channel].follow && goes_after(to, channel))
      each_value(to, channel, [&](const std::string& value, bool) {
        to.add("  if (c == {}) {{ s.told_{} = subject; }}", value, identifier(to.feel.channels[channel].name));
      });
  to.add("}}");
}

/// The longest wait of the motions of a channel, s, behind which a goal may run.
double longest_wait_of(const Feel& feel, std::size_t channel) {
  double wait = 0.0;
  for (const std::size_t m : motions_of(feel, channel)) {
    const Motion& motion = feel.motions[m].motion;
    // Alone, an eased or paced move that waits is made for goals that jump.
    if (may_run(feel, channel) || (ease_of(motion) == nullptr && pace_of(motion) == nullptr))
      wait = std::max(wait, wait_of(motion));
  }
  return wait;
}

/// Which values' goals run behind a delay, and how long that is at most.
void lower_waits(Lowering& to) {
  double longest = 0.0;
  to.add("/// True if a value's goal may run by itself behind a delay, so that its way is kept.\nflag keeps_way(whole "
         "c) {{");
  for (const ComponentRef one : to.components) {
    longest = std::max(longest, longest_wait_of(to.feel, one.channel));
    if (keeps_way(to, one.channel)) to.add("  if (c == {}) {{ return true; }}", to.value_name(one));
  }
  to.add("  return false;\n}}\nreal longest_wait() {{ return {}; }}", literal(longest));
}

} // namespace

bool by_pace(const Motion& motion) { return pace_of(motion) != nullptr; }

bool goes_together(const Feel& feel, std::size_t channel, bool (*is)(const Motion&)) {
  if (feel.channels[channel].components == 1) return false;
  const std::vector<std::size_t> motions = motions_of(feel, channel);
  return std::any_of(motions.begin(), motions.end(), [&](std::size_t m) { return is(feel.motions[m].motion); });
}

bool keeps_way(const Lowering& to, std::size_t channel) {
  const bool is_given = std::find(to.out.given.begin(), to.out.given.end(), channel) != to.out.given.end();
  return (is_given || may_run(to.feel, channel)) && longest_wait_of(to.feel, channel) > 0.0;
}

void lower_frame(Lowering& to) {
  lower_choices(to);
  lower_waits(to);
  to.out.text += values_part();
  to.out.text += frame_part();
  to.out.text += rooms_part();
  lower_tracks(to);
  lower_begin(to);
  lower_going_on(to);
  lower_advance(to);
  if (!to.out.tracks.empty()) to.out.text += track_calls_part();
  if (to.out.reads_facing) to.out.text += face_part();
  if (to.out.reads_throttle) to.out.text += throttle_part();
  if (!to.out.given.empty()) to.out.text += given_part();
  lower_following(to);
  if (has_limits(to.feel)) to.out.text += limits_part();
  if (has_clock(to.feel)) to.out.text += clocks_part();
  if (!to.feel.sequences.empty()) to.out.text += leads_part();
  lower_getters(to);
}

} // namespace stasis::code
