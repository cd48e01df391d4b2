#include "core/match/follow_fit.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include "core/match/least_squares.hpp"
#include "core/motion/glide.hpp"
#include "core/motion/spring.hpp"

namespace stasis {
namespace {

constexpr double most_damping = 8.0;

/// Where the goal is by its lead and zone, row by row, of one component.
std::vector<double> led_goal(const FollowNumbers& numbers, const RecordedFollow& recorded, std::size_t component) {
  const std::vector<double>& place = recorded.goals[component];
  std::vector<double> out(place.size());
  double middle = 0.0;
  for (std::size_t k = 0; k < place.size(); ++k) {
    const std::size_t at = std::max<std::size_t>(k, 1);
    const double speed = (place[at] - place[at - 1]) / (recorded.times[at] - recorded.times[at - 1]);
    const double wish = place[k] + numbers.lead * speed;
    // Only what exceeds the zone moves it. It begins about where the value is.
    const double from = k == 0 ? recorded.values[component][0] : middle;
    middle = numbers.zone > 0.0 ? std::clamp(from, wish - numbers.zone, wish + numbers.zone) : wish;
    out[k] = middle;
  }
  return out;
}

/// One component behind its goal: what the goal makes of rest at 0, and what is left of a value and a speed of 1.
struct Responses {
  std::vector<double> forced, value, speed; ///< speed: empty of a glide
};

Responses glide_responses(double rate, const std::vector<double>& times, const std::vector<double>& goal) {
  Responses out{{0.0}, {1.0}, {}};
  const Glide glide{rate};
  double dt = -1.0;
  GlideStep step{};
  for (std::size_t k = 1; k < times.size(); ++k) {
    if (const double now = times[k] - times[k - 1]; now != dt) step = glide_step(glide, dt = now);
    out.forced.push_back(advance(step, out.forced.back(), {goal[k - 1], goal[k]}));
    out.value.push_back(out.value.back() * step.remaining);
  }
  return out;
}

Responses spring_responses(const Spring& spring, const std::vector<double>& times, const std::vector<double>& goal) {
  Responses out{{0.0}, {1.0}, {0.0}};
  SpringState forced{0.0, 0.0}, value{1.0, 0.0}, speed{0.0, 1.0};
  double dt = -1.0;
  SpringStep step{};
  for (std::size_t k = 1; k < times.size(); ++k) {
    if (const double now = times[k] - times[k - 1]; now != dt) step = spring_step(spring, dt = now);
    forced = advance(step, forced, {goal[k - 1], goal[k]});
    value = advance(step, value, {0.0, 0.0});
    speed = advance(step, speed, {0.0, 0.0});
    out.forced.push_back(forced.value);
    out.value.push_back(value.value);
    out.speed.push_back(speed.value);
  }
  return out;
}

Responses responses_of(const FollowNumbers& numbers, const RecordedFollow& recorded, std::size_t component) {
  const std::vector<double> goal = led_goal(numbers, recorded, component);
  switch (numbers.smoothing) {
  case FollowRule::Smoothing::glide: return glide_responses(numbers.rate, recorded.times, goal);
  case FollowRule::Smoothing::spring:
    return spring_responses({numbers.frequency, numbers.ratio, false}, recorded.times, goal);
  case FollowRule::Smoothing::steady_spring:
    return spring_responses({numbers.frequency, numbers.ratio, true}, recorded.times, goal);
  }
  return {};
}

/// What the rule makes of the goal, from where it must have begun: that follows in closed form.
std::vector<double> followed(const Responses& responses, const std::vector<double>& values,
                             const std::vector<std::size_t>& kept) {
  const bool has_speed = !responses.speed.empty();
  double vv = 0.0, vs = 0.0, ss = 0.0, vy = 0.0, sy = 0.0;
  for (const std::size_t k : kept) {
    const double off = values[k] - responses.forced[k], v = responses.value[k],
                 s = has_speed ? responses.speed[k] : 0.0;
    vv += v * v;
    vs += v * s;
    ss += s * s;
    vy += v * off;
    sy += s * off;
  }
  const double det = vv * ss - vs * vs;
  const bool both = has_speed && det > 1e-12 * vv * ss;
  const double begin = both ? (vy * ss - sy * vs) / det : vv > 0.0 ? vy / vv : 0.0;
  const double speed = both ? (sy * vv - vy * vs) / det : 0.0;
  std::vector<double> out;
  out.reserve(values.size());
  for (std::size_t k = 0; k < values.size(); ++k)
    out.push_back(responses.forced[k] + begin * responses.value[k] + (has_speed ? speed * responses.speed[k] : 0.0));
  return out;
}

class FollowDistances final : public Distances {
public:
  FollowDistances(const FollowRule& rule, const RecordedFollow& recorded, const std::vector<std::size_t>& kept)
      : Distances({1e-5, 0.05}), rule_(rule), recorded_(recorded), kept_(kept) {}

  int values() const override { return static_cast<int>(kept_.size() * recorded_.values.size()); }
  int inputs() const override { return static_cast<int>(unknowns_of(rule_)); }

  std::vector<std::vector<double>> path(const Eigen::VectorXd& at) const {
    const FollowNumbers numbers = follow_numbers(rule_, {at.data(), at.data() + at.size()});
    std::vector<std::vector<double>> out;
    for (std::size_t c = 0; c < recorded_.values.size(); ++c)
      out.push_back(followed(responses_of(numbers, recorded_, c), recorded_.values[c], kept_));
    return out;
  }

  void find(const Eigen::VectorXd& at, Eigen::VectorXd& out) override {
    const auto all = path(at);
    Eigen::Index place = 0;
    for (std::size_t c = 0; c < all.size(); ++c)
      for (const std::size_t k : kept_) {
        const double off = recorded_.values[c][k] - all[c][k];
        out[place++] = std::isfinite(off) ? off : 1e150;
      }
  }

private:
  const FollowRule& rule_;
  const RecordedFollow& recorded_;
  const std::vector<std::size_t>& kept_;
};

/// Where a search may begin.
std::vector<std::vector<double>> starts_of(const FollowRule& rule, const RecordedFollow& recorded) {
  double size = 0.0; // how far the goal goes, by component
  for (const auto& goal : recorded.goals)
    size = std::max(size, *std::max_element(goal.begin(), goal.end()) - *std::min_element(goal.begin(), goal.end()));
  std::vector<std::vector<double>> starts;
  const auto add = [&](const std::vector<double>& first, double lag) {
    const std::vector<double> leads =
        rule.has_lead ? std::vector<double>{0.0, 0.3 * lag, lag} : std::vector<double>{lag};
    const std::vector<double> zones = rule.has_zone ? std::vector<double>{0.01, 0.04, 0.15} : std::vector<double>{0.0};
    for (const double net : leads)
      for (const double zone : zones) {
        std::vector<double> one = first;
        if (rule.has_lead) one.push_back(net);
        if (rule.has_zone) one.push_back(std::log(std::max(zone * size, 1e-12)));
        starts.push_back(std::move(one));
      }
  };
  for (const double lag : {0.05, 0.15, 0.4, 1.0}) {
    if (rule.smoothing == FollowRule::Smoothing::glide) {
      add({std::log(lag)}, lag);
      continue;
    }
    for (const double ratio : {0.5, 1.0}) add({std::log(2.0 * ratio / lag), std::log(ratio)}, lag);
  }
  return starts;
}

} // namespace

double FollowNumbers::lag() const noexcept {
  switch (smoothing) {
  case FollowRule::Smoothing::glide: return 1.0 / rate - lead;
  case FollowRule::Smoothing::spring: return 2.0 * ratio / frequency - lead;
  case FollowRule::Smoothing::steady_spring: return -lead;
  }
  return 0.0;
}

std::size_t unknowns_of(const FollowRule& rule) noexcept {
  const std::size_t own = rule.smoothing == FollowRule::Smoothing::glide ? 1 : 2;
  return own + (rule.has_lead ? 1 : 0) + (rule.has_zone ? 1 : 0);
}

FollowNumbers follow_numbers(const FollowRule& rule, const std::vector<double>& unknowns) noexcept {
  FollowNumbers out;
  out.smoothing = rule.smoothing;
  std::size_t next = 0;
  constexpr double bound = 30.0;
  const auto from_log = [&](double u) { return std::exp(std::clamp(u, -bound, bound)); };
  if (rule.smoothing == FollowRule::Smoothing::glide) {
    out.rate = 1.0 / from_log(unknowns[next++]);
  } else {
    out.frequency = from_log(unknowns[next++]);
    out.ratio = std::min(most_damping, from_log(unknowns[next++]));
  }
  if (rule.has_lead) out.lead = out.lag() - unknowns[next++];
  if (rule.has_zone) out.zone = from_log(unknowns[next]);
  return out;
}

FollowFit fit_follow(const FollowRule& rule, const RecordedFollow& recorded, const std::vector<std::size_t>& kept) {
  FollowDistances distances(rule, recorded, kept);
  FollowFit best;
  best.squares = std::numeric_limits<double>::infinity();
  std::vector<std::pair<double, Eigen::VectorXd>> starts;
  Eigen::VectorXd off(distances.values());
  for (const std::vector<double>& start : starts_of(rule, recorded)) {
    const Eigen::VectorXd at = Eigen::Map<const Eigen::VectorXd>(start.data(), static_cast<Eigen::Index>(start.size()));
    distances.find(at, off);
    starts.emplace_back(off.squaredNorm(), at);
  }
  std::sort(starts.begin(), starts.end(), [](const auto& a, const auto& b) { return a.first < b.first; });
  constexpr std::size_t polished = 3;
  for (std::size_t k = 0; k < std::min(polished, starts.size()); ++k) {
    Eigen::VectorXd at = starts[k].second;
    descend(distances, at, {1e-14, 200});
    distances.find(at, off);
    if (!(off.squaredNorm() < best.squares)) continue;
    best.squares = off.squaredNorm();
    best.unknowns.assign(at.data(), at.data() + at.size());
  }
  const Eigen::VectorXd at =
      Eigen::Map<const Eigen::VectorXd>(best.unknowns.data(), static_cast<Eigen::Index>(best.unknowns.size()));
  best.values = distances.path(at);
  Eigen::MatrixXd slopes(distances.values(), distances.inputs());
  distances.slopes(at, slopes);
  const Eigen::MatrixXd inverse = covariance_of(slopes);
  for (Eigen::Index i = 0; i < inverse.rows(); ++i) {
    best.covariance.emplace_back();
    for (Eigen::Index j = 0; j < inverse.cols(); ++j) best.covariance.back().push_back(inverse(i, j));
  }
  const std::size_t began = rule.smoothing == FollowRule::Smoothing::glide ? 1 : 2;
  best.free = best.unknowns.size() + began * recorded.values.size();
  return best;
}

} // namespace stasis
