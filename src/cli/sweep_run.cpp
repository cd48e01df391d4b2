#include "cli/sweep_run.hpp"

#include <algorithm>
#include <atomic>
#include <cmath>

#include <fmt/format.h>

#include "cli/parallel.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// What one point has given, until all are put together.
struct PointFound {
  std::string rows;
  std::vector<std::vector<Measured>> measures; ///< by row, then measure
  std::vector<std::uint8_t> holds;
  bool is_unreadable = false;
};

/// A cell of a CSV file, in quotes where it needs them.
std::string csv_cell(const std::string& text) {
  if (text.find_first_of(",\"\n\r") == std::string::npos) return text;
  std::string quoted = "\"";
  for (const char c : text) quoted += c == '"' ? std::string("\"\"") : std::string(1, c);
  return quoted + "\"";
}

std::string csv_line(const std::vector<std::string>& cells) {
  std::string line;
  for (const std::string& cell : cells) line += (line.empty() && &cell == &cells.front() ? "" : ",") + csv_cell(cell);
  return line + "\n";
}

/// The worse of two values of a measure; of one without a better side the first.
Measured worse(const Measured& a, const Measured& b, Better better) {
  if (!a || !b) return std::nullopt; // what did not happen on one of them is not known of both
  switch (better) {
  case Better::smaller: return std::max(*a, *b);
  case Better::larger: return std::min(*a, *b);
  case Better::neither: return a;
  }
  return a;
}

PointFound found_at(const Trials& trials, const SweepPoints& points, std::uint64_t point) {
  PointFound out;
  const std::vector<std::string> words = points.words(point);
  const auto outcome = trials.with(points.assignments(point));
  if (!outcome) {
    out.is_unreadable = true;
    std::vector<std::string> cells = words;
    cells.resize(words.size() + 3 + trials.measures().size());
    out.rows = csv_line(cells);
    return out;
  }
  for (const TrialRow& row : outcome->rows) {
    std::vector<std::string> cells = words;
    cells.push_back(row.take);
    cells.push_back(shortest(row.fps));
    cells.push_back(trials.cases()[row.trial_case].variant);
    for (const Measured& value : row.measures) cells.push_back(value ? shortest(*value) : "");
    out.measures.push_back(row.measures);
    out.rows += csv_line(cells);
  }
  for (const TrialWant& want : outcome->wants) out.holds.push_back(want.holds ? 1 : 0);
  return out;
}

} // namespace

std::vector<std::size_t> name_wants(const Trials& trials, const SweepPoints& points, std::vector<std::string>& names) {
  std::vector<std::size_t> which;
  for (std::uint64_t point = 0; point < points.count() && which.empty(); ++point) {
    const auto outcome = trials.with(points.assignments(point));
    if (!outcome) continue;
    for (const TrialWant& want : outcome->wants) {
      const std::string name = fmt::format("{} {}", want.measure, want.bound);
      const auto known = std::find(names.begin(), names.end(), name);
      which.push_back(static_cast<std::size_t>(known - names.begin()));
      if (known == names.end()) names.push_back(name);
    }
    return which;
  }
  return which;
}

std::vector<Measured> worst_of(const std::vector<std::vector<std::vector<Measured>>>& by_row, std::size_t measure,
                               Better better) {
  std::vector<std::uint8_t> happens;
  for (const auto& rows : by_row)
    for (std::size_t r = 0; r < rows.size(); ++r) {
      if (happens.size() <= r) happens.resize(r + 1);
      if (rows[r][measure]) happens[r] = 1;
    }
  std::vector<Measured> worst;
  for (const auto& rows : by_row) {
    std::optional<Measured> here;
    for (std::size_t r = 0; r < rows.size(); ++r)
      if (happens[r] != 0) here = here ? worse(*here, rows[r][measure], better) : rows[r][measure];
    worst.push_back(here.value_or(std::nullopt));
  }
  return worst;
}

std::string sweep_header(const SweepPoints& points, const std::vector<std::string>& measures) {
  std::vector<std::string> cells;
  for (const SweepAxis& axis : points.axes()) cells.push_back(axis.path);
  for (const char* const fixed : {"take", "fps", "variant"}) cells.emplace_back(fixed);
  cells.insert(cells.end(), measures.begin(), measures.end());
  return csv_line(cells);
}

// many: what is played, which points of which share, how they are judged, by how many, and who listens
SweepTable run_sweep(const Trials& trials, const SweepPoints& points, const SweepPart& part,
                     const std::vector<Better>& better, unsigned threads,
                     const std::function<bool(std::uint64_t)>& progress) {
  SweepTable table;
  const std::vector<std::size_t> which = name_wants(trials, points, table.wants);
  const std::uint64_t first = part.first(points.count()), count = part.last(points.count()) - first;
  std::vector<PointFound> found(count);
  std::vector<std::atomic<bool>> is_done(count);
  std::atomic<bool> goes_on{true};
  constexpr std::uint64_t chunk = 8;
  share_out(
      count, chunk, threads,
      [&](std::uint64_t from, std::uint64_t to, unsigned) {
        for (std::uint64_t k = from; k < to && goes_on; ++k) {
          found[k] = found_at(trials, points, first + k);
          is_done[k] = true;
        }
      },
      [&](std::uint64_t done) {
        if (!progress(done)) goes_on = false;
      });
  std::vector<std::vector<std::vector<Measured>>> by_row; // by point, row, measure
  table.measures.resize(trials.measures().size());
  table.holds.resize(table.wants.size());
  for (; table.done < count && is_done[table.done]; ++table.done) {
    by_row.push_back(std::move(found[table.done].measures));
    PointFound& one = found[table.done];
    table.rows.push_back(std::move(one.rows));
    table.unreadable += one.is_unreadable ? 1 : 0;
    for (auto& holds : table.holds) holds.push_back(one.is_unreadable ? 0 : 1);
    for (std::size_t w = 0; w < std::min(which.size(), one.holds.size()); ++w)
      table.holds[which[w]].back() &= one.holds[w];
  }
  for (std::size_t m = 0; m < table.measures.size(); ++m) table.measures[m] = worst_of(by_row, m, better[m]);
  return table;
}

namespace {

/// How far a point is from what the feel has now, by axis in shares of what is swept.
double distance_from(const SweepPoints& points, std::uint64_t point,
                     const std::vector<std::optional<double>>& present) {
  double squares = 0.0;
  for (std::size_t a = 0; a < points.axes().size(); ++a) {
    const SweepAxis& axis = points.axes()[a];
    if (!present[a] || !axis.is_numeric()) continue;
    const double low = axis.numbers.empty() ? axis.range.low
                                            : *std::min_element(axis.numbers.begin(), axis.numbers.end()),
                 high = axis.numbers.empty() ? axis.range.high
                                             : *std::max_element(axis.numbers.begin(), axis.numbers.end());
    if (high > low) squares += std::pow((points.number(point, a) - *present[a]) / (high - low), 2);
  }
  return squares;
}

} // namespace

std::optional<std::uint64_t> best_point(const SweepTable& table, const SweepPoints& points, Better better,
                                        const std::vector<std::optional<double>>& present) {
  struct Candidate {
    std::size_t failing;
    double value, distance;
  };
  constexpr double alike = 1e-9;
  const auto beats = [&](const Candidate& one, const Candidate& other) {
    if (one.failing != other.failing) return one.failing < other.failing;
    const double gain = better == Better::larger ? one.value - other.value : other.value - one.value;
    if (std::fabs(gain) > alike * std::max(std::fabs(one.value), std::fabs(other.value)) && better != Better::neither)
      return gain > 0.0;
    return one.distance < other.distance;
  };
  std::optional<std::uint64_t> best;
  Candidate leader{};
  for (std::uint64_t point = 0; !table.measures.empty() && point < table.done; ++point) {
    const Measured& value = table.measures[0][point];
    if (!value) continue;
    Candidate one{0, *value, distance_from(points, point, present)};
    for (const auto& holds : table.holds) one.failing += holds[point] == 0 ? 1U : 0U;
    if (best && !beats(one, leader)) continue;
    best = point;
    leader = one;
  }
  return best;
}

} // namespace stasis::cli
