// `stasis measure`: what a recording does, in the measures of a take, without any rule.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/measure_report.hpp"
#include "cli/recording_call.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "figure/recording_figure.hpp"

namespace stasis::cli {
namespace {

constexpr const char* measure_example =
    R"text(A recording is a table with a column of times and others of values: what a
capture, an export or another program wrote. Moves are found where the value
rests, sets off and rests again, or where the goal's column changes. About 95
times in 100 the true number is no farther away than the number after the sign ±.

Worked examples:
  stasis measure capture.csv --value fov --unit deg
  stasis measure flight.csv --value eye.x,eye.y,eye.z --unit m
  stasis measure approach.trace.csv --value fov.value --goal fov.goal --json
  stasis measure capture.csv --value fov --beside approach.trace.csv:fov.value)text";

struct MeasureCall {
  RecordingCall table;
  std::vector<std::string> values, goals, units, spaces;
  std::string settle_band, beside, out = "stasis-out", figure = "png";
  bool json = false, force = false;
};

class Measuring {
public:
  Measuring(const MeasureCall& call, Streams streams) : call_(call), streams_(streams) {}

  Exit run() {
    if (const Exit ended = measure_all(); ended != Exit::fine) return ended;
    if (!call_.beside.empty())
      if (const Exit ended = measure_beside(); ended != Exit::fine) return ended;
    if (call_.json)
      streams_.out.exact_line(measure_json(report_));
    else
      streams_.out.write(measure_text(report_));
    if (call_.figure != "none")
      if (const auto drawn = draw(); !drawn) return failed(drawn.error(), streams_.err);
    return Exit::fine;
  }

private:
  Exit measure_all() {
    auto opened = OpenedRecording::open(call_.table, streams_.err);
    if (!opened) return opened.error();
    recording_ = &*opened;
    report_.recording = call_.table.recording;
    std::vector<std::string> asked = call_.values;
    if (asked.empty()) {
      const auto only = opened->only_column("--value");
      if (!only) return only.error();
      asked.push_back(opened->name_of(*only));
    }
    for (const auto* words : {&call_.goals, &call_.units, &call_.spaces})
      if (words->size() > asked.size())
        return opened->refuse("--goal, --unit and --space belong to one --value each, in the same order; there are "
                              "more of them than of --value");
    for (std::size_t k = 1; k < asked.size(); ++k)
      if (std::find(asked.begin(), asked.begin() + static_cast<std::ptrdiff_t>(k), asked[k])
          != asked.begin() + static_cast<std::ptrdiff_t>(k))
        return opened->refuse(fmt::format("--value: {} is named twice", printable(asked[k], 60)));
    for (std::size_t k = 0; k < asked.size(); ++k) {
      auto value = measure(asked[k], k);
      if (!value) return value.error();
      report_.values.push_back(std::move(*value));
    }
    take_notes(*opened);
    return Exit::fine;
  }

  void take_notes(const OpenedRecording& opened) {
    for (const std::string& note : opened.notes)
      if (std::find(report_.notes.begin(), report_.notes.end(), note) == report_.notes.end())
        report_.notes.push_back(note);
  }

  /// "FILE" or "FILE:COLUMN": the first value in another recording.
  Exit measure_beside() {
    const auto colon = call_.beside.rfind(':');
    if (colon == 0 || colon + 1 == call_.beside.size())
      return usage("--beside: expected OTHER.csv or OTHER.csv:COLUMN, found \"" + printable(call_.beside, 80) + "\".");
    RecordingCall other = call_.table;
    other.recording = call_.beside.substr(0, colon);
    auto opened = OpenedRecording::open(other, streams_.err);
    if (!opened) return opened.error();
    recording_ = &*opened;
    auto value = measure(colon == std::string::npos ? report_.values.front().asked : call_.beside.substr(colon + 1), 0);
    if (!value) return value.error();
    if (value->components != report_.values.front().components)
      return opened->refuse(fmt::format("--beside: {} has {} components, {} has {}", value->name, value->components,
                                        report_.values.front().name, report_.values.front().components));
    report_.beside_name = other.recording;
    report_.beside.emplace(std::move(*value));
    for (const std::string& note : opened->notes) report_.notes.push_back(other.recording + ": " + note);
    return Exit::fine;
  }

  Exit usage(const std::string& message) const {
    print_error(message, streams_.err);
    return Exit::bad_input;
  }

  static std::string at_or_empty(const std::vector<std::string>& words, std::size_t k) {
    return k < words.size() ? words[k] : std::string();
  }

  /// "eye.x,eye.y" as columns.
  tl::expected<std::vector<std::size_t>, Exit> columns(const std::string& option, const std::string& text) const {
    std::vector<std::size_t> out;
    for (const std::string_view name : split(text, ',')) {
      const auto column = recording_->column(option, std::string(trimmed(name)));
      if (!column) return tl::unexpected(column.error());
      out.push_back(*column);
    }
    if (out.size() > most_components)
      return tl::unexpected(
          recording_->refuse(fmt::format("{}: a value has up to three columns, found {}", option, out.size())));
    return out;
  }

  /// "eye" of eye.x, eye.y and eye.z; else the names as they are.
  std::string common_name(const std::string& text, const std::vector<std::size_t>& columns) const {
    if (columns.size() == 1) return recording_->name_of(columns[0]);
    const std::string& first = recording_->name_of(columns[0]);
    const std::size_t dot = first.rfind('.');
    for (const std::size_t column : columns)
      if (dot == std::string::npos || recording_->name_of(column).substr(0, dot + 1) != first.substr(0, dot + 1))
        return text;
    return first.substr(0, dot);
  }

  tl::expected<MeasuredValue, Exit> measure(const std::string& asked, std::size_t k) {
    const auto value_columns = columns("--value", asked);
    if (!value_columns) return tl::unexpected(value_columns.error());
    std::vector<std::size_t> all = *value_columns;
    const std::string goal = at_or_empty(call_.goals, k);
    if (!goal.empty()) {
      const auto goal_columns = columns("--goal", goal);
      if (!goal_columns) return tl::unexpected(goal_columns.error());
      if (goal_columns->size() != value_columns->size())
        return tl::unexpected(recording_->refuse(fmt::format("--goal: {} has {} columns, {} has {}", goal,
                                                             goal_columns->size(), asked, value_columns->size())));
      all.insert(all.end(), goal_columns->begin(), goal_columns->end());
    }
    auto rows = recording_->rows(all);
    if (!rows) return tl::unexpected(rows.error());
    if (rows->times.size() < fewest_recorded_rows)
      return tl::unexpected(recording_->refuse(fmt::format("{} has {} rows with numbers; to be measured it needs {}",
                                                           asked, rows->times.size(), fewest_recorded_rows)));
    RecordedValue value;
    value.rows.times = std::move(rows->times);
    const auto middle = rows->cells.begin() + static_cast<std::ptrdiff_t>(value_columns->size());
    value.rows.values.assign(rows->cells.begin(), middle);
    value.goals.assign(middle, rows->cells.end());
    value.channel.name = common_name(asked, *value_columns);
    value.channel.unit = at_or_empty(call_.units, k);
    value.channel.components = value_columns->size();
    if (const Exit ended = take_space(value, at_or_empty(call_.spaces, k)); ended != Exit::fine)
      return tl::unexpected(ended);
    if (const Exit ended = take_band(value); ended != Exit::fine) return tl::unexpected(ended);
    MeasuredValue out;
    out.asked = asked;
    out.name = value.channel.name;
    out.unit = value.channel.unit;
    out.components = value.channel.components;
    out.found = measure_recording(value);
    out.rows = std::move(value.rows);
    return out;
  }

  Exit take_space(RecordedValue& value, const std::string& word) const {
    SpaceMap& map = value.channel.space;
    map.radians_per_unit = value.channel.unit == "deg" ? whole_turn / 360.0 : 1.0;
    if (word.empty() || word == "linear") return Exit::fine;
    if (word == "ratio")
      map.space = Space::ratio;
    else if (word == "zoom")
      map.space = Space::zoom;
    else
      return recording_->refuse(
          fmt::format("--space: \"{}\" is not one of linear, ratio and zoom", printable(word, 20)));
    if (word == "zoom" && value.channel.unit != "deg" && value.channel.unit != "rad")
      return recording_->refuse("--space zoom needs --unit deg or rad");
    const OpenInterval held = domain(map);
    for (const auto& cells : value.rows.values)
      for (const double v : cells)
        if (!(v > held.low && v < held.high))
          return recording_->refuse(
              fmt::format("--space {}: {} is outside of what that space can hold", word, shortest(v)));
    return Exit::fine;
  }

  Exit take_band(RecordedValue& value) const {
    if (call_.settle_band.empty()) return Exit::fine;
    constexpr double least = 0.01, most = 50.0;
    const auto band = number_option("--settle-band", call_.settle_band, least, most, false, streams_.err);
    if (!band) return band.error();
    value.channel.settle_band.size = *band;
    return Exit::fine;
  }

  io::FileResult<void> draw() const {
    std::vector<NamedFigure> figures;
    const std::string stem = "measure." + stem_of(call_.table.recording);
    for (const MeasuredValue& value : report_.values)
      figures.push_back({report_.values.size() == 1 ? stem : stem + "." + file_name_of(value.name),
                         figure::recording_figure(shown_name(call_.table.recording), value.rows, value.found)});
    return draw_into({call_.out, call_.figure, call_.force}, figures, call_.json ? streams_.err : streams_.out,
                     streams_.err);
  }

  /// A column's name may hold anything.
  static std::string file_name_of(std::string name) {
    std::replace_if(
        name.begin(), name.end(),
        [](char c) { return !(is_digit(c) || (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '_'); }, '_');
    return name;
  }

  const MeasureCall& call_;
  Streams streams_;
  OpenedRecording* recording_ = nullptr;
  MeasureReport report_;
};

} // namespace

Exit run_measure(const Arguments& arguments, Streams streams) {
  Call call("stasis measure", "What a recording does, in the measures of a take.", measure_example);
  MeasureCall words;
  declare_recording_call(call, words.table);
  call.repeated("--value", words.values, "Column of a value, or up to three: eye.x,eye.y,eye.z");
  call.repeated("--goal", words.goals, "Column of its goal: each change begins a move");
  call.repeated("--unit", words.units, "Its unit: deg, m, ...");
  call.repeated("--space", words.spaces, "Space in which its moves are measured: linear, ratio or zoom");
  call.option("--settle-band", words.settle_band, "How near a move must stay to have settled, % (default 2)");
  call.option("--beside", words.beside, "Another recording, or its column: OTHER.csv:fov");
  call.folder(words.out, "Folder for the figure");
  call.choice("--figure", words.figure, {"svg", "png", "none"}, "What is drawn: the recording, its path, its speed");
  call.flag("--json", words.json, "Print as JSON");
  call.flag("--force", words.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return Measuring(words, streams).run();
}

} // namespace stasis::cli
