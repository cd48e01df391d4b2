#include "cli/match_json.hpp"

#include "cli/estimate_text.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

void write_entry(io::JsonWriter& json, const RankedAnswer& one) {
  const auto estimate = [&](const char* key, const std::optional<Estimate>& number) {
    json.key(key);
    if (number)
      write_estimate(json, *number);
    else
      json.null();
  };
  json.begin_object().key("kind").text(one.kind).key("space").text(one.space);
  write_parameters(json, one.numbers);
  estimate("start", one.start);
  estimate("from", one.from);
  estimate("goal", one.goal);
  json.key("residual_rms").number(one.rms).key("probability").number(one.probability);
  json.key("same_path").text(one.same_path).key("motion").text(one.motion).key("follow").text(one.follow);
  json.key("knows_lag_only").flag(one.knows_lag_only).end_object();
}

} // namespace

void write_parameters(io::JsonWriter& json, const std::vector<Estimate>& numbers) {
  json.key("parameters").begin_object();
  for (const Estimate& number : numbers) {
    json.key(number.name);
    write_estimate(json, number);
  }
  json.end_object();
}

std::string match_json(const MatchAnswer& answer, const std::function<void(io::JsonWriter&)>& more) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("recording").text(printable(answer.recording, 10'000));
  json.key("column").text(answer.column).key("rows").integer(static_cast<long long>(answer.rows));
  json.key("noise").number(answer.cleaning.noise).key("digit").number(answer.cleaning.digit);
  json.key("repeated").integer(static_cast<long long>(answer.cleaning.repeated));
  json.key("outliers").integer(static_cast<long long>(answer.cleaning.outliers));
  json.key("explained").flag(answer.is_explained).key("trouble").text(answer.trouble).key("ranking").begin_array();
  for (const RankedAnswer& one : answer.ranking) write_entry(json, one);
  json.end_array().key("indistinct").begin_array();
  for (const std::string& name : answer.indistinct) json.text(name);
  json.end_array().key("motion").text(answer.motion);
  if (more) more(json);
  json.key("notes").begin_array();
  for (const std::string& note : answer.notes) json.text(note);
  return json.end_array().end_object().take();
}

} // namespace stasis::cli
