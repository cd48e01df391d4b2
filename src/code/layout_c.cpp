// How clang-format breaks a line in its own style: of all ways the one that costs least, where a break costs the more
// the deeper it is inside brackets and the tighter the sign binds that it stands behind. What goes on below is aligned
// with what it belongs to.
#include <algorithm>
#include <map>
#include <queue>
#include <set>
#include <tuple>
#include <utility>

#include "code/layout.hpp"
#include "code/line_tokens.hpp"

namespace stasis::code {
namespace {
namespace c_family {

constexpr std::size_t widest = 80, going_on = 4;
constexpr std::size_t per_level = 20, at_first_argument = 19, at_first_parameter = 100, at_return_type = 60,
                      behind_question = 1000, first_of_level = 15, too_wide = 1000000;

/// How tightly signs bind, as the price of a break behind them: after commas, assignments and choices.
enum Tightness : std::size_t { no_sign = 0, comma = 1, assignment = 2, choice = 3 };

std::size_t tightness_of_sign(std::string_view sign) noexcept {
  constexpr std::pair<std::string_view, std::size_t> all[] = {
      {",", comma}, {"=", assignment}, {"?", choice}, {":", choice}, {"||", 4},  {"&&", 5},  {"==", 9},
      {"!=", 9},    {"<", 10},         {">", 10},     {"<=", 10},    {">=", 10}, {"<<", 12}, {">>", 12},
      {"+", 13},    {"-", 13},         {"*", 14},     {"/", 14},     {"%", 14}};
  for (const auto& [text, tightness] : all)
    if (text == sign) return tightness;
  return no_sign;
}

struct Part {
  Token token;
  std::size_t sign = no_sign;      ///< between two expressions
  std::size_t depth = 1;           ///< inside brackets; square ones count ten
  std::vector<std::size_t> begins; ///< how tight the expressions are that begin here, the outer ones first
  std::size_t ends = 0;            ///< how many end here
  std::size_t operands = 0;        ///< of a sign: how many of its like are joined
  std::size_t arguments = 0;       ///< of an opening bracket
  bool may_break = false;          ///< before it
  std::size_t price = 0;           ///< of that
};

/// An open bracket or expression.
struct Level {
  std::size_t indent = 0, last_blank = 0, question = 0; // columns; the last of "?", if there is one
  bool parts_arguments = false, is_whole = false, is_whole_operand = false;
  bool is_bracket = false, has_break = false;

  auto key() const noexcept {
    return std::tuple(indent, last_blank, question, parts_arguments, is_whole, is_whole_operand, is_bracket, has_break);
  }
  bool operator<(const Level& other) const noexcept { return key() < other.key(); }
};

struct State {
  std::size_t next = 0, column = 0;
  std::vector<Level> levels;

  bool operator<(const State& other) const {
    return std::tie(next, column, levels) < std::tie(other.next, other.column, other.levels);
  }
};

struct Node {
  State state;
  std::size_t before = 0; ///< the node that it comes from
  bool is_below = false;  ///< its last token begins a row
};

class Breaker {
public:
  Breaker(std::string_view line, std::size_t indent, bool is_function) : indent_(indent), is_function_(is_function) {
    for (Token& token : tokens_of(line)) {
      parts_.emplace_back();
      parts_.back().token = std::move(token);
    }
    note_signs();
    note_expressions();
    note_prices();
  }

  std::string laid_out() {
    std::vector<Node> nodes{{first(), 0, false}};
    using Item = std::tuple<std::size_t, std::size_t, std::size_t>; // price, order, node
    std::priority_queue<Item, std::vector<Item>, std::greater<>> queue;
    std::set<State> seen;
    std::size_t order = 0;
    queue.emplace(0, order, 0);
    while (!queue.empty()) {
      const auto [price, at, node] = queue.top();
      queue.pop();
      const State state = nodes[node].state;
      if (state.next == parts_.size()) return text_of(nodes, node);
      if (!seen.insert(state).second) continue;
      for (const bool is_below : {false, true}) {
        if (is_below ? !may_break(state) : must_break(state)) continue;
        State then = state;
        const std::size_t more = put(then, is_below);
        nodes.push_back({std::move(then), node, is_below});
        queue.emplace(price + more, ++order, nodes.size() - 1);
      }
    }
    return {};
  }

private:
  bool is_sign(std::size_t i) const { return parts_[i].sign != no_sign; }
  const std::string& text(std::size_t i) const { return parts_[i].token.text; }
  bool opens(std::size_t i) const { return parts_[i].token.kind == Token::Kind::opens; }
  bool closes(std::size_t i) const { return parts_[i].token.kind == Token::Kind::closes; }

  void note_signs() {
    for (std::size_t i = 1; i < parts_.size(); ++i) {
      const bool is_behind_value = is_value(i - 1);
      const bool is_comma = parts_[i].token.kind == Token::Kind::comma;
      const bool is_of_type = is_function_ || (text(i) != "," && !parts_[i].token.is_spaced); // static_cast<int>
      if (is_comma || (is_behind_value && !is_of_type)) parts_[i].sign = tightness_of_sign(text(i));
    }
  }

  /// The first token of the operand chain that the sign at `at` joins.
  std::size_t begin_of(std::size_t at) const {
    std::size_t open = 0, i = at;
    while (i > 0) {
      const std::size_t before = i - 1;
      if (closes(before)) ++open;
      if (opens(before) && open-- == 0) break;
      if (open == 0 && (text(before) == "return" || (is_sign(before) && parts_[before].sign < parts_[at].sign))) break;
      i = before;
    }
    return i;
  }
  std::size_t end_of(std::size_t at) const {
    std::size_t open = 0, i = at;
    while (i + 1 < parts_.size()) {
      const std::size_t after = i + 1;
      if (opens(after)) ++open;
      if (closes(after) && open-- == 0) break;
      if (open == 0
          && (text(after) == ";" || text(after) == "{" || (is_sign(after) && parts_[after].sign < parts_[at].sign)))
        break;
      i = after;
    }
    return i;
  }

  void note_expressions() {
    std::map<std::pair<std::size_t, std::size_t>, std::pair<std::size_t, std::size_t>>
        chains; // begin, tightness: end, count
    for (std::size_t i = 0; i < parts_.size(); ++i) {
      if (!is_sign(i)) continue;
      auto& [end, count] = chains[{begin_of(i), parts_[i].sign}];
      end = end_of(i);
      ++count;
    }
    for (const auto& [from, to] : chains) {
      parts_[from.first].begins.push_back(from.second);
      ++parts_[to.first].ends;
    }
    for (std::size_t i = 0; i < parts_.size(); ++i)
      if (is_sign(i)) parts_[i].operands = chains[{begin_of(i), parts_[i].sign}].second + 1;
  }

  void note_prices() {
    std::size_t depth = 1;
    std::vector<std::size_t> open;
    for (std::size_t i = 0; i < parts_.size(); ++i) {
      if (closes(i)) {
        depth -= text(i) == "]" ? std::size_t{10} : std::size_t{1};
        open.pop_back();
      }
      parts_[i].depth = depth;
      if (i > 0) note_price(i);
      if (!open.empty() && parts_[i].sign == comma) ++parts_[open.back()].arguments;
      if (opens(i)) {
        depth += text(i) == "[" ? std::size_t{10} : std::size_t{1};
        open.push_back(i);
        parts_[i].arguments = 1;
      }
    }
    for (std::size_t i = 1; i < parts_.size(); ++i)
      if (opens(i - 1) && text(i - 1) == "(" && !closes(i) && !is_behind_cast(i - 1))
        allow(i, price_behind_bracket(i - 1));
  }
  /// True of what `(float)` turns into another type.
  bool is_behind_cast(std::size_t bracket) const {
    return bracket > 2 && text(bracket - 1) == ")" && text(bracket - 3) == "("
           && (bracket == 3 || !is_value(bracket - 4));
  }
  bool is_value(std::size_t i) const {
    return closes(i) || (parts_[i].token.kind == Token::Kind::word && text(i) != "return");
  }
  std::size_t price_behind_bracket(std::size_t bracket) const {
    if (is_function_) return at_first_parameter;
    if (bracket > 0 && (text(bracket - 1) == "if" || text(bracket - 1) == "while" || text(bracket - 1) == "for"))
      return behind_question;
    return at_first_argument;
  }
  void allow(std::size_t i, std::size_t price) {
    parts_[i].may_break = true;
    parts_[i].price = per_level * parts_[i].depth + price;
  }
  void note_price(std::size_t i) {
    const std::size_t before = parts_[i - 1].sign, here = parts_[i].sign;
    if (here == choice) return allow(i, choice); // a choice breaks before its signs, all else behind them
    if (before != no_sign && before != choice) return allow(i, before);
    if (is_function_ && i + 1 < parts_.size() && text(i + 1) == "(" && parts_[i].depth == 1) allow(i, at_return_type);
  }

  State first() const {
    State state{0, indent_, {{indent_, indent_}}};
    put_behind(state, 0);
    return state;
  }

  bool may_break(const State& state) const {
    const Level& level = state.levels.back();
    const Part& part = parts_[state.next];
    return part.may_break && !level.is_whole
           && (!level.is_whole_operand || is_sign(state.next) || is_sign(state.next - 1));
  }
  bool must_break(const State& state) const {
    const bool is_next_argument = parts_[state.next - 1].sign == comma;
    const bool is_question = parts_[state.next].sign == choice;
    const bool is_right = is_right_of_broken(state.next);
    return (is_next_argument || is_question || is_right) && state.levels.back().parts_arguments
           && parts_[state.next].may_break;
  }

  /// True for what stands behind a sign whose left side would hide it, if that took several rows; of a comparison only
  /// where that side has signs itself.
  bool is_right_of_broken(std::size_t i) const {
    const std::size_t sign = parts_[i - 1].sign;
    if (sign <= choice || is_sign(i)) return false;
    const bool is_comparison = sign == 9 || sign == 10;
    return !is_comparison || (i > 1 && parts_[i - 2].ends > 0);
  }

  std::size_t put(State& state, bool is_below) const {
    const std::size_t i = state.next;
    std::size_t price = 0;
    if (is_below) {
      price = parts_[i].price + (state.levels.back().has_break ? 0 : first_of_level);
      put_below(state, i);
    } else {
      put_on_row(state, i);
    }
    const std::size_t begin = state.column;
    put_behind(state, i);
    const std::size_t over = state.column > widest ? state.column - std::max(begin, widest) : 0;
    return price + over * too_wide;
  }

  std::size_t column_below(const Level& level, std::size_t i) const {
    if (text(i) == ":" && level.question > 0) return level.question;
    return level.indent == indent_ ? indent_ + going_on : level.indent;
  }

  void put_below(State& state, std::size_t i) const {
    Level& level = state.levels.back();
    const std::size_t before = parts_[i - 1].sign;
    state.column = column_below(level, i);
    level.last_blank = state.column;
    level.has_break = true;
    level.is_whole_operand = false;
    if (before == comma) level.parts_arguments = false;
    if (parts_[i].sign == choice) level.parts_arguments = true;
    for (std::size_t k = 0; k + 1 < state.levels.size(); ++k) state.levels[k].parts_arguments = true;
  }

  void put_on_row(State& state, std::size_t i) const {
    Level& level = state.levels.back();
    const Part& before = parts_[i - 1];
    if (parts_[i].token.is_spaced) ++state.column;
    if (before.sign == comma || before.sign > assignment || (before.sign == assignment && !parts_[i].begins.empty()))
      level.last_blank = state.column;
    if (opens(i - 1)) {
      level.indent = state.column;
      if (i > 1 && (text(i - 2) == "if" || text(i - 2) == "for")) level.last_blank = state.column;
    }
    const bool is_relation = before.sign == 10;
    if (before.sign != no_sign) {
      const bool is_choice = before.sign == choice;
      level.is_whole_operand = before.sign != assignment && !is_relation && before.operands > 2 && !is_choice;
    }
  }

  /// Enters the expressions and brackets that begin with a token, and leaves those that end with it.
  void put_behind(State& state, std::size_t i) const {
    const Part& part = parts_[i];
    const Part* before = i > 0 ? &parts_[i - 1] : nullptr;
    if (is_sign(i) && part.token.text == "?") state.levels.back().question = state.column;
    bool skips = before != nullptr && (opens(i - 1) || text(i - 1) == "return" || before->sign == assignment);
    for (const std::size_t tightness : part.begins) {
      Level level = state.levels.back();
      level.is_whole = level.is_whole || level.is_whole_operand;
      level.is_whole_operand = level.is_bracket = level.has_break = false;
      level.question = 0;
      if (before == nullptr || text(i - 1) != "return" || tightness > 0)
        level.indent = std::max({state.column, level.indent, level.last_blank});
      level.last_blank = std::max(level.last_blank, state.column);
      if (tightness == choice || (!skips && tightness > assignment)) level.indent += going_on;
      if ((before != nullptr && !opens(i - 1)) || tightness != comma) level.parts_arguments = false;
      state.levels.push_back(level);
      skips = false;
    }
    state.column += part.token.text.size();
    if (opens(i)) {
      const Level& outer = state.levels.back();
      const bool is_whole = outer.is_whole || outer.is_whole_operand;
      state.levels.push_back({outer.last_blank + going_on, outer.last_blank, 0, false, is_whole, false, true});
    }
    if (closes(i))
      while (state.levels.size() > 1 && std::exchange(state.levels.back().is_bracket, false) == false)
        state.levels.pop_back();
    if (closes(i) && state.levels.size() > 1) state.levels.pop_back();
    for (std::size_t k = 0; k < part.ends && state.levels.size() > 1; ++k) state.levels.pop_back();
    ++state.next;
  }

  std::string text_of(const std::vector<Node>& nodes, std::size_t last) const {
    std::vector<std::size_t> way;
    for (std::size_t at = last; at != 0; at = nodes[at].before) way.push_back(at);
    std::string out = text(0);
    for (std::size_t k = way.size(); k-- > 0;) {
      const Node& node = nodes[way[k]];
      const Part& part = parts_[node.state.next - 1];
      if (node.is_below) {
        const std::size_t column = column_below(nodes[node.before].state.levels.back(), node.state.next - 1);
        out += '\n' + std::string(column, ' ');
      } else if (part.token.is_spaced) {
        out += ' ';
      }
      out += part.token.text;
    }
    return out;
  }

  std::size_t indent_;
  bool is_function_;
  std::vector<Part> parts_;
};

// Lists of values in braces.

/// How so many columns hold the values of a list, a comma behind each but the last.
struct Columns {
  std::vector<std::size_t> widths;
  std::size_t rows = 0, width = 0;
  bool is_even = true; ///< no value is much shorter than its column is wide
};

Columns columns_of(const std::vector<std::string>& values, std::size_t count) {
  constexpr std::size_t most_uneven = 10;
  Columns out{std::vector<std::size_t>(count, 0), (values.size() + count - 1) / count};
  std::vector<std::size_t> least(count, widest);
  for (std::size_t i = 0; i < values.size(); ++i) {
    const std::size_t length = values[i].size() + (i + 1 < values.size() ? 1 : 0);
    out.widths[i % count] = std::max(out.widths[i % count], length);
    least[i % count] = std::min(least[i % count], length);
  }
  out.width = count - 1;
  for (std::size_t k = 0; k < count; ++k) {
    out.width += out.widths[k];
    out.is_even = out.is_even && (k + 1 == count || out.widths[k] - least[k] <= most_uneven);
  }
  return out;
}

/// The fewest rows, in the fewest columns, that fit into a width.
Columns best_columns(const std::vector<std::string>& values, std::size_t room) {
  Columns best = columns_of(values, 1);
  for (std::size_t count = 2; count <= values.size(); ++count) {
    Columns now = columns_of(values, count);
    if (now.is_even && now.width <= room && now.rows < best.rows) best = std::move(now);
  }
  return best;
}

/// `head = {a, b, c};` in columns, behind the brace or below it.
std::string list_in_columns(const std::string& head, const std::vector<std::string>& values, std::size_t indent) {
  const auto price = [](std::size_t rows) {
    return (rows - 1) * (2 * per_level + comma) + (rows > 1 ? first_of_level : 0);
  };
  const Columns behind = best_columns(values, widest - indent - head.size());
  const Columns below = best_columns(values, widest - indent - going_on);
  const std::size_t price_below = 2 * per_level + at_first_argument + first_of_level + price(below.rows);
  const bool fits_behind = indent + head.size() + behind.width <= widest;
  const bool is_below = !fits_behind || price_below < price(behind.rows);
  const Columns& best = is_below ? below : behind;
  const std::string row = '\n' + std::string(indent + (is_below ? going_on : head.size()), ' ');
  std::string out = head + (is_below ? row : "");
  for (std::size_t i = 0; i < values.size(); ++i) {
    const std::size_t column = i % best.widths.size();
    if (i > 0 && column == 0) out += row;
    if (i + 1 == values.size()) return out + values[i] + "};";
    const std::string one = values[i] + ",";
    const bool is_last = column + 1 == best.widths.size();
    out += is_last ? one : one + std::string(best.widths[column] + 1 - one.size(), ' ');
  }
  return out;
}

/// The values of a line that ends in a list; empty if it has none, or too few for columns.
std::vector<std::string> listed_values(std::string_view line) {
  constexpr std::size_t fewest = 6;
  const std::size_t brace = line.find(" = {");
  if (brace == std::string_view::npos || !line.ends_with("};")) return {};
  std::vector<std::string> values;
  for (std::size_t at = brace + 4; at < line.size() - 2;) {
    const std::size_t end = std::min(line.find(", ", at), line.size() - 2);
    values.emplace_back(line.substr(at, end - at));
    at = end + 2;
  }
  return values.size() < fewest ? std::vector<std::string>{} : values;
}

} // namespace c_family
} // namespace

std::vector<std::string> c_layout(std::string_view line, std::size_t indent) {
  const std::vector<Token> tokens = tokens_of(line);
  const bool is_plain = line.find('{') == line.size() - 1 || line.find('{') == std::string_view::npos;
  if (indent + line.size() <= c_family::widest) return {std::string(line)};
  if (const std::vector<std::string> values = c_family::listed_values(line); !values.empty())
    return rows_against_first(
        c_family::list_in_columns(std::string(line.substr(0, line.find(" = {") + 4)), values, indent), indent);
  if (!is_plain || line.starts_with('#')) return {std::string(line)};
  const bool is_function = line.back() == '{' && (tokens.front().text == "static" || tokens.front().text == "inline");
  return rows_against_first(c_family::Breaker(line, indent, is_function).laid_out(), indent);
}

} // namespace stasis::code
