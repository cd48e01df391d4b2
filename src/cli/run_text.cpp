#include "cli/run_text.hpp"

#include <cmath>

#include <fmt/format.h>

#include "cli/move_table.hpp"
#include "cli/table.hpp"
#include "core/measure/camera_measures.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// "0.75 m", or a dash.
std::string size_text(const std::optional<double>& value, const std::string& unit) {
  return value ? readable(*value) + (unit.empty() ? "" : " " + unit) : "\u2013";
}

/// The way of a channel whose goal moves by itself: how far, how fast, how rough.
std::string way_text(const Channel& channel, const PathSummary& path) {
  const std::string unit = printable(channel.unit, 16);
  std::string out = fmt::format("  {} goes ", channel.name);
  if (path.travelled == 0.0) return fmt::format("  {} stays where it is\n", channel.name);
  // What only rounding keeps from 0 is 0 to a reader.
  constexpr double rounding = 1e-13;
  const auto told = [&](double value) { return readable(std::fabs(value) > rounding * path.travelled ? value : 0.0); };
  for (std::size_t i = 0; i < channel.components; ++i)
    out += fmt::format("{}{} to {}", channel.components > 1 ? fmt::format("{}{} ", i > 0 ? ", " : "", "xyz"[i]) : "",
                       told(path.lowest[i].value), told(path.highest[i].value));
  out +=
      fmt::format("{}, {} in all, at up to {} ({} s)", unit.empty() ? "" : " " + unit, size_text(path.travelled, unit),
                  size_text(path.top_speed.value, unit.empty() ? "/s" : unit + "/s"), readable(path.top_speed.at));
  if (path.top_speed_jump && path.top_speed_jump->value > 0.0)
    out += fmt::format("; its speed jumps by up to {} ({} s)",
                       size_text(path.top_speed_jump->value, unit.empty() ? "/s" : unit + "/s"),
                       readable(path.top_speed_jump->at));
  return out + '\n';
}

/// How a channel keeps up with what it follows: lag, framing, nearness, judder.
std::string follow_text(const Feel& feel, const Take& take, std::size_t index, const FollowSummary& follow) {
  const Channel& channel = feel.channels[index];
  const std::string unit = printable(channel.unit, 16);
  std::string out =
      fmt::format("  {} follows {}: ", channel.name, feel.tracks[played_track(take, channel.follow->track)].name);
  if (!follow.lag_distance) return out + "nothing was there\n";
  out += fmt::format("lags by {} at most ({} s), {} on average", size_text(follow.lag_distance, unit),
                     readable(follow.worst_lag_at), size_text(follow.lag_distance_mean, unit));
  if (follow.lag_time_mean) out += fmt::format(", {} behind", size_text(follow.lag_time_mean, "s"));
  if (follow.lag_distance_steady)
    out += fmt::format("; at steady speed {}, {}", size_text(follow.lag_distance_steady, unit),
                       size_text(follow.lag_time_steady, "s"));
  if (follow.catch_up_time)
    out += fmt::format("; after a jump of its goal it has caught up in {}", size_text(follow.catch_up_time, "s"));
  out += '\n';
  std::vector<std::string> parts;
  if (follow.framing_error)
    parts.push_back(
        fmt::format("subject up to {} from the picture's middle ({} s; 100 % is the edge), out of it for {}",
                    size_text(follow.framing_error, "%"), readable(follow.worst_framing_at),
                    size_text(follow.time_outside_picture, "s")));
  if (follow.edge_distance_pixels && follow.screen_speed)
    parts.push_back(fmt::format("its outline {}, across the picture at up to {}",
                                *follow.edge_distance_pixels < 0.0
                                    ? size_text(-*follow.edge_distance_pixels, "px") + " beyond the edge at most"
                                    : size_text(follow.edge_distance_pixels, "px") + " inside the edge at least",
                                size_text(follow.screen_speed, "px/s")));
  if (follow.time_outside_zone)
    parts.push_back(fmt::format("outside the dead zone for {}", size_text(follow.time_outside_zone, "s")));
  if (follow.nearest)
    parts.push_back(fmt::format(
        "eye to subject {} at least{}", size_text(follow.nearest, unit),
        *follow.inside_time > 0.0 ? fmt::format(", inside it for {}", size_text(follow.inside_time, "s")) : ""));
  if (follow.judder_subject_pixels && follow.judder_picture_pixels)
    parts.push_back(fmt::format("judder {} px of the subject, {} px of the picture",
                                readable(*follow.judder_subject_pixels, 2),
                                readable(*follow.judder_picture_pixels, 2)));
  for (const std::string& part : parts) out += "    " + part + '\n';
  return out;
}

/// How a channel keeps up with a goal that moves by itself, such as a formula's.
std::string trail_text(const Channel& channel, const FollowSummary& follow) {
  // What is where its goal is trails nothing, and of a goal that only jumps the moves tell.
  if (!follow.lag_time_mean || follow.lag_distance.value_or(0.0) == 0.0) return "";
  const std::string unit = printable(channel.unit, 16);
  std::string out = fmt::format("  {} lags behind its goal by {} at most ({} s), {} on average, {} behind",
                                channel.name, size_text(follow.lag_distance, unit), readable(follow.worst_lag_at),
                                size_text(follow.lag_distance_mean, unit), size_text(follow.lag_time_mean, "s"));
  if (follow.catch_up_time)
    out += fmt::format("; after a jump it has caught up in {}", size_text(follow.catch_up_time, "s"));
  return out + '\n';
}

/// How fast the camera as a whole goes and turns, where it does.
std::string camera_text(const Feel& feel, const CameraSummary& camera) {
  std::vector<std::string> parts;
  const auto add = [&](std::string_view does, const std::optional<Peak>& peak, std::string_view name) {
    constexpr double visible = 1e-6;
    if (peak && peak->value > visible)
      parts.push_back(fmt::format("{} {} ({} s)", does,
                                  size_text(peak->value, printable(camera_measure_unit(feel, name), 16)),
                                  readable(peak->at)));
  };
  add("turns at up to", camera.top_turn_speed, "top_turn_speed");
  add("its eye goes at up to", camera.top_eye_speed, "top_eye_speed");
  add("it leans by up to", camera.most_roll, "most_roll");
  if (parts.empty()) return "";
  const std::vector<std::string_view> views(parts.begin(), parts.end());
  return fmt::format("  the camera as a whole {}{}\n", camera.top_turn_speed->value > 1e-6 ? "" : "does not turn; ",
                     listed(views));
}

/// How hard and how long a shake is, and what it does.
std::string shake_text(const Feel& feel, std::size_t index, const ShakeSummary& summary) {
  const Shake& shake = feel.shakes[index];
  std::string out = fmt::format("  shake {}: ", shake.name);
  if (shake.muted) return out + "left out\n";
  if (summary.peak_amplitude == 0.0) return out + "not felt in this take\n";
  if (summary.hits > 0)
    out += fmt::format("{} hit{}, strength up to {}", summary.hits, summary.hits > 1 ? "s" : "",
                       readable(summary.peak_amplitude));
  else
    out += fmt::format("always there, strength up to {}", readable(summary.peak_amplitude));
  if (summary.half_life) out += fmt::format("; half after {}", size_text(summary.half_life, "s"));
  if (summary.quiet_after)
    out += fmt::format(", gone ({} %) {} after the last", concise(100.0 * shake.quiet_below),
                       size_text(summary.quiet_after, "s"));
  if (summary.left_at_cut) out += fmt::format(", cut with {} left", size_text(summary.left_at_cut, "%"));
  if (summary.folded && *summary.folded >= 0.5)
    out += fmt::format("; {} of it is too fast for this frame rate", size_text(summary.folded, "%"));
  out += '\n';
  for (const ShakePart& part : summary.parts) {
    const Channel& channel = feel.channels[part.component.channel];
    const std::string unit = printable(channel.unit, 16);
    if (part.peak == 0.0) continue;
    out += fmt::format("    {}: peak {} at {} s, RMS {}", component_name(channel, part.component.component),
                       size_text(part.peak, unit), readable(part.peak_at), size_text(part.rms, unit));
    if (part.main_frequency) out += fmt::format(", {} on average", size_text(part.main_frequency, "Hz"));
    if (part.speed_rms) out += fmt::format(", {} RMS", size_text(part.speed_rms, unit.empty() ? "/s" : unit + "/s"));
    if (part.margin_pixels) out += fmt::format("; it needs a margin of {}", size_text(part.margin_pixels, "px"));
    out += '\n';
  }
  return out;
}

std::string size_kept_text(const Channel& channel, const ChannelSummary& measured) {
  const FollowSummary& kept = measured.follow;
  const std::string unit = printable(channel.unit, 16);
  return fmt::format("  {} keeps {} across the picture: off by {} at most ({} s), at up to {}\n", channel.name,
                     size_text(channel.keeps_width, unit), size_text(kept.size_error, "%"), concise(kept.worst_size_at),
                     size_text(measured.path.top_speed.value, unit.empty() ? "/s" : unit + "/s"));
}

/// How far the view was through an obstacle, when and how long.
std::string through_text(const Feel& feel, const std::string& unit, const RoomSummary& room) {
  return fmt::format("{} through {} at most ({} s), for {:g} frame{}, {}", size_text(room.penetration, unit),
                     room.worst_obstacle ? feel.obstacles[*room.worst_obstacle].name : "an obstacle",
                     concise(room.worst_penetration_at), *room.penetration_frames,
                     *room.penetration_frames == 1.0 ? "" : "s", size_text(room.penetration_time, "s"));
}

std::string placed_text(const Feel& feel, const Channel& channel, const FollowSummary& placed) {
  const std::string unit = printable(channel.unit, 16);
  std::string out = fmt::format("  {} cuts corners by {} at most", channel.name, size_text(placed.corner_cut, unit));
  if (placed.penetration.value_or(0.0) > 0.0) out += "; " + through_text(feel, unit, placed);
  return out + '\n';
}

/// How obstacles hold a distance in, how far it went through, and how it comes out again.
std::string room_text(const Feel& feel, const Channel& channel, const RoomSummary& room) {
  const std::string unit = printable(channel.unit, 16);
  if (room.held_time == 0.0 && room.penetration == 0.0)
    return fmt::format("  {} is never held in by an obstacle\n", channel.name);
  std::string out = fmt::format("  {} is held in for {}", channel.name, size_text(room.held_time, "s"));
  if (*room.penetration > 0.0)
    out += "; " + through_text(feel, unit, room);
  else
    out += ", never through an obstacle";
  if (room.let_out_speed)
    out += fmt::format("; let out at up to {}", size_text(room.let_out_speed, unit.empty() ? "/s" : unit + "/s"));
  if (room.let_out_time) out += fmt::format(", for {}", size_text(room.let_out_time, "s"));
  out += '\n';
  if (*room.penetration > 0.0 && room.advised_half_life)
    out += fmt::format("    a glide inward with a half-life of {} s or less stays out\n",
                       readable_at_most(*room.advised_half_life));
  return out;
}

/// Where a sequence led the view: leg by leg when, how far and how fast.
std::string sequence_text(const Feel& feel, std::size_t index, const SequenceSummary& summary, const Output& like) {
  const Sequence& sequence = feel.sequences[index];
  const Channel& along = feel.channels[*sequence.along];
  const std::string unit = printable(along.unit, 16);
  std::string out =
      fmt::format("  sequence {}, along {}{}:\n", sequence.name, along.name, summary.skips > 0 ? ", skipped" : "");
  constexpr std::size_t most_legs = 12;
  TextTable table({"leg", "at", "for", "way", "top speed", "top jerk", "turns at up to"},
                  {true, true, true, true, true, true, true});
  const std::size_t told = like.told_of(summary.legs.size(), most_legs);
  for (std::size_t k = 0; k < told; ++k) {
    const auto& [leg, turning] = summary.legs[k];
    table.add({fmt::format("{} to {}", leg.from == 0 ? "there" : fmt::format("{}", leg.from), leg.to),
               readable(leg.start) + " s", readable(leg.duration) + " s", size_text(leg.length, unit),
               size_text(leg.top_speed, unit.empty() ? "/s" : unit + "/s"),
               std::isfinite(leg.top_jerk) ? size_text(leg.top_jerk, unit.empty() ? "/s3" : unit + "/s3") : "no bound",
               size_text(turning, "deg/s")});
  }
  const std::string rows = table.text();
  for (const std::string_view line : split(rows, '\n'))
    if (!line.empty()) out += "  " + std::string(line) + '\n';
  if (summary.legs.size() > told)
    out += fmt::format("    and {} legs more, all in the measures file, or here by --verbose\n",
                       summary.legs.size() - told);
  return out;
}

std::string snap_text(const Channel& channel, const FollowSummary& snap) {
  std::string out = fmt::format("  {} on a grid of {}: remainder {} at most", channel.name,
                                size_text(channel.snap, printable(channel.unit, 16)),
                                size_text(snap.remainder, printable(channel.unit, 16)));
  if (snap.remainder_pixels) out += fmt::format(", {} on the screen", size_text(snap.remainder_pixels, "px"));
  if (snap.judder_snapped_pixels)
    out += fmt::format("; judder {} px as snapped, {} px with the picture shifted by it",
                       readable(*snap.judder_snapped_pixels, 2), readable(*snap.judder_smooth_pixels, 2));
  return out + '\n';
}

/// How the clock of a take is not steady, behind its frame rate.
const char* clock_in_words(const Take& take, const Clock& clock) {
  if (clock.is_steady()) return "";
  Disturbance else_than_speed = take.disturbance;
  else_than_speed.speeds.clear();
  return else_than_speed.any() ? ", disturbed" : ", slowed or quickened";
}

} // namespace

// many: what was played, under which name, and what of it is told
std::string run_text(const std::string& feel_name, const std::string& variant, const Scene& scene,
                     const TakeMeasures& measures, const std::vector<std::string>& only, const Output& like) {
  const Feel& feel = *scene.feel;
  std::string out = fmt::format("{}{}, take {}: {} s, {} frames at {} fps{}\n", printable(feel_name, 80),
                                variant.empty() ? "" : ", variant " + variant, scene.take->name, scene.take->length,
                                scene.clock.frames, scene.clock.fps, clock_in_words(*scene.take, scene.clock));
  out += move_table(feel, measures, only);
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    if (!is_wanted(only, feel.channels[c].name)) continue;
    if (measures.channels[c].goal_ran) out += way_text(feel.channels[c], measures.channels[c].path);
    if (feel.channels[c].follow) out += follow_text(feel, *scene.take, c, measures.channels[c].follow);
    if (!feel.channels[c].follow) out += trail_text(feel.channels[c], measures.channels[c].follow);
    if (feel.channels[c].keeps_width) out += size_kept_text(feel.channels[c], measures.channels[c]);
    if (feel.channels[c].obstacles) out += room_text(feel, feel.channels[c], measures.channels[c].follow);
    if (feel.channels[c].is_placed) out += placed_text(feel, feel.channels[c], measures.channels[c].follow);
    if (feel.channels[c].snap) out += snap_text(feel.channels[c], measures.channels[c].follow);
  }
  for (std::size_t s = 0; s < feel.sequences.size() && only.empty(); ++s)
    if (measures.sequences[s].starts > 0) out += sequence_text(feel, s, measures.sequences[s], like);
  if (only.empty()) out += camera_text(feel, measures.camera);
  for (std::size_t s = 0; s < feel.shakes.size(); ++s)
    if (shakes_wanted(feel, s, only)) out += shake_text(feel, s, measures.shakes[s]);
  constexpr std::size_t most_notes = 12;
  const std::size_t told = like.told_of(measures.notes.size(), most_notes);
  for (std::size_t i = 0; i < told; ++i) out += fmt::format("  note: {}\n", measures.notes[i]);
  if (measures.notes.size() > told)
    out += fmt::format("  note: and {} more, all in the measures file, or here by --verbose\n",
                       measures.notes.size() - told);
  return out;
}

} // namespace stasis::cli
