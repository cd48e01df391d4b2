#include "cli/recording_call.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

struct TimeUnit {
  std::string_view word;
  double seconds;
};
constexpr std::array<TimeUnit, 3> time_units{{{"s", 1.0}, {"ms", 1e-3}, {"us", 1e-6}}};

} // namespace

void declare_recording_call(Call& call, RecordingCall& words) {
  call.positional("recording", words.recording, "A table of numbers: CSV, or with semicolons or tabs", true);
  call.option("--time", words.time, "Column of the time");
  call.option("--time-unit", words.time_unit, "Unit of the times: s, ms or us");
  call.option("--between", words.between, "Only this stretch, in seconds: 0.5:2.5");
}

Exit OpenedRecording::refuse(const std::string& message) const {
  print_error(message + ".", *err_);
  return Exit::bad_input;
}

tl::expected<OpenedRecording, Exit> OpenedRecording::open(const RecordingCall& call, Output& err) {
  OpenedRecording out(call, err);
  auto read = io::read_recording(call.recording);
  if (!read) {
    failed(read.error(), err);
    return tl::unexpected(read.error().refused ? Exit::bad_input : Exit::bad_file);
  }
  out.table_ = std::move(*read);
  if (out.table_.separator != "comma" || out.table_.decimal_comma)
    out.notes.push_back(
        fmt::format("cells parted by {}{}", out.table_.separator, out.table_.decimal_comma ? ", decimal commas" : ""));
  const auto time = out.time_column();
  if (!time) return tl::unexpected(time.error());
  out.time_ = *time;
  return out;
}

std::optional<std::size_t> OpenedRecording::column_named(const std::string& name) const {
  const auto at = std::find(table_.names.begin(), table_.names.end(), name);
  if (at == table_.names.end()) return std::nullopt;
  return static_cast<std::size_t>(at - table_.names.begin());
}

tl::expected<std::size_t, Exit> OpenedRecording::column(const std::string& option, const std::string& name) const {
  if (const auto found = column_named(name)) return *found;
  return tl::unexpected(refuse(fmt::format("{}: the recording has no column \"{}\".{} Its columns: {}", option,
                                           printable(name, 60), did_you_mean(name, names()), listed(names()))));
}

tl::expected<std::size_t, Exit> OpenedRecording::time_column() const {
  if (!call_->time.empty()) return column("--time", call_->time);
  for (const char* usual : {"time", "t", "Time", "seconds", "timestamp"})
    if (const auto found = column_named(usual)) return *found;
  return tl::unexpected(refuse(
      fmt::format("which column is the time? Name it with --time. The recording's columns: {}", listed(names()))));
}

tl::expected<std::size_t, Exit> OpenedRecording::only_column(const std::string& option) const {
  if (table_.names.size() == 2) return 1 - time_;
  return tl::unexpected(refuse(
      fmt::format("which column is the value? Name it with {}. The recording's columns: {}", option, listed(names()))));
}

tl::expected<double, Exit> OpenedRecording::seconds_given() const {
  if (call_->time_unit.empty()) return 1.0;
  const auto unit =
      std::find_if(time_units.begin(), time_units.end(), [&](const TimeUnit& u) { return u.word == call_->time_unit; });
  if (unit == time_units.end())
    return tl::unexpected(
        refuse(fmt::format("--time-unit: \"{}\" is none of s, ms and us", printable(call_->time_unit, 20))));
  return unit->seconds;
}

tl::expected<NumberRows, Exit> OpenedRecording::rows(const std::vector<std::size_t>& columns) {
  const auto seconds = seconds_given();
  if (!seconds) return tl::unexpected(seconds.error());
  NumberRows out;
  out.cells.resize(columns.size());
  std::vector<std::size_t> kept;
  for (std::size_t row = 0; row < table_.rows(); ++row) {
    const double time = table_.columns[time_][row];
    bool all = std::isfinite(time);
    for (const std::size_t column : columns) {
      const double value = table_.columns[column][row];
      constexpr double largest = 1e15; // as in feels: beyond it doubles cannot tell a step
      if (std::isfinite(value) && std::fabs(value) > largest)
        return tl::unexpected(refuse(fmt::format("row {} of {} holds {}; values go up to 1e15 in size", row + 1,
                                                 name_of(column), shortest(value))));
      all = all && std::isfinite(value);
    }
    if (!all) continue;
    out.times.push_back(time * *seconds);
    for (std::size_t c = 0; c < columns.size(); ++c) out.cells[c].push_back(table_.columns[columns[c]][row]);
    kept.push_back(row);
  }
  if (const std::size_t left_out = table_.rows() - kept.size(); left_out > 0)
    notes.push_back(fmt::format("{} rows without a number were left out", left_out));
  if (out.times.size() < 2) {
    std::string named = name_of(time_);
    for (const std::size_t column : columns) named += (column == columns.back() ? " and " : ", ") + name_of(column);
    return tl::unexpected(
        refuse(fmt::format("{} has no rows with numbers in {}", printable(call_->recording, 200), named)));
  }
  for (std::size_t k = 1; k < out.times.size(); ++k)
    if (!(out.times[k] > out.times[k - 1]))
      return tl::unexpected(refuse(fmt::format("the times do not ascend: row {} is at {}, the row before at {}",
                                               kept[k] + 1, concise(out.times[k], 9), concise(out.times[k - 1], 9))));
  guess_times(out.times);
  if (const Exit ended = cut(out); ended != Exit::fine) return tl::unexpected(ended);
  return out;
}

void OpenedRecording::guess_times(std::vector<double>& times) {
  constexpr double epoch = 1e6, slow = 20.0;
  if (times.front() > epoch) {
    notes.push_back(fmt::format("times count from {}, the first row", shortest(times.front())));
    const double first = times.front();
    for (double& t : times) t -= first;
  }
  const double spacing = (times.back() - times.front()) / static_cast<double>(times.size() - 1);
  if (call_->time_unit.empty() && spacing > 5.0 && spacing < 1000.0 / slow + 50.0) {
    notes.push_back("times were taken for milliseconds, since rows of seconds would be so far apart; --time-unit s "
                    "says otherwise");
    for (double& t : times) t *= 1e-3;
  }
}

/// "0.5:2.5"
Exit OpenedRecording::cut(NumberRows& rows) const {
  if (call_->between.empty()) return Exit::fine;
  const std::string& between = call_->between;
  const auto colon = between.find(':');
  const auto low = read_number(std::string_view(between).substr(0, colon));
  const auto high =
      colon == std::string::npos ? std::nullopt : read_number(std::string_view(between).substr(colon + 1));
  if (!low || !high || !(*low < *high))
    return refuse(fmt::format("--between: expected two times such as 0.5:2.5, found \"{}\"", printable(between, 40)));
  NumberRows part;
  part.cells.resize(rows.cells.size());
  for (std::size_t k = 0; k < rows.times.size(); ++k) {
    if (rows.times[k] < *low || rows.times[k] > *high) continue;
    part.times.push_back(rows.times[k]);
    for (std::size_t c = 0; c < part.cells.size(); ++c) part.cells[c].push_back(rows.cells[c][k]);
  }
  rows = std::move(part);
  return rows.times.size() >= 2 ? Exit::fine : refuse("--between leaves no rows");
}

} // namespace stasis::cli
