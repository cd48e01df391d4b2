#include "cli/kept_sweep.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/csv_reader.hpp"

namespace stasis::cli {
namespace {

using Cells = std::vector<std::string>;

struct NumberedLine {
  std::size_t number; ///< from 1, in the file
  std::string_view text;
};

/// The lines that are not blank.
std::vector<NumberedLine> lines_of(std::string_view text) {
  std::vector<NumberedLine> lines;
  std::size_t number = 0;
  for (std::string_view line : split(text, '\n')) {
    ++number;
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (!line.empty()) lines.push_back({number, line});
  }
  return lines;
}

Cells cells_of(std::string_view line) {
  Cells cells;
  for (io::CsvCell& cell : io::csv_cells(line)) cells.push_back(std::move(cell.text));
  return cells;
}

/// The values of each axis in the order in which they first stand in the table.
std::vector<Cells> values_by_axis(const std::vector<Cells>& rows, std::size_t axes) {
  std::vector<Cells> values(axes);
  for (const Cells& row : rows)
    for (std::size_t a = 0; a < axes; ++a)
      if (std::find(values[a].begin(), values[a].end(), row[a]) == values[a].end()) values[a].push_back(row[a]);
  return values;
}

bool begins_alike(const Cells& a, const Cells& b, std::size_t cells) {
  return std::equal(a.begin(), a.begin() + static_cast<std::ptrdiff_t>(cells), b.begin());
}

tl::expected<SweepPoints, std::string> points_of(const Cells& header, const std::vector<Cells>& values) {
  std::vector<SweepAxis> axes;
  for (std::size_t a = 0; a < values.size(); ++a) {
    auto axis = parse_sweep_axis(fmt::format("{}={}", header[a], fmt::join(values[a], ",")), false);
    if (!axis) return tl::unexpected(fmt::format("column {}: {}", printable(header[a], 60), axis.error()));
    axes.push_back(std::move(*axis));
  }
  return SweepPoints(std::move(axes));
}

/// True if a want of a number holds; one that was not measured does not.
bool holds_at(const Want& want, const Measured& value) {
  if (!value) return false;
  constexpr double slack = 1e-9; // as docs/measures.md has it for bounds
  const double room = slack * std::fabs(want.bound);
  switch (want.rule) {
  case WantRule::at_most: return *value <= want.bound + room;
  case WantRule::at_least: return *value >= want.bound - room;
  case WantRule::near: return std::fabs(*value - want.bound) <= want.within + room;
  }
  return false;
}

} // namespace

tl::expected<KeptRows, std::string> read_kept_sweep(std::string_view text) {
  const std::vector<NumberedLine> lines = lines_of(text);
  if (lines.size() < 2) return tl::unexpected(std::string(lines.empty() ? "it is empty" : "it has no row"));
  const Cells header = cells_of(lines.front().text);
  const auto take = std::find(header.begin(), header.end(), "take");
  const auto axes = static_cast<std::size_t>(take - header.begin()), first = axes + 3;
  const bool is_sweep =
      axes >= 1 && header.size() > first && header[axes + 1] == "fps" && header[axes + 2] == "variant";
  if (!is_sweep)
    return tl::unexpected(std::string("its first line is not that of a sweep: paths, take, fps, variant, measures"));
  std::vector<Cells> rows;
  for (std::size_t k = 1; k < lines.size(); ++k) {
    rows.push_back(cells_of(lines[k].text));
    if (rows.back().size() != header.size())
      return tl::unexpected(fmt::format("line {} has {} cells, and the first line {}", lines[k].number,
                                        rows.back().size(), header.size()));
  }
  auto points = points_of(header, values_by_axis(rows, axes));
  if (!points) return tl::unexpected(points.error());
  KeptRows kept{{std::move(*points), Cells(header.begin() + static_cast<std::ptrdiff_t>(first), header.end())}, {}};
  for (std::size_t k = 0; k < rows.size(); ++k) {
    if (k == 0 || !begins_alike(rows[k], rows[k - 1], axes)) kept.rows.emplace_back();
    kept.rows.back().emplace_back();
    for (std::size_t m = first; m < header.size(); ++m) {
      const auto number = read_number(rows[k][m]);
      if (!number && !rows[k][m].empty())
        return tl::unexpected(
            fmt::format("line {}: \"{}\" is not a number", lines[k + 1].number, printable(rows[k][m], 40)));
      kept.rows.back().back().push_back(number);
    }
  }
  // The combinations of all values, the last going fastest; what was drawn at random has no such order.
  bool is_grid = kept.rows.size() == kept.sweep.points.count();
  for (std::size_t k = 0, point = 0; k < rows.size() && is_grid; ++k) {
    if (k > 0 && !begins_alike(rows[k], rows[k - 1], axes)) ++point;
    const Cells words = kept.sweep.points.words(point);
    is_grid = begins_alike(rows[k], words, axes);
  }
  if (!is_grid)
    return tl::unexpected(
        std::string("its rows are not every combination of its values: a sweep that drew them at random, "
                    "or a share of one, has no figure"));
  return kept;
}

SweepTable table_of(const KeptRows& kept, const OpenedTrials& opened, const std::vector<Better>& better) {
  SweepTable table;
  for (std::size_t m = 0; m < kept.sweep.measures.size(); ++m)
    table.measures.push_back(worst_of(kept.rows, m, better[m]));
  table.done = kept.sweep.points.count();
  std::vector<std::string> names;
  name_wants(opened.trials, kept.sweep.points, names);
  for (const std::string& name : names) {
    const Want* const want = opened.want_named(name);
    const auto at = std::find(kept.sweep.measures.begin(), kept.sweep.measures.end(), name.substr(0, name.find(' ')));
    if (want == nullptr || at == kept.sweep.measures.end()) continue;
    table.wants.push_back(name);
    table.holds.emplace_back();
    for (const Measured& value : table.measures[static_cast<std::size_t>(at - kept.sweep.measures.begin())])
      table.holds.back().push_back(holds_at(*want, value) ? 1 : 0);
  }
  return table;
}

} // namespace stasis::cli
