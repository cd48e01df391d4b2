// How prettier lays out a line: every pair of brackets, sum and choice is a group that is on one line or broken.
#include <algorithm>
#include <cctype>
#include <cstdint>
#include <optional>
#include <utility>

#include "code/flow.hpp"
#include "code/layout.hpp"
#include "code/line_tree.hpp"

namespace stasis::code {
namespace {
namespace javascript {

using Kind = LineTree::Kind;

constexpr std::size_t widest = 80, step = 2, short_argument = 20;

/// What an expression is a part of, as far as that decides how it is broken.
enum class Part : std::uint8_t {
  of_other,
  assigned,
  returned,
  asked,   ///< by "if" or "while"
  negated, ///< or what a field is taken of
  of_choice,
  of_like, ///< an operand of a sign of the same sort: of logic, or of numbers
};

bool is_number(const LineTree& tree) noexcept {
  return tree.kind == Kind::word && std::isdigit(static_cast<unsigned char>(tree.text.front())) != 0;
}
bool is_logic(std::string_view sign) noexcept { return sign == "&&" || sign == "||"; }
bool is_product(std::string_view sign) noexcept { return sign == "*" || sign == "/" || sign == "%"; }

/// True if `a inner b outer c` reads as one row of operands.
bool is_one_row(std::string_view outer, std::string_view inner) noexcept {
  if (tightness_of(outer) != tightness_of(inner) || tightness_of(outer) == tightness_of("==")) return false;
  if (is_product(outer)) return outer == inner && outer != "%";
  return outer != "<<" && outer != ">>";
}

bool needs_brackets(const LineTree& outer, const LineTree& inner, bool is_right) noexcept {
  if (inner.kind == Kind::choice) return true;
  if (inner.kind != Kind::binary) return false;
  const int out = tightness_of(outer.text), in = tightness_of(inner.text);
  if (out > in || (out == in && (is_right || !is_one_row(outer.text, inner.text)))) return true;
  if (is_logic(outer.text) && is_logic(inner.text)) return outer.text != inner.text;
  if (inner.text == "%") return outer.text == "+" || outer.text == "-";
  return outer.text == "^" || outer.text == "&" || outer.text == "|" || outer.text == "<<" || outer.text == ">>";
}

LineTree in_brackets(LineTree tree) { return {Kind::brackets, "(", {std::move(tree)}}; }

/// The same with round brackets where they help, and nowhere else.
LineTree with_brackets(LineTree tree) {
  while (tree.kind == Kind::brackets) {
    LineTree inner = std::move(tree.parts[0]);
    tree = std::move(inner);
  }
  for (LineTree& part : tree.parts) part = with_brackets(std::move(part));
  const auto is_compound = [](const LineTree& one) { return one.kind == Kind::binary || one.kind == Kind::choice; };
  switch (tree.kind) {
  case Kind::binary:
    for (std::size_t i = 0; i < 2; ++i)
      if (needs_brackets(tree, tree.parts[i], i == 1)) tree.parts[i] = in_brackets(std::move(tree.parts[i]));
    break;
  case Kind::choice:
    if (tree.parts[0].kind == Kind::choice) tree.parts[0] = in_brackets(std::move(tree.parts[0]));
    break;
  case Kind::unary:
  case Kind::call:
  case Kind::element:
  case Kind::member:
    if (is_compound(tree.parts[0])) tree.parts[0] = in_brackets(std::move(tree.parts[0]));
    break;
  case Kind::word:
  case Kind::brackets:
  case Kind::list:
  case Kind::repeated: break;
  }
  return tree;
}

Flow flow_of(const LineTree& tree, Part part);

/// True if an operand is itself of such a sign, in brackets or not.
bool is_like(const LineTree& tree, const LineTree& operand) noexcept {
  const LineTree& inner = operand.kind == Kind::brackets ? operand.parts[0] : operand;
  return inner.kind == Kind::binary && is_logic(inner.text) == is_logic(tree.text);
}

void add_operands(const LineTree& tree, bool is_asked, bool is_whole, std::vector<Flow>& to) {
  const LineTree& left = tree.parts[0];
  const LineTree& right = tree.parts[1];
  if (left.kind == Kind::binary && is_one_row(tree.text, left.text))
    add_operands(left, is_asked, false, to);
  else
    to.push_back(flow_group({flow_of(left, is_like(tree, left) ? Part::of_like : Part::of_other)}));
  std::vector<Flow> behind{flow_text(tree.text), flow_blank(),
                           flow_of(right, is_like(tree, right) ? Part::of_like : Part::of_other)};
  const bool is_group = !(is_asked && is_logic(tree.text)) && is_whole && !is_like(tree, left) && !is_like(tree, right);
  to.push_back(flow_text(" "));
  to.push_back(is_group ? flow_group(std::move(behind)) : flow_all(std::move(behind)));
}

Flow operands(const LineTree& tree, Part part) {
  std::vector<Flow> all;
  add_operands(tree, part == Part::asked, part != Part::of_like, all);
  if (part == Part::asked) return flow_all(std::move(all));
  if (part == Part::negated)
    return flow_group({flow_indented({flow_nothing(), flow_all(std::move(all))}), flow_nothing()});
  if (part == Part::returned || part == Part::of_choice || part == Part::assigned) return flow_group(std::move(all));
  Flow first = std::move(all.front());
  all.erase(all.begin());
  return flow_group({std::move(first), flow_indented(std::move(all))});
}

Flow in_row(const std::vector<LineTree>& parts, std::size_t first, std::string opening, std::string closing) {
  if (first == parts.size()) return flow_text(opening + closing);
  std::vector<Flow> inside{flow_nothing()};
  for (std::size_t i = first; i < parts.size(); ++i) {
    if (i > first) {
      inside.push_back(flow_text(","));
      inside.push_back(flow_blank());
    }
    inside.push_back(flow_of(parts[i], Part::of_other));
  }
  return flow_group({flow_text(std::move(opening)), flow_indented(std::move(inside)), flow_if_broken(","),
                     flow_nothing(), flow_text(std::move(closing))});
}

Flow choice(const LineTree& tree, Part part, bool is_other_of_choice) {
  const Part inside = part == Part::assigned || part == Part::of_like ? Part::of_choice : Part::of_other;
  const LineTree& no = tree.parts[2];
  std::vector<Flow> answers{flow_blank(), flow_text("? "), flow_indented({flow_of(tree.parts[1], inside)}),
                            flow_blank(), flow_text(": ")};
  answers.push_back(no.kind == Kind::choice ? choice(no, part, true) : flow_indented({flow_of(no, inside)}));
  Flow asked = flow_of(tree.parts[0], inside);
  if (is_other_of_choice) return flow_all({flow_indented({std::move(asked)}), flow_all(std::move(answers))});
  return flow_group({std::move(asked), flow_indented(std::move(answers))});
}

Flow flow_of(const LineTree& tree, Part part) {
  switch (tree.kind) {
  case Kind::word: return flow_text(tree.text);
  case Kind::unary: return flow_all({flow_text(tree.text), flow_of(tree.parts[0], Part::negated)});
  case Kind::binary: return operands(tree, part);
  case Kind::choice: return choice(tree, part, false);
  case Kind::brackets: return flow_all({flow_text("("), flow_of(tree.parts[0], part), flow_text(")")});
  case Kind::list:
  case Kind::repeated: return in_row(tree.parts, 0, "[", "]");
  case Kind::call: return flow_all({flow_of(tree.parts[0], Part::of_other), in_row(tree.parts, 1, "(", ")")});
  case Kind::element: {
    const LineTree& place = tree.parts[1];
    Flow at = flow_of(place, Part::of_other);
    Flow behind = is_number(place) ? flow_all({flow_text("["), std::move(at), flow_text("]")})
                                   : flow_group({flow_text("["), flow_indented({flow_nothing(), std::move(at)}),
                                                 flow_nothing(), flow_text("]")});
    return flow_all({flow_of(tree.parts[0], Part::of_other), std::move(behind)});
  }
  case Kind::member: return flow_all({flow_of(tree.parts[0], Part::negated), flow_text("." + tree.text)});
  }
  return {};
}

// What is assigned.

/// Fields of a name, one in the other.
bool is_path(const LineTree& tree) noexcept {
  if (tree.kind != Kind::member && tree.kind != Kind::element) return false;
  return tree.parts[0].kind == Kind::word || is_path(tree.parts[0]);
}

/// A call that would not be shorter if it were broken at its brackets.
bool gains_nothing(const LineTree& tree, bool is_inside) noexcept {
  if (tree.kind == Kind::word) return is_inside && !tree.text.starts_with("new ");
  if (tree.kind == Kind::member || tree.kind == Kind::element) return gains_nothing(tree.parts[0], true);
  if (tree.kind != Kind::call || tree.parts.size() > 2) return false;
  const LineTree* only = tree.parts.size() == 2 ? &tree.parts[1] : nullptr;
  while (only != nullptr && only->kind == Kind::unary) only = &only->parts.front();
  if (only != nullptr && (only->kind != Kind::word || only->text.size() > short_argument)) return false;
  return gains_nothing(tree.parts[0], true);
}

bool may_break(const LineTree& target) noexcept {
  if (target.kind == Kind::element) {
    const LineTree& place = target.parts[1];
    if (!is_number(place)) return true;
  }
  return !target.parts.empty() && may_break(target.parts[0]);
}

/// \param may_break_before true if what is assigned to may itself be broken
Flow assigned(const LineTree& value, bool may_break_before) {
  const LineTree* plain = &value;
  while (plain->kind == Kind::unary) plain = &plain->parts.front();
  const bool is_flag = value.text == "true" || value.text == "false";
  const bool goes_below = value.kind == Kind::binary
                          || (value.kind == Kind::choice && value.parts[0].kind == Kind::binary) || is_path(*plain)
                          || plain->text.starts_with('"');
  Flow right = flow_of(value, Part::assigned);
  if (goes_below) return flow_group({flow_indented({flow_blank(), std::move(right)})});
  if (is_number(value) || is_flag) return flow_all({flow_text(" "), std::move(right)});
  if (gains_nothing(value, false)) return flow_group({flow_indented({flow_blank(), std::move(right)})});
  if (may_break_before) return flow_all({flow_text(" "), flow_group({std::move(right)})});
  Flow gap = flow_group({flow_indented({flow_blank()})});
  gap.number = 1;
  return flow_all({std::move(gap), {Flow::Kind::indented_with, {}, {flow_group({std::move(right)})}, 1}});
}

/// Several numbers fill their rows.
std::optional<std::string> filled(const LineTree& tree, const std::string& head, std::size_t indent) {
  const auto is_signed_number = [](const LineTree& one) {
    const LineTree& plain = one.kind == Kind::unary ? one.parts[0] : one;
    return is_number(plain);
  };
  if (tree.kind != Kind::list || tree.parts.size() < 2
      || !std::all_of(tree.parts.begin(), tree.parts.end(), is_signed_number))
    return std::nullopt;
  const std::string flat = head + " " + on_one_line(tree) + ";";
  if (indent + flat.size() <= widest) return flat;
  std::string text = head + " [";
  std::size_t column = widest;
  for (const LineTree& part : tree.parts) {
    const std::string one = on_one_line(part) + ",";
    if (column + 1 + one.size() > widest) {
      text += '\n' + std::string(indent + step, ' ');
      column = indent + step;
    } else {
      text += ' ';
      ++column;
    }
    text += one;
    column += one.size();
  }
  return text + '\n' + std::string(indent, ' ') + "];";
}

using Laid = std::optional<std::string>;

std::string shown(const Flow& flow, std::size_t indent) { return flowed(flow, widest, indent, step); }

/// A question, of "if", "} else if" or "while".
Laid question(std::string_view line, const std::vector<Token>& tokens, std::size_t indent) {
  const auto word = std::find_if(tokens.begin(), tokens.end(),
                                 [](const Token& one) { return one.text == "if" || one.text == "while"; });
  if (word == tokens.end()) return std::nullopt;
  const auto tree = line_tree(tokens, static_cast<std::size_t>(word - tokens.begin()) + 2, tokens.size() - 2);
  if (!tree) return std::nullopt;
  const std::string head(line.substr(0, line.find(word->text) + word->text.size() + 2));
  Flow asked = flow_of(with_brackets(*tree), Part::asked);
  return shown(
      flow_all({flow_text(head), flow_group({flow_indented({flow_nothing(), std::move(asked)}), flow_nothing()}),
                flow_text(") {")}),
      indent);
}

Laid statement(std::string_view line, const std::vector<Token>& tokens, std::size_t indent) {
  const std::size_t end = tokens.size() - 1;
  const auto tree_from = [&](std::size_t begin) { return line_tree(tokens, begin, end); };
  if (tokens.back().text == "{") return question(line, tokens, indent);
  if (tokens.back().text != ";") return std::nullopt;
  if (tokens.front().text == "return") {
    const auto read = tree_from(1);
    if (!read) return std::nullopt;
    const LineTree tree = with_brackets(*read);
    Flow value = flow_of(tree, Part::returned);
    if (tree.kind == Kind::binary)
      value = flow_group({flow_if_broken("("), flow_indented({flow_nothing(), std::move(value)}), flow_nothing(),
                          flow_if_broken(")")});
    return shown(flow_all({flow_text("return "), std::move(value), flow_text(";")}), indent);
  }
  const std::size_t sign = place_outside_brackets(tokens, "=");
  if (sign == tokens.size()) {
    const auto tree = tree_from(0);
    if (!tree) return std::nullopt;
    return shown(flow_all({flow_of(with_brackets(*tree), Part::of_other), flow_text(";")}), indent);
  }
  const auto tree = tree_from(sign + 1);
  if (!tree) return std::nullopt;
  const std::string head(line.substr(0, line.find(" = ") + 2));
  const LineTree value = with_brackets(*tree);
  if (const Laid list = filled(value, head, indent)) return list;
  const auto target = line_tree(tokens, 0, sign);
  Flow left = target ? flow_group({flow_of(with_brackets(*target), Part::of_other), flow_text(" =")}) : flow_text(head);
  Flow whole = flow_group({std::move(left), assigned(value, target && may_break(*target)), flow_text(";")});
  return shown(whole, indent);
}

/// The first line of a function, a parameter a row where they do not fit.
Laid signature(std::string_view line, std::size_t indent) {
  if (indent + line.size() <= widest) return std::nullopt;
  const std::size_t opening = line.find('('), closing = line.rfind(')');
  std::string text(line.substr(0, opening + 1));
  for (std::size_t at = opening + 1; at < closing;) {
    const std::size_t comma = std::min(line.find(',', at), closing);
    text += "\n" + std::string(indent + step, ' ') + std::string(line.substr(at, comma - at)) + ",";
    at = comma + 2;
  }
  return text + "\n" + std::string(indent, ' ') + std::string(line.substr(closing));
}

} // namespace javascript
} // namespace

std::vector<std::string> javascript_layout(std::string_view line, std::size_t indent) {
  const std::vector<Token> tokens = tokens_of(line);
  if (tokens.size() < 3) return {std::string(line)};
  const bool is_function =
      std::any_of(tokens.begin(), tokens.begin() + 2, [](const Token& one) { return one.text == "function"; });
  const javascript::Laid text =
      is_function ? javascript::signature(line, indent) : javascript::statement(line, tokens, indent);
  if (!text) return {std::string(line)};
  return rows_against_first(*text, indent);
}

} // namespace stasis::code
