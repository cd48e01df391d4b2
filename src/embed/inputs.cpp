// stasis.h: what hands do.
#include <limits>

#include "embed/handles.hpp"

namespace stasis::embed {
namespace {

/// Of an input that comes just now.
constexpr double just_now = std::numeric_limits<double>::infinity();

bool has(int index, std::size_t count) noexcept { return index >= 0 && static_cast<std::size_t>(index) < count; }

void give(stasis_session* session, Cue cue) noexcept {
  guarded([&] { return session->played->give(std::move(cue)), 0; }, 0);
}

void act_on_control(stasis_session* session, int control, CueAction action, double amount, int button = 0) noexcept {
  if (session == nullptr || !has(control, session->played->feel().controls.size())) return;
  const auto index = static_cast<std::size_t>(control);
  const std::size_t buttons = session->played->feel().controls[index].buttons.size();
  if (button != 0 && !has(button, buttons)) return;
  Cue cue;
  cue.at = just_now;
  cue.action = action;
  cue.control = index;
  cue.button = static_cast<std::size_t>(button);
  cue.amount = amount;
  give(session, std::move(cue));
}

/// True if the control is moved by that kind of input: another one would mean nothing to it.
bool is_moved_by(const stasis_session* session, int control, CueAction action) noexcept {
  if (session == nullptr || !has(control, session->played->feel().controls.size())) return false;
  return facts_of(session->played->feel().controls[static_cast<std::size_t>(control)]).moved_by == action;
}

bool has_buttons(const stasis_session* session, int control) noexcept {
  return is_moved_by(session, control, CueAction::press) || is_moved_by(session, control, CueAction::click);
}

} // namespace
} // namespace stasis::embed

using namespace stasis;
using namespace stasis::embed;

void stasis_press(stasis_session* session, int control, int button) {
  if (has_buttons(session, control)) act_on_control(session, control, CueAction::press, 1.0, button);
}
void stasis_release(stasis_session* session, int control, int button) {
  if (has_buttons(session, control)) act_on_control(session, control, CueAction::release, 1.0, button);
}
void stasis_cancel(stasis_session* session, int control) {
  if (has_buttons(session, control)) act_on_control(session, control, CueAction::cancel, 1.0);
}
void stasis_click(stasis_session* session, int control, int count) {
  constexpr int most = 10'000;
  if (count < -most || count > most || !is_moved_by(session, control, CueAction::click)) return;
  act_on_control(session, control, CueAction::click, count);
}
void stasis_pointer(stasis_session* session, int control, double counts) {
  constexpr double most = 1e9;
  if (!(counts >= -most && counts <= most) || !is_moved_by(session, control, CueAction::pointer)) return;
  act_on_control(session, control, CueAction::pointer, counts);
}
void stasis_stick(stasis_session* session, int control, double deflection) {
  if (!(deflection >= -1.0 && deflection <= 1.0) || !is_moved_by(session, control, CueAction::stick)) return;
  act_on_control(session, control, CueAction::stick, deflection);
}
void stasis_lock(stasis_session* session, int control, int locked) {
  act_on_control(session, control, locked != 0 ? CueAction::lock : CueAction::unlock, 1.0);
}

void stasis_hit(stasis_session* session, int shake, double strength) {
  constexpr double most = 1e6;
  if (session == nullptr || !has(shake, session->played->feel().shakes.size()) || !(strength > 0.0 && strength <= most))
    return;
  Cue cue;
  cue.at = just_now;
  cue.action = CueAction::hit;
  cue.shake = static_cast<std::size_t>(shake);
  cue.amount = strength;
  give(session, std::move(cue));
}

namespace {

void act_on_sequence(stasis_session* session, int sequence, CueAction action) {
  if (session == nullptr || !has(sequence, session->played->feel().sequences.size())) return;
  Cue cue;
  cue.at = just_now;
  cue.action = action;
  cue.sequence = static_cast<std::size_t>(sequence);
  give(session, std::move(cue));
}

} // namespace

void stasis_start(stasis_session* session, int sequence) { act_on_sequence(session, sequence, CueAction::start); }
void stasis_skip(stasis_session* session, int sequence) { act_on_sequence(session, sequence, CueAction::skip); }

void stasis_game_speed(stasis_session* session, double speed, double over) {
  constexpr double most = 100.0, longest = 86'400.0;
  if (session == nullptr || !(speed >= 0.0 && speed <= most) || !(over >= 0.0 && over <= longest)) return;
  guarded([&] { return session->played->change_game_speed(speed, over), 0; }, 0);
}

void stasis_goal(stasis_session* session, int channel, int component, double value) {
  if (session == nullptr || !has(channel, session->played->feel().channels.size())) return;
  const Channel& moved = session->played->feel().channels[static_cast<std::size_t>(channel)];
  if (!has(component, moved.components)) return;
  const auto index = static_cast<std::size_t>(component);
  if (!(value >= moved.range[index].low && value <= moved.range[index].high)) return;
  Cue cue;
  cue.at = just_now;
  cue.action = CueAction::goal;
  cue.goals = {{{static_cast<std::size_t>(channel), index}, value}};
  give(session, std::move(cue));
}

void stasis_follow(stasis_session* session, int channel, int track) {
  if (session == nullptr || !has(channel, session->played->feel().channels.size())
      || !has(track, session->played->feel().tracks.size()))
    return;
  const Feel& feel = session->played->feel();
  const Channel& follower = feel.channels[static_cast<std::size_t>(channel)];
  const auto index = static_cast<std::size_t>(track);
  if (!follower.follow || feel.tracks[index].components < follower.components) return;
  Cue cue;
  cue.at = just_now;
  cue.action = CueAction::follow;
  cue.tracks = {{static_cast<std::size_t>(channel), index}};
  give(session, std::move(cue));
}

void stasis_place(stasis_session* session, int track, double x, double y, double z) {
  constexpr double most = 1e9;
  if (session == nullptr || !has(track, session->played->feel().tracks.size())) return;
  for (const double number : {x, y, z})
    if (!(number >= -most && number <= most)) return;
  session->played->place(static_cast<std::size_t>(track), {x, y, z});
}
