// Any bytes as a CSV file: refused with line and column, or a table in which every row is whole. Small tables of curves
// and recorded input, and the piece by piece reader of recordings, must agree on what they both can read.
#include <cstdint>
#include <cstdlib>
#include <string>

#include "io/column_file.hpp"
#include "io/csv_reader.hpp"
#include "memory_file.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const auto table = stasis::io::read_number_table({reinterpret_cast<const char*>(data), size}, 0);
  if (!table && table.error().empty()) std::abort();
  if (table)
    for (const auto& row : table->rows)
      if (row.size() != table->rows.front().size()) std::abort();
  const stasis::fuzz::MemoryFile file(data, size);
  const auto columns = stasis::io::read_column_file(file.path(), {"time", "x"}, 0);
  if (!columns) return columns.error().empty() ? (std::abort(), 0) : 0;
  for (const auto& column : columns->columns)
    if (column.size() != columns->columns.front().size()) std::abort();
  return 0;
}
