// Methods and what they were measured at: a local search from the best of some random points meets the wants; a cloud,
// then finer and finer local searches, finds the preferred among what holds. Sizes of violations are logarithms, so
// that wants in all units count alike.
#include "core/search/solve.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numeric>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

constexpr double infinity = std::numeric_limits<double>::infinity();
constexpr double not_happened = 3.0; ///< violation of a want whose measure was not taken
constexpr double unreadable = 10.0;  ///< of a feel that cannot be read
constexpr double out_of_reach = 1e3; ///< what does not hold is worse than anything that does

double whole_violation(const TrialOutcome& outcome) noexcept {
  double squares = 0.0;
  for (const TrialWant& want : outcome.wants) squares += std::pow(violation_of(want), 2);
  return std::sqrt(squares);
}

double violation_of(const TrialOutcome& outcome, const std::vector<std::size_t>& wants) noexcept {
  double squares = 0.0;
  for (const std::size_t want : wants)
    squares += want < outcome.wants.size() ? std::pow(violation_of(outcome.wants[want]), 2) : unreadable;
  return std::sqrt(squares);
}

double largest_violation(const TrialOutcome& outcome) noexcept {
  double largest = outcome.wants.empty() ? unreadable : 0.0;
  for (const TrialWant& want : outcome.wants) largest = std::max(largest, violation_of(want));
  return largest;
}

/// To so many significant digits, downward or upward.
double rounded(double number, int digits, bool up) {
  if (number == 0.0) return 0.0;
  const double scale = std::pow(10.0, digits - 1 - static_cast<int>(std::floor(std::log10(std::fabs(number)))));
  const double out = (up ? std::ceil(number * scale) : std::floor(number * scale)) / scale;
  return read_number(fmt::format("{:.{}g}", out, digits)).value_or(out); // the nearest to what is written
}

} // namespace

tl::expected<FreeValue, std::string> parse_free_value(const std::string& text) {
  constexpr const char* shape = "expected PATH=LOW:HIGH, or PATH=a|b|c for names";
  const auto equals = text.find('=');
  if (equals == std::string::npos) return tl::unexpected(std::string(shape));
  FreeValue out;
  out.path = trimmed(std::string_view(text).substr(0, equals));
  const std::string_view values = trimmed(std::string_view(text).substr(equals + 1));
  if (out.path.empty() || values.empty()) return tl::unexpected(std::string(shape));
  const auto colon = values.find(':');
  if (colon == std::string_view::npos) {
    for (const std::string_view name : split(values, '|')) out.names.emplace_back(trimmed(name));
    const bool is_empty = std::any_of(out.names.begin(), out.names.end(), [](const auto& one) { return one.empty(); });
    if (is_empty || out.names.size() < 2) return tl::unexpected(std::string(shape));
    return out;
  }
  const auto low = read_number(values.substr(0, colon)), high = read_number(values.substr(colon + 1));
  if (!low || !high || *low >= *high)
    return tl::unexpected(fmt::format("expected two numbers, the lower one first, found {}", printable(values, 60)));
  constexpr double far_apart = 2.0;
  out.range = {*low, *high, *low > 0.0 && *high / *low >= far_apart};
  return out;
}

double violation_of(const TrialWant& want) noexcept {
  if (want.holds) return 0.0;
  if (!want.value) return not_happened;
  constexpr double least = 1e-12; // it does not hold, so it is off
  const auto beyond = [&](double value, double limit) {
    if (value > 0.0 && limit > 0.0) return std::max(least, std::log(value / limit));
    return std::max(least, (value - limit) / std::max({std::fabs(limit), 0.1 * std::fabs(value), 1e-6}));
  };
  switch (want.rule) {
  case WantRule::at_most: return beyond(*want.value, want.limit);
  case WantRule::at_least:
    return *want.value > 0.0 && want.limit > 0.0 ? beyond(want.limit, *want.value) : beyond(-*want.value, -want.limit);
  case WantRule::near: {
    const double off = std::fabs(*want.value - want.limit) - want.within;
    return std::max(least, off / std::max({std::fabs(want.limit), want.within, 1e-6}));
  }
  }
  return not_happened;
}

// many: see the header
Solver::Solver(const Trials& trials, std::vector<FreeValue> free, std::vector<Assignment> fixed, Preference preference,
               std::vector<std::optional<double>> present, Minimiser& minimiser)
    : trials_(trials), free_(std::move(free)), fixed_(std::move(fixed)), preference_(preference),
      present_(std::move(present)), minimiser_(minimiser) {}

std::vector<double> Solver::numbers_at(const std::vector<double>& shares) const {
  std::vector<double> numbers;
  for (std::size_t k = 0; k < free_.size(); ++k) {
    // A share and back may be off by a rounding: what was round stays so.
    constexpr double rounding = 1e-14;
    const double number = free_[k].range.number_at(shares[k]),
                 round = read_number(fmt::format("{:.10g}", number)).value_or(number);
    numbers.push_back(std::fabs(round - number) <= rounding * std::fabs(number) ? round : number);
  }
  return numbers;
}

std::vector<Assignment> Solver::assignments_at(const std::vector<double>& shares) const {
  std::vector<Assignment> out = fixed_;
  for (std::size_t k = 0; k < free_.size(); ++k)
    out.push_back({free_[k].path, number_node(free_[k].range.number_at(shares[k]))});
  return out;
}

double Solver::value_of(const std::vector<double>& shares, const TrialOutcome& outcome) const {
  double sum = 0.0;
  switch (preference_.kind) {
  case Preference::Kind::least_change:
    for (std::size_t k = 0; k < free_.size(); ++k) {
      if (!present_[k]) continue;
      const double number = free_[k].range.number_at(shares[k]), now = *present_[k];
      const double change = number > 0.0 && now > 0.0 ? std::log(number / now)
                                                      : (number - now) / (free_[k].range.high - free_[k].range.low);
      sum += change * change;
    }
    return std::sqrt(sum);
  case Preference::Kind::measures: return product_of(outcome);
  }
  return sum;
}

/// The mean logarithm of the measures, by their weights.
double Solver::product_of(const TrialOutcome& outcome) const {
  constexpr double lost = 6.0; // as if it were some hundred times worse: it happens now, and then it does not
  double sum = 0.0;
  int count = 0;
  for (std::size_t r = 0; r < outcome.rows.size(); ++r)
    for (std::size_t m = 0; m < outcome.rows[r].measures.size(); ++m) {
      const auto& value = outcome.rows[r].measures[m];
      const double weight = preference_.weights.empty() ? 1.0 : preference_.weights[m];
      const bool happens_now = !pool_.empty() && r < pool_.front().outcome.rows.size()
                               && pool_.front().outcome.rows[r].measures[m].has_value();
      if (!value && !happens_now) continue;
      ++count;
      constexpr double steep = 30.0;
      if (m == 0 && preference_.limit && value) {
        const double beyond = *value > 0.0 && *preference_.limit > 0.0 ? std::log(*value / *preference_.limit)
                                                                       : *value - *preference_.limit;
        sum += steep * std::max(0.0, preference_.first_is_larger ? -beyond : beyond);
      }
      if (!value)
        sum += std::fabs(weight) * lost * (preference_.larger ? -1.0 : 1.0);
      else // nothing at all is less than any amount
        sum += weight * (*value > 0.0 ? std::log(*value) : *value - 100.0);
    }
  if (count == 0) return out_of_reach;
  return (preference_.larger ? -sum : sum) / count;
}

bool Solver::beats(const SolvePoint& one, const SolvePoint& other) noexcept {
  if (one.violation != other.violation) return one.violation < other.violation;
  return one.value < other.value;
}

SolvePoint Solver::tried(const std::vector<double>& shares) {
  SolvePoint point{shares, {}, unreadable, out_of_reach};
  if (auto outcome = trials_.with(assignments_at(shares))) {
    point.outcome = std::move(*outcome);
    point.violation = whole_violation(point.outcome);
    point.value = value_of(shares, point.outcome);
  }
  pool_.push_back(point);
  if (pool_.size() == 1 || beats(point, pool_[best_])) best_ = pool_.size() - 1;
  if (tell_) tell_(pool_.size());
  return point;
}

/// Round after round: some points at random, a short local search from each of the best three of them, a long one from
/// where the best of those has come. Many short searches find the right valley sooner than few long ones.
void Solver::meet(int most_tries, Random& random) {
  constexpr int random_points = 40, short_steps = 150, long_steps = 400, often = 4, cloud_steps = 1000;
  constexpr std::size_t starts_a_round = 3;
  constexpr double coarse = 2e-3, fine = 2e-4, near = 0.04, afar = 0.15;
  const auto is_done = [&] { return best().holds() || static_cast<int>(pool_.size()) >= most_tries; };
  const auto search = [&](const Minimiser::Call& call) {
    return minimiser_.minimise(call, [&](const std::vector<double>& x) -> std::optional<double> {
      if (is_done()) return std::nullopt;
      return tried(x).violation;
    });
  };
  const auto best_from = [&](std::size_t first, std::size_t count) {
    std::vector<std::size_t> order(pool_.size() - first);
    std::iota(order.begin(), order.end(), first);
    std::stable_sort(order.begin(), order.end(),
                     [&](std::size_t a, std::size_t b) { return beats(pool_[a], pool_[b]); });
    std::vector<std::vector<double>> starts;
    for (std::size_t k = 0; k < std::min(count, order.size()); ++k) starts.push_back(pool_[order[k]].shares);
    return starts;
  };
  for (int round = 1; !is_done(); ++round) {
    const std::size_t first = round == 1 ? 0 : pool_.size(); // where it stands now is a start too
    for (int k = 0; k < random_points && !is_done(); ++k) {
      std::vector<double> shares;
      for (std::size_t i = 0; i < free_.size(); ++i) shares.push_back(random.share());
      tried(shares);
    }
    for (const std::vector<double>& start : best_from(first, starts_a_round))
      if (!is_done() && !search({Minimiser::Method::local, short_steps, coarse, start, afar})) return;
    for (const std::vector<double>& start : best_from(first, 1))
      if (!is_done() && !search({Minimiser::Method::local, long_steps, fine, start, near})) return;
    // Where local searches end in corners, a cloud may find the way.
    if (round % often == 0 && !is_done() && !search({Minimiser::Method::cloud, cloud_steps, 1e-4, best().shares, afar}))
      return;
  }
}

void Solver::prefer(int most_tries, int cloud) {
  constexpr double heavy = 3.0;
  if (preference_.kind != Preference::Kind::least_change)
    minimiser_.minimise({Minimiser::Method::cloud, cloud, 1e-4, best().shares, 0.1},
                        [&](const std::vector<double>& x) -> std::optional<double> {
                          if (static_cast<int>(pool_.size()) >= most_tries) return std::nullopt;
                          const SolvePoint point = tried(x);
                          return point.value + heavy * point.violation;
                        });
  for (const double step : {0.08, 0.013, 0.002, 0.0003}) {
    const std::vector<double> start = best().shares;
    minimiser_.minimise({Minimiser::Method::local, 300, 1e-7, start, step},
                        [&](const std::vector<double>& x) -> std::optional<double> {
                          if (static_cast<int>(pool_.size()) >= most_tries) return std::nullopt;
                          const SolvePoint point = tried(x);
                          return point.holds() ? point.value : out_of_reach + point.violation;
                        });
  }
}

/// Where the want that is farthest off is as near as can be.
void Solver::compromise() {
  std::size_t start = 0;
  for (std::size_t k = 0; k < pool_.size(); ++k)
    if (largest_violation(pool_[k].outcome) < largest_violation(pool_[start].outcome)) start = k;
  for (const double step : {0.1, 0.02}) {
    const std::vector<double> from = pool_[start].shares;
    minimiser_.minimise({Minimiser::Method::local, 300, 1e-5, from, step},
                        [&](const std::vector<double>& x) -> std::optional<double> {
                          const double value = largest_violation(tried(x).outcome);
                          if (value < largest_violation(pool_[start].outcome)) start = pool_.size() - 1;
                          return value;
                        });
  }
  best_ = start;
}

/// As few digits as the wants, and what is preferred, bear: every number to the one side or the other.
void Solver::round_off(SolvePoint& answer) {
  constexpr double unseen = 5e-4;
  constexpr std::size_t most_numbers = 6; // 64 ways to round
  const std::size_t kept = best_;         // rounder is better here, not smaller
  const std::uint32_t ways = 1U << std::min(free_.size(), most_numbers);
  for (const int digits : {2, 3, 4, 5, 6}) {
    std::optional<SolvePoint> best_way;
    for (std::uint32_t way = 0; way < ways; ++way) {
      std::vector<double> shares;
      for (std::size_t k = 0; k < free_.size(); ++k) {
        const bool up = (way >> std::min(k, most_numbers - 1) & 1U) != 0;
        const double number = rounded(free_[k].range.number_at(answer.shares[k]), digits, up);
        shares.push_back(free_[k].range.share_of(std::clamp(number, free_[k].range.low, free_[k].range.high)));
      }
      SolvePoint point = tried(shares);
      best_ = kept;
      const bool is_near =
          point.value <= answer.value + unseen
          || (preference_.kind == Preference::Kind::least_change && point.value <= 1.01 * answer.value + 0.002);
      if (point.holds() && is_near && (!best_way || point.value < best_way->value)) best_way = std::move(point);
    }
    if (!best_way) continue;
    answer = std::move(*best_way);
    return;
  }
}

bool Solver::is_steady(const std::vector<double>& shares) {
  constexpr double off = 0.005;
  for (std::size_t k = 0; k < free_.size(); ++k)
    for (const double factor : {1.0 - off, 1.0 + off}) {
      std::vector<double> near = shares;
      near[k] = free_[k].range.share_of(free_[k].range.number_at(shares[k]) * factor);
      if (!tried(near).holds()) return false;
    }
  return true;
}

std::pair<double, double> Solver::tolerance_of(const SolvePoint& answer, std::size_t number) {
  constexpr int halvings = 20;
  const auto holds_at = [&](double share) {
    std::vector<double> shares = answer.shares;
    shares[number] = share;
    return tried(shares).holds();
  };
  const auto reach = [&](double end) {
    if (holds_at(end)) return end;
    double inside = answer.shares[number], outside = end;
    for (int k = 0; k < halvings && std::fabs(outside - inside) > 1e-6; ++k) {
      const double middle = std::midpoint(inside, outside);
      (holds_at(middle) ? inside : outside) = middle;
    }
    return inside;
  };
  return {free_[number].range.number_at(reach(0.0)), free_[number].range.number_at(reach(1.0))};
}

void Solver::offer_others(SolveAnswer& answer, const SolvePoint& best_one) {
  const std::size_t kept = best_;
  if (!is_steady(best_one.shares)) {
    // Every number a half per cent off, either way: the worst of all counts.
    constexpr double off = 0.005;
    std::optional<SolvePoint> steady;
    for (const double step : {0.03, 0.006})
      minimiser_.minimise({Minimiser::Method::local, 60, 1e-5, steady ? steady->shares : best_one.shares, step},
                          [&](const std::vector<double>& x) -> std::optional<double> {
                            const SolvePoint here = tried(x);
                            double worst = here.violation;
                            for (std::size_t k = 0; k < free_.size(); ++k)
                              for (const double factor : {1.0 - off, 1.0 + off}) {
                                std::vector<double> near = x;
                                near[k] = free_[k].range.share_of(free_[k].range.number_at(x[k]) * factor);
                                worst = std::max(worst, tried(near).violation);
                              }
                            if (worst > 0.0) return out_of_reach + worst;
                            if (!steady || here.value < steady->value) steady = here;
                            return here.value;
                          });
    if (steady) answer.alternatives.push_back({"steady", numbers_at(steady->shares)});
  }
  const SolvePoint* other = nullptr;
  for (const SolvePoint& one : pool_) {
    double distance = 0.0;
    for (std::size_t k = 0; k < free_.size(); ++k)
      distance = std::max(distance, std::fabs(one.shares[k] - best_one.shares[k]));
    constexpr double far = 0.2;
    if (one.holds() && distance > far && (other == nullptr || one.value < other->value)) other = &one;
  }
  if (other != nullptr) answer.alternatives.push_back({"different", numbers_at(other->shares)});
  best_ = kept;
}

/// Every point of a fine grid over one or two numbers.
void Solver::scan() {
  if (scanned_ || free_.size() > 2) return;
  scanned_ = true;
  const int count = free_.size() == 1 ? 400 : 60;
  for (int i = 0; i <= count; ++i)
    for (int j = 0; j <= (free_.size() == 1 ? 0 : count); ++j) {
      std::vector<double> shares{static_cast<double>(i) / count};
      if (free_.size() == 2) shares.push_back(static_cast<double>(j) / count);
      tried(shares);
    }
}

bool Solver::can_hold(const std::vector<std::size_t>& wants) {
  std::size_t nearest = 0;
  double least = infinity;
  for (std::size_t k = 0; k < pool_.size(); ++k)
    if (const double here = violation_of(pool_[k].outcome, wants); here < least) least = here, nearest = k;
  for (const double step : {0.1, 0.02}) {
    if (least == 0.0) return true;
    const std::vector<double> start = pool_[nearest].shares;
    minimiser_.minimise({Minimiser::Method::local, 200, 1e-5, start, step},
                        [&](const std::vector<double>& x) -> std::optional<double> {
                          if (least == 0.0) return std::nullopt;
                          const double here = violation_of(tried(x).outcome, wants);
                          if (here < least) least = here, nearest = pool_.size() - 1;
                          return here;
                        });
  }
  return least == 0.0;
}

/// The smallest set of wants that do not hold together: by size, so that the first one found is.
void Solver::find_conflict(SolveAnswer& answer) {
  const std::size_t count = answer.after.outcome.wants.size();
  constexpr std::size_t most_wants = 8;
  scan();
  answer.conflict_is_proven = scanned_;
  if (count == 0) return;
  if (count > most_wants) { // one after another is left out, as long as the rest cannot hold
    std::vector<std::size_t> left(count);
    std::iota(left.begin(), left.end(), std::size_t{0});
    for (std::size_t k = 0; k < left.size();) {
      std::vector<std::size_t> without = left;
      without.erase(without.begin() + static_cast<std::ptrdiff_t>(k));
      if (!without.empty() && !can_hold(without))
        left = std::move(without);
      else
        ++k;
    }
    answer.conflict = left;
    answer.conflict_is_proven = false;
    return;
  }
  for (std::size_t size = 1; size <= count; ++size)
    for (std::uint32_t chosen = 0; chosen < (1U << count); ++chosen) {
      std::vector<std::size_t> wants;
      for (std::size_t k = 0; k < count; ++k)
        if ((chosen >> k & 1U) != 0) wants.push_back(k);
      if (wants.size() != size || can_hold(wants)) continue;
      answer.conflict = wants;
      return;
    }
}

void Solver::try_present() {
  pool_.clear();
  best_ = 0;
  std::vector<double> now;
  for (std::size_t k = 0; k < free_.size(); ++k)
    now.push_back(present_[k] ? free_[k].range.share_of(*present_[k]) : 0.5);
  tried(now);
}

bool Solver::meet_wants(int most_tries, std::uint64_t seed) {
  Random random(seed);
  try_present();
  meet(most_tries, random);
  return best().holds();
}

void Solver::look_for(Preference preference, int tries) {
  preference_ = std::move(preference);
  for (SolvePoint& point : pool_) {
    const bool is_readable = !point.outcome.rows.empty();
    if (is_readable) point.value = value_of(point.shares, point.outcome);
  }
  best_ = 0;
  for (std::size_t k = 1; k < pool_.size(); ++k)
    if (beats(pool_[k], pool_[best_])) best_ = k;
  prefer(static_cast<int>(pool_.size()) + tries, tries / 3);
}

SolveAnswer Solver::solve(int most_tries, std::uint64_t seed) {
  SolveAnswer answer;
  Random random(seed);
  try_present();
  const bool is_there = best().holds() && preference_.kind == Preference::Kind::least_change;
  const bool has_numbers = !free_.empty();
  if (!is_there && has_numbers) meet(most_tries, random);
  answer.solved = best().holds();
  if (answer.solved && !is_there && has_numbers) prefer(most_tries, std::min(1200, most_tries / 3));
  answer.tries = static_cast<int>(pool_.size());
  if (!answer.solved && has_numbers) compromise();
  answer.before = pool_.front();
  answer.after = best();
  if (!has_numbers) return answer;
  if (answer.solved) {
    if (!is_there) round_off(answer.after);
    for (std::size_t k = 0; k < free_.size(); ++k) answer.tolerance.push_back(tolerance_of(answer.after, k));
    offer_others(answer, answer.after);
  } else {
    find_conflict(answer);
    if (best().holds()) { // the search for a conflict has come upon an answer
      answer.solved = true;
      answer.conflict.clear();
      answer.after = best();
      for (std::size_t k = 0; k < free_.size(); ++k) answer.tolerance.push_back(tolerance_of(answer.after, k));
    }
  }
  answer.numbers = numbers_at(answer.after.shares);
  return answer;
}

} // namespace stasis
