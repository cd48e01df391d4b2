// How evenly a subject on a tick is drawn, by order and by what is drawn between ticks: small multiples.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/canvas.hpp"
#include "figure/rates_figure.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"

namespace stasis::figure {
namespace {

constexpr double window = 0.5; // s that a cell shows
constexpr double cell_width = 520, cell_height = 128, column_pitch = 606, row_pitch = 224, cells_top = 168;
/// Ember for the subject, pool for the picture.
constexpr const style::SeriesColour& subject_colour = style::series[1];
constexpr const style::SeriesColour& picture_colour = style::series[0];

class TicksLayout {
public:
  explicit TicksLayout(const TicksFigureInput& input)
      : input_(input), study_(input.studies->front()), channel_(input.feel->channels[study_.channel]),
        unit_(printable(channel_.unit, 16)) {}

  Figure lay_out() {
    choose_window();
    heading();
    for (std::size_t k = 0; k < study_.cases.size(); ++k) cell(k);
    foot();
    return canvas_.finish();
  }

private:
  /// Half a second about where the jerks are largest, and the scale that holds them.
  void choose_window() {
    double most = -1.0, at = 0.0;
    for (const TickCase& one : study_.cases)
      for (std::size_t k = 0; k < one.times.size(); ++k) {
        const double size = std::max(std::fabs(one.subject_off[k]), std::fabs(one.picture_off[k]));
        const double warm = 4.0 / study_.tick_rate;
        if (one.times[k] < warm || size <= most * (1.0 + 1e-6)) continue;
        most = size;
        at = one.times[k];
      }
    from_ = std::clamp(at - 0.1 * window, 0.0, std::max(0.0, input_.take->length - window));
    for (const TickCase& one : study_.cases)
      for (std::size_t k = 0; k < one.times.size(); ++k)
        if (is_shown(one.times[k]))
          scale_ = std::max({scale_, std::fabs(one.subject_off[k]), std::fabs(one.picture_off[k])});
  }
  bool is_shown(double time) const { return time >= from_ - 1e-9 && time <= from_ + window + 1e-9; }

  // many: a text, where it may stand, and how it looks
  void text(TextRole role, const std::string& words, double width, Point at, Colour colour = {},
            std::optional<double> number = {}, const std::string& source = {}) {
    const RoleStyle look = role_style(role);
    Text out = styled_text(role, fitted(words, width, look.size, look.bold), at, Align::left);
    if (!colour.empty()) out.colour = colour;
    out.number = number;
    out.source = source;
    canvas_.add_text(std::move(out));
  }

  std::string amount(const std::optional<double>& size, const std::optional<double>& pixels) const {
    if (!size) return "not known";
    if (*size < 1e-9 * study_.subject_speed) return "0";
    return readable(*size) + (unit_.empty() ? "" : " " + unit_)
           + (pixels ? fmt::format(" ({} px)", readable(*pixels)) : "");
  }

  void heading() {
    const TickCase& best = study_.cases[study_.best];
    text(TextRole::title,
         fmt::format("{}: most even with {}, {} ms late", channel_.name, best.label, readable(1e3 * best.late)), 1100,
         {style::plot_left, style::title_y}, {}, best.late, fmt::format("ticks[0].cases[{}].late", study_.best));
    text(TextRole::subtitle,
         fmt::format("{}, take {}: a tick of {} Hz, {} frames a second; {} s of it, from {} s on",
                     printable(input_.title, 80), input_.take->name, concise(study_.tick_rate), concise(study_.fps),
                     concise(window), concise(from_)),
         1100, {style::plot_left, style::subtitle_y});
    text(TextRole::end_label, "subject in the picture", 300, {style::plot_left, 84}, subject_colour.text);
    text(TextRole::end_label, "picture against steady travel", 400, {style::plot_left + 200, 84}, picture_colour.text);
  }

  void cell(std::size_t k) {
    const TickCase& one = study_.cases[k];
    const double left = style::plot_left + column_pitch * static_cast<double>(k % 2);
    const double top = cells_top + row_pitch * static_cast<double>(k / 2), middle = top + 0.5 * cell_height;
    const bool is_best = k == study_.best;
    if (is_best)
      canvas_.add_rectangle({left - 12, top - 52, left + cell_width + 12, top + cell_height + 10}, style::wash);
    text(TextRole::panel_name, one.label + (is_best ? ": the most even" : ""), cell_width, {left, top - 38});
    const std::string place = fmt::format("ticks[0].cases[{}].", k);
    text(TextRole::annotation, "subject " + amount(one.subject, one.subject_pixels), 0.42 * cell_width,
         {left, top - 16}, subject_colour.text, one.subject, place + "judder_subject");
    text(TextRole::annotation, "picture " + amount(one.picture, one.picture_pixels), 0.4 * cell_width,
         {left + 0.42 * cell_width, top - 16}, picture_colour.text, one.picture, place + "judder_picture");
    text(TextRole::annotation, fmt::format("{} ms late", readable(1e3 * one.late)), 0.18 * cell_width,
         {left + 0.83 * cell_width, top - 16}, style::muted, one.late, place + "late");
    canvas_.add_rule({left, middle}, {left + cell_width, middle}, style::baseline);
    for (const double edge : {top, top + cell_height})
      canvas_.add_rule({left, edge}, {left + cell_width, edge}, style::hairline);
    if (scale_ <= 0.0) return;
    stems(one, one.subject_off, subject_colour.line, "subject " + one.label, left, middle, -1.5);
    stems(one, one.picture_off, picture_colour.line, "picture " + one.label, left, middle, 1.5);
    const std::string high = readable(scale_, 2);
    Text tick = styled_text(TextRole::tick, high, {left - 6, top}, Align::right);
    canvas_.add_text(std::move(tick));
    canvas_.add_text(styled_text(TextRole::tick, "\u2212" + high, {left - 6, top + cell_height}, Align::right));
  }

  /// One stem a frame, from even travel to where the frame is.
  // many: a row of the figure and how it looks
  void stems(const TickCase& one, const std::vector<double>& off, Colour colour, const std::string& series, double left,
             double middle, double aside) {
    for (std::size_t k = 0; k < one.times.size(); ++k) {
      if (!is_shown(one.times[k])) continue;
      const double x = left + cell_width * (one.times[k] - from_) / window + aside;
      const double y = middle - 0.5 * cell_height * off[k] / scale_;
      if (std::fabs(y - middle) < 0.5) {
        canvas_.add(Line{{{x, middle - 1.0}, {x, middle + 1.0}}, colour, 2.4, false, series});
        continue;
      }
      canvas_.add(Line{{{x, middle}, {x, y}}, colour, 2.4, false, series});
    }
  }

  void foot() {
    text(TextRole::footnote,
         fmt::format("one stem a frame: how far it is from the straight line between its neighbours{}",
                     unit_.empty() ? "" : ", " + unit_),
         1000, {style::plot_left, style::footnote_y});
    if (input_.studies->size() < 2) return;
    canvas_.figure().left_out.push_back(fmt::format("{} more channels follow", input_.studies->size() - 1));
  }

  const TicksFigureInput& input_;
  const TickStudy& study_;
  const Channel& channel_;
  std::string unit_;
  Canvas canvas_;
  double from_ = 0.0, scale_ = 0.0;
};

} // namespace

Figure ticks_figure(const TicksFigureInput& input) { return TicksLayout(input).lay_out(); }

} // namespace stasis::figure
