#include "core/match/match_follow.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include <fmt/format.h>

#include "core/match/follow_fit.hpp"
#include "core/match/quantiles.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr std::size_t fewest_followed = 12;

std::vector<FollowRule> follow_rules() {
  using Smoothing = FollowRule::Smoothing;
  std::vector<FollowRule> rules;
  for (const bool zone : {false, true})
    for (const Smoothing smoothing : {Smoothing::glide, Smoothing::spring})
      for (const bool lead : {false, true}) rules.push_back({smoothing, lead, zone});
  rules.push_back({Smoothing::steady_spring, false, false});
  return rules;
}

/// One of the numbers that a rule is told by.
struct ToldNumber {
  const char* name;
  const char* unit; ///< "unit": the recording's
  double (*value)(const FollowNumbers& numbers);
  bool is_positive;
};

std::vector<ToldNumber> told_numbers(const FollowRule& rule) {
  std::vector<ToldNumber> out;
  if (rule.smoothing == FollowRule::Smoothing::glide) {
    out.push_back({"half_life", "s", [](const FollowNumbers& n) { return std::numbers::ln2 / n.rate; }, true});
  } else {
    out.push_back({"frequency", "Hz", [](const FollowNumbers& n) { return n.frequency / (whole_turn); }, true});
    out.push_back({"damping_ratio", "", [](const FollowNumbers& n) { return n.ratio; }, true});
  }
  if (rule.has_lead) out.push_back({"lead", "s", [](const FollowNumbers& n) { return n.lead; }, false});
  if (rule.has_zone) out.push_back({"zone", "unit", [](const FollowNumbers& n) { return 2.0 * n.zone; }, true});
  out.push_back({"lag", "s", [](const FollowNumbers& n) { return n.lag(); }, false});
  return out;
}

class FollowMatching {
public:
  explicit FollowMatching(const RecordedFollow& recorded) : recorded_(recorded) {}

  std::optional<FollowMatch> run(const HowFar& how_far) {
    clean();
    if (out_.kept.size() < fewest_followed || !moves()) return std::nullopt;
    thin();
    const auto rules = follow_rules();
    for (std::size_t r = 0; r < rules.size(); ++r) {
      fit(rules[r]);
      if (how_far) how_far(r + 1, rules.size());
    }
    std::sort(out_.ranking.begin(), out_.ranking.end(),
              [](const MatchedFollow& a, const MatchedFollow& b) { return a.bic < b.bic; });
    weigh();
    return std::move(out_);
  }

private:
  void clean() {
    std::vector<std::size_t> count(recorded_.times.size(), 0);
    for (const auto& values : recorded_.values) {
      RowCleaning cleaning;
      for (const std::size_t row : clean_rows(values, cleaning)) ++count[row];
      noise_ = std::max({noise_, cleaning.noise, cleaning.digit / std::sqrt(12.0)});
      out_.cleaning.push_back(cleaning);
    }
    for (std::size_t row = 0; row < count.size(); ++row)
      if (count[row] == recorded_.values.size()) out_.kept.push_back(row);
    for (const auto& goal : recorded_.goals) out_.goal_noise = std::max(out_.goal_noise, noise_of(goal));
  }

  bool moves() {
    const auto ranges = [](const std::vector<std::vector<double>>& all) {
      double size = 0.0;
      for (const auto& one : all)
        size = std::max(size, *std::max_element(one.begin(), one.end()) - *std::min_element(one.begin(), one.end()));
      return size;
    };
    range_of_goal_ = ranges(recorded_.goals);
    return range_of_goal_ > 0.0 && ranges(recorded_.values) > 0.0;
  }

  /// Of a long recording each so many rows are compared; the goal is followed through all of them.
  void thin() {
    constexpr std::size_t enough = 3000;
    const std::size_t stride = (out_.kept.size() + enough - 1) / enough;
    std::vector<std::size_t> rows;
    for (std::size_t k = 0; k < out_.kept.size(); k += stride) rows.push_back(out_.kept[k]);
    out_.kept = std::move(rows);
  }

  void fit(const FollowRule& rule) {
    const FollowFit fit = fit_follow(rule, recorded_, out_.kept);
    const double n = static_cast<double>(out_.kept.size() * recorded_.values.size()), p = static_cast<double>(fit.free);
    if (!std::isfinite(fit.squares) || n <= p + 1.0) return;
    MatchedFollow one;
    one.rule = rule;
    one.values = fit.values;
    one.rms = std::sqrt(fit.squares / n);
    const double hair = 1e-9 * range_of_goal_, left = std::log(fit.squares / n + hair * hair);
    one.bic = n * left + p * std::log(n);
    const double free = p + 1.0; // the size of the noise is found too
    one.probability = n * left + 2.0 * free + 2.0 * free * (free + 1.0) / std::max(1.0, n - free - 1.0);
    tell_numbers(rule, fit, std::sqrt(fit.squares / (n - p)), n - p, one);
    const FollowNumbers numbers = follow_numbers(rule, fit.unknowns);
    one.motion = motion_of(numbers);
    if (rule.has_lead) one.follow = fmt::format("lead = {{ by = \"velocity\", seconds = {:.6g} }}", numbers.lead);
    if (rule.has_zone)
      one.follow +=
          fmt::format("{}dead_zone = {{ size = {:.6g} }}", one.follow.empty() ? "" : ", ", 2.0 * numbers.zone);
    // A zone that is never left, or never felt, is none; nor is a lead that is none.
    const bool is_felt =
        !rule.has_zone || (2.0 * numbers.zone > 1e-6 * range_of_goal_ && numbers.zone < range_of_goal_);
    if (is_felt) out_.ranking.push_back(std::move(one));
  }

  static std::string motion_of(const FollowNumbers& numbers) {
    if (numbers.smoothing == FollowRule::Smoothing::glide)
      return fmt::format("{{ kind = \"glide\", half_life = {:.6g} }}", std::numbers::ln2 / numbers.rate);
    return fmt::format("{{ kind = \"spring\", frequency = {:.6g}, damping_ratio = {:.6g}{} }}",
                       numbers.frequency / (whole_turn), numbers.ratio,
                       numbers.smoothing == FollowRule::Smoothing::steady_spring ? ", resist = \"gap\"" : "");
  }

  /// By the slopes of each number at the best fit.
  static void tell_numbers(const FollowRule& rule, const FollowFit& fit, double size, double freedom,
                           MatchedFollow& out) {
    const double t = students_t_quantile(freedom, 0.975);
    for (const ToldNumber& told : told_numbers(rule)) {
      const auto value_at = [&](const std::vector<double>& unknowns) {
        const double value = told.value(follow_numbers(rule, unknowns));
        return told.is_positive ? std::log(std::max(value, 1e-300)) : value;
      };
      std::vector<double> slopes;
      for (std::size_t j = 0; j < fit.unknowns.size(); ++j) {
        std::vector<double> low = fit.unknowns, high = fit.unknowns;
        const double step = 1e-6 * std::max(0.05, std::fabs(fit.unknowns[j]));
        low[j] -= step;
        high[j] += step;
        slopes.push_back((value_at(high) - value_at(low)) / (2.0 * step));
      }
      double variance = 0.0;
      for (std::size_t a = 0; a < slopes.size(); ++a)
        for (std::size_t b = 0; b < slopes.size(); ++b) variance += slopes[a] * fit.covariance[a][b] * slopes[b];
      const double half = t * size * std::sqrt(std::max(0.0, variance)),
                   value = told.value(follow_numbers(rule, fit.unknowns));
      constexpr double trades = 0.3 * 1.96; // of a logarithm: the number hangs on another one
      if (told.is_positive && half > trades) out.knows_lag_only = true;
      out.numbers.push_back({told.name, told.unit, value, told.is_positive ? value * std::exp(-half) : value - half,
                             told.is_positive ? value * std::exp(half) : value + half});
    }
  }

  /// True of a subject that goes at one speed all along: only the net lag shows then.
  bool goes_evenly() const {
    const double n = static_cast<double>(recorded_.times.size());
    double off = 0.0;
    for (const auto& goal : recorded_.goals) {
      double mean_t = 0.0, mean_g = 0.0, tt = 0.0, tg = 0.0;
      for (std::size_t k = 0; k < goal.size(); ++k) {
        mean_t += recorded_.times[k] / n;
        mean_g += goal[k] / n;
      }
      for (std::size_t k = 0; k < goal.size(); ++k) {
        tt += (recorded_.times[k] - mean_t) * (recorded_.times[k] - mean_t);
        tg += (recorded_.times[k] - mean_t) * (goal[k] - mean_g);
      }
      for (std::size_t k = 0; k < goal.size(); ++k)
        off = std::max(off, std::fabs(goal[k] - mean_g - tg / tt * (recorded_.times[k] - mean_t)));
    }
    constexpr double hardly = 0.01;
    return off < hardly * range_of_goal_;
  }

  /// Behind a subject that goes evenly, what lags as far and fits as well is not told apart.
  void join_even() {
    if (!goes_evenly()) return;
    constexpr double as_well = 1.02;
    const MatchedFollow& best = out_.ranking.front();
    const Estimate& lag = best.numbers.back();
    for (MatchedFollow& one : out_.ranking) {
      const bool lags_alike = one.numbers.back().low <= lag.high && one.numbers.back().high >= lag.low;
      if (one.rule.has_zone || !lags_alike || one.rms > as_well * best.rms) continue;
      one.is_indistinct = one.knows_lag_only = true;
    }
  }

  void weigh() {
    if (out_.ranking.empty()) return;
    double least = std::numeric_limits<double>::infinity(), sum = 0.0;
    for (const MatchedFollow& one : out_.ranking) least = std::min(least, one.probability);
    for (MatchedFollow& one : out_.ranking) sum += one.probability = std::exp(-0.5 * (one.probability - least));
    constexpr double indistinct = 6.0; // in BIC, as of moves
    for (MatchedFollow& one : out_.ranking) {
      one.probability /= sum;
      one.is_indistinct = one.bic - out_.ranking.front().bic < indistinct;
    }
    join_even();
    constexpr double more_than_noise = 1.35, hair = 1e-6;
    out_.is_explained = out_.ranking.front().rms <= more_than_noise * std::max(noise_, hair * range_of_goal_);
  }

  const RecordedFollow& recorded_;
  double noise_ = 0.0;
  double range_of_goal_ = 0.0;
  FollowMatch out_;
};

} // namespace

std::string FollowRule::name() const {
  std::string text;
  switch (smoothing) {
  case Smoothing::glide: text = "glide"; break;
  case Smoothing::spring: text = "spring"; break;
  case Smoothing::steady_spring: text = "spring that resists the gap"; break;
  }
  if (has_lead && has_zone) return text + " with lead and dead zone";
  if (has_lead) return text + " with lead";
  return has_zone ? text + " with dead zone" : text;
}

std::optional<FollowMatch> match_follow(const RecordedFollow& recorded, const HowFar& how_far) {
  auto found = FollowMatching(recorded).run(how_far);
  return found && !found->ranking.empty() ? found : std::nullopt;
}

} // namespace stasis
