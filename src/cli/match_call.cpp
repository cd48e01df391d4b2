#include "cli/match_call.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "io/recording.hpp"

namespace stasis::cli {
namespace {

struct TimeUnit {
  std::string_view word;
  double seconds;
};
constexpr std::array<TimeUnit, 3> time_units{{{"s", 1.0}, {"ms", 1e-3}, {"us", 1e-6}}};

class MoveOpener {
public:
  MoveOpener(const MatchCall& call, Output& err) : call_(call), err_(err) {}

  tl::expected<OpenedMove, Exit> run() {
    auto read = io::read_recording(call_.recording);
    if (!read) {
      failed(read.error(), err_);
      return tl::unexpected(read.error().refused ? Exit::bad_input : Exit::bad_file);
    }
    recording_ = std::move(*read);
    if (recording_.separator != "comma" || recording_.decimal_comma)
      note(fmt::format("cells parted by {}{}", recording_.separator,
                       recording_.decimal_comma ? ", decimal commas" : ""));
    const auto time = time_column();
    const auto value = time ? value_column(*time) : time;
    if (!value) return tl::unexpected(value.error());
    if (const Exit ended = take_rows(*time, *value); ended != Exit::fine) return tl::unexpected(ended);
    if (const Exit ended = take_stretch(); ended != Exit::fine) return tl::unexpected(ended);
    if (const Exit ended = take_givens(); ended != Exit::fine) return tl::unexpected(ended);
    if (const Exit ended = take_spaces(); ended != Exit::fine) return tl::unexpected(ended);
    if (const Exit ended = take_kinds(); ended != Exit::fine) return tl::unexpected(ended);
    return std::move(out_);
  }

private:
  Exit refuse(const std::string& message) const {
    print_error(message + ".", err_);
    return Exit::bad_input;
  }
  void note(std::string words) { out_.notes.push_back(std::move(words)); }

  std::vector<std::string_view> names() const { return {recording_.names.begin(), recording_.names.end()}; }

  std::optional<std::size_t> column_named(const std::string& name) const {
    const auto at = std::find(recording_.names.begin(), recording_.names.end(), name);
    if (at == recording_.names.end()) return std::nullopt;
    return static_cast<std::size_t>(at - recording_.names.begin());
  }

  tl::expected<std::size_t, Exit> column(const std::string& option, const std::string& name) const {
    if (const auto found = column_named(name)) return *found;
    return tl::unexpected(refuse(fmt::format("{}: the recording has no column \"{}\".{} Its columns: {}", option,
                                             printable(name, 60), did_you_mean(name, names()), listed(names()))));
  }

  tl::expected<std::size_t, Exit> time_column() {
    if (!call_.time.empty()) return column("--time", call_.time);
    for (const char* usual : {"time", "t", "Time", "seconds", "timestamp"})
      if (const auto found = column_named(usual)) return *found;
    return tl::unexpected(refuse(
        fmt::format("which column is the time? Name it with --time. The recording's columns: {}", listed(names()))));
  }

  tl::expected<std::size_t, Exit> value_column(std::size_t time) {
    if (!call_.value.empty()) return column("--value", call_.value);
    if (recording_.names.size() == 2) return 1 - time;
    return tl::unexpected(refuse(
        fmt::format("which column is the value? Name it with --value. The recording's columns: {}", listed(names()))));
  }

  /// The rows in which both cells hold a number, times in seconds.
  Exit take_rows(std::size_t time, std::size_t value) {
    out_.column = recording_.names[value];
    out_.rows = recording_.rows();
    double seconds = 1.0;
    if (!call_.time_unit.empty()) {
      const auto unit = std::find_if(time_units.begin(), time_units.end(),
                                     [&](const TimeUnit& u) { return u.word == call_.time_unit; });
      if (unit == time_units.end())
        return refuse(fmt::format("--time-unit: \"{}\" is none of s, ms and us", printable(call_.time_unit, 20)));
      seconds = unit->seconds;
    }
    std::size_t left_out = 0;
    for (std::size_t row = 0; row < recording_.rows(); ++row) {
      const double t = recording_.columns[time][row], v = recording_.columns[value][row];
      constexpr double largest = 1e15; // as in feels: beyond it doubles cannot tell a step
      if (std::isfinite(v) && std::fabs(v) > largest)
        return refuse(
            fmt::format("row {} of {} holds {}; values go up to 1e15 in size", row + 1, out_.column, shortest(v)));
      if (std::isfinite(t) && std::isfinite(v)) {
        move_.times.push_back(t * seconds);
        move_.values.push_back(v);
        kept_.push_back(row);
      } else {
        ++left_out;
      }
    }
    if (left_out > 0) note(fmt::format("{} rows without a number were left out", left_out));
    if (move_.times.size() < 2)
      return refuse(fmt::format("{} has no rows with numbers in {} and {}", printable(call_.recording, 200),
                                recording_.names[time], recording_.names[value]));
    for (std::size_t k = 1; k < move_.times.size(); ++k)
      if (!(move_.times[k] > move_.times[k - 1]))
        return refuse(fmt::format("the times do not ascend: row {} is at {}, the row before at {}", kept_[k] + 1,
                                  concise(move_.times[k], 9), concise(move_.times[k - 1], 9)));
    constexpr double epoch = 1e6, slow = 20.0;
    if (move_.times.front() > epoch) {
      note(fmt::format("times count from {}, the first row", shortest(move_.times.front())));
      const double first = move_.times.front();
      for (double& t : move_.times) t -= first;
    }
    const double spacing = (move_.times.back() - move_.times.front()) / static_cast<double>(move_.times.size() - 1);
    if (call_.time_unit.empty() && spacing > 5.0 && spacing < 1000.0 / slow + 50.0) {
      note("times were taken for milliseconds, since rows of seconds would be so far apart; --time-unit s says "
           "otherwise");
      for (double& t : move_.times) t *= 1e-3;
    }
    return Exit::fine;
  }

  /// "0.5:2.5"
  Exit take_stretch() {
    if (call_.between.empty()) return Exit::fine;
    const auto colon = call_.between.find(':');
    const auto low = read_number(std::string_view(call_.between).substr(0, colon));
    const auto high =
        colon == std::string::npos ? std::nullopt : read_number(std::string_view(call_.between).substr(colon + 1));
    if (!low || !high || !(*low < *high))
      return refuse(
          fmt::format("--between: expected two times such as 0.5:2.5, found \"{}\"", printable(call_.between, 40)));
    RecordedMove part;
    std::vector<std::size_t> rows;
    for (std::size_t k = 0; k < move_.times.size(); ++k)
      if (move_.times[k] >= *low && move_.times[k] <= *high) {
        part.times.push_back(move_.times[k]);
        part.values.push_back(move_.values[k]);
        rows.push_back(kept_[k]);
      }
    move_ = std::move(part);
    kept_ = std::move(rows);
    return move_.times.size() >= 2 ? Exit::fine : refuse("--between leaves no rows");
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
    if (call_.goal.empty()) return Exit::fine;
    if (const auto given = read_number(call_.goal)) {
      move_.goal = *given;
      return Exit::fine;
    }
    const auto goals = column("--goal", call_.goal);
    if (!goals) return goals.error();
    return take_goal_column(recording_.columns[*goals]);
  }

  /// The first jump of the goal begins the move, the next one ends it.
  Exit take_goal_column(const std::vector<double>& goals) {
    std::vector<std::size_t> jumps;
    for (std::size_t k = 1; k < kept_.size(); ++k)
      if (goals[kept_[k]] != goals[kept_[k - 1]]) jumps.push_back(k);
    if (jumps.empty()) return refuse(fmt::format("the goal in {} never changes, so that there is no move", call_.goal));
    if (!move_.start) move_.start = move_.times[jumps[0]];
    if (!move_.from) move_.from = goals[kept_[jumps[0] - 1]];
    move_.goal = goals[kept_[jumps[0]]];
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
        return refuse(fmt::format("--space: \"{}\" is none of linear, ratio and zoom", printable(word, 20)));
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
  io::Recording recording_;
  RecordedMove move_;
  std::vector<std::size_t> kept_; ///< rows of the recording
  OpenedMove out_;
};

} // namespace

void declare_match_call(Call& call, MatchCall& match) {
  call.positional("recording", match.recording, "A table of numbers: CSV, or with semicolons or tabs", true);
  call.option("--value", match.value, "Column of the value");
  call.option("--time", match.time, "Column of the time");
  call.option("--time-unit", match.time_unit, "Unit of the times: s, ms or us");
  call.option("--between", match.between, "Only this stretch, in seconds: 0.5:2.5");
  call.option("--start", match.start, "When the goal jumped, s, if that is known");
  call.option("--from", match.from, "Where the value rested, if that is known");
  call.option("--goal", match.goal, "Where it went, or the column that holds its goal");
  call.option("--unit", match.unit, "Unit of the value: deg, m, ...");
  call.repeated("--space", match.spaces, "In which a rule may work: linear, ratio or zoom");
  call.repeated("--kinds", match.kinds, "Try only this rule: glide, spring, pace, ease, or a curve");
}

tl::expected<OpenedMove, Exit> open_move(const MatchCall& call, Output& err) { return MoveOpener(call, err).run(); }

} // namespace stasis::cli
