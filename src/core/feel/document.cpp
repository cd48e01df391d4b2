#include "core/feel/document.hpp"

#include <algorithm>
#include <charconv>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

tl::unexpected<Problems> bad_path(std::string_view text, std::string_view why) {
  return fail({"call.path",
               std::string(printable(text, 80)),
               {},
               fmt::format("the path is not understood: {}", why),
               "A path is keys with dots and list places in brackets, such as motion.soft.frequency or "
               "take.approach.cues[0].at; keys that contain dots are quoted."});
}

bool is_bare(char c) noexcept {
  return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_' || c == '-';
}

} // namespace

const Node* Node::find(std::string_view key) const noexcept {
  const NodeTable* entries = table();
  if (entries == nullptr) return nullptr;
  const auto at = std::find_if(entries->begin(), entries->end(), [&](const Entry& e) { return e.key == key; });
  return at == entries->end() ? nullptr : &at->value;
}

Node* Node::find(std::string_view key) noexcept { return const_cast<Node*>(static_cast<const Node*>(this)->find(key)); }

std::string_view kind_in_words(const Node& node) noexcept {
  switch (node.value.index()) {
  case 0: return "a table";
  case 1: return "a list";
  case 2: return "a text";
  case 3: return "a number";
  case 4: return "a whole number";
  case 5: return "true or false";
  case 7: return "a table of numbers";
  default: return std::get<ForeignValue>(node.value).kind;
  }
}

Result<std::vector<PathStep>> parse_path(std::string_view text) {
  std::vector<PathStep> steps;
  std::size_t i = 0;
  while (i < text.size()) {
    if (text[i] == '[') {
      std::size_t index = 0;
      const auto [rest, error] = std::from_chars(text.data() + i + 1, text.data() + text.size(), index);
      if (error != std::errc{} || rest == text.data() + text.size() || *rest != ']' || steps.empty())
        return bad_path(text, "a place in a list is a whole number in brackets after a key");
      steps.emplace_back(index);
      i = static_cast<std::size_t>(rest - text.data()) + 1;
    } else if (text[i] == '"' || text[i] == '\'') {
      const std::size_t end = text.find(text[i], i + 1);
      if (end == std::string_view::npos) return bad_path(text, "a quote is not closed");
      steps.emplace_back(std::string(text.substr(i + 1, end - i - 1)));
      i = end + 1;
    } else {
      std::size_t end = i;
      while (end < text.size() && is_bare(text[end])) ++end;
      if (end == i) return bad_path(text, "a key is missing or holds a character that needs quotes");
      steps.emplace_back(std::string(text.substr(i, end - i)));
      i = end;
    }
    if (i < text.size() && text[i] == '.') {
      if (++i == text.size()) return bad_path(text, "it ends in a dot");
    } else if (i < text.size() && text[i] != '[') {
      return bad_path(text, "a dot is missing between two keys");
    }
  }
  if (steps.empty()) return bad_path(text, "it is empty");
  constexpr std::size_t deepest = 32; // as in a document
  if (steps.size() > deepest)
    return bad_path(text, fmt::format("it has {} keys and places; no feel is nearly that deep", steps.size()));
  return steps;
}

const Node* node_at(const Node& root, std::string_view path) {
  const auto steps = parse_path(path);
  const Node* node = steps ? &root : nullptr;
  for (std::size_t k = 0; node != nullptr && k < steps->size(); ++k) {
    if (const auto* key = std::get_if<std::string>(&(*steps)[k])) {
      node = node->find(*key);
      continue;
    }
    const NodeList* list = node->list();
    const std::size_t index = std::get<std::size_t>((*steps)[k]);
    node = list != nullptr && index < list->size() ? &(*list)[index] : nullptr;
  }
  return node;
}

Result<void> put(Node& root, const std::vector<PathStep>& path, std::string_view path_text, Node value) {
  Node* at = &root;
  for (const PathStep& step : path) {
    if (const auto* index = std::get_if<std::size_t>(&step)) {
      auto* list = std::get_if<NodeList>(&at->value);
      if (list == nullptr || *index >= list->size())
        return bad_path(path_text, list == nullptr
                                       ? std::string("brackets are used on something that is not a list")
                                       : fmt::format("the list holds {} entries, counted from 0", list->size()));
      at = &(*list)[*index];
    } else {
      const auto& key = std::get<std::string>(step);
      NodeTable* entries = at->table();
      if (entries == nullptr) return bad_path(path_text, fmt::format("nothing can lie below {}", kind_in_words(*at)));
      if (Node* found = at->find(key)) {
        at = found;
      } else {
        entries->push_back({key, value.where, Node{NodeTable{}, value.where}});
        at = &entries->back().value;
      }
    }
  }
  *at = std::move(value);
  return {};
}

} // namespace stasis
