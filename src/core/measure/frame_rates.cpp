#include "core/measure/frame_rates.hpp"

#include <algorithm>
#include <utility>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
std::vector<RateCase> usual_cases(const Take& take, const std::vector<double>& rates) {
  std::vector<RateCase> cases;
  const auto label = [](double fps) { return concise(fps, 6) + " fps"; };
  // That the game is slowed is no fault of the clock: it is in every play.
  Disturbance none, own = take.disturbance;
  none.speeds = std::exchange(own.speeds, {});
  if (own.any()) cases.push_back({fmt::format("{}, as written", label(take.fps)), take.fps, take.disturbance});
  for (const double fps : rates) cases.push_back({label(fps), fps, none});
  constexpr double usual = 60.0;
  Disturbance jitter = none, stalls = none;
  jitter.jitter = 0.5;
  jitter.seed = stalls.seed = take.disturbance.seed;
  stalls.random_stalls = {1.0, 0.05, 0.25};
  cases.push_back({label(usual) + ", jitter", usual, jitter});
  cases.push_back({label(usual) + ", stalls", usual, stalls});
  return cases;
}

std::optional<double> RatesAccount::share(std::size_t channel, double size) const noexcept {
  if (largest_move[channel] <= 0.0) return std::nullopt;
  return 100.0 * size / largest_move[channel];
}

std::size_t RatesAccount::worst_play(std::size_t channel) const noexcept {
  const auto size_in = [&](std::size_t play) { return judged_by(channel, plays[play]).size; };
  std::size_t worst = 0;
  for (std::size_t p = 1; p < plays.size(); ++p)
    if (size_in(p) > size_in(worst)) worst = p;
  return worst;
}

bool RatesAccount::has_rule_error(std::size_t channel) const noexcept {
  return std::any_of(plays.begin(), plays.end(), [&](const RatePlay& play) {
    return is_noticeable(channel, play.channels[channel].rule_error.size);
  });
}

const Deviation& RatesAccount::judged_by(std::size_t channel, const RatePlay& play) const noexcept {
  return has_rule_error(channel) ? play.channels[channel].rule_error : play.channels[channel].spread;
}

bool RatesAccount::is_noticeable(std::size_t channel, double size) const noexcept {
  constexpr double rounding = 1e-11;
  return size > rounding * std::max(largest_move[channel], largest_value[channel]);
}

std::optional<std::size_t> RatesAccount::worst_channel() const noexcept {
  std::optional<std::size_t> worst;
  std::array<double, 3> most{};
  for (std::size_t c = 0; c < largest_move.size(); ++c) {
    const double size = judged_by(c, plays[worst_play(c)]).size;
    if (!is_noticeable(c, size)) continue;
    const auto part = share(c, size);
    const std::array<double, 3> here{has_rule_error(c) ? 1.0 : 0.0, part ? 1.0 : 0.0, part.value_or(size)};
    if (worst && here <= most) continue;
    worst = c;
    most = here;
  }
  return worst;
}

Feel continuous_feel(const Feel& feel) {
  Feel out = feel;
  for (NamedMotion& named : out.motions)
    if (const auto* rule = std::get_if<PerFrame>(&named.motion)) named.motion = continuous_form(*rule);
  const double usual_fps = feel.takes.empty() ? 60.0 : feel.takes.front().fps;
  for (Control& control : out.controls) drop_frame_habit(control, usual_fps);
  return out;
}

} // namespace stasis
