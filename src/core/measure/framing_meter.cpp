#include "core/measure/framing_meter.hpp"

#include <algorithm>
#include <cmath>

#include "core/take/follower.hpp"

namespace stasis {
namespace {

/// Instants of the grid a second: every usual frame is one of them.
constexpr double looks_a_second = 240.0;
/// What lies outside a dead zone by less than that is a rounding.
constexpr double on_the_zone = 1e-9;

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

/// What is largest where an eye is nearest, and bends evenly there; and the clearance that it stands for.
double nearness_of(double clearance, const Track& track) noexcept {
  const double distance = clearance + track.radius;
  return track.half_box ? -clearance : -distance * distance;
}
double clearance_of(double nearness, const Track& track) noexcept {
  return track.half_box ? -nearness : std::sqrt(std::max(0.0, -nearness)) - track.radius;
}

} // namespace

DrawnValues::DrawnValues(const Scene& scene) : scene_(scene), frames_(scene) {
  for (std::size_t s = 0; s < scene.feel->shakes.size(); ++s) shakes_.emplace_back(scene, s);
}

void DrawnValues::enter(const Block& block) {
  block_ = &block;
  frames_.enter(block);
  for (std::size_t s = 0; s < shakes_.size(); ++s) {
    shakes_[s].enter(block);
    for (const HitMark& mark : block.shakes[s].hits)
      shakes_[s].hit({mark.time, block.first, mark.strength, mark.direction});
  }
}

void DrawnValues::look_at(std::size_t row, double u) {
  u_ = u;
  frames_.go_to(row);
  for (std::size_t s = 0; s < shakes_.size(); ++s)
    if (block_->shakes[s].is_felt) shakes_[s].look_at(span_of(scene_.clock, *block_, row), u, frames_);
}

double DrawnValues::value(ComponentRef component) {
  double value = frames_.smooth(component, u_);
  for (std::size_t s = 0; s < shakes_.size(); ++s) {
    if (!block_->shakes[s].is_felt) continue;
    const auto& targets = scene_.feel->shakes[s].targets;
    for (std::size_t t = 0; t < targets.size(); ++t)
      if (targets[t].component == component) value += shakes_[s].parts()[t];
  }
  const auto& left = block_->channels[component.channel].component[component.component].remainders;
  return left.empty() ? value : value - left[frames_.row()];
}

void TimeAbove::add(double margin, double step) noexcept {
  if (before_) {
    const double a = *before_, b = margin;
    if (a > 0.0 && b > 0.0) {
      seconds_ += step;
    } else if (a > 0.0 || b > 0.0) {
      const double above = std::max(a, b), below = std::min(a, b);
      seconds_ += std::isfinite(above) ? step * above / (above - below) : 0.5 * step;
    }
  }
  before_ = margin;
}

FramingMeter::FramingMeter(const Scene& scene, std::size_t channel)
    : scene_(scene), feel_(*scene.feel), channel_(feel_.channels[channel]), index_(channel),
      goes_by_frames_(scene.take->tick.rate > 0.0),
      places_camera_(feel_.picture.focus == channel || feel_.picture.position == channel), values_(scene_),
      nearness_(feel_.tracks.size()) {
  for (const Track& track : feel_.tracks) readers_.emplace_back(track, scene.take->tick);
}

/// By how much the wish lies outside the dead zone about where the channel is.
double FramingMeter::beyond_zone(const Block& block, std::size_t row, double u, const CameraView& view) {
  const DeadZone& zone = *channel_.follow->zone;
  const double share = u / scene_.clock.dt(block.first + static_cast<std::int64_t>(row));
  Components away{};
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (!channel_.follow->follows(i)) continue;
    const ComponentBlock& column = block.channels[index_].component[i];
    const auto& wishes = !column.free_wishes.empty() ? column.free_wishes : column.wishes;
    const double wish = wishes.empty() ? column.wish : wishes[row] + (wishes[row + 1] - wishes[row]) * share;
    const double smooth = values_.smooth({index_, i});
    away[i] = (channel_.space.space == Space::turn ? short_way(channel_.space, smooth, wish) : wish) - smooth;
  }
  const Components half = zone_half_size(zone, view, [&](ComponentRef c) { return values_.value(c); });
  const bool turned = zone.measure != DeadZone::Measure::units && !view.is_flat;
  return outside_zone(zone, half, turned ? view.axes.parts(away) : away) - on_the_zone;
}

void FramingMeter::look_at_subject(const Block& block, double time, const CameraView& view, Look& out) const {
  const std::size_t track = block.channels[index_].track;
  if (track == 0 || !places_camera_ || channel_.follow->part) return;
  // Without a position of its own, the eye hangs on what is followed; the subject is seen from there.
  const Track& followed = feel_.tracks[track - 1];
  if (followed.in != TrackPlace::world) return;
  out.track = track - 1;
  const TrackPoint subject = readers_[played_track(*scene_.take, track - 1)].at(time);
  if (view.eye && !view.is_flat)
    out.clearance = clearance(plus(*view.eye, subject.place, -1.0), subject.facing, followed);
  if (!view.eye || !view.half_width) return;
  const double away = length_of(plus(subject.place, *view.eye, -1.0));
  constexpr double at_it = 1e-6; // of the sizes that are told apart
  out.at_eye = !view.is_flat && away <= at_it * std::max(1.0, length_of(subject.place));
  if (out.at_eye) return;
  out.is_framed = true;
  look_at_edges(subject, followed, view, out);
  if (const auto seen = view.seen(subject.place))
    out.off = 100.0 * std::max(std::fabs((*seen)[0]), std::fabs((*seen)[1]));
}

/// How far the subject's outline is from the nearest edge of the picture, at its own depth; negative beyond it.
void FramingMeter::look_at_edges(const TrackPoint& subject, const Track& followed, const CameraView& view,
                                 Look& out) const {
  const auto half = view.half_at(subject.place);
  const auto seen = view.seen(subject.place);
  if (!half || !seen) return;
  const Axes own = axes_of_heading(subject.facing, followed.components);
  const std::array half_pixels{0.5 * feel_.picture.width, 0.5 * feel_.picture.height};
  const std::array across{view.axes.right, view.axes.up};
  out.edge = out.edge_pixels = unbounded;
  for (std::size_t i = 0; i < across.size(); ++i) {
    double extent = followed.radius;
    if (followed.half_box) {
      const Components sides = own.parts(across[i]);
      extent = 0.0;
      for (std::size_t k = 0; k < most_components; ++k) extent += std::fabs(sides[k]) * (*followed.half_box)[k];
    }
    const double left = (1.0 - std::fabs((*seen)[i])) * (*half)[i] - extent;
    out.edge = std::min(*out.edge, left);
    out.edge_pixels = std::min(*out.edge_pixels, left / (*half)[i] * half_pixels[i]);
  }
  out.middle = std::hypot((*seen)[0] * (*half)[0], (*seen)[1] * (*half)[1]);
}

/// How fast its place goes across the picture from frame to frame.
void FramingMeter::note_screen_speed(const Block& block, std::span<const std::uint8_t> jumps) {
  const std::size_t followed = block.channels[index_].track;
  if (followed == 0 || !is_framed_) {
    last_on_screen_.reset();
    return;
  }
  const std::size_t track = played_track(*scene_.take, followed - 1);
  if (track >= block.screen.size() || block.screen[track][0].empty()) return;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const OnScreen now{scene_.clock.time(block.first + static_cast<std::int64_t>(row)),
                       {block.screen[track][0][row], block.screen[track][1][row]},
                       track};
    if (!std::isfinite(now.place[0])) {
      last_on_screen_.reset();
      continue;
    }
    if (last_on_screen_ && last_on_screen_->track == track && now.time > last_on_screen_->time)
      keep_largest(screen_speed_,
                   std::hypot(now.place[0] - last_on_screen_->place[0], now.place[1] - last_on_screen_->place[1])
                       / (now.time - last_on_screen_->time));
    last_on_screen_ = now;
    if (jumps[row] != 0) last_on_screen_.reset();
  }
}

FramingMeter::Look FramingMeter::look(const Block& block, std::size_t row, double u) {
  values_.look_at(row, u);
  Look out;
  const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row)) + u;
  const ReadComponent drawn = [&](ComponentRef c) { return values_.value(c); };
  const CameraView view = camera_view(feel_, drawn);
  if (channel_.follow->zone) out.beyond_zone = beyond_zone(block, row, u, framing_view(feel_, drawn));
  look_at_subject(block, time, view, out);
  return out;
}

void FramingMeter::note_extremes(const Look& seen, double time, bool on_grid) {
  const auto add = [&](PeakMeter& meter, double value) {
    if (!on_grid) return meter.add_alone(value, time);
    if (const auto top = meter.add(value, time, 1.0 / looks_a_second)) meter.note(top->value, top->time);
  };
  if (seen.off) add(off_, *seen.off);
  if (seen.edge_pixels) add(edge_pixels_, -*seen.edge_pixels);
  if (seen.edge) add(edge_, -*seen.edge);
  if (seen.middle) add(middle_, *seen.middle);
  at_subject_ = at_subject_ || seen.at_eye;
  if (seen.clearance) add(nearness_[seen.track], nearness_of(*seen.clearance, feel_.tracks[seen.track]));
  has_zone_ = has_zone_ || seen.beyond_zone;
  is_framed_ = is_framed_ || seen.is_framed;
  has_clearance_ = has_clearance_ || seen.clearance;
}

void FramingMeter::take(const Look& seen, double time, double seconds) {
  const bool on_grid = seconds > 0.0 && !goes_by_frames_;
  note_extremes(seen, time, on_grid);
  if (!(seconds > 0.0)) return;
  const auto add = [&](TimeAbove& above, double margin) {
    on_grid ? above.add(margin, seconds) : above.add_standing(margin, seconds);
  };
  if (seen.beyond_zone) add(outside_zone_, *seen.beyond_zone);
  if (seen.clearance) add(inside_, -*seen.clearance);
  if (seen.is_framed) add(outside_picture_, seen.off ? *seen.off - 100.0 : unbounded);
  if (!seen.off) return;
  off_sum_ += *seen.off * seconds;
  off_time_ += seconds;
}

/// Rows on which the eye is inside the subject.
void FramingMeter::count_frames(const Block& block) {
  if (!has_clearance_) return;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const CameraView view =
        camera_view(feel_, [&](ComponentRef c) { return block.channels[c.channel].component[c.component].value[row]; });
    Look seen;
    look_at_subject(block, scene_.clock.time(block.first + static_cast<std::int64_t>(row)), view, seen);
    if (seen.clearance && *seen.clearance < 0.0) inside_frames_ += 1.0;
  }
}

void FramingMeter::consume(const Block& block, std::span<const std::uint8_t> jumps) {
  values_.enter(block);
  for (TrackReader& reader : readers_) reader.enter(scene_.clock.time(block.first));
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const FrameSpan frame = span_of(scene_.clock, block, row);
    if (frame.number + 1 == scene_.clock.frames) break; // it leads nowhere
    const double end = scene_.clock.time(frame.number + 1);
    // What has jumped is farthest off at once.
    const bool jumped = row == 0 && (block.channels[index_].moved || !block.cause.empty());
    if (goes_by_frames_) {
      take(look(block, row, 0.0), frame.begin, frame.dt);
      continue;
    }
    if (jumped) take(look(block, row, 0.0), frame.begin, 0.0);
    for (;; ++next_) {
      const double time = static_cast<double>(next_) / looks_a_second;
      if (time >= end) break;
      take(look(block, row, std::max(0.0, time - frame.begin)), time, 1.0 / looks_a_second);
    }
    if (frame.number + 2 == scene_.clock.frames) take(look(block, row, frame.dt), end, 0.0);
  }
  count_frames(block);
  note_screen_speed(block, jumps);
}

FramingSummary FramingMeter::finish() const {
  FramingSummary out;
  out.framing_error = off_.largest();
  out.worst_framing_at = off_.at();
  out.screen_speed = screen_speed_;
  const auto least_of = [](const PeakMeter& meter) {
    const auto largest = meter.largest();
    return largest ? std::optional(-*largest) : std::nullopt;
  };
  out.edge_distance_pixels = least_of(edge_pixels_);
  out.edge_distance = least_of(edge_);
  out.middle_distance = middle_.largest();
  if (off_time_ > 0.0) out.framing_error_mean = off_sum_ / off_time_;
  if (has_zone_) out.time_outside_zone = outside_zone_.seconds();
  if (is_framed_) out.time_outside_picture = outside_picture_.seconds();
  if (has_clearance_) {
    for (std::size_t t = 0; t < nearness_.size(); ++t)
      if (const auto nearness = nearness_[t].largest())
        out.nearest = std::min(out.nearest.value_or(unbounded), clearance_of(*nearness, feel_.tracks[t]));
    out.inside_time = inside_.seconds();
    out.inside_frames = inside_frames_;
  }
  return out;
}

} // namespace stasis
