#include "core/take/shaker.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

namespace stasis {

Shaker::Shaker(const Feel& feel, std::size_t shake, const Take& take, std::vector<TrackReader>& readers)
    : feel_(feel), shake_(feel.shakes[shake]), take_(take), readers_(readers), stack_(shake_) {
  for (std::size_t t = 0; t < shake_.targets.size(); ++t) {
    const ComponentRef component = shake_.targets[t].component;
    const std::uint64_t stream =
        wave_stream(shake_.seed, shake_.name, feel.channels[component.channel].name, component.component);
    streams_.emplace_back(shake_.wave, stream, t);
  }
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
  stack_.hit({clock.time(frame), frame, strength, cue.direction});
  new_hits_.push_back({clock.time(frame), strength});
}

double Shaker::level_at(const ReadComponent& read) const {
  if (!shake_.always) return 0.0;
  return std::max(0.0, shake_.level_channel ? read(*shake_.level_channel) : shake_.level);
}

/// The way that the track goes between two times: by its speed, row by row.
void Shaker::add_way(double from, double to) {
  const TrackReader& reader = readers_[played_track(take_, std::get<StrideWave>(shake_.wave).track)];
  std::vector<double> corners{from};
  reader.add_corners(from, to, corners);
  corners.push_back(to);
  for (std::size_t k = 1; k < corners.size(); ++k) {
    const double a = corners[k - 1], b = corners[k], middle = 0.5 * (a + b);
    // Gauss's three points; between rows the place goes straight and the chord is the way.
    const bool is_recorded = std::holds_alternative<std::shared_ptr<const RecordedPath>>(
        feel_.tracks[played_track(take_, std::get<StrideWave>(shake_.wave).track)].path);
    if (is_recorded) {
      way_ += length_of(plus(reader.at(b).place, reader.at(a).place, -1.0));
      continue;
    }
    const double off = 0.5 * (b - a) * std::sqrt(0.6);
    const auto speed = [&](double t) { return length_of(reader.at(t).velocity); };
    way_ += (b - a) * (5.0 * speed(middle - off) + 8.0 * speed(middle) + 5.0 * speed(middle + off)) / 18.0;
  }
}

double Shaker::part_of(std::size_t target, double amplitude, const WaveTime& when) noexcept {
  if (std::holds_alternative<RingWave>(shake_.wave)) return stack_.ring(target, when.time);
  return amplitude == 0.0 ? 0.0 : shake_.targets[target].amplitude * amplitude * streams_[target].at(when);
}

/// Places were meant along the camera's axes.
void Shaker::turn(std::size_t row, const CameraView& view, ShakeBlock& out) const {
  for (std::size_t t = 0; t < shake_.targets.size();) {
    const std::size_t channel = shake_.targets[t].component.channel, components = feel_.channels[channel].components;
    if (components > 1) {
      Components along{};
      for (std::size_t i = 0; i < components; ++i) along[i] = out.parts[t + i][row];
      const Components turned = view.axes.sum(along);
      for (std::size_t i = 0; i < components; ++i) out.parts[t + i][row] = turned[i];
    }
    t += components;
  }
}

void Shaker::fill(const Block& block, const Clock& clock, const ReadRow& read, ShakeBlock& out) {
  const auto rows = static_cast<std::size_t>(block.count);
  const bool strides = std::holds_alternative<StrideWave>(shake_.wave);
  out.parts.resize(shake_.targets.size());
  out.hits = std::exchange(new_hits_, {});
  stack_.forget(clock.time(block.first));
  out.is_felt = !shake_.muted && (shake_.always || !stack_.is_quiet());
  out.amplitude.assign(out.is_felt ? rows : 0, 0.0);
  for (auto& part : out.parts) part.assign(out.is_felt ? rows : 0, 0.0);
  for (std::size_t row = 0; row < rows && (out.is_felt || strides); ++row) {
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    const double time = clock.time(frame);
    if (strides && time > way_at_) {
      add_way(way_at_, time);
      way_at_ = time;
    }
    if (!out.is_felt) continue;
    out.amplitude[row] = stack_.amplitude(time, frame) + level_at(read(row));
    const WaveTime when{time, frame, way_};
    for (std::size_t t = 0; t < shake_.targets.size(); ++t) out.parts[t][row] = part_of(t, out.amplitude[row], when);
    if (shake_.in_view) turn(row, camera_view(feel_, read(row)), out);
  }
}

} // namespace stasis
