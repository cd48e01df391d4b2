#include "cli/match_follow_report.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/estimate_text.hpp"
#include "cli/match_json.hpp"
#include "cli/table.hpp"
#include "core/text.hpp"

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
  MatchAnswer answer{.recording = report.recording, .column = opened.column, .rows = match.kept.size(), .cleaning = {}};
  for (const RowCleaning& clean : match.cleaning) {
    answer.cleaning.repeated += clean.repeated;
    answer.cleaning.outliers += clean.outliers;
    answer.cleaning.digit = std::max(answer.cleaning.digit, clean.digit);
  }
  answer.cleaning.noise = noise_of_all(match);
  answer.is_explained = match.is_explained;
  for (const MatchedFollow& one : match.ranking) {
    answer.ranking.push_back({.kind = one.rule.name(),
                              .numbers = one.numbers,
                              .rms = one.rms,
                              .probability = one.probability,
                              .motion = one.motion,
                              .follow = one.follow,
                              .knows_lag_only = one.knows_lag_only});
    if (one.is_indistinct) answer.indistinct.push_back(one.rule.name());
  }
  answer.motion = match.ranking.front().motion;
  answer.notes = opened.notes;
  for (std::string& words : cautions(report)) answer.notes.push_back(std::move(words));
  return match_json(answer);
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
