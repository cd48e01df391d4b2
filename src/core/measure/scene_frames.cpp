#include "core/measure/scene_frames.hpp"

namespace stasis {

Smooth in_unit(const Channel& channel, const Instant& state) noexcept {
  const SpaceRates rates = rates_at(channel.space, state.value);
  const double v = state.velocity;
  return {rates.value, rates.first * v, rates.first * state.acceleration + rates.second * v * v,
          rates.first * state.jerk + 3.0 * rates.second * v * state.acceleration + rates.third * v * v * v};
}

Smooth output_in_unit(const Channel& channel, std::size_t component, const Instant& state) noexcept {
  const Smooth free = in_unit(channel, state);
  const ComponentRange range = output_range(channel, component);
  if (free.value < range.low) return {range.low};
  if (free.value > range.high) return {range.high};
  return free;
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
  read.state.reset();
  read.row = row_;
  return read.frames.at(row_);
}

double SceneFrames::smooth(ComponentRef component, double u, Side side) { return output(component, u, side).value; }

Smooth SceneFrames::output(ComponentRef component, double u, Side side) {
  const ChannelFrame& now = frame(component.channel);
  Read& read = channels_[component.channel];
  // Whoever reads one component mostly reads the others, and at one instant.
  if (!read.state || read.u != u || read.side != side) {
    // Evenly within a frame, as all that is told at frames.
    const RunsOn by = scene_.feel->channels[moved_channel(*scene_.feel, component.channel)].runs_on;
    read.state = now.at(by == RunsOn::game ? u : u * now.dt / dt(), side);
    read.u = u;
    read.side = side;
  }
  return output_in_unit(scene_.feel->channels[component.channel], component.component,
                        (*read.state)[component.component]);
}

} // namespace stasis
