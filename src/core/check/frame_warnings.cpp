// What can look wrong with per-frame rules.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/motion/equivalent.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// The lowest frame rate at which a program is expected to work.
constexpr double slow_machine = 15.0;

/// How long a rule takes to 90 % of a step at a frame rate, s; nothing where it does not come there.
std::optional<double> time_to_90(const FrameRule& rule, double fps, double step) {
  constexpr int most = 100'000;
  SpringState state{0.0, 0.0};
  for (int frame = 1; frame <= most; ++frame) {
    state = update(rule, state, step, 1.0 / fps);
    if (state.value >= 0.9 * step) return frame / fps;
  }
  return std::nullopt;
}

/// How far beyond a step a rule goes, per cent of it.
double overshoot_at(const FrameRule& rule, double fps) {
  constexpr int frames = 4096;
  SpringState state{0.0, 0.0};
  double furthest = 1.0;
  for (int frame = 0; frame < frames && std::fabs(state.value) < 1e6; ++frame) {
    state = update(rule, state, 1.0, 1.0 / fps);
    furthest = std::max(furthest, state.value);
  }
  return 100.0 * (furthest - 1.0);
}

std::string half_rate_in_words(const PerFrame& rule) {
  if (std::holds_alternative<SpringStepRule>(rule.rule))
    return behaviour_at(rule.rule, 2.0 / rule.at_fps) == FrameBehaviour::diverges
               ? std::string()
               : fmt::format("it overshoots by {} % at {} fps and by {} % at {}",
                             readable(overshoot_at(rule.rule, rule.at_fps)), concise(rule.at_fps),
                             readable(overshoot_at(rule.rule, 0.5 * rule.at_fps)), concise(0.5 * rule.at_fps));
  // An amount has no time of its own: it is told for a way of one second.
  const auto* amount = std::get_if<AmountRule>(&rule.rule);
  const double step = amount != nullptr ? amount->amount * rule.at_fps : 1.0;
  const auto tuned = time_to_90(rule.rule, rule.at_fps, step), half = time_to_90(rule.rule, 0.5 * rule.at_fps, step);
  if (!tuned || !half) return {};
  return fmt::format("90 % of a step takes {} s at {} fps and {} s at {}", readable(*tuned), concise(rule.at_fps),
                     readable(*half), concise(0.5 * rule.at_fps));
}

void warn_of(const NamedMotion& named, const PerFrame& rule, std::vector<Warning>& out) {
  const auto equivalent = equivalent_of(rule);
  std::string message = fmt::format("the motion {} is a per-frame rule ({})", named.name, name_of(rule.rule));
  if (const std::string times = half_rate_in_words(rule); !times.empty()) message += ": " + times;
  message += equivalent ? fmt::format("; the same everywhere is {{ {} }}", equivalent->text)
                        : fmt::format("; it has no equivalent: {}", why_no_equivalent(rule));
  out.push_back({"per_frame", named.name, {}, std::move(message), {}});
  const auto spans = behaviours_of(rule.rule);
  const bool unstable = std::any_of(spans.begin(), spans.end(), [](const BehaviourSpan& span) {
    return span.high_fps > slow_machine && span.behaviour == FrameBehaviour::diverges;
  });
  const bool worsens =
      spans.size() > 1 && spans.front().behaviour == FrameBehaviour::monotone && spans.front().low_fps > slow_machine;
  if (unstable || worsens || spans.front().behaviour == FrameBehaviour::diverges)
    out.push_back({"per_frame_unstable",
                   named.name,
                   {},
                   fmt::format("the motion {} is {}", named.name, behaviour_in_words(rule.rule)),
                   {}});
}

} // namespace

void warn_of_frames(const Feel& feel, std::vector<Warning>& out) {
  std::vector<std::string> seen;
  for (const NamedMotion& named : feel.motions) {
    const auto* rule = std::get_if<PerFrame>(&named.motion);
    if (rule == nullptr || std::find(seen.begin(), seen.end(), named.name) != seen.end()) continue;
    seen.push_back(named.name);
    warn_of(named, *rule, out);
  }
}

} // namespace stasis
