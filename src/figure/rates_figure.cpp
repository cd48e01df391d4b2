#include "figure/rates_figure.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "core/unbounded.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"
#include "figure/time_plot.hpp"

namespace stasis::figure {
namespace {

/// A component of a channel, and its two panels.
struct Strip {
  ComponentRef which;
  std::string name, unit;
  double off = 0.0; ///< farthest from the exact path, unit
  PlotArea values, differences;
};

/// A clock's line.
struct RateLine {
  std::size_t play;
  std::size_t colour; ///< index into style::series
};

/// A difference of so many per cent of the largest move is not seen.
constexpr double unseen_share = 1.0;

class RatesLayout {
public:
  explicit RatesLayout(const RatesFigureInput& input)
      : input_(input), account_(*input.account), series_(*input.series),
        plot_(canvas_, std::max(account_.take->length, 1.0 / account_.take->fps)) {}

  Figure lay_out() {
    choose_lines();
    choose_strips();
    place_strips();
    for (Strip& strip : strips_) {
      set_axes(strip);
      draw_band(strip);
      plot_.draw_frame(strip.values, strip.name, strip.unit);
      plot_.draw_frame(strip.differences, "each minus the exact path", strip.unit);
      draw_values(strip);
      draw_differences(strip);
    }
    draw_rates_heading();
    draw_rates_foot();
    for (const Strip& strip : strips_) {
      label_values(strip);
      label_differences(strip);
    }
    return canvas_.finish();
  }

private:
  const RatePlay& play_of(const RateLine& line) const { return account_.plays[line.play]; }
  static const style::SeriesColour& colour_of(const RateLine& line) { return style::series[line.colour]; }

  /// Each rate of the usual four has a colour of its own wherever it appears; others take what is left.
  void choose_lines() {
    struct Own {
      double fps;
      std::size_t colour;
    };
    constexpr std::array<Own, 4> own{{{15, 1}, {30, 2}, {60, 3}, {144, 0}}};
    std::vector<std::size_t> order(account_.plays.size());
    for (std::size_t p = 0; p < order.size(); ++p) order[p] = p;
    const std::size_t channel = account_.worst_channel().value_or(0);
    std::stable_sort(order.begin(), order.end(), [&](std::size_t a, std::size_t b) {
      const bool steady_a = !account_.plays[a].what.disturbance.any(),
                 steady_b = !account_.plays[b].what.disturbance.any();
      if (steady_a != steady_b) return steady_a;
      return account_.plays[a].channels[channel].spread.size > account_.plays[b].channels[channel].spread.size;
    });
    std::vector<std::string> dropped;
    while (order.size() > style::series.size()) {
      dropped.insert(dropped.begin(), account_.plays[order.back()].what.label);
      order.pop_back();
    }
    std::sort(order.begin(), order.end());
    std::array<bool, style::series.size()> taken{};
    std::vector<std::size_t> others;
    for (const std::size_t p : order) {
      const RateCase& what = account_.plays[p].what;
      const auto found = std::find_if(own.begin(), own.end(), [&](const Own& one) { return one.fps == what.fps; });
      if (found == own.end() || what.disturbance.any()) {
        others.push_back(lines_.size());
        lines_.push_back({p, 0});
      } else {
        taken[found->colour] = true;
        lines_.push_back({p, found->colour});
      }
    }
    for (const std::size_t k : others) {
      const auto free = std::find(taken.begin(), taken.end(), false);
      *free = true;
      lines_[k].colour = static_cast<std::size_t>(free - taken.begin());
    }
    const std::vector<std::string_view> views(dropped.begin(), dropped.end());
    if (!dropped.empty()) canvas_.figure().left_out.push_back("no line for " + listed(views));
  }

  double off_of(ComponentRef component) const {
    double widest = 0.0;
    for (std::size_t p = 0; p < account_.plays.size(); ++p)
      widest = std::max(widest, series_.off(p, component).farthest().size);
    return widest;
  }

  void choose_strips() {
    const Feel& feel = *account_.feel;
    for (std::size_t c = 0; c < feel.channels.size(); ++c) {
      const bool asked = std::find(input_.only.begin(), input_.only.end(), feel.channels[c].name) != input_.only.end();
      if (!input_.only.empty() && !asked) continue;
      for (std::size_t i = 0; i < feel.channels[c].components; ++i) {
        const double off = off_of({c, i});
        if (asked || account_.is_noticeable(c, off))
          strips_.push_back(
              {{c, i}, component_name(feel.channels[c], i), printable(feel.channels[c].unit), off, {}, {}});
      }
    }
    if (strips_.empty())
      strips_.push_back({{0, 0}, component_name(feel.channels[0], 0), printable(feel.channels[0].unit), 0.0, {}, {}});
    std::stable_sort(strips_.begin(), strips_.end(), [&](const Strip& a, const Strip& b) { return rank(a) > rank(b); });
    constexpr std::size_t most_strips = 2;
    std::vector<std::string> dropped;
    while (strips_.size() > most_strips) {
      dropped.insert(dropped.begin(), strips_.back().name);
      strips_.pop_back();
    }
    const std::vector<std::string_view> views(dropped.begin(), dropped.end());
    if (!dropped.empty())
      canvas_.figure().left_out.push_back("no room for " + listed(views) + "; --only NAME draws it");
  }

  /// Channels that move come first, by share of their move.
  double rank(const Strip& strip) const {
    const auto share = account_.share(strip.which.channel, strip.off);
    return share ? 1e9 + *share : strip.off;
  }

  void place_strips() {
    const double room = style::last_baseline - style::panels_top;
    const double count = static_cast<double>(strips_.size());
    const double each = (room - style::panel_gap * (count - 1.0)) / count;
    double top = style::panels_top;
    for (Strip& strip : strips_) {
      strip.values = {top, top + 0.6 * (each - style::panel_gap), {}};
      strip.differences = {strip.values.bottom + style::panel_gap, top + each, {}};
      top += each + style::panel_gap;
    }
  }

  void set_axes(Strip& strip) const {
    double low = series_.exact(strip.which).low(), high = series_.exact(strip.which).high(), below = 0.0, above = 0.0;
    for (const RateLine& line : lines_) {
      const ThinnedLine &values = series_.values(line.play, strip.which), &off = series_.off(line.play, strip.which);
      low = std::min(low, values.low());
      high = std::max(high, values.high());
      below = std::min(below, off.low());
      above = std::max(above, off.high());
    }
    strip.values.axis = value_axis(low, high, strip.values.bottom - strip.values.top > 150 ? 5 : 4);
    strip.differences.axis = value_axis(below, above, 3);
  }

  /// What nobody sees, behind the differences.
  void draw_band(const Strip& strip) {
    const double half = 0.01 * unseen_share * account_.largest_move[strip.which.channel];
    if (half <= 0.0) return;
    const double top = std::max(strip.differences.y(half), strip.differences.top);
    const double bottom = std::min(strip.differences.y(-half), strip.differences.bottom);
    canvas_.add_rectangle({style::plot_left, top, style::plot_right, bottom}, style::wash);
    has_band_ = true;
  }

  /// Says what is there to be seen, and no more.
  void draw_rates_foot() {
    plot_.draw_foot(fmt::format("grey: the exact path{}{}", has_dots_ ? "    dots: frames" : "",
                                has_band_ ? "    band: 1 % of the largest move" : ""));
  }

  void draw_values(const Strip& strip) {
    canvas_.add_curve({plot_.on_page(strip.values, series_.exact(strip.which).points()), style::baseline,
                       style::moving_width, false, "exact"},
                      2.0);
    for (const RateLine& line : lines_) draw_line(strip.values, line, series_.values(line.play, strip.which), "");
  }

  void draw_differences(const Strip& strip) {
    for (const RateLine& line : lines_)
      draw_line(strip.differences, line, series_.off(line.play, strip.which), " minus exact");
  }

  /// Up to 30 frames a second each frame has its dot, where there is room for them.
  void draw_line(const PlotArea& area, const RateLine& line, const ThinnedLine& drawn, const char* suffix) {
    const RatePlay& play = play_of(line);
    const auto points = plot_.on_page(area, drawn.points());
    constexpr double most_dotted = 30.0, least_pitch = 7.0;
    const double pitch = (style::plot_right - style::plot_left) / std::max(1.0, static_cast<double>(drawn.count()));
    if (play.what.fps <= most_dotted && pitch >= least_pitch)
      for (const Point& p : points) {
        canvas_.add(Mark{MarkKind::dot, p, colour_of(line).line});
        has_dots_ = true;
      }
    canvas_.add_curve({points, colour_of(line).line, style::derived_width, false, play.what.label + suffix}, 2.0);
  }

  void draw_rates_heading() {
    std::optional<std::size_t> worst = account_.worst_channel();
    if (!input_.only.empty()) {
      worst.reset();
      if (strips_.front().off > 0.0) worst = strips_.front().which.channel; // what is drawn is what is told
    }
    std::string title =
        account_.frame_shakes.empty() ? "The same at every rate" : "The same at every rate, except for shakes";
    if (worst) {
      const RatePlay& play = account_.plays[account_.worst_play(*worst)];
      const double size = account_.judged_by(*worst, play).size;
      const auto share = account_.share(*worst, size);
      const std::string& unit = account_.feel->channels[*worst].unit;
      const std::string off = share ? readable(*share) + " %" : readable(size) + " " + printable(unit);
      const std::string& name = account_.feel->channels[*worst].name;
      title = account_.has_rule_error(*worst)
                  ? fmt::format("{} is off by {} at {}, by its own rule", name, off, play.what.label)
                  : fmt::format("Exact at every rate; inputs wait, {} by {} at {}", name, off, play.what.label);
    }
    std::string subtitle = fmt::format("{}, take {}, {} s", printable(input_.title, 80), account_.take->name,
                                       concise(account_.take->length));
    if (worst && !account_.causes[*worst].empty()) {
      const std::string& cause = account_.causes[*worst];
      subtitle += ": " + cause.substr(0, cause.find("; and "));
    }
    plot_.draw_heading(title, subtitle, "");
    std::string missing;
    for (const std::string& one : canvas_.figure().left_out) missing += (missing.empty() ? "" : "; ") + one;
    if (!missing.empty())
      plot_.add_fitted(TextRole::footnote, missing, style::plot_right - style::plot_left,
                       {style::plot_left, style::subtitle_y + 22}, Align::left);
  }

  // many: a text, where it may stand, and the number that it tells
  void add_label(TextRole role, const std::string& words, Point at, const RateLine& line, const std::string& source,
                 std::optional<double> number, bool names) {
    const RoleStyle look = role_style(role);
    Text text =
        styled_text(role, fitted(words, style::page_right - style::label_left, look.size, look.bold), at, Align::left);
    text.colour = colour_of(line).text;
    text.source = source;
    text.number = number;
    if (names) text.series = play_of(line).what.label;
    canvas_.add_text(std::move(text));
  }

  /// Beside each line's end: its clock, how much it changes with the frame rate, and when.
  void label_values(const Strip& strip) {
    std::vector<EndSlot> slots;
    for (std::size_t k = 0; k < lines_.size(); ++k) {
      const double y = strip.values.y(series_.values(lines_[k].play, strip.which).last());
      slots.push_back({k, y, y});
    }
    const double highest = strip.values.top - 18, lowest = strip.values.bottom + 14;
    const bool roomy = lowest - highest >= 36.0 * static_cast<double>(slots.size());
    push_apart(slots, roomy ? 36 : 17, highest, lowest);
    for (const EndSlot& slot : slots) {
      const RateLine& line = lines_[slot.index];
      const ChannelAtRate& channel = play_of(line).channels[strip.which.channel];
      const double size = channel.spread.size;
      const auto share = account_.share(strip.which.channel, size);
      const std::string off = !account_.is_noticeable(strip.which.channel, size) ? "exact"
                              : share                                            ? readable(*share) + " %"
                                                                                 : readable(size) + " " + strip.unit;
      const std::string source = fmt::format("rates[{}].channels.{}.spread.size", line.play,
                                             account_.feel->channels[strip.which.channel].name);
      const std::string& label = play_of(line).what.label;
      if (std::fabs(slot.y - slot.wanted) > 2)
        canvas_.add_rule({style::plot_right + 2, slot.wanted}, {style::label_left - 3, slot.y}, colour_of(line).faint);
      if (roomy) {
        add_label(TextRole::end_label, label, {style::label_left, slot.y - 8}, line, "", std::nullopt, true);
        add_label(TextRole::end_value, off, {style::label_left, slot.y + 8}, line, source, size, false);
      } else {
        add_label(TextRole::end_value, label + ": " + off, {style::label_left, slot.y}, line, source, size, true);
      }
    }
  }

  /// The widest gap of all: a dot and its number; beside it its cause is in the heading.
  void label_differences(const Strip& strip) {
    const RateLine* widest = nullptr;
    Deviation most;
    for (const RateLine& line : lines_)
      if (const Deviation& here = series_.off(line.play, strip.which).farthest(); here.size > most.size) {
        widest = &line;
        most = here;
      }
    if (widest == nullptr || !account_.is_noticeable(strip.which.channel, most.size)) return;
    const RatePlay& play = play_of(*widest);
    const Point at{plot_.x(most.at), strip.differences.y(series_.off(widest->play, strip.which).at_farthest())};
    canvas_.add(Mark{MarkKind::ring, at, style::ink});
    plot_.annotate(
        at,
        fmt::format("widest: {}, {}{} at {} s", play.what.label, readable(most.size),
                    strip.unit.empty() ? "" : " " + strip.unit, concise(most.at)),
        fmt::format("rates[{}].channels.{}.off", widest->play, account_.feel->channels[strip.which.channel].name),
        most.size, colour_of(*widest).text);
  }

  const RatesFigureInput& input_;
  const RatesAccount& account_;
  const RatesSeries& series_;
  Canvas canvas_;
  TimePlot plot_;
  std::vector<RateLine> lines_;
  std::vector<Strip> strips_;
  bool has_dots_ = false, has_band_ = false;
};

} // namespace

Figure rates_figure(const RatesFigureInput& input) { return RatesLayout(input).lay_out(); }

} // namespace stasis::figure
