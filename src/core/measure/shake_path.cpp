#include "core/measure/shake_path.hpp"

#include "core/take/shaker.hpp"

namespace stasis {

FrameSpan span_of(const Clock& clock, const Block& block, std::size_t row) {
  const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
  return {frame, clock.time(frame), clock.dt(frame)};
}

ShakePath::ShakePath(const Scene& scene, std::size_t shake)
    : feel_(*scene.feel), clock_(scene.clock.of(feel_.shakes[shake].runs_on)), shake_(feel_.shakes[shake]),
      stack_(shake_), parts_(shake_.targets.size()) {
  for (std::size_t t = 0; t < shake_.targets.size(); ++t) streams_.push_back(wave_of_target(feel_, shake_, t));
  const auto* stride = std::get_if<StrideWave>(&shake_.wave);
  if (stride == nullptr) return;
  const Track& track = feel_.tracks[played_track(*scene.take, stride->track)];
  reader_.emplace(track, scene.take->tick);
  way_.emplace(track);
}

void ShakePath::enter(const Block& block) {
  const double begin = clock_.time(block.first);
  if (way_) way_->go_on(begin, *reader_);
  if (reader_) reader_->enter(begin);
  stack_.forget(begin);
}

void ShakePath::look_at(const FrameSpan& frame, double u, SceneFrames& frames) {
  const double time = time_ = frame.begin + u;
  frame_ = static_cast<double>(frame.number) + u / frame.dt;
  const double in_game = frames.game_seconds(u, shake_.runs_on);
  const ReadComponent read = [&](ComponentRef component) { return frames.smooth(component, in_game); };
  amplitude_ = stack_.amplitude(time, frame_) + level_of(shake_, read);
  if (way_) way_->go_on(time, *reader_);
  const WaveTime when{time, frame.number, way_ ? way_->way() : 0.0};
  for (std::size_t t = 0; t < parts_.size(); ++t) parts_[t] = part_of(shake_, stack_, streams_[t], t, amplitude_, when);
  if (shake_.in_view) turn_into(camera_view(feel_, read), feel_, shake_, parts_);
}

} // namespace stasis
