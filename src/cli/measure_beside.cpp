#include "cli/measure_beside.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/table.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

std::optional<double> move_error(const RecordingMeasures& found, std::size_t move, std::size_t measure) {
  return found.move_errors.empty() ? std::nullopt : found.move_errors[move][measure];
}

std::optional<double> of_both(std::optional<double> a, std::optional<double> b) {
  if (!a && !b) return std::nullopt;
  return std::hypot(a.value_or(0.0), b.value_or(0.0));
}

} // namespace

bool BesideRow::differs() const noexcept {
  if (!first || !second) return false; // one of them does not tell
  constexpr double hair = 1e-9;
  const double off = std::fabs(*second - *first);
  return off > std::max(error.value_or(0.0), hair * std::max(std::fabs(*first), std::fabs(*second)));
}

std::vector<BesideRow> beside_rows(const MeasuredValue& first, const MeasuredValue& second) {
  const RecordingMeasures &a = first.found, &b = second.found;
  const Channel& channel = a.feel.channels[0];
  std::vector<BesideRow> rows;
  const auto add = [&](BesideRow row) {
    if (row.first || row.second) rows.push_back(std::move(row));
  };
  for (const std::string& name : channel_measure_names(channel)) {
    const Measure* measure = channel_measure_facts(name);
    if (measure->of == MeasureOf::move || measure->of == MeasureOf::move_of_several) continue;
    add({name, unit_behind(*measure, channel), channel_measure(a.feel, a.measures, 0, name),
         channel_measure(b.feel, b.measures, 0, name), of_both(error_of(a, name), error_of(b, name))});
  }
  for (std::size_t k = 0; k < std::min(a.measures.moves.size(), b.measures.moves.size()); ++k)
    for (std::size_t m = 0; m < move_measures().size(); ++m) {
      const MoveMeasure& measure = move_measures()[m];
      if (!has_measure(measure, channel)) continue;
      add({fmt::format("moves[{}].{}", k, measure.name), unit_behind(measure, channel),
           a.measures.moves[k].*measure.value, b.measures.moves[k].*measure.value,
           of_both(move_error(a, k, m), move_error(b, k, m))});
    }
  return rows;
}

std::string beside_text(const std::vector<BesideRow>& rows, const std::string& first, const std::string& second) {
  TextTable table({"side by side", shown_name(first, 24), shown_name(second, 24), "apart by", ""},
                  {false, true, true, true, false});
  const auto cell = [](const std::optional<double>& value) { return value ? readable(*value) : std::string("\u2013"); };
  for (const BesideRow& row : rows) {
    const bool both = row.first && row.second;
    const std::string apart = both ? with_error(*row.second - *row.first, row.error, row.unit) : "";
    table.add({row.name, cell(row.first), cell(row.second), apart, row.differs() ? "differs" : ""});
  }
  return table.text();
}

void write_beside(io::JsonWriter& json, const std::vector<BesideRow>& rows, const std::string& second) {
  json.key("beside").begin_object().key("recording").text(printable(second, 10'000)).key("measures").begin_array();
  for (const BesideRow& row : rows) {
    json.begin_object().key("name").text(row.name).key("unit").text(row.unit.empty() ? "1" : row.unit);
    json.key("first").number(row.first).key("second").number(row.second).key("error").number(row.error);
    json.key("differs").flag(row.differs()).end_object();
  }
  json.end_array().end_object();
}

} // namespace stasis::cli
