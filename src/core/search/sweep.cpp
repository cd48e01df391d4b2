#include "core/search/sweep.hpp"

#include <algorithm>
#include <cmath>
#include <numeric>

#include <fmt/format.h>

#include "core/random.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

constexpr double most_sweep_values = 100'000;

/// A listed value: a number, true or false, else a text.
Node listed_value(std::string_view word) {
  if (const auto number = read_number(word)) return number_node(*number);
  if (word == "true" || word == "false") return Node{word == "true", {}};
  return Node{std::string(word), {}};
}

tl::expected<SweepAxis, std::string> listed_axis(SweepAxis axis, std::string_view values) {
  axis.kind = SweepAxis::Kind::listed;
  for (const std::string_view part : split(values, ',')) {
    const std::string_view word = trimmed(part);
    if (word.empty()) return tl::unexpected(std::string("one of its values is empty"));
    axis.values.push_back(listed_value(word));
    axis.words.emplace_back(word);
    if (const auto number = read_number(word)) axis.numbers.push_back(*number);
  }
  if (axis.numbers.size() != axis.values.size()) axis.numbers.clear();
  return axis;
}

/// Places of values in their order; equal ones share the mean of theirs.
std::vector<double> ranks_of(const std::vector<double>& values) {
  std::vector<std::size_t> order(values.size());
  std::iota(order.begin(), order.end(), std::size_t{0});
  std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) { return values[a] < values[b]; });
  std::vector<double> ranks(values.size());
  for (std::size_t from = 0; from < order.size();) {
    std::size_t to = from;
    while (to < order.size() && values[order[to]] == values[order[from]]) ++to;
    for (std::size_t k = from; k < to; ++k) ranks[order[k]] = 0.5 * static_cast<double>(from + to - 1);
    from = to;
  }
  return ranks;
}

double correlation(const std::vector<double>& a, const std::vector<double>& b) {
  const double count = static_cast<double>(a.size());
  const double mean_a = std::accumulate(a.begin(), a.end(), 0.0) / count,
               mean_b = std::accumulate(b.begin(), b.end(), 0.0) / count;
  double ab = 0.0, aa = 0.0, bb = 0.0;
  for (std::size_t k = 0; k < a.size(); ++k) {
    ab += (a[k] - mean_a) * (b[k] - mean_b);
    aa += (a[k] - mean_a) * (a[k] - mean_a);
    bb += (b[k] - mean_b) * (b[k] - mean_b);
  }
  return aa > 0.0 && bb > 0.0 ? ab / std::sqrt(aa * bb) : 0.0;
}

} // namespace

tl::expected<SweepAxis, std::string> parse_sweep_axis(const std::string& text, bool samples) {
  const auto fault = [](std::string message) { return tl::unexpected(std::move(message)); };
  const std::string shape = samples ? "PATH=LOW:HIGH or PATH=LOW:HIGH:log" : "PATH=LOW:HIGH:COUNT or PATH=a,b,c";
  const auto equals = text.find('=');
  if (equals == std::string::npos) return fault("expected " + shape);
  SweepAxis axis;
  axis.path = trimmed(std::string_view(text).substr(0, equals));
  const std::string_view values = trimmed(std::string_view(text).substr(equals + 1));
  if (axis.path.empty() || values.empty()) return fault("expected " + shape);
  if (values.find(':') == std::string_view::npos)
    return samples ? fault("expected " + shape) : listed_axis(std::move(axis), values);
  std::vector<std::string_view> parts = split(values, ':');
  if (trimmed(parts.back()) == "log") {
    axis.kind = SweepAxis::Kind::by_factor;
    parts.pop_back();
  }
  if (parts.size() != (samples ? 2U : 3U)) return fault("expected " + shape);
  const auto low = read_number(trimmed(parts[0])), high = read_number(trimmed(parts[1]));
  if (!low || !high || !std::isfinite(*low) || !std::isfinite(*high) || *low >= *high)
    return fault(fmt::format("expected two numbers, the lower one first, found {}", printable(values, 60)));
  if (axis.kind == SweepAxis::Kind::by_factor && *low <= 0.0) return fault("equal factors need a lowest value above 0");
  axis.range = {*low, *high, axis.kind == SweepAxis::Kind::by_factor};
  if (samples) return axis;
  const auto count = read_number(trimmed(parts[2]));
  if (!count || *count != std::floor(*count) || *count < 2 || *count > most_sweep_values)
    return fault(fmt::format("expected a whole number of values from 2 to {}, found {}", shortest(most_sweep_values),
                             printable(trimmed(parts[2]), 40)));
  const auto steps = static_cast<std::size_t>(*count) - 1;
  for (std::size_t k = 0; k <= steps; ++k) {
    const double number = axis.range.number_at(static_cast<double>(k) / static_cast<double>(steps));
    axis.numbers.push_back(number);
    axis.values.push_back(number_node(number));
    axis.words.push_back(shortest(number));
  }
  return axis;
}

SweepPoints::SweepPoints(std::vector<SweepAxis> axes) : axes_(std::move(axes)) {
  for (const SweepAxis& axis : axes_) count_ *= axis.values.size();
}

SweepPoints::SweepPoints(std::vector<SweepAxis> axes, std::uint64_t samples, std::uint64_t seed)
    : axes_(std::move(axes)), count_(samples) {
  Random random(seed);
  for (std::uint64_t k = 0; k < samples; ++k)
    for (const SweepAxis& axis : axes_) drawn_.push_back(axis.range.number_at(random.share()));
}

std::size_t SweepPoints::index(std::uint64_t point, std::size_t axis) const noexcept {
  for (std::size_t k = axes_.size(); k-- > axis + 1;) point /= axes_[k].values.size();
  return static_cast<std::size_t>(point % axes_[axis].values.size());
}

double SweepPoints::number(std::uint64_t point, std::size_t axis) const noexcept {
  return is_random() ? drawn_[point * axes_.size() + axis] : axes_[axis].numbers[index(point, axis)];
}

std::vector<Assignment> SweepPoints::assignments(std::uint64_t point) const {
  std::vector<Assignment> out;
  for (std::size_t a = 0; a < axes_.size(); ++a)
    out.push_back({axes_[a].path, is_random() ? number_node(number(point, a)) : axes_[a].values[index(point, a)]});
  return out;
}

std::vector<std::string> SweepPoints::words(std::uint64_t point) const {
  std::vector<std::string> out;
  for (std::size_t a = 0; a < axes_.size(); ++a)
    out.push_back(is_random() ? shortest(number(point, a)) : axes_[a].words[index(point, a)]);
  return out;
}

std::vector<Cliff> cliffs_of(const SweepPoints& points, const std::vector<Measured>& measure) {
  constexpr double of_neighbours = 8.0, of_range = 0.05;
  std::vector<Cliff> cliffs;
  if (points.is_random()) return cliffs;
  double low = std::numeric_limits<double>::infinity(), high = -low;
  for (const Measured& one : measure)
    if (one) low = std::min(low, *one), high = std::max(high, *one);
  for (std::size_t axis = 0; axis < points.axes().size(); ++axis) {
    if (points.axes()[axis].numbers.empty()) continue;
    std::uint64_t stride = 1;
    for (std::size_t k = axis + 1; k < points.axes().size(); ++k) stride *= points.axes()[k].values.size();
    // The step from a point to the next along the axis; nothing where either is missing.
    const auto step = [&](std::uint64_t point) -> Measured {
      const bool has_next = points.index(point, axis) + 1 < points.axes()[axis].values.size();
      if (!has_next || !measure[point] || !measure[point + stride]) return std::nullopt;
      return *measure[point + stride] - *measure[point];
    };
    for (std::uint64_t point = 0; point < points.count(); ++point) {
      const Measured here = step(point), after = here ? step(point + stride) : std::nullopt,
                     before = points.index(point, axis) > 0 ? step(point - stride) : std::nullopt;
      if (!here || !before || !after || std::fabs(*here) < of_range * (high - low)) continue;
      if (std::fabs(*here) > of_neighbours * std::max(std::fabs(*before), std::fabs(*after)))
        cliffs.push_back({axis, point, point + stride, *here});
    }
  }
  std::stable_sort(cliffs.begin(), cliffs.end(),
                   [](const Cliff& a, const Cliff& b) { return std::fabs(a.jump) > std::fabs(b.jump); });
  return cliffs;
}

std::vector<double> rank_correlations(const SweepPoints& points, const std::vector<Measured>& measure) {
  std::vector<double> values;
  for (const Measured& one : measure)
    if (one) values.push_back(*one);
  const std::vector<double> ranks = ranks_of(values);
  std::vector<double> out;
  for (std::size_t axis = 0; axis < points.axes().size(); ++axis) {
    std::vector<double> numbers;
    for (std::uint64_t point = 0; point < points.count(); ++point)
      if (measure[point]) numbers.push_back(points.number(point, axis));
    out.push_back(values.size() < 3 ? 0.0 : correlation(ranks_of(numbers), ranks));
  }
  return out;
}

} // namespace stasis
