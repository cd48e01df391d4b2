#include "cli/solve_report.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/check/wants.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

/// Which of the numbers a free value is; names are not among them.
std::size_t number_index(const SolveReport& report, std::size_t value) {
  return static_cast<std::size_t>(std::count_if(report.free.begin(),
                                                report.free.begin() + static_cast<std::ptrdiff_t>(value),
                                                [](const FreeValue& one) { return !one.is_choice(); }));
}

std::string found_in_unit(const std::optional<double>& value, const std::string& unit) {
  if (!value) return "did not happen";
  return readable(*value, 4) + (unit.empty() ? "" : " " + printable(unit, 20));
}

std::string where_of(const SolveReport& report, const TrialWant& want) {
  const std::string& variant = (*report.cases)[want.trial_case].variant;
  return want.take + (variant.empty() ? "" : ", variant " + variant);
}

/// The wants before and after. Of several versions of a feel, the worst of each want.
std::string want_table(const SolveReport& report) {
  const auto &before = report.answer->before.outcome.wants, &after = report.answer->after.outcome.wants;
  TextTable table({"want", "bound", "before", "after", "", "take"}, {false, false, true, true, false, false});
  for (std::size_t w = 0; w < after.size(); ++w) {
    std::string was = "\u2013";
    if (w < before.size()) was = found_in_unit(before[w].value, before[w].unit);
    table.add({after[w].measure, after[w].bound, was, found_in_unit(after[w].value, after[w].unit),
               after[w].holds ? "\u25cf holds" : "\u2715 fails", where_of(report, after[w])});
  }
  return after.empty() ? "" : table.text();
}

/// Is a number at the end of what it may be?
bool is_at_bound(const FreeValue& free, double number) {
  constexpr double near = 1e-6;
  return number - free.range.low <= near * (free.range.high - free.range.low)
         || free.range.high - number <= near * (free.range.high - free.range.low);
}

std::string value_table(const SolveReport& report) {
  TextTable table({"value", "now", "then", "holds from", "to", ""}, {false, true, true, true, true, false});
  for (std::size_t k = 0; k < report.free.size(); ++k) {
    const FreeValue& free = report.free[k];
    if (free.is_choice()) {
      table.add({free.path, report.present_names[k], report.names[k], "", "", ""});
      continue;
    }
    const double number = report.number(k);
    std::string from, to;
    if (report.answer->solved) {
      const auto [low, high] = report.answer->tolerance[number_index(report, k)];
      from = concise(low, 4);
      to = concise(high, 4);
    }
    table.add({free.path, report.present[k] ? concise(*report.present[k], 6) : report.present_names[k],
               concise(number, 6), from, to, is_at_bound(free, number) ? "at the end of what it may be" : ""});
  }
  return table.text();
}

/// What is preferred, before and after.
std::string preferred_table(const SolveReport& report) {
  const auto &before = report.answer->before.outcome.rows, &after = report.answer->after.outcome.rows;
  TextTable table({"preferred", "before", "after", "take"}, {false, true, true, false});
  bool is_any = false;
  for (std::size_t r = 0; r < after.size(); ++r) {
    if (after[r].trial_case != 0) continue; // the ends of settings are like it
    for (std::size_t m = 0; m < after[r].measures.size(); ++m) {
      const std::optional<double> was = r < before.size() ? before[r].measures[m] : std::nullopt;
      if (!was && !after[r].measures[m]) continue;
      table.add({report.measures[m], found_in_unit(was, report.units[m]),
                 found_in_unit(after[r].measures[m], report.units[m]), after[r].take});
      is_any = true;
    }
  }
  return is_any ? table.text() : "";
}

} // namespace

double SolveReport::number(std::size_t value) const { return answer->numbers[number_index(*this, value)]; }
double SolveReport::number(const SolveAlternative& alternative, std::size_t value) const {
  return alternative.numbers[number_index(*this, value)];
}

std::string solve_text(const SolveReport& report) {
  const SolveAnswer& answer = *report.answer;
  std::string out = printable(report.title, 80) + ": ";
  if (answer.solved)
    out += fmt::format("every want holds, {}; {} tries\n", report.prefers, report.tries);
  else
    out += fmt::format("none of {} tries meets every want; the best compromise\n", report.tries);
  out += value_table(report) + want_table(report) + preferred_table(report);
  if (answer.solved
      && std::all_of(answer.after.outcome.wants.begin(), answer.after.outcome.wants.end(),
                     [](const TrialWant& want) { return want.holds; })) {
    for (const SolveAlternative& other : answer.alternatives) {
      out += other.why == "steady"
                 ? "  farther from an edge, where every want holds with each number half a per cent off:"
                 : "  another that feels different:";
      for (std::size_t k = 0; k < report.free.size(); ++k)
        out += fmt::format("{} {} = {}", k > 0 ? "," : "", report.free[k].path,
                           report.free[k].is_choice() ? report.names[k] : concise(report.number(other, k), 4));
      out += "\n";
    }
  }
  if (!answer.conflict.empty()) {
    out += answer.conflict.size() == 1 ? "  this want cannot hold at all" : "  these wants cannot hold together";
    out += answer.conflict_is_proven ? ", as a dense scan shows:\n" : ", as far as the search found:\n";
    for (const std::size_t w : answer.conflict) {
      const TrialWant& want = answer.after.outcome.wants[w];
      out += fmt::format("    {} {} ({}){}\n", want.measure, want.bound, where_of(report, want),
                         want.holds || !want.value
                             ? ""
                             : fmt::format("; it would have to give way to {}", found_in_unit(want.value, want.unit)));
    }
  }
  return out;
}

std::string solve_json(const SolveReport& report) {
  const SolveAnswer& answer = *report.answer;
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(report.title, 10'000));
  json.key("solved").flag(answer.solved).key("prefers").text(report.prefers).key("tries").integer(report.tries);
  json.key("values").begin_object();
  for (std::size_t k = 0; k < report.free.size(); ++k) {
    json.key(report.free[k].path);
    report.free[k].is_choice() ? json.text(report.names[k]) : json.number(report.number(k));
  }
  json.end_object().key("present").begin_object();
  for (std::size_t k = 0; k < report.free.size(); ++k) {
    json.key(report.free[k].path);
    if (report.free[k].is_choice())
      report.present_names[k].empty() ? json.null() : json.text(report.present_names[k]);
    else
      json.number(report.present[k]);
  }
  json.end_object().key("wants").begin_array();
  const auto& before = answer.before.outcome.wants;
  for (std::size_t w = 0; w < answer.after.outcome.wants.size(); ++w) {
    const TrialWant& want = answer.after.outcome.wants[w];
    const std::string& variant = (*report.cases)[want.trial_case].variant;
    json.begin_object().key("take").text(want.take).key("variant");
    variant.empty() ? json.null() : json.text(variant);
    json.key("measure").text(want.measure).key("bound").text(name_of(want.rule)).key("limit").number(want.limit);
    json.key("within").number(want.rule == WantRule::near ? std::optional(want.within) : std::nullopt);
    json.key("unit").text(want.unit);
    json.key("before").number(w < before.size() ? before[w].value : std::nullopt);
    json.key("after").number(want.value).key("holds").flag(want.holds).end_object();
  }
  json.end_array().key("at_bound").begin_array();
  for (std::size_t k = 0; k < report.free.size(); ++k)
    if (!report.free[k].is_choice() && is_at_bound(report.free[k], report.number(k))) json.text(report.free[k].path);
  json.end_array().key("conflict").begin_array();
  for (const std::size_t w : answer.conflict) {
    const TrialWant& want = answer.after.outcome.wants[w];
    json.begin_object().key("take").text(want.take).key("measure").text(want.measure).key("bound");
    json.text(name_of(want.rule)).key("limit").number(want.limit).end_object();
  }
  json.end_array().key("conflict_is_proven").flag(!answer.conflict.empty() && answer.conflict_is_proven);
  json.key("tolerance").begin_object();
  for (std::size_t k = 0; k < report.free.size() && answer.solved; ++k)
    if (!report.free[k].is_choice()) {
      const auto [low, high] = answer.tolerance[number_index(report, k)];
      json.key(report.free[k].path).begin_array().number(low).number(high).end_array();
    }
  json.end_object().key("alternatives").begin_array();
  for (const SolveAlternative& other : answer.alternatives) {
    json.begin_object().key("why").text(other.why).key("values").begin_object();
    for (std::size_t k = 0; k < report.free.size(); ++k) {
      json.key(report.free[k].path);
      report.free[k].is_choice() ? json.text(report.names[k]) : json.number(report.number(other, k));
    }
    json.end_object().end_object();
  }
  return json.end_array().end_object().take();
}

} // namespace stasis::cli
