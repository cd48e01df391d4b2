#include "code/sampled_tracks.hpp"

#include <cmath>
#include <utility>

namespace stasis::code {
namespace {

/// s before a frame: a corner so near is the frame's own.
constexpr double just_before = 4e-12;

/// The columns of a recording under way.
struct Rows {
  NumberColumnWriter time, facing, throttle, travel;
  std::array<NumberColumnWriter, most_components> place, velocity;
  std::size_t count = 0;

  // many: a row of a recording
  void add(double at, const Components& where, const Components& speed, double goes, double looks, double driven) {
    time.add(at);
    travel.add(goes);
    facing.add(looks);
    throttle.add(driven);
    for (std::size_t i = 0; i < most_components; ++i) {
      place[i].add(where[i]);
      velocity[i].add(speed[i]);
    }
    ++count;
  }
};

bool has_own_facing(const Track& track) noexcept {
  const auto* recorded = std::get_if<std::shared_ptr<const RecordedPath>>(&track.path);
  return recorded != nullptr && !(*recorded)->facing.empty();
}

/// Goes through a take's frames and writes down where a subject is seen.
class Sampling {
public:
  Sampling(const Scene& scene, const Track& track, Tick tick) : scene_(scene), track_(track), reader_(track, tick) {}

  SampledTrack run() {
    SampledTrack out;
    out.has_facing = has_own_facing(track_);
    for (std::int64_t frame = 0; frame <= scene_.clock.frames; ++frame) add_frame(frame, out);
    return out;
  }

  std::shared_ptr<const RecordedPath> path() {
    auto path = std::make_shared<RecordedPath>();
    path->time = rows_.time.finish();
    path->travel = rows_.travel.finish();
    path->facing = rows_.facing.finish();
    path->throttle = rows_.throttle.finish();
    for (std::size_t i = 0; i < most_components; ++i) {
      path->place[i] = rows_.place[i].finish();
      path->velocity[i] = rows_.velocity[i].finish();
    }
    path->cuts = cuts_;
    return path;
  }

private:
  double seen_at(std::int64_t frame) const {
    const bool late = scene_.take->tick.order == Tick::Order::camera_first;
    return scene_.clock.time(late ? std::max<std::int64_t>(frame - 1, 0) : frame);
  }

  void add_frame(std::int64_t frame, SampledTrack& out) {
    const double seen = seen_at(frame), time = scene_.clock.time(frame);
    const bool is_cut = frame > 0 && reader_.stretch_end() <= seen + 1e-9;
    const TrackPoint before = frame > 0 ? reader_.at(seen) : TrackPoint{};
    reader_.enter(seen);
    const TrackPoint now = reader_.at(seen);
    out.before_cut.push_back(is_cut ? before.place : now.place);
    Components velocity{};
    if (frame > 0) {
      const double dt = time - scene_.clock.time(frame - 1);
      velocity = scaled(plus(out.before_cut.back(), out.place.back(), -1.0), 1.0 / dt);
      go_along(velocity);
    } else {
      travel_ = now.travel;
    }
    const double throttle = now.throttle;
    if (is_cut) {
      const double looks = out.has_facing ? before.facing : travel_;
      rows_.add(time - just_before, before.place, velocity, travel_, looks, before.throttle);
      cuts_.push_back(rows_.count);
      velocity = {};
      travel_ = now.travel;
    }
    rows_.add(time, now.place, velocity, travel_, out.has_facing ? now.facing : travel_, throttle);
    out.place.push_back(now.place);
    out.is_cut.push_back(is_cut);
    out.travel.push_back(travel_);
    out.facing.push_back(now.facing);
    out.throttle.push_back(throttle);
  }

  /// Which way it travels, without leaps of whole turns.
  void go_along(const Components& velocity) {
    if (!(length_of(velocity) > 0.0)) return;
    const double heading = heading_of(velocity, track_.components);
    travel_ = heading - 360.0 * std::floor((heading - travel_) / 360.0 + 0.5);
  }

  const Scene& scene_;
  const Track& track_;
  TrackReader reader_;
  Rows rows_;
  std::vector<std::size_t> cuts_;
  double travel_ = 0.0;
};

} // namespace

SampledTake sampled_take(const Scene& scene, const std::vector<std::size_t>& tracks) {
  SampledTake out{*scene.feel, *scene.take, scene.clock, {}};
  Tick seen = scene.take->tick;
  for (const std::size_t t : tracks) {
    const Track& played = scene.feel->tracks[played_track(*scene.take, t)];
    Sampling sampling(scene, played, seen);
    out.tracks.push_back(sampling.run());
    out.tracks.back().track = t;
    Track& own = out.feel.tracks[t];
    own.path = sampling.path();
    own.from = 0.0;
    own.lost = LostRule::hold;
    if (!out.take.tracks.empty()) out.take.tracks[t] = t;
  }
  if (!tracks.empty() || seen.order == Tick::Order::on_tick) out.take.tick = {.rate = 0.0};
  return out;
}

} // namespace stasis::code
