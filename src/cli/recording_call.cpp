#include "cli/recording_call.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "core/components.hpp"
#include "core/text.hpp"
#include "io/gltf_recording.hpp"

namespace stasis::cli {
namespace {

struct TimeUnit {
  std::string_view word;
  double seconds;
};
constexpr std::array<TimeUnit, 3> time_units{{{"s", 1.0}, {"ms", 1e-3}, {"us", 1e-6}}};

constexpr std::array<std::string_view, 5> separator_words{"comma", "semicolon", "tab", "bar", "blank"};

/// What the name of a column says of times: "Time (ms)", "t_us", "seconds".
struct TimeName {
  bool is_time = false;
  std::optional<double> seconds; ///< its unit, where the name says one
};
TimeName time_name(std::string name) {
  std::transform(name.begin(), name.end(), name.begin(),
                 [](char c) { return static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c); });
  std::string unit;
  if (const std::size_t at = name.find_first_of("([_"); at != std::string::npos) {
    unit = name.substr(at + 1);
    std::erase_if(unit, [](char c) { return c == ')' || c == ']' || c == ' '; });
    name = std::string(trimmed(std::string_view(name).substr(0, at)));
  }
  constexpr std::array<std::string_view, 6> usual{"time", "t", "timestamp", "elapsed", "seconds", "milliseconds"};
  TimeName out;
  const bool is_bare_unit = unit.empty() && (name == "ms" || name == "us" || name == "s" || name == "sec");
  out.is_time = is_bare_unit || std::find(usual.begin(), usual.end(), name) != usual.end();
  if (name == "milliseconds" || is_bare_unit) unit = name == "milliseconds" ? "ms" : name;
  if (unit == "sec" || unit == "seconds" || unit == "secs") unit = "s";
  for (const TimeUnit& one : time_units)
    if (one.word == unit) out.seconds = one.seconds;
  // "time_of_day" is something else.
  if (!unit.empty() && !out.seconds) out.is_time = false;
  return out;
}

} // namespace

void declare_recording_call(Call& call, RecordingCall& words) {
  call.positional("recording", words.recording, "A table of numbers: CSV, or with semicolons or tabs; or a glTF scene",
                  true);
  call.option("--time", words.time, "Column of the time");
  call.option("--time-unit", words.time_unit, "Unit of the times: s, ms or us");
  call.option("--rate", words.rate,
              "Rows a second, if there is no column of times; for a scene, how often it is sampled");
  call.option("--separator", words.separator, "What stands between cells: comma, semicolon, tab, bar or blank");
  call.repeated("--repair", words.repair, "Mend instead of refuse: unsorted or repeated times");
  call.option("--only", words.only, "From several recordings in one file: COLUMN=VALUE, such as take=3");
  call.flag("--allow-outside", words.allow_outside, "For a scene: buffers may lie outside its folder");
  call.option("--between", words.between, "Only this stretch, in seconds: 0.5:2.5");
}

Exit OpenedRecording::refuse(const std::string& message) const {
  print_error(message + ".", *err_);
  return Exit::bad_input;
}

tl::expected<OpenedRecording, Exit> OpenedRecording::open(const RecordingCall& call, Output& err) {
  OpenedRecording out(call, err);
  io::RecordingForm form{call.separator, "", ""};
  if (!call.separator.empty()
      && std::find(separator_words.begin(), separator_words.end(), call.separator) == separator_words.end())
    return tl::unexpected(out.refuse(
        fmt::format("--separator: \"{}\" is not one of {}", printable(call.separator, 20), listed(separator_words))));
  if (!call.only.empty()) {
    const auto equals = call.only.find('=');
    if (equals == std::string::npos || equals == 0)
      return tl::unexpected(
          out.refuse(fmt::format("--only: expected COLUMN=VALUE, found \"{}\"", printable(call.only, 60))));
    form.only_column = call.only.substr(0, equals);
    form.only_value = call.only.substr(equals + 1);
  }
  if (out.is_scene_ = io::is_gltf_name(call.recording); out.is_scene_) {
    if (!call.separator.empty()) return tl::unexpected(out.refuse("--separator belongs to a table, not to a scene"));
    if (!call.only.empty() && form.only_column != "animation")
      return tl::unexpected(out.refuse(
          fmt::format("--only: of a scene expected animation=NAME, found \"{}\"", printable(call.only, 60))));
    if (!call.rate.empty())
      if (const auto rate = out.rows_a_second(); !rate) return tl::unexpected(rate.error());
  }
  if (call.allow_outside && !out.is_scene_)
    return tl::unexpected(out.refuse("--allow-outside belongs to a scene; a table names no other file"));
  auto read = out.read(form);
  if (!read) {
    failed(read.error(), err);
    return tl::unexpected(read.error().refused ? Exit::bad_input : Exit::bad_file);
  }
  out.table_ = std::move(*read);
  out.notes = out.table_.notes;
  if (out.table_.separator != "comma" || out.table_.decimal_comma)
    out.notes.push_back(fmt::format("cells separated by {}{}", out.table_.separator,
                                    out.table_.decimal_comma ? ", decimal commas" : ""));
  if (const Exit ended = out.check_repairs(); ended != Exit::fine) return tl::unexpected(ended);
  if (const Exit ended = out.find_time(); ended != Exit::fine) return tl::unexpected(ended);
  return out;
}

std::optional<std::size_t> OpenedRecording::column_named(const std::string& name) const {
  const auto place = [&](const std::string& exactly) -> std::optional<std::size_t> {
    const auto at = std::find(table_.names.begin(), table_.names.end(), exactly);
    if (at == table_.names.end()) return std::nullopt;
    return static_cast<std::size_t>(at - table_.names.begin());
  };
  if (const auto found = place(name)) return found;
  // A trace of Stasis says "focus.value.x" of the channel's component "focus.x".
  for (const std::string suffix : component_suffixes)
    if (name.size() > suffix.size() && name.ends_with(suffix))
      return place(name.substr(0, name.size() - suffix.size()) + ".value" + suffix);
  return place(name + ".value");
}

tl::expected<std::size_t, Exit> OpenedRecording::column(const std::string& option, const std::string& name) const {
  if (const auto found = column_named(name)) return *found;
  return tl::unexpected(refuse(fmt::format("{}: the recording has no column \"{}\".{} Its columns: {}", option,
                                           printable(name, 60), did_you_mean(name, names()), listed(names()))));
}

io::FileResult<io::Recording> OpenedRecording::read(const io::RecordingForm& form) {
  if (!is_scene_) return io::read_recording(call_->recording, form);
  return io::read_gltf_recording(call_->recording, {call_->allow_outside, form.only_value,
                                                    call_->rate.empty() ? std::nullopt : read_number(call_->rate)});
}

Exit OpenedRecording::check_repairs() const {
  constexpr std::array<std::string_view, 2> known{"unsorted", "repeated"};
  for (const std::string& word : call_->repair)
    if (std::find(known.begin(), known.end(), word) == known.end())
      return refuse(fmt::format("--repair: \"{}\" is not one of {}", printable(word, 20), listed(known)));
  return Exit::fine;
}

Exit OpenedRecording::find_time() {
  if (!call_->rate.empty() && !is_scene_) {
    if (!call_->time.empty()) return refuse("--rate and --time exclude each other");
    const auto rate = rows_a_second();
    return rate ? Exit::fine : rate.error();
  }
  if (!call_->time.empty()) {
    const auto found = column("--time", call_->time);
    if (!found) return found.error();
    time_ = *found;
    time_unit_ = time_name(name_of(*found)).seconds;
    return Exit::fine;
  }
  for (std::size_t c = 0; c < table_.names.size(); ++c) {
    const TimeName name = time_name(table_.names[c]);
    if (!name.is_time) continue;
    time_ = c;
    time_unit_ = is_scene_ ? std::optional(1.0) : name.seconds;
    if (name.seconds && *name.seconds != 1.0)
      notes.push_back(fmt::format("times are {}, as the name of {} says", *name.seconds == 1e-3 ? "ms" : "us",
                                  printable(table_.names[c], 40)));
    return Exit::fine;
  }
  return refuse(
      fmt::format("which column is the time? Name it with --time, or say with --rate how many rows there are a "
                  "second. The recording's columns: {}",
                  listed(names())));
}

tl::expected<std::size_t, Exit> OpenedRecording::only_column(const std::string& option) const {
  std::vector<std::size_t> found; // columns with numbers
  for (std::size_t c = 0; c < table_.names.size(); ++c) {
    const auto& cells = table_.columns[c];
    const auto numbers = std::count_if(cells.begin(), cells.end(), [](double v) { return std::isfinite(v); });
    const bool is_time = c == time_ || (!time_ && time_name(table_.names[c]).is_time);
    if (!is_time && static_cast<std::size_t>(numbers) * 2 > cells.size()) found.push_back(c);
  }
  if (found.size() == 1) return found[0];
  if (time_ && table_.names.size() == 2) return 1 - *time_;
  return tl::unexpected(refuse(
      fmt::format("which column is the value? Name it with {}. The recording's columns: {}", option, listed(names()))));
}

tl::expected<double, Exit> OpenedRecording::rows_a_second() const {
  constexpr double least = 1e-3, most = 1e6;
  return number_option("--rate", call_->rate, least, most, false, *err_);
}

tl::expected<double, Exit> OpenedRecording::seconds_given() const {
  if (!call_->rate.empty() && !is_scene_) {
    const auto rate = rows_a_second();
    if (!rate) return tl::unexpected(rate.error());
    return 1.0 / *rate;
  }
  if (call_->time_unit.empty()) return time_unit_.value_or(1.0);
  const auto unit =
      std::find_if(time_units.begin(), time_units.end(), [&](const TimeUnit& u) { return u.word == call_->time_unit; });
  if (unit == time_units.end())
    return tl::unexpected(
        refuse(fmt::format("--time-unit: \"{}\" is not one of s, ms and us", printable(call_->time_unit, 20))));
  return unit->seconds;
}

tl::expected<NumberRows, Exit> OpenedRecording::rows(const std::vector<std::size_t>& columns) {
  const auto seconds = seconds_given();
  if (!seconds) return tl::unexpected(seconds.error());
  NumberRows out;
  out.cells.resize(columns.size());
  std::vector<std::size_t> kept;
  for (std::size_t row = 0; row < table_.rows(); ++row) {
    const double time = time_ ? table_.columns[*time_][row] : static_cast<double>(row);
    bool all = std::isfinite(time);
    for (const std::size_t column : columns) {
      const double value = table_.columns[column][row];
      constexpr double largest = 1e15; // as in feels: beyond it doubles cannot tell a step
      if (std::isfinite(value) && std::fabs(value) > largest)
        return tl::unexpected(
            refuse(fmt::format("{}: row {} of {} holds {}; values go up to 1e15 in size",
                               printable(call_->recording, 120), row + 1, name_of(column), shortest(value))));
      all = all && std::isfinite(value);
    }
    if (!all) continue;
    out.times.push_back(time * *seconds);
    for (std::size_t c = 0; c < columns.size(); ++c) out.cells[c].push_back(table_.columns[columns[c]][row]);
    kept.push_back(row);
  }
  if (const std::size_t left_out = table_.rows() - kept.size(); left_out > 0)
    notes.push_back(fmt::format("{} without a number {} left out",
                                left_out == 1 ? "1 row" : fmt::format("{} rows", left_out),
                                left_out == 1 ? "was" : "were"));
  if (out.times.size() < 2) {
    std::vector<std::string_view> wanted;
    if (time_) wanted.push_back(name_of(*time_));
    for (const std::size_t column : columns) wanted.push_back(name_of(column));
    const std::string named = listed(wanted);
    return tl::unexpected(
        refuse(fmt::format("{} has no rows with numbers in {}", printable(call_->recording, 200), named)));
  }
  if (const Exit ended = order_rows(out); ended != Exit::fine) return tl::unexpected(ended);
  guess_times(out.times);
  if (const Exit ended = cut(out); ended != Exit::fine) return tl::unexpected(ended);
  return out;
}

Exit OpenedRecording::order_rows(NumberRows& rows) {
  const auto mends = [&](const char* word) {
    return std::find(call_->repair.begin(), call_->repair.end(), word) != call_->repair.end();
  };
  std::vector<std::size_t> order;
  for (std::size_t k = 0; k < rows.times.size(); ++k) order.push_back(k);
  std::size_t unsorted = 0, repeated = 0;
  for (std::size_t k = 1; k < rows.times.size(); ++k) {
    if (rows.times[k] > rows.times[k - 1]) continue;
    const bool equal = rows.times[k] == rows.times[k - 1];
    ++(equal ? repeated : unsorted);
    if (mends(equal ? "repeated" : "unsorted")) continue;
    return refuse(
        fmt::format("the times do not ascend: row {} with numbers is at {}, the one before at {}; {}", k + 1,
                    concise(rows.times[k], 9), concise(rows.times[k - 1], 9),
                    equal ? "--repair repeated takes the last row of each time" : "--repair unsorted sorts the rows"));
  }
  if (unsorted + repeated == 0) return Exit::fine;
  std::stable_sort(order.begin(), order.end(),
                   [&](std::size_t a, std::size_t b) { return rows.times[a] < rows.times[b]; });
  NumberRows out;
  out.cells.resize(rows.cells.size());
  for (std::size_t k = 0; k < order.size(); ++k) {
    if (k + 1 < order.size() && rows.times[order[k + 1]] == rows.times[order[k]]) {
      if (!mends("repeated"))
        return refuse(fmt::format("two rows are at {}; --repair repeated takes the last of them",
                                  concise(rows.times[order[k]], 9)));
      continue;
    }
    out.times.push_back(rows.times[order[k]]);
    for (std::size_t c = 0; c < out.cells.size(); ++c) out.cells[c].push_back(rows.cells[c][order[k]]);
  }
  if (unsorted > 0) notes.push_back(fmt::format("rows were sorted; {} were out of order", unsorted));
  if (rows.times.size() > out.times.size())
    notes.push_back(
        fmt::format("{} rows at the time of another one were left out", rows.times.size() - out.times.size()));
  rows = std::move(out);
  return Exit::fine;
}

void OpenedRecording::guess_times(std::vector<double>& times) {
  constexpr double epoch = 1e6, slow = 20.0;
  if (times.front() > epoch) {
    notes.push_back(fmt::format("times count from {}, the first row", shortest(times.front())));
    const double first = times.front();
    for (double& t : times) t -= first;
  }
  const double spacing = (times.back() - times.front()) / static_cast<double>(times.size() - 1);
  if (call_->time_unit.empty() && call_->rate.empty() && !time_unit_ && spacing > 5.0
      && spacing < 1000.0 / slow + 50.0) {
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
