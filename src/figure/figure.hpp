// A figure as plain data: what is drawn where, in pixels from the top left. Tests read it, the back end draws it.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

namespace stasis::figure {

struct Point {
  double x;
  double y;
};

struct Box {
  double left, top, right, bottom;
};

inline bool overlap(const Box& a, const Box& b) noexcept {
  return a.left < b.right && b.left < a.right && a.top < b.bottom && b.top < a.bottom;
}

/// "#RRGGBB".
using Colour = std::string_view;

struct Fill {
  std::vector<Point> outline;
  Colour colour;
  double opacity = 1.0;
};

struct Line {
  std::vector<Point> points;
  Colour colour;
  double width = 1.0;
  bool dashed = false;
  std::string series; ///< what it shows, such as "fov.smooth"; empty for rules and grids
};

enum class MarkKind { diamond, ring, dot };

struct Mark {
  MarkKind kind;
  Point at;
  Colour colour;
};

using Shape = std::variant<Fill, Line, Mark>;

enum class TextRole {
  title,
  subtitle,
  panel_name,
  panel_unit,
  tick,
  end_label,
  end_value,
  annotation,
  rail_name,
  rail_length,
  footnote
};
enum class Align { left, centre, right };

struct Text {
  TextRole role;
  std::string text;
  Point at; ///< side given by `align`, middle of the height
  Align align = Align::left;
  Colour colour;
  double size = 12.0; ///< px
  bool bold = false;
  Box box{};                    ///< what it covers
  std::string series;           ///< which series it labels, if it does
  std::string source;           ///< where its number stands among the measures, such as "moves[0].rise_time"
  std::optional<double> number; ///< the number before rounding
};

struct Figure {
  int width = 1280;
  int height = 800;
  std::vector<Shape> shapes;         ///< in the order of drawing
  std::vector<Text> texts;           ///< above all shapes
  std::vector<std::string> left_out; ///< what did not fit, in words
};

} // namespace stasis::figure
