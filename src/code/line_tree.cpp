#include "code/line_tree.hpp"

#include <array>
#include <utility>

namespace stasis::code {
namespace {

/// Reads an expression; `is_sound` falls where the tokens make none.
class TreeReader {
public:
  TreeReader(const std::vector<Token>& tokens, std::size_t begin, std::size_t end)
      : tokens_(tokens), at_(begin), end_(end) {}

  std::optional<LineTree> read() {
    LineTree tree = choice();
    if (!is_sound_ || at_ != end_) return std::nullopt;
    return tree;
  }

private:
  bool is_at(std::string_view text) const { return at_ < end_ && tokens_[at_].text == text; }
  bool take(std::string_view text) {
    if (!is_at(text)) return false;
    ++at_;
    return true;
  }
  void want(std::string_view text) { is_sound_ = take(text) && is_sound_; }

  LineTree choice() {
    LineTree tree = binary(1);
    if (!take("?")) return tree;
    LineTree yes = choice();
    want(":");
    LineTree no = choice();
    return {LineTree::Kind::choice, "?", {std::move(tree), std::move(yes), std::move(no)}};
  }

  LineTree binary(int least) {
    LineTree tree = unary();
    while (is_sound_ && at_ < end_) {
      const int tightness = tightness_of(tokens_[at_].text);
      if (tightness < least || tightness == 0) break;
      const std::string sign = tokens_[at_++].text;
      LineTree right = sign == "as" ? word() : binary(tightness + 1);
      tree = {LineTree::Kind::binary, sign, {std::move(tree), std::move(right)}};
    }
    return tree;
  }

  LineTree unary() {
    for (const std::string_view sign : {"-", "!", "&"})
      if (take(sign)) {
        std::string text(sign);
        if (sign == "&" && take("mut")) text += "mut ";
        return {LineTree::Kind::unary, text, {unary()}};
      }
    return behind(primary());
  }

  LineTree word() {
    if (at_ >= end_ || tokens_[at_].kind != Token::Kind::word) {
      is_sound_ = false;
      return {};
    }
    LineTree tree{LineTree::Kind::word, tokens_[at_++].text, {}};
    if (tree.text == "new" && at_ < end_) tree.text += " " + tokens_[at_++].text;
    while (is_at("::") && at_ + 1 < end_) {
      tree.text += "::" + tokens_[at_ + 1].text;
      at_ += 2;
    }
    return tree;
  }

  LineTree primary() {
    if (take("(")) {
      LineTree inner = choice();
      want(")");
      return {LineTree::Kind::brackets, "(", {std::move(inner)}};
    }
    if (take("[")) return list();
    if (take("if")) {
      LineTree asked = binary(1);
      want("{");
      LineTree yes = choice();
      want("}");
      want("else");
      if (is_at("if")) {
        LineTree other = primary();
        return {LineTree::Kind::choice, "if", {std::move(asked), std::move(yes), std::move(other)}};
      }
      want("{");
      LineTree no = choice();
      want("}");
      return {LineTree::Kind::choice, "if", {std::move(asked), std::move(yes), std::move(no)}};
    }
    return word();
  }

  LineTree list() {
    LineTree tree{LineTree::Kind::list, "[", {}};
    while (is_sound_ && !is_at("]")) {
      tree.parts.push_back(choice());
      if (take(";")) {
        tree.kind = LineTree::Kind::repeated;
        tree.parts.push_back(choice());
      }
      if (!take(",")) break;
    }
    want("]");
    return tree;
  }

  LineTree behind(LineTree tree) {
    while (is_sound_ && at_ < end_) {
      if (take("(")) {
        LineTree call{LineTree::Kind::call, "(", {std::move(tree)}};
        while (is_sound_ && !is_at(")")) {
          call.parts.push_back(choice());
          if (!take(",")) break;
        }
        want(")");
        tree = std::move(call);
      } else if (take("[")) {
        LineTree place = choice();
        want("]");
        tree = {LineTree::Kind::element, "[", {std::move(tree), std::move(place)}};
      } else if (take(".")) {
        if (at_ >= end_) is_sound_ = false;
        if (!is_sound_) break;
        tree = {LineTree::Kind::member, tokens_[at_++].text, {std::move(tree)}};
      } else {
        break;
      }
    }
    return tree;
  }

  const std::vector<Token>& tokens_;
  std::size_t at_, end_;
  bool is_sound_ = true;
};

std::string listed_parts(const std::vector<LineTree>& parts, std::size_t begin, std::string_view between) {
  std::string out;
  for (std::size_t i = begin; i < parts.size(); ++i)
    out += (i > begin ? std::string(between) : "") + on_one_line(parts[i]);
  return out;
}

} // namespace

int tightness_of(std::string_view sign) noexcept {
  constexpr std::array<std::pair<std::string_view, int>, 22> all{
      {{"||", 1}, {"&&", 2}, {"==", 3}, {"!=", 3}, {"===", 3}, {"!==", 3}, {"<", 4},  {">", 4},
       {"<=", 4}, {">=", 4}, {"|", 5},  {"^", 6},  {"&", 7},   {"<<", 8},  {">>", 8}, {"+", 9},
       {"-", 9},  {"*", 10}, {"/", 10}, {"%", 10}, {"as", 12}, {"", 0}}};
  for (const auto& [text, tightness] : all)
    if (text == sign) return tightness;
  return 0;
}

std::optional<LineTree> line_tree(const std::vector<Token>& tokens, std::size_t begin, std::size_t end) {
  if (begin >= end) return std::nullopt;
  return TreeReader(tokens, begin, end).read();
}

std::string on_one_line(const LineTree& tree) {
  const auto part = [&](std::size_t i) { return on_one_line(tree.parts[i]); };
  switch (tree.kind) {
  case LineTree::Kind::word: return tree.text;
  case LineTree::Kind::unary: return tree.text + part(0);
  case LineTree::Kind::binary: return part(0) + " " + tree.text + " " + part(1);
  case LineTree::Kind::choice:
    if (tree.text == "?") return part(0) + " ? " + part(1) + " : " + part(2);
    if (tree.parts[2].kind == LineTree::Kind::choice) return "if " + part(0) + " { " + part(1) + " } else " + part(2);
    return "if " + part(0) + " { " + part(1) + " } else { " + part(2) + " }";
  case LineTree::Kind::brackets: return "(" + part(0) + ")";
  case LineTree::Kind::list: return "[" + listed_parts(tree.parts, 0, ", ") + "]";
  case LineTree::Kind::repeated: return "[" + listed_parts(tree.parts, 0, "; ") + "]";
  case LineTree::Kind::call: return part(0) + "(" + listed_parts(tree.parts, 1, ", ") + ")";
  case LineTree::Kind::element: return part(0) + "[" + part(1) + "]";
  case LineTree::Kind::member: return part(0) + "." + tree.text;
  }
  return {};
}

} // namespace stasis::code
