#include "core/recorded/found_stops.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <numeric>
#include <utility>

#include "core/components.hpp"
#include "core/feel/feel.hpp"
#include "core/match/row_cleaning.hpp"
#include "core/recorded/stretch_legs.hpp"
#include "core/take/sequence_course.hpp"

namespace stasis {
namespace {

class StopFinder {
public:
  StopFinder(const std::vector<double>& times, const std::vector<LedColumn>& columns, const std::vector<double>& looser)
      : columns_(columns), rows_(led_rows(times, columns)), levels_{{rows_, {}}} {
    for (const LedColumn& column : columns) levels_[0].within.push_back(column.within);
    for (const double share : looser) {
      std::vector<LedColumn> allowed = columns;
      Level level;
      for (LedColumn& column : allowed) {
        const auto [low, high] = std::minmax_element(column.values.begin(), column.values.end());
        column.within = std::max(column.within, share * (*high - *low));
        level.within.push_back(column.within);
      }
      level.rows = led_rows(times, allowed);
      levels_.push_back(std::move(level));
    }
    out_.within = levels_[0].within;
  }

  FoundStops run() {
    add_sections();
    out_.stops.back().hold = std::max(0.0, rows_.times.back() - now_);
    if (out_.stops.back().hold < rows_.half_row()) out_.stops.back().hold = 0.0;
    round();
    return std::move(out_);
  }

  /// True if few stops pass all at the strictest level; ends at the first stretch where they do not.
  bool few_pass() {
    is_trial_ = true;
    add_sections();
    return !has_failed_;
  }

private:
  // --- sections

  void add_sections() {
    const std::vector<std::size_t> cuts = cuts_of(rows_);
    is_whole_ = cuts.empty();
    std::size_t first = 0;
    for (std::size_t c = 0; c <= cuts.size() && !has_failed_; ++c) {
      const std::size_t last = c < cuts.size() ? cuts[c] - 1 : rows_.times.size() - 1;
      add_section({first, last});
      first = last + 1;
    }
  }

  void add_section(const RowSpan& section) {
    constexpr std::size_t too_few = 6; // rows between two cuts: nothing but a place is told by them
    if (section.last - section.first + 1 < too_few) return add_cut(section.first, places_at(section.first));
    const std::vector<RowSpan> rests = true_rests(section);
    const bool begins_at_rest = !rests.empty() && rests.front().first <= section.first + 1;
    std::vector<double> level;
    if (begins_at_rest) {
      level = level_of(rows_, rests.front());
      add_cut(section.first, level);
    }
    // From rest to rest; before the first and after the last where the section does not begin or end at rest.
    std::optional<RowSpan> before = begins_at_rest ? std::optional(rests.front()) : std::nullopt;
    for (std::size_t r = begins_at_rest ? 1 : 0; r <= rests.size() && !has_failed_; ++r) {
      const std::optional<RowSpan> after = r < rests.size() ? std::optional(rests[r]) : std::nullopt;
      if (!after && before && before->last + 1 >= section.last) break;
      add_moves(stretch_between(section, before, after), section);
      before = after;
    }
  }

  /// Noise makes a turning point look like a short rest: what one flight passes with no more stops has none there.
  std::vector<RowSpan> true_rests(const RowSpan& section) const {
    std::vector<RowSpan> rests = rests_in(rows_, section);
    constexpr double short_rest = 0.3; // s
    const auto rest_at = [&](std::size_t r) { return r < rests.size() ? std::optional(rests[r]) : std::nullopt; };
    for (std::size_t r = 0; r < rests.size();) {
      const RowSpan rest = rests[r];
      const bool is_inside = rest.first > section.first + 1 && rest.last + 1 < section.last;
      if (!is_inside || rows_.times[rest.last] - rows_.times[rest.first] > short_rest) {
        ++r;
        continue;
      }
      const std::optional<RowSpan> before = r > 0 ? rest_at(r - 1) : std::nullopt, after = rest_at(r + 1);
      const Legs through = stasis::legs_of(rows_, stretch_between(section, before, after), StopEffort::few);
      const std::size_t apart =
          stops_of(stasis::legs_of(rows_, stretch_between(section, before, rest), StopEffort::few))
          + stops_of(stasis::legs_of(rows_, stretch_between(section, rest, after), StopEffort::few));
      if (pass(rows_, through) && stops_of(through) <= apart)
        rests.erase(rests.begin() + static_cast<std::ptrdiff_t>(r));
      else
        ++r;
    }
    return rests;
  }

  MovingStretch stretch_between(const RowSpan& section, const std::optional<RowSpan>& before,
                                const std::optional<RowSpan>& after) const {
    constexpr std::size_t most_beyond = 12; // rows of a rest that tell when a move begins
    MovingStretch stretch;
    stretch.first = section.first;
    stretch.last = section.last;
    if (before) {
      stretch.rest_before = std::max<std::size_t>(1, std::min(most_beyond, (before->last - before->first) / 2));
      stretch.first = before->last - std::min(before->last, stretch.rest_before);
      stretch.from = level_of(rows_, *before);
    }
    if (after) {
      stretch.rest_after = std::max<std::size_t>(1, std::min(most_beyond, (after->last - after->first) / 2));
      stretch.last = std::min(after->first + stretch.rest_after, section.last);
      stretch.to = level_of(rows_, *after);
    }
    // How an abrupt start is shared between when it began and from where cannot be told: it begins with the cut.
    if (!before && section.first > 0) stretch.curve_begins = cut_time(section.first);
    if (!is_whole_ || before || after) return stretch;
    // A recording without any rest may begin and end in full flight.
    const double usual =
        distance_travelled(stretch.first, stretch.last) / (rows_.times[stretch.last] - rows_.times[stretch.first]);
    constexpr double share = 0.2;
    const auto speed = [&](std::size_t a, std::size_t b) {
      return distance(rows_, a, b) / (rows_.times[b] - rows_.times[a]);
    };
    stretch.begins_moving = speed(stretch.first, stretch.first + 1) > share * usual;
    stretch.ends_moving = speed(stretch.last - 1, stretch.last) > share * usual;
    return stretch;
  }

  double distance_travelled(std::size_t first, std::size_t last) const {
    double sum = 0.0;
    for (std::size_t k = first; k < last; ++k) sum += distance(rows_, k, k + 1);
    return sum;
  }

  // --- legs of a stretch

  void add_moves(MovingStretch stretch, const RowSpan& section) {
    if (stretch.last <= stretch.first) return add_cut(stretch.first, places_at(stretch.first));
    LegsAtLevel found = legs_at_level(stretch);
    const bool goes_on = !out_.stops.empty() && section.first == cut_row_;
    const double earliest = out_.stops.empty() ? rows_.times.front() : goes_on ? now_ : cut_time(section.first);
    if (found.legs.front().legs.times.front() < earliest && !stretch.begins_moving) {
      // It cannot set off before it is where it sets off from.
      stretch.flight_begins = stretch.curve_begins = earliest;
      found = legs_at_level(stretch);
    }
    const Legs& legs = found.legs;
    if (out_.stops.empty() || section.first > cut_row_) {
      std::vector<double> start;
      for (const FittedLegs::Axis& axis : legs.front().legs.axes) start.push_back(axis.values.front());
      add_cut(section.first, start);
    }
    out_.begins_moving |= stretch.begins_moving;
    out_.ends_moving |= stretch.ends_moving;
    for (const NamedLegs& one : legs) add_legs(one, found.level);
    for (std::size_t c = 0; c < columns_.size(); ++c)
      out_.within[c] = std::max(out_.within[c], levels_[found.level].within[c]);
  }

  struct LegsAtLevel {
    Legs legs;
    std::size_t level = 0;
  };

  /// The legs of a stretch, as near as few stops pass it.
  LegsAtLevel legs_at_level(const MovingStretch& stretch) {
    constexpr std::size_t rows_a_stop = 24, always_few = 6;
    const std::size_t few = std::max(always_few, rows_of(stretch) / rows_a_stop);
    for (std::size_t level = 0;; ++level) {
      const bool is_last = level + 1 == levels_.size();
      const LedRows& rows = levels_[level].rows;
      const bool by_all_means = is_last && !is_trial_;
      Legs legs = stasis::legs_of(rows, stretch, by_all_means ? StopEffort::as_many_as_it_takes : StopEffort::few);
      const bool are_good = stops_of(legs) <= few && pass(rows, legs);
      if (is_last || are_good) {
        has_failed_ = is_trial_ && !are_good;
        return {std::move(legs), level};
      }
    }
  }

  std::vector<double> places_at(std::size_t row) const {
    std::vector<double> places;
    for (const auto& column : rows_.places) places.push_back(column[row]);
    return places;
  }

  // --- to stops

  double in_unit(std::size_t column, double place) const { return from_space(columns_[column].space, place); }

  /// Until when the last stop is held. \returns the time that is meant.
  void hold_until(double time) {
    FoundStop& last = out_.stops.back();
    last.hold = time - now_ > 0.02 * rows_.half_row() ? time - now_ : 0.0;
    now_ += last.hold;
  }

  void add_cut(std::size_t row, const std::vector<double>& places) {
    const bool is_first = out_.stops.empty();
    if (!is_first) hold_until(cut_time(row));
    FoundStop stop;
    stop.way = SequenceStop::Way::cut;
    for (std::size_t c = 0; c < places.size(); ++c) {
      const bool changes = is_first || std::fabs(places[c] - last_places_[c]) * rows_.weights[c][row] > 1.0;
      stop.values.push_back(changes ? std::optional(in_unit(c, places[c])) : std::nullopt);
    }
    if (is_first) now_ = rows_.times.front();
    last_places_ = places;
    cut_row_ = row;
    add_stop(std::move(stop), 0);
  }

  void add_stop(FoundStop stop, std::size_t level) {
    out_.stops.push_back(std::move(stop));
    level_of_stop_.push_back(level);
  }

  /// Between the last row before it and the first one after it: so that the stop before is held for a round number.
  double cut_time(std::size_t row) const {
    const double low = rows_.times[row - 1] - now_, high = rows_.times[row] - now_;
    if (high <= 0.0) return now_;
    double step = 1.0;
    for (int digits = 0; digits < 9; ++digits, step *= 0.1) {
      const double roundest = std::floor(high / step + 1e-6) * step;
      if (roundest >= low - 1e-6 * step) return now_ + std::clamp(roundest, low, high);
    }
    return rows_.times[row];
  }

  void add_legs(const NamedLegs& one, std::size_t level) {
    const FittedLegs& legs = one.legs;
    hold_until(std::max(legs.times.front(), now_));
    for (std::size_t s = 1; s < legs.times.size(); ++s) {
      FoundStop stop;
      stop.way = legs.curve ? SequenceStop::Way::eased : SequenceStop::Way::flown;
      stop.curve = one.curve;
      stop.after = legs.times[s] - legs.times[s - 1];
      for (std::size_t c = 0; c < legs.axes.size(); ++c) stop.values.push_back(given_at(legs, c, s));
      now_ += stop.after;
      add_stop(std::move(stop), level);
    }
    for (std::size_t c = 0; c < legs.axes.size(); ++c) last_places_[c] = legs.axes[c].values.back();
  }

  /// What a stop says of a column; nothing where the column stands all the way.
  std::optional<double> given_at(const FittedLegs& legs, std::size_t column, std::size_t stop) const {
    const FittedLegs::Axis& axis = legs.axes[column];
    const auto found = std::find(axis.stops.begin(), axis.stops.end(), stop);
    if (found == axis.stops.end()) return std::nullopt;
    const double weight = rows_.weights[column].front();
    const bool stands = std::all_of(axis.values.begin(), axis.values.end(), [&](double place) {
      return std::fabs(place - last_places_[column]) * weight <= 0.1;
    });
    if (stands) return std::nullopt;
    return in_unit(column, axis.values[static_cast<std::size_t>(found - axis.stops.begin())]);
  }

  // --- numbers that can be read

  /// Rounds every number as far as the path stays what it is.
  void round() {
    const FoundStops exact = out_;
    measure();
    const std::vector<double> least = out_.off;
    for (const double share : {1e-1, 1e-2, 1e-3, 1e-4, 1e-5}) {
      out_.stops = exact.stops;
      round_numbers(share);
      measure();
      bool good = true;
      for (std::size_t c = 0; c < columns_.size(); ++c)
        good = good && out_.off[c] <= (least[c] > out_.within[c] ? 1.01 * least[c] : out_.within[c]);
      if (good) return;
    }
    out_.stops = exact.stops;
    measure();
  }

  /// The top speed of all columns, in what a level allows, 1/s.
  static double top_speed(const LedRows& rows) {
    double top = 1e-9;
    for (std::size_t k = 1; k < rows.times.size(); ++k)
      top = std::max(top, distance(rows, k - 1, k) / (rows.times[k] - rows.times[k - 1]));
    return top;
  }

  void round_numbers(double share) {
    constexpr double longest_step = 5e-4; // s
    std::vector<double> time_steps;
    for (const Level& level : levels_) time_steps.push_back(std::min(share / top_speed(level.rows), longest_step));
    for (std::size_t s = 0; s < out_.stops.size(); ++s) {
      FoundStop& stop = out_.stops[s];
      const std::size_t level = level_of_stop_[s];
      stop.after = rounded(stop.after, time_steps[level]);
      // How long it is held is told by the leg that follows too.
      const std::size_t next = s + 1 < out_.stops.size() ? level_of_stop_[s + 1] : level;
      stop.hold = rounded(stop.hold, time_steps[std::max(level, next)]);
      for (std::size_t c = 0; c < stop.values.size(); ++c)
        if (stop.values[c]) stop.values[c] = rounded(*stop.values[c], share * levels_[level].within[c]);
    }
  }

  /// To the fewest decimals that miss it by no more than `step`.
  static double rounded(double value, double step) {
    double scale = 1.0;
    for (int digits = 0; digits < 15; ++digits, scale *= 10.0) {
      const double near = std::round(value * scale) / scale;
      if (std::fabs(near - value) <= step) return near == 0.0 ? 0.0 : near;
    }
    return value;
  }

  /// Plays the sequence as the program does, and holds it against the rows.
  void measure() {
    Feel feel;
    Sequence sequence;
    for (std::size_t c = 0; c < columns_.size(); ++c) {
      Channel channel;
      channel.space = columns_[c].space;
      channel.rest[0] = columns_[c].values.front();
      feel.channels.push_back(std::move(channel));
      PoseGoal led;
      led.channel = c;
      sequence.led.push_back(led);
    }
    if (out_.begins_moving) sequence.ease_in = 0.0;
    if (out_.ends_moving) sequence.ease_out = 0.0;
    for (const FoundStop& found : out_.stops) sequence.stops.push_back(as_stop(found));
    const SequenceCourse course = course_at_rest(feel, nullptr, sequence);
    constexpr double instant = 1e-7; // s
    out_.path.assign(columns_.size(), {});
    out_.off.assign(columns_.size(), 0.0);
    for (const SequenceCourse::OfChannel& one : course.channels)
      for (std::size_t k = 0; k < rows_.times.size(); ++k) {
        const std::size_t c = one.channel;
        const double time = rows_.times[k] - rows_.times.front(), wanted = columns_[c].values[k];
        double value = in_unit(c, one.way[0]->at(time).value);
        // A row at the instant of a cut may be from before it.
        if (course.cuts_between(time - instant, time + instant)) {
          const double before = in_unit(c, one.way[0]->at(time - 2.0 * instant, Side::before).value);
          if (std::fabs(before - wanted) < std::fabs(value - wanted)) value = before;
        }
        out_.path[c].push_back(value);
        out_.off[c] = std::max(out_.off[c], std::fabs(value - wanted));
      }
  }

  static SequenceStop as_stop(const FoundStop& found) {
    SequenceStop stop;
    stop.way = found.way;
    if (found.way != SequenceStop::Way::cut) stop.after = found.after;
    stop.hold = found.hold;
    if (found.way == SequenceStop::Way::eased) stop.curve = *parse_curve(found.curve);
    for (std::size_t c = 0; c < found.values.size(); ++c) {
      if (!found.values[c]) continue;
      PoseGoal goal;
      goal.channel = c;
      goal.value[0] = {GoalRule::value, *found.values[c]};
      stop.goals.push_back(goal);
    }
    return stop;
  }

  const std::vector<LedColumn>& columns_;
  LedRows rows_; ///< of the strictest level
  /// What is allowed, and the rows weighed by it.
  struct Level {
    LedRows rows;
    std::vector<double> within; // by column, in its unit
  };
  std::vector<Level> levels_;
  std::vector<std::size_t> level_of_stop_;
  FoundStops out_;
  double now_ = 0.0; // s: when the last stop is reached
  std::vector<double> last_places_;
  std::size_t cut_row_ = 0;
  bool is_whole_ = true;
  bool is_trial_ = false, has_failed_ = false;
};

} // namespace

std::vector<ColumnGroup> groups_of(const std::vector<std::string>& names) {
  std::vector<ColumnGroup> groups;
  for (std::size_t c = 0; c < names.size(); ++c) {
    const std::string_view name = names[c];
    const std::size_t end = name.size() - std::min<std::size_t>(name.size(), 2);
    const std::string_view first = component_suffixes[0];
    const bool begins = name.size() > first.size() && name.ends_with(first);
    std::size_t count = 1;
    while (begins && count < most_components && c + count < names.size()
           && names[c + count] == std::string(name.substr(0, end)) + component_suffixes[count])
      ++count;
    if (count == 1) {
      groups.push_back({names[c], {c}});
      continue;
    }
    groups.push_back({std::string(name.substr(0, end)), {}});
    for (std::size_t i = 0; i < count; ++i) groups.back().columns.push_back(c + i);
    c += count - 1;
  }
  return groups;
}

double usual_within(const std::vector<double>& values) {
  const auto [low, high] = std::minmax_element(values.begin(), values.end());
  const double way = *high - *low, size = std::max(std::fabs(*low), std::fabs(*high)), digit = digit_of(values);
  constexpr double deviations = 4.0, of_a_digit = 0.75, of_the_way = 1e-6, rounding = 1e-13;
  // A few whole numbers with jumps between them were not rounded to whole numbers.
  constexpr double most_of_the_way = 0.02;
  const double rounded = digit < most_of_the_way * way ? of_a_digit * digit : 0.0;
  return std::max({deviations * noise_of(values), rounded, of_the_way * way, rounding * size, 1e-12});
}

std::size_t cubic_pieces(const std::vector<double>& times, const LedColumn& column) {
  MovingStretch all;
  all.last = times.size() - 1;
  return cubic_joints(led_rows(times, {column}), 0, all).size() + 1;
}

bool few_stops_pass(const std::vector<double>& times, const std::vector<LedColumn>& columns) {
  return StopFinder(times, columns, {}).few_pass();
}

FoundStops find_stops(const std::vector<double>& times, const std::vector<LedColumn>& columns,
                      const std::vector<double>& looser) {
  return StopFinder(times, columns, looser).run();
}

} // namespace stasis
