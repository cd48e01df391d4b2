#include "figure/display_list.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/compile.h>
#include <fmt/format.h>

namespace stasis::figure {
namespace {

/// px: beyond it a rasteriser's own numbers end.
constexpr double farthest_drawn = 20'000.0;

bool can_be_drawn(Point p) noexcept { return std::fabs(p.x) < farthest_drawn && std::fabs(p.y) < farthest_drawn; }

bool can_all_be_drawn(const std::vector<Point>& points) noexcept {
  return std::all_of(points.begin(), points.end(), can_be_drawn);
}

} // namespace

void DisplayList::begin(int width, int height, const std::vector<Colour>& inks) {
  words_ += fmt::format("picture {} {} {} {}\n", width, height, inks.size(), fmt::join(inks, " "));
}

void DisplayList::clip(const Box& box) {
  words_ += fmt::format("clip {:.2f} {:.2f} {:.2f} {:.2f}\n", box.left, box.top, box.right, box.bottom);
}

void DisplayList::path(const std::vector<Point>& points) {
  fmt::format_to(std::back_inserter(words_), "{}", points.size());
  for (const Point& p : points) fmt::format_to(std::back_inserter(words_), FMT_COMPILE(" {:.2f} {:.2f}"), p.x, p.y);
  words_ += '\n';
}

void DisplayList::fill(const std::vector<Point>& outline, Colour colour, double opacity) {
  if (outline.size() < 3 || !can_all_be_drawn(outline)) return;
  words_ += fmt::format("fill {} {:.2f} ", colour, opacity);
  path(outline);
}

void DisplayList::box(const Box& b, Colour colour) {
  fill({{b.left, b.top}, {b.right, b.top}, {b.right, b.bottom}, {b.left, b.bottom}}, colour);
}

void DisplayList::frame(const Box& b, Colour colour, double width) {
  line({{b.left, b.top}, {b.right, b.top}, {b.right, b.bottom}, {b.left, b.bottom}, {b.left, b.top}}, colour, width);
}

void DisplayList::line(const std::vector<Point>& points, Colour colour, double width, bool dashed) {
  if (points.size() < 2 || !can_all_be_drawn(points)) return;
  words_ += fmt::format("line {} {:.2f} {} ", colour, width, dashed ? 1 : 0);
  path(points);
}

void DisplayList::dot(Point at, double radius, Colour colour) {
  if (can_be_drawn(at)) words_ += fmt::format("dot {} {:.2f} {:.2f} {:.2f}\n", colour, radius, at.x, at.y);
}

void DisplayList::ring(Point at, double radius, Colour colour) {
  if (can_be_drawn(at)) words_ += fmt::format("ring {} {:.2f} {:.2f} {:.2f}\n", colour, radius, at.x, at.y);
}

// many: a text, where it stands and how it looks
void DisplayList::text(std::string_view words, Point at, Align align, Colour colour, double size, bool bold) {
  if (words.empty() || !can_be_drawn(at)) return;
  const double before = align == Align::left ? 0.0 : align == Align::centre ? 0.5 : 1.0;
  words_ +=
      fmt::format("text {} {} {} {} {:.2f} {:.2f} {}\n", colour, size, bold ? 1 : 0, before, at.x, at.y, words.size());
  words_ += words;
  words_ += '\n';
}

void DisplayList::end() { words_ += "end\n"; }

} // namespace stasis::figure
