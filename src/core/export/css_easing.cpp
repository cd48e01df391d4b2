#include "core/export/css_easing.hpp"

#include <algorithm>
#include <cmath>
#include <functional>
#include <optional>
#include <utility>
#include <vector>

#include <fmt/format.h>

#include "core/curve/curve_facts.hpp"
#include "core/export/fewest_stops.hpp"
#include "core/motion/equivalent.hpp"
#include "core/overloaded.hpp"
#include "core/take/step_play.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// A step's values at some shares of its duration, ascending.
using Shape = std::function<std::vector<double>(const std::vector<double>& shares)>;

/// A decimal number without an exponent, zeros at its end left out.
std::string decimal(double value, int decimals) {
  std::string text = fmt::format("{:.{}f}", value, decimals);
  if (text.find('.') != std::string::npos) {
    text.erase(text.find_last_not_of('0') + 1);
    if (text.back() == '.') text.pop_back();
  }
  return text == "-0" ? "0" : text;
}

std::string in_css(const CubicBezier& bezier) {
  constexpr int decimals = 12;
  return fmt::format("cubic-bezier({}, {}, {}, {})", decimal(bezier.x1, decimals), decimal(bezier.y1, decimals),
                     decimal(bezier.x2, decimals), decimal(bezier.y2, decimals));
}

std::string in_css(const Steps& steps) {
  std::string_view jump;
  switch (steps.jump) {
  case StepJump::start: jump = "jump-start"; break;
  case StepJump::end: jump = "jump-end"; break;
  case StepJump::none: jump = "jump-none"; break;
  case StepJump::both: jump = "jump-both"; break;
  }
  return fmt::format("steps({}, {})", steps.count, jump);
}

std::string in_css(const LinearStops& linear) {
  std::string text;
  for (const LinearStop& stop : linear.stops)
    text +=
        fmt::format("{}{} {}%", text.empty() ? "" : ", ", decimal(stop.output, 15), decimal(100.0 * stop.input, 12));
  return fmt::format("linear({})", text);
}

/// Powers up to 3 and `back` are cubics in time, so that they are Beziers whose times go evenly.
std::optional<CubicBezier> bezier_of(const EaseShape& shape) {
  constexpr double third = 1.0 / 3.0;
  if (shape.direction == Direction::in_out) return std::nullopt;
  CubicBezier in{third, 0.0, 2.0 * third, 0.0};
  if (shape.kind == ShapeKind::back)
    in.y2 = -shape.amount * third;
  else if (shape.kind == ShapeKind::power && shape.amount == 2.0)
    in.y2 = third;
  else if (shape.kind != ShapeKind::power || shape.amount != 3.0)
    return std::nullopt;
  if (shape.direction == Direction::in) return in;
  return CubicBezier{1.0 - in.x2, 1.0 - in.y2, 1.0 - in.x1, 1.0 - in.y1};
}

/// The function as the standard has it; nothing where it has none.
std::optional<std::string> exact_css(const Curve& curve) {
  return std::visit(Overloaded{
                        [](const StraightLine&) { return std::optional<std::string>("linear"); },
                        [](const CubicBezier& bezier) { return std::optional(in_css(bezier)); },
                        [](const LinearStops& linear) { return std::optional(in_css(linear)); },
                        [](const Steps& steps) { return std::optional(in_css(steps)); },
                        [](const EaseShape& shape) {
                          const auto bezier = bezier_of(shape);
                          return bezier ? std::optional(in_css(*bezier)) : std::nullopt;
                        },
                        [](const PointsCurve&) { return std::optional<std::string>(); },
                    },
                    curve);
}

/// Sample times and what a straight piece between neighbours misses.
struct Samples {
  std::vector<double> shares, values;
  std::vector<double> missed; ///< by piece: largest distance of the shape from the chord

  double missed_around(std::size_t k) const {
    return std::max(k > 0 ? missed[k - 1] : 0.0, k < missed.size() ? missed[k] : 0.0);
  }
};

constexpr int looks = 8; ///< between two sample times

Samples sample(const Shape& shape, std::vector<double> shares) {
  std::vector<double> fine;
  for (std::size_t k = 0; k + 1 < shares.size(); ++k)
    for (int i = 0; i < looks; ++i) fine.push_back(shares[k] + (shares[k + 1] - shares[k]) * i / looks);
  fine.push_back(shares.back());
  const std::vector<double> values = shape(fine);
  Samples out{std::move(shares), {}, {}};
  for (std::size_t k = 0; k < out.shares.size(); ++k) out.values.push_back(values[k * looks]);
  for (std::size_t k = 0; k + 1 < out.shares.size(); ++k) {
    double missed = 0.0;
    for (int i = 1; i < looks; ++i) {
      const double chord = out.values[k] + (out.values[k + 1] - out.values[k]) * i / looks;
      missed = std::max(missed, std::fabs(values[k * looks + static_cast<std::size_t>(i)] - chord));
    }
    out.missed.push_back(missed);
  }
  return out;
}

/// Sample times so close that a straight piece between them misses a small part of the tolerance only.
Samples sample_closely(const Shape& shape, const std::vector<double>& corners, double tolerance) {
  constexpr int pieces = 200, rounds = 24;
  constexpr double small_part = 0.05;
  constexpr std::size_t most = 6000;
  std::vector<double> shares(corners);
  for (int k = 0; k <= pieces; ++k) shares.push_back(static_cast<double>(k) / pieces);
  std::sort(shares.begin(), shares.end());
  constexpr double one_place = 1e-9;
  shares.erase(std::unique(shares.begin(), shares.end(), [](double a, double b) { return b - a < one_place; }),
               shares.end());
  shares.back() = 1.0;
  Samples samples = sample(shape, shares);
  for (int round = 0; round < rounds && samples.shares.size() < most; ++round) {
    std::vector<double> closer;
    for (std::size_t k = 0; k < samples.missed.size(); ++k) {
      closer.push_back(samples.shares[k]);
      if (samples.missed[k] > small_part * tolerance)
        closer.push_back(0.5 * (samples.shares[k] + samples.shares[k + 1]));
    }
    closer.push_back(1.0);
    if (closer.size() == samples.shares.size()) break;
    samples = sample(shape, std::move(closer));
  }
  return samples;
}

/// The stops as the standard writes them.
std::string linear_text(const Samples& samples, const std::vector<TubeStop>& stops, int decimals) {
  std::string text;
  for (std::size_t k = 0; k < stops.size(); ++k) {
    const bool is_end = k == 0 || k + 1 == stops.size();
    const double value = is_end ? samples.values[stops[k].sample] : stops[k].value;
    text += (text.empty() ? "" : ", ") + decimal(value, decimals);
    if (!is_end) text += fmt::format(" {}%", decimal(100.0 * samples.shares[stops[k].sample], 9));
  }
  return fmt::format("linear({})", text);
}

/// Largest distance of a written function from the shape, looked for between the samples too.
double deviation_of(const std::string& text, const Shape& shape, const Samples& samples) {
  const auto written = parse_curve(text);
  std::vector<double> shares;
  for (std::size_t k = 0; k + 1 < samples.shares.size(); ++k)
    for (int i = 0; i < 2 * looks; ++i)
      shares.push_back(samples.shares[k] + (samples.shares[k + 1] - samples.shares[k]) * i / (2 * looks));
  shares.push_back(1.0);
  const auto values = shape(shares);
  double largest = 0.0;
  for (std::size_t k = 0; k < shares.size(); ++k)
    largest = std::max(largest, std::fabs(evaluate(*written, shares[k]).value - values[k]));
  return largest;
}

/// Fills in the fewest stops.
void fit(CssEasing& out, const Shape& shape, const std::vector<double>& corners, double tolerance, bool ends_at_one) {
  Samples samples = sample_closely(shape, corners, tolerance);
  if (ends_at_one) samples.values.back() = 1.0;
  // Where the samples themselves are too far apart for the tolerance, no choice of stops at them can hold.
  constexpr double least_room = 0.5;
  if (*std::max_element(samples.missed.begin(), samples.missed.end()) > least_room * tolerance) {
    out.fault = fmt::format("it turns too often for {} to be kept at {} samples; take a larger --tolerance",
                            concise(tolerance), samples.shares.size());
    return;
  }
  constexpr double rounding_part = 0.01;
  const int decimals = static_cast<int>(std::ceil(-std::log10(2.0 * rounding_part * tolerance)));
  double next_room = tolerance * (1.0 - rounding_part);
  while (next_room > 0.8 * tolerance) {
    const double room = std::exchange(next_room, 0.97 * next_room);
    std::vector<TubeSample> tube;
    for (std::size_t k = 0; k < samples.shares.size(); ++k) {
      const double half = std::max(room - samples.missed_around(k), 0.02 * tolerance);
      tube.push_back({samples.shares[k], samples.values[k] - half, samples.values[k] + half});
    }
    tube.front().low = tube.front().high = samples.values.front();
    tube.back().low = tube.back().high = samples.values.back();
    const auto stops = fewest_stops(tube, tube.size());
    if (!stops) continue;
    out.easing = linear_text(samples, *stops, decimals);
    out.stops = stops->size();
    out.deviation = deviation_of(out.easing, shape, samples);
    if (out.deviation <= tolerance) return;
  }
  out.easing.clear();
  out.fault = fmt::format("no list of stops was found that stays within {} of it", concise(tolerance));
}

/// When a step is within the tolerance of its goal for good, s; nothing where that takes too long.
std::optional<double> time_within(const Motion& motion, double tolerance) {
  constexpr int samples = 4000, doublings = 12;
  double length = long_enough(motion);
  for (int k = 0; k < doublings; ++k, length *= 2.0) {
    double from = 0.0, to = length;
    // Three times closer round the last sample that is too far off.
    for (int round = 0; round < 3; ++round) {
      std::vector<double> times;
      for (int i = 0; i <= samples; ++i) times.push_back(i == 0 ? 0.0 : from + (to - from) * i / samples);
      const auto values = step_values(motion, times);
      std::size_t last = values.size();
      while (last > 0 && std::fabs(values[last - 1] - 1.0) <= tolerance) --last;
      if (last == values.size() && round == 0) break; // still on its way
      if (last == 0) return to;
      from = times[last - 1];
      to = times[std::min(last, times.size() - 1)];
      if (round == 2 || to <= from) return to;
    }
  }
  return std::nullopt;
}

CssEasing of_ease(const Ease& ease, double tolerance) {
  CssEasing out;
  out.duration = ease.duration;
  out.delay = ease.delay;
  if (auto exact = exact_css(ease.curve)) {
    out.easing = std::move(*exact);
    out.is_exact = true;
    return out;
  }
  if (facts_of(ease.curve).jumps > 0) {
    out.fault = "its curve jumps";
    return out;
  }
  const Shape shape = [&](const std::vector<double>& shares) {
    std::vector<double> values;
    for (const double share : shares) values.push_back(evaluate(ease.curve, share).value);
    return values;
  };
  fit(out, shape, corners(ease.curve), tolerance, false);
  return out;
}

/// What has no end: a spring, a glide, stages.
CssEasing of_response(const Motion& motion, double tolerance) {
  CssEasing out;
  const auto within = time_within(motion, tolerance);
  if (!within) {
    out.fault = fmt::format("it does not come within {} of its goal in any useful time", concise(tolerance));
    return out;
  }
  constexpr double finest = 1e-3; // s, in which a duration is written
  out.duration = std::max(1.0, std::ceil(*within / finest)) * finest;
  out.is_cut = true;
  const Shape shape = [&](const std::vector<double>& shares) {
    std::vector<double> times;
    for (const double share : shares) times.push_back(share * out.duration);
    return step_values(motion, times);
  };
  std::vector<double> breaks;
  if (const double wait = wait_of(motion); wait > 0.0 && wait < out.duration) breaks.push_back(wait / out.duration);
  fit(out, shape, breaks, tolerance, true);
  return out;
}

CssEasing without(std::string fault) {
  CssEasing out;
  out.fault = std::move(fault);
  return out;
}

} // namespace

CssEasing css_easing(const Motion& motion, double tolerance) {
  if (const auto* ease = std::get_if<Ease>(&motion)) return of_ease(*ease, tolerance);
  if (const std::string_view why = facts_of(motion).no_curve; !why.empty()) return without(std::string(why));
  const auto* rule = std::get_if<PerFrame>(&motion);
  return rule != nullptr ? css_easing(equivalent_of(*rule)->motion, tolerance) : of_response(motion, tolerance);
}

} // namespace stasis
