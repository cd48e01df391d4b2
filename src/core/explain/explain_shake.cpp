// Shakes in words.
#include <cmath>

#include <fmt/format.h>

#include "core/explain/explain.hpp"
#include "core/measure/shake_measures.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::string wave_in_words(const Feel& feel, const Shake& shake) {
  if (const auto* noise = std::get_if<NoiseWave>(&shake.wave)) {
    const WaveSpectrum spectrum = *spectrum_of(shake.wave);
    return fmt::format("rattles at {} Hz, smooth noise{}, 95 % of it below {} Hz", concise(noise->frequency),
                       noise->octaves > 1 ? fmt::format(" of {} octaves", noise->octaves) : "",
                       readable(spectrum.most_power_below));
  }
  if (const auto* sines = std::get_if<SinesWave>(&shake.wave))
    return fmt::format("sways at {} Hz, by four sines that never repeat together", concise(sines->frequency));
  if (const auto* ring = std::get_if<RingWave>(&shake.wave))
    return fmt::format("rings like a kicked spring of {} Hz and damping ratio {}", concise(ring->frequency),
                       concise(ring->damping_ratio));
  if (const auto* jitter = std::get_if<JitterWave>(&shake.wave))
    return fmt::format("jumps to a new value {} times a second", concise(jitter->rate));
  if (const auto* stride = std::get_if<StrideWave>(&shake.wave))
    return fmt::format("swings once for every {} that {} goes{}", concise(stride->length),
                       feel.tracks[stride->track].name,
                       stride->phase ? fmt::format(", beginning at {} of a swing", concise(*stride->phase)) : "");
  return "takes a new random value on each frame: harsh, and different at each frame rate";
}

/// How the sizes of a wave relate to its limit.
std::string size_in_words(const Shake& shake) {
  const WaveSize size = size_of(shake.wave);
  if (size.rms == 0.0) return "";
  return fmt::format(" (these are limits: its RMS is {} of them, its typical peak {} of them{})", concise(size.rms, 3),
                     concise(size.typical_peak, 3),
                     shake.share_stated
                         ? fmt::format("; `on` gives its {}", *shake.share_stated == size.rms ? "RMS" : "typical peak")
                         : "");
}

std::string decay_in_words(const Shake& shake) {
  const Decay& decay = shake.decay;
  const auto* ring = std::get_if<RingWave>(&shake.wave);
  const auto half_life = ring != nullptr ? std::optional(ring_half_life(*ring)) : half_life_of(decay, decay.at_fps);
  if (!half_life) return "";
  std::string words;
  if (decay.attack > 0.0) words += fmt::format("; it swells for {} s", concise(decay.attack));
  if (decay.hold > 0.0) words += fmt::format("; it stays so for {} s", concise(decay.hold));
  if (decay.runs_below_zero)
    return words
           + fmt::format("; each frame takes away {} of full strength, and nothing stops it at zero: after {} frames "
                         "it grows again, without end",
                         concise(*decay.amount), concise(std::ceil(1.0 / *decay.amount)));
  words += fmt::format("; falls to half in {} s{}; under {} % {} s after a full-strength hit", readable(*half_life),
                       decay.attack + decay.hold > 0.0 ? " more" : "", concise(100.0 * shake.quiet_below),
                       readable(gone_after(shake, 1.0, shake.decay.at_fps)));
  if (decay.kind == Decay::Kind::per_frame)
    words +=
        fmt::format(" at {} frames a second, and takes twice as long at half as many (the same at any frame rate: {})",
                    concise(decay.at_fps), same_at_any_rate(decay));
  if (const auto left = left_at_cut(decay, decay.at_fps))
    words += fmt::format("; {} s after the hit it is cut off with {} % left", concise(*decay.stop_after),
                         readable(100.0 * *left));
  return words;
}

std::string stacking_in_words(const Shake& shake) {
  std::string words;
  switch (shake.stacking) {
  case Stacking::largest: words = "of several hits, the strongest at each moment is felt"; break;
  case Stacking::sum: words = "several hits add up"; break;
  case Stacking::root_sum: words = "several hits add up as the root of the sum of their squares"; break;
  case Stacking::latest: words = "a hit wipes out those before it, even if it is small"; break;
  }
  if (std::isfinite(shake.cap)) words += fmt::format(", {} at most", concise(shake.cap));
  return words;
}

} // namespace

std::string shake_in_words(const Feel& feel, const Shake& shake) {
  std::string words = wave_in_words(feel, shake) + "; at full strength up to ";
  for (std::size_t t = 0; t < shake.targets.size(); ++t) {
    const Channel& channel = feel.channels[shake.targets[t].component.channel];
    words +=
        fmt::format("{}{} {}{}", t > 0 ? ", " : "", component_name(channel, shake.targets[t].component.component),
                    concise(shake.targets[t].amplitude), channel.unit.empty() ? "" : " " + printable(channel.unit, 16));
  }
  words += size_in_words(shake);
  words += decay_in_words(shake);
  if (shake.always)
    words +=
        shake.level_channel
            ? fmt::format("; it is always there, as strong as the channel {}",
                          component_name(feel.channels[shake.level_channel->channel], shake.level_channel->component))
            : fmt::format("; it is always there, at strength {}", concise(shake.level));
  if (!shake.always || shake.decay.kind != Decay::Kind::none) words += "; " + stacking_in_words(shake);
  for (const NamedStrength& one : shake.strengths)
    words += fmt::format("; {} is strength {}", one.name, concise(one.strength));
  if (shake.falloff)
    words += fmt::format("; felt at full strength up to {} from where it strikes, not at all from {} on",
                         concise(shake.falloff->near), concise(shake.falloff->far));
  if (shake.in_view) words += "; places are shaken along the camera's own axes";
  if (shake.runs_on == RunsOn::clock) words += "; it runs on the clock, as fast as ever in slow motion";
  return words + "; seed " + std::to_string(shake.seed);
}

} // namespace stasis
