#include "io/toml_edit.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/feel/compose.hpp"
#include "core/feel/document.hpp"
#include "core/feel/section_reader.hpp"
#include "core/text.hpp"
#include "io/toml_reader.hpp"

namespace stasis::io {
namespace {

/// Byte offset of a line and a column (both from 1, columns in code points).
std::size_t offset_of(std::string_view text, int line, int column) noexcept {
  std::size_t at = 0;
  for (int l = 1; l < line; ++l) {
    const std::size_t end = text.find('\n', at);
    if (end == std::string_view::npos) return text.size();
    at = end + 1;
  }
  for (int c = 1; c < column && at < text.size(); ++c) {
    ++at;
    while (at < text.size() && (static_cast<unsigned char>(text[at]) & 0xC0) == 0x80) ++at;
  }
  return at;
}

std::size_t start_of_line(std::string_view text, std::size_t at) noexcept {
  const std::size_t end = at == 0 ? std::string_view::npos : text.rfind('\n', at - 1);
  return end == std::string_view::npos ? 0 : end + 1;
}

/// Just after the line's own end, or the end of the text.
std::size_t after_line(std::string_view text, std::size_t at) noexcept {
  const std::size_t end = text.find('\n', at);
  return end == std::string_view::npos ? text.size() : end + 1;
}

std::string line_at(std::string_view text, std::size_t at) {
  const std::size_t start = start_of_line(text, std::min(at, text.size()));
  std::string line(text.substr(start, text.find('\n', start) - start));
  if (line.ends_with('\r')) line.pop_back();
  return line;
}

std::string_view line_end_of(std::string_view text) noexcept {
  const std::size_t end = text.find('\n');
  return end != std::string_view::npos && end > 0 && text[end - 1] == '\r' ? "\r\n" : "\n";
}

std::string in_quotes(std::string_view text) {
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"' || c == '\\') out += '\\';
    if (static_cast<unsigned char>(c) < 0x20 || c == 0x7F)
      out += fmt::format("\\u{:04X}", static_cast<unsigned>(c));
    else
      out += c;
  }
  return out + '"';
}

/// The value as it is written in TOML.
Result<std::string> written(std::string_view value) {
  const auto parsed = read_toml_value(value, 0);
  if (!parsed) return tl::unexpected(parsed.error());
  const auto* text = parsed->text();
  const bool bare = text != nullptr && *text == value;
  if (bare) return in_quotes(value);
  // Whole on its line: a comment behind it would take away whatever follows there.
  const auto alone = read_toml(fmt::format("x = [{}]", value), 0);
  const Node* list = alone ? alone->find("x") : nullptr;
  if (list == nullptr || list->list() == nullptr || list->list()->size() != 1)
    return fail({"feel.syntax",
                 "",
                 {0, 0, 1, -1},
                 fmt::format("{} is more than a value", printable(value, 60)),
                 "Write one value, without a comment after it."});
  return std::string(value);
}

/// A key as TOML writes it, whole: a path in a message is cut and made printable, what is written is neither.
std::string key_text(const std::string& key) {
  const bool is_bare = !key.empty() && std::all_of(key.begin(), key.end(), [](char c) {
    return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || is_digit(c) || c == '_' || c == '-';
  });
  return is_bare ? key : in_quotes(key);
}

tl::unexpected<Problems> no_place(std::string_view path, std::string message, std::string hint = {}) {
  return fail({"call.path", std::string(printable(path, 80)), {0, 0, 1, -1}, std::move(message), std::move(hint)});
}

class Editor {
public:
  Editor(std::string_view text, std::string_view path, std::string value)
      : text_(text), path_(path), value_(std::move(value)) {}

  Result<TextEdit> edit(const Node& root, const std::vector<PathStep>& steps) {
    const Node* at = &root;
    std::string at_path;
    for (std::size_t i = 0; i < steps.size(); ++i) {
      if (const auto* index = std::get_if<std::size_t>(&steps[i])) {
        if (at->list() == nullptr || *index >= at->list()->size())
          return no_place(path_, at->list() == nullptr
                                     ? std::string("brackets are used on something that is not a list")
                                     : fmt::format("the list holds {} entries, counted from 0", at->list()->size()));
        at = &(*at->list())[*index];
        at_path.clear(); // no header leads into a list's entry
        continue;
      }
      const auto& key = std::get<std::string>(steps[i]);
      if (at->table() == nullptr) return no_place(path_, fmt::format("nothing can lie below {}", kind_in_words(*at)));
      if (const Node* found = at->find(key)) {
        at = found;
        if (i == 0 || !at_path.empty()) at_path += (at_path.empty() ? "" : ".") + key_text(key);
        continue;
      }
      return add(*at, at_path, at == &root, steps, i);
    }
    return replace(*at);
  }

private:
  TextEdit replaced(std::size_t from, std::size_t to, const std::string& with, bool adds_line) const {
    TextEdit edit;
    edit.text = std::string(text_.substr(0, from)) + with + std::string(text_.substr(to));
    const std::size_t place =
        adds_line && with.starts_with(line_end_of(text_)) ? from + line_end_of(text_).size() : from;
    edit.line =
        1
        + static_cast<int>(std::count(edit.text.begin(), edit.text.begin() + static_cast<std::ptrdiff_t>(place), '\n'));
    if (!adds_line) edit.before = line_at(text_, from);
    edit.after = line_at(edit.text, place);
    return edit;
  }

  Result<TextEdit> replace(const Node& node) const {
    if (node.table() != nullptr && first_char(node) != '{')
      return no_place(path_, "a whole table cannot be replaced", "Name one of its values.");
    const std::size_t from = offset_of(text_, node.where.line, node.where.column);
    const std::size_t to = offset_of(text_, node.where.end_line, node.where.end_column);
    return replaced(from, to, value_, false);
  }

  char first_char(const Node& node) const noexcept {
    const std::size_t at = offset_of(text_, node.where.line, node.where.column);
    return at < text_.size() ? text_[at] : '\0';
  }

  /// Adds the rest of the path, from steps[first] on, to a table that lacks it.
  Result<TextEdit> add(const Node& table, const std::string& table_path, bool is_root,
                       const std::vector<PathStep>& steps, std::size_t first) const {
    std::string keys;
    for (std::size_t i = first; i < steps.size(); ++i) {
      const auto* key = std::get_if<std::string>(&steps[i]);
      if (key == nullptr) return no_place(path_, "the list that its brackets point into does not exist");
      keys += (keys.empty() ? "" : ".") + key_text(*key);
    }
    const std::string entry = keys + " = " + value_;
    if (!is_root && first_char(table) == '{') return add_inline(table, entry);
    const std::string_view line_end = line_end_of(text_);
    if (is_root) return add_to_root(table, entry);
    if (first_char(table) == '[' && stands_in_header(table, table_path)) {
      const std::size_t place = after_line(text_, end_of_entries(table));
      const bool open_end = place == text_.size() && !text_.ends_with('\n');
      return replaced(place, place, (open_end ? std::string(line_end) : "") + entry + std::string(line_end), true);
    }
    if (table_path.empty()) return no_place(path_, "there is no place for this key");
    // A table that only stands in the headers of those below it, or in dotted keys: it gets a header of its own.
    if (first_char(table) != '[') return add_dotted(table, entry);
    const std::string block = std::string(text_.ends_with('\n') ? "" : line_end) + std::string(line_end) + "["
                              + table_path + "]" + std::string(line_end) + entry + std::string(line_end);
    return replaced(text_.size(), text_.size(), block, true);
  }

  /// True if the header on the table's own line is this table's, not one of a table below it.
  bool stands_in_header(const Node& table, const std::string& table_path) const {
    const std::size_t from = offset_of(text_, table.where.line, table.where.column);
    const std::string_view line = std::string_view(text_).substr(from, text_.find('\n', from) - from);
    const bool is_list_entry = line.starts_with("[[");
    if (is_list_entry) return table_path.empty();
    const std::size_t close = line.find(']');
    const auto header = parse_path(trimmed(line.substr(1, close - 1))), own = parse_path(table_path);
    return header && own && *header == *own;
  }

  /// Where the last entry that stands directly under a header ends, or the header itself.
  std::size_t end_of_entries(const Node& table) const {
    std::size_t end = offset_of(text_, table.where.line, table.where.column);
    for (const Entry& entry : *table.table()) {
      const std::size_t from = offset_of(text_, entry.value.where.line, entry.value.where.column);
      const bool below = entry.value.table() != nullptr && first_char(entry.value) == '[';
      const bool list_of_tables =
          entry.value.list() != nullptr && text_.substr(from, 2) == "[[" && start_of_line(text_, from) == from
          && text_.substr(offset_of(text_, entry.where.line, entry.where.column)).find('=') == std::string_view::npos;
      if (below || list_of_tables) continue;
      end = std::max(end, last_place(entry.value));
    }
    return end;
  }

  /// The last byte that belongs to a value; of tables made by dotted keys, that of their last entry.
  std::size_t last_place(const Node& node) const {
    if (node.table() != nullptr && first_char(node) != '{') {
      std::size_t end = 0;
      for (const Entry& entry : *node.table()) end = std::max(end, last_place(entry.value));
      return end;
    }
    const std::size_t end = offset_of(text_, node.where.end_line, node.where.end_column);
    return end > 0 ? end - 1 : 0;
  }

  Result<TextEdit> add_inline(const Node& table, const std::string& entry) const {
    const std::size_t close = offset_of(text_, table.where.end_line, table.where.end_column) - 1;
    std::size_t place = close;
    while (place > 0 && (text_[place - 1] == ' ' || text_[place - 1] == '\t')) --place;
    const bool empty = table.table()->empty();
    return replaced(place, close, (empty ? " " : ", ") + entry + " ", false);
  }

  /// Beside the last dotted key of the table: the same lead, the new key.
  Result<TextEdit> add_dotted(const Node& table, const std::string& entry) const {
    const std::size_t end = last_place(table), start = start_of_line(text_, end);
    const std::string line = line_at(text_, start);
    const std::size_t equals = line.find('=');
    const std::size_t dot = equals == std::string::npos ? equals : line.rfind('.', equals);
    if (dot == std::string::npos) return no_place(path_, "there is no place for this key");
    const std::size_t place = after_line(text_, end);
    return replaced(place, place, line.substr(0, dot + 1) + entry + std::string(line_end_of(text_)), true);
  }

  /// Before the first header, after what stands there already.
  Result<TextEdit> add_to_root(const Node& root, const std::string& entry) const {
    std::size_t place = 0;
    for (const Entry& one : *root.table()) {
      const std::size_t key = offset_of(text_, one.where.line, one.where.column);
      const bool own_line =
          line_at(text_, key).find('=') != std::string::npos && text_[start_of_line(text_, key)] != '[';
      if (own_line) place = std::max(place, after_line(text_, last_place(one.value)));
    }
    return replaced(place, place, entry + std::string(line_end_of(text_)), true);
  }

  std::string_view text_, path_;
  std::string value_;
};

} // namespace

Result<TextEdit> edit_value(std::string_view text, std::string_view path, std::string_view value) {
  // Places do not count a byte order mark, and nothing may come before it.
  if (constexpr std::string_view mark = "\xEF\xBB\xBF"; text.starts_with(mark)) {
    auto edit = edit_value(text.substr(mark.size()), path, value);
    if (edit) edit->text.insert(0, mark);
    return edit;
  }
  auto document = read_toml(text, 0);
  if (!document) return tl::unexpected(document.error());
  if (!is_utf8(path) || !is_utf8(value))
    return fail({"feel.syntax", printable(path, 80), {}, "this is not UTF-8, which a feel is written in", ""});
  const auto steps = parse_path(path);
  if (!steps) return tl::unexpected(steps.error());
  const auto token = written(value);
  if (!token) return tl::unexpected(token.error());
  // A path that leads to a motion, channel, ... that is not there is refused before anything is written.
  Node trial = *document;
  if (auto done = put_override(trial, path, Node{0.0, {}}); !done) return tl::unexpected(done.error());
  return Editor(text, path, *token).edit(*document, *steps);
}

namespace {

/// The piece of a text that goes, and what comes instead.
struct Splice {
  std::size_t from, to;
  std::string with;
};

/// A key and its value are taken out of a line, or of the braces of an inline table.
Splice taken_out(std::string_view text, std::size_t from, std::size_t to, bool is_inline) {
  if (is_inline) {
    std::size_t end = text.find_first_not_of(" \t", to);
    if (end != std::string_view::npos && text[end] == ',') {
      end = text.find_first_not_of(" \t", end + 1);
      return {from, end == std::string_view::npos ? to : end, ""};
    }
    const std::size_t comma = text.find_last_not_of(" \t", from - 1);
    return {comma != std::string_view::npos && text[comma] == ',' ? comma : from, to, ""};
  }
  const std::size_t start = start_of_line(text, from), rest = text.find_first_not_of(" \t", to);
  const bool has_comment = rest != std::string_view::npos && text[rest] == '#';
  return has_comment ? Splice{from, rest, ""} : Splice{start, after_line(text, to), ""};
}

} // namespace

Result<std::string> change_keys(std::string_view text, std::string_view path, const std::vector<KeyChange>& changes) {
  if (constexpr std::string_view mark = "\xEF\xBB\xBF"; text.starts_with(mark)) {
    auto changed = change_keys(text.substr(mark.size()), path, changes);
    if (changed) changed->insert(0, mark);
    return changed;
  }
  const auto document = read_toml(text, 0);
  if (!document) return tl::unexpected(document.error());
  const auto steps = parse_path(path);
  if (!steps) return tl::unexpected(steps.error());
  const Node* table = &*document;
  for (const PathStep& step : *steps) {
    const auto* key = std::get_if<std::string>(&step);
    table = key != nullptr ? table->find(*key) : nullptr;
    if (table == nullptr || table->table() == nullptr) return no_place(path, "there is no such table");
  }
  const std::size_t place = offset_of(text, table->where.line, table->where.column);
  const bool is_inline = place < text.size() && text[place] == '{';
  std::vector<Splice> splices;
  for (const KeyChange& change : changes)
    for (const Entry& entry : *table->table()) {
      if (entry.key != change.key) continue;
      const std::size_t to = offset_of(text, entry.value.where.end_line, entry.value.where.end_column);
      const std::size_t value = offset_of(text, entry.value.where.line, entry.value.where.column);
      std::size_t from = offset_of(text, entry.where.line, entry.where.column);
      if (!change.new_key.empty()) {
        splices.push_back({value, to, change.value});
        if (change.new_key != change.key) {
          const std::size_t end = std::min(text.find_first_of(" \t=", from), value);
          splices.push_back({from, end, change.new_key});
        }
        continue;
      }
      // Of a dotted key all that leads to it goes too.
      if (!is_inline) from = text.find_first_not_of(" \t", start_of_line(text, from));
      splices.push_back(taken_out(text, from, to, is_inline));
    }
  std::sort(splices.begin(), splices.end(), [](const Splice& a, const Splice& b) { return a.from > b.from; });
  std::string out(text);
  for (const Splice& one : splices) out.replace(one.from, one.to - one.from, one.with);
  return out;
}

} // namespace stasis::io
