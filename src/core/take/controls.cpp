#include "core/take/controls.hpp"

#include <algorithm>
#include <cmath>
#include <iterator>

#include <fmt/format.h>

#include "core/overloaded.hpp"
#include "core/take/ladder.hpp"

namespace stasis {
namespace {

/// Adds to a cause of moves.
template<class... Values> void tell(std::string& cause, fmt::format_string<Values...> text, Values&&... values) {
  if (!cause.empty()) cause += ", ";
  fmt::format_to(std::back_inserter(cause), text, std::forward<Values>(values)...);
}

} // namespace

Controls::Controls(const Feel& feel, const Clock& clock, Present present)
    : feel_(feel), clock_(clock), present_(std::move(present)), down_(feel.controls.size(), 0),
      each_(feel.controls.size()), base_(feel.channels.size() * most_components), tracks_(feel.channels.size()),
      in_force_(feel.switches.size(), false), flipped_(feel.channels.size() * most_components, nullptr) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (std::size_t i = 0; i < feel.channels[c].components; ++i)
      base_[index_of({c, i})] = starting_base(feel.channels[c], i);
}

void Controls::apply(const Cue& cue, std::int64_t frame, std::string& cause, std::vector<std::string>& notes) {
  last_dt_ = frame > 0 ? clock_.dt(frame - 1) : clock_.usual_dt();
  const bool of_control = acts_on_control(cue.action);
  const Control* const control = of_control ? &feel_.controls[cue.control] : nullptr;
  const auto ignored = [&](std::string_view why) {
    notes.push_back(fmt::format("{} {} at {} s ignored: {}", name_of(cue.action), control->name, cue.at, why));
  };
  switch (cue.action) {
  case CueAction::press:
    if (each_[cue.control].locked) return ignored("it is locked");
    if (!press(cue, frame, notes)) return;
    break;
  case CueAction::release:
  case CueAction::cancel:
    if (!let_go(cue, frame, notes)) return;
    break;
  case CueAction::click:
  case CueAction::pointer:
    if (each_[cue.control].locked) return ignored("it is locked");
    if (is_suppressed(cue.control)) return ignored(fmt::format("{} is on", feel_.controls[*control->unless].name));
    if (cue.action == CueAction::click)
      click(cue.control, static_cast<int>(cue.amount), cue.at);
    else
      count_pointer(cue.control, cue.amount);
    return tell(cause, "{} {} {:+g}", name_of(cue.action), control->name, cue.amount);
  case CueAction::stick:
    if (each_[cue.control].locked) return ignored("it is locked");
    deflect(cue.control, cue.amount);
    return tell(cause, "stick {} {:g}", control->name, cue.amount);
  case CueAction::lock:
    each_[cue.control].deflection = each_[cue.control].remaining = 0.0;
    each_[cue.control].locked = true;
    if (down_[cue.control] != 0) {
      each_[cue.control].buttons = 0;
      come_up(cue.control, cue.at, frame, notes);
    }
    break;
  case CueAction::unlock: each_[cue.control].locked = false; break;
  case CueAction::goal:
    for (const CueGoal& goal : cue.goals) set_base(goal.target, goal.value);
    return tell(cause, "goal");
  case CueAction::hit:
  case CueAction::start:
  case CueAction::skip: return; // a shake and a sequence are no control's; see FramePlayer
  case CueAction::follow:
    for (const CueTrack& one : cue.tracks) tracks_[one.channel] = one.track;
    return tell(cause, "follow {}",
                cue.tracks.empty() ? std::string_view()
                                   : std::string_view(feel_.tracks[cue.tracks.front().track].name));
  }
  tell(cause, "{} {}", name_of(cue.action), control->name);
}

bool Controls::press(const Cue& cue, std::int64_t frame, std::vector<std::string>& notes) {
  Each& each = each_[cue.control];
  const std::uint64_t bit = std::uint64_t{1} << cue.button;
  const bool again = (each.buttons & bit) != 0;
  if (again && facts_of(feel_.controls[cue.control]).held_by != HeldBy::presses) {
    notes.push_back(
        fmt::format("press {} at {} s ignored: it is already down", feel_.controls[cue.control].name, cue.at));
    return false;
  }
  const bool was_up = each.buttons == 0;
  each.buttons |= bit;
  if (!was_up && !again) return false; // another of its buttons holds it already
  go_down(cue.control, cue.at, frame, notes);
  return true;
}

bool Controls::let_go(const Cue& cue, std::int64_t frame, std::vector<std::string>& notes) {
  Each& each = each_[cue.control];
  const std::uint64_t bit = std::uint64_t{1} << cue.button;
  const bool whole = cue.action == CueAction::cancel;
  if (whole ? each.buttons == 0 : (each.buttons & bit) == 0) {
    // A lock has let go of it already; the finger that comes up later is no mistake.
    if (!each.locked)
      notes.push_back(fmt::format("{} {} at {} s ignored: it is already up", name_of(cue.action),
                                  feel_.controls[cue.control].name, cue.at));
    return false;
  }
  each.buttons = whole ? 0 : each.buttons & ~bit;
  if (each.buttons != 0) return false;
  come_up(cue.control, cue.at, frame, notes);
  return true;
}

void Controls::go_down(std::size_t control, double at, std::int64_t frame, std::vector<std::string>& notes) {
  Each& each = each_[control];
  down_[control] = 1;
  each.pressed_at = at;
  each.pressed_frame = frame;
  each.repeats = 0;
  const bool suppressed = is_suppressed(control);
  if (!suppressed) presses_.push_back(control);
  std::visit(Overloaded{
                 [&](const Hold& hold) { enter(control, hold.pose, at, frame); }, // in force once it is free again
                 [&](const Toggle& toggle) {
                   if (suppressed) return;
                   is_on(control) ? leave(control) : enter(control, toggle.pose, at, frame);
                 },
                 [&](const Cycle& cycle) {
                   if (!suppressed) turn(cycle, control, at, frame);
                 },
                 [&](const Mirror& sides) {
                   if (suppressed || mirror(sides)) return;
                   lost_presses_.push_back(control);
                   notes.push_back(fmt::format("press {} at {} s lost: the value had not crossed the centre yet, so "
                                               "its other side was asked for already",
                                               feel_.controls[control].name, at));
                 },
                 [&](const Clicks&) {
                   if (!suppressed) click(control, 1, at);
                 },
                 [](const Pointer&) {}, [](const Stick&) {}, [](const Starter&) {}, // see presses()
             },
             feel_.controls[control].rule);
}

void Controls::come_up(std::size_t control, double at, std::int64_t frame, std::vector<std::string>& notes) {
  down_[control] = 0;
  const Control& one = feel_.controls[control];
  std::visit(Overloaded{
                 [&](const Hold& hold) {
                   if (hold.stays && !is_suppressed(control)) keep_pose(hold.pose);
                   if (each_[control].pressed_frame == frame && !hold.stays)
                     notes.push_back(
                         fmt::format("{} was pressed at {} s and let go at {} s, within one frame: lost at {} fps",
                                     one.name, each_[control].pressed_at, at, clock_.fps));
                   leave(control);
                 },
                 [](const Toggle&) {}, // what acts on presses goes on when the button comes up
                 [](const Cycle&) {},
                 [](const Mirror&) {},
                 [](const Clicks&) {},
                 [](const Pointer&) {},
                 [](const Stick&) {},
                 [](const Starter&) {},
             },
             one.rule);
}

void Controls::enter(std::size_t control, std::size_t pose, double at, std::int64_t frame) {
  leave(control);
  contenders_.push_back({control, pose, frame, at});
}

void Controls::leave(std::size_t control) {
  std::erase_if(contenders_, [&](const Contender& c) { return c.control == control; });
}

void Controls::turn(const Cycle& cycle, std::size_t control, double at, std::int64_t frame) {
  Each& each = each_[control];
  each.turn = each.turn % cycle.poses.size() + 1;
  const std::size_t pose = cycle.poses[each.turn - 1];
  if (pose == Cycle::home)
    leave(control);
  else
    enter(control, pose, at, frame);
}

/// The pose's goals become the base.
void Controls::keep_pose(std::size_t pose) {
  for (const PoseGoal& goal : feel_.poses[pose].goals)
    for (std::size_t i = 0; i < feel_.channels[goal.channel].components; ++i)
      if (goal.value[i].rule != GoalRule::none) {
        const ComponentRef target{goal.channel, i};
        set_base(target, goal.value[i].of(base_[index_of(target)]));
      }
}

bool Controls::mirror(const Mirror& rule) {
  const std::size_t index = index_of(rule.target);
  const double rest = feel_.channels[rule.target.channel].rest[rule.target.component];
  if (rule.rule == SideRule::stored) {
    flipped_[index] = flipped_[index] == nullptr ? &rule : nullptr;
    return true;
  }
  const double now = present_(rule.target);
  if (rule.rule == SideRule::what_is_there) {
    base_[index] = 2.0 * rule.centre - now;
    return true;
  }
  const bool is_above = now > rule.centre, rests_above = rest > rule.centre;
  const Mirror* const side = is_above == rests_above ? &rule : nullptr;
  return std::exchange(flipped_[index], side) != side;
}

/// \param at s, of a click that counts as by hand; nothing for one that repeats while the key is held, which is no
/// second press. \returns true if it ran to the end, as the second of two.
bool Controls::click(std::size_t control, int count, std::optional<double> at) {
  const Clicks& clicks = std::get<Clicks>(feel_.controls[control].rule);
  const Ladder ladder(feel_.channels[clicks.target.channel], clicks);
  Each& each = each_[control];
  const int signed_count = clicks.invert ? -count : count;
  const int way = signed_count < 0 ? -1 : 1;
  const bool doubled = at && each.last_click && clicks.double_within > 0.0 && way == each.last_way
                       && *at - *each.last_click <= clicks.double_within + instant_slack;
  each.last_click = doubled ? std::nullopt : at;
  each.last_way = way;
  const double base = base_[index_of(clicks.target)];
  const double now = clicks.from_view ? held_[index_of(clicks.target)].value_or(base) : base;
  const int rung = doubled ? (way > 0 ? ladder.highest() : ladder.lowest()) : ladder.after(now, signed_count);
  set_base(clicks.target, ladder.value(rung));
  if (base_[index_of(clicks.target)] != base) clicks_made_[clicks.target.channel] += std::abs(count);
  return doubled;
}

void Controls::set_base(ComponentRef target, double value) {
  const auto [low, high] = goal_range(feel_.channels[target.channel], target.component);
  base_[index_of(target)] = std::clamp(value, low, high);
}

void Controls::repeat_until(double time, std::int64_t frame, std::string& cause) {
  for (std::size_t c = 0; c < each_.size(); ++c) {
    const auto* clicks = std::get_if<Clicks>(&feel_.controls[c].rule);
    if (clicks == nullptr || down_[c] == 0 || is_suppressed(c)) continue;
    Each& each = each_[c];
    bool any = false;
    const auto repeat = [&](double at) {
      any = true;
      if (click(c, 1, clicks->repeats_double ? std::optional(at) : std::nullopt)) runs_to_end_.push_back(c);
    };
    if (clicks->every_frame && frame > each.pressed_frame + each.repeats) {
      each.repeats = frame - each.pressed_frame;
      repeat(time);
    }
    while (clicks->repeat_every) {
      const double at = each.pressed_at + static_cast<double>(each.repeats + 1) * *clicks->repeat_every;
      if (at > time + instant_slack) break;
      ++each.repeats;
      repeat(at);
    }
    if (any) tell(cause, "repeat {}", feel_.controls[c].name);
  }
}

std::int64_t Controls::next_event(std::int64_t frame) const {
  std::int64_t next = none;
  for (std::size_t c = 0; c < each_.size(); ++c) {
    const auto* stick = std::get_if<Stick>(&feel_.controls[c].rule);
    if (stick != nullptr && stick->gain_from && runs(c)) next = std::min(next, frame + 1);
    const auto* clicks = std::get_if<Clicks>(&feel_.controls[c].rule);
    if (clicks == nullptr || down_[c] == 0) continue;
    if (clicks->every_frame) next = std::min(next, frame + 1);
    if (clicks->repeat_every) {
      const double at = each_[c].pressed_at + static_cast<double>(each_[c].repeats + 1) * *clicks->repeat_every;
      next = std::min(next, std::max(frame + 1, due_frame(clock_, at)));
    }
  }
  return next;
}

bool Controls::is_on(std::size_t control) const noexcept {
  const auto by_button = [&] { return down_[control] != 0; };
  const auto by_pose = [&] {
    return std::any_of(contenders_.begin(), contenders_.end(),
                       [&](const Contender& c) { return c.control == control; });
  };
  return std::visit(Overloaded{
                        [&](const Hold&) { return by_button(); },
                        [&](const Toggle&) { return by_pose(); },
                        [&](const Cycle&) { return by_pose(); },
                        [&](const Mirror& sides) { return flipped_[index_of(sides.target)] == &sides; },
                        [&](const Clicks&) { return by_button(); },
                        [&](const Pointer&) { return by_button(); },
                        [&](const Stick&) { return each_[control].deflection != 0.0; },
                        [&](const Starter&) { return by_button(); },
                    },
                    feel_.controls[control].rule);
}

double Controls::state(std::size_t control) const noexcept {
  const auto on = [&] { return is_on(control) ? 1.0 : 0.0; };
  return std::visit(
      Overloaded{
          [&](const Hold&) { return on(); },
          [&](const Toggle&) { return on(); },
          [&](const Cycle&) { return on() * static_cast<double>(each_[control].turn); },
          [&](const Mirror& sides) { return flipped_[index_of(sides.target)] != nullptr ? -1.0 : 1.0; },
          [&](const Clicks& clicks) -> double {
            return Ladder(feel_.channels[clicks.target.channel], clicks).at(base_[index_of(clicks.target)]);
          },
          [&](const Pointer&) { return on(); },
          [&](const Stick&) { return each_[control].deflection; },
          [&](const Starter&) { return on(); },
      },
      feel_.controls[control].rule);
}

void Controls::look_at_switches(std::int64_t frame, std::string& cause) {
  for (std::size_t s = 0; s < in_force_.size(); ++s) {
    const Switch& one = feel_.switches[s];
    const double now = present_(one.on);
    const bool enters = one.below ? now < one.enter : now > one.enter;
    const bool leaves = one.below ? now > one.leave : now < one.leave;
    if (in_force_[s] ? !leaves : !enters) continue;
    in_force_[s] = !in_force_[s];
    for (const std::size_t channel : one.keep)
      for (std::size_t i = 0; i < feel_.channels[channel].components; ++i)
        set_base({channel, i}, present_({channel, i}));
    const std::size_t index = feel_.controls.size() + s;
    if (in_force_[s] && one.sequence) begun_.push_back(*one.sequence);
    if (in_force_[s] && one.pose)
      enter(index, *one.pose, clock_.time(frame), frame);
    else
      leave(index);
    tell(cause, "{} {}", in_force_[s] ? "enter" : "leave", one.name);
  }
}

bool Controls::is_suppressed(std::size_t control) const noexcept {
  if (control >= feel_.controls.size()) return false;
  const auto& unless = feel_.controls[control].unless;
  return unless && is_on(*unless);
}

} // namespace stasis
