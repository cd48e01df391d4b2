// What can look wrong with channels that follow, and with grids.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/check/ill_motion.hpp"
#include "core/check/warning.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

void add_about(std::vector<Warning>& out, std::string code, const std::string& about, std::string message,
               std::string take = {}) {
  out.push_back({std::move(code), about, std::move(take), std::move(message), {}});
}

/// \returns true if the track is a recording that does not say which way its subject looks.
bool is_without_heading(const Track& track) {
  const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track.path);
  return recorded != nullptr && (*recorded)->facing.size() == 0;
}

void warn_of_lead(const Feel& feel, const Channel& channel, std::vector<Warning>& out) {
  const Lead& lead = channel.follow->lead;
  const Track& track = feel.tracks[channel.follow->track];
  if (lead.by == Lead::By::forward_speed && lead.amount != 0.0 && is_without_heading(track))
    add_about(out, "lead_without_heading", channel.name,
              fmt::format("{} looks ahead by the forward speed of {}, which does not say which way it faces: all of "
                          "its speed counts as forward, even sideways and backwards",
                          channel.name, track.name));
  if (lead.by == Lead::By::velocity && lead.amount != 0.0 && !lead.motion && std::isinf(lead.longest))
    add_about(out, "raw_lead", channel.name,
              fmt::format("{} looks {} s ahead by velocity, without a limit and without a motion", channel.name,
                          concise(lead.amount)));
}

void warn_of_grid(const Feel& feel, const Channel& channel, std::vector<Warning>& out) {
  const Picture& picture = feel.picture;
  if (!picture.coarse || !picture.height_channel) return;
  const double cell = feel.channels[*picture.height_channel].rest[0] / (*picture.coarse)[1];
  if (std::fabs(*channel.snap - cell) <= 1e-9 * cell) return;
  add_about(out, "cell_of_grid", channel.name,
            fmt::format("{} snaps to {}, but a pixel of the {} x {} picture is {} at rest", channel.name,
                        concise(*channel.snap, 6), (*picture.coarse)[0], (*picture.coarse)[1], concise(cell, 6)));
}

void warn_of_scale(const Picture& picture, std::vector<Warning>& out) {
  if (!picture.coarse) return;
  const double across = static_cast<double>(picture.width) / (*picture.coarse)[0],
               down = static_cast<double>(picture.height) / (*picture.coarse)[1];
  if (across == std::floor(across) && across == down) return;
  add_about(out, "scale_not_whole", "picture",
            fmt::format("the {} x {} picture is enlarged {} times across and {} times down", (*picture.coarse)[0],
                        (*picture.coarse)[1], concise(across, 4), concise(down, 4)));
}

/// True of an eye in space whose goal is the very place of a track: a recorded camera is no subject of its own picture.
bool goes_the_eyes_way(const Feel& feel, std::size_t channel) {
  const Channel& eye = feel.channels[channel];
  return feel.picture.position == channel && eye.components == 3 && length_of(eye.follow->offset) == 0.0;
}

/// A subject on a tick that is held, a camera that comes before it.
void warn_of_ticks(const Channel& channel, const Take& take, const ChannelSummary& measured,
                   std::vector<Warning>& out) {
  const FollowSummary& follow = measured.follow;
  const double worst = std::max(follow.judder_subject.value_or(0.0), follow.judder_picture.value_or(0.0));
  constexpr double rounding = 1e-9;
  if (take.tick.rate > 0.0 && !take.tick.blends && worst > rounding * measured.path.top_speed.value)
    add_about(
        out, "tick_judder", channel.name,
        fmt::format("{} follows a subject on a held tick of {} Hz at {} frames a second; the picture jerks by {} {}",
                    channel.name, concise(take.tick.rate), concise(take.fps), readable(worst),
                    printable(channel.unit, 16)),
        take.name);
  if (take.tick.order == Tick::Order::camera_first)
    add_about(out, "camera_first", channel.name,
              fmt::format("{} sees its subject {} ms late", channel.name, readable(1e3 / take.fps)), take.name);
}

} // namespace

void warn_of_following(const Feel& feel, std::vector<Warning>& out) {
  for (const Channel& channel : feel.channels) {
    if (channel.snap) warn_of_grid(feel, channel, out);
    if (!channel.follow) continue;
    warn_of_lead(feel, channel, out);
    for (const auto& track : {std::optional(channel.follow->track), channel.follow->second})
      if (track && feel.tracks[*track].in == TrackPlace::about_camera)
        add_about(out, "goal_feeds_back", channel.name,
                  fmt::format("{} follows {}, which lies in the picture about {} itself", channel.name,
                              feel.tracks[*track].name, channel.name));
  }
  warn_of_scale(feel.picture, out);
}

void warn_of_following(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    if (!channel.follow) continue;
    const FollowSummary& follow = measures.channels[c].follow;
    const Track& track = feel.tracks[played_track(take, channel.follow->track)];
    const bool is_eye = goes_the_eyes_way(feel, c);
    const bool is_ill = std::any_of(
        channel.motion.begin(), channel.motion.begin() + static_cast<std::ptrdiff_t>(channel.components),
        [&](const MotionChoice& choice) { return is_known_not_to_end(feel.motions[choice.rising].motion); });
    if (!is_eye && !is_ill && follow.time_outside_picture.value_or(0.0) > 0.0)
      add_about(
          out, "out_of_picture", channel.name,
          fmt::format("what {0} follows is out of the picture for {1} s, farthest at {3} s ({2} % from the middle; "
                      "100 is the edge)",
                      channel.name, readable(*follow.time_outside_picture),
                      readable(follow.framing_error.value_or(100.0)), readable(follow.worst_framing_at)),
          take.name);
    if (!is_eye && follow.inside_time.value_or(0.0) > 0.0)
      add_about(out, "inside_subject", channel.name,
                fmt::format("the eye is inside what {} follows for {} s, {} {} deep", channel.name,
                            readable(*follow.inside_time), readable(-follow.nearest.value_or(0.0)),
                            printable(channel.unit, 16)),
                take.name);
    warn_of_ticks(channel, take, measures.channels[c], out);
    const TrackSpan span = span_of(track);
    if (span.first > instant_slack || span.last < take.length - instant_slack)
      add_about(out, "track_lost", track.name,
                fmt::format("{} is there from {} s to {} s of the {} s; outside that {}", track.name,
                            concise(span.first, 6), concise(span.last, 6), concise(take.length, 6),
                            track.lost == LostRule::base ? channel.name + " goes home" : "it stays where it was"),
                take.name);
  }
}

} // namespace stasis
