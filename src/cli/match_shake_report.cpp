#include "cli/match_shake_report.hpp"

#include <algorithm>
#include <limits>

#include <fmt/format.h>
#include <fmt/ranges.h>

#include "cli/estimate_text.hpp"
#include "cli/match_json.hpp"
#include "cli/table.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

std::string_view trouble_in_words(ShakeTrouble trouble) noexcept {
  switch (trouble) {
  case ShakeTrouble::none: return "";
  case ShakeTrouble::few_swings:
    return "it hardly goes back and forth: is it a move? Without --shake the rules of moves are tried";
  case ShakeTrouble::several_hits:
    return "it does not die away as one hit does: are there several, or does it move too? --between takes a part";
  }
  return "";
}

/// The component that the column is of, as a feel names it: "fov.value" is fov.
std::string shaken(const std::string& column) {
  std::string name = column;
  if (const std::string_view end = ".value"; name.ends_with(end)) name.resize(name.size() - end.size());
  const bool is_bare = !name.empty() && std::all_of(name.begin(), name.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
  });
  if (is_bare) return name;
  std::string quoted = "\"";
  for (const char c : printable(name, 60)) quoted += c == '"' || c == '\\' ? std::string("\\") + c : std::string(1, c);
  return quoted + "\"";
}

std::size_t indistinct_of(const ShakeMatch& match) {
  return static_cast<std::size_t>(std::count_if(match.ranking.begin(), match.ranking.end(),
                                                [](const MatchedShake& one) { return one.is_indistinct; }));
}

std::vector<std::string> cautions(const ShakeReport& report) {
  const ShakeMatch& match = *report.match;
  std::vector<std::string> out;
  const std::vector<double>& times = report.opened->shake->times;
  if (match.kept.size() < times.size())
    out.push_back(fmt::format("of this long recording the rows from {} to {} s were looked at; --between takes others",
                              concise(times[match.kept.front()], 4), concise(times[match.kept.back()], 4)));
  if (indistinct_of(match) > 1)
    out.push_back(
        fmt::format("this recording cannot tell the {} waves marked 1 and = apart; a shake that lasts longer could",
                    indistinct_of(match)));
  if (const std::string_view said = trouble_in_words(match.trouble); !said.empty()) out.emplace_back(said);
  if (!match.ranking.front().fades) out.emplace_back("no dying away can be told: it is taken to shake all the time");
  return out;
}

} // namespace

std::string ShakeReport::motion(const MatchedShake& one) const {
  return fmt::format("{{ {} }}", fmt::join(one.lines(shaken(opened->column)), ", "));
}

std::string shake_text(const ShakeReport& report) {
  const OpenedMove& opened = *report.opened;
  const ShakeMatch& match = *report.match;
  const std::vector<double>& times = opened.shake->times;
  std::string out =
      fmt::format("{}: {} shakes, {} rows from {} to {} s\n", printable(report.recording, 200),
                  printable(opened.column, 60), times.size(), concise(times.front(), 4), concise(times.back(), 4));
  for (const std::string& note : opened.notes) out += "  note: " + note + "\n";
  out += fmt::format("  noise about {}{}\n", in_unit(match.cleaning.noise, opened.unit),
                     match.cleaning.digit > 0.0 ? fmt::format(", rounded to {}", shortest(match.cleaning.digit)) : "");
  TextTable table({"", "wave", "numbers, with 95 % intervals where it may be the one"}, {false, false, false});
  for (std::size_t k = 0; k < match.ranking.size(); ++k) {
    const MatchedShake& one = match.ranking[k];
    table.add({k == 0              ? "1"
               : one.is_indistinct ? "="
                                   : "",
               std::string(kind_of(one.wave)), numbers_text(one.numbers, opened.unit, one.is_indistinct)});
  }
  out += table.text();
  const MatchedShake& best = match.ranking.front();
  out += fmt::format("  {} {}, about {}\n", best.fades ? "it is hit at" : "it shakes from",
                     with_interval(best.hit_at, "s"), with_interval(best.base_at, opened.unit));
  for (const std::string& words : cautions(report)) out += wrapped(words, "  ", line_width() - 2);
  if (match.trouble == ShakeTrouble::few_swings) return out;
  out += "  [shake.caught]\n";
  for (const std::string& line : best.lines(shaken(opened.column))) out += "  " + line + "\n";
  return out;
}

std::string shake_json(const ShakeReport& report) {
  const OpenedMove& opened = *report.opened;
  const ShakeMatch& match = *report.match;
  MatchAnswer answer{
      .recording = report.recording, .column = opened.column, .rows = match.kept.size(), .cleaning = match.cleaning};
  answer.is_explained = match.trouble == ShakeTrouble::none;
  answer.trouble = trouble_in_words(match.trouble);
  for (const MatchedShake& one : match.ranking) {
    const std::string kind(kind_of(one.wave));
    answer.ranking.push_back({.kind = kind,
                              .numbers = one.numbers,
                              .start = one.hit_at,
                              .from = one.base_at,
                              .rms = one.rms,
                              .probability = one.probability,
                              .motion = report.motion(one)});
    if (one.is_indistinct) answer.indistinct.push_back(kind);
  }
  answer.motion = answer.ranking.front().motion;
  answer.notes = opened.notes;
  for (std::string& words : cautions(report)) answer.notes.push_back(std::move(words));
  return match_json(answer);
}

figure::MatchDrawing shake_drawing(const ShakeReport& report) {
  const OpenedMove& opened = *report.opened;
  const ShakeMatch& match = *report.match;
  const MatchedShake& best = match.ranking.front();
  figure::MatchDrawing drawing;
  drawing.title = fmt::format("{} shakes: {}", opened.column, kind_of(best.wave));
  drawing.subtitle = numbers_text(best.numbers, opened.unit, best.is_indistinct);
  drawing.unit = opened.unit;
  for (const std::size_t k : match.kept) {
    drawing.times.push_back(opened.shake->times[k]);
    drawing.values.push_back(opened.shake->values[k]);
  }
  if (!best.path.empty()) {
    drawing.rules.push_back({std::string(kind_of(best.wave)), best.path});
    return drawing;
  }
  std::vector<double> reach;
  for (std::size_t k = 0; k < best.above.size(); ++k) reach.push_back(0.5 * (best.above[k] - best.below[k]));
  const double most = *std::max_element(reach.begin(), reach.end());
  constexpr double hardly = 0.03; // below that its noise is all that would be seen
  const double nothing = std::numeric_limits<double>::quiet_NaN();
  for (std::size_t k = 0; k < reach.size(); ++k) {
    const bool is_felt = reach[k] > hardly * most;
    drawing.above.push_back(reach[k] > 0.0 ? best.above[k] : nothing);
    drawing.below.push_back(reach[k] > 0.0 ? best.below[k] : nothing);
    drawing.even.push_back(is_felt ? (drawing.values[k] - 0.5 * (best.above[k] + best.below[k])) * most / reach[k]
                                   : nothing);
  }
  return drawing;
}

} // namespace stasis::cli
