// Subjects that a program is told about, and what goes after them: following with lead, blend and dead zone, turning
// back to a heading, an eye that is placed. The same as core/take/follower and core/take/realigner do at frames.
#include "code/lower_tracks.hpp"

#include <algorithm>
#include <cmath>
#include <set>
#include <utility>

#include "code/parts.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis::code {
std::vector<std::pair<std::size_t, std::size_t>> tracks_in_poses(const Feel& feel, std::size_t channel) {
  std::vector<std::pair<std::size_t, std::size_t>> all;
  for (std::size_t p = 0; p < feel.poses.size(); ++p)
    for (const PoseGoal& goal : feel.poses[p].goals)
      if (goal.channel == channel && goal.track) all.emplace_back(p, *goal.track);
  return all;
}

bool reads_view(const Follow& follow) {
  return follow.offset_frame == AxisFrame::view || (follow.zone && follow.zone->measure != DeadZone::Measure::units);
}

std::vector<std::size_t> tracks_in_cues(const Feel& feel, std::size_t channel) {
  std::set<std::size_t> all;
  for (const Take& take : feel.takes)
    for (const Cue& cue : take.cues)
      for (const CueTrack& one : cue.tracks)
        if (one.channel == channel) all.insert(one.track);
  return {all.begin(), all.end()};
}

std::string track_name(const Lowering& to, std::size_t track) {
  return "TRACK_" + to.capitals(identifier(to.feel.tracks[track].name));
}

std::string of_subject(const Lowering& to, std::size_t track, std::string_view what) {
  return fmt::format("s.subject[{}].{}", track_name(to, track), what);
}

std::string seat_angle(const Lowering& to, const std::optional<std::size_t>& role) {
  if (!role) return "0.0";
  const auto unit = find_unit(to.feel.channels[*role].unit);
  const double per_unit = unit ? radians(convert(1.0, *unit, *find_unit("deg"))) : 1.0;
  return fmt::format("s.mover[{}].shown * {}", to.value_name({*role, 0}), literal(per_unit));
}

namespace {

/// True if the lead's own motion is one that steps after a goal that runs.
bool is_plain_lead(const Feel& feel, const Lead& lead) {
  if (!lead.motion) return true;
  const Motion& motion = feel.motions[*lead.motion].motion;
  const bool has_head = ease_of(motion) != nullptr || pace_of(motion) != nullptr;
  return !has_head && wait_of(motion) == 0.0 && !std::holds_alternative<PerFrame>(motion);
}

/// Every track that a channel may go after.
std::vector<std::size_t> tracks_of_follower(const Feel& feel, std::size_t channel) {
  const Follow& follow = *feel.channels[channel].follow;
  std::vector<std::size_t> all;
  if (!follow.only_in_poses) all.push_back(follow.track);
  if (follow.second) all.push_back(*follow.second);
  for (const auto& [pose, track] : tracks_in_poses(feel, channel)) all.push_back(track);
  for (const std::size_t track : tracks_in_cues(feel, channel)) all.push_back(track);
  return all;
}

/// True if the view by which what is followed is framed is one that is written: flat, or turned by yaw, pitch and roll
/// about what is looked at, as that of a placed eye is from its seat.
bool is_view_written(const Feel& feel) {
  const Picture& picture = feel.picture;
  const bool is_seated = !picture.position || feel.channels[*picture.position].is_placed;
  return picture.is_flat() || (is_seated && picture.focus && picture.distance && picture.lens_channel);
}

/// True if all motions of a channel may work along axes that turn: they have a value and a speed only, and never wait.
bool is_plain_in_axes(const Feel& feel, std::size_t channel) {
  const std::vector<std::size_t> motions = motions_of(feel, channel);
  return std::all_of(motions.begin(), motions.end(), [&](std::size_t m) {
    const Motion& motion = feel.motions[m].motion;
    return std::holds_alternative<Cut>(motion) || std::holds_alternative<Glide>(motion)
           || std::holds_alternative<Spring>(motion);
  });
}

bool is_followed_at_frames(const Feel& feel, std::size_t channel) {
  const Follow& follow = *feel.channels[channel].follow;
  const std::vector<std::size_t> tracks = tracks_of_follower(feel, channel);
  return !tracks.empty()
         && std::all_of(tracks.begin(), tracks.end(),
                        [&](std::size_t t) {
                          return is_told(feel, t)
                                 && feel.tracks[t].components == feel.tracks[tracks.front()].components;
                        })
         && (follow.damping_frame == AxisFrame::world || is_plain_in_axes(feel, channel))
         && is_plain_lead(feel, follow.lead)
         && ((!reads_view(follow) && follow.damping_frame != AxisFrame::view) || is_view_written(feel));
}

/// The functions of a channel that turns back to a heading when it has not been touched for a while.
void write_realign(Lowering& to, std::size_t channel) {
  const Channel& declared = to.feel.channels[channel];
  const Realign& rule = *declared.realign;
  const std::string name = identifier(declared.name), value = to.value_name({channel, 0});
  std::string held = "false", touched = "false";
  for (std::size_t k = 0; k < to.feel.controls.size(); ++k) {
    const Control& control = to.feel.controls[k];
    const ComponentRef* target = target_of(control);
    if (target == nullptr || target->channel != channel || !facts_of(control).base_runs()) continue;
    const std::string named = "CONTROL_" + to.capitals(identifier(control.name));
    if (facts_of(control).held_by == HeldBy::state)
      held += fmt::format(" || s.deflection[{}] != 0.0", named);
    else
      touched += fmt::format(" || s.touched[{}]", named);
  }
  using To = Realign::To;
  const double per_degree = declared.space.units_per_turn / 360.0;
  const auto subject = [&](const char* what) { return of_subject(to, rule.track, what); };
  to.add("/// Where {} turns back to, if anywhere: else where its home is.", in_comment(declared.name));
  to.add("real heading_for_{}(State s, real home) {{", name);
  if (rule.to == To::heading) {
    to.add("  return {};\n}}", literal(rule.heading));
  } else {
    to.add("  real speed = sqrt({0} * {0} + {1} * {1} + {2} * {2});", subject("velocity[0]"), subject("velocity[1]"),
           subject("velocity[2]"));
    to.add("  if (speed < {}) {{ return home; }}", literal(rule.least_speed));
    if (rule.to == To::velocity) to.add("  if (speed == 0.0) {{ return home; }}");
    const std::string degrees = rule.to == To::facing ? subject("facing")
                                : rule.to == To::travel
                                    ? subject("travel")
                                    : fmt::format("heading_of(s.subject[{0}], {0})", track_name(to, rule.track));
    to.add("  return {} * {} + {};\n}}", degrees, literal(per_degree),
           rule.heading < 0.0 ? "(" + literal(rule.heading) + ")" : literal(rule.heading));
  }
  to.add("act look_after_{}(changing State s) {{\n  flag held_now = {};\n  flag touched_now = {};", name, held,
         touched);
  to.add("  if (held_now || s.was_held_{0} || touched_now) {{ s.last_touch_{0} = s.time; }}\n  s.was_held_{0} = "
         "held_now;\n  s.turns_{0} = !held_now && !touched_now && s.time >= s.last_touch_{0} + {1} - {2};\n  if "
         "(s.turns_{0}) {{ s.home[{3}] = heading_for_{0}(s, s.home[{3}]); }}\n}}",
         name, literal(rule.wait), literal(instant_slack), value);
  to.add("act go_after_{0}(changing State s, real dt) {{\n  if (s.turns_{0} && !s.runs_home[{1}]) {{\n    "
         "s.next_home[{1}] = heading_for_{0}(s, s.home[{1}]);\n    s.runs_home[{1}] = true;\n  }}\n}}",
         name, value);
}

/// The functions of a channel that is where focus, distance and angles put the eye.
void write_seat(Lowering& to, std::size_t channel) {
  const Picture& picture = to.feel.picture;
  const std::string name = identifier(to.feel.channels[channel].name);
  const auto shown = [&](std::size_t role, std::size_t i) {
    return fmt::format("s.mover[{}].shown", to.value_name({role, i}));
  };
  to.add(
      "/// Where the eye's own place is.\nreal seat_of_{}(State s, whole i) {{\n  real yaw = {};\n  real pitch = {};",
      name, seat_angle(to, picture.yaw), seat_angle(to, picture.pitch));
  const std::string side = picture.side ? shown(*picture.side, 0) : "0.0", far = shown(*picture.distance, 0);
  const auto focus = [&](std::size_t i) { return picture.focus ? shown(*picture.focus, i) : std::string("0.0"); };
  to.add("  if (i == 0) {{ return {} + cos(yaw) * {} + sin(yaw) * cos(pitch) * {}; }}", focus(0), side, far);
  to.add("  if (i == 1) {{ return {} - sin(pitch) * {}; }}", focus(1), far);
  to.add("  return {} - sin(yaw) * {} + cos(yaw) * cos(pitch) * {};\n}}", focus(2), side, far);
  to.add("act look_after_{}(changing State s) {{", name);
  for (std::size_t i = 0; i < most_components; ++i)
    to.add("  s.home[{}] = seat_of_{}(s, {});", to.value_name({channel, i}), name, i);
  to.add("}}\nact go_after_{}(changing State s, real dt) {{", name);
  for (std::size_t i = 0; i < most_components; ++i)
    to.add("  s.next_home[{0}] = seat_of_{1}(s, {2});\n  s.runs_home[{0}] = true;", to.value_name({channel, i}), name,
           i);
  to.add("}}");
}

} // namespace

bool is_told(const Feel& feel, std::size_t track) {
  return feel.tracks[track].in == TrackPlace::world && feel.tracks[track].lost != LostRule::base;
}

bool is_followed(const Feel& feel, std::size_t channel) {
  const Channel& declared = feel.channels[channel];
  if (declared.follow && !is_followed_at_frames(feel, channel)) return false;
  if (declared.realign && declared.realign->to != Realign::To::heading && !is_told(feel, declared.realign->track))
    return false;
  return true;
}

bool goes_after(const Lowering& to, std::size_t channel) { return to.follows[channel] != 0; }

bool works_in_axes(const Lowering& to, std::size_t channel) {
  const auto& follow = to.feel.channels[channel].follow;
  return goes_after(to, channel) && follow && follow->damping_frame != AxisFrame::world;
}

void note_tracks(Lowering& to) {
  std::set<std::size_t> read;
  const auto note = [&](bool& what, bool is_read) { what = what || is_read; };
  for (std::size_t c = 0; c < to.feel.channels.size(); ++c) {
    const Channel& channel = to.feel.channels[c];
    if (goes_after(to, c) && channel.follow) {
      const Follow& follow = *channel.follow;
      const std::vector<std::size_t> followed = tracks_of_follower(to.feel, c);
      read.insert(followed.begin(), followed.end());
      const bool leads_ahead = follow.lead.by == Lead::By::forward_speed || follow.lead.by == Lead::By::throttle;
      note(to.out.reads_facing,
           leads_ahead || follow.offset_frame == AxisFrame::subject || follow.damping_frame == AxisFrame::subject);
      note(to.out.reads_throttle, follow.lead.by == Lead::By::throttle && !follow.lead.stick);
    }
    if (goes_after(to, c) && channel.realign && channel.realign->to != Realign::To::heading) {
      read.insert(channel.realign->track);
      note(to.out.reads_facing, channel.realign->to == Realign::To::facing);
    }
    if (to.has_formula[c] == 0) continue;
    for (const auto& formula : channel.formula) {
      if (!formula) continue;
      for (const std::size_t number : formula->variables()) {
        const FormulaVariable& variable = to.feel.variables[number];
        if (variable.kind != FormulaVariable::Kind::track) continue;
        read.insert(variable.track);
        note(to.out.reads_facing, variable.field == TrackField::heading);
        note(to.out.reads_throttle, variable.field == TrackField::throttle);
      }
    }
  }
  for (const Shake& shake : to.feel.shakes)
    if (const auto* stride = std::get_if<StrideWave>(&shake.wave);
        stride != nullptr && !shake.muted && is_told(to.feel, stride->track))
      read.insert(stride->track);
  to.out.tracks.assign(read.begin(), read.end());
}

void lower_track_constants(Lowering& to) {
  if (to.out.tracks.empty()) return;
  to.heading("Subjects.");
  for (std::size_t k = 0; k < to.out.tracks.size(); ++k)
    to.add("constant whole {} = {};", track_name(to, to.out.tracks[k]), k);
  to.add("constant whole TRACKS = {};", to.out.tracks.size());
}

void lower_track_fields(Lowering& to) {
  if (!to.out.tracks.empty()) to.add("  Subject[{}] subject; /// where each is, and how it goes", to.out.tracks.size());
  for (std::size_t c = 0; c < to.feel.channels.size(); ++c) {
    if (!goes_after(to, c)) continue;
    const Channel& channel = to.feel.channels[c];
    const std::string name = identifier(channel.name);
    if (channel.realign)
      to.add("  real last_touch_{0}; /// s: when it was turned by hand last\n  flag was_held_{0}; /// a stick turned "
             "it\n  flag turns_{0}; /// it turns back by itself",
             name);
    if (!channel.follow) continue;
    to.add(
        "  real[{1}] aim_of_{0}; /// where what it follows sends it\n  real[{1}] centre_of_{0}; /// of its dead "
        "zone\n  flag is_centred_{0}; /// there is one\n  Mover[{1}] lead_of_{0}; /// its lead\n  flag has_begun_{0}; "
        "/// it has one\n  whole told_{0}; /// which subject it has been told to go after; -1: none\n  whole "
        "active_{0}; /// which subject it goes after\n  flag goes_{0}; /// it goes after "
        "one\n  real[{1}] own_home_of_{0}; /// where its home is meanwhile",
        name, channel.components);
    if (works_in_axes(to, c))
      to.add("  real[{}] axes_of_{}; /// along which it moves: each axis' parts",
             channel.components * channel.components, name);
  }
}

void lower_tracks(Lowering& to) {
  if (!to.out.tracks.empty()) {
    to.out.text += directions_part();
    to.add("/// Which way a subject travels, degrees: in space 0 looks along -z and turns left, in a plane 0 is to the "
           "right.\nreal heading_of(Subject one, whole subject) {{");
    for (const std::size_t t : to.out.tracks)
      if (to.feel.tracks[t].components < most_components)
        to.add("  if (subject == {}) {{ return angle_of_direction(one.velocity[1], one.velocity[0]) * {}; }}",
               track_name(to, t), literal(degrees(1.0)));
    to.add("  return angle_of_direction(-one.velocity[0], -one.velocity[2]) * {};\n}}", literal(degrees(1.0)));
    to.out.text += tracks_part();
  }
  to.add(
      "/// A lead that is there from the start.\nact rest_lead(changing Mover m, real value) {{\n  m.value = value;\n  "
      "m.speed = 0.0;\n  m.acting_at = value;\n  m.from_at = value;\n  m.step_dt = -1.0;\n  for k = 0 below 6 {{\n    "
      "m.link[k] = value;\n    m.link_speed[k] = 0.0;\n  }}\n}}");
  for (std::size_t c = 0; c < to.feel.channels.size(); ++c) {
    if (!goes_after(to, c)) continue;
    const Channel& channel = to.feel.channels[c];
    if (channel.follow)
      lower_follow(to, c);
    else if (channel.realign)
      write_realign(to, c);
    else if (channel.is_placed)
      write_seat(to, c);
  }
}

} // namespace stasis::code
