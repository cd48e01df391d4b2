#include "cli/match_call.hpp"

#include <algorithm>
#include <cmath>
#include <optional>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "core/components.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis::cli {
namespace {

class MoveOpener {
public:
  MoveOpener(const MatchCall& call, Output& err) : call_(call), err_(err) {}

  tl::expected<OpenedMove, Exit> run() {
    auto opened = OpenedRecording::open(call_.table, err_);
    if (!opened) return tl::unexpected(opened.error());
    recording_.emplace(std::move(*opened));
    if (const Exit ended = take_rows(); ended != Exit::fine) return tl::unexpected(ended);
    if (call_.shake) return shake();
    if (goal_runs()) return follow();
    if (values_.size() > 1)
      return tl::unexpected(refuse("a move is matched on one column; several belong to a goal that moves by itself, "
                                   "given with --goal or --goal-from"));
    if (const Exit ended = take_givens(); ended != Exit::fine) return tl::unexpected(ended);
    if (const Exit ended = take_spaces(); ended != Exit::fine) return tl::unexpected(ended);
    if (const Exit ended = take_kinds(); ended != Exit::fine) return tl::unexpected(ended);
    out_.notes.insert(out_.notes.begin(), recording_->notes.begin(), recording_->notes.end());
    return std::move(out_);
  }

private:
  Exit refuse(const std::string& message) const { return recording_->refuse(message); }
  void note(std::string words) { out_.notes.push_back(std::move(words)); }

  /// True if the goal is the name of a column.
  bool names_goal() const { return !call_.goal.empty() && !read_number(call_.goal); }

  Exit take_rows() {
    std::vector<std::size_t> columns;
    if (call_.value.empty()) {
      const auto only = recording_->only_column("--value");
      if (!only) return only.error();
      columns.push_back(*only);
    } else if (const Exit ended = add_columns("--value", call_.value, columns); ended != Exit::fine) {
      return ended;
    }
    const std::size_t count = columns.size();
    if (count > most_components) return refuse(fmt::format("--value: up to three columns, found {}", count));
    if (names_goal())
      if (const Exit ended = add_columns("--goal", call_.goal, columns); ended != Exit::fine) return ended;
    auto rows = recording_->rows(columns);
    if (!rows) return rows.error();
    out_.column = call_.value.empty() ? recording_->name_of(columns[0]) : call_.value;
    out_.rows = recording_->row_count();
    move_.times = std::move(rows->times);
    const auto middle = rows->cells.begin() + static_cast<std::ptrdiff_t>(count);
    values_.assign(rows->cells.begin(), middle);
    goals_.assign(middle, rows->cells.end());
    if (!call_.goal_from.empty())
      if (const Exit ended = read_other_goal(); ended != Exit::fine) return ended;
    if (!goals_.empty() && goals_.size() != count)
      return refuse(fmt::format("the goal has {} columns, the value {}", goals_.size(), count));
    move_.values = values_[0];
    return Exit::fine;
  }

  /// The columns named in "a,b,c".
  Exit add_columns(const std::string& option, const std::string& names, std::vector<std::size_t>& columns) const {
    for (const std::string_view name : split(names, ',')) {
      const auto column = recording_->column(option, std::string(trimmed(name)));
      if (!column) return column.error();
      columns.push_back(*column);
    }
    return Exit::fine;
  }

  /// "OTHER.csv:COLUMN": at the times of this recording, straight between its rows.
  Exit read_other_goal() {
    const auto colon = call_.goal_from.rfind(':');
    if (colon == std::string::npos || !call_.goal.empty())
      return refuse(fmt::format("--goal-from: expected OTHER.csv:COLUMN, without --goal, found \"{}\"",
                                printable(call_.goal_from, 80)));
    RecordingCall other;
    other.recording = call_.goal_from.substr(0, colon);
    other.time_unit = call_.table.time_unit;
    auto opened = OpenedRecording::open(other, err_);
    if (!opened) return opened.error();
    std::vector<std::size_t> columns;
    for (const std::string_view name : split(std::string_view(call_.goal_from).substr(colon + 1), ',')) {
      const auto column = opened->column("--goal-from", std::string(trimmed(name)));
      if (!column) return column.error();
      columns.push_back(*column);
    }
    auto rows = opened->rows(columns);
    if (!rows) return rows.error();
    if (rows->times.front() > move_.times.back() || rows->times.back() < move_.times.front())
      return refuse(fmt::format("--goal-from: {} goes from {} to {} s, this recording from {} to {} s",
                                printable(other.recording, 80), concise(rows->times.front()),
                                concise(rows->times.back()), concise(move_.times.front()),
                                concise(move_.times.back())));
    for (const std::string& words : opened->notes) note(other.recording + ": " + words);
    for (const auto& cells : rows->cells) {
      std::vector<double> at_rows;
      for (const double time : move_.times) at_rows.push_back(value_between(rows->times, cells, time));
      goals_.push_back(std::move(at_rows));
    }
    return Exit::fine;
  }

  static double value_between(const std::vector<double>& times, const std::vector<double>& cells, double time) {
    const auto next = std::lower_bound(times.begin(), times.end(), time);
    if (next == times.begin()) return cells.front();
    if (next == times.end()) return cells.back();
    const auto k = static_cast<std::size_t>(next - times.begin());
    return cells[k - 1] + (cells[k] - cells[k - 1]) * (time - times[k - 1]) / (times[k] - times[k - 1]);
  }

  /// True of a goal that moves by itself, and does not only jump now and then.
  bool goal_runs() const {
    if (goals_.empty()) return false;
    std::size_t changes = 0;
    for (std::size_t k = 1; k < move_.times.size(); ++k)
      if (std::any_of(goals_.begin(), goals_.end(), [&](const auto& g) { return g[k] != g[k - 1]; })) ++changes;
    constexpr std::size_t share = 5; // one row in five
    return changes * share > move_.times.size();
  }

  tl::expected<OpenedMove, Exit> follow() {
    for (const auto& [option, given] : {std::pair{"--start", !call_.start.empty()},
                                        {"--from", !call_.from.empty()},
                                        {"--space", !call_.spaces.empty()},
                                        {"--kinds", !call_.kinds.empty()}})
      if (given)
        return tl::unexpected(
            refuse(fmt::format("{} belongs to a move from rest to rest; this goal moves by itself", option)));
    out_.unit = call_.unit;
    out_.follow = RecordedFollow{std::move(move_.times), std::move(values_), std::move(goals_)};
    out_.notes.insert(out_.notes.begin(), recording_->notes.begin(), recording_->notes.end());
    return std::move(out_);
  }

  tl::expected<OpenedMove, Exit> shake() {
    for (const auto& [option, given] : {std::pair{"--goal", !call_.goal.empty()},
                                        {"--goal-from", !call_.goal_from.empty()},
                                        {"--space", !call_.spaces.empty()},
                                        {"--kinds", !call_.kinds.empty()}})
      if (given) return tl::unexpected(refuse(fmt::format("{} belongs to a move; a shake has none", option)));
    if (values_.size() > 1) return tl::unexpected(refuse("a shake is matched on one column"));
    if (const Exit ended = take_givens(); ended != Exit::fine) return tl::unexpected(ended);
    out_.unit = call_.unit;
    out_.shake = RecordedShake{std::move(move_.times), std::move(move_.values), move_.start, move_.from};
    out_.notes.insert(out_.notes.begin(), recording_->notes.begin(), recording_->notes.end());
    return std::move(out_);
  }

  /// Start, rest and goal: given as numbers, or by a column that holds the goal.
  Exit take_givens() {
    const auto number = [&](const char* option, const std::string& text, std::optional<double>& out) {
      if (text.empty()) return Exit::fine;
      const auto given = number_option(option, text, -1e15, 1e15, false, err_);
      if (!given) return given.error();
      out = *given;
      return Exit::fine;
    };
    if (const Exit ended = number("--start", call_.start, move_.start); ended != Exit::fine) return ended;
    if (const Exit ended = number("--from", call_.from, move_.from); ended != Exit::fine) return ended;
    if (goals_.empty() && call_.goal.empty()) return Exit::fine;
    if (const auto given = read_number(call_.goal)) {
      move_.goal = *given;
      return Exit::fine;
    }
    return take_goal_column();
  }

  /// The first jump of the goal begins the move, the next one ends it.
  Exit take_goal_column() {
    std::vector<std::size_t> jumps;
    const std::vector<double>& goal = goals_[0];
    for (std::size_t k = 1; k < goal.size(); ++k)
      if (goal[k] != goal[k - 1]) jumps.push_back(k);
    if (jumps.empty())
      return refuse(fmt::format("the goal in {} never changes, so there is no move",
                                call_.goal.empty() ? call_.goal_from : call_.goal));
    if (!move_.start) move_.start = move_.times[jumps[0]];
    if (!move_.from) move_.from = goal[jumps[0] - 1];
    move_.goal = goal[jumps[0]];
    if (jumps.size() > 1) {
      note(fmt::format("the goal jumps {} times; the first move is matched, up to {} s. --between says otherwise",
                       jumps.size(), readable(move_.times[jumps[1]], 4)));
      // The row at which the next goal came has not moved by it yet.
      move_.times.resize(jumps[1] + 1);
      move_.values.resize(jumps[1] + 1);
    }
    return Exit::fine;
  }

  Exit take_spaces() {
    out_.unit = call_.unit;
    const double degrees = whole_turn / 360.0;
    const bool is_angle = call_.unit == "deg" || call_.unit == "rad";
    std::vector<std::string> words = call_.spaces;
    const auto [low, high] = std::minmax_element(move_.values.begin(), move_.values.end());
    const double half_turn = call_.unit == "rad" ? 0.5 * whole_turn : 180.0;
    if (words.empty()) {
      words.emplace_back("linear");
      if (is_angle && *low > 0.0 && *high < half_turn) words.emplace_back("zoom");
    }
    for (const std::string& word : words) {
      RecordedMove move = move_;
      if (word == "linear") {
        move.space.space = Space::linear;
      } else if (word == "ratio") {
        if (!(*low > 0.0)) return refuse("--space ratio needs values above 0");
        move.space.space = Space::ratio;
      } else if (word == "zoom") {
        if (!is_angle || !(*low > 0.0) || !(*high < half_turn))
          return refuse("--space zoom needs --unit deg or rad, and angles between 0 and half a turn");
        move.space.space = Space::zoom;
      } else {
        return refuse(fmt::format("--space: \"{}\" is not one of linear, ratio and zoom", printable(word, 20)));
      }
      move.space.radians_per_unit = call_.unit == "deg" ? degrees : 1.0;
      out_.moves.push_back(std::move(move));
    }
    return Exit::fine;
  }

  Exit take_kinds() {
    if (call_.kinds.empty()) {
      out_.kinds = step_rules();
      return Exit::fine;
    }
    for (const std::string& word : call_.kinds) {
      const std::size_t before = out_.kinds.size();
      for (const StepRule& kind : step_rules())
        if (kind.name() == word || kind.name() == "ease " + word
            || (word == "ease" && kind.name().starts_with("ease ")))
          out_.kinds.push_back(kind);
      if (out_.kinds.size() > before) continue;
      std::vector<std::string> all;
      for (const StepRule& kind : step_rules()) all.push_back(kind.name());
      const std::vector<std::string_view> known(all.begin(), all.end());
      return refuse(fmt::format("--kinds: there is no rule \"{}\".{} Known: ease, {}", printable(word, 40),
                                did_you_mean(word, known), listed(known)));
    }
    return Exit::fine;
  }

  const MatchCall& call_;
  Output& err_;
  std::optional<OpenedRecording> recording_;
  RecordedMove move_;
  std::vector<std::vector<double>> values_, goals_; ///< by column and row; goals where columns hold them
  OpenedMove out_;
};

} // namespace

void declare_match_call(Call& call, MatchCall& match) {
  declare_recording_call(call, match.table);
  call.option("--value", match.value, "Column of the value; of a moving goal up to three: x,y,z");
  call.option("--start", match.start, "When the goal jumped, s, if that is known; of a shake, when it was hit");
  call.option("--from", match.from, "Where the value rested, if that is known");
  call.option("--goal", match.goal, "Where it went, or the column of its goal, which may move by itself");
  call.option("--goal-from", match.goal_from, "Where its goal was recorded: OTHER.csv:COLUMN");
  call.option("--unit", match.unit, "Unit of the value: deg, m, ...");
  call.repeated("--space", match.spaces, "Spaces that are tried: linear, ratio or zoom");
  call.repeated("--kinds", match.kinds, "Try only this rule: glide, spring, pace, ease, or a curve");
}

tl::expected<OpenedMove, Exit> open_move(const MatchCall& call, Output& err) { return MoveOpener(call, err).run(); }

} // namespace stasis::cli
