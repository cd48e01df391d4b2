// Pictures as lists of shapes, in the words that stasis-draw reads: src/draw/main.cpp.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "figure/figure.hpp"

namespace stasis::figure {

/// What is drawn of one picture after the other. Places that are not numbers, or far outside what can be drawn, are
/// left out.
class DisplayList {
public:
  /// \param inks  the colours that will be used, 25 at most; what lies between each and paper comes with it
  void begin(int width, int height, const std::vector<Colour>& inks);
  void clip(const Box& box);
  void fill(const std::vector<Point>& outline, Colour colour, double opacity = 1.0);
  void box(const Box& box, Colour colour);
  void frame(const Box& box, Colour colour, double width);
  void line(const std::vector<Point>& points, Colour colour, double width, bool dashed = false);
  void dot(Point at, double radius, Colour colour);
  void ring(Point at, double radius, Colour colour);
  // many: a text, where it stands and how it looks
  void text(std::string_view words, Point at, Align align, Colour colour, double size, bool bold = false);
  void end();

  const std::string& words() const noexcept { return words_; }
  void clear() { words_.clear(); }

private:
  void path(const std::vector<Point>& points);
  std::string words_;
};

} // namespace stasis::figure
