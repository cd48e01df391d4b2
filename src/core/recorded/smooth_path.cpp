// Rows with noise: how far to look about each of them, and the path that is seen there.
#include <Eigen/Dense>
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/recorded/recorded_path.hpp"

namespace stasis {
namespace {

constexpr Eigen::Index terms = 4; // of a cubic
constexpr std::size_t told = 3;   // value, rate, bend

/// A value that is known beside the rows, as so many rows.
struct KnownValue {
  double time = 0.0, value = 0.0, weight = 0.0;
};

/// Least squares of a cubic about a time, row after row.
class CubicFit {
public:
  CubicFit(double centre, double scale) : centre_(centre), scale_(scale) {}

  void add(double time, double value, double weight = 1.0) {
    const double u = (time - centre_) / scale_;
    double power = weight;
    for (std::size_t p = 0; p < moments_.size(); ++p, power *= u) {
      moments_[p] += power;
      if (p < static_cast<std::size_t>(terms)) sums_[static_cast<Eigen::Index>(p)] += power * value;
    }
  }

  /// Value, rate and bend, and the deviations of them for noise of size 1.
  struct Result {
    std::array<double, told> numbers{}, deviations{};
  };
  Result solve() const {
    const Matrix inverse = normal().inverse();
    const Eigen::Matrix<double, terms, 1> solved = inverse * sums_;
    Result out;
    for (std::size_t d = 0; d < told; ++d) {
      const auto at = static_cast<Eigen::Index>(d);
      out.numbers[d] = size_of(d) * solved[at];
      out.deviations[d] = size_of(d) * std::sqrt(std::max(0.0, inverse(at, at)));
    }
    return out;
  }

  /// What a number is of the values that were added: one weight for each time.
  std::vector<double> weights(std::size_t number,
                              const std::vector<std::pair<double, double>>& times_and_weights) const {
    const Matrix inverse = normal().inverse();
    std::vector<double> out;
    out.reserve(times_and_weights.size());
    for (const auto& [time, weight] : times_and_weights) {
      const double u = (time - centre_) / scale_;
      double power = weight * size_of(number), sum = 0.0;
      for (Eigen::Index p = 0; p < terms; ++p, power *= u) sum += inverse(static_cast<Eigen::Index>(number), p) * power;
      out.push_back(sum);
    }
    return out;
  }

private:
  using Matrix = Eigen::Matrix<double, terms, terms>;
  Matrix normal() const {
    Matrix out;
    for (Eigen::Index i = 0; i < terms; ++i)
      for (Eigen::Index j = 0; j < terms; ++j) out(i, j) = moments_[static_cast<std::size_t>(i + j)];
    return out;
  }
  /// A derivative of a polynomial in the scaled time, as one of its coefficients.
  double size_of(std::size_t number) const {
    return (number == 2 ? 2.0 : 1.0) / std::pow(scale_, static_cast<double>(number));
  }

  double centre_, scale_;
  std::array<double, 2 * terms - 1> moments_{};
  Eigen::Matrix<double, terms, 1> sums_ = Eigen::Matrix<double, terms, 1>::Zero();
};

/// Rows to either side of the middle, the narrowest look first.
constexpr std::array<std::size_t, 12> looks{3, 4, 6, 8, 11, 16, 22, 32, 45, 64, 90, 128};

/// One component of one section.
class Looker {
public:
  Looker(const RecordedRows& rows, const SectionWindows& section, std::size_t component, const KnownValue& tie)
      : rows_(rows), section_(section), values_(rows.values[component]), tie_(tie) {}

  CubicFit::Result see(const RowWindow& window, double time) const {
    CubicFit fit(time, scale_of(window, time));
    const double about = values_[window.first]; // large values keep their digits
    for (std::size_t row = window.first; row <= window.last; ++row) fit.add(rows_.times[row], values_[row] - about);
    if (tie_.weight > 0.0 && window.first == section_.first) fit.add(tie_.time, tie_.value - about, tie_.weight);
    CubicFit::Result out = fit.solve();
    out.numbers[0] += about;
    return out;
  }

  /// One number at a row, by the weights that were worked out.
  double told_by(const RowWindow& window) const {
    const double about = values_[window.first];
    double sum = 0.0, all = 0.0;
    std::size_t at = 0;
    for (std::size_t row = window.first; row <= window.last; ++row, ++at) {
      sum += window.weights[at] * (values_[row] - about);
      all += window.weights[at];
    }
    if (at < window.weights.size()) {
      sum += window.weights[at] * (tie_.value - about);
      all += window.weights[at];
    }
    return sum + all * about;
  }

  void work_out(RowWindow& window, std::size_t number, double time) const {
    CubicFit fit(time, scale_of(window, time));
    std::vector<std::pair<double, double>> all;
    for (std::size_t row = window.first; row <= window.last; ++row) all.emplace_back(rows_.times[row], 1.0);
    if (tie_.weight > 0.0 && window.first == section_.first) all.emplace_back(tie_.time, tie_.weight);
    for (const auto& [at, weight] : all) fit.add(at, 0.0, weight);
    window.weights = fit.weights(number, all);
  }

  std::size_t count() const noexcept { return section_.last - section_.first + 1; }

  RowWindow window(std::size_t row, std::size_t look) const {
    const std::size_t before = row - section_.first, after = section_.last - row;
    // At the ends of a section as many rows are looked at as in the middle of it.
    const std::size_t left = std::min(before, look + (after < look ? look - after : 0)),
                      right = std::min(after, look + (before < look ? look - before : 0));
    return {row - left, row + right, {}};
  }

  /// As far as every wider look agrees with the narrower ones.
  std::array<RowWindow, told> windows(std::size_t row, double noise) const {
    constexpr double agree = 2.0; // deviations
    std::array<RowWindow, told> chosen;
    std::array<double, told> low, high;
    std::array<bool, told> goes_on;
    low.fill(-std::numeric_limits<double>::infinity());
    high.fill(std::numeric_limits<double>::infinity());
    goes_on.fill(true);
    chosen.fill(window(row, looks[0]));
    for (const std::size_t look : looks) {
      const RowWindow seen = window(row, look);
      const CubicFit::Result result = see(seen, rows_.times[row]);
      bool any = false;
      for (std::size_t d = 0; d < told; ++d) {
        if (!goes_on[d]) continue;
        const double half = agree * noise * result.deviations[d];
        const double lower = std::max(low[d], result.numbers[d] - half),
                     upper = std::min(high[d], result.numbers[d] + half);
        if (lower > upper && look != looks[0]) {
          goes_on[d] = false;
          continue;
        }
        low[d] = lower;
        high[d] = upper;
        chosen[d] = seen;
        any = true;
      }
      if (!any || seen.last - seen.first + 1 == count()) break;
    }
    return chosen;
  }

private:
  double scale_of(const RowWindow& window, double time) const {
    const double scale = std::max(rows_.times[window.last] - time, time - rows_.times[window.first]);
    return scale > 0.0 ? scale : 1.0;
  }

  const RecordedRows& rows_;
  const SectionWindows& section_;
  const std::vector<double>& values_;
  KnownValue tie_;
};

/// Of more rows the weights would take too much room.
constexpr std::size_t most_worked_out = 20'000;

/// A look over too few rows for a cubic tells nothing but their mean.
constexpr std::size_t fewest = 5;

PathNode node_at(const std::vector<Looker>& lookers, const SectionWindows& section, const RecordedRows& rows,
                 std::size_t row, double time) {
  PathNode node{time, {}};
  for (std::size_t c = 0; c < lookers.size(); ++c) {
    if (section.last - section.first + 1 < fewest) {
      double sum = 0.0;
      for (std::size_t k = section.first; k <= section.last; ++k) sum += rows.values[c][k];
      node.state[c].value = sum / static_cast<double>(section.last - section.first + 1);
      continue;
    }
    const auto& windows = section.windows[c][row - section.first];
    std::array<double, told> numbers{};
    for (std::size_t d = 0; d < told; ++d)
      numbers[d] = time == rows.times[row] && !windows[d].weights.empty() ? lookers[c].told_by(windows[d])
                                                                          : lookers[c].see(windows[d], time).numbers[d];
    node.state[c] = {numbers[0], numbers[1], numbers[2], 0.0};
  }
  return node;
}

/// The standing rows that a row is one of.
const StandingRows* standing_at(const PathPlan& plan, std::size_t row) {
  const auto next = std::upper_bound(plan.standing.begin(), plan.standing.end(), row,
                                     [](std::size_t r, const StandingRows& one) { return r < one.first; });
  if (next == plan.standing.begin() || row > (next - 1)->last) return nullptr;
  return &*(next - 1);
}

PathNode standing_node(const RecordedRows& rows, const StandingRows& standing, double time) {
  PathNode node{time, {}};
  const double n = static_cast<double>(standing.last - standing.from + 1);
  for (std::size_t c = 0; c < rows.components(); ++c)
    for (std::size_t row = standing.from; row <= standing.last; ++row) node.state[c].value += rows.values[c][row] / n;
  return node;
}

KnownValue tie_of(const SectionWindows& section, const PathSection* before, std::size_t component) {
  if (before == nullptr || section.tie.empty()) return {};
  return {section.from, before->back().state[component].value, section.tie[component]};
}

PathSection section_path(const RecordedRows& rows, const PathPlan& plan, const SectionWindows& section,
                         const PathSection* before) {
  std::vector<Looker> lookers;
  for (std::size_t c = 0; c < rows.components(); ++c)
    lookers.emplace_back(rows, section, c, tie_of(section, before, c));
  PathSection out;
  const StandingRows* known = nullptr;
  const auto add = [&](std::size_t row, double time) {
    // The row at which a move sets off stands before it only.
    const bool sets_off = row == section.first && before != nullptr && !section.follows_jump;
    const StandingRows* standing = sets_off ? nullptr : standing_at(plan, row);
    if (standing == nullptr) {
      out.push_back(node_at(lookers, section, rows, row, time));
    } else if (standing == known) {
      out.push_back(out.back());
      out.back().time = time;
    } else {
      out.push_back(standing_node(rows, *standing, time));
    }
    known = standing;
  };
  if (section.from < rows.times[section.first]) {
    add(section.first, section.from);
  }
  for (std::size_t row = section.first; row <= section.last; ++row) add(row, rows.times[row]);
  if (section.to > rows.times[section.last]) add(section.last, section.to);
  return out;
}

/// The rows from one time to another, both included.
bool take_rows(SectionWindows& section, const RecordedRows& rows) {
  const auto first = std::lower_bound(rows.times.begin(), rows.times.end(), section.from);
  const auto last = std::upper_bound(rows.times.begin(), rows.times.end(), section.to);
  if (!(first < last)) return false;
  section.first = static_cast<std::size_t>(first - rows.times.begin());
  section.last = static_cast<std::size_t>(last - rows.times.begin()) - 1;
  return true;
}

/// How well the end of a section is known, and whether the next one begins there.
void tie_to(SectionWindows& section, const RecordedRows& rows, const PathPlan& plan,
            const SectionWindows& before_windows, const PathSection& before) {
  section.tie.assign(rows.components(), 0.0);
  if (before_windows.last - before_windows.first + 1 < fewest) return;
  for (std::size_t c = 0; c < rows.components(); ++c) {
    const Looker left(rows, before_windows, c, {}), right(rows, section, c, {});
    const StandingRows* standing = standing_at(plan, before_windows.last);
    // How well the end of the section before is known.
    const double left_deviation = standing != nullptr
                                      ? 1.0 / std::sqrt(static_cast<double>(standing->last - standing->from + 1))
                                      : left.see(before_windows.windows[c].back()[0], before.back().time).deviations[0];
    const auto first = right.see(right.window(section.first, looks[0]), section.from);
    const double apart = std::fabs(first.numbers[0] - before.back().state[c].value);
    constexpr double jump = 5.0; // deviations
    const double deviation = plan.noise[c] * std::hypot(left_deviation, first.deviations[0]);
    if (apart <= jump * deviation) section.tie[c] = 1.0 / (left_deviation * left_deviation);
  }
}

} // namespace

std::vector<SectionWindows> windows_of(const RecordedRows& rows, const PathPlan& plan) {
  std::vector<SectionWindows> out;
  PathSection before;
  std::vector<PathCut> edges{{rows.times.front(), false}};
  for (const PathCut& cut : plan.cuts)
    if (cut.time > edges.back().time && cut.time < rows.times.back()) edges.push_back(cut);
  edges.push_back({rows.times.back(), false});
  for (std::size_t s = 0; s + 1 < edges.size(); ++s) {
    SectionWindows section;
    section.from = out.empty() ? edges[s].time : out.back().to;
    section.to = edges[s + 1].time;
    section.follows_jump = edges[s].is_jump;
    if (!take_rows(section, rows)) continue;
    const bool is_first = out.empty();
    if (!is_first && !section.follows_jump && section.last - section.first + 1 >= fewest)
      tie_to(section, rows, plan, out.back(), before);
    for (std::size_t c = 0; c < rows.components(); ++c) {
      const Looker looker(rows, section, c, tie_of(section, is_first ? nullptr : &before, c));
      std::vector<std::array<RowWindow, 3>> windows;
      for (std::size_t row = section.first; row <= section.last; ++row) {
        const bool stands = row != section.first && standing_at(plan, row) != nullptr;
        windows.push_back(looker.count() < fewest || stands ? std::array<RowWindow, 3>{}
                                                            : looker.windows(row, plan.noise[c]));
        for (std::size_t d = 0; d < told && looker.count() >= fewest && rows.size() <= most_worked_out; ++d)
          if (windows.back()[d].last > windows.back()[d].first) looker.work_out(windows.back()[d], d, rows.times[row]);
      }
      section.windows.push_back(std::move(windows));
    }
    before = section_path(rows, plan, section, is_first ? nullptr : &before);
    out.push_back(std::move(section));
  }
  return out;
}

CapturedPath smooth_path(const RecordedRows& rows, const PathPlan& plan, const std::vector<SectionWindows>& windows) {
  CapturedPath path;
  for (const SectionWindows& section : windows)
    path.push_back(section_path(rows, plan, section, path.empty() ? nullptr : &path.back()));
  return path;
}

} // namespace stasis
