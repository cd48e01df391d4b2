#include "core/measure/follow_measures.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/take/follower.hpp"
#include "core/take/obstacle_ray.hpp"
#include "core/text.hpp"

namespace stasis {

bool CatchUp::next(bool jumped, double gap) noexcept {
  constexpr double closed = 0.02, well_on = 0.5;
  if (jumped) jump_gap_ = gap;
  const bool over = gap <= closed * jump_gap_ || (gap >= last_gap_ && gap < well_on * jump_gap_);
  if (!jumped && over) jump_gap_ = 0.0;
  last_gap_ = gap;
  return jump_gap_ > 0.0;
}

FollowTracker::FollowTracker(const Scene& scene, std::size_t channel)
    : scene_(scene), feel_(*scene.feel), channel_(feel_.channels[channel]), index_(channel),
      places_camera_(feel_.picture.focus == channel || feel_.picture.position == channel),
      frames_(feel_, channel, scene.clock) {
  if (trails_goal(channel_)) lag_.emplace(scene, channel);
  if (channel_.follow) {
    framing_.emplace(scene_, channel);
    exact_.emplace(feel_.tracks[played_track(*scene_.take, channel_.follow->track)]);
  }
  if (channel_.obstacles) room_.emplace(scene, channel);
  if (channel_.is_placed && feel_.channels[*feel_.picture.distance].obstacles)
    standing_ = standing_obstacles(*feel_.channels[*feel_.picture.distance].obstacles, *scene.take);
  const Tick& tick = scene_.take->tick;
  // Two ticks and two frames on, everything that reads ticks has read two that follow each other.
  if (tick.rate <= 0.0) return;
  under_way_from_ = 2.0 / tick.rate + 2.0 * scene_.clock.usual_dt();
  if (!scene_.clock.is_steady()) return;
  for (JudderMeter* meter : {&subject_, &picture_, &track_}) *meter = JudderMeter(beat_of(scene_.clock.fps, tick.rate));
}

FollowTracker::Frame FollowTracker::frame_at(const Block& block, std::size_t row) {
  Frame frame;
  const ChannelBlock& columns = block.channels[index_];
  frame.jumped = row == 0 && columns.moved;
  for (std::size_t i = 0; i < channel_.components; ++i)
    if (!channel_.follow || channel_.follow->follows(i)) frame.value[i] = columns.component[i].value[row];
  const CameraView view =
      camera_view(feel_, [&](ComponentRef c) { return block.channels[c.channel].component[c.component].value[row]; });
  const auto scale = pixels_per_unit(feel_, view);
  has_scale_ = has_scale_ || scale.has_value();
  frame.scale = scale.value_or(0.0);
  return frame;
}

void FollowTracker::add_judder(const Block& block, std::size_t row, const Frame& frame, double time) {
  const ChannelBlock& columns = block.channels[index_];
  picture_.add(frame.value, time, frame.scale, frame.jumped);
  if (!channel_.follow || columns.track == 0) return;
  Components place{};
  const auto& track = block.tracks[columns.track - 1];
  for (std::size_t i = 0; i < channel_.components; ++i)
    if (channel_.follow->follows(i)) place[i] = track.place[channel_.follow->part.value_or(i)][row];
  if (feel_.tracks[columns.track - 1].in != TrackPlace::world) return;
  track_.add(place, time, frame.scale, frame.jumped);
  subject_.add(plus(place, frame.value, -1.0), time, frame.scale, frame.jumped);
}

void FollowTracker::add_snap(const Block& block, std::size_t row, const Frame& frame, double time) {
  Components left{}, snapped{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    left[i] = block.channels[index_].component[i].remainders[row];
    snapped[i] = block.channels[index_].component[i].value[row];
    keep_largest(sums_.remainder, std::fabs(left[i]));
    if (frame.scale > 0.0) keep_largest(sums_.remainder_pixels, std::fabs(left[i]) * frame.scale);
  }
  snapped_.add(snapped, time, frame.scale, frame.jumped);
  smooth_.add(plus(snapped, left), time, frame.scale, frame.jumped);
}

/// What fits across the picture at the distance, against what should: frame by frame, since both only meet there.
void FollowTracker::add_size(const Block& block, std::size_t row, double time) {
  const CameraView view =
      camera_view(feel_, [&](ComponentRef c) { return block.channels[c.channel].component[c.component].smooth[row]; });
  const double distance = block.channels[index_].component[0].smooth[row];
  if (!view.half_width) return;
  const double error = 100.0 * std::fabs(2.0 * distance * *view.half_width / *channel_.keeps_width - 1.0);
  if (!sums_.size_error || error > *sums_.size_error * (1.0 + 1e-9)) sums_.worst_size_at = time;
  keep_largest(sums_.size_error, error);
}

/// How much nearer a placed eye is than where it is put, since its way there goes straight, not round; and how far it
/// is beyond what holds its distance in.
void FollowTracker::add_seat(const Block& block, std::size_t row, double time) {
  const EyeSeat seat =
      eye_seat(feel_, [&](ComponentRef c) { return block.channels[c.channel].component[c.component].smooth[row]; });
  Components goal{}, eye{};
  for (std::size_t i = 0; i < most_components; ++i) {
    goal[i] = block.channels[index_].component[i].goal_at(row);
    eye[i] = block.channels[index_].component[i].smooth[row];
  }
  keep_largest(sums_.corner_cut,
               std::max(0.0, length_of(plus(goal, seat.pivot, -1.0)) - length_of(plus(eye, seat.pivot, -1.0))));
  const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
  const bool last = frame + 1 == scene_.clock.frames;
  if (!standing_.empty()) add_eye_through(seat.pivot, eye, time, last ? 0.0 : scene_.clock.dt(frame));
}

/// How far the eye is beyond the place at which a ball from what it looks at touches an obstacle, on the way to it.
void FollowTracker::add_eye_through(const Components& pivot, const Components& eye, double time, double dt) {
  for (auto* sum : {&sums_.penetration, &sums_.penetration_time, &sums_.penetration_frames}) *sum = sum->value_or(0.0);
  const Components way = plus(eye, pivot, -1.0);
  const double away = length_of(way);
  if (away == 0.0) return;
  const ObstacleRule& rule = *feel_.channels[*feel_.picture.distance].obstacles;
  Room room;
  for (const std::size_t o : standing_)
    if (const auto hit = hit_of({pivot, scaled(way, 1.0 / away), rule.radius}, feel_.obstacles[o].shape))
      narrow(room, *hit, 0.0, o);
  const double beyond = away - room.hit;
  if (!(beyond > 1e-9 * std::max(1.0, away))) return;
  if (beyond > *sums_.penetration) {
    sums_.worst_penetration_at = time;
    sums_.worst_obstacle = room.obstacle;
  }
  keep_largest(sums_.penetration, beyond);
  *sums_.penetration_frames += 1.0;
  *sums_.penetration_time += dt;
}

void FollowTracker::follow_inside(const Block& block) {
  if (!lag_ || block.first + 1 == scene_.clock.frames) return;
  frames_.enter(block);
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    if (block.first + static_cast<std::int64_t>(row) + 1 == scene_.clock.frames) break;
    const ChannelFrame& inside = frames_.at(row);
    if (!channel_.follow || block.channels[index_].track != 0) lag_->follow(block, row, inside);
  }
}

void FollowTracker::consume(const Block& block, std::span<const std::uint8_t> jumps) {
  if (room_) room_->consume(block);
  follow_inside(block);
  if (framing_) framing_->consume(block, jumps);
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
    if (exact_) {
      exact_->enter(time);
      subject_speed_ = std::max(subject_speed_, length_of(exact_->at(time).velocity));
    }
    const Tick& tick = scene_.take->tick;
    if (tick.rate > 0.0) latest_tick_ = std::max(latest_tick_, time - tick.latest(time) / tick.rate);
    Frame frame = frame_at(block, row);
    const bool goal_jumped = frame.jumped;
    frame.jumped = goal_jumped || jumped_before_ || time < under_way_from_;
    jumped_before_ = goal_jumped;
    add_judder(block, row, frame, time);
    if (channel_.snap) add_snap(block, row, frame, time);
    if (channel_.keeps_width) add_size(block, row, time);
    if (channel_.is_placed) add_seat(block, row, time);
  }
}

FollowSummary FollowTracker::finish() {
  FollowSummary out = sums_;
  // An eye that is placed has penetration of its own.
  if (room_) static_cast<RoomSummary&>(out) = room_->finish();
  if (lag_) static_cast<LagSummary&>(out) = lag_->finish();
  if (framing_) static_cast<FramingSummary&>(out) = framing_->finish();
  out.judder_subject = subject_.in_units();
  out.judder_picture = picture_.in_units();
  out.judder_track = track_.in_units();
  if (has_scale_) {
    out.judder_subject_pixels = subject_.in_pixels();
    out.judder_picture_pixels = picture_.in_pixels();
    out.judder_track_pixels = track_.in_pixels();
    out.judder_snapped_pixels = snapped_.in_pixels();
    out.judder_smooth_pixels = smooth_.in_pixels();
  }
  sums_ = out;
  return out;
}

/// How late the camera sees its subject, by the order in which the two are stepped and by what lies between ticks.
void FollowTracker::add_order_note(std::vector<std::string>& out) const {
  const Tick& tick = scene_.take->tick;
  const auto late = [&](double seconds) {
    return fmt::format("{} ms, {} {} at the subject's fastest, {} {}/s", readable(1e3 * seconds),
                       readable(seconds * subject_speed_), channel_.unit, readable(subject_speed_), channel_.unit);
  };
  if (tick.order == Tick::Order::camera_first)
    out.push_back(fmt::format("{}: the camera is stepped first and sees its subject one frame late: {}", channel_.name,
                              late(scene_.clock.usual_dt())));
  if (tick.rate > 0.0 && tick.blends)
    out.push_back(
        fmt::format("{}: places between two ticks are drawn one tick late: {}", channel_.name, late(1.0 / tick.rate)));
  if (tick.rate > 0.0 && !tick.blends)
    out.push_back(fmt::format("{}: the latest tick is held, so the subject is drawn up to one tick late: {}",
                              channel_.name, late(latest_tick_)));
}

std::vector<std::string> FollowTracker::notes() const {
  std::vector<std::string> out = room_ ? room_->notes() : std::vector<std::string>{};
  if (!channel_.follow) return out;
  add_order_note(out);
  if (!lag_->has_followed())
    out.push_back(
        fmt::format("{}: {}; no lag", channel_.name,
                    lag_->has_seen() ? "it never caught up with what it follows" : "nothing was there to be followed"));
  if (!places_camera_ || channel_.follow->part)
    out.push_back(fmt::format("{}: not the focus or position of [picture], so no framing and no nearest distance",
                              channel_.name));
  else if (framing_->was_at_subject())
    out.push_back(fmt::format(
        "{}: the eye comes to where its subject is, so the subject has no place in the picture there", channel_.name));
  else if (!sums_.framing_error)
    out.push_back(
        fmt::format("{}: [picture] does not say where the eye is and how much it sees; no framing", channel_.name));
  if (lag_->has_followed() && !sums_.lag_distance_steady)
    out.push_back(fmt::format("{}: its goal never kept one speed long enough; no steady lag", channel_.name));
  return out;
}

} // namespace stasis
