#include "figure/canvas.hpp"

#include <algorithm>
#include <utility>

#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {

RoleStyle role_style(TextRole role) noexcept {
  switch (role) {
  case TextRole::title: return {style::ink, style::title_size, true};
  case TextRole::subtitle: return {style::muted, style::subtitle_size, false};
  case TextRole::panel_name: return {style::ink, style::panel_size, true};
  case TextRole::end_label: return {style::ink, style::label_size, true};
  case TextRole::annotation: return {style::ink, style::small_size, false};
  case TextRole::rail_length: return {style::paper, style::rail_size, true};
  case TextRole::end_value:
  case TextRole::panel_unit:
  case TextRole::tick:
  case TextRole::rail_name:
  case TextRole::footnote: break;
  }
  return {style::muted, style::small_size, false};
}

Text styled_text(TextRole role, std::string words, Point at, Align align) {
  const RoleStyle look = role_style(role);
  Text text{role, std::move(words), at, align, look.colour, look.size, look.bold, {}, {}, {}, {}};
  measure_box(text);
  return text;
}

void Canvas::add_rule(Point from, Point to, Colour colour) { add(Line{{from, to}, colour, 1.0, false, ""}); }

void Canvas::add_rectangle(const Box& box, Colour colour) {
  add(Fill{{{box.left, box.top}, {box.right, box.top}, {box.right, box.bottom}, {box.left, box.bottom}}, colour, 1.0});
}

void Canvas::add_curve(Line line, double reach) {
  occupied_.take(line.points, reach);
  add(std::move(line));
}

void Canvas::add_mark(const Mark& mark) {
  constexpr double reach = 6;
  occupied_.take(Box{mark.at.x - reach, mark.at.y - reach, mark.at.x + reach, mark.at.y + reach});
  add(mark);
}

void Canvas::add_text(Text text) {
  measure_box(text);
  occupied_.take(text.box);
  figure_.texts.push_back(std::move(text));
}

bool Canvas::add_text_if_free(Text text, double margin) {
  measure_box(text);
  const Box around{text.box.left - margin, text.box.top, text.box.right + margin, text.box.bottom};
  if (!occupied_.is_free(around)) return false;
  add_text(std::move(text));
  return true;
}

bool Canvas::annotate(Point about, Text text, double left, double right) {
  return annotate_clear_of(&avoided_, about, text, left, right)
         || annotate_clear_of(nullptr, about, std::move(text), left, right);
}

// many: what is kept clear of, and a place for a text between two limits
bool Canvas::annotate_clear_of(const Occupancy* avoided, Point about, Text text, double left, double right) {
  constexpr double margin = 3;
  for (const double away : {8.0, 14.0, 22.0, 32.0, 46.0, 64.0})
    for (const auto& [side, below] : {std::pair{Align::left, 1.0},
                                      {Align::left, -1.0},
                                      {Align::right, 1.0},
                                      {Align::right, -1.0},
                                      {Align::left, 0.0},
                                      {Align::right, 0.0}}) {
      text.align = side;
      text.at = {about.x + (side == Align::left ? away : -away), about.y + below * (away * 0.4 + 8)};
      measure_box(text);
      const bool inside = text.box.left - margin >= left && text.box.right + margin <= right;
      if (!inside || (avoided != nullptr && !avoided->is_free(text.box))) continue;
      if (add_text_if_free(text, margin)) return true;
    }
  return false;
}

void push_apart(std::vector<EndSlot>& slots, double pitch, double top, double bottom) {
  std::stable_sort(slots.begin(), slots.end(), [](const EndSlot& a, const EndSlot& b) { return a.wanted < b.wanted; });
  double next = top + pitch / 2;
  for (EndSlot& slot : slots) {
    slot.y = std::max(slot.wanted, next);
    next = slot.y + pitch;
  }
  double limit = bottom - pitch / 2;
  for (auto slot = slots.rbegin(); slot != slots.rend(); ++slot) {
    slot->y = std::min(slot->y, limit);
    limit = slot->y - pitch;
  }
}

} // namespace stasis::figure
