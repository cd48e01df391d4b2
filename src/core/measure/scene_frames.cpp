#include "core/measure/scene_frames.hpp"

namespace stasis {

Smooth output_in_unit(const Channel& channel, std::size_t component, const Instant& state) noexcept {
  const SpaceRates rates = rates_at(channel.space, state.value);
  const ComponentRange range = output_range(channel, component);
  if (rates.value < range.low) return {range.low};
  if (rates.value > range.high) return {range.high};
  const double v = state.velocity;
  return {rates.value, rates.first * v, rates.first * state.acceleration + rates.second * v * v,
          rates.first * state.jerk + 3.0 * rates.second * v * state.acceleration + rates.third * v * v * v};
}

SceneFrames::SceneFrames(const Scene& scene) : scene_(scene) {
  for (std::size_t c = 0; c < scene.feel->channels.size(); ++c)
    channels_.push_back({ChannelFrames(*scene.feel, c, scene.clock)});
}

void SceneFrames::enter(const Block& block) {
  block_ = &block;
  row_ = 0;
  for (Read& read : channels_) read.entered = false;
}

const ChannelFrame& SceneFrames::frame(std::size_t channel) {
  Read& read = channels_[channel];
  if (!read.entered) read.frames.enter(*block_);
  if (read.entered && read.row == row_) return read.frames.last();
  read.entered = true;
  read.row = row_;
  return read.frames.at(row_);
}

double SceneFrames::smooth(ComponentRef component, double u, Side side) { return output(component, u, side).value; }

Smooth SceneFrames::output(ComponentRef component, double u, Side side) {
  const ChannelFrame& read = frame(component.channel);
  const Channel& channel = scene_.feel->channels[component.channel];
  // Axes mix components; else only the one is worked out.
  if (read.axes != nullptr) return output_in_unit(channel, component.component, read.at(u, side)[component.component]);
  return output_in_unit(channel, component.component, read.component_at(component.component, u, side));
}

} // namespace stasis
