// A parsed document as a plain tree that remembers where every key and value stood. Readers of any syntax produce it,
// validation consumes it; entries keep the order of the text.
#pragma once

#include <algorithm>
#include <cstdint>
#include <iterator>
#include <memory>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/number_column.hpp"
#include "core/problem.hpp"

namespace stasis {

struct Entry;
struct Node;

using NodeList = std::vector<Node>;
using NodeTable = std::vector<Entry>;

/// A value of a kind that feels do not use (dates and times), with its name in words.
struct ForeignValue {
  std::string_view kind;
};

/// Rows that lie line after line, from `row` on.
struct LineRun {
  std::size_t row = 0;
  int line = 1; ///< of that row
};

/// Columns of a large table of numbers, read from a file. Rows number from 0.
struct NumberColumns {
  std::vector<std::string> header;   ///< of the whole file
  std::vector<std::string> names;    ///< of the columns that were asked for
  std::vector<NumberColumn> columns; ///< by name; an empty cell is NaN
  std::vector<LineRun> lines;        ///< ascending, the first of row 0
  int source = 0;

  std::size_t rows() const noexcept { return columns.empty() ? 0 : columns.front().size(); }
  Position where(std::size_t row) const noexcept {
    const auto next = std::upper_bound(lines.begin(), lines.end(), row,
                                       [](std::size_t r, const LineRun& run) { return r < run.row; });
    const LineRun run = next == lines.begin() ? LineRun{} : *std::prev(next);
    return {run.line + static_cast<int>(row - run.row), 1, 1, source};
  }
};

struct Node {
  std::variant<NodeTable, NodeList, std::string, double, std::int64_t, bool, ForeignValue,
               std::shared_ptr<const NumberColumns>>
      value;
  Position where;
  bool is_braced = false; ///< a table written as one value, in braces; else by headers and dotted keys

  const NodeTable* table() const noexcept { return std::get_if<NodeTable>(&value); }
  NodeTable* table() noexcept { return std::get_if<NodeTable>(&value); }
  const NodeList* list() const noexcept { return std::get_if<NodeList>(&value); }
  const std::string* text() const noexcept { return std::get_if<std::string>(&value); }
  const NumberColumns* columns() const noexcept {
    const auto* held = std::get_if<std::shared_ptr<const NumberColumns>>(&value);
    return held != nullptr ? held->get() : nullptr;
  }
  /// The entry of a table named `key`, or null.
  const Node* find(std::string_view key) const noexcept;
  Node* find(std::string_view key) noexcept;
};

struct Entry {
  std::string key;
  Position where;
  Node value;
};

/// "a number", "a text", "a table", ... for messages.
std::string_view kind_in_words(const Node& node) noexcept;

/// One step of a path such as `take.approach.cues[2].at`: a key, or an index.
using PathStep = std::variant<std::string, std::size_t>;
/// Reads a path; keys may be quoted where they contain dots. The problem names what is wrong with it.
Result<std::vector<PathStep>> parse_path(std::string_view text);

/// What stands at a path; null where nothing does.
const Node* node_at(const Node& root, std::string_view path);

/// Puts `value` at `path`, making tables on the way as needed; a problem if the path runs through something else or
/// past the end of a list.
Result<void> put(Node& root, const std::vector<PathStep>& path, std::string_view path_text, Node value);

} // namespace stasis
