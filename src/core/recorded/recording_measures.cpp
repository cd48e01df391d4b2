#include "core/recorded/recording_measures.hpp"

#include <algorithm>
#include <cmath>
#include <limits>
#include <numbers>

#include <fmt/format.h>

#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/random.hpp"
#include "core/recorded/found_moves.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

RecordedRows rows_at(const RecordedRows& rows, const std::vector<std::size_t>& kept) {
  RecordedRows out;
  out.values.resize(rows.components());
  for (const std::size_t row : kept) {
    out.times.push_back(rows.times[row]);
    for (std::size_t c = 0; c < rows.components(); ++c) out.values[c].push_back(rows.values[c][row]);
  }
  return out;
}

/// A number without what noise adds to it on average, and its 95 % half width.
struct Corrected {
  double value = 0.0, half_width = 0.0;
};

/// How far a number is off the true one, again and again.
class Scatter {
public:
  void add(double off) {
    sum_ += off;
    squares_ += off * off;
    ++count_;
  }
  Corrected correct(std::optional<double> seen, std::optional<double> truth, std::size_t repeats) const {
    constexpr double most_often = 0.8, two_sided = 1.96;
    const double n = static_cast<double>(count_);
    if (!seen) return {};
    if (n < most_often * static_cast<double>(repeats)) return {*seen, std::numeric_limits<double>::infinity()};
    const double mean = truth ? sum_ / n : 0.0;
    const double deviation = std::sqrt(std::max(0.0, squares_ / n - sum_ / n * (sum_ / n)) * n / (n - 1.0));
    return {*seen - mean, std::hypot(two_sided * deviation, mean)};
  }

private:
  double sum_ = 0.0, squares_ = 0.0;
  std::size_t count_ = 0;
};

class RecordingMeter {
public:
  explicit RecordingMeter(const RecordedValue& value) : value_(value) {}

  RecordingMeasures run() {
    clean();
    note_row_times();
    find_moves();
    out_.path = path_of(rows_, true);
    out_.feel.channels.push_back(value_.channel);
    out_.measures = read(rows_, out_.path);
    if (!out_.is_exact) {
      estimate_errors();
      for (ChannelSummary& summary : out_.measures.channels)
        summary.path.top_jerk = summary.path.top_speed_jump = summary.path.top_acceleration_jump = std::nullopt;
      note("noise hides the jerk, and jumps of speed and acceleration over the whole take. The jump at the start of a "
           "move is `jolt`");
    }
    leave_out_rough();
    for (const FoundMove& move : moves_) out_.start_errors.push_back(move.start_error);
    note_unrest();
    return std::move(out_);
  }

private:
  void note(std::string words) { out_.measures.notes.push_back(std::move(words)); }

  /// Where rows are too far apart for what goes on between them, straight lines join them: they tell no acceleration.
  void leave_out_rough() {
    std::optional<double> first;
    for (const PathBreak& one : breaks_) {
      if (one.kind != PathBreak::Kind::rough) continue;
      if (!first) first = one.time;
      for (Move& move : out_.measures.moves)
        if (one.time >= move.start && one.time <= move.end)
          move.peak_acceleration = move.jolt = move.start_kick = std::nullopt;
    }
    if (!first) return;
    PathSummary& path = out_.measures.channels[0].path;
    path.top_acceleration = path.top_jerk = path.top_speed_jump = path.top_acceleration_jump = std::nullopt;
    note(
        fmt::format("around {} s the rows are too far apart to tell what goes on between them: times and speeds are "
                    "those of straight lines from row to row, and accelerations and jumps of the speed are left out; a "
                    "recording at more frames a second tells them",
                    concise(*first)));
  }

  void clean() {
    std::vector<std::size_t> count(value_.rows.size(), 0);
    for (const std::vector<double>& values : value_.rows.values) {
      RowCleaning cleaning;
      for (const std::size_t row : clean_rows(values, cleaning)) ++count[row];
      out_.cleaning.push_back(cleaning);
    }
    for (std::size_t row = 0; row < count.size(); ++row)
      if (count[row] == value_.rows.components()) out_.kept.push_back(row);
    rows_ = rows_at(value_.rows, out_.kept);
    out_.is_exact = true;
    for (std::size_t c = 0; c < rows_.components(); ++c) {
      const auto [low, high] = std::minmax_element(rows_.values[c].begin(), rows_.values[c].end());
      const double range = *high - *low, size = std::max(std::fabs(*low), std::fabs(*high));
      constexpr double rounding = 2.3e-16, exact = 1e-7, still = 1e-3;
      RowCleaning& cleaning = out_.cleaning[c];
      const double of_digit = cleaning.digit > 0.0 && !whole_steps(c) ? cleaning.digit / std::sqrt(12.0) : 0.0;
      cleaning.noise = std::max(cleaning.noise, of_digit);
      out_.is_exact = out_.is_exact && cleaning.noise <= exact * range;
      last_bits_ = std::max(last_bits_, rounding * size);
      if (cleaning.noise <= exact * range) last_bits_ = std::max(last_bits_, 0.25 * cleaning.noise);
      noise_.push_back(std::max(cleaning.noise, 1e-12 * size + 1e-300));
      rest_noise_.push_back(std::max({noise_.back(), still * range, 1e-300}));
    }
  }

  /// True of a value that only ever stands: rounding says nothing about it.
  bool whole_steps(std::size_t component) const {
    const std::vector<double>& values = rows_.values[component];
    return std::all_of(values.begin(), values.end(), [&](double v) { return v == values.front(); });
  }

  void note_row_times() {
    std::vector<double> gaps;
    const std::vector<double>& times = value_.rows.times;
    for (std::size_t k = 1; k < times.size(); ++k) gaps.push_back(times[k] - times[k - 1]);
    RowTimes& out = out_.row_times;
    out.usual = median(gaps);
    constexpr double stalled = 1.5;
    for (std::size_t k = 0; k < gaps.size(); ++k) {
      if (gaps[k] > stalled * out.usual) ++out.stalls;
      if (gaps[k] > out.longest) {
        out.longest = gaps[k];
        out.longest_at = times[k];
      }
    }
  }

  void find_moves() {
    if (out_.is_exact) breaks_ = breaks_of(rows_, 4.0 * last_bits_);
    std::vector<std::vector<double>> goals(value_.goals.size());
    for (std::size_t c = 0; c < goals.size(); ++c)
      for (const std::size_t row : out_.kept) goals[c].push_back(value_.goals[c][row]);
    FoundMoves found = find_recorded_moves({rows_, rest_noise_, breaks_, goals, out_.is_exact});
    moves_ = std::move(found.moves);
    rests_ = std::move(found.rests);
    for (std::string& words : found.notes) note(std::move(words));
  }

  CapturedPath path_of(const RecordedRows& rows, bool look_anew) {
    if (out_.is_exact) return exact_path(rows, breaks_);
    if (look_anew) {
      plan_path();
      windows_ = windows_of(rows, plan_);
    }
    return smooth_path(rows, plan_, windows_);
  }

  void plan_path() {
    plan_.noise = noise_;
    for (const FoundMove& move : moves_) plan_.cuts.push_back({move.start, move.is_cut});
    for (const Rest& rest : rests_) {
      // What follows a move may creep on for a while.
      constexpr double creeps = 0.2; // s
      std::size_t first = rest.settled, last = rest.last;
      const bool after_cut = std::any_of(moves_.begin(), moves_.end(), [&](const FoundMove& move) {
        return move.is_cut && move.after && move.after->settled == rest.settled;
      });
      if (after_cut)
        while (first > 0 && rows_.times[first - 1] > cut_before(first)) --first;
      else if (first > 0)
        while (first < last && rows_.times[first] - rows_.times[rest.settled] < creeps) ++first;
      for (const FoundMove& move : moves_)
        if (move.before && move.before->settled == rest.settled)
          while (last > first && rows_.times[last] > move.start) --last;
      const std::size_t from = level_from(rows_, {rest.first, last, rest.settled});
      if (last > first) plan_.standing.push_back({first, last, from});
    }
  }

  /// When the last move before a row set off, s.
  double cut_before(std::size_t row) const {
    double out = rows_.times.front();
    for (const FoundMove& move : moves_)
      if (move.start < rows_.times[row]) out = std::max(out, move.start);
    return out;
  }

  /// \param by_rules where a rule explains a move, it says where that goes.
  TakeMeasures read(const RecordedRows& rows, const CapturedPath& path, bool by_rules = false) const {
    std::vector<PlannedMove> plans;
    for (const FoundMove& move : moves_) {
      PlannedMove plan;
      plan.start = move.start;
      plan.end = move.end;
      plan.cause = move.cause;
      const bool rests_before = move.before && !out_.is_exact;
      plan.from = rests_before ? level_of(rows, *move.before) : value_at(path, move.start);
      plan.has_goal = move.goal || move.after;
      plan.to = move.goal ? *move.goal
                : (by_rules || (out_.is_exact && move.rule && move.rule->is_explained)) && move.rule && move.after
                    ? move.rule->goal()
                : move.after && !out_.is_exact ? level_of(rows, *move.after)
                                               : value_at(path, move.end);
      plans.push_back(plan);
    }
    constexpr double seen = 2.0;
    double least = 0.0;
    const bool is_clean =
        out_.is_exact || (by_rules && std::all_of(moves_.begin(), moves_.end(), [](const FoundMove& move) {
                            return move.rule.has_value();
                          }));
    for (const double noise : noise_) least = std::max(least, is_clean ? 100.0 * last_bits_ : seen * noise);
    TakeMeasures measures = read_path(value_.channel, path, plans, least);
    for (std::size_t k = 0; k < moves_.size(); ++k)
      measures.moves[k].retargeted = moves_[k].ends_in_goal && !measures.moves[k].settling_time;
    return measures;
  }

  /// All numbers in one order: of the channel, then of each move.
  std::vector<std::optional<double>> numbers_of(TakeMeasures measures) const {
    std::vector<std::optional<double>> out;
    for (const NumberPlace& place : summary_numbers(measures.channels[0])) out.emplace_back(*place.number);
    for (const Move& move : measures.moves)
      for (const MoveMeasure& measure : move_measures()) out.push_back(move.*measure.value);
    return out;
  }

  /// What a recording tells of the whole way, and where it is kept.
  struct NumberPlace {
    std::string name;
    double* number;
    bool counts = false;
  };
  std::vector<NumberPlace> summary_numbers(ChannelSummary& summary) const {
    std::vector<NumberPlace> out;
    const auto by_component = [&](const std::string& name, auto number, bool counts = false) {
      for (std::size_t c = 0; c < rows_.components(); ++c)
        out.push_back({rows_.components() == 1 ? name : name + component_suffixes[c], number(c), counts});
    };
    by_component("end_value", [&](std::size_t c) { return &summary.end_value[c]; });
    by_component("lowest_value", [&](std::size_t c) { return &summary.path.lowest[c].value; });
    by_component("highest_value", [&](std::size_t c) { return &summary.path.highest[c].value; });
    out.push_back({"top_speed", &summary.path.top_speed.value});
    if (summary.path.top_acceleration) out.push_back({"top_acceleration", &summary.path.top_acceleration->value});
    out.push_back({"travelled", &summary.path.travelled});
    out.push_back({"moving_time", &summary.path.moving_time});
    by_component(
        "reversals", [&](std::size_t c) { return &summary.path.reversals[c]; }, true);
    return out;
  }

  /// What the recording would show without noise: of a move that a rule explains the rule, else the path as it is seen.
  CapturedPath pilot() const {
    CapturedPath out{out_.path.front()};
    for (std::size_t k = 0; k < moves_.size() && k + 1 < out_.path.size(); ++k) {
      const FoundMove& move = moves_[k];
      const PathSection& seen = out_.path[k + 1];
      if (!move.rule) {
        out.push_back(seen);
        continue;
      }
      RecordedRows fine;
      fine.values.resize(rows_.components());
      constexpr int parts = 4; // of a gap between rows: a rule may turn quickly
      const auto add = [&](double time) {
        fine.times.push_back(time);
        const Components value = move.rule->at(time);
        for (std::size_t c = 0; c < rows_.components(); ++c) fine.values[c].push_back(value[c]);
      };
      for (std::size_t n = 0; n + 1 < seen.size(); ++n)
        for (int part = 0; part < parts; ++part) add(seen[n].time + (seen[n + 1].time - seen[n].time) * part / parts);
      add(seen.back().time);
      for (PathSection& section : exact_path(fine, breaks_of(fine, 4.0 * last_bits_)))
        out.push_back(std::move(section));
    }
    return out;
  }

  RecordedRows rows_of(const CapturedPath& path) const {
    RecordedRows out = rows_;
    for (std::size_t k = 0; k < out.size(); ++k) {
      const Components value = value_at(path, out.times[k], true);
      for (std::size_t c = 0; c < out.components(); ++c) out.values[c][k] = value[c];
    }
    return out;
  }

  /// Noise of the same size is laid over what the recording would show without, again and again, and all is measured
  /// again: how the numbers scatter, and how far their mean is off the true ones (parametric bootstrap; Efron).
  void estimate_errors() {
    const std::size_t repeats = std::clamp<std::size_t>(300'000 / rows_.size(), 10, 100);
    const CapturedPath clean_path = pilot();
    const RecordedRows clean_rows = rows_of(clean_path);
    // How wide to look must not hang on the noise, or the widest of it is what is found.
    windows_ = windows_of(clean_rows, plan_);
    out_.path = path_of(rows_, false);
    std::vector<std::string> notes = std::move(out_.measures.notes);
    out_.measures = read(rows_, out_.path);
    out_.measures.notes = std::move(notes);
    const auto seen = numbers_of(out_.measures), truth = numbers_of(read(clean_rows, clean_path, true));
    std::vector<Scatter> scatter(seen.size());
    RecordedRows noisy = clean_rows;
    for (std::size_t repeat = 0; repeat < repeats; ++repeat) {
      for (std::size_t c = 0; c < rows_.components(); ++c)
        for (std::size_t k = 0; k < rows_.size(); ++k)
          noisy.values[c][k] = clean_rows.values[c][k] + noise_[c] * random_.normal();
      const auto numbers = numbers_of(read(noisy, path_of(noisy, false)));
      for (std::size_t k = 0; k < seen.size(); ++k)
        if (numbers[k]) scatter[k].add(*numbers[k] - truth[k].value_or(0.0));
    }
    std::vector<Corrected> corrected;
    for (std::size_t k = 0; k < seen.size(); ++k) corrected.push_back(scatter[k].correct(seen[k], truth[k], repeats));
    keep_errors(corrected);
  }

  void keep_errors(const std::vector<Corrected>& all) {
    std::size_t at = 0;
    ChannelSummary& summary = out_.measures.channels[0];
    for (const NumberPlace& place : summary_numbers(summary)) {
      const Corrected& one = all[at++];
      *place.number = place.counts ? std::max(0.0, std::round(one.value)) : one.value;
      out_.errors.push_back({place.name, one.half_width});
    }
    for (std::size_t k = 0; k < moves_.size(); ++k) {
      std::vector<std::optional<double>> errors;
      for (const MoveMeasure& measure : move_measures()) {
        const Corrected& one = all[at++];
        auto& value = out_.measures.moves[k].*measure.value;
        if (!value) {
          errors.emplace_back();
          continue;
        }
        value = measure.better == Better::smaller ? std::max(0.0, one.value) : one.value;
        const bool counts_from_start = measure.value == &Move::delay_time || measure.value == &Move::peak_time
                                       || measure.value == &Move::settling_time;
        errors.emplace_back(counts_from_start ? std::hypot(one.half_width, moves_[k].start_error) : one.half_width);
      }
      out_.move_errors.push_back(std::move(errors));
      if (moves_[k].rule && moves_[k].after && !moves_[k].goal) out_.measures.moves[k].to = moves_[k].rule->goal();
      leave_out_peak(k);
    }
    for (const MoveMeasure& measure : move_measures()) {
      if (!has_measure(measure, value_.channel)) continue;
      if (const auto error = largest_error(measure)) out_.errors.push_back({std::string(measure.name), *error});
    }
  }

  /// Of a move of which noise hides whether it goes beyond its goal, nothing says when it did.
  void leave_out_peak(std::size_t k) {
    Move& move = out_.measures.moves[k];
    for (std::size_t m = 0; m < move_measures().size(); ++m)
      if (move_measures()[m].value == &Move::overshoot && move.overshoot && out_.move_errors[k][m]
          && *move.overshoot <= *out_.move_errors[k][m])
        move.peak_time = std::nullopt;
  }

  /// Of the largest over the moves.
  std::optional<double> largest_error(const MoveMeasure& measure) const {
    const auto value = largest(measure, out_.measures.moves, 0);
    std::optional<double> out;
    for (std::size_t m = 0; m < move_measures().size() && value; ++m)
      for (std::size_t k = 0; k < moves_.size() && move_measures()[m].value == measure.value; ++k)
        if (out_.measures.moves[k].*measure.value == value && out_.move_errors[k][m])
          out = std::max(out.value_or(0.0), *out_.move_errors[k][m]);
    return out;
  }

  void note_unrest() {
    std::size_t first = 0, last = rows_.size() - 1;
    // Rests lie between moves; what never moves has none.
    const bool stands = std::all_of(rows_.values.begin(), rows_.values.end(), [](const std::vector<double>& column) {
      return std::all_of(column.begin(), column.end(), [&](double value) { return value == column.front(); });
    });
    out_.never_rests = rests_.empty() && !stands;
    if (rests_.empty() && stands) out_.rests.push_back({rows_.times.front(), rows_.times.back()});
    double longest = -1.0;
    for (const Rest& rest : rests_) out_.rests.push_back({rows_.times[rest.settled], rows_.times[rest.last]});
    for (const Rest& rest : rests_)
      if (const double length = rows_.times[rest.last] - rows_.times[rest.settled]; length > longest) {
        longest = length;
        first = level_from(rows_, rest);
        last = rest.last;
      }
    out_.rest_from = rows_.times[first];
    out_.rest_to = rows_.times[last];
    for (std::size_t c = 0; c < rows_.components(); ++c) {
      Unrest unrest = unrest_of(rows_, {first, last, first}, c, noise_[c]);
      if (unrest.rms <= 100.0 * last_bits_) unrest.rms = 0.0;
      out_.unrest.push_back(std::move(unrest));
    }
  }

  const RecordedValue& value_;
  RecordedRows rows_;
  std::vector<double> noise_, rest_noise_; ///< by component
  double last_bits_ = 0.0;
  std::vector<PathBreak> breaks_;
  std::vector<Rest> rests_;
  std::vector<FoundMove> moves_;
  PathPlan plan_;
  std::vector<SectionWindows> windows_;
  Random random_{20'113};
  RecordingMeasures out_;
};

} // namespace

RecordingMeasures measure_recording(const RecordedValue& value) { return RecordingMeter(value).run(); }

bool is_hidden_by_noise(const Measure& measure, double value, double error) noexcept {
  if (!std::isfinite(error)) return true;
  constexpr double most = 0.5;
  return measure.better == Better::smaller && error > most * std::fabs(value) && error > 0.0;
}

std::vector<std::string> component_names(const Channel& channel) {
  std::vector<std::string> columns;
  for (const std::string_view part : split(channel.name, ',')) columns.emplace_back(part);
  if (columns.size() == channel.components) return columns;
  columns.clear();
  for (std::size_t c = 0; c < channel.components; ++c) columns.push_back(std::string(component_suffixes[c]).substr(1));
  return columns;
}

} // namespace stasis
