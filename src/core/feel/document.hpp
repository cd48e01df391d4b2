// A parsed document as a plain tree that remembers where every key and value stood. Readers of any syntax produce it,
// validation consumes it; entries keep the order of the text.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

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

struct Node {
  std::variant<NodeTable, NodeList, std::string, double, std::int64_t, bool, ForeignValue> value;
  Position where;

  const NodeTable* table() const noexcept { return std::get_if<NodeTable>(&value); }
  NodeTable* table() noexcept { return std::get_if<NodeTable>(&value); }
  const NodeList* list() const noexcept { return std::get_if<NodeList>(&value); }
  const std::string* text() const noexcept { return std::get_if<std::string>(&value); }
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

/// Puts `value` at `path`, making tables on the way as needed; a problem if the path runs through something else or
/// past the end of a list.
Result<void> put(Node& root, const std::vector<PathStep>& path, std::string_view path_text, Node value);

} // namespace stasis
