#include "cli/match_follow_report.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/estimate_text.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

/// With intervals where the rule may be the one; of what trades against each other the net lag alone.
std::string follow_numbers_text(const MatchedFollow& one, const std::string& unit) {
  if (one.knows_lag_only && one.is_indistinct) return numbers_text({one.numbers.back()}, unit, true);
  return numbers_text(one.numbers, unit, one.is_indistinct);
}

std::size_t indistinct_of(const FollowMatch& match) {
  return static_cast<std::size_t>(std::count_if(match.ranking.begin(), match.ranking.end(),
                                                [](const MatchedFollow& one) { return one.is_indistinct; }));
}

double noise_of_all(const FollowMatch& match) {
  double noise = 0.0;
  for (const RowCleaning& clean : match.cleaning) noise = std::max(noise, clean.noise);
  return noise;
}

/// What the recording does not tell, in sentences.
std::vector<std::string> cautions(const FollowReport& report) {
  const FollowMatch& match = *report.match;
  const MatchedFollow& best = match.ranking.front();
  std::vector<std::string> out;
  if (indistinct_of(match) > 1)
    out.push_back(fmt::format("this recording cannot tell the {} rules marked 1 and = apart", indistinct_of(match)));
  if (best.knows_lag_only)
    out.emplace_back("the subject goes too evenly for more than the lag to be known: a recording in which it starts, "
                     "stops and turns would tell the rest");
  constexpr double matters = 0.2;
  if (match.goal_noise > matters * std::max(best.rms, 1e-12))
    out.push_back(fmt::format("the goal is noisy too, by about {}: a lead or a quick smoothing comes out too weak",
                              in_unit(match.goal_noise, report.opened->unit)));
  if (!match.is_explained)
    out.push_back(fmt::format("none of them explains it: {} is left on average, the noise is about {}",
                              in_unit(best.rms, report.opened->unit),
                              in_unit(noise_of_all(match), report.opened->unit)));
  return out;
}

} // namespace

std::string follow_text(const FollowReport& report) {
  const OpenedMove& opened = *report.opened;
  const FollowMatch& match = *report.match;
  const std::vector<double>& times = opened.follow->times;
  std::string out =
      fmt::format("{}: {} behind its goal, {} rows from {} to {} s\n", printable(report.recording, 200),
                  printable(opened.column, 60), times.size(), concise(times.front(), 4), concise(times.back(), 4));
  for (const std::string& note : opened.notes) out += "  note: " + note + "\n";
  out += fmt::format("  noise about {}\n", in_unit(noise_of_all(match), opened.unit));
  TextTable table({"", "rule", "off by (rms)", "numbers, with 95 % intervals where it may be the one"},
                  {false, false, true, false});
  for (std::size_t k = 0; k < match.ranking.size(); ++k) {
    const MatchedFollow& one = match.ranking[k];
    table.add({k == 0              ? "1"
               : one.is_indistinct ? "="
                                   : "",
               one.rule.name(), in_unit(one.rms, opened.unit), follow_numbers_text(one, opened.unit)});
  }
  out += table.text();
  for (const std::string& words : cautions(report)) out += wrapped(words, "  ", line_width() - 2);
  const MatchedFollow& best = match.ranking.front();
  out += "  motion = " + best.motion + "\n";
  if (!best.follow.empty()) out += "  follow = { track = \"...\", " + best.follow + " }\n";
  return out;
}

std::string follow_json(const FollowReport& report) {
  const OpenedMove& opened = *report.opened;
  const FollowMatch& match = *report.match;
  std::size_t repeated = 0, outliers = 0;
  double digit = 0.0;
  for (const RowCleaning& clean : match.cleaning) {
    repeated += clean.repeated;
    outliers += clean.outliers;
    digit = std::max(digit, clean.digit);
  }
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("recording").text(printable(report.recording, 10'000));
  json.key("column").text(opened.column).key("rows").integer(static_cast<long long>(match.kept.size()));
  json.key("noise").number(noise_of_all(match)).key("digit").number(digit);
  json.key("repeated").integer(static_cast<long long>(repeated)).key("outliers");
  json.integer(static_cast<long long>(outliers)).key("explained").flag(match.is_explained);
  json.key("trouble").text("").key("ranking").begin_array();
  for (const MatchedFollow& one : match.ranking) {
    json.begin_object().key("kind").text(one.rule.name()).key("space").text("linear").key("parameters").begin_object();
    for (const Estimate& number : one.numbers) {
      json.key(number.name);
      write_estimate(json, number);
    }
    json.end_object().key("start").null().key("from").null().key("goal").null();
    json.key("residual_rms").number(one.rms).key("probability").number(one.probability);
    json.key("same_path").text("").key("motion").text(one.motion).key("follow").text(one.follow);
    json.key("knows_lag_only").flag(one.knows_lag_only).end_object();
  }
  json.end_array().key("indistinct").begin_array();
  for (const MatchedFollow& one : match.ranking)
    if (one.is_indistinct) json.text(one.rule.name());
  json.end_array().key("motion").text(match.ranking.front().motion).key("notes").begin_array();
  for (const std::string& note : opened.notes) json.text(note);
  for (const std::string& words : cautions(report)) json.text(words);
  return json.end_array().end_object().take();
}

figure::MatchDrawing follow_drawing(const FollowReport& report) {
  const OpenedMove& opened = *report.opened;
  const FollowMatch& match = *report.match;
  figure::MatchDrawing drawing;
  drawing.title = fmt::format("{} behind its goal: {}", opened.column, match.ranking.front().rule.name());
  drawing.subtitle = follow_numbers_text(match.ranking.front(), opened.unit);
  drawing.unit = opened.unit;
  for (const std::size_t k : match.kept) {
    drawing.times.push_back(opened.follow->times[k]);
    drawing.values.push_back(opened.follow->values[0][k]);
    drawing.goal.push_back(opened.follow->goals[0][k]);
  }
  for (std::size_t r = 0; r < std::min<std::size_t>(2, match.ranking.size()); ++r) {
    figure::MatchLine line{match.ranking[r].rule.name(), {}};
    for (const std::size_t k : match.kept) line.values.push_back(match.ranking[r].values[0][k]);
    drawing.rules.push_back(std::move(line));
  }
  return drawing;
}

} // namespace stasis::cli
