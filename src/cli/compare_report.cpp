#include "cli/compare_report.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/move_table.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/measure/camera_measures.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/shake_measure_names.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

using Values = std::vector<std::optional<double>>;

Values values_of(const CompareReport& report, const SharedChannel& channel, const std::string& measure) {
  Values values;
  for (std::size_t k = 0; k < report.contenders->size(); ++k) {
    const Contender& one = (*report.contenders)[k];
    values.push_back(channel_measure(*one.feel, one.measures, channel.index[k], measure));
  }
  return values;
}

/// The largest distance that a channel goes through in any contender, in its unit.
double span_of(const CompareReport& report, const SharedChannel& channel) {
  double span = 0.0;
  for (std::size_t k = 0; k < report.contenders->size(); ++k) {
    const PathSummary& path = (*report.contenders)[k].measures.channels[channel.index[k]].path;
    for (std::size_t i = 0; i < most_components; ++i)
      span = std::max(span, path.highest[i].value - path.lowest[i].value);
  }
  return span;
}

/// A difference of a measure that nobody could see, in its unit. \param span of the values of its channel
double unseen(const Measure& measure, double span) noexcept {
  switch (measure.unit) {
  case MeasureUnit::seconds: return 5e-4;
  case MeasureUnit::per_cent: return 5e-3;
  case MeasureUnit::plain: return measure.unit_word == "px" ? 5e-3 : 1e-6;
  case MeasureUnit::in_space:
  case MeasureUnit::channel:
  case MeasureUnit::channel_per_second:
  case MeasureUnit::channel_per_second2:
  case MeasureUnit::channel_per_second3: return 1e-6 * span;
  }
  return 0.0;
}

/// True if no two values differ by as much as would show.
bool alike(const Values& values, double unseen) {
  constexpr double visible = 1e-4;
  return std::all_of(values.begin(), values.end(), [&](const auto& v) {
    if (!v || !values.front()) return v == values.front();
    const double size = std::max(std::fabs(*v), std::fabs(*values.front()));
    return std::fabs(*v - *values.front()) <= std::max(unseen, visible * size);
  });
}

/// The contender that has the better value, by what is better for that measure; nothing where none is, or all are
/// alike.
std::optional<std::size_t> best_of(const Measure& measure, const Values& values, double unseen) {
  if (measure.better == Better::neither || alike(values, unseen)) return std::nullopt;
  std::optional<std::size_t> best;
  std::size_t measured = 0;
  for (std::size_t k = 0; k < values.size(); ++k) {
    if (!values[k]) continue;
    ++measured;
    const bool better =
        !best || (measure.better == Better::larger ? *values[k] > *values[*best] : *values[k] < *values[*best]);
    if (better) best = k;
  }
  return measured > 1 ? best : std::nullopt;
}

/// " (+12 %)", " (4.5 times)"; nothing from what is as good as nothing.
std::string change_of(const std::optional<double>& from, const std::optional<double>& to, double unseen) {
  if (!from || !to || std::fabs(*from) <= unseen || *from == *to) return {};
  const double change = 100.0 * (*to - *from) / std::fabs(*from);
  constexpr double visible = 0.01, many = 1000.0; // per cent
  if (std::fabs(change) < visible) return {};
  if (change > many) return fmt::format(" ({} times)", readable(*to / *from, 2));
  return fmt::format(" ({}{} %)", change > 0.0 ? "+" : "", readable(change, 2));
}

/// The channels of which any contender moves, whatever sets its goal, or should.
bool moves(const CompareReport& report, const SharedChannel& channel) {
  for (std::size_t k = 0; k < report.contenders->size(); ++k) {
    const Contender& one = (*report.contenders)[k];
    const std::size_t index = channel.index[k];
    if (one.feel->channels[index].follow || one.measures.channels[index].path.travelled > 0.0) return true;
    for (const Move& move : one.measures.moves)
      if (move.channel == index) return true;
  }
  return false;
}

/// A measure that is of no channel, in each contender.
struct NamedRow {
  std::string name, unit;
  const Measure* measure;
  Values values;
};
/// A shake that the first contender has.
std::vector<NamedRow> shake_rows(const CompareReport& report, std::size_t shake) {
  const Contender& first = report.contenders->front();
  std::vector<NamedRow> rows;
  for (const std::string& name : shake_measure_names(*first.feel, shake)) {
    NamedRow row{name, shake_measure_unit(*first.feel, shake, name), shake_measure_facts(*first.feel, shake, name), {}};
    for (const Contender& one : *report.contenders) {
      const auto& shakes = one.feel->shakes;
      const auto found = std::find_if(shakes.begin(), shakes.end(),
                                      [&](const Shake& s) { return s.name == first.feel->shakes[shake].name; });
      const auto index = static_cast<std::size_t>(found - shakes.begin());
      row.values.push_back(found == shakes.end() ? std::nullopt : shake_measure(*one.feel, one.measures, index, name));
    }
    rows.push_back(std::move(row));
  }
  return rows;
}

/// The camera as a whole, where the first contender has one.
std::vector<NamedRow> camera_rows(const CompareReport& report) {
  const Feel& first = *report.contenders->front().feel;
  std::vector<NamedRow> rows;
  if (!report.only.empty()) return rows;
  for (const std::string& name : camera_measure_names(first)) {
    NamedRow row{name, camera_measure_unit(first, name), camera_measure_facts(name), {}};
    for (const Contender& one : *report.contenders) row.values.push_back(camera_measure(one.measures, name));
    rows.push_back(std::move(row));
  }
  return rows;
}

std::vector<std::string> sentences_of(const CompareReport& report) {
  std::vector<std::string> all;
  for (std::size_t k = 1; k < report.contenders->size(); ++k)
    for (const SharedChannel& channel : *report.channels)
      if (auto sentence = noticed(report.contenders->front(), (*report.contenders)[k], channel, 0, k);
          !sentence.empty())
        all.push_back(std::move(sentence));
  const Contender& first = report.contenders->front();
  for (std::size_t k = 1; k < report.contenders->size(); ++k)
    if (!same_clock(first, (*report.contenders)[k]))
      all.push_back(
          fmt::format("{} has another clock than {}; its rows were read straight between for the differences.",
                      (*report.contenders)[k].name, first.name));
  return all;
}

} // namespace

std::string compare_text(const CompareReport& report) {
  const Take& take = *report.contenders->front().scene.take;
  std::string out = fmt::format("{}, take {}: ", printable(report.title, 80), take.name);
  std::vector<std::string> header{"channel", "measure"};
  std::vector<bool> right{false, false};
  for (const Contender& one : *report.contenders) {
    header.push_back(one.name);
    right.push_back(true);
  }
  std::vector<std::string_view> names(header.begin() + 2, header.end());
  out += listed(names) + "\n";
  TextTable table(header, right);
  bool any = false;
  const auto add = [&](const std::string& name, const std::string& measure, const std::string& unit,
                       const Values& values, const Measure& facts, double too_little) {
    if (alike(values, too_little)) return;
    const auto best = best_of(facts, values, too_little);
    std::vector<std::string> row{name, measure + (unit == "1" || unit.empty() ? "" : ", " + printable(unit, 20))};
    for (std::size_t k = 0; k < values.size(); ++k)
      row.push_back((best == k ? "* " : "") + (values[k] ? readable(*values[k]) : "\u2013")
                    + (k > 0 ? change_of(values.front(), values[k], too_little) : ""));
    table.add(std::move(row));
    any = true;
  };
  for (const SharedChannel& channel : *report.channels) {
    if (!moves(report, channel)) continue;
    const Channel& declared = report.contenders->front().feel->channels[channel.index.front()];
    const double span = span_of(report, channel);
    for (const std::string& measure : channel_measure_names(declared)) {
      const Measure& facts = *channel_measure_facts(measure);
      add(channel.name, measure, channel_measure_unit(declared, measure), values_of(report, channel, measure), facts,
          unseen(facts, span));
    }
  }
  for (const NamedRow& row : camera_rows(report))
    add(std::string(camera_name), row.name, row.unit, row.values, *row.measure, unseen(*row.measure, 0.0));
  const Contender& first = report.contenders->front();
  for (std::size_t shake = 0; shake < first.feel->shakes.size(); ++shake) {
    if (!shakes_wanted(*first.feel, shake, report.only)) continue;
    for (const NamedRow& row : shake_rows(report, shake))
      add("shake " + first.feel->shakes[shake].name, row.name, row.unit, row.values, *row.measure,
          unseen(*row.measure, 0.0));
  }
  if (any) out += table.text() + "  * best in its row; in brackets the change from the first\n";
  const auto sentences = sentences_of(report);
  for (const std::string& sentence : sentences) out += "  " + sentence + "\n";
  if (!any && sentences.empty()) out += "  nothing differs\n";
  return out;
}

namespace {

/// What is of no channel: the camera as a whole, and each shake.
void write_camera_and_layers(io::JsonWriter& json, const CompareReport& report) {
  json.key(camera_name).begin_object();
  for (const NamedRow& row : camera_rows(report)) {
    json.key(row.name).begin_object().key("values").begin_array();
    for (const auto& value : row.values) json.number(value);
    json.end_array().key("best");
    const auto best = best_of(*row.measure, row.values, unseen(*row.measure, 0.0));
    best ? json.text((*report.contenders)[*best].name) : json.null();
    json.key("unit").text(row.unit).end_object();
  }
  json.end_object().key("layers").begin_object();
  const Contender& base = report.contenders->front();
  for (std::size_t shake = 0; shake < base.feel->shakes.size(); ++shake) {
    if (!shakes_wanted(*base.feel, shake, report.only)) continue;
    json.key(base.feel->shakes[shake].name).begin_object();
    for (const NamedRow& row : shake_rows(report, shake)) {
      json.key(row.name).begin_object().key("values").begin_array();
      for (const auto& value : row.values) json.number(value);
      json.end_array().key("unit").text(row.unit).end_object();
    }
    json.end_object();
  }
  json.end_object();
}

} // namespace

std::string compare_json(const CompareReport& report) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(report.title, 10'000));
  json.key("take").text(report.contenders->front().scene.take->name).key("contenders").begin_array();
  for (const Contender& one : *report.contenders) json.text(one.name);
  json.end_array().key("channels").begin_object();
  for (const SharedChannel& channel : *report.channels) {
    const Contender& first = report.contenders->front();
    const Channel& declared = first.feel->channels[channel.index.front()];
    json.key(channel.name).begin_object().key("measures").begin_object();
    for (const std::string& measure : channel_measure_names(declared)) {
      const Values values = values_of(report, channel, measure);
      json.key(measure).begin_object().key("values").begin_array();
      for (const auto& value : values) json.number(value);
      json.end_array().key("best");
      const Measure& facts = *channel_measure_facts(measure);
      const auto best = best_of(facts, values, unseen(facts, span_of(report, channel)));
      best ? json.text((*report.contenders)[*best].name) : json.null();
      json.key("unit").text(channel_measure_unit(declared, measure)).end_object();
    }
    json.end_object().key("widest").begin_array();
    for (std::size_t k = 0; k < report.contenders->size(); ++k) {
      Gap widest;
      for (std::size_t i = 0; i < declared.components && k > 0; ++i)
        if (const Gap gap = widest_gap(first, channel.index[0], (*report.contenders)[k], channel.index[k], i);
            gap.size > widest.size)
          widest = gap;
      json.begin_object().key("contender").text((*report.contenders)[k].name).key("size").number(widest.size);
      json.key("at")
          .number(widest.at)
          .key("kick")
          .number(largest_kick((*report.contenders)[k], channel.index[k]))
          .key("start")
          .text(start_in_words((*report.contenders)[k], channel.index[k]));
      json.key("end").text(end_in_words((*report.contenders)[k], channel.index[k])).end_object();
    }
    json.end_array().key("unit").text(declared.unit).end_object();
  }
  json.end_object();
  write_camera_and_layers(json, report);
  json.key("noticed").begin_array();
  for (const std::string& sentence : sentences_of(report)) json.text(sentence);
  json.end_array().end_object();
  return json.take();
}

} // namespace stasis::cli
