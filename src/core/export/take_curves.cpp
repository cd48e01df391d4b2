#include "core/export/take_curves.hpp"

#include <algorithm>
#include <cmath>

#include "core/component_ref.hpp"
#include "core/space/space.hpp"

namespace stasis {
namespace {

/// The slope of a column by its neighbours, where no rule tells it.
void take_differences(std::vector<SlopedSample>& samples) {
  const std::size_t count = samples.size();
  for (std::size_t k = 0; k < count && count > 1; ++k) {
    const SlopedSample &a = samples[k > 0 ? k - 1 : 0], &b = samples[std::min(k + 1, count - 1)];
    samples[k].slope_in = samples[k].slope_out = (b.value - a.value) / (b.time - a.time);
  }
}

} // namespace

double TakeCurve::way() const noexcept {
  if (samples.empty()) return 0.0;
  const auto [low, high] = std::minmax_element(
      samples.begin(), samples.end(), [](const SlopedSample& a, const SlopedSample& b) { return a.value < b.value; });
  return high->value - low->value;
}

void TakeCurvesSink::begin(const Scene& scene) {
  scene_ = scene;
  for (std::size_t c = 0; c < scene.feel->channels.size(); ++c) {
    frames_.emplace_back(*scene.feel, c, scene_.clock);
    for (std::size_t i = 0; i < scene.feel->channels[c].components; ++i)
      curves_.push_back({component_name(scene.feel->channels[c], i), c, {}});
  }
}

void TakeCurvesSink::consume(const Block& block) {
  std::size_t at = 0;
  for (std::size_t c = 0; c < scene_.feel->channels.size(); ++c) {
    const Channel& channel = scene_.feel->channels[c];
    frames_[c].enter(block);
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
      const ChannelFrame& frame = frames_[c].at(row);
      const ChannelInstant end = frame.at(frame.dt, Side::before);
      for (std::size_t i = 0; i < channel.components; ++i) {
        TakeCurve& curve = curves_[at + i];
        const ComponentBlock& component = block.channels[c].component[i];
        const double time = scene_.clock.drawn_time(block.first + static_cast<std::int64_t>(row));
        const double slope = component.velocity[row];
        curve.samples.push_back(
            {time, component.value[row], curve.samples.empty() ? slope : curve.coming.value_or(0.0), slope});
        // As the motion comes to the next frame; at rest where its range holds it.
        const double next = from_space(channel.space, end[i].value);
        const bool is_held = next < channel.range[i].low || next > channel.range[i].high;
        curve.coming = is_held ? 0.0 : end[i].velocity * stretch(channel.space, next);
        const double off = std::fabs(component.value[row] - component.smooth[row]);
        constexpr double unseen = 1e-12;
        if (!std::isfinite(slope) || !std::isfinite(*curve.coming)
            || off > unseen * (1.0 + std::fabs(component.smooth[row])))
          curve.own_slopes = false;
      }
    }
    at += channel.components;
  }
}

void TakeCurvesSink::end() {
  for (TakeCurve& curve : curves_)
    if (!curve.own_slopes) take_differences(curve.samples);
}

} // namespace stasis
