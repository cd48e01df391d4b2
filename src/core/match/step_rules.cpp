#include "core/match/step_rules.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/curve/ease_shape.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr double largest_ratio = 8.0;

double share_of(double unknown) noexcept { return 1.0 / (1.0 + std::exp(-unknown)); }
double unknown_of(double share) noexcept { return std::log(share / (1.0 - share)); }

/// Ramps of a pace: each takes this share of the whole time, at most half.
double ramp_of(double unknown) noexcept { return 0.5 * share_of(unknown); }

/// Ramps up, goes on evenly, ramps down: the way at a share of the time.
double paced(double ramp, double share) noexcept {
  if (share <= 0.0) return 0.0;
  if (share >= 1.0) return 1.0;
  const double top = 1.0 / (1.0 - ramp);
  if (share < ramp) return 0.5 * top * share * share / ramp;
  if (share > 1.0 - ramp) return 1.0 - 0.5 * top * (1.0 - share) * (1.0 - share) / ramp;
  return top * (share - 0.5 * ramp);
}

CubicBezier bezier_of(std::span<const double> u) noexcept { return {share_of(u[1]), u[2], share_of(u[3]), u[4]}; }

/// Even steps of the logarithm.
std::vector<double> logs_between(double low, double high, int count) {
  std::vector<double> out;
  for (int k = 0; k < count; ++k) out.push_back(std::log(low) + (std::log(high) - std::log(low)) * k / (count - 1));
  return out;
}

/// The shapes at which a free Bezier begins: what the common curves are, or nearly.
constexpr std::array<std::array<double, 4>, 10> bezier_shapes{{{0.25, 0.1, 0.25, 1.0},
                                                               {0.42, 0.01, 0.99, 0.99},
                                                               {0.01, 0.01, 0.58, 1.0},
                                                               {0.42, 0.0, 0.58, 1.0},
                                                               {0.65, 0.05, 0.36, 1.0},
                                                               {0.33, 0.0, 0.67, 0.33},
                                                               {0.33, 0.67, 0.67, 1.0},
                                                               {0.15, 0.9, 0.3, 1.0},
                                                               {0.7, 0.0, 0.85, 0.1},
                                                               {0.34, 1.5, 0.64, 1.0}}};

} // namespace

std::string StepRule::name() const {
  switch (rule_) {
  case Rule::glide: return "glide";
  case Rule::spring: return "spring";
  case Rule::ease: return "ease " + curve_;
  case Rule::bezier: return "ease cubic-bezier";
  case Rule::pace: return "pace";
  }
  return {};
}

std::size_t StepRule::unknowns() const noexcept {
  switch (rule_) {
  case Rule::glide:
  case Rule::ease: return 1;
  case Rule::spring:
  case Rule::pace: return 2;
  case Rule::bezier: return 5;
  }
  return 0;
}

double StepRule::value(std::span<const double> u, double since) const noexcept {
  if (!(since > 0.0)) return 0.0;
  switch (rule_) {
  case Rule::glide: return advance(glide_step(Glide{std::exp(u[0])}, since), 0.0, {1.0, 1.0});
  case Rule::spring: {
    const Spring spring{std::exp(u[0]), std::min(std::exp(u[1]), largest_ratio)};
    return advance(spring_step(spring, since), SpringState{0.0, 0.0}, {1.0, 1.0}).value;
  }
  case Rule::ease: return evaluate(shape_, std::min(1.0, since / std::exp(u[0]))).value;
  case Rule::bezier: return evaluate(bezier_of(u), std::min(1.0, since / std::exp(u[0]))).value;
  case Rule::pace: return paced(ramp_of(u[1]), since / std::exp(u[0]));
  }
  return 0.0;
}

bool StepRule::goes_by_rate() const noexcept { return rule_ == Rule::glide || rule_ == Rule::spring; }

double StepRule::quickness(double size) const noexcept { return std::exp(goes_by_rate() ? size : -size); }

std::vector<double> StepRule::start_sizes(double shortest, double longest) const {
  constexpr int sizes = 16;
  switch (rule_) {
  case Rule::glide: return logs_between(3.0 / longest, 6.0 / shortest, sizes); // as good as there after so long
  case Rule::spring: return logs_between(2.0 / longest, 12.0 / shortest, sizes + 2);
  case Rule::ease:
  case Rule::bezier:
  case Rule::pace: return logs_between(shortest, longest, sizes);
  }
  return {};
}

std::vector<std::vector<double>> StepRule::starting_rests() const {
  std::vector<std::vector<double>> rests;
  switch (rule_) {
  case Rule::glide:
  case Rule::ease: return {{}};
  case Rule::spring:
    for (const double ratio : {0.04, 0.1, 0.2, 0.35, 0.5, 0.7, 0.9, 1.1, 1.5, 2.4, 4.0})
      rests.push_back({std::log(ratio)});
    return rests;
  case Rule::bezier:
    for (const auto& [x1, y1, x2, y2] : bezier_shapes) rests.push_back({unknown_of(x1), y1, unknown_of(x2), y2});
    return rests;
  case Rule::pace:
    for (const double ramp : {0.02, 0.1, 0.2, 0.3, 0.4, 0.48}) rests.push_back({unknown_of(2.0 * ramp)});
    return rests;
  }
  return rests;
}

StartShape::StartShape(const StepRule& rule, std::vector<double> rest, bool rate)
    : rest_(std::move(rest)), places_each_(rate ? 8.0 : 128.0) {
  const int places = rate ? 1024 : 128; // of what has no end, until little is left
  std::vector<double> unknowns{0.0};
  unknowns.insert(unknowns.end(), rest_.begin(), rest_.end());
  for (int k = 0; k <= places; ++k) table_.push_back(rule.value(unknowns, k / places_each_));
}

StepRule::StepRule(Rule rule, std::string curve, Curve shape)
    : rule_(rule), curve_(std::move(curve)), shape_(std::move(shape)) {
  std::vector<StartShape> shapes;
  for (std::vector<double>& rest : starting_rests()) shapes.emplace_back(*this, std::move(rest), goes_by_rate());
  shapes_ = std::make_shared<const std::vector<StartShape>>(std::move(shapes));
}

std::vector<MatchedNumber> StepRule::numbers(std::span<const double> u, double way) const {
  switch (rule_) {
  case Rule::glide: return {{"half_life", std::numbers::ln2 / std::exp(u[0]), "s"}};
  case Rule::spring:
    return {{"frequency", natural_frequency_hz(std::exp(u[0])), "Hz"},
            {"damping_ratio", std::min(std::exp(u[1]), largest_ratio), ""}};
  case Rule::ease: return {{"duration", std::exp(u[0]), "s"}};
  case Rule::bezier: {
    const CubicBezier curve = bezier_of(u);
    return {{"duration", std::exp(u[0]), "s"},
            {"x1", curve.x1, ""},
            {"y1", curve.y1, ""},
            {"x2", curve.x2, ""},
            {"y2", curve.y2, ""}};
  }
  case Rule::pace: {
    const double ramp = ramp_of(u[1]), duration = std::exp(u[0]);
    const double speed = std::fabs(way) / (duration * (1.0 - ramp));
    return {{"speed", speed, "per_second"}, {"acceleration", speed / (ramp * duration), "per_second2"}};
  }
  }
  return {};
}

std::string StepRule::in_toml(std::span<const double> u, double way, int digits) const {
  std::vector<double> values;
  for (const MatchedNumber& number : numbers(u, way)) values.push_back(number.value);
  return in_toml(values, digits);
}

std::string StepRule::in_toml(std::span<const double> values, int digits) const {
  const auto plain = [&](std::size_t k) { return fmt::format("{:.{}g}", values[k], digits); };
  switch (rule_) {
  case Rule::glide: return fmt::format("{{ kind = \"glide\", half_life = {} }}", plain(0));
  case Rule::spring:
    return fmt::format("{{ kind = \"spring\", frequency = {}, damping_ratio = {} }}", plain(0), plain(1));
  case Rule::ease: return fmt::format("{{ kind = \"ease\", duration = {}, curve = \"{}\" }}", plain(0), curve_);
  case Rule::bezier:
    return fmt::format("{{ kind = \"ease\", duration = {}, curve = \"cubic-bezier({}, {}, {}, {})\" }}", plain(0),
                       plain(1), plain(2), plain(3), plain(4));
  case Rule::pace: return fmt::format("{{ kind = \"pace\", speed = {}, acceleration = {} }}", plain(0), plain(1));
  }
  return {};
}

std::string StepRule::same_path_as(std::span<const double> u) const {
  const double ratio = rule_ == Rule::spring ? std::exp(u[1]) : 0.0;
  if (ratio > 1.0) {
    // s^2 + 2 z w s + w^2 = (s + k1)(s + k2)
    const double w = std::exp(u[0]), root = std::sqrt(ratio * ratio - 1.0);
    return fmt::format("two glides in a row, of half-lives {} s and {} s",
                       readable(std::numbers::ln2 / (w * (ratio + root))),
                       readable(std::numbers::ln2 / (w * (ratio - root))));
  }
  constexpr double hardly = 0.002;
  if (rule_ == Rule::pace && ramp_of(u[1]) > 0.5 - hardly) return "an eased move by in-out power 2";
  if (rule_ == Rule::pace && ramp_of(u[1]) < hardly) return "an eased move by linear";
  if (rule_ == Rule::ease && curve_ == "in power 2") return "cubic-bezier(1/3, 0, 2/3, 1/3)";
  if (rule_ == Rule::ease && curve_ == "in power 3") return "cubic-bezier(1/3, 0, 2/3, 0)";
  if (rule_ == Rule::ease && curve_ == "out power 2") return "cubic-bezier(1/3, 2/3, 2/3, 1)";
  if (rule_ == Rule::ease && curve_ == "out power 3") return "cubic-bezier(1/3, 1, 2/3, 1)";
  return {};
}

const std::vector<StepRule>& step_rules() {
  static const std::vector<StepRule> kinds = [] {
    using Rule = StepRule::Rule;
    std::vector<StepRule> all;
    all.emplace_back(Rule::glide, "", StraightLine{});
    all.emplace_back(Rule::spring, "", StraightLine{});
    all.emplace_back(Rule::pace, "", StraightLine{});
    all.emplace_back(Rule::ease, "linear", StraightLine{});
    for (const char* shape :
         {"sine", "power 2", "power 3", "power 4", "power 5", "exp", "circle", "back", "elastic", "bounce"})
      for (const char* direction : {"in", "out", "in-out"}) {
        const std::string text = fmt::format("{} {}", direction, shape);
        all.emplace_back(Rule::ease, text, *parse_curve(text));
      }
    for (const char* word : {"ease", "ease-in", "ease-out", "ease-in-out"})
      all.emplace_back(Rule::ease, word, *parse_curve(word));
    all.emplace_back(Rule::bezier, "", StraightLine{});
    return all;
  }();
  return kinds;
}

} // namespace stasis
