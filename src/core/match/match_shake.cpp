#include "core/match/match_shake.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>
#include <numeric>

#include <fmt/format.h>

#include "core/match/least_squares.hpp"
#include "core/match/quantiles.hpp"
#include "core/match/shake_estimate.hpp"
#include "core/overloaded.hpp"
#include "core/random.hpp"

namespace stasis {
namespace {

constexpr double two_sided = 1.96; // of 95 %

Estimate exactly(const char* name, const char* unit, double value) { return {name, unit, value, value, value}; }

/// What is left of the rows by a ring: hit (where it is free), logarithms of frequency and of the ratio; base and
/// amplitude are solved for inside.
class RingDistances final : public Distances {
public:
  explicit RingDistances(const ShakeRows& rows)
      : Distances({1e-6, 0.01}), rows_(rows), f_(rows.times.size()),
        quickest_(std::log(0.5 * static_cast<double>(f_.size() - 1) / (rows.times.back() - rows.times.front()))) {}

  int values() const override { return static_cast<int>(f_.size()); }
  int inputs() const override { return rows_.hit ? 2 : 3; }

  struct Level {
    double base, amplitude, squares;
  };
  RingWave ring_of(const Eigen::VectorXd& at) const {
    constexpr double most = 0.98, least = 1e-3;
    const Eigen::Index last = at.size() - 1;
    return {std::exp(std::clamp(at[last - 1], -12.0, quickest_)), std::clamp(std::exp(at[last]), least, most)};
  }
  double hit_of(const Eigen::VectorXd& at) const { return rows_.hit.value_or(at[0]); }

  Level level(const Eigen::VectorXd& at) {
    const RingWave ring = ring_of(at);
    const double hit = hit_of(at), n = static_cast<double>(f_.size());
    double f = 0.0, y = 0.0, ff = 0.0, fy = 0.0;
    for (std::size_t k = 0; k < f_.size(); ++k) {
      const double since = rows_.times[k] - hit;
      f_[k] = since > 0.0 ? ring_at(ring, since) : 0.0;
      f += f_[k] / n;
      y += rows_.values[k] / n;
    }
    if (rows_.base) f = 0.0, y = *rows_.base;
    for (std::size_t k = 0; k < f_.size(); ++k) {
      ff += (f_[k] - f) * (f_[k] - f);
      fy += (f_[k] - f) * (rows_.values[k] - y);
    }
    Level out{0.0, ff > 0.0 ? fy / ff : 0.0, 0.0};
    out.base = y - out.amplitude * f;
    for (std::size_t k = 0; k < f_.size(); ++k)
      out.squares += std::pow(rows_.values[k] - out.base - out.amplitude * f_[k], 2);
    return out;
  }

  void find(const Eigen::VectorXd& at, Eigen::VectorXd& out) override {
    const Level found = level(at);
    for (std::size_t k = 0; k < f_.size(); ++k)
      out[static_cast<Eigen::Index>(k)] = rows_.values[k] - found.base - found.amplitude * f_[k];
  }
  std::vector<double> path(const Eigen::VectorXd& at) {
    const Level found = level(at);
    std::vector<double> out;
    for (const double f : f_) out.push_back(found.base + found.amplitude * f);
    return out;
  }

private:
  const ShakeRows& rows_;
  std::vector<double> f_;
  double quickest_; ///< of its frequency, the logarithm: half as often as there are rows
};

struct RingFit {
  Eigen::VectorXd at;
  RingDistances::Level level;
};

/// The best of all combinations of a hit about that which was seen, a frequency and a ratio, each gone on with.
std::optional<RingFit> fit_ring(RingDistances& distances, const ShakeRows& rows, double seen) {
  const double gap = (rows.times.back() - rows.times.front()) / static_cast<double>(rows.times.size() - 1);
  const double slowest = 0.25 / (rows.times.back() - seen + gap), quickest = 0.5 / gap;
  constexpr int frequencies = 40;
  std::vector<RingFit> starts;
  for (const double late : {-1.75, -1.25, -0.75, -0.25, 0.25, 0.75})
    for (int k = 0; k < frequencies; ++k)
      for (const double ratio : {0.02, 0.06, 0.15, 0.35, 0.7}) {
        const double frequency = std::log(slowest) + std::log(quickest / slowest) * k / (frequencies - 1);
        Eigen::VectorXd at(distances.inputs());
        if (!rows.hit) at[0] = seen + late * gap;
        at.tail(2) << frequency, std::log(ratio);
        starts.push_back({at, distances.level(at)});
      }
  constexpr std::size_t kept = 12;
  std::stable_sort(starts.begin(), starts.end(),
                   [](const RingFit& a, const RingFit& b) { return a.level.squares < b.level.squares; });
  std::optional<RingFit> best;
  std::vector<Eigen::VectorXd> chosen; // no two of them side by side
  constexpr double apart = 0.25;
  for (const RingFit& start : starts)
    if (chosen.size() < kept && std::all_of(chosen.begin(), chosen.end(), [&](const Eigen::VectorXd& other) {
          return (start.at.tail(2) - other.tail(2)).cwiseAbs().maxCoeff() > apart;
        }))
      chosen.push_back(start.at);
  for (Eigen::VectorXd& at : chosen) {
    descend(distances, at, {1e-12, 300});
    if (!at.allFinite()) continue;
    const RingDistances::Level level = distances.level(at);
    if (std::isfinite(level.squares) && (!best || level.squares < best->level.squares)) best = RingFit{at, level};
  }
  return best;
}

/// What all numbers of a ring change in each row: hit (where it is free), logarithms of frequency, ratio and amplitude,
/// base (where it is free).
Eigen::MatrixXd ring_slopes(const RingDistances& distances, const RingFit& fit, const ShakeRows& rows) {
  const Eigen::Index tried = fit.at.size(), count = static_cast<Eigen::Index>(rows.times.size());
  const auto unit_at = [&](const Eigen::VectorXd& at, Eigen::Index k) {
    const double since = rows.times[static_cast<std::size_t>(k)] - distances.hit_of(at);
    return since > 0.0 ? ring_at(distances.ring_of(at), since) : 0.0;
  };
  Eigen::MatrixXd slopes(count, tried + (rows.base ? 1 : 2));
  constexpr double step = 1e-6;
  for (Eigen::Index j = 0; j < tried; ++j) {
    Eigen::VectorXd low = fit.at, high = fit.at;
    low[j] -= step;
    high[j] += step;
    for (Eigen::Index k = 0; k < count; ++k)
      slopes(k, j) = fit.level.amplitude * (unit_at(high, k) - unit_at(low, k)) / (2.0 * step);
  }
  for (Eigen::Index k = 0; k < count; ++k) slopes(k, tried) = fit.level.amplitude * unit_at(fit.at, k);
  if (!rows.base) slopes.col(tried + 1).setOnes();
  return slopes;
}

MatchedShake ring_of(RingDistances& distances, const RingFit& fit, const ShakeRows& rows) {
  const Eigen::MatrixXd slopes = ring_slopes(distances, fit, rows);
  const double n = static_cast<double>(slopes.rows()), freedom = n - static_cast<double>(slopes.cols());
  const Eigen::MatrixXd covariance = covariance_of(slopes) * (fit.level.squares / freedom);
  const double t = students_t_quantile(freedom, 0.975);
  /// Half the interval of a sum of some of the numbers.
  const auto half = [&](std::initializer_list<Eigen::Index> places) {
    double variance = 0.0;
    for (const Eigen::Index a : places)
      for (const Eigen::Index b : places) variance += covariance(a, b);
    return t * std::sqrt(std::max(0.0, variance));
  };
  const auto in_logs = [](const char* name, const char* unit, double value, double width) {
    return Estimate{name, unit, value, value * std::exp(-width), value * std::exp(width)};
  };
  const auto plain = [](const char* name, const char* unit, double value, double width) {
    return Estimate{name, unit, value, value - width, value + width};
  };
  const Eigen::Index frequency = fit.at.size() - 2, ratio = frequency + 1, amplitude = ratio + 1;
  const RingWave ring = distances.ring_of(fit.at);
  MatchedShake out;
  out.wave = ring;
  out.numbers = {in_logs("amplitude", "unit", std::fabs(fit.level.amplitude), half({amplitude})),
                 in_logs("frequency", "Hz", ring.frequency, half({frequency})),
                 in_logs("damping_ratio", "", ring.damping_ratio, half({ratio})),
                 // ln 2 / (z w): of their product
                 in_logs("half_life", "s", ring_half_life(ring), half({frequency, ratio}))};
  out.hit_at = plain("start", "s", distances.hit_of(fit.at), rows.hit ? 0.0 : half({0}));
  out.base_at = plain("from", "", fit.level.base, rows.base ? 0.0 : half({amplitude + 1}));
  out.rms = std::sqrt(fit.level.squares / n);
  out.path = distances.path(fit.at);
  return out;
}

/// True if enough rows show a ring: one that lies between two of them could be anything.
bool is_told(const MatchedShake& ring, double noise) {
  constexpr double plainly = 3.0;
  constexpr std::ptrdiff_t fewest = 6;
  return std::count_if(ring.path.begin(), ring.path.end(),
                       [&](double value) { return std::fabs(value - ring.base_at.value) > plainly * noise; })
         >= fewest;
}

/// What many shakes of one wave, of the numbers that were found, look like to the same eyes.
struct Simulated {
  std::vector<double> log_rms, fading, log_frequency, log_share; ///< the last: of bandwidth over frequency
  double most_uneven = 0.0;
};

double mean_of(const std::vector<double>& values) {
  return std::accumulate(values.begin(), values.end(), 0.0) / static_cast<double>(values.size());
}
double deviation_of(const std::vector<double>& values) {
  const double mean = mean_of(values);
  double squares = 0.0;
  for (const double value : values) squares += (value - mean) * (value - mean);
  return std::sqrt(squares / std::max(1.0, static_cast<double>(values.size()) - 1.0));
}

constexpr int shakes_simulated = 120;

/// How far the strength of its stretches is off a dying away: the largest logarithm of a ratio, either way.
double unevenness(const ShakeEstimate& shake, const ShakeRows& rows) {
  const double stretch = 3.0 / std::max(shake.frequency, 1e-9); // s
  constexpr double fewest = 8.0;
  double seen = 0.0, expected = 0.0, count = 0.0, begun = shake.hit, most = 0.0;
  for (std::size_t k = 0; k < rows.times.size(); ++k) {
    if (rows.times[k] < shake.hit) continue;
    const double own = shake.rms * shake.strength_at(rows.times[k]), off = rows.values[k] - shake.base;
    seen += off * off + shake.noise * shake.noise;
    expected += own * own + 2.0 * shake.noise * shake.noise;
    count += 1.0;
    if (rows.times[k] - begun < stretch || count < fewest) continue;
    most = std::max(most, std::fabs(std::log(seen / expected)));
    seen = expected = count = 0.0;
    begun = rows.times[k];
  }
  return most;
}

/// How often it goes back and forth until a tenth is left.
double swings_of(const ShakeEstimate& shake, const ShakeRows& rows) {
  const double span = rows.times.back() - shake.hit, fades = std::numbers::ln10 / std::max(shake.fading, 1e-12);
  return shake.frequency * std::min(span, fades);
}

template<class RandomWave>
Simulated simulated(const RandomWave& wave, const ShakeEstimate& shake, const ShakeRows& rows, double digit) {
  const double limit = shake.rms / size_of(wave).rms;
  Simulated out;
  Random random(0x5ea1);
  for (int k = 0; k < shakes_simulated; ++k) {
    WaveStream stream(wave, random.next(), 0);
    ShakeRows made = rows;
    for (std::size_t i = 0; i < made.times.size(); ++i) {
      const double time = made.times[i];
      const double value = shake.base + limit * shake.strength_at(time) * stream.at({time, 0, 0.0});
      made.values[i] = value + shake.noise * random.normal();
      if (digit > 0.0) made.values[i] = digit * std::round(made.values[i] / digit);
    }
    made.noise = quiet_noise(made.values);
    const auto found = estimate_shake(made);
    if (!found || !(found->frequency > 0.0) || !(found->bandwidth > 0.0)) continue;
    out.log_rms.push_back(std::log(found->rms));
    out.fading.push_back(found->fading);
    out.log_frequency.push_back(std::log(found->frequency));
    out.log_share.push_back(std::log(found->bandwidth / found->frequency));
    out.most_uneven = std::max(out.most_uneven, unevenness(*found, made));
  }
  return out;
}

/// A random wave, by what simulations of it say of the numbers that were found. \returns how likely its bandwidth is.
template<class RandomWave>
double add_random_wave(RandomWave wave, const ShakeEstimate& seen, const ShakeRows& rows, ShakeMatch& out,
                       const HowFar& how_far) {
  ShakeEstimate shake = seen;
  Simulated looks;
  constexpr int rounds = 2; // what the eyes get wrong is taken off, and looked at once more
  double fading_off = 0.0, frequency_off = 0.0, rms_off = 0.0;
  for (int round = 0; round < rounds; ++round) {
    wave.frequency = shake.frequency;
    looks = simulated(wave, shake, rows, out.cleaning.digit);
    constexpr std::size_t enough = 20;
    if (looks.log_rms.size() < enough) return 0.0;
    rms_off = mean_of(looks.log_rms) - std::log(shake.rms);
    fading_off = mean_of(looks.fading) - shake.fading;
    frequency_off = mean_of(looks.log_frequency) - std::log(shake.frequency);
    shake.rms = seen.rms * std::exp(-rms_off);
    shake.fading = seen.fading - fading_off;
    shake.frequency = seen.frequency * std::exp(-frequency_off);
    if (how_far) how_far(static_cast<std::size_t>(round) + 1, rounds);
  }
  const double widen = two_sided * std::sqrt(1.0 + 1.0 / static_cast<double>(looks.log_rms.size()));
  const auto in_logs = [&](const char* name, const char* unit, double value, const std::vector<double>& logs) {
    const double half = widen * deviation_of(logs);
    return Estimate{name, unit, value, value * std::exp(-half), value * std::exp(half)};
  };
  MatchedShake one;
  wave.frequency = shake.frequency;
  one.wave = wave;
  const Estimate rms = in_logs("rms", "unit", shake.rms, looks.log_rms);
  const double limit = 1.0 / size_of(wave).rms;
  one.numbers = {{"amplitude", "unit", limit * rms.value, limit * rms.low, limit * rms.high},
                 rms,
                 in_logs("frequency", "Hz", shake.frequency, looks.log_frequency)};
  const double half = widen * deviation_of(looks.fading);
  one.fades = shake.fading - half > 0.0;
  const double never = std::numeric_limits<double>::infinity();
  const auto half_life = [&](double fading) { return fading > 0.0 ? std::numbers::ln2 / fading : never; };
  if (one.fades)
    one.numbers.push_back(
        {"half_life", "s", half_life(shake.fading), half_life(shake.fading + half), half_life(shake.fading - half)});
  one.hit_at = exactly("start", "s", shake.hit);
  one.base_at = exactly("from", "", shake.base);
  one.rms = rows.noise;
  for (const double time : rows.times) {
    one.above.push_back(shake.base + limit * shake.rms * shake.strength_at(time));
    one.below.push_back(shake.base - limit * shake.rms * shake.strength_at(time));
  }
  out.ranking.push_back(std::move(one));
  constexpr double beyond_chance = 1.4;
  const bool grows = shake.fading + half < 0.0;
  if (!grows && unevenness(seen, rows) <= beyond_chance * looks.most_uneven) out.trouble = ShakeTrouble::none;
  // Few simulations do not know how seldom something is: tails as wide as those of Student's t.
  const double off = (std::log(seen.bandwidth / seen.frequency) - mean_of(looks.log_share))
                     / std::max(deviation_of(looks.log_share), 1e-9);
  return std::pow(1.0 + off * off / 5.0, -3.0) / std::max(deviation_of(looks.log_share), 1e-9);
}

/// Of a long recording a stretch from just before what is loud. \returns its first row.
std::size_t keep_most(ShakeRows& rows) {
  constexpr std::size_t most = 2000, before = 100;
  if (rows.times.size() <= most) return 0;
  const double middle = median(rows.values);
  double largest = 0.0;
  for (const double value : rows.values) largest = std::max(largest, std::fabs(value - middle));
  constexpr double loud = 0.25; // of the largest
  std::size_t first = 0;
  while (std::fabs(rows.values[first] - middle) < loud * largest) ++first;
  first = std::min(first > before ? first - before : 0, rows.times.size() - most);
  const auto take = [&](std::vector<double>& all) {
    const auto begin = all.begin() + static_cast<std::ptrdiff_t>(first);
    all = {begin, begin + static_cast<std::ptrdiff_t>(most)};
  };
  take(rows.times);
  take(rows.values);
  return first;
}

} // namespace

std::string_view kind_of(const TriedWave& wave) noexcept {
  return std::visit([](const auto& one) { return kind_of(Wave(one)); }, wave);
}

std::vector<std::string> MatchedShake::lines(const std::string& what) const {
  const auto number = [&](const char* name) {
    const auto found =
        std::find_if(numbers.begin(), numbers.end(), [&](const Estimate& one) { return one.name == name; });
    return found == numbers.end() ? 0.0 : found->value;
  };
  const std::string on = fmt::format("on = {{ {} = {:.4g} }}", what, number("amplitude"));
  const std::string waves = std::visit(
      Overloaded{[&](const RingWave& ring) {
                   return fmt::format(R"(wave = {{ kind = "ring", frequency = {:.4g}, damping_ratio = {:.4g} }})",
                                      ring.frequency, ring.damping_ratio);
                 },
                 [&](const NoiseWave& noise) {
                   return fmt::format(R"(wave = {{ kind = "noise", frequency = {:.4g} }})", noise.frequency);
                 },
                 [&](const SinesWave& sines) {
                   return fmt::format(R"(wave = {{ kind = "sines", frequency = {:.4g} }})", sines.frequency);
                 }},
      wave);
  std::vector<std::string> out{on, waves};
  if (!fades)
    out.emplace_back("always = true");
  else if (!std::holds_alternative<RingWave>(wave))
    out.push_back(fmt::format(R"(decay = {{ kind = "half_life", half_life = {:.4g} }})", number("half_life")));
  return out;
}

std::optional<ShakeMatch> match_shake(const RecordedShake& recorded, const HowFar& how_far) {
  ShakeMatch out;
  out.cleaning.digit = digit_of(recorded.values);
  ShakeRows rows{recorded.times, recorded.values, 0.0, recorded.base, recorded.hit};
  const std::size_t first = keep_most(rows);
  for (std::size_t k = 0; k < rows.times.size(); ++k) out.kept.push_back(first + k);
  const auto [low, high] = std::minmax_element(rows.values.begin(), rows.values.end());
  constexpr double unfelt = 1e-3; // of its range: what is left of a shake then says nothing
  rows.noise = std::max({quiet_noise(rows.values), out.cleaning.digit / std::sqrt(12.0), unfelt * (*high - *low)});
  const auto seen = estimate_shake(rows);
  if (!seen || !(seen->frequency > 0.0) || !(seen->bandwidth > 0.0)) return std::nullopt;
  out.cleaning.noise = std::max(rows.noise, seen->noise);
  RingDistances distances(rows);
  const auto fit = fit_ring(distances, rows, seen->hit);
  std::optional<MatchedShake> ring;
  if (fit) ring = ring_of(distances, *fit, rows);
  constexpr double more_than_noise = 1.5, hair = 2e-3;
  if (ring && is_told(*ring, out.cleaning.noise)
      && ring->rms <= std::max(more_than_noise * out.cleaning.noise, hair * (*high - *low))) {
    ring->probability = 1.0;
    ring->is_indistinct = true;
    out.ranking.push_back(std::move(*ring));
    return out;
  }
  std::vector<double> likely;
  out.trouble = ShakeTrouble::several_hits; // unless one of the waves is as uneven
  const auto try_wave = [&](const auto& wave) {
    const std::size_t before = out.ranking.size();
    const double one = add_random_wave(wave, *seen, rows, out, how_far);
    if (out.ranking.size() > before) likely.push_back(one);
  };
  try_wave(NoiseWave{});
  try_wave(SinesWave{});
  if (out.ranking.empty()) return std::nullopt;
  const double all = std::accumulate(likely.begin(), likely.end(), 0.0);
  for (std::size_t k = 0; k < likely.size(); ++k) {
    constexpr double seldom = 0.05;
    out.ranking[k].probability = all > 0.0 ? likely[k] / all : 0.0;
    out.ranking[k].is_indistinct = out.ranking[k].probability > seldom;
  }
  std::stable_sort(out.ranking.begin(), out.ranking.end(),
                   [](const MatchedShake& a, const MatchedShake& b) { return a.probability > b.probability; });
  out.ranking.front().is_indistinct = true;
  constexpr double fewest_swings = 1.0;
  if (swings_of(*seen, rows) < fewest_swings) out.trouble = ShakeTrouble::few_swings;
  if (ring) out.ranking.push_back(std::move(*ring));
  return out;
}

} // namespace stasis
