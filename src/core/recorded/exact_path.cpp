// Rows without noise: where the path breaks, and the path through all of them.
#include <algorithm>
#include <cmath>
#include <limits>

#include "core/match/least_squares.hpp"
#include "core/recorded/recorded_path.hpp"
#include "core/root.hpp"

namespace stasis {
namespace {

constexpr std::size_t order = 6;

/// Of a polynomial through some rows, its value and rates at a time.
using Taylor = std::array<double, order + 1>;

/// Through the rows from `first` to `last`, at most seven. \returns terms by powers of (t - centre).
Taylor through_rows(const RecordedRows& rows, std::size_t component, std::size_t first, std::size_t last,
                    double centre) {
  const auto n = static_cast<Eigen::Index>(last - first + 1);
  const double width = std::max(rows.times[last] - centre, centre - rows.times[first]);
  Taylor terms{};
  if (!(width > 0.0)) {
    terms[0] = rows.values[component][first];
    return terms;
  }
  Eigen::MatrixXd powers(n, n);
  Eigen::VectorXd values(n);
  const double about = rows.values[component][first]; // large values keep their digits
  for (Eigen::Index i = 0; i < n; ++i) {
    const auto row = first + static_cast<std::size_t>(i);
    const double u = (rows.times[row] - centre) / width;
    powers(i, 0) = 1.0;
    for (Eigen::Index p = 1; p < n; ++p) powers(i, p) = powers(i, p - 1) * u;
    values[i] = rows.values[component][row] - about;
  }
  const Eigen::VectorXd found = solved(powers, values);
  double scale = 1.0;
  for (Eigen::Index p = 0; p < n; ++p, scale *= width) terms[static_cast<std::size_t>(p)] = found[p] / scale;
  terms[0] += about;
  return terms;
}

Smooth smooth_at(const Taylor& terms, double u) {
  Smooth out;
  for (std::size_t p = order + 1; p-- > 0;) {
    out.jerk = out.jerk * u + (p + 3 <= order ? terms[p + 3] * static_cast<double>((p + 3) * (p + 2) * (p + 1)) : 0.0);
    out.push = out.push * u + (p + 2 <= order ? terms[p + 2] * static_cast<double>((p + 2) * (p + 1)) : 0.0);
    out.rate = out.rate * u + (p + 1 <= order ? terms[p + 1] * static_cast<double>(p + 1) : 0.0);
    out.value = out.value * u + terms[p];
  }
  return out;
}

/// The rows by which one of a section is told: seven at most, it in their middle where there is room.
RowWindow around(std::size_t row, std::size_t first, std::size_t last) {
  const std::size_t span = std::min(order, last - first);
  const std::size_t begin = std::clamp(row > span / 2 ? row - span / 2 : 0, first, last - span);
  return {begin, begin + span, {}};
}

/// Differences of an order over so many rows and one, each times that power of the spacing there: as if the rows were
/// evenly apart. The largest of the components.
std::vector<double> differences_of(const RecordedRows& rows, std::size_t degree) {
  std::vector<double> sizes(rows.size() > degree ? rows.size() - degree : 0, 0.0);
  std::vector<double> divided(degree + 1);
  for (std::size_t i = 0; i < sizes.size(); ++i) {
    const double spacing = (rows.times[i + degree] - rows.times[i]) / static_cast<double>(degree);
    for (const std::vector<double>& values : rows.values) {
      for (std::size_t k = 0; k <= degree; ++k) divided[k] = values[i + k] - values[i];
      for (std::size_t d = 1; d <= degree; ++d)
        for (std::size_t k = 0; k + d <= degree; ++k)
          divided[k] = static_cast<double>(d) * spacing * (divided[k + 1] - divided[k])
                       / (rows.times[i + k + d] - rows.times[i + k]);
      sizes[i] = std::max(sizes[i], std::fabs(divided[0]));
    }
  }
  return sizes;
}

/// Runs of large differences beside small ones.
class BreakFinder {
public:
  /// \param degree of the differences: the higher, the plainer is a break, and the farther apart they must be.
  BreakFinder(const RecordedRows& rows, double rounding, std::size_t degree)
      : rows_(rows), rounding_(rounding), degree_(degree), sizes_(differences_of(rows, degree)) {
    constexpr double two = 2.0; // what is random grows by the weights of a difference: 2^degree in all
    floor_ = std::pow(two, static_cast<double>(degree)) * rounding;
  }

  /// Those that begin between two differences. \returns false if breaks lie too near to each other to be told apart.
  bool run(std::size_t from, std::size_t to, std::vector<PathBreak>& breaks) {
    bool apart = true;
    std::size_t last_end = 0; // of the run before: its differences say nothing about what is small
    for (std::size_t i = from; i < std::min(to, sizes_.size());) {
      std::size_t end = end_of_run(i, last_end);
      if (end > i) {
        end = with_neighbours(end);
        if (last_end > 0 && i < last_end + degree_ && !is_whole(end)) {
          // Its beginning lies under the run before.
          for (std::size_t row = i; row < std::min(end + degree_, rows_.size()); ++row)
            add(row, row, breaks, PathBreak::Kind::rough);
          last_end = i = end;
          apart = false;
          continue;
        }
        apart = note_run(i, end, breaks) && apart;
        last_end = end;
      }
      i = std::max(end, i + 1);
    }
    return apart;
  }
  std::size_t count() const noexcept { return sizes_.size(); }

private:
  double largest(std::size_t from, std::size_t to) const {
    double size = 0.0;
    for (std::size_t k = from; k < std::min(to, sizes_.size()); ++k) size = std::max(size, sizes_[k]);
    return size;
  }

  /// Where the differences that begin at `i` and are large beside those around them end; `i` if there are none.
  std::size_t end_of_run(std::size_t i, std::size_t last_end) const {
    constexpr double plainly = 12.0;
    const double before = largest(std::max(last_end, i > degree_ ? i - degree_ : 0), i);
    if (i == last_end || sizes_[i] <= std::max(plainly * before, floor_)) return i;
    // A break reaches over as many differences as their degree, or one less where it lies on a row; many breaks in a
    // row over more.
    for (std::size_t end = i + degree_ - 1; end <= sizes_.size(); ++end) {
      const double after = largest(end, end + degree_), within = largest(i, end);
      // The outermost of them are small beside the middle ones, and yet large beside what follows.
      const bool goes_on =
          end < sizes_.size() && sizes_[end] > std::max(plainly * largest(end + 1, end + 1 + degree_), floor_);
      const bool is_plain = end < sizes_.size() && sizes_[end] <= floor_; // a polynomial goes on there
      if (within > floor_ && (is_plain || (within > plainly * after && !goes_on))) return end;
      if (end - i >= 4 * degree_) break;
    }
    // A stretch that stood and now moves: only its beginning breaks.
    return std::min(i + degree_, sizes_.size());
  }

  /// A run goes on through what is small beside it, but large beside what comes after a break's reach: a second break
  /// that lies so near that no difference is free of both.
  std::size_t with_neighbours(std::size_t end) const {
    constexpr double plainly = 12.0;
    while (end < sizes_.size() && sizes_[end] > std::max(plainly * largest(end + degree_, end + 2 * degree_), floor_)
           && end + degree_ < sizes_.size())
      ++end;
    return end;
  }

  /// The last difference that a break reaches over is plainly larger than what follows.
  bool is_whole(std::size_t end) const {
    constexpr double plainly = 12.0;
    return sizes_[end - 1] > std::max(plainly * largest(end, end + degree_), floor_)
           || (end < sizes_.size() && sizes_[end] <= floor_ && sizes_[end - 1] > floor_);
  }

  bool note_run(std::size_t first, std::size_t end, std::vector<PathBreak>& breaks) const {
    const std::size_t length = end - first, before = first + degree_ - 1;
    if (length + 1 == degree_) {
      add(before, before, breaks); // on a row
      return true;
    }
    if (length == degree_) {
      add(before, before + 1, breaks); // the gap that every one of them reaches over
      return true;
    }
    constexpr std::size_t lower = 4;
    if (degree_ > lower) {
      std::vector<PathBreak> nearer;
      if (BreakFinder(rows_, rounding_, lower).run(first, end + 2, nearer) && !nearer.empty()) {
        for (const PathBreak& one : nearer) add(one.before, one.after, breaks);
        return true;
      }
      // Each row: straight between them.
      for (std::size_t row = before; row <= end; ++row) add(row, row, breaks, PathBreak::Kind::rough);
    }
    return false;
  }

  void add(std::size_t before, std::size_t after, std::vector<PathBreak>& breaks,
           PathBreak::Kind kind = PathBreak::Kind::bend) const {
    if (after >= rows_.size() || before == 0) return;
    if (!breaks.empty() && (breaks.back().after > before || breaks.back().before == before)) return;
    breaks.push_back({before == after ? rows_.times[before] : 0.5 * (rows_.times[before] + rows_.times[after]), before,
                      after, kind});
  }

  const RecordedRows& rows_;
  double rounding_;
  std::size_t degree_;
  std::vector<double> sizes_;
  double floor_ = 0.0;
};

/// The two sides of a break, of one component.
struct Sides {
  Taylor left, right; ///< about the rows beside it
  double left_at, right_at;
};

/// The difference of the two sides, or of their rates of an order.
double difference(const Sides& sides, std::size_t rate, double time) {
  const Smooth a = smooth_at(sides.left, time - sides.left_at), b = smooth_at(sides.right, time - sides.right_at);
  return rate == 0 ? b.value - a.value : rate == 1 ? b.rate - a.rate : b.push - a.push;
}

/// Where exactly the sides meet, and in which rate they part.
void place(PathBreak& one, const RecordedRows& rows, const std::vector<Sides>& sides, double rounding) {
  const double low = rows.times[one.before], high = rows.times[one.after], width = high - low;
  std::size_t main = 0; // the component in which it shows most
  double most = -1.0;
  for (std::size_t c = 0; c < sides.size(); ++c) {
    const double size = std::fabs(difference(sides[c], 1, 0.5 * (low + high)));
    if (size > most) {
      most = size;
      main = c;
    }
  }
  const Sides& pair = sides[main];
  if (width > 0.0) {
    constexpr double beyond = 0.02; // of the gap: a break on a row
    bool found = false;
    for (std::size_t rate = 0; rate < 3 && !found; ++rate) {
      const double a = low - beyond * width, b = high + beyond * width;
      const double at_a = difference(pair, rate, a), at_b = difference(pair, rate, b);
      if (!opposite(at_a, at_b)) continue;
      one.time =
          std::clamp(bracketed_root([&](double t) { return difference(pair, rate, t); }, a, b, at_a, at_b), low, high);
      found = true;
    }
    if (!found) one.time = low;
  }
  const double gap = std::fabs(difference(pair, 0, one.time)), turn = std::fabs(difference(pair, 1, one.time)),
               spacing = width > 0.0 ? width
                                     : (rows.times.back() - rows.times.front()) / static_cast<double>(rows.size() - 1),
               step = std::fabs(rows.values[main][one.after] - rows.values[main][one.before]);
  constexpr double plainly = 0.05; // of the step between the rows
  const double floor = 100.0 * rounding;
  if (width > 0.0 && gap > std::max(plainly * step, floor)) {
    one.kind = PathBreak::Kind::jump;
    one.time = low;
  } else if (const double speed = std::max(std::fabs(smooth_at(pair.left, -spacing).rate),
                                           std::fabs(smooth_at(pair.right, spacing).rate)); // a gap away on both sides
             turn > 1e-2 * speed && turn * spacing > floor) {
    one.kind = PathBreak::Kind::corner;
  }
}

/// True of rows that stand: however few they are, what is between them is plain.
bool stands_still(const RecordedRows& rows, std::size_t first, std::size_t last) {
  if (first >= last) return false;
  for (const std::vector<double>& values : rows.values)
    for (std::size_t row = first; row <= last; ++row)
      if (values[row] != values[first]) return false;
  return true;
}

/// Between two breaks that lie so near to each other, polynomials would tell more than the rows do: each row there is a
/// break of its own.
std::vector<PathBreak> without_short_sections(const RecordedRows& rows, const std::vector<PathBreak>& breaks) {
  constexpr std::size_t fewest = order; // rows
  std::vector<PathBreak> out;
  const auto add = [&](const PathBreak& one) {
    if (out.empty() || (out.back().after <= one.before && out.back().before != one.before)) out.push_back(one);
  };
  for (std::size_t k = 0; k < breaks.size(); ++k) {
    const bool has_next = k + 1 < breaks.size();
    const bool is_short = has_next && breaks[k + 1].before + 1 < breaks[k].after + fewest
                          && breaks[k].kind != PathBreak::Kind::rough
                          && !stands_still(rows, breaks[k].after, breaks[k + 1].before);
    if (!is_short) {
      add(breaks[k]);
      continue;
    }
    if (!out.empty() && out.back().after > breaks[k].before) out.pop_back();
    for (std::size_t row = breaks[k].before; row <= breaks[k + 1].after && row + 1 < rows.size(); ++row)
      if (row > 0) add({rows.times[row], row, row, PathBreak::Kind::rough});
  }
  return out;
}

/// Where only a higher rate breaks, both sides have one rate. The slower of the two is taken: what stands is known to
/// the last bit, while what sets off is told by a few rows.
void join_bends(CapturedPath& path, const std::vector<PathBreak>& breaks, std::size_t components) {
  for (std::size_t k = 0; k < breaks.size(); ++k) {
    if (breaks[k].kind != PathBreak::Kind::bend) continue;
    for (std::size_t c = 0; c < components; ++c) {
      double &before = path[k].back().state[c].rate, &after = path[k + 1].front().state[c].rate;
      before = after = std::fabs(before) < std::fabs(after) ? before : after;
    }
  }
}

struct SectionRows {
  std::size_t first, last;
};
std::vector<SectionRows> sections_of(const std::vector<PathBreak>& breaks, std::size_t rows) {
  std::vector<SectionRows> sections;
  std::size_t first = 0;
  for (const PathBreak& one : breaks) {
    sections.push_back({first, one.before});
    first = one.after;
  }
  sections.push_back({first, rows - 1});
  return sections;
}

} // namespace

std::vector<PathBreak> breaks_of(const RecordedRows& rows, double rounding) {
  std::vector<PathBreak> breaks;
  BreakFinder finder(rows, rounding, order);
  finder.run(0, finder.count(), breaks);
  breaks = without_short_sections(rows, breaks);
  const auto sections = sections_of(breaks, rows.size());
  for (std::size_t k = 0; k < breaks.size(); ++k) {
    std::vector<Sides> sides;
    for (std::size_t c = 0; c < rows.components(); ++c) {
      const RowWindow left = around(breaks[k].before, sections[k].first, sections[k].last),
                      right = around(breaks[k].after, sections[k + 1].first, sections[k + 1].last);
      const double left_at = rows.times[breaks[k].before], right_at = rows.times[breaks[k].after];
      sides.push_back({through_rows(rows, c, left.first, left.last, left_at),
                       through_rows(rows, c, right.first, right.last, right_at), left_at, right_at});
    }
    if (breaks[k].kind != PathBreak::Kind::rough) place(breaks[k], rows, sides, rounding);
  }
  return breaks;
}

CapturedPath exact_path(const RecordedRows& rows, const std::vector<PathBreak>& breaks) {
  CapturedPath path;
  const auto sections = sections_of(breaks, rows.size());
  for (std::size_t s = 0; s < sections.size(); ++s) {
    const std::size_t first = sections[s].first, last = sections[s].last;
    PathSection section;
    const auto node = [&](std::size_t row, double time) {
      PathNode out{time, {}};
      const RowWindow by = around(row, first, last);
      for (std::size_t c = 0; c < rows.components(); ++c)
        out.state[c] = smooth_at(through_rows(rows, c, by.first, by.last, rows.times[row]), time - rows.times[row]);
      return out;
    };
    if (s > 0 && breaks[s - 1].time < rows.times[first]) section.push_back(node(first, breaks[s - 1].time));
    for (std::size_t row = first; row <= last; ++row) section.push_back(node(row, rows.times[row]));
    if (s + 1 < sections.size() && breaks[s].time > rows.times[last]) section.push_back(node(last, breaks[s].time));
    path.push_back(std::move(section));
  }
  join_bends(path, breaks, rows.components());
  return path;
}

} // namespace stasis
