// How rustfmt lays out a line: what does not fit goes a part a row, each kind of expression by a rule of its own.
#include <algorithm>
#include <optional>
#include <utility>

#include "code/layout.hpp"
#include "code/line_tree.hpp"

namespace stasis::code {
namespace {
namespace rust {

using Kind = LineTree::Kind;
using Text = std::optional<std::string>;

constexpr std::size_t widest = 100, step = 4;
// On one line, however much room there is: arguments of a call, a chain of calls, a choice; a short value of a list.
constexpr std::size_t widest_arguments = 60, widest_chain = 60, widest_choice = 50, widest_short_value = 10;

/// Where an expression stands.
struct Place {
  std::size_t indent = 0;   ///< of the rows that it goes on on
  std::size_t column = 0;   ///< where it begins
  std::size_t reserved = 0; ///< columns to be kept at its end

  std::size_t room() const noexcept { return column + reserved < widest ? widest - column - reserved : 0; }
  Place behind(std::size_t columns) const noexcept { return {indent, column + columns, reserved}; }
  Place before(std::size_t columns) const noexcept { return {indent, column, reserved + columns}; }
  Place below() const noexcept { return {indent + step, indent + step, reserved}; }
  std::string new_row() const { return '\n' + std::string(indent, ' '); }
};

bool is_one_row(const std::string& text) noexcept { return text.find('\n') == std::string::npos; }
std::size_t rows_of(const std::string& text) noexcept {
  return 1 + static_cast<std::size_t>(std::count(text.begin(), text.end(), '\n'));
}
std::string first_row(const std::string& text) { return text.substr(0, text.find('\n')); }
std::size_t last_width(const std::string& text) noexcept {
  const std::size_t at = text.rfind('\n');
  return at == std::string::npos ? text.size() : text.size() - at - 1;
}
/// True if more may follow a closing bracket that stands alone on the last row.
bool may_go_on(const std::string& text) noexcept {
  return text.find_last_not_of("()[]{}?> \n") == std::string::npos
         || text.rfind('\n') > text.find_last_not_of("()[]{}?> \n");
}

Text laid_out(const LineTree& tree, Place place);

Text if_fits(std::string text, Place place) {
  if (is_one_row(text) && text.size() > place.room()) return std::nullopt;
  return text;
}

// Signs between expressions.

struct Operands {
  std::vector<const LineTree*> all;
  std::string sign;
};

/// The operands of one sign in a row: `a + b + c` are three.
Operands operands_of(const LineTree& tree) {
  Operands of{{}, tree.text};
  const LineTree* left = &tree;
  std::vector<const LineTree*> rights;
  while (left->kind == Kind::binary && left->text == tree.text) {
    rights.push_back(&left->parts[1]);
    left = &left->parts.front();
  }
  of.all.push_back(left);
  of.all.insert(of.all.end(), rights.rbegin(), rights.rend());
  return of;
}

Text operands_on_one_row(const Operands& of, const std::vector<Text>& texts, Place place) {
  std::string text;
  for (std::size_t i = 0; i + 1 < of.all.size(); ++i) {
    if (!texts[i] || !is_one_row(*texts[i]) || text.size() > place.room()) return std::nullopt;
    text += *texts[i] + " " + of.sign + " ";
  }
  const std::size_t before = text.size();
  const Text last = laid_out(*of.all.back(), place.behind(text.size()));
  if (!last) return std::nullopt;
  text += *last;
  if (first_row(text).size() > place.room()) return std::nullopt;
  if (!is_one_row(text) && (last->starts_with('(') || before > step)) return std::nullopt;
  return text;
}

Text operands_a_row_each(const Operands& of, const std::vector<Text>& texts, Place place) {
  if (!texts.front()) return std::nullopt;
  const Place below = place.below();
  std::string text = *texts.front();
  for (std::size_t i = 1; i < of.all.size(); ++i) {
    const std::size_t offset = is_one_row(text) ? place.column : 0;
    const std::string sign = of.sign + " ";
    if (last_width(text) + offset <= below.column) {
      if (const Text snug = laid_out(*of.all[i], place.behind(of.sign.size() + 2 + last_width(text)))) {
        text += " " + sign + *snug;
        continue;
      }
    }
    const Text one = texts[i] ? texts[i] : laid_out(*of.all[i], below.behind(sign.size()));
    if (!one) return std::nullopt;
    text += below.new_row() + sign + *one;
  }
  return text;
}

Text binary(const LineTree& tree, Place place) {
  const Operands of = operands_of(tree);
  std::vector<Text> texts;
  for (std::size_t i = 0; i < of.all.size(); ++i)
    texts.push_back(laid_out(*of.all[i], i == 0 ? place : place.below().behind(of.sign.size() + 1)));
  if (Text one = operands_on_one_row(of, texts, place)) return one;
  return operands_a_row_each(of, texts, place);
}

Text cast(const LineTree& tree, Place place) {
  const Text left = laid_out(tree.parts[0], place);
  if (!left) return std::nullopt;
  const std::string type = " as " + tree.parts[1].text;
  const std::size_t width = last_width(*left) + type.size();
  const bool fits = is_one_row(*left) ? width <= place.room() : width + place.reserved <= widest;
  return fits ? *left + type : *left + place.below().new_row() + type.substr(1);
}

// Lists in brackets.

/// What is asked of a value: a field of it, or a call.
bool is_link(const LineTree& tree) noexcept {
  return tree.kind == Kind::member || (tree.kind == Kind::call && tree.parts[0].kind == Kind::member);
}

/// True if a list of it may be filled, several a row.
bool is_simple(const LineTree& tree) noexcept {
  if (tree.kind == Kind::word) return true;
  if (tree.kind == Kind::unary || tree.kind == Kind::member) return is_simple(tree.parts[0]);
  if (tree.kind == Kind::element) return is_simple(tree.parts[0]) && is_simple(tree.parts[1]);
  return tree.kind == Kind::binary && tree.text == "as" && is_simple(tree.parts[0]);
}

/// True if the only argument of a call may itself go over several rows within the call's brackets.
bool may_overflow(const LineTree& tree) noexcept {
  if (tree.kind == Kind::unary || (tree.kind == Kind::binary && tree.text == "as")) return may_overflow(tree.parts[0]);
  return tree.kind == Kind::call || tree.kind == Kind::list || tree.kind == Kind::choice;
}

/// True of a call that is the whole of an argument, except for what stands before it or turns it into another type.
bool is_call_in_call(const LineTree& tree) noexcept {
  if (tree.kind == Kind::unary || (tree.kind == Kind::binary && tree.text == "as"))
    return is_call_in_call(tree.parts[0]);
  return tree.kind == Kind::call && !is_link(tree);
}

std::string filled(const std::vector<std::string>& values, Place place) {
  std::string text;
  std::size_t column = 0;
  for (const std::string& value : values) {
    const std::size_t width = value.size() + 1;
    if (column > 0 && column + 1 + width > widest - place.indent) {
      text += place.new_row();
      column = 0;
    }
    text += (column > 0 ? " " : "") + value + ",";
    column += (column > 0 ? 1 : 0) + width;
  }
  return text;
}

/// What stands in brackets behind `head`. \param parts from `first` on
Text bracketed(const std::string& head, std::string_view brackets, const std::vector<LineTree>& parts,
               std::size_t first, Place place) {
  const std::string opening = head + brackets[0];
  const std::string closing(1, brackets[1]);
  if (first == parts.size()) return if_fits(opening + closing, place);
  const std::size_t used = last_width(head) + 2;
  const std::size_t room = place.room() > used ? place.room() - used : 0;
  const Place inside = place.behind(last_width(head) + 1).before(1);
  const bool is_alone = parts.size() == first + 1;
  if (is_alone && (head.size() < step || may_overflow(parts[first]))) {
    // A call in a call has no more room than arguments have; a chain in a call does not go over several rows.
    const std::size_t spare = is_call_in_call(parts[first]) && room > widest_arguments ? room - widest_arguments : 0;
    const Text one = laid_out(parts[first], inside.before(spare));
    const bool goes_on = one && !is_one_row(*one) && is_link(parts[first]);
    if (one && !goes_on && first_row(*one).size() <= std::min(room, widest_arguments)) return opening + *one + closing;
  }
  const Place below{place.indent + step, place.indent + step, 1};
  std::vector<std::string> values;
  std::size_t width = 0;
  bool is_flat = true;
  for (std::size_t i = first; i < parts.size(); ++i) {
    const Text one = laid_out(parts[i], below);
    if (!one) return std::nullopt;
    width += one->size() + (i > first ? 2 : 0);
    is_flat = is_flat && is_one_row(*one);
    values.push_back(*one);
  }
  std::string text = opening;
  if (is_flat && width <= (is_alone ? room : std::min(room, widest_arguments))) {
    for (std::size_t i = 0; i < values.size(); ++i) text += (i > 0 ? ", " : "") + values[i];
    return text + closing;
  }
  const bool is_filled = std::all_of(parts.begin() + static_cast<std::ptrdiff_t>(first), parts.end(), is_simple)
                         && std::all_of(values.begin(), values.end(),
                                        [](const std::string& one) { return one.size() <= widest_short_value; });
  if (is_filled)
    text += below.new_row() + filled(values, below);
  else
    for (const std::string& one : values) text += below.new_row() + one + ",";
  return text + place.new_row() + closing;
}

// Chains: what is asked of a value, one thing after the other.

Text link(const LineTree& tree, Place place) {
  if (tree.kind == Kind::member) return if_fits("." + tree.text, place);
  return bracketed("." + tree.parts[0].text, "()", tree.parts, 1, place);
}

/// The last link of a chain: behind the others, if that is at least as good as on a row of its own.
struct LastLink {
  Text text;
  bool is_on_one_row = false;
};

LastLink last_link(const LineTree& last, const std::vector<std::string>& before, std::size_t count, Place place,
                   Place below) {
  std::size_t width = 0;
  for (const std::string& one : before) width += one.size();
  const std::size_t most = count == 1 ? place.room() : std::min(place.room(), widest_chain);
  const std::size_t room = most > width ? most - width : 0;
  const bool is_flat = room > 0 && std::all_of(before.begin(), before.end(), is_one_row);
  const Text on_own = link(last, below);
  if (!is_flat) return {on_own};
  const Text behind = link(last, place.behind(width));
  if (!behind) return {on_own};
  const bool fits = first_row(*behind).size() <= room;
  if (fits && rows_of(*behind) >= 5) return {behind, true};
  if (!on_own) return {behind, fits};
  if (!fits) return {on_own};
  if (rows_of(*on_own) >= rows_of(*behind)) return {behind, true};
  return {on_own};
}

Text chain(const LineTree& tree, Place place) {
  std::vector<const LineTree*> links;
  const LineTree* root = &tree;
  for (; is_link(*root); root = root->kind == Kind::member ? &root->parts.front() : &root->parts.front().parts.front())
    links.insert(links.begin(), root);
  const std::size_t count = links.size();
  Text begin = laid_out(*root, place);
  if (!begin) return std::nullopt;
  const std::size_t offset = place.column - place.indent;
  const std::size_t shortest = offset < step ? step - offset : 0;
  while (!links.empty() && begin->size() <= shortest && is_one_row(*begin)) {
    const Text one = link(*links.front(), place.behind(begin->size()));
    if (!one) break;
    *begin += *one;
    links.erase(links.begin());
  }
  if (links.empty()) return begin;
  const bool ends_block = !is_one_row(*begin) && may_go_on(*begin);
  const Place below = ends_block ? Place{place.indent, place.indent, place.reserved} : place.below();
  std::vector<std::string> texts{*begin};
  for (std::size_t i = 0; i + 1 < links.size(); ++i) {
    const Text one = link(*links[i], below);
    if (!one) return std::nullopt;
    texts.push_back(*one);
  }
  const LastLink last = last_link(*links.back(), texts, count, place, below);
  if (!last.text) return std::nullopt;
  texts.push_back(*last.text);
  std::string text = texts.front();
  for (std::size_t i = 1; i < texts.size(); ++i) text += (last.is_on_one_row ? "" : below.new_row()) + texts[i];
  return text;
}

// Choices.

/// The brace that opens what a question decides about: on a row of its own where the question takes several, or all.
std::string brace_behind(const std::string& asked, Place place) {
  const bool fits = is_one_row(asked) ? asked.size() + 2 <= place.room() : may_go_on(asked);
  return fits ? " {" : place.new_row() + "{";
}

Text choice(const LineTree& tree, Place place, bool may_be_flat) {
  const std::string flat = on_one_line(tree);
  if (may_be_flat && tree.parts[2].kind != Kind::choice && flat.size() <= std::min(widest_choice, place.room()))
    return flat;
  const Place below{place.indent + step, place.indent + step, 0};
  const Place behind_if{place.indent, place.column + 3, 0};
  const Text asked = laid_out(tree.parts[0], behind_if);
  const Text yes = laid_out(tree.parts[1], below);
  if (!asked || !yes) return std::nullopt;
  const std::string opening = brace_behind(*asked, behind_if);
  std::string text = "if " + *asked + opening + below.new_row() + *yes + place.new_row() + "} else ";
  const bool goes_on = tree.parts[2].kind == Kind::choice;
  const Text no =
      goes_on ? choice(tree.parts[2], {place.indent, place.indent + 7, 0}, false) : laid_out(tree.parts[2], below);
  if (!no) return std::nullopt;
  return text + (goes_on ? *no : "{" + below.new_row() + *no + place.new_row() + "}");
}

/// One of an array: what stands in its brackets goes on a row of its own where it does not fit behind.
Text element(const LineTree& tree, Place place) {
  const Text one = laid_out(tree.parts[0], place);
  if (!one) return std::nullopt;
  const std::size_t offset = last_width(*one) + 1;
  const Place behind{place.indent, (is_one_row(*one) ? place.column : 0) + offset, place.reserved + 1};
  const Text at = laid_out(tree.parts[1], behind);
  if (at && is_one_row(*at)) return *one + "[" + *at + "]";
  const Text below = laid_out(tree.parts[1], place.below().behind(1).before(1));
  if (below && (is_one_row(*below) || !at)) return *one + place.below().new_row() + "[" + *below + "]";
  return at ? Text(*one + "[" + *at + "]") : std::nullopt;
}

Text laid_out(const LineTree& tree, Place place) {
  switch (tree.kind) {
  case Kind::word: return if_fits(tree.text, place);
  case Kind::unary: {
    const Text one = laid_out(tree.parts[0], place.behind(tree.text.size()));
    return one ? Text(tree.text + *one) : std::nullopt;
  }
  case Kind::binary: return tree.text == "as" ? cast(tree, place) : binary(tree, place);
  case Kind::choice: return choice(tree, place, true);
  case Kind::brackets: {
    const Text one = laid_out(tree.parts[0], place.behind(1).before(1));
    return one ? Text("(" + *one + ")") : std::nullopt;
  }
  case Kind::list: return bracketed("", "[]", tree.parts, 0, place);
  case Kind::repeated: return if_fits(on_one_line(tree), place);
  case Kind::element: return element(tree, place);
  case Kind::call:
    return is_link(tree) ? chain(tree, place) : bracketed(on_one_line(tree.parts[0]), "()", tree.parts, 1, place);
  case Kind::member: return chain(tree, place);
  }
  return std::nullopt;
}

/// What is assigned: behind the sign, or below it where that saves rows.
Text assigned(const LineTree& tree, Place place) {
  const Text behind = laid_out(tree, place.behind(1));
  if (behind && is_one_row(*behind) && behind->size() + 1 <= place.room()) return " " + *behind;
  const Place below = place.below();
  const Text next = laid_out(tree, below);
  if (!next) return behind ? Text(" " + *behind) : std::nullopt;
  if (!behind) return below.new_row() + *next;
  const bool next_fits = first_row(*next).size() <= below.room();
  const auto ends_first = [](const std::string& text, char sign) { return first_row(text).back() == sign; };
  const bool opens_worse = [&] {
    for (const char sign : {'(', '{', '['})
      if (ends_first(*behind, sign) && !ends_first(*next, sign)) return true;
    return false;
  }();
  if (next_fits && (is_one_row(*next) || rows_of(*behind) > rows_of(*next) + 1 || opens_worse))
    return below.new_row() + *next;
  return " " + *behind;
}

Text statement(std::string_view line, const std::vector<Token>& tokens, std::size_t indent) {
  const Place place{indent, indent, 1};
  const std::size_t end = tokens.size() - 1;
  const auto tree_from = [&](std::size_t begin) { return line_tree(tokens, begin, end); };
  if (tokens.back().text == "{") { // a question, of "if", "} else if" or "while"
    const auto word = std::find_if(tokens.begin(), tokens.end(),
                                   [](const Token& one) { return one.text == "if" || one.text == "while"; });
    const auto tree =
        word == tokens.end() ? std::nullopt : tree_from(static_cast<std::size_t>(word - tokens.begin()) + 1);
    if (!tree) return std::nullopt;
    const std::string head(line.substr(0, line.find(word->text) + word->text.size() + 1));
    const Place behind_word{indent, indent + head.size(), 0};
    const Text asked = laid_out(*tree, behind_word);
    if (!asked) return std::nullopt;
    return head + *asked + brace_behind(*asked, behind_word);
  }
  if (tokens.back().text != ";") return std::nullopt;
  if (tokens.front().text == "return") {
    const auto tree = tree_from(1);
    const Text one = tree ? laid_out(*tree, place.behind(7)) : std::nullopt;
    return one ? Text("return " + *one + ";") : std::nullopt;
  }
  const std::size_t sign = place_outside_brackets(tokens, "=");
  if (sign == tokens.size()) {
    const auto tree = tree_from(0);
    const Text one = tree ? laid_out(*tree, place) : std::nullopt;
    return one ? Text(*one + ";") : std::nullopt;
  }
  const auto tree = tree_from(sign + 1);
  const std::string head(line.substr(0, line.find(" = ") + 2));
  const Text one = tree ? assigned(*tree, place.behind(head.size())) : std::nullopt;
  return one ? Text(head + *one + ";") : std::nullopt;
}

} // namespace rust
} // namespace

std::vector<std::string> rust_layout(std::string_view line, std::size_t indent) {
  const std::vector<Token> tokens = tokens_of(line);
  const rust::Text text = tokens.size() < 2 ? std::nullopt : rust::statement(line, tokens, indent);
  if (!text) return {std::string(line)};
  return rows_against_first(*text, indent);
}

} // namespace stasis::code
