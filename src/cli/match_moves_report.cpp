#include "cli/match_moves_report.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/estimate_text.hpp"
#include "cli/match_json.hpp"
#include "cli/table.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

std::string joint_name(const JointRule& rule, bool several_spaces) {
  return rule.kind->name() + (several_spaces ? fmt::format(", {}", name_of(rule.space)) : "");
}

std::vector<std::string> moves_cautions(const MovesReport& report) {
  const MovesMatch& match = *report.match;
  std::vector<std::string> out = match.notes;
  const auto alike = std::count_if(match.ranking.begin(), match.ranking.end(),
                                   [](const JointRule& rule) { return rule.is_indistinct; });
  if (alike > 1) out.push_back(fmt::format("this recording cannot tell the {} rules marked 1 and = apart", alike));
  if (!match.rising.empty())
    out.emplace_back("the moves that rise differ from those that fall, and agree among themselves");
  else if (!match.ranking.front().agrees)
    out.emplace_back("the moves differ by more than noise: they are not one rule with the same numbers");
  const auto unexplained =
      std::count_if(match.moves.begin(), match.moves.end(), [](const MoveOfMany& move) { return !move.is_explained; });
  if (unexplained > 0)
    out.push_back(fmt::format("it does not explain {} of the moves: more than noise is left", unexplained));
  return out;
}

} // namespace

std::string motion_of_moves(const MovesMatch& match) {
  if (match.rising.empty()) return match.ranking.front().motion;
  return fmt::format("{{ rising = {}, falling = {} }}", match.rising, match.falling);
}

std::string moves_text(const MovesReport& report) {
  const OpenedMove& opened = *report.opened;
  const MovesMatch& match = *report.match;
  const bool several_spaces = opened.moves.size() > 1;
  std::string out = fmt::format("{}: {}, {} moves\n", printable(report.recording, 200), printable(opened.column, 60),
                                match.moves.size());
  for (const std::string& note : opened.notes) out += "  note: " + note + "\n";
  out += fmt::format("  noise about {}\n", in_unit(match.cleaning.noise, opened.unit));
  TextTable table({"", "rule for all", "off by (rms)", "numbers of all moves together, with 95 % intervals"},
                  {false, false, true, false});
  constexpr std::size_t most = 6;
  for (std::size_t k = 0; k < std::min(most, match.ranking.size()); ++k) {
    const JointRule& rule = match.ranking[k];
    table.add({k == 0               ? "1"
               : rule.is_indistinct ? "="
                                    : "",
               joint_name(rule, several_spaces), in_unit(rule.rms, opened.unit),
               numbers_text(rule.numbers, opened.unit, rule.is_indistinct)});
  }
  out += table.text();
  TextTable moves({"move", "from", "to", "its own numbers"}, {false, true, true, false});
  for (const MoveOfMany& move : match.moves)
    moves.add({fmt::format("at {}", with_interval(move.rule.start_at, "s")), in_unit(move.rule.from, opened.unit),
               in_unit(move.rule.goal, opened.unit), numbers_text(move.rule.numbers, opened.unit, true)});
  out += moves.text();
  for (const std::string& words : moves_cautions(report)) out += wrapped(words, "  ", line_width() - 2);
  out += "  motion = " + motion_of_moves(match) + "\n";
  if (match.ranking.front().space != Space::linear)
    out += fmt::format("  of a channel with space = \"{}\"\n", name_of(match.ranking.front().space));
  return out;
}

std::string moves_json(const MovesReport& report) {
  const OpenedMove& opened = *report.opened;
  const MovesMatch& match = *report.match;
  MatchAnswer answer{
      .recording = report.recording, .column = opened.column, .rows = opened.rows, .cleaning = match.cleaning};
  answer.is_explained = match.is_explained;
  for (const JointRule& rule : match.ranking) {
    answer.ranking.push_back({.kind = rule.kind->name(),
                              .space = std::string(name_of(rule.space)),
                              .numbers = rule.numbers,
                              .rms = rule.rms,
                              .probability = rule.probability,
                              .motion = rule.motion});
    if (rule.is_indistinct) answer.indistinct.push_back(joint_name(rule, opened.moves.size() > 1));
  }
  answer.motion = motion_of_moves(match);
  answer.notes = opened.notes;
  for (std::string& words : moves_cautions(report)) answer.notes.push_back(std::move(words));
  return match_json(answer, [&](io::JsonWriter& json) {
    json.key("moves").begin_array();
    for (const MoveOfMany& move : match.moves) {
      json.begin_object().key("start");
      write_estimate(json, move.rule.start_at);
      json.key("from");
      write_estimate(json, move.rule.from_at);
      json.key("goal");
      write_estimate(json, move.rule.goal_at);
      write_parameters(json, move.rule.numbers);
      json.key("residual_rms").number(move.rule.rms).key("explained").flag(move.is_explained).end_object();
    }
    json.end_array().key("agree").flag(match.ranking.front().agrees).key("rising").text(match.rising);
    json.key("falling").text(match.falling);
  });
}

figure::MatchDrawing moves_drawing(const MovesReport& report) {
  const OpenedMove& opened = *report.opened;
  const MovesMatch& match = *report.match;
  const RecordedMove& recorded = opened.moves.front();
  const JointRule& best = match.ranking.front();
  figure::MatchDrawing drawing;
  drawing.title = fmt::format("{}: {} moves by {}", opened.column, match.moves.size(), best.kind->name());
  drawing.subtitle = match.rising.empty() ? numbers_text(best.numbers, opened.unit, true)
                                          : fmt::format("rising {}, falling {}", match.rising, match.falling);
  drawing.unit = opened.unit;
  drawing.times = recorded.times;
  drawing.values = recorded.values;
  figure::MatchLine line{best.kind->name() + ", each move's own numbers", {}};
  std::size_t move = 0;
  for (const double time : recorded.times) {
    while (move + 1 < match.moves.size() && time >= match.moves[move + 1].rule.start) ++move;
    line.values.push_back(match.moves[move].rule.at(time));
  }
  drawing.rules.push_back(std::move(line));
  return drawing;
}

} // namespace stasis::cli
