// A figure under construction: shapes and texts, and which pixels they take.
#pragma once

#include <string>
#include <vector>

#include "figure/figure.hpp"
#include "figure/occupancy.hpp"

namespace stasis::figure {

/// A text in the style of its role: size, weight and colour.
Text styled_text(TextRole role, std::string words, Point at, Align align);

/// The colour, weight and size of a role's texts.
struct RoleStyle {
  Colour colour;
  double size;
  bool bold;
};
RoleStyle role_style(TextRole role) noexcept;

class Canvas {
public:
  Canvas() : occupied_(figure_.width, figure_.height), avoided_(figure_.width, figure_.height) {}

  void add(Shape shape) { figure_.shapes.push_back(std::move(shape)); }
  /// A straight rule without meaning of its own.
  void add_rule(Point from, Point to, Colour colour);
  void add_rectangle(const Box& box, Colour colour);
  /// A line whose pixels texts keep clear of, `reach` px to each side.
  void add_curve(Line line, double reach);
  /// A mark whose pixels texts keep clear of.
  void add_mark(const Mark& mark);
  /// A text where it stands.
  void add_text(Text text);
  /// A text if nothing is in its way, `margin` px to the sides included.
  bool add_text_if_free(Text text, double margin);
  /// A text about a point, tried on all sides and ever farther away, first where it also keeps clear of what is
  /// avoided; false, and nothing added, where all is taken. It keeps between `left` and `right`.
  bool annotate(Point about, Text text, double left, double right);

  void take(const Box& box) { occupied_.take(box); }
  void take(const std::vector<Point>& line, double reach) { occupied_.take(line, reach); }
  /// A line that texts cross only where they cannot stand anywhere else.
  void avoid(const std::vector<Point>& line) { avoided_.take(line, 1.0); }

  Figure& figure() noexcept { return figure_; }
  Figure finish() { return std::move(figure_); }

private:
  bool annotate_clear_of(const Occupancy* avoided, Point about, Text text, double left, double right);

  Figure figure_;
  Occupancy occupied_, avoided_;
};

/// Something beside a line's end: where it would stand, and where it stands once pushed apart.
struct EndSlot {
  std::size_t index; ///< of what stands there
  double wanted;     ///< px
  double y;          ///< px
};
/// Moves slots apart to at least `pitch` px within top..bottom, keeping their order.
void push_apart(std::vector<EndSlot>& slots, double pitch, double top, double bottom);

} // namespace stasis::figure
