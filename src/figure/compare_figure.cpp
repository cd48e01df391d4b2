#include "figure/compare_figure.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/series.hpp"
#include "figure/style.hpp"
#include "figure/text_width.hpp"
#include "figure/time_plot.hpp"

namespace stasis::figure {
namespace {

/// A component of a shared channel, with how far apart it is and its two panels.
struct Pair {
  std::size_t channel, component;
  std::string name, unit;
  double apart = 0.0; ///< widest gap as a share of the range of values shown
  PlotArea values, differences;
};

class CompareLayout {
public:
  explicit CompareLayout(const CompareFigureInput& input)
      : input_(input), all_(*input.contenders), plot_(canvas_, length_of(all_.front().scene.clock)) {}

  Figure lay_out() {
    choose_pairs();
    place_pairs();
    draw_wash();
    for (Pair& pair : pairs_) {
      set_axes(pair);
      plot_.draw_frame(pair.values, pair.name, pair.unit);
      plot_.draw_frame(pair.differences, difference_name(pair), pair.unit);
      draw_lines(pair);
      draw_differences(pair);
    }
    draw_heading();
    plot_.draw_foot(std::string(any_moves() ? "heavy: moving    light: at rest    diamond: settled    thin step: goal"
                                            : "grey: goal")
                    + "    dot: widest difference");
    for (const Pair& pair : pairs_) draw_end_labels(pair);
    for (const Pair& pair : pairs_) draw_widest(pair);
    for (const Pair& pair : pairs_) annotate(pair);
    return canvas_.finish();
  }

private:
  static double length_of(const Clock& clock) noexcept {
    return std::max(clock.time(clock.frames - 1), clock.usual_dt());
  }
  /// Whether a line drawn is heavy anywhere; what follows, or goes with a formula, makes no moves.
  bool any_moves() const {
    return std::any_of(pairs_.begin(), pairs_.end(), [&](const Pair& pair) {
      for (std::size_t k = 0; k < all_.size(); ++k)
        for (const Move& move : all_[k].measures.moves)
          if (move.channel == shared(pair).index[k]) return true;
      return false;
    });
  }

  static const style::SeriesColour& colour_of(std::size_t contender) { return style::series[contender]; }
  const SharedChannel& shared(const Pair& pair) const { return (*input_.channels)[pair.channel]; }
  const NumberColumn& smooth(const Pair& pair, std::size_t contender) const {
    return all_[contender].rows[shared(pair).index[contender]][pair.component].smooth;
  }

  void choose_pairs() {
    std::vector<std::string> resting;
    for (std::size_t c = 0; c < input_.channels->size(); ++c) {
      const SharedChannel& one = (*input_.channels)[c];
      if (!input_.only.empty() && std::find(input_.only.begin(), input_.only.end(), one.name) == input_.only.end())
        continue;
      const Channel& declared = all_.front().feel->channels[one.index.front()];
      for (std::size_t i = 0; i < declared.components; ++i) {
        Pair pair{c, i, component_name(declared, i), printable(declared.unit), 0.0, {}, {}};
        pair.apart = apart(pair);
        if (pair.apart > 0.0 || !input_.only.empty())
          pairs_.push_back(std::move(pair));
        else
          resting.push_back(pair.name);
      }
    }
    if (pairs_.empty() && !resting.empty()) pairs_.push_back({0, 0, resting.front(), "", 0.0, {}, {}});
    std::stable_sort(pairs_.begin(), pairs_.end(), [&](const Pair& a, const Pair& b) {
      return is_lens(a) != is_lens(b) ? is_lens(a) : a.apart > b.apart;
    });
    constexpr std::size_t most_pairs = 2;
    std::vector<std::string> dropped;
    while (pairs_.size() > most_pairs) {
      dropped.insert(dropped.begin(), pairs_.back().name);
      pairs_.pop_back();
    }
    const auto say = [&](const char* what, const std::vector<std::string>& names, const char* after) {
      const std::vector<std::string_view> views(names.begin(), names.end());
      if (!names.empty()) canvas_.figure().left_out.push_back(what + listed(views) + after);
    };
    say("alike: ", resting, "");
    say("no room for ", dropped, "; --only NAME draws it");
  }

  bool is_lens(const Pair& pair) const { return all_.front().feel->picture.lens_channel == shared(pair).index.front(); }

  double apart(const Pair& pair) const {
    double widest = 0.0, low = std::numeric_limits<double>::infinity(), high = -low;
    for (std::size_t k = 0; k < all_.size(); ++k) {
      const auto [least, most] = ends_of(smooth(pair, k));
      low = std::min(low, least);
      high = std::max(high, most);
      if (k > 0) widest = std::max(widest, gap(pair, k).size);
    }
    return high > low ? widest / (high - low) : 0.0;
  }

  Gap gap(const Pair& pair, std::size_t contender) const {
    const SharedChannel& one = shared(pair);
    return widest_gap(all_[0], one.index[0], all_[contender], one.index[contender], pair.component);
  }

  void place_pairs() {
    const double room = style::last_baseline - style::panels_top;
    const double each =
        (room - style::panel_gap * static_cast<double>(pairs_.size() - 1)) / static_cast<double>(pairs_.size());
    double top = style::panels_top;
    for (Pair& pair : pairs_) {
      const double values = 0.66 * (each - style::panel_gap);
      pair.values.top = top;
      pair.values.bottom = top + values;
      pair.differences.top = pair.values.bottom + style::panel_gap;
      pair.differences.bottom = top + each;
      top += each + style::panel_gap;
    }
  }

  /// A band behind everything for every hold of the first contender that moves the first channel.
  void draw_wash() {
    const Contender& first = all_.front();
    const std::size_t channel = shared(pairs_.front()).index.front();
    for (const InputSpan& span : first.measures.inputs) {
      const Control& control = first.feel->controls[span.control];
      if (!facts_of(control).is_hold() || !drives(*first.feel, control, channel)) continue;
      canvas_.add_rectangle({plot_.x(span.from), style::rail_top - 5, plot_.x(span.to), style::last_baseline},
                            style::wash);
      Text name = styled_text(TextRole::rail_name, first.feel->controls[span.control].name + " held",
                              {plot_.x(span.from) + 8, style::rail_top + 4}, Align::left);
      if (name.box.right + 4 < plot_.x(span.to)) canvas_.add_text_if_free(std::move(name), 2);
    }
  }

  void set_axes(Pair& pair) const {
    double low = std::numeric_limits<double>::infinity(), high = -low, below = 0.0, above = 0.0;
    for (std::size_t k = 0; k < all_.size(); ++k) {
      const auto& goal = all_[k].rows[shared(pair).index[k]][pair.component].goal;
      for (const auto* column : {&smooth(pair, k), &goal}) {
        const auto [least, most] = ends_of(*column);
        low = std::min(low, least);
        high = std::max(high, most);
      }
      for (const Point& p : differences(pair, k)) {
        below = std::min(below, p.y);
        above = std::max(above, p.y);
      }
    }
    pair.values.axis = value_axis(low, high, pair.values.bottom - pair.values.top > 150 ? 5 : 4);
    pair.differences.axis = value_axis(below, above, 3);
  }

  static SeriesReducer reducer_for(const Clock& clock, std::size_t points) {
    constexpr auto columns = static_cast<int>(style::plot_right - style::plot_left);
    return {length_of(clock) * (1.0 + 1e-12), points > std::size_t{4} * columns ? columns : 0};
  }

  static std::pair<double, double> ends_of(const NumberColumn& column) {
    ColumnPass rows(column);
    double low = std::numeric_limits<double>::infinity(), high = -low;
    for (std::size_t row = 0; row < rows.size(); ++row) {
      low = std::min(low, rows[row]);
      high = std::max(high, rows[row]);
    }
    return {low, high};
  }

  std::vector<Point> reduced(const Contender& contender, const NumberColumn& column) const {
    const Clock& clock = contender.scene.clock;
    SeriesReducer reducer = reducer_for(clock, column.size());
    ColumnPass rows(column);
    for (std::size_t row = 0; row < rows.size(); ++row)
      reducer.add(clock.time(static_cast<std::int64_t>(row)), rows[row]);
    return reducer.finish();
  }

  std::vector<Point> differences(const Pair& pair, std::size_t contender) const {
    if (contender == 0) return {};
    const Contender &a = all_[0], &b = all_[contender];
    ColumnPass from(smooth(pair, 0)), to(smooth(pair, contender));
    RowPass behind_b(smooth(pair, contender));
    const bool same = same_clock(a, b);
    SeriesReducer reducer = reducer_for(a.scene.clock, from.size());
    for (std::size_t row = 0; row < from.size(); ++row) {
      const double time = a.scene.clock.time(static_cast<std::int64_t>(row));
      if (!same) behind_b.at(static_cast<std::size_t>(std::max<std::int64_t>(0, first_frame_at(b.scene.clock, time))));
      reducer.add(time,
                  (same ? to[row] : value_at(b, shared(pair).index[contender], pair.component, time)) - from[row]);
    }
    return reducer.finish();
  }

  std::string difference_name(const Pair&) const {
    return all_.size() == 2 ? fmt::format("{} minus {}", all_[1].name, all_[0].name)
                            : fmt::format("each minus {}", all_[0].name);
  }

  void draw_lines(const Pair& pair) {
    const auto& goal = all_[0].rows[shared(pair).index[0]][pair.component].goal;
    canvas_.add_curve({plot_.on_page(pair.values, goal_step(all_[0], goal)), style::baseline, style::goal_width, false,
                       pair.name + ".goal"},
                      1.5);
    if (all_.size() == 2) draw_ribbon(pair);
    for (std::size_t k = 0; k < all_.size(); ++k) {
      const auto points = reduced(all_[k], smooth(pair, k));
      canvas_.add_curve(
          {plot_.on_page(pair.values, points), colour_of(k).line, style::resting_width, false, all_[k].name}, 2.5);
      for (const Move& move : all_[k].measures.moves) {
        if (move.channel != shared(pair).index[k]) continue;
        const double end = move.settling_time ? move.instant(*move.settling_time) : move.end;
        std::vector<Point> heavy;
        for (const Point& p : points)
          if (p.x >= move.start - 1e-9 && p.x <= end + 1e-9) heavy.push_back(p);
        if (heavy.size() > 1)
          canvas_.add(Line{plot_.on_page(pair.values, heavy), colour_of(k).line, 2.2, false, all_[k].name});
      }
    }
    for (std::size_t k = 0; k < all_.size(); ++k)
      for (const Move& move : all_[k].measures.moves)
        if (move.channel == shared(pair).index[k] && move.settling_time && *move.settling_time > 0.0)
          canvas_.add_mark({MarkKind::diamond, settled_at(pair, move), colour_of(k).line});
  }

  Point settled_at(const Pair& pair, const Move& move) const {
    return {plot_.x(move.instant(*move.settling_time)), pair.values.y(move.settled_value[pair.component])};
  }

  /// Goals stand until they jump, so that their lines are steps.
  std::vector<Point> goal_step(const Contender& contender, const NumberColumn& column) const {
    const auto each_corner = [&](const auto& visit) {
      ColumnPass goal(column);
      for (std::size_t row = 0; row < goal.size(); ++row) {
        const double time = contender.scene.clock.time(static_cast<std::int64_t>(row));
        if (row > 0 && goal[row] != goal[row - 1]) visit(time, goal[row - 1]);
        if (row == 0 || row + 1 == goal.size() || goal[row] != goal[row - 1]) visit(time, goal[row]);
      }
    };
    std::size_t corners = 0;
    each_corner([&](double, double) { ++corners; });
    SeriesReducer reducer = reducer_for(contender.scene.clock, corners);
    each_corner([&](double time, double value) { reducer.add(time, value); });
    return reducer.finish();
  }

  void draw_ribbon(const Pair& pair) {
    if (!same_clock(all_[0], all_[1])) return;
    auto outline = plot_.on_page(pair.values, reduced(all_[0], smooth(pair, 0)));
    const auto back = plot_.on_page(pair.values, reduced(all_[1], smooth(pair, 1)));
    outline.insert(outline.end(), back.rbegin(), back.rend());
    canvas_.add(Fill{std::move(outline), "#D9DEDF", 1.0});
  }

  void draw_differences(const Pair& pair) {
    const double zero = pair.differences.y(0.0);
    for (std::size_t k = 1; k < all_.size(); ++k) {
      auto points = plot_.on_page(pair.differences, differences(pair, k));
      if (points.empty()) continue;
      if (all_.size() == 2) {
        auto outline = points;
        outline.insert(outline.begin(), {points.front().x, zero});
        outline.push_back({points.back().x, zero});
        canvas_.add(Fill{std::move(outline), colour_of(k).line, 0.4});
      }
      canvas_.add_curve({std::move(points), all_.size() == 2 ? style::ink : colour_of(k).line, style::derived_width,
                         false, all_[k].name + " minus " + all_[0].name},
                        2.0);
    }
  }

  void draw_heading() {
    std::string title;
    for (std::size_t k = 0; k < all_.size(); ++k)
      title += (k == 0 ? "" : k + 1 == all_.size() ? " and " : ", ") + all_[k].name;
    const Take& take = *all_.front().scene.take;
    std::string subtitle = fmt::format("{}, take {}, {} s at {} frames a second", printable(input_.title, 80),
                                       take.name, concise(take.length), concise(all_.front().scene.clock.fps));
    for (const std::string& missing : canvas_.figure().left_out) subtitle += "; " + missing;
    plot_.draw_heading(title, subtitle, "");
  }

  void draw_end_labels(const Pair& pair) {
    std::vector<EndSlot> slots;
    for (std::size_t k = 0; k < all_.size(); ++k) slots.push_back({k, 0.0, 0.0});
    for (EndSlot& slot : slots) slot.y = slot.wanted = pair.values.y(smooth(pair, slot.index).back());
    constexpr double pitch = 50;
    const double highest = pair.values.top - 20, lowest = pair.values.bottom + style::panel_gap - 24;
    const bool roomy = lowest - highest >= pitch * static_cast<double>(slots.size());
    push_apart(slots, roomy ? pitch : 19, highest, lowest);
    for (const EndSlot& slot : slots) draw_end_label(pair, slot, roomy);
  }

  static std::string shown(double value, const Channel& channel) {
    return readable(value, 3) + (channel.unit.empty() ? "" : " " + printable(channel.unit));
  }

  static bool stands(const NumberColumn& column) {
    const auto [least, most] = ends_of(column);
    return least == most;
  }

  /// Name, then how it starts, or how far it lags behind what it follows, and where it ends.
  void draw_end_label(const Pair& pair, const EndSlot& slot, bool roomy) {
    const std::size_t k = slot.index, channel = shared(pair).index[k];
    const double width = style::page_right - style::label_left;
    const double y = roomy ? slot.y - 16 : slot.y;
    Text name = styled_text(TextRole::end_label, fitted(all_[k].name, width, style::label_size, true),
                            {style::label_left, y}, Align::left);
    name.colour = colour_of(k).text;
    name.series = all_[k].name;
    if (std::fabs(slot.y - slot.wanted) > 2)
      canvas_.add_rule({style::plot_right + 2, slot.wanted}, {style::label_left - 3, y}, colour_of(k).faint);
    canvas_.add_text(std::move(name));
    if (!roomy) return;
    const auto add_line = [&](const std::string& words, double drop, const std::string& source,
                              std::optional<double> number) {
      Text line = styled_text(TextRole::end_value, fitted(words, width, style::small_size, false),
                              {style::label_left, slot.y + drop}, Align::left);
      line.source = source;
      line.number = number;
      canvas_.add_text(std::move(line));
    };
    const Channel& declared = all_[k].feel->channels[channel];
    const auto kick = largest_kick(all_[k], channel);
    const std::string start = start_in_words(all_[k], channel);
    const auto lag = all_[k].measures.channels[channel].follow.lag_distance_mean;
    if (start.empty() && lag && *lag > 0.0)
      add_line("mean lag " + shown(*lag, declared), 0,
               fmt::format("channels.{}.measures.lag_distance_mean.values[{}]", declared.name, k), lag);
    else
      add_line(kick && start != "starts softly" ? fmt::format("kick {}", readable(*kick, 2))
               : !start.empty()                 ? start
               : stands(smooth(pair, k))        ? "at rest"
                                                : "with its goal",
               0, kick ? fmt::format("contenders[{}].channels.{}.kick", k, declared.name) : "", kick);
    const Move* last = nullptr;
    for (const Move& move : all_[k].measures.moves)
      if (move.channel == channel) last = &move;
    const bool moving = !end_in_words(all_[k], channel).empty();
    const double value = moving ? *last->remaining : smooth(pair, k).back();
    add_line(moving ? shown(value, declared) + " to go" : "ends at " + shown(value, declared), 16,
             fmt::format("contenders[{}].channels.{}.{}", k, declared.name, moving ? "remaining" : "end_value"), value);
  }

  /// Where each line is farthest from the first: a dot, and words beside it or, where several would crowd, at the
  /// right.
  void draw_widest(const Pair& pair) {
    std::vector<EndSlot> crowded;
    for (std::size_t k = 1; k < all_.size(); ++k) {
      const Gap widest = gap(pair, k);
      if (widest.size == 0.0) continue;
      const Point at{plot_.x(widest.at), pair.differences.y(widest.difference)};
      canvas_.add(Mark{MarkKind::dot, at, all_.size() > 2 ? colour_of(k).line : style::ink});
      const bool beside =
          all_.size() == 2
          && plot_.annotate(at, widest_words(pair, widest) + fmt::format(" at {} s", concise(widest.at, 4)),
                            widest_source(pair, k), widest.size, style::ink);
      if (!beside) crowded.push_back({k, pair.differences.y(differences(pair, k).back().y), 0.0});
    }
    const double highest = pair.differences.top - 20, lowest = pair.differences.bottom + 16;
    constexpr double roomy_pitch = 34, tight_pitch = 17;
    const bool roomy = lowest - highest >= roomy_pitch * static_cast<double>(crowded.size());
    push_apart(crowded, roomy ? roomy_pitch : tight_pitch, highest, lowest);
    for (const EndSlot& slot : crowded) draw_widest_label(pair, slot, roomy);
  }

  static std::string widest_words(const Pair& pair, const Gap& widest) {
    return fmt::format("widest {}{}", readable(widest.size), pair.unit.empty() ? "" : " " + pair.unit);
  }
  std::string widest_source(const Pair& pair, std::size_t contender) const {
    return fmt::format("channels.{}.widest[{}].size", shared(pair).name, contender);
  }

  void draw_widest_label(const Pair& pair, const EndSlot& slot, bool roomy) {
    const double width = style::page_right - style::label_left;
    const Gap widest = gap(pair, slot.index);
    Text words = styled_text(TextRole::end_value, fitted(widest_words(pair, widest), width, style::small_size, false),
                             {style::label_left, roomy ? slot.y + 8 : slot.y}, Align::left);
    words.colour = colour_of(slot.index).text;
    words.source = widest_source(pair, slot.index);
    words.number = widest.size;
    if (roomy) {
      Text name = styled_text(TextRole::end_label, fitted(all_[slot.index].name, width, style::label_size, true),
                              {style::label_left, slot.y - 8}, Align::left);
      name.colour = colour_of(slot.index).text;
      name.series = all_[slot.index].name + " minus " + all_[0].name;
      canvas_.add_text(std::move(name));
    }
    canvas_.add_text(std::move(words));
  }

  void annotate(const Pair& pair) {
    for (std::size_t k = 0; k < all_.size(); ++k)
      for (std::size_t m = 0; m < all_[k].measures.moves.size(); ++m) {
        const Move& move = all_[k].measures.moves[m];
        if (move.channel != shared(pair).index[k] || !move.settling_time || *move.settling_time == 0.0) continue;
        plot_.annotate(
            settled_at(pair, move), fmt::format("{} settled after {} s", all_[k].name, readable(*move.settling_time)),
            fmt::format("contenders[{}].moves[{}].settling_time", k, m), *move.settling_time, colour_of(k).text);
      }
  }

  const CompareFigureInput& input_;
  const std::vector<Contender>& all_;
  Canvas canvas_;
  TimePlot plot_;
  std::vector<Pair> pairs_;
};

} // namespace

Figure compare_figure(const CompareFigureInput& input) { return CompareLayout(input).lay_out(); }

} // namespace stasis::figure
