#include "core/measure/tick_study.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/components.hpp"
#include "core/take/player.hpp"

namespace stasis {
namespace {

/// The drawn places of a channel and of the subject that it follows.
class DrawnPlaces final : public BlockSink {
public:
  explicit DrawnPlaces(std::size_t channel) : channel_(channel) {}
  void begin(const Scene& scene) override { scene_ = scene; }
  void end() override {}
  void consume(const Block& block) override {
    const ChannelBlock& columns = block.channels[channel_];
    const Channel& channel = scene_.feel->channels[channel_];
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count) && cameras.size() < most_frames_to_draw;
         ++row) {
      Components camera{}, subject{};
      for (std::size_t i = 0; i < channel.components; ++i) {
        if (!channel.follow->follows(i)) continue;
        camera[i] = columns.component[i].value[row];
        if (columns.track != 0)
          subject[i] = block.tracks[columns.track - 1].place[channel.follow->part.value_or(i)][row];
      }
      cameras.push_back(camera);
      subjects.push_back(subject);
    }
  }

  std::vector<Components> cameras, subjects;

private:
  Scene scene_;
  std::size_t channel_;
};

/// How far the middle one of three frames is off the straight way between its neighbours, along `way`.
double off_even(const std::vector<Components>& places, std::size_t k, const Clock& clock, const Components& way) {
  const double before = clock.dt(static_cast<std::int64_t>(k) - 1), after = clock.dt(static_cast<std::int64_t>(k));
  const double span = before + after;
  const Components even = plus(scaled(places[k - 1], after / span), scaled(places[k + 1], before / span));
  return dot(plus(places[k], even, -1.0), way);
}

void add_frames(TickCase& out, const DrawnPlaces& drawn, const Clock& clock) {
  std::vector<Components> apart;
  for (std::size_t k = 0; k < drawn.cameras.size(); ++k)
    apart.push_back(plus(drawn.subjects[k], drawn.cameras[k], -1.0));
  for (std::size_t k = 1; k + 1 < drawn.cameras.size(); ++k) {
    Components way = plus(drawn.subjects[k + 1], drawn.subjects[k - 1], -1.0);
    const double length = length_of(way);
    way = length > 0.0 ? scaled(way, 1.0 / length) : Components{1.0, 0.0, 0.0};
    out.times.push_back(clock.time(static_cast<std::int64_t>(k)));
    out.subject_off.push_back(off_even(apart, k, clock, way));
    out.picture_off.push_back(off_even(drawn.cameras, k, clock, way));
  }
}

TickCase play_case(const Feel& feel, const Take& original, const Tick& tick, std::size_t channel) {
  Take take = original;
  take.tick = tick;
  const Scene scene{&feel, &take, clock_of(take)};
  MeasureSink measuring;
  DrawnPlaces drawn(channel);
  BlockSink* const sinks[] = {&measuring, &drawn};
  const TakeMeasures measures = measuring.take(play(scene, sinks));
  const FollowSummary& follow = measures.channels[channel].follow;
  TickCase out{tick,
               {},
               follow.judder_subject,
               follow.judder_subject_pixels,
               follow.judder_picture,
               follow.judder_picture_pixels,
               0.0,
               {},
               {},
               {}};
  const char* const orders[] = {"camera last", "camera first", "camera on the tick"};
  out.label = fmt::format("{}, {}", orders[static_cast<std::size_t>(tick.order)], tick.blends ? "blended" : "held");
  // A held tick is half a tick late on average, a blended one a whole one; a camera that comes first, one frame more.
  out.late = (tick.blends ? 1.0 : 0.5) / tick.rate;
  if (tick.order == Tick::Order::camera_first) out.late += scene.clock.usual_dt();
  add_frames(out, drawn, scene.clock);
  return out;
}

double fastest(const Feel& feel, const Take& take, std::size_t channel) {
  TrackReader reader(feel.tracks[played_track(take, feel.channels[channel].follow->track)]);
  const Clock clock = clock_of(take);
  double speed = 0.0;
  for (std::int64_t k = 0; k < clock.frames; ++k) {
    reader.enter(clock.time(k));
    speed = std::max(speed, length_of(reader.at(clock.time(k)).velocity));
  }
  return speed;
}

/// The most even; where the difference does not show, the least late.
std::size_t best_of(const TickStudy& study) {
  double least = unbounded;
  for (const TickCase& one : study.cases) least = std::min(least, one.worst());
  constexpr double alike = 1.02;
  const double enough = least * alike + 1e-9 * study.subject_speed / study.fps;
  std::size_t best = 0;
  bool found = false;
  for (std::size_t k = 0; k < study.cases.size(); ++k) {
    if (study.cases[k].worst() > enough || (found && study.cases[k].late >= study.cases[best].late)) continue;
    best = k;
    found = true;
  }
  return best;
}

} // namespace

std::vector<TickStudy> study_ticks(const Feel& feel, const Take& take) {
  std::vector<TickStudy> out;
  if (take.tick.rate <= 0.0) return out;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    if (!channel.follow || feel.tracks[played_track(take, channel.follow->track)].in != TrackPlace::world) continue;
    TickStudy study{c, take.tick.rate, take.fps, fastest(feel, take, c), {}, 0};
    for (const auto order : {Tick::Order::camera_last, Tick::Order::camera_first, Tick::Order::on_tick})
      for (const bool blends : {false, true})
        study.cases.push_back(play_case(feel, take, {take.tick.rate, blends, order}, c));
    study.best = best_of(study);
    out.push_back(std::move(study));
  }
  return out;
}

} // namespace stasis
