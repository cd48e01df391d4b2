#include "core/recorded/match_moves.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include <fmt/format.h>

#include "core/match/quantiles.hpp"

namespace stasis {
namespace {

/// Numbers that are positive are joined as logarithms, the points of a Bezier as they are.
bool joins_in_logs(const Estimate& number) noexcept {
  return number.value > 0.0 && !number.name.starts_with("x") && !number.name.starts_with("y");
}

double joined_form(const Estimate& number, double value) { return joins_in_logs(number) ? std::log(value) : value; }

/// One number of several moves, each by its interval.
struct Joined {
  Estimate number;
  bool agrees = true;
};
Joined join(const std::vector<Estimate>& all) {
  // A move that sets off before the last one has quite come to rest is off by a little that no noise explains.
  constexpr double two_sided = 1.96, hair = 5e-4;
  double weights = 0.0, sum = 0.0, squares = 0.0;
  for (const Estimate& one : all) {
    const double value = joined_form(one, one.value);
    const double high = std::isfinite(one.high) ? joined_form(one, std::max(one.high, 1e-300)) : value + 1e3;
    const double deviation = std::max((high - value) / two_sided, hair * std::max(1.0, std::fabs(value)));
    const double weight = 1.0 / (deviation * deviation);
    weights += weight;
    sum += weight * value;
    squares += weight * value * value;
  }
  const double mean = sum / weights, half = two_sided / std::sqrt(weights);
  const double off = std::max(0.0, squares - weights * mean * mean), freedom = static_cast<double>(all.size()) - 1.0;
  const bool in_logs = joins_in_logs(all.front());
  const auto told = [&](double value) { return in_logs ? std::exp(value) : value; };
  constexpr double by_chance = 0.001;
  const bool agrees = freedom < 1.0 || off <= chi_squared_quantile(freedom, 1.0 - by_chance);
  return {{all.front().name, all.front().unit, told(mean), told(mean - half), told(mean + half)}, agrees};
}

class MovesMatching {
public:
  MovesMatching(const std::vector<RecordedMove>& recorded, const std::vector<StepRule>& kinds)
      : recorded_(recorded), kinds_(kinds) {}

  std::optional<MovesMatch> run(const HowFar& how_far) {
    if (!find() || found_.size() < 2) return std::nullopt;
    for (std::size_t m = 0; m < found_.size(); ++m) {
      match(found_[m]);
      if (how_far) how_far(m + 1, found_.size());
    }
    if (matches_.size() < 2) return std::nullopt;
    join_all();
    if (out_.ranking.empty()) return std::nullopt;
    weigh();
    tell_moves();
    return std::move(out_);
  }

private:
  bool find() {
    const RecordedMove& move = recorded_.front();
    const std::vector<std::size_t> kept = clean_rows(move.values, out_.cleaning);
    constexpr std::size_t fewest = 16;
    if (kept.size() < fewest) return false;
    rows_.values.resize(1);
    for (const std::size_t row : kept) {
      rows_.times.push_back(move.times[row]);
      rows_.values[0].push_back(move.values[row]);
    }
    const auto [low, high] = std::minmax_element(rows_.values[0].begin(), rows_.values[0].end());
    constexpr double still = 1e-3;
    const std::vector<double> rest_noise{
        std::max({out_.cleaning.noise, out_.cleaning.digit / std::sqrt(12.0), still * (*high - *low), 1e-300})};
    FoundMoves found = find_recorded_moves({rows_, rest_noise, {}, {}, false});
    for (FoundMove& one : found.moves)
      if (one.before && one.after && !one.is_cut) found_.push_back(std::move(one));
    constexpr std::size_t most = 8;
    if (found_.size() > most) {
      out_.notes.push_back(fmt::format("{} moves were found; the first {} are matched", found_.size(), most));
      found_.resize(most);
    }
    return true;
  }

  /// Each by itself, from the rest before it to the rest after it.
  void match(const FoundMove& move) {
    const double from = rows_.times[level_from(rows_, *move.before)], to = rows_.times[move.after->last];
    std::vector<RecordedMove> parts;
    for (const RecordedMove& whole : recorded_) {
      RecordedMove part;
      part.space = whole.space;
      for (std::size_t k = 0; k < whole.times.size(); ++k)
        if (whole.times[k] >= from && whole.times[k] <= to) {
          part.times.push_back(whole.times[k]);
          part.values.push_back(whole.values[k]);
        }
      parts.push_back(std::move(part));
    }
    if (auto one = match_step(parts, kinds_); one && !one->ranking.empty()) matches_.push_back(std::move(*one));
  }

  static const MatchedRule* rule_in(const MoveMatch& match, const StepRule* kind, Space space) {
    for (const MatchedRule& rule : match.ranking)
      if (rule.kind == kind && rule.space == space) return &rule;
    return nullptr;
  }

  /// A rule that every move was held against.
  void join_all() {
    for (const MatchedRule& first : matches_.front().ranking) {
      std::vector<const MatchedRule*> all;
      for (const MoveMatch& match : matches_)
        if (const MatchedRule* rule = rule_in(match, first.kind, first.space)) all.push_back(rule);
      if (all.size() == matches_.size()) out_.ranking.push_back(joined(all));
    }
    std::sort(out_.ranking.begin(), out_.ranking.end(),
              [](const JointRule& a, const JointRule& b) { return a.bic < b.bic; });
  }

  static JointRule joined(const std::vector<const MatchedRule*>& all) {
    JointRule out;
    out.kind = all.front()->kind;
    out.space = all.front()->space;
    double squares = 0.0;
    for (const MatchedRule* rule : all) {
      out.bic += rule->bic;
      squares += rule->rms * rule->rms / static_cast<double>(all.size());
    }
    out.rms = std::sqrt(squares);
    std::vector<double> values;
    for (std::size_t n = 0; n < all.front()->numbers.size(); ++n) {
      std::vector<Estimate> numbers;
      for (const MatchedRule* rule : all) numbers.push_back(rule->numbers[n]);
      Joined one = join(numbers);
      out.agrees = out.agrees && one.agrees;
      values.push_back(one.number.value);
      out.numbers.push_back(std::move(one.number));
    }
    constexpr int digits = 6;
    out.motion = out.kind->in_toml(values, digits);
    return out;
  }

  void weigh() {
    constexpr double indistinct = 6.0; // in BIC, as of one move
    double sum = 0.0;
    for (JointRule& rule : out_.ranking)
      sum += rule.probability = std::exp(-0.5 * (rule.bic - out_.ranking.front().bic));
    for (JointRule& rule : out_.ranking) {
      rule.probability /= sum;
      rule.is_indistinct = rule.bic - out_.ranking.front().bic < indistinct;
    }
  }

  void tell_moves() {
    const JointRule& best = out_.ranking.front();
    out_.is_explained = true;
    std::map<bool, std::vector<const MatchedRule*>> by_direction;
    for (const MoveMatch& match : matches_) {
      const MatchedRule* rule = rule_in(match, best.kind, best.space);
      const double rounding = match.cleaning.digit / std::sqrt(12.0);
      constexpr double more_than_noise = 1.35, hair = 1e-3;
      const double noise = std::max({match.cleaning.noise, rounding, hair * std::fabs(rule->goal - rule->from)});
      out_.moves.push_back({*rule, rule->rms <= more_than_noise * noise});
      out_.is_explained = out_.is_explained && out_.moves.back().is_explained;
      by_direction[rule->goal > rule->from].push_back(rule);
    }
    if (best.agrees || by_direction.size() < 2) return;
    const JointRule up = joined(by_direction[true]), down = joined(by_direction[false]);
    if (!up.agrees || !down.agrees) return;
    out_.rising = up.motion;
    out_.falling = down.motion;
  }

  const std::vector<RecordedMove>& recorded_;
  const std::vector<StepRule>& kinds_;
  RecordedRows rows_;
  std::vector<FoundMove> found_;
  std::vector<MoveMatch> matches_;
  MovesMatch out_;
};

} // namespace

std::optional<MovesMatch> match_moves(const std::vector<RecordedMove>& recorded, const std::vector<StepRule>& kinds,
                                      const HowFar& how_far) {
  return MovesMatching(recorded, kinds).run(how_far);
}

} // namespace stasis
