#include "io/csv_reader.hpp"

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::io {
namespace {

bool all_numbers(const std::vector<CsvCell>& cells) {
  for (const CsvCell& cell : cells)
    if (!read_number(cell.text)) return false;
  return true;
}

} // namespace

std::vector<CsvCell> csv_cells(std::string_view line) {
  std::vector<CsvCell> cells;
  std::size_t i = 0;
  while (true) {
    CsvCell cell{"", static_cast<int>(code_points(line.substr(0, i))) + 1};
    if (i < line.size() && line[i] == '"') {
      for (++i; i < line.size(); ++i) {
        if (line[i] == '"' && (i + 1 >= line.size() || line[i + 1] != '"')) break;
        if (line[i] == '"') ++i;
        cell.text += line[i];
      }
      if (i < line.size()) ++i;
    }
    while (i < line.size() && line[i] != ',') cell.text += line[i++];
    cells.push_back(std::move(cell));
    if (i >= line.size()) return cells;
    ++i;
  }
}

Result<NumberTable> read_number_table(std::string_view text, int source) {
  constexpr std::string_view byte_order_mark = "\xEF\xBB\xBF";
  if (text.starts_with(byte_order_mark)) text.remove_prefix(byte_order_mark.size());
  NumberTable table;
  Problems problems;
  std::size_t width = 0;
  int number = 0;
  constexpr std::size_t most_problems = 20;
  while (!text.empty() && problems.size() < most_problems) {
    const std::size_t end = text.find('\n');
    std::string_view line = text.substr(0, end);
    text.remove_prefix(end == std::string_view::npos ? text.size() : end + 1);
    ++number;
    if (line.ends_with('\r')) line.remove_suffix(1);
    if (trimmed(line).empty()) continue;
    const auto cells = csv_cells(line);
    if (width == 0) {
      width = cells.size();
      if (!all_numbers(cells)) {
        for (const CsvCell& cell : cells) table.header.emplace_back(trimmed(cell.text));
        continue;
      }
    }
    if (cells.size() != width) {
      problems.push_back({"csv.width",
                          "",
                          {number, 1, 1, source},
                          fmt::format("this row has {} cells, the first has {}", cells.size(), width),
                          ""});
      continue;
    }
    std::vector<double> row;
    for (const CsvCell& cell : cells) {
      const auto value = read_number(cell.text);
      if (!value)
        problems.push_back({"csv.number",
                            "",
                            {number, cell.column, static_cast<int>(code_points(cell.text)), source},
                            fmt::format("expected a finite number, found \"{}\"", printable(cell.text, 40)),
                            ""});
      row.push_back(value.value_or(0.0));
    }
    table.rows.push_back(std::move(row));
    table.lines.push_back(number);
  }
  if (!problems.empty()) return tl::unexpected(std::move(problems));
  return table;
}

} // namespace stasis::io
