#include "core/check/warning.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/check/ill_motion.hpp"
#include "core/measure/move.hpp"
#include "core/motion/spring_design.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr std::array kinds{
    WarningKind{"unused_pose", "No control leads to this pose, so it is never seen.",
                "Give it a control, or remove it."},
    WarningKind{"unused_motion", "Nothing moves by this motion; often a channel names another one by mistake.",
                "Name it where you meant it, or remove it."},
    WarningKind{"unused_setting", "No value refers to this setting, so it changes nothing for the player.",
                "Refer to it with { setting = \"NAME\" }, or remove it."},
    WarningKind{"held_at_limit", "The range holds the value where its motion would go further, so it stops dead there.",
                "Widen the range, move the goal inside it, or damp the motion so that it does not overshoot."},
    WarningKind{"goal_outside_range", "A pose asks for a value outside the range; the value never gets there.",
                "Widen the range or change the pose."},
    WarningKind{"goal_outside_space",
                "A goal lies where the channel's space has no values (ratio: 0 and below; zoom: 0, and from half a "
                "turn), so the value goes to the nearest that it has.",
                "Give the channel a range, or a space that has such values."},
    WarningKind{"unsettled", "The take ends while the value is still on its way, so nobody knows how it settles.",
                "Make the take longer, or the motion quicker."},
    WarningKind{"unlikely_time",
                "A motion this quick or slow usually has a wrong unit: milliseconds for seconds, or the reverse.",
                "Check the unit; a text such as \"120 ms\" has its own."},
    WarningKind{"start_kick",
                "The value is at full speed at once, which you feel as a kick; a smooth move starts softly.",
                "Use a spring, or a curve that starts level (ease-in-out, in-out sine)."},
    WarningKind{"never_settles", "A spring without damping swings forever.", "Give it a damping ratio above 0."},
    WarningKind{
        "settling_jump",
        "A peak only just touches the settle band, so a small change of the ratio makes the settling time jump.",
        "Choose a ratio a few per cent away if the settling time matters."},
    WarningKind{"short_of_goal", "The curve does not end at 1, so the value never reaches its goal.",
                "End the curve at 1, or silence this with a reason."},
    WarningKind{"side_not_stored", "If the side is read from the moving value, a press half-way picks the wrong side.",
                "Use side = \"stored\"; `stasis stress` shows the difference."},
    WarningKind{"step_every_frame", "A step on each frame runs away, at another speed on each machine.",
                "Use repeat_every, or count presses only."},
    WarningKind{"double_by_repeat", "A held key repeats by itself; a repeat is not a second press.",
                "Leave repeats_double out; then only presses and clicks count."},
    WarningKind{"counts_times_time", "A pointer's counts are an amount, not a speed.", "Leave times_frame_time out."},
    WarningKind{"opposed_without_group",
                "These two holds oppose each other, and both can be down at once; nothing says which one should win.",
                "Put them into a [group.NAME] with the policy that you want."},
    WarningKind{"switch_without_gap",
                "With one threshold for both ways, a value that trembles there switches the view back and forth.",
                "Make it leave at another value than it enters, farther away than the value trembles."},
    WarningKind{"switch_never_leaves",
                "The switch's own pose keeps the value past its threshold, so the switch never goes off again.",
                "Take that channel out of the pose, or let the pose send it past the threshold at which it leaves."},
    WarningKind{"switch_flips", "A view that changes back and forth within half a second flickers.",
                "Put the two thresholds farther apart, or watch a channel that trembles less."},
    WarningKind{"unused_sequence", "Nothing begins this sequence, so it is never seen.",
                "Give it a cue { at = 1, start = \"NAME\" } or a control of kind \"sequence\"."},
    WarningKind{"stop_not_reached", "The view moves on before it reaches the stop.",
                "Give the stop more time or a hold, or a quicker motion."},
    WarningKind{"snap_at_stop", "A jump of speed or value on the way looks like a mistake, unless it is a cut.",
                "Use a curve that ends level (in-out sine), fly through, or write cut = true."},
    WarningKind{"snap_at_end", "The channel has no motion, so it jumps when the view is given back.",
                "Give the sequence leaving = a spring or an ease, or on_end = \"stay\"."},
    WarningKind{"passes_look_point",
                "The view passes so near to what it looks at that it whirls round, however slowly it goes.",
                "Fly past at a greater distance, or look elsewhere there."},
    WarningKind{"press_without_effect", "Presses do nothing to a stick or a pointer.",
                "Use { stick = \"NAME\", value = 1 } or { pointer = \"NAME\", counts = 100 }."},
    WarningKind{"unlikely_recording", "Rows so far apart, or so close together, usually have a wrong unit.",
                "Give the track the right time_unit."},
    WarningKind{"subject_teleports",
                "A jump of the subject counts as motion here, and throws the view across the scene.",
                "Give the track cut_beyond, a little less than the jump."},
    WarningKind{"lead_without_heading",
                "Without a heading all speed counts as forward speed, so the lead swings about.",
                "Give the track a column heading, or lead by velocity with `longest` and a motion."},
    WarningKind{"stretched_picture",
                "Width and height of the flat view do not fit together, so the picture is stretched.",
                "Give the width a range wide enough for that of the height, and shake the view's position rather than "
                "its size."},
    WarningKind{"width_not_kept", "The range stops the distance before the subject has the size that it should keep.",
                "Widen the range of the distance, or narrow that of the lens."},
    WarningKind{"goal_feeds_back",
                "A pointer that is placed in the camera's own picture moves with the camera. So the camera's motion "
                "comes back as its goal, one frame later, and differently at another frame rate.",
                "Place the pointer about the subject: in = \"about_subject\"."},
    WarningKind{"raw_lead",
                "A lead by velocity, without `longest` and without a motion, throws the view about whenever the "
                "subject starts, stops or turns round.",
                "Give the lead a `longest` and a motion, or lead by forward_speed or throttle."},
    WarningKind{"out_of_picture", "The subject leaves the picture.",
                "Shorten the lead, quicken the motion, or give the dead zone in = \"margin\"."},
    WarningKind{"inside_subject", "The eye comes inside the subject's outline.",
                "Keep more distance, or raise the lowest value of the distance's range."},
    WarningKind{"track_lost", "The track has no row for a part of the take.",
                "Say with `lost` what should happen, or move the track with begins_at."},
    WarningKind{"tick_judder", "Frames that show only the latest tick of a subject show it, or the world, in jerks.",
                "Show places between ticks (between = \"blend\"); `stasis rates` tries every order."},
    WarningKind{"camera_first", "A camera that is stepped before its subject sees it one frame late.",
                "Step the camera last, or allow for the lag."},
    WarningKind{"cell_of_grid", "The grid is not that of the low-resolution picture, so pixels still crawl.",
                "Make the cell the visible height over the rows of the coarse picture."},
    WarningKind{"scale_not_whole",
                "The low-resolution picture is not enlarged by a whole number, so its pixels have different sizes.",
                "Choose a coarse size that goes into the picture's size a whole number of times."},
    WarningKind{"through_obstacle", "The view is on the far side of a wall, or inside it, for some frames.",
                "Use a faster motion inward (motion = { rising = .., falling = .. }), a larger stand_off, or "
                "never_through = true."},
    WarningKind{"on_the_surface", "A view that sits exactly on a surface flickers between its two sides.",
                "Give the channel's obstacles a stand_off."},
    WarningKind{"room_below_range", "The nearest distance that the range allows lies beyond the obstacle.",
                "Lower the range's lowest value, or keep the subject farther from what it passes."},
    WarningKind{"unseen_clicks", "Clicks seem dead while a wall holds the view; once it is gone, the view leaps.",
                "Give the control clicks_from = \"view\"."},
    WarningKind{"shake_folds", "A rattle faster than half the frame rate looks like another, slower one.",
                "Lower the frequency; 95 % of noise lies below 1.67 times its frequency."},
    WarningKind{"shake_cut", "The shake is cut off while it can still be felt.",
                "Cut it later, or let it die away faster."},
    WarningKind{"shake_latest", "A small hit wipes out a big one.", "Use stack = \"largest\", or \"sum\" with a cap."},
    WarningKind{"shake_per_frame", "A rule that acts once a frame gives another shake at another frame rate.",
                "Use a decay by half_life, and the wave noise or jitter; `stasis explain` gives the equivalent."},
    WarningKind{"shake_grows", "The strength is counted down and not stopped at zero, so below zero it grows again.",
                "Leave runs_below_zero out, or use a decay by time."},
    WarningKind{"shake_beyond_margin",
                "The picture is shaken farther than what is drawn beyond its edges, so the edges show.",
                "Draw more, or shake less."},
    WarningKind{"shake_out_of_range", "The shake takes the value out of its range.",
                "Leave room for it, or silence this with a reason."},
    WarningKind{"uncomfortable_roll", "The camera rolls farther than [picture] says is comfortable.",
                "Shake the roll less, or by a higher frequency for a shorter time."},
    WarningKind{"uncomfortable_motion",
                "Everything together turns or moves the camera faster than [picture] says is comfortable. Or, if "
                "[picture] gives no limit, a sequence turns it by more than 360 deg/s.",
                "Slow down whatever moves at that time: a pose, a stick, what is followed, a shake, a leg."},
    WarningKind{"per_frame", "A rule that acts once a frame gives another motion at another frame rate.",
                "Use the exact equivalent; `stasis rates` shows the difference, and with --write puts it in."},
    WarningKind{"per_frame_unstable",
                "At low frame rates, or in a stall, the rule overshoots its goal or runs away from it.",
                "Use the exact equivalent: it does neither, at any frame rate."},
    WarningKind{"carry_from_steep", "The curve starts at a speed of its own, which a carried speed cannot join.",
                "Choose a curve that starts level for handover = \"carry\"."},
};

Warning warning(std::string_view code, std::string about, std::string message, std::string take = {}) {
  return {std::string(code), std::move(about), std::move(take), std::move(message), {}};
}

bool is_used(const Feel& feel, const std::string& motion) {
  const auto in = [&](const MotionChoices& choices, std::size_t components) {
    for (std::size_t i = 0; i < components; ++i)
      for (const std::size_t index : {choices[i].rising, choices[i].falling})
        if (feel.motions[index].name == motion) return true;
    return false;
  };
  for (const Channel& channel : feel.channels) {
    if (in(channel.motion, channel.components)) return true;
    if (channel.follow && channel.follow->lead.motion && feel.motions[*channel.follow->lead.motion].name == motion)
      return true;
  }
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      for (const auto& choices : {goal.entering, goal.leaving})
        if (choices && in(*choices, feel.channels[goal.channel].components)) return true;
  const auto in_goals = [&](const std::vector<PoseGoal>& goals, const std::optional<MotionChoices> PoseGoal::*choices) {
    return std::any_of(goals.begin(), goals.end(), [&](const PoseGoal& goal) {
      return goal.*choices && in(*(goal.*choices), feel.channels[goal.channel].components);
    });
  };
  for (const Sequence& sequence : feel.sequences) {
    if (in_goals(sequence.led, &PoseGoal::leaving)) return true;
    for (const SequenceStop& stop : sequence.stops)
      if (in_goals(stop.goals, &PoseGoal::entering)) return true;
  }
  return std::find(feel.used_names.begin(), feel.used_names.end(), motion) != feel.used_names.end();
}

bool is_known_not_to_end(const Feel& feel, const Move& move) {
  const std::size_t components = feel.channels[move.channel].components;
  return std::any_of(move.motion.begin(), move.motion.begin() + static_cast<std::ptrdiff_t>(components),
                     [&](std::size_t motion) { return is_known_not_to_end(feel.motions[motion].motion); });
}

/// True if a channel is moved by a spring that swings forever, as far beyond each goal as it came from.
bool swings_beyond(const Feel& feel, const TakeMeasures& measures, std::size_t channel) {
  return std::any_of(measures.moves.begin(), measures.moves.end(), [&](const Move& move) {
    return move.channel == channel
           && std::any_of(move.motion.begin(),
                          move.motion.begin() + static_cast<std::ptrdiff_t>(feel.channels[channel].components),
                          [&](std::size_t motion) { return swings_forever(feel.motions[motion].motion); });
  });
}

void check_motion(const NamedMotion& named, std::vector<Warning>& out) {
  if (const auto time = unlikely_time(named.motion))
    out.push_back(warning("unlikely_time", named.name,
                          fmt::format("the motion {} has a time of {} s", named.name, readable(*time))));
  if (const auto* spring = std::get_if<Spring>(&named.motion)) {
    if (swings_forever(named.motion))
      out.push_back(warning("never_settles", named.name, fmt::format("the spring {} has ratio 0", named.name)));
    if (const auto jump = settling_jump(spring->damping_ratio, default_settle_share))
      out.push_back(warning(
          "settling_jump", named.name,
          fmt::format(
              "the ratio of the spring {}, {}, is within 1 % of {}, where its settling time jumps from {} s to {} s",
              named.name, concise(spring->damping_ratio, 4), readable(jump->damping_ratio, 4),
              readable(jump->below / spring->angular_frequency), readable(jump->above / spring->angular_frequency))));
  }
  if (const auto end = other_end(named.motion))
    out.push_back(
        warning("short_of_goal", named.name,
                fmt::format("the curve of {} ends at {} % of the way", named.name, concise(100.0 * *end, 4))));
}

/// True if every motion that moves something in the move is called smooth by its name.
bool is_called_smooth(const Feel& feel, const Move& move) {
  const auto smooth = [](const std::string& name) {
    for (const std::string_view word : {"smooth", "soft", "gentle", "ease"})
      if (name.find(word) != std::string::npos) return true;
    return false;
  };
  for (std::size_t i = 0; i < feel.channels[move.channel].components; ++i)
    if (move.from[i] != move.to[i] && !smooth(feel.motions[move.motion[i]].name)) return false;
  return true;
}

/// A distance that should follow the lens farther than its range goes.
void warn_of_kept_width(const Feel& feel, const Channel& channel, const Take& take, const TakeMeasures& measures,
                        std::vector<Warning>& out) {
  const PathSummary& lens = measures.channels[*feel.picture.lens_channel].path;
  const auto [low, high] = channel.range[0];
  constexpr double rounding = 1e-9;
  for (const Peak& seen : {lens.lowest[0], lens.highest[0]}) {
    const std::vector<double> variables(feel.variables.size(), seen.value); // it reads the lens alone
    const double wished = channel.formula[0]->evaluate(variables);
    if (wished >= low * (1.0 - rounding) && wished <= high * (1.0 + rounding)) continue;
    const std::string unit = channel.unit.empty() ? "" : " " + printable(channel.unit, 16);
    out.push_back(
        warning("width_not_kept", channel.name,
                fmt::format("with the lens at {}, the subject keeps its size at {}{}, but the range of {} ends at {}{}",
                            readable(seen.value), readable(wished), unit, channel.name,
                            concise(wished < low ? low : high), unit),
                take.name));
    return;
  }
}

} // namespace

std::span<const WarningKind> warning_kinds() noexcept { return kinds; }

std::vector<Warning> warnings_of_feel(const Feel& feel) {
  std::vector<Warning> out;
  for (std::size_t p = 0; p < feel.poses.size(); ++p) {
    const bool led_to =
        std::any_of(feel.controls.begin(), feel.controls.end(), [&](const Control& c) { return leads_to(c, p); })
        || std::any_of(feel.switches.begin(), feel.switches.end(), [&](const Switch& s) { return s.pose == p; });
    if (!led_to)
      out.push_back(warning("unused_pose", feel.poses[p].name,
                            fmt::format("no control leads to the pose {}", feel.poses[p].name)));
    for (const PoseGoal& goal : feel.poses[p].goals) {
      const Channel& channel = feel.channels[goal.channel];
      for (std::size_t i = 0; i < channel.components; ++i) {
        const double value = goal.value[i].of(channel.rest[i]);
        if (goal.value[i].rule == GoalRule::none || (value >= channel.range[i].low && value <= channel.range[i].high))
          continue;
        out.push_back(warning("goal_outside_range", channel.name,
                              fmt::format("the pose {} asks for {} {} of {}, whose range is {} to {}",
                                          feel.poses[p].name, concise(value), channel.unit, component_name(channel, i),
                                          concise(channel.range[i].low), concise(channel.range[i].high))));
      }
    }
  }
  std::vector<std::string> seen;
  const bool is_for_others = feel.channels.empty(); // rules that other feels include
  for (const NamedMotion& named : feel.motions) {
    if (!named.written_in_place && !is_for_others && !is_used(feel, named.name))
      out.push_back(warning("unused_motion", named.name, fmt::format("nothing moves by the motion {}", named.name)));
    if (std::find(seen.begin(), seen.end(), named.name) != seen.end()) continue;
    seen.push_back(named.name);
    check_motion(named, out);
  }
  for (const Setting& setting : feel.settings)
    if (!setting.is_used && !is_for_others)
      out.push_back(
          warning("unused_setting", setting.name, fmt::format("no value refers to the setting {}", setting.name)));
  warn_of_frames(feel, out);
  warn_of_controls(feel, out);
  warn_of_switches(feel, out);
  warn_of_sequences(feel, out);
  warn_of_tracks(feel, out);
  warn_of_following(feel, out);
  warn_of_room(feel, out);
  warn_of_shakes(feel, out);
  return out;
}

std::vector<Warning> warnings_of_take(const Feel& feel, const Take& take, const TakeMeasures& measures) {
  std::vector<Warning> out;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    const double held = measures.channels[c].time_at_limit.value_or(0.0);
    if (held > 0.0 && channel.tie)
      out.push_back(warning("stretched_picture", channel.name,
                            fmt::format("the range of {} holds it back for {} s while {} goes on, so the picture is "
                                        "stretched",
                                        channel.name, readable(held), feel.channels[channel.tie->channel].name),
                            take.name));
    else if (const auto& left = measures.channels[c].left_space_at)
      out.push_back(warning("goal_outside_space", channel.name,
                            fmt::format("at {} s {} is asked to go where its space {} has no values", readable(*left),
                                        channel.name, name_of(channel.space.space)),
                            take.name));
    else if (held > 0.0 && !swings_beyond(feel, measures, c))
      out.push_back(warning("held_at_limit", channel.name,
                            fmt::format("the range held {} back for {} s", channel.name, readable(held)), take.name));
    std::optional<double> kick;
    std::string kicker;
    for (const Move& move : measures.moves) {
      if (move.channel != c) continue;
      if (move.start_kick && is_called_smooth(feel, move) && *move.start_kick > kick.value_or(most_smooth_kick)) {
        kick = move.start_kick;
        kicker = motion_name(feel, move);
      }
    }
    if (channel.keeps_width) warn_of_kept_width(feel, channel, take, measures, out);
    if (kick)
      out.push_back(
          warning("start_kick", channel.name,
                  fmt::format("{} starts with a kick of {} by the motion {} (above {}); 0 is soft, a glide has 3.9",
                              channel.name, readable(*kick), kicker, most_smooth_kick),
                  take.name));
    const auto last =
        std::find_if(measures.moves.rbegin(), measures.moves.rend(), [&](const Move& m) { return m.channel == c; });
    if (last != measures.moves.rend() && !last->retargeted && !last->settling_time && !is_there(*last)
        && !is_known_not_to_end(feel, *last))
      out.push_back(
          warning("unsettled", channel.name,
                  std::isnan(*last->remaining)
                      ? channel.name + " has become no number when the take ends"
                      : fmt::format("{} is still {}{} from its goal when the take ends", channel.name,
                                    readable(*last->remaining), channel.unit.empty() ? "" : " " + channel.unit),
                  take.name));
  }
  warn_of_controls(feel, take, out);
  warn_of_switches(feel, take, measures, out);
  warn_of_camera(feel, take, measures, out);
  warn_of_following(feel, take, measures, out);
  warn_of_room(feel, take, measures, out);
  warn_of_shakes(feel, take, measures, out);
  return out;
}

std::vector<std::string_view> warning_codes() {
  std::vector<std::string_view> codes;
  for (const WarningKind& kind : kinds) codes.push_back(kind.code);
  return codes;
}

void apply_silences(const Feel& feel, std::vector<Warning>& warnings) {
  for (const Silenced& silenced : feel.silenced)
    for (Warning& warning : warnings)
      if (warning.code == silenced.code && (silenced.about.empty() || silenced.about == warning.about))
        warning.silenced_because = silenced.reason;
}

} // namespace stasis
