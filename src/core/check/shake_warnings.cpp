// What can look wrong with shakes.
#include <cmath>

#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

/// Frame rates at which a shake should look as it was made.
constexpr std::array usual_rates{30.0, 60.0, 120.0};
/// A cut that leaves more than this share of the peak is felt.
constexpr double felt_at_cut = 0.05;

void warn_of(std::vector<Warning>& out, std::string code, const Shake& shake, std::string message,
             std::string take = {}) {
  out.push_back({std::move(code), shake.name, std::move(take), std::move(message), {}});
}

void warn_of_folding(const Shake& shake, std::vector<Warning>& out) {
  const auto spectrum = spectrum_of(shake.wave);
  if (!spectrum) return;
  std::string rates;
  for (const double rate : usual_rates)
    if (spectrum->most_power_below > 0.5 * rate) rates += (rates.empty() ? "" : " and ") + concise(rate);
  if (rates.empty()) return;
  warn_of(out, "shake_folds", shake,
          fmt::format("95 % of the power of {} lies below {} Hz, more than half of {} frames a second", shake.name,
                      readable(spectrum->most_power_below), rates));
}

void warn_of_frame_rules(const Shake& shake, std::vector<Warning>& out) {
  if (std::holds_alternative<FrameWave>(shake.wave))
    warn_of(out, "shake_per_frame", shake, fmt::format("{} takes a new random value on each frame", shake.name));
  if (shake.decay.kind == Decay::Kind::per_frame) {
    const Decay& decay = shake.decay;
    const double half_life = *half_life_of(decay, decay.at_fps);
    const std::string rule = decay.amount ? fmt::format("loses {} on each frame", concise(*decay.amount))
                                          : fmt::format("shrinks to {} on each frame", concise(decay.factor));
    if (decay.runs_below_zero)
      return warn_of(
          out, "shake_grows", shake,
          fmt::format("{} {} and nothing stops it at zero: from frame {} after a full hit, it shakes harder and harder",
                      shake.name, rule, concise(std::ceil(1.0 / *decay.amount))));
    warn_of(out, "shake_per_frame", shake,
            fmt::format("{} {}: half after {} s at {} fps, but after {} s at half that rate. {} is the same everywhere",
                        shake.name, rule, readable(half_life), concise(decay.at_fps), readable(2.0 * half_life),
                        same_at_any_rate(decay)));
  }
}

/// How far a shake shakes a channel of one component; 0 if not at all.
double amplitude_on(const Shake& shake, std::size_t channel) {
  double amplitude = 0.0;
  for (const ShakeTarget& target : shake.targets)
    if (target.component.channel == channel) amplitude += target.amplitude;
  return amplitude;
}

/// True if all components swing together: of other waves each goes its own way.
bool swings_as_one(const Wave& wave) {
  const auto* stride = std::get_if<StrideWave>(&wave);
  return std::holds_alternative<RingWave>(wave) || (stride != nullptr && stride->phase);
}

/// A flat view whose height and width are not shaken in proportion, at each instant.
void warn_of_stretching(const Feel& feel, const Shake& shake, std::vector<Warning>& out) {
  const Picture& picture = feel.picture;
  if (!picture.height_channel || !picture.width_channel) return;
  const Channel &tall = feel.channels[*picture.height_channel], &wide = feel.channels[*picture.width_channel];
  const double height = amplitude_on(shake, *picture.height_channel) / tall.rest[0],
               width = amplitude_on(shake, *picture.width_channel) / wide.rest[0];
  if (height == 0.0 && width == 0.0) return;
  constexpr double unseen = 1e-3;
  if (swings_as_one(shake.wave) && std::fabs(height - width) <= unseen * std::max(std::fabs(height), std::fabs(width)))
    return;
  const std::string how =
      height != 0.0 && width != 0.0
          ? fmt::format("{} and {} {}", tall.name, wide.name,
                        swings_as_one(shake.wave) ? "out of proportion" : "each by its own wave")
          : fmt::format("{} and not {}", (height != 0.0 ? tall : wide).name, (height != 0.0 ? wide : tall).name);
  warn_of(out, "stretched_picture", shake,
          fmt::format("{} shakes {}: the picture is stretched back and forth", shake.name, how));
}

} // namespace

void warn_of_shakes(const Feel& feel, std::vector<Warning>& out) {
  for (const Shake& shake : feel.shakes) {
    if (shake.muted) continue;
    warn_of_stretching(feel, shake, out);
    warn_of_folding(shake, out);
    warn_of_frame_rules(shake, out);
    if (shake.stacking == Stacking::latest)
      warn_of(out, "shake_latest", shake, fmt::format("{} feels only its last hit", shake.name));
    if (const auto left = left_at_cut(shake.decay, shake.decay.at_fps); left && *left > felt_at_cut)
      warn_of(out, "shake_cut", shake,
              fmt::format("{} is cut after {} s with {} % of its strength left", shake.name,
                          concise(*shake.decay.stop_after), readable(100.0 * *left)));
  }
}

void warn_of_shakes(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out) {
  for (std::size_t s = 0; s < feel.shakes.size() && s < measures.shakes.size(); ++s) {
    const Shake& shake = feel.shakes[s];
    if (shake.muted) continue;
    for (const ShakePart& part : measures.shakes[s].parts) {
      const Channel& channel = feel.channels[part.component.channel];
      const std::string name = component_name(channel, part.component.component);
      if (part.margin_pixels && feel.picture.margin && *part.margin_pixels > *feel.picture.margin)
        warn_of(out, "shake_beyond_margin", shake,
                fmt::format("{} shifts the picture by {} px, but {} px are drawn beyond its edges", shake.name,
                            readable(*part.margin_pixels), concise(*feel.picture.margin)),
                take.name);
      if (part.leaves_range)
        warn_of(
            out, "shake_out_of_range", shake,
            fmt::format("{} takes {} out of its range, first at {} s", shake.name, name, concise(*part.leaves_range)),
            take.name);
      const auto unit = find_unit(channel.unit);
      // Where the picture places an eye in space, all that rolls it is told together.
      if (!measures.camera.most_roll && feel.picture.most_roll && feel.picture.roll == part.component.channel && unit
          && convert(part.peak, *unit, *find_unit("deg")) > *feel.picture.most_roll)
        warn_of(out, "uncomfortable_roll", shake,
                fmt::format("{} rolls the camera by {} {}, at {} s", shake.name, readable(part.peak), channel.unit,
                            concise(part.peak_at)),
                take.name);
    }
  }
}

} // namespace stasis
