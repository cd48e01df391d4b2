#include "figure/plot_groups.hpp"

#include <cmath>
#include <cstdint>
#include <unordered_set>

#include "core/overloaded.hpp"

namespace stasis::figure {
namespace {

constexpr std::size_t few_shapes = 300, few_points = 20'000;
constexpr std::size_t longest_stretch = 128;
constexpr double cells_per_px = 2.0; // in which points are not told apart

std::size_t points_of(const Shape& shape) {
  return std::visit(Overloaded{
                        [](const Fill& fill) { return fill.outline.size(); },
                        [](const Line& line) { return line.points.size(); },
                        [](const Mark&) { return std::size_t{1}; },
                    },
                    shape);
}

/// The shape without its points, and these.
PlotGroup group_of(const Shape& shape) {
  return std::visit(Overloaded{
                        [](const Fill& fill) {
                          return PlotGroup{Fill{{}, fill.colour, fill.opacity}, {fill.outline}};
                        },
                        [](const Line& line) {
                          return PlotGroup{Line{{}, line.colour, line.width, line.dashed, {}}, {line.points}};
                        },
                        [](const Mark& mark) {
                          return PlotGroup{mark, {{mark.at}}};
                        },
                    },
                    shape);
}

bool look_alike(const Shape& a, const Shape& b) {
  const auto alike = Overloaded{
      [](const Fill& x, const Fill& y) { return x.colour == y.colour && x.opacity == y.opacity && x.opacity == 1.0; },
      [](const Line& x, const Line& y) { return x.colour == y.colour && x.width == y.width && x.dashed == y.dashed; },
      [](const Mark& x, const Mark& y) { return x.kind == y.kind && x.colour == y.colour; },
      [](const auto&, const auto&) { return false; },
  };
  return std::visit(alike, a, b);
}

std::uint64_t cell_of(Point point) noexcept {
  const auto part = [](double px) {
    return static_cast<std::uint32_t>(static_cast<std::int32_t>(std::lround(px * cells_per_px)));
  };
  return (std::uint64_t{part(point.x)} << 32) | part(point.y);
}

/// A number for a way from one cell to another.
std::uint64_t way_of(std::uint64_t from, std::uint64_t to) noexcept {
  constexpr std::uint64_t odd = 0x9E3779B97F4A7C15u; // spreads; two ways share a number once in 2^64
  return (from * odd) ^ (to + (to << 17));
}

/// Which cells the corners of a piece lie in.
std::uint64_t mark_of(const std::vector<Point>& piece) noexcept {
  std::uint64_t mark = piece.size();
  for (const Point& point : piece) mark = way_of(mark, cell_of(point));
  return mark;
}

/// Of a heavy figure: pieces that lie where others of the group do are left out, lines are drawn once.
void thin(PlotGroup& group) {
  std::unordered_set<std::uint64_t> seen;
  std::vector<std::vector<Point>> kept;
  const bool is_line = std::holds_alternative<Line>(group.look);
  for (std::vector<Point>& piece : group.pieces) {
    if (!seen.insert(mark_of(piece)).second) continue;
    if (!is_line)
      kept.push_back(std::move(piece));
    else
      for (std::vector<Point>& stretch : drawn_once(piece)) kept.push_back(std::move(stretch));
  }
  group.pieces = std::move(kept);
}

} // namespace

std::vector<std::vector<Point>> drawn_once(const std::vector<Point>& line) {
  std::vector<std::vector<Point>> stretches;
  if (line.size() < few_points / 4) return {line};
  std::unordered_set<std::uint64_t> drawn;
  std::vector<Point> stretch{line.front()};
  std::uint64_t here = cell_of(line.front());
  const auto close = [&](Point next) {
    if (stretch.size() > 1) stretches.push_back(std::move(stretch));
    stretch = {next};
  };
  for (const Point& point : line) {
    const std::uint64_t there = cell_of(point);
    if (there == here) continue;
    const bool is_new = drawn.insert(way_of(here, there)).second;
    here = there;
    if (is_new) stretch.push_back(point);
    // Whoever draws a long line that crosses itself looks for all the crossings at once; pieces of it are quick.
    if (!is_new || stretch.size() == longest_stretch) close(point);
  }
  if (stretch.size() == 1 && stretches.empty()) stretch.push_back(line.back());
  if (stretch.size() > 1) stretches.push_back(std::move(stretch));
  return stretches;
}

std::vector<PlotGroup> plot_groups(const std::vector<Shape>& shapes) {
  std::size_t points = 0;
  for (const Shape& shape : shapes) points += points_of(shape);
  const bool is_heavy = shapes.size() > few_shapes || points > few_points;
  std::vector<PlotGroup> groups;
  for (const Shape& shape : shapes) {
    PlotGroup group = group_of(shape);
    if (is_heavy && !groups.empty() && look_alike(groups.back().look, group.look))
      groups.back().pieces.push_back(std::move(group.pieces.front()));
    else
      groups.push_back(std::move(group));
  }
  if (is_heavy)
    for (PlotGroup& group : groups) thin(group);
  return groups;
}

} // namespace stasis::figure
