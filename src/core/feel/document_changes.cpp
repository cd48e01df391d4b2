#include "core/feel/document_changes.hpp"

#include <algorithm>
#include <map>

#include <fmt/format.h>

#include "core/feel/section_reader.hpp"
#include "core/overloaded.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

struct Leaf {
  std::string path, value;
};

void add_leaves(const Node& node, const std::string& path, std::vector<Leaf>& out) {
  std::visit(Overloaded{
                 [&](const NodeTable& table) {
                   for (const Entry& entry : table) add_leaves(entry.value, joined_path(path, entry.key), out);
                 },
                 [&](const NodeList& list) {
                   for (std::size_t i = 0; i < list.size(); ++i)
                     add_leaves(list[i], fmt::format("{}[{}]", path, i), out);
                 },
                 [&](const std::string& text) {
                   out.push_back({path, fmt::format("\"{}\"", printable(text, 200))});
                 },
                 [&](double number) {
                   out.push_back({path, shortest(number)});
                 },
                 [&](std::int64_t number) {
                   out.push_back({path, fmt::format("{}", number)});
                 },
                 [&](bool truth) {
                   out.push_back({path, truth ? "true" : "false"});
                 },
                 [&](const ForeignValue& foreign) {
                   out.push_back({path, std::string(foreign.kind)});
                 },
                 [&](const std::shared_ptr<const NumberColumns>&) {}, // the file's own, not the feel's
             },
             node.value);
}

} // namespace

std::vector<ValueChange> value_changes(const Node& before, const Node& after) {
  std::vector<Leaf> was, is;
  add_leaves(before, "", was);
  add_leaves(after, "", is);
  std::map<std::string_view, std::string_view> old_values, new_values;
  for (const Leaf& leaf : was) old_values[leaf.path] = leaf.value;
  for (const Leaf& leaf : is) new_values[leaf.path] = leaf.value;
  std::vector<ValueChange> changes;
  for (const Leaf& leaf : was)
    if (!new_values.contains(leaf.path)) changes.push_back({leaf.path, leaf.value, ""});
  for (const Leaf& leaf : is) {
    const auto old = old_values.find(leaf.path);
    if (old == old_values.end())
      changes.push_back({leaf.path, "", leaf.value});
    else if (old->second != leaf.value)
      changes.push_back({leaf.path, std::string(old->second), leaf.value});
  }
  return changes;
}

} // namespace stasis
