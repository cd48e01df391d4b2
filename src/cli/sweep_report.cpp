#include "cli/sweep_report.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

std::string in_its_unit(double value, const std::string& unit) {
  return readable(value) + (unit.empty() || unit == "1" ? "" : " " + printable(unit, 20));
}

/// "motion.soft.frequency = 1.6, motion.soft.damping_ratio = 0.7"
std::string place_in_words(const SweepReport& report, std::uint64_t point) {
  std::string words;
  const auto written = report.points->words(point);
  for (std::size_t a = 0; a < written.size(); ++a) {
    const SweepAxis& axis = report.points->axes()[a];
    words += fmt::format("{}{} = {}", a > 0 ? ", " : "", axis.path,
                         axis.is_numeric() ? concise(report.points->number(point, a)) : printable(written[a], 40));
  }
  return words;
}

std::string measures_in_words(const SweepReport& report, std::uint64_t point) {
  std::string words;
  for (std::size_t m = 0; m < report.measures.size(); ++m) {
    const Measured& value = report.table->measures[m][point];
    words += fmt::format("{}{} {}", m > 0 ? ", " : "", report.measures[m],
                         value ? in_its_unit(*value, report.units[m]) : std::string("did not happen"));
  }
  return words;
}

/// Between which neighbouring points of a single numeric axis a want begins or ceases to hold.
struct Edge {
  std::uint64_t before = 0, after = 0;
  bool begins = false;
};
std::vector<Edge> edges_of(const SweepReport& report, const std::vector<std::uint8_t>& holds) {
  std::vector<Edge> edges;
  const auto& axes = report.points->axes();
  if (axes.size() != 1 || report.points->is_random() || axes[0].numbers.empty()) return edges;
  for (std::uint64_t point = 1; point < holds.size(); ++point)
    if (holds[point] != holds[point - 1]) edges.push_back({point - 1, point, holds[point] != 0});
  return edges;
}

std::string want_in_words(const SweepReport& report, std::size_t want) {
  const auto& holds = report.table->holds[want];
  const auto count = std::count(holds.begin(), holds.end(), 1);
  const std::string& name = report.table->wants[want];
  if (count == 0) return name + ": holds nowhere";
  if (static_cast<std::size_t>(count) == holds.size()) return name + ": holds everywhere";
  const auto edges = edges_of(report, holds);
  constexpr std::size_t few = 3;
  if (edges.empty() || edges.size() > few)
    return fmt::format("{}: holds at {} of {} points", name, count, holds.size());
  std::string words = name + ": ";
  for (std::size_t k = 0; k < edges.size(); ++k)
    words += fmt::format("{}{} between {} and {}", k > 0 ? ", " : "", edges[k].begins ? "begins to hold" : "fails",
                         concise(report.points->number(edges[k].before, 0), 6),
                         concise(report.points->number(edges[k].after, 0), 6));
  return words;
}

/// Every point in a line, where they are few.
std::string small_table(const SweepReport& report) {
  std::vector<std::string> header;
  std::vector<bool> right;
  for (const SweepAxis& axis : report.points->axes()) {
    header.push_back(axis.path);
    right.push_back(axis.is_numeric());
  }
  for (const std::string& measure : report.measures) {
    header.push_back(measure);
    right.push_back(true);
  }
  header.emplace_back("wants");
  right.push_back(false);
  TextTable table(header, right);
  for (std::uint64_t point = 0; point < report.table->done; ++point) {
    std::vector<std::string> cells;
    const auto words = report.points->words(point);
    for (std::size_t a = 0; a < words.size(); ++a)
      cells.push_back(report.points->axes()[a].is_numeric() ? concise(report.points->number(point, a), 6)
                                                            : printable(words[a], 40));
    for (std::size_t m = 0; m < report.measures.size(); ++m) {
      const Measured& value = report.table->measures[m][point];
      cells.push_back(value ? in_its_unit(*value, report.units[m]) : "\u2013");
    }
    std::size_t failing = 0;
    for (const auto& holds : report.table->holds) failing += holds[point] == 0 ? 1U : 0U;
    cells.push_back(report.table->wants.empty() ? ""
                    : failing == 0              ? "\u25cf all hold"
                                                : fmt::format("\u2715 {} fail{}", failing, failing == 1 ? "s" : ""));
    table.add(std::move(cells));
  }
  return table.text();
}

bool all_hold(const SweepTable& table, std::uint64_t point) {
  return std::all_of(table.holds.begin(), table.holds.end(), [&](const auto& holds) { return holds[point] != 0; });
}

std::vector<std::vector<Cliff>> cliffs(const SweepReport& report) {
  std::vector<std::vector<Cliff>> all(report.measures.size());
  if (report.table->done < report.points->count()) return all;
  for (std::size_t m = 0; m < all.size(); ++m) all[m] = cliffs_of(*report.points, report.table->measures[m]);
  return all;
}

} // namespace

figure::SweepDrawing sweep_drawing(const SweepReport& report, const OpenedTrials& opened) {
  const SweepTable& table = *report.table;
  figure::SweepDrawing drawing;
  drawing.points = report.points;
  drawing.names = report.measures;
  drawing.units = report.units;
  drawing.measures = &table.measures;
  drawing.best = best_point(table, *report.points, report.better, report.present);
  drawing.present = report.present;
  drawing.title = report.title;
  for (std::size_t w = 0; w < table.wants.size(); ++w) {
    const Want* want = opened.want_named(table.wants[w]);
    const std::string name = table.wants[w].substr(0, table.wants[w].find(' '));
    const auto at = std::find(report.measures.begin(), report.measures.end(), name);
    drawing.bounds.push_back({table.wants[w], static_cast<std::size_t>(at - report.measures.begin()),
                              want != nullptr ? want->bound : 0.0, &table.holds[w]});
  }
  return drawing;
}

std::string sweep_text(const SweepReport& report) {
  const SweepTable& table = *report.table;
  std::string out = fmt::format("{}: {} point{}, {} row{}\n", printable(report.title, 80), table.done,
                                table.done == 1 ? "" : "s", report.rows, report.rows == 1 ? "" : "s");
  constexpr std::uint64_t few_points = 12;
  if (table.done > 0 && table.done <= few_points) out += small_table(report);
  if (table.unreadable > 0)
    out += fmt::format("  at {} point{} the feel cannot be read; their measures are empty\n", table.unreadable,
                       table.unreadable == 1 ? "" : "s");
  if (const auto best = best_point(table, *report.points, report.better, report.present)) {
    out += fmt::format("  best{}: {}\n    {}\n",
                       table.wants.empty()      ? ""
                       : all_hold(table, *best) ? " of those where all wants hold"
                                                : ", though not all wants hold",
                       place_in_words(report, *best), measures_in_words(report, *best));
  } else {
    out += fmt::format("  no best point: {} did not happen anywhere\n", report.measures.front());
  }
  for (std::size_t w = 0; w < table.wants.size(); ++w) out += "  " + want_in_words(report, w) + "\n";
  const auto jumps = cliffs(report);
  for (std::size_t m = 0; m < jumps.size(); ++m) {
    if (jumps[m].empty()) continue;
    const Cliff& largest = jumps[m].front();
    out += fmt::format("  {} jumps by {} between {} and {}{}\n", report.measures[m],
                       in_its_unit(std::fabs(largest.jump), report.units[m]), place_in_words(report, largest.before),
                       place_in_words(report, largest.after),
                       jumps[m].size() > 1 ? fmt::format(", and at {} other places", jumps[m].size() - 1) : "");
  }
  if (report.points->is_random())
    for (std::size_t m = 0; m < report.measures.size(); ++m) {
      const auto ranks = rank_correlations(*report.points, table.measures[m]);
      std::vector<std::size_t> order(ranks.size());
      for (std::size_t a = 0; a < order.size(); ++a) order[a] = a;
      std::stable_sort(order.begin(), order.end(),
                       [&](std::size_t a, std::size_t b) { return std::fabs(ranks[a]) > std::fabs(ranks[b]); });
      out += fmt::format("  what matters to {} (rank correlation):", report.measures[m]);
      for (const std::size_t a : order)
        out += fmt::format(" {} {}{}", report.points->axes()[a].path, concise(ranks[a], 2),
                           a == order.back() ? "\n" : ",");
    }
  return out;
}

// long: one key after another
std::string sweep_json(const SweepReport& report) {
  const SweepPoints& points = *report.points;
  const SweepTable& table = *report.table;
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(report.title, 10'000));
  json.key("parameters").begin_array();
  for (std::size_t a = 0; a < points.axes().size(); ++a) {
    const SweepAxis& axis = points.axes()[a];
    json.begin_object().key("path").text(axis.path).key("spacing");
    json.text(axis.kind == SweepAxis::Kind::listed      ? "listed"
              : axis.kind == SweepAxis::Kind::by_factor ? "by_factor"
                                                        : "even");
    const bool is_spaced = axis.kind != SweepAxis::Kind::listed;
    json.key("low").number(is_spaced ? std::optional(axis.range.low) : std::nullopt);
    json.key("high").number(is_spaced ? std::optional(axis.range.high) : std::nullopt);
    json.key("count").integer(static_cast<long long>(points.is_random() ? points.count() : axis.values.size()));
    json.key("present").number(report.present[a]).end_object();
  }
  json.end_array().key("measures").begin_array();
  for (std::size_t m = 0; m < report.measures.size(); ++m)
    json.begin_object().key("name").text(report.measures[m]).key("unit").text(report.units[m]).end_object();
  json.end_array().key("points").integer(static_cast<long long>(table.done));
  json.key("rows").integer(static_cast<long long>(report.rows));
  json.key("interrupted").flag(table.done < points.count() && report.csv.find("-of-") == std::string::npos);
  json.key("best");
  if (const auto best = best_point(table, *report.points, report.better, report.present)) {
    json.begin_object().key("holds").flag(all_hold(table, *best)).key("values").begin_object();
    const auto words = points.words(*best);
    for (std::size_t a = 0; a < words.size(); ++a) {
      json.key(points.axes()[a].path);
      points.axes()[a].is_numeric() ? json.number(points.number(*best, a)) : json.text(words[a]);
    }
    json.end_object().key("measures").begin_object();
    for (std::size_t m = 0; m < report.measures.size(); ++m)
      json.key(report.measures[m]).number(table.measures[m][*best]);
    json.end_object().end_object();
  } else {
    json.null();
  }
  json.key("wants").begin_array();
  for (std::size_t w = 0; w < table.wants.size(); ++w) {
    json.begin_object().key("want").text(table.wants[w]).key("holds_at");
    json.integer(std::count(table.holds[w].begin(), table.holds[w].end(), 1)).key("edges").begin_array();
    for (const Edge& edge : edges_of(report, table.holds[w])) {
      json.begin_object().key("from").number(points.number(edge.before, 0));
      json.key("to").number(points.number(edge.after, 0)).key("begins").flag(edge.begins).end_object();
    }
    json.end_array().end_object();
  }
  json.end_array().key("jumps").begin_array();
  const auto jumps = cliffs(report);
  constexpr std::size_t most_jumps = 100;
  for (std::size_t m = 0; m < jumps.size(); ++m)
    for (std::size_t k = 0; k < std::min(most_jumps, jumps[m].size()); ++k) {
      const Cliff& jump = jumps[m][k];
      json.begin_object().key("measure").text(report.measures[m]).key("path").text(points.axes()[jump.axis].path);
      json.key("from").number(points.number(jump.before, jump.axis)).key("to");
      json.number(points.number(jump.after, jump.axis)).key("jump").number(jump.jump).end_object();
    }
  json.end_array().key("matters").begin_array();
  if (points.is_random())
    for (std::size_t m = 0; m < report.measures.size(); ++m) {
      const auto ranks = rank_correlations(points, table.measures[m]);
      for (std::size_t a = 0; a < ranks.size(); ++a)
        json.begin_object()
            .key("measure")
            .text(report.measures[m])
            .key("path")
            .text(points.axes()[a].path)
            .key("rank_correlation")
            .number(ranks[a])
            .end_object();
    }
  json.end_array().key("unreadable").integer(static_cast<long long>(table.unreadable)).key("csv");
  report.csv.empty() ? json.null() : json.text(report.csv);
  return json.end_object().take();
}

} // namespace stasis::cli
