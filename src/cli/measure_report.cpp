#include "cli/measure_report.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/load_feel.hpp"
#include "cli/measure_beside.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/text.hpp"
#include "io/measures_json.hpp"

namespace stasis::cli {
namespace {

std::string components_text(const Components& values, std::size_t count, const std::string& unit) {
  std::string text;
  for (std::size_t c = 0; c < count; ++c) text += (c > 0 ? ", " : "") + concise(values[c]);
  return (count > 1 ? "(" + text + ")" : text) + (unit.empty() ? "" : " " + unit);
}

class ValueText {
public:
  explicit ValueText(const MeasuredValue& value)
      : value_(value), found_(value.found), channel_(found_.feel.channels[0]), unit_(printable(value.unit, 20)) {}

  std::string run() {
    out_ += fmt::format("{}\n", printable(value_.name, 60));
    say_rows();
    say_rest();
    say_moves();
    say_whole();
    for (const std::string& note : found_.measures.notes) out_ += wrapped("note: " + note, "  ", line_width() - 2);
    return std::move(out_);
  }

private:
  std::string with_unit(double value) const { return amount_in(value, unit_); }

  void say_rows() {
    const RowTimes& times = found_.row_times;
    out_ +=
        fmt::format("  {} rows, {} apart{}\n", value_.rows.size(), amount_in(1000.0 * times.usual, "ms"),
                    times.stalls > 0 ? fmt::format("; {} gaps are longer, the longest {} at {} s", times.stalls,
                                                   amount_in(1000.0 * times.longest, "ms"), concise(times.longest_at))
                                     : "");
    for (std::size_t c = 0; c < value_.components; ++c) {
      const RowCleaning& clean = found_.cleaning[c];
      std::string text = found_.is_exact
                             ? "no noise to be seen"
                             : "noise about " + readable(clean.noise, 2) + (unit_.empty() ? "" : " " + unit_);
      if (clean.digit > 0.0) text += fmt::format(", rounded to {}", shortest(clean.digit));
      if (clean.repeated > 0) text += fmt::format("; {} repeated rows left out", clean.repeated);
      if (clean.outliers > 0) text += fmt::format("; {} outliers left out", clean.outliers);
      out_ += fmt::format("  {}{}\n", prefix(c), text);
    }
  }

  /// "x: ", or where measures say x and the table another name, "x (east): ".
  std::string prefix(std::size_t component) const {
    if (value_.components == 1) return "";
    const std::string axis = std::string(component_suffixes[component]).substr(1);
    const std::string column = component_names(channel_)[component];
    return column == axis ? axis + ": " : fmt::format("{} ({}): ", axis, printable(column, 40));
  }

  void say_rest() {
    const std::string where =
        found_.never_rests ? "it never rests; over all of it"
                           : fmt::format("at rest from {} to {} s", concise(found_.rest_from), concise(found_.rest_to));
    for (std::size_t c = 0; c < value_.components; ++c) {
      const Unrest& unrest = found_.unrest[c];
      if (unrest.rms == 0.0) {
        const std::string what = unrest.drift == 0.0
                                     ? "nothing stirs"
                                     : "nothing but a steady drift of " + amount_in(unrest.drift, unit_ + "/s");
        out_ += fmt::format("  {}{}: {}\n", prefix(c), where, what);
        continue;
      }
      const std::string kind = unrest.is_noise
                                   ? ", no more than the noise"
                                   : fmt::format(", mostly at {}", amount_in(unrest.spectrum.centroid(), "Hz"));
      out_ += fmt::format("  {}{}: unrest {} (RMS){}; drifts by {}\n", prefix(c), where, with_unit(unrest.rms), kind,
                          with_error(unrest.drift, unrest.drift_error, unit_ + "/s"));
    }
  }

  /// A line for each measure, a column for each move.
  void say_moves() {
    const auto& moves = found_.measures.moves;
    if (moves.empty()) return;
    constexpr std::size_t most = 4;
    for (std::size_t first = 0; first < moves.size(); first += most) {
      const std::size_t end = std::min(moves.size(), first + most);
      std::vector<std::string> header{"move"};
      std::vector<bool> right{false};
      for (std::size_t k = first; k < end; ++k) {
        header.push_back(fmt::format("at {}", start_text(k)));
        right.push_back(true);
      }
      TextTable table(header, right);
      const auto add = [&](const std::string& name, auto text) {
        std::vector<std::string> row{name};
        for (std::size_t k = first; k < end; ++k) row.push_back(text(k));
        table.add(std::move(row));
      };
      add("from", [&](std::size_t k) { return components_text(moves[k].from, value_.components, unit_); });
      add("to", [&](std::size_t k) { return components_text(moves[k].to, value_.components, unit_); });
      for (std::size_t m = 0; m < move_measures().size(); ++m) {
        const MoveMeasure& measure = move_measures()[m];
        if (has_measure(measure, channel_))
          add(std::string(measure.name), [&](std::size_t k) { return move_cell(measure, m, k); });
      }
      out_ += table.text();
    }
  }

  std::string start_text(std::size_t move) const {
    const double error = found_.start_errors[move];
    return with_error(found_.measures.moves[move].start, found_.is_exact ? std::nullopt : std::optional(error), "s");
  }

  std::string move_cell(const MoveMeasure& measure, std::size_t index, std::size_t move) const {
    const Move& one = found_.measures.moves[move];
    if (measure.value == &Move::settling_time && one.retargeted) return "retargeted";
    const auto value = one.*measure.value;
    const auto error = found_.move_errors.empty() ? std::nullopt : found_.move_errors[move][index];
    if (value && error && is_hidden_by_noise(measure, *value, *error)) return "noise hides it";
    return with_error(value, error, unit_behind(measure, channel_));
  }

  void say_whole() {
    TextTable table({"over all of it", "", "at"}, {false, true, true});
    for (const std::string& name : channel_measure_names(channel_)) {
      const Measure* measure = channel_measure_facts(name);
      if (measure->of == MeasureOf::move || measure->of == MeasureOf::move_of_several) continue;
      const auto value = channel_measure(found_.feel, found_.measures, 0, name);
      if (!value) continue;
      const auto error = error_of(found_, name);
      const auto time = channel_measure_time(found_.measures, 0, name);
      const bool hidden = error && is_hidden_by_noise(*measure, *value, *error);
      table.add({name, hidden ? "noise hides it" : with_error(value, error, unit_behind(*measure, channel_)),
                 time && time->at && !hidden ? concise(*time->at) + " s" : ""});
    }
    out_ += table.text();
  }

  const MeasuredValue& value_;
  const RecordingMeasures& found_;
  const Channel& channel_;
  std::string unit_, out_;
};

/// All values as one take.
struct Whole {
  Feel feel;
  TakeMeasures measures;
};
Whole whole_of(const MeasureReport& report) {
  Whole whole;
  for (std::size_t v = 0; v < report.values.size(); ++v) {
    const RecordingMeasures& found = report.values[v].found;
    whole.feel.channels.push_back(found.feel.channels[0]);
    whole.measures.channels.push_back(found.measures.channels[0]);
    for (Move move : found.measures.moves) {
      move.channel = v;
      whole.measures.moves.push_back(std::move(move));
    }
  }
  return whole;
}

void write_errors(io::JsonWriter& json, const MeasureReport& report) {
  std::vector<std::string> hidden;
  json.key("errors").begin_object().key("channels").begin_object();
  for (const MeasuredValue& value : report.values) {
    json.key(value.name).begin_object();
    for (const MeasureError& error : value.found.errors) {
      json.key(error.name).number(error.half_width);
      const auto number = channel_measure(value.found.feel, value.found.measures, 0, error.name);
      if (number && is_hidden_by_noise(*channel_measure_facts(error.name), *number, error.half_width))
        hidden.push_back(value.name + "." + error.name);
    }
    json.end_object();
  }
  json.end_object().key("moves").begin_array();
  std::size_t index = 0;
  for (const MeasuredValue& value : report.values)
    for (std::size_t k = 0; k < value.found.measures.moves.size(); ++k, ++index) {
      json.begin_object().key("start").number(value.found.start_errors[k]);
      for (std::size_t m = 0; m < move_measures().size() && !value.found.move_errors.empty(); ++m) {
        const MoveMeasure& measure = move_measures()[m];
        const auto error = value.found.move_errors[k][m];
        const auto number = value.found.measures.moves[k].*measure.value;
        if (!error || !number || !has_measure(measure, value.found.feel.channels[0])) continue;
        json.key(measure.name).number(*error);
        if (is_hidden_by_noise(measure, *number, *error))
          hidden.push_back(fmt::format("moves[{}].{}", index, measure.name));
      }
      json.end_object();
    }
  json.end_array().end_object().key("hidden_by_noise").begin_array();
  for (const std::string& name : hidden) json.text(name);
  json.end_array();
}

void write_recording(io::JsonWriter& json, const MeasureReport& report) {
  json.key("recording").begin_object();
  for (const MeasuredValue& value : report.values) {
    const RecordingMeasures& found = value.found;
    json.key(value.name).begin_object().key("rows").integer(static_cast<long long>(value.rows.size()));
    json.key("measured").integer(static_cast<long long>(found.kept.size())).key("exact").flag(found.is_exact);
    json.key("row_times").begin_object().key("usual").number(found.row_times.usual);
    json.key("longest").number(found.row_times.longest).key("longest_at").number(found.row_times.longest_at);
    json.key("stalls").integer(static_cast<long long>(found.row_times.stalls)).end_object();
    json.key("rests").flag(!found.never_rests).key("rest_from").number(found.rest_from);
    json.key("rest_to").number(found.rest_to).key("components").begin_array();
    for (std::size_t c = 0; c < value.components; ++c) {
      const RowCleaning& clean = found.cleaning[c];
      const Unrest& unrest = found.unrest[c];
      json.begin_object().key("noise").number(clean.noise).key("digit").number(clean.digit);
      json.key("repeated").integer(static_cast<long long>(clean.repeated));
      json.key("outliers").integer(static_cast<long long>(clean.outliers));
      json.key("unrest").number(unrest.rms).key("unrest_is_noise").flag(unrest.is_noise);
      json.key("main_frequency").number(unrest.rms > 0.0 ? std::optional(unrest.spectrum.centroid()) : std::nullopt);
      json.key("bandwidth").number(unrest.rms > 0.0 ? std::optional(unrest.spectrum.bandwidth()) : std::nullopt);
      json.key("drift").number(unrest.drift).key("drift_error").number(unrest.drift_error).end_object();
    }
    json.end_array().end_object();
  }
  json.end_object();
}

} // namespace

std::optional<double> error_of(const RecordingMeasures& found, const std::string& name) {
  for (const MeasureError& error : found.errors)
    if (error.name == name) return error.half_width;
  return std::nullopt;
}

std::string unit_behind(const Measure& measure, const Channel& channel) {
  const std::string unit = unit_of(measure, channel);
  return unit == "1" ? "" : printable(unit, 20);
}

std::string with_error(std::optional<double> value, std::optional<double> error, const std::string& unit) {
  if (!value) return "\u2013";
  const std::string after = unit.empty() ? "" : " " + unit;
  return (error ? with_half_width(*value, *error) : readable(*value)) + after;
}

std::string measure_text(const MeasureReport& report) {
  std::string out = fmt::format("{}\n", printable(report.recording, 200));
  for (const std::string& note : report.notes) out += "  note: " + note + "\n";
  for (const MeasuredValue& value : report.values) out += ValueText(value).run();
  if (report.beside) {
    out += fmt::format("{}\n", printable(report.beside_name, 200)) + ValueText(*report.beside).run();
    out += beside_text(beside_rows(report.values.front(), *report.beside), report.recording, report.beside_name);
  }
  return out;
}

std::string measure_json(const MeasureReport& report) {
  const Whole whole = whole_of(report);
  const MeasuredValue& first = report.values.front();
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(stem_of(report.recording), 10'000));
  json.key("take").text("recording").key("variant").null();
  json.key("clock").begin_object().key("fps").number(1.0 / first.found.row_times.usual);
  json.key("steady").flag(first.found.row_times.stalls == 0);
  json.key("frames").integer(static_cast<long long>(first.rows.size()) - 1);
  json.key("length").number(first.rows.times.back() - first.rows.times.front()).end_object();
  io::write_channel_measures(json, whole.feel, whole.measures);
  io::write_move_measures(json, whole.feel, whole.measures.moves);
  write_errors(json, report);
  write_recording(json, report);
  if (report.beside) write_beside(json, beside_rows(report.values.front(), *report.beside), report.beside_name);
  json.key("notes").begin_array();
  for (const std::string& note : report.notes) json.text(note);
  for (const MeasuredValue& value : report.values)
    for (const std::string& note : value.found.measures.notes) json.text(value.name + ": " + note);
  json.end_array();
  io::write_measure_units(json, whole.feel);
  return json.end_object().take();
}

} // namespace stasis::cli
