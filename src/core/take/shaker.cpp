#include "core/take/shaker.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

Shaker::Shaker(const Feel& feel, std::size_t shake, const Take& take, const std::vector<TrackReader>& readers)
    : feel_(feel), shake_(feel.shakes[shake]), stack_(shake_) {
  if (const auto* stride = std::get_if<StrideWave>(&shake_.wave)) {
    const std::size_t track = played_track(take, stride->track);
    reader_ = &readers[track];
    way_.emplace(feel.tracks[track]);
  }
  for (std::size_t t = 0; t < shake_.targets.size(); ++t) streams_.push_back(wave_of_target(feel, shake_, t));
}

void Shaker::hit(const Cue& cue, std::int64_t frame, const Clock& clock, const std::optional<Components>& eye) {
  double strength = cue.amount;
  if (shake_.falloff && cue.place && eye) {
    Components place{};
    std::copy_n(cue.place->begin(), std::min(cue.place->size(), most_components), place.begin());
    const double distance = length_of(plus(*eye, place, -1.0));
    strength *=
        1.0 - std::clamp((distance - shake_.falloff->near) / (shake_.falloff->far - shake_.falloff->near), 0.0, 1.0);
  }
  if (strength <= 0.0) return;
  stack_.hit({time_of(clock, frame), frame, strength, cue.direction});
  new_hits_.push_back({clock.time(frame, shake_.runs_on), strength, cue.direction});
}

void Shaker::fill(const Block& block, const Clock& clock, const ReadRow& read, ShakeBlock& out) {
  const auto rows = static_cast<std::size_t>(block.count);
  out.parts.resize(shake_.targets.size());
  out.hits = new_hits_;
  stack_.forget(time_of(clock, block.first));
  out.is_felt = !shake_.muted && (shake_.always || !stack_.is_quiet());
  out.amplitude.assign(out.is_felt ? rows : 0, 0.0);
  for (auto& part : out.parts) part.assign(out.is_felt ? rows : 0, 0.0);
  for (std::size_t row = 0; row < rows && (out.is_felt || way_); ++row) {
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    const double time = time_of(clock, frame);
    if (way_) way_->go_on(clock.time(frame, shake_.runs_on), *reader_); // steps go by game time
    if (!out.is_felt) continue;
    out.amplitude[row] = stack_.amplitude(time, static_cast<double>(frame)) + level_of(shake_, read(row));
    const WaveTime when{time, frame, way_ ? way_->way() : 0.0};
    parts_.clear();
    for (std::size_t t = 0; t < shake_.targets.size(); ++t)
      parts_.push_back(part_of(shake_, stack_, streams_[t], t, out.amplitude[row], when));
    if (shake_.in_view) turn_into(camera_view(feel_, read(row)), feel_, shake_, parts_);
    for (std::size_t t = 0; t < shake_.targets.size(); ++t) out.parts[t][row] = parts_[t];
  }
}

WaveStream wave_of_target(const Feel& feel, const Shake& shake, std::size_t target) {
  const ComponentRef component = shake.targets[target].component;
  const std::string& channel = feel.channels[component.channel].name;
  return {shake.wave, wave_stream(shake.seed, shake.name, channel, component.component), target};
}

double level_of(const Shake& shake, const ReadComponent& read) {
  if (!shake.always) return 0.0;
  return std::max(0.0, shake.level_channel ? read(*shake.level_channel) : shake.level);
}

// many: a shake, its hits and wave; which target, when
double part_of(const Shake& shake, const ShakeStack& stack, WaveStream& stream, std::size_t target, double amplitude,
               const WaveTime& when) noexcept {
  if (std::holds_alternative<RingWave>(shake.wave)) return stack.ring(target, when.time);
  return amplitude == 0.0 ? 0.0 : shake.targets[target].amplitude * amplitude * stream.at(when);
}

void turn_into(const CameraView& view, const Feel& feel, const Shake& shake, std::vector<double>& parts) {
  for (std::size_t t = 0; t < shake.targets.size();) {
    const std::size_t channel = shake.targets[t].component.channel, components = feel.channels[channel].components;
    if (components > 1) {
      Components along{};
      for (std::size_t i = 0; i < components; ++i) along[i] = parts[t + i];
      const Components turned = view.axes.sum(along);
      for (std::size_t i = 0; i < components; ++i) parts[t + i] = turned[i];
    }
    t += components;
  }
}

} // namespace stasis
