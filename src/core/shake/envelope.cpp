#include "core/shake/envelope.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/root.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

constexpr double endless = std::numeric_limits<double>::infinity();

/// What comes after attack and hold, without the cut.
double decayed(const Decay& decay, double t, double frames) noexcept {
  const double left = std::max(0.0, 1.0 - t / decay.duration);
  switch (decay.kind) {
  case Decay::Kind::none: return 1.0;
  case Decay::Kind::half_life: {
    const double share = std::exp2(-t / decay.half_life);
    return share < decay.until ? 0.0 : share;
  }
  case Decay::Kind::linear: return left;
  case Decay::Kind::power: return std::pow(left, decay.exponent);
  case Decay::Kind::eased:
    return left == 0.0 ? 0.0 : std::clamp(1.0 - evaluate(*decay.curve, t / decay.duration).value, 0.0, 1.0);
  case Decay::Kind::per_frame: {
    if (decay.amount) {
      const double left_over = 1.0 - *decay.amount * frames;
      return decay.runs_below_zero ? std::fabs(left_over) : std::max(0.0, left_over);
    }
    const double share = std::pow(decay.factor, frames);
    return share < decay.until ? 0.0 : share;
  }
  }
  return 0.0;
}

double before_cut(const Decay& decay, double since, double frames_since) noexcept {
  if (since < decay.attack) return since / decay.attack;
  const double t = since - decay.attack - decay.hold;
  if (t <= 0.0) return 1.0;
  // Frames are counted from where the decay begins.
  return decayed(decay, t, frames_since * (t / since));
}

} // namespace

std::string_view name_of(Decay::Kind kind) noexcept {
  constexpr std::array<std::string_view, 6> names{"none", "half_life", "linear", "power", "eased", "per_frame"};
  return names[static_cast<std::size_t>(kind)];
}

double envelope_at(const Decay& decay, double since, double frames_since) noexcept {
  if (since < 0.0 || (decay.stop_after && since >= *decay.stop_after)) return 0.0;
  return before_cut(decay, since, frames_since);
}

std::optional<double> half_life_of(const Decay& decay, double fps) noexcept {
  switch (decay.kind) {
  case Decay::Kind::none: return std::nullopt;
  case Decay::Kind::half_life: return decay.half_life;
  case Decay::Kind::linear: return 0.5 * decay.duration;
  case Decay::Kind::power: return decay.duration * (1.0 - std::exp2(-1.0 / decay.exponent));
  case Decay::Kind::eased: return time_above(decay, 0.5, fps) - decay.attack - decay.hold;
  case Decay::Kind::per_frame:
    return decay.amount ? 0.5 / (*decay.amount * fps) : -std::numbers::ln2 / (fps * std::log(decay.factor));
  }
  return std::nullopt;
}

std::string same_at_any_rate(const Decay& per_frame) {
  constexpr int digits = 6;
  const double half_life = half_life_of(per_frame, per_frame.at_fps).value_or(0.0);
  return per_frame.amount ? fmt::format("kind = \"linear\", duration = {}", concise(2.0 * half_life, digits))
                          : fmt::format("kind = \"half_life\", half_life = {}", concise(half_life, digits));
}

double end_of(const Decay& decay, double fps) noexcept {
  const double before = decay.attack + decay.hold;
  double end = endless;
  switch (decay.kind) {
  case Decay::Kind::none: break;
  case Decay::Kind::half_life: end = before - decay.half_life * std::log2(decay.until); break;
  case Decay::Kind::linear:
  case Decay::Kind::power:
  case Decay::Kind::eased: end = before + decay.duration; break;
  case Decay::Kind::per_frame:
    if (!decay.amount) end = before + std::log(decay.until) / std::log(decay.factor) / fps;
    if (decay.amount && !decay.runs_below_zero) end = before + 1.0 / (*decay.amount * fps);
    break;
  }
  return decay.stop_after ? std::min(end, *decay.stop_after) : end;
}

double time_above(const Decay& decay, double share, double fps) noexcept {
  const double end = end_of(decay, fps);
  if (std::isinf(end)) return end;
  const auto strength = [&](double since) { return before_cut(decay, since, since * fps); };
  const double falls_from = decay.attack + decay.hold;
  if (end <= falls_from || strength(std::nextafter(end, 0.0)) >= share) return end;
  return change_between([&](double since) { return strength(since) >= share; }, falls_from, end).second;
}

std::optional<double> left_at_cut(const Decay& decay, double fps) noexcept {
  if (!decay.stop_after) return std::nullopt;
  const double left = before_cut(decay, *decay.stop_after, *decay.stop_after * fps);
  return left > 0.0 ? std::optional(left) : std::nullopt;
}

} // namespace stasis
