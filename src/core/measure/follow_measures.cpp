#include "core/measure/follow_measures.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/take/follower.hpp"
#include "core/take/obstacle_ray.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Speeds that differ by less than this share are one speed.
constexpr double same_speed = 1e-6;
/// The gap of a steady stretch has settled if it changes by less than this share of the speed.
constexpr double settled_gap = 1e-4;
/// Shortest steady stretch, s.
constexpr double least_steady = 0.5;
/// A lag in time is only told where the goal goes faster than its top speed over 2 to this power.
constexpr int octaves_of_note = 3;

void keep_largest(std::optional<double>& kept, double value) {
  if (!kept || value > *kept) kept = value;
}

/// How far a place lies outside a subject's surface; negative inside.
double clearance(const Components& from_subject, double facing, const Track& track) {
  if (!track.half_box) return length_of(from_subject) - track.radius;
  const Components parts = axes_of_heading(facing, track.components).parts(from_subject);
  Components beyond{};
  double deepest = -std::numeric_limits<double>::infinity();
  for (std::size_t i = 0; i < most_components; ++i) {
    const double out = std::fabs(parts[i]) - (*track.half_box)[i];
    beyond[i] = std::max(out, 0.0);
    deepest = std::max(deepest, out);
  }
  return deepest > 0.0 ? length_of(beyond) : deepest;
}

} // namespace

std::span<const FollowMeasure> follow_measures() noexcept {
  using enum MeasureUnit;
  using F = FollowSummary;
  using Of = FollowMeasure::Of;
  static constexpr std::array all{
      FollowMeasure{"lag_distance", channel, "", &F::lag_distance, Of::following,
                    "Largest distance from the goal: how far it trails."},
      FollowMeasure{"lag_distance_mean", channel, "", &F::lag_distance_mean, Of::following,
                    "Mean of that distance over the take."},
      FollowMeasure{
          "lag_distance_steady", channel, "", &F::lag_distance_steady, Of::following,
          "That distance at the end of the longest stretch in which the goal goes at one speed; null where none "
          "lasts half a second or the gap has not come to rest in it."},
      FollowMeasure{
          "lag_time", seconds, "", &F::lag_time, Of::following,
          "Largest time by which it trails: the gap along the goal's way, over the goal's speed; where the goal "
          "goes at an eighth of its top speed at least."},
      FollowMeasure{"lag_time_mean", seconds, "", &F::lag_time_mean, Of::following,
                    "Mean of that time, weighted by speed."},
      FollowMeasure{"lag_time_steady", seconds, "", &F::lag_time_steady, Of::following,
                    "That time where lag_distance_steady is taken."},
      FollowMeasure{"wish_distance", channel, "", &F::wish_distance, Of::following,
                    "Largest distance from the wish, before the dead zone."},
      FollowMeasure{"wish_distance_mean", channel, "", &F::wish_distance_mean, Of::following, "Mean of that distance."},
      FollowMeasure{"framing_error", per_cent, "", &F::framing_error, Of::following,
                    "Farthest that the subject stands from the picture's middle: 100 is the edge."},
      FollowMeasure{"framing_error_mean", per_cent, "", &F::framing_error_mean, Of::following,
                    "Mean of that, frame by frame."},
      FollowMeasure{"time_outside_zone", seconds, "", &F::time_outside_zone, Of::following,
                    "How long the wish lay outside the dead zone about where the channel is."},
      FollowMeasure{"time_outside_picture", seconds, "", &F::time_outside_picture, Of::following,
                    "How long the subject was out of the picture."},
      FollowMeasure{"nearest", channel, "", &F::nearest, Of::following,
                    "Least distance from the eye to the subject's surface; negative inside it."},
      FollowMeasure{"frames_inside", plain, "frames", &F::frames_inside, Of::following,
                    "Frames in which the eye was inside the subject."},
      FollowMeasure{"judder_subject", channel, "", &F::judder_subject, Of::following,
                    "Unevenness of the subject against the channel, from frame to frame."},
      FollowMeasure{"judder_subject_pixels", plain, "px", &F::judder_subject_pixels, Of::following,
                    "The same on the picture."},
      FollowMeasure{"judder_picture", channel, "", &F::judder_picture, Of::following,
                    "Unevenness of the channel against steady travel."},
      FollowMeasure{"judder_picture_pixels", plain, "px", &F::judder_picture_pixels, Of::following,
                    "The same on the picture."},
      FollowMeasure{"judder_track", channel, "", &F::judder_track, Of::following,
                    "Unevenness of the subject as it is drawn against steady travel: what a camera sees that goes "
                    "steadily itself."},
      FollowMeasure{"judder_track_pixels", plain, "px", &F::judder_track_pixels, Of::following,
                    "The same on the picture."},
      FollowMeasure{"top_speed", channel_per_second, "", &F::top_speed, Of::following_or_keeping,
                    "Largest speed in the take."},
      FollowMeasure{"size_error", per_cent, "", &F::size_error, Of::keeping_size,
                    "Largest difference of the subject's size in the picture from the one that is kept."},
      FollowMeasure{"corner_cut", channel, "", &F::corner_cut, Of::placed,
                    "Largest way by which the eye is nearer to what it looks at than the place that it is put at."},
      FollowMeasure{"penetration", channel, "", &F::penetration, Of::held_in_or_placed,
                    "Farthest that the view was beyond the place where its ray touches an obstacle."},
      FollowMeasure{"penetration_time", seconds, "", &F::penetration_time, Of::held_in_or_placed,
                    "How long it was beyond it."},
      FollowMeasure{"penetration_frames", plain, "frames", &F::penetration_frames, Of::held_in_or_placed,
                    "Frames on which it was beyond it."},
      FollowMeasure{"held_time", seconds, "", &F::held_time, Of::held_in,
                    "How long an obstacle pulled it in, short of its wish."},
      FollowMeasure{"time_below_range", seconds, "", &F::time_below_range, Of::held_in,
                    "How long an obstacle left less room than the range allows: the range wins."},
      FollowMeasure{"let_out_speed", channel_per_second, "", &F::let_out_speed, Of::held_in,
                    "Largest outward speed from when it is held until it is back at its wish."},
      FollowMeasure{"let_out_time", seconds, "", &F::let_out_time, Of::held_in,
                    "Longest time from when it is let go until it has settled at its wish."},
      FollowMeasure{"advised_half_life", seconds, "", &F::advised_half_life, Of::held_in,
                    "The half-life of a glide inward that keeps it out of every obstacle for sure: ln 2 times the "
                    "least room between goal and obstacle, over the largest speed at which the goal falls; null where "
                    "none does."},
      FollowMeasure{"unseen_clicks", plain, "clicks", &F::unseen_clicks, Of::held_in,
                    "Clicks that showed nothing, as an obstacle held the view."},
      FollowMeasure{"remainder", channel, "", &F::remainder, Of::on_grid,
                    "Largest remainder that the snap leaves: half a cell at most."},
      FollowMeasure{"remainder_pixels", plain, "px", &F::remainder_pixels, Of::on_grid,
                    "The same on the screen: how far the picture is shifted."},
      FollowMeasure{"judder_snapped_pixels", plain, "px", &F::judder_snapped_pixels, Of::on_grid,
                    "Unevenness of the snapped value on the screen."},
      FollowMeasure{"judder_smooth_pixels", plain, "px", &F::judder_smooth_pixels, Of::on_grid,
                    "The same with the picture shifted by the remainder."},
  };
  return all;
}

bool has_measure(const FollowMeasure& measure, const Channel& channel) noexcept {
  using Of = FollowMeasure::Of;
  switch (measure.of) {
  case Of::following: return channel.follow.has_value();
  case Of::on_grid: return channel.snap.has_value();
  case Of::held_in: return channel.obstacles.has_value();
  case Of::placed: return channel.is_placed;
  case Of::held_in_or_placed: return channel.obstacles || channel.is_placed;
  case Of::keeping_size: return channel.keeps_width.has_value();
  case Of::following_or_keeping: break;
  }
  return channel.follow.has_value() || channel.keeps_width.has_value();
}

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
      places_camera_(feel_.picture.focus == channel || feel_.picture.position == channel) {
  if (channel_.follow) exact_.emplace(feel_.tracks[played_track(*scene_.take, channel_.follow->track)]);
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

FollowTracker::Frame FollowTracker::frame_at(const Block& block, std::size_t row) const {
  Frame frame;
  const ChannelBlock& columns = block.channels[index_];
  frame.jumped = row == 0 && columns.moved;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (channel_.follow && !channel_.follow->follows(i)) continue;
    const ComponentBlock& column = columns.component[i];
    frame.goal[i] = column.goal_at(row);
    frame.slope[i] = column.moves() ? (column.goals[row + 1] - column.goals[row]) / dt_of(block, row) : 0.0;
    frame.smooth[i] = column.smooth[row];
    frame.value[i] = column.value[row];
    frame.wish[i] = !column.free_wishes.empty() ? column.free_wishes[row]
                    : !column.wishes.empty()    ? column.wishes[row]
                                                : column.wish;
    if (channel_.space.space == Space::turn) frame.wish[i] = short_way(channel_.space, frame.smooth[i], frame.wish[i]);
  }
  return frame;
}

void FollowTracker::add_lag(const Frame& frame, double time) {
  const Components gap = plus(frame.goal, frame.smooth, -1.0);
  const double distance = length_of(gap), speed = length_of(frame.slope);
  if (catch_up_.next(frame.jumped, distance)) return add_steadiness(-1.0, distance, 0.0);
  if (!sums_.lag_distance || distance > *sums_.lag_distance * (1.0 + 1e-9)) sums_.worst_lag_at = time;
  keep_largest(sums_.lag_distance, distance);
  lag_sum_ += distance;
  const double off = length_of(plus(frame.wish, frame.smooth, -1.0));
  keep_largest(sums_.wish_distance, off);
  wish_sum_ += off;
  frames_ += 1.0;
  double lag_time = 0.0;
  if (speed > 0.0) {
    const double along = dot(gap, frame.slope) / speed;
    lag_time = along / speed;
    along_sum_ += along;
    speed_sum_ += speed;
    double& worst = worst_lag_time_.try_emplace(std::ilogb(speed), lag_time).first->second;
    worst = std::max(worst, lag_time);
  }
  add_steadiness(speed, distance, lag_time);
}

void FollowTracker::add_steadiness(double speed, double gap, double lag_time) {
  const bool goes_on = speed > 0.0 && std::fabs(speed - last_speed_) <= same_speed * speed;
  if (!goes_on) steady_ = {};
  steady_.frames += 1.0;
  steady_.distance = gap;
  steady_.time = lag_time;
  steady_.settled = std::fabs(gap - last_gap_) <= settled_gap * speed * scene_.clock.usual_dt();
  if (goes_on && steady_.frames > longest_steady_.frames) longest_steady_ = steady_;
  last_speed_ = speed;
  last_gap_ = gap;
}

void FollowTracker::add_nearness(const Components& eye, const Components& place, double facing, const Track& track) {
  const double out = clearance(plus(eye, place, -1.0), facing, track);
  if (!sums_.nearest || out < *sums_.nearest) sums_.nearest = out;
  sums_.frames_inside = sums_.frames_inside.value_or(0.0) + (out < 0.0 ? 1.0 : 0.0);
}

void FollowTracker::add_framing(const Block& block, std::size_t row, const Frame& frame, double time) {
  const double dt = dt_of(block, row);
  const ReadComponent read = [&](ComponentRef c) {
    return block.channels[c.channel].component[c.component].value[row];
  };
  const CameraView view = camera_view(feel_, read);
  const auto scale = pixels_per_unit(feel_, view);
  has_scale_ = has_scale_ || scale.has_value();
  const bool last = block.first + static_cast<std::int64_t>(row) + 1 == scene_.clock.frames;
  if (channel_.follow && channel_.follow->zone) {
    const Components half = zone_half_size(*channel_.follow->zone, view, read);
    const bool turned = channel_.follow->zone->measure != DeadZone::Measure::units && !view.is_flat;
    const Components away = plus(frame.wish, frame.smooth, -1.0);
    const double out = outside_zone(*channel_.follow->zone, half, turned ? view.axes.parts(away) : away);
    sums_.time_outside_zone = sums_.time_outside_zone.value_or(0.0) + (out > 1e-9 && !last ? dt : 0.0);
  }
  add_judder(block, row, frame, time, scale.value_or(0.0));
  if (channel_.snap) add_snap(block, row, frame, time, scale.value_or(0.0));
  const std::size_t track = block.channels[index_].track;
  if (!channel_.follow || track == 0 || !places_camera_ || channel_.follow->part) return;
  // Without a position of its own, the eye hangs on what is followed; the subject is seen from there.
  const Track& followed = feel_.tracks[track - 1];
  if (followed.in != TrackPlace::world) return;
  Components place{};
  for (std::size_t i = 0; i < followed.components; ++i) place[i] = block.tracks[track - 1].place[i][row];
  if (view.eye && !view.is_flat) add_nearness(*view.eye, place, block.tracks[track - 1].facing[row], followed);
  if (!view.eye || !view.half_width) return;
  const auto seen = view.seen(place);
  const double off = seen ? 100.0 * std::max(std::fabs((*seen)[0]), std::fabs((*seen)[1])) : 100.0;
  const bool out = !seen || off > 100.0;
  sums_.time_outside_picture = sums_.time_outside_picture.value_or(0.0) + (out && !last ? dt : 0.0);
  if (!seen) return;
  if (!sums_.framing_error || off > *sums_.framing_error) sums_.worst_framing_at = time;
  keep_largest(sums_.framing_error, off);
  framing_sum_ += off;
  framing_frames_ += 1.0;
}

void FollowTracker::add_judder(const Block& block, std::size_t row, const Frame& frame, double time, double scale) {
  const ChannelBlock& columns = block.channels[index_];
  picture_.add(frame.value, time, scale, frame.jumped);
  if (!channel_.follow || columns.track == 0) return;
  Components place{};
  const auto& track = block.tracks[columns.track - 1];
  for (std::size_t i = 0; i < channel_.components; ++i)
    if (channel_.follow->follows(i)) place[i] = track.place[channel_.follow->part.value_or(i)][row];
  if (feel_.tracks[columns.track - 1].in != TrackPlace::world) return;
  track_.add(place, time, scale, frame.jumped);
  subject_.add(plus(place, frame.value, -1.0), time, scale, frame.jumped);
}

void FollowTracker::add_snap(const Block& block, std::size_t row, const Frame& frame, double time, double scale) {
  Components left{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    left[i] = block.channels[index_].component[i].remainders[row];
    keep_largest(sums_.remainder, std::fabs(left[i]));
    if (scale > 0.0) keep_largest(sums_.remainder_pixels, std::fabs(left[i]) * scale);
  }
  Components snapped{};
  for (std::size_t i = 0; i < channel_.components; ++i) snapped[i] = block.channels[index_].component[i].value[row];
  snapped_.add(snapped, time, scale, frame.jumped);
  smooth_.add(plus(snapped, left), time, scale, frame.jumped);
}

/// What fits across the picture at the distance, against what should.
void FollowTracker::add_size(const Block& block, std::size_t row, double time) {
  const CameraView view =
      camera_view(feel_, [&](ComponentRef c) { return block.channels[c.channel].component[c.component].smooth[row]; });
  const double distance = block.channels[index_].component[0].smooth[row];
  if (!view.half_width) return;
  const double error = 100.0 * std::fabs(2.0 * distance * *view.half_width / *channel_.keeps_width - 1.0);
  if (!sums_.size_error || error > *sums_.size_error * (1.0 + 1e-9)) sums_.worst_size_at = time;
  keep_largest(sums_.size_error, error);
}

/// How much nearer the eye is than where it is put: its way there goes straight, not round.
void FollowTracker::add_corner(const Block& block, std::size_t row, double time) {
  const EyeSeat seat =
      eye_seat(feel_, [&](ComponentRef c) { return block.channels[c.channel].component[c.component].smooth[row]; });
  Components goal{}, eye{};
  for (std::size_t i = 0; i < most_components; ++i) {
    goal[i] = block.channels[index_].component[i].goal_at(row);
    eye[i] = block.channels[index_].component[i].smooth[row];
  }
  keep_largest(sums_.corner_cut,
               std::max(0.0, length_of(plus(goal, seat.pivot, -1.0)) - length_of(plus(eye, seat.pivot, -1.0))));
  const bool last = block.first + static_cast<std::int64_t>(row) + 1 == scene_.clock.frames;
  if (!standing_.empty()) add_eye_through(seat.pivot, eye, time, last ? 0.0 : dt_of(block, row));
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

void FollowTracker::consume(const Block& block) {
  if (room_) room_->consume(block);
  const ChannelBlock& columns = block.channels[index_];
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
    Frame frame = frame_at(block, row);
    const bool jumps = frame.jumped;
    if (channel_.follow && columns.track != 0) add_lag(frame, time);
    if (exact_) {
      exact_->enter(time);
      subject_speed_ = std::max(subject_speed_, length_of(exact_->at(time).velocity));
    }
    frame.jumped = jumps || jumped_before_ || time < under_way_from_;
    jumped_before_ = jumps;
    add_framing(block, row, frame, time);
    if (channel_.keeps_width) add_size(block, row, time);
    if (channel_.is_placed) add_corner(block, row, time);
    double speed = 0.0;
    for (std::size_t i = 0; i < channel_.components; ++i) speed = std::hypot(speed, columns.component[i].velocity[row]);
    if (std::isfinite(speed)) keep_largest(sums_.top_speed, speed);
  }
}

FollowSummary FollowTracker::finish() {
  FollowSummary out = sums_;
  if (room_) static_cast<RoomSummary&>(out) = room_->finish();
  if (frames_ > 0.0) {
    out.lag_distance_mean = lag_sum_ / frames_;
    out.wish_distance_mean = wish_sum_ / frames_;
  }
  if (speed_sum_ > 0.0) out.lag_time_mean = along_sum_ / speed_sum_;
  if (!worst_lag_time_.empty()) {
    const int top = worst_lag_time_.rbegin()->first;
    for (const auto& [octave, worst] : worst_lag_time_)
      if (octave >= top - octaves_of_note) keep_largest(out.lag_time, worst);
  }
  if (longest_steady_.settled && longest_steady_.frames * scene_.clock.usual_dt() >= least_steady) {
    out.lag_distance_steady = longest_steady_.distance;
    out.lag_time_steady = longest_steady_.time;
  }
  if (framing_frames_ > 0.0) out.framing_error_mean = framing_sum_ / framing_frames_;
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
    out.push_back(fmt::format("{}: what lies between two ticks is drawn one tick late: {}", channel_.name,
                              late(1.0 / tick.rate)));
  if (tick.rate > 0.0 && !tick.blends)
    out.push_back(fmt::format("{}: the latest tick is held, so the subject is drawn up to one tick late: {}",
                              channel_.name, late(1.0 / tick.rate)));
}

std::vector<std::string> FollowTracker::notes() const {
  std::vector<std::string> out = room_ ? room_->notes() : std::vector<std::string>{};
  if (!channel_.follow) return out;
  add_order_note(out);
  if (frames_ == 0.0) out.push_back(fmt::format("{}: nothing was there to be followed; no lag", channel_.name));
  if (!places_camera_ || channel_.follow->part)
    out.push_back(fmt::format("{}: not the focus or position of [picture], so no framing and no nearest distance",
                              channel_.name));
  else if (!sums_.framing_error)
    out.push_back(
        fmt::format("{}: [picture] does not say where the eye is and how much it sees; no framing", channel_.name));
  if (!(longest_steady_.settled && longest_steady_.frames * scene_.clock.usual_dt() >= least_steady) && frames_ > 0.0)
    out.push_back(fmt::format("{}: its goal never went at one speed long enough; no steady lag", channel_.name));
  return out;
}

} // namespace stasis
