// How black (of Debian) breaks a line: at the last bracket that helps, and in it at its loosest signs. Brackets that no
// one has written stand around what is assigned, given back or asked for, and are seen where a line breaks at them.
#include <algorithm>
#include <functional>
#include <map>
#include <optional>
#include <set>
#include <utility>

#include "code/layout.hpp"
#include "code/line_tokens.hpp"

namespace stasis::code {
namespace {
namespace python {

constexpr std::size_t widest = 88;

/// How loosely a sign binds: a line breaks at the loosest first. 0: it never breaks there.
enum Looseness : int {
  never = 0,
  at_dot = 1,
  at_product = 4,
  at_sum = 5,
  at_comparison = 10,
  at_logic = 14,
  at_choice = 16,
  at_comma = 18
};

struct Leaf {
  Token::Kind kind = Token::Kind::word;
  std::string text;
  bool is_spaced = false;
  bool is_unary = false;
  bool is_hidden = false;     ///< a bracket that nobody has written
  bool is_call = false;       ///< a bracket behind a name: of arguments, of an index
  std::size_t partner = none; ///< the other bracket

  static constexpr std::size_t none = static_cast<std::size_t>(-1);
  bool opens() const noexcept { return kind == Token::Kind::opens; }
  bool closes() const noexcept { return kind == Token::Kind::closes; }
  std::string shown() const { return is_hidden ? "" : text; }
};

struct Row {
  std::vector<std::size_t> leaves;
  std::size_t depth = 0;
  bool is_inside = false; ///< of brackets that begin on a row before
  bool is_def = false;
  bool must_part = false; ///< a list of values, one a row
};
using Rows = std::vector<Row>;
using Omitted = std::set<std::size_t>;

class Breaker {
public:
  Breaker(std::string_view line, std::size_t indent) : depth_(indent / 4) {
    for (Token& token : tokens_of(line)) leaves_.push_back({token.kind, std::move(token.text), token.is_spaced});
    note_unary();
    hide_brackets();
    pair_brackets();
  }

  std::vector<std::string> rows() {
    Row whole;
    for (std::size_t i = 0; i < leaves_.size(); ++i) whole.leaves.push_back(i);
    whole.depth = depth_;
    whole.is_def = leaves_.front().text == "def";
    std::vector<std::string> out;
    for (const Row& row : laid_out(whole, false))
      out.push_back(std::string(4 * (row.depth - depth_), ' ') + text_of(row));
    return out;
  }

private:
  // What a line is made of.

  void note_unary() {
    for (std::size_t i = 0; i < leaves_.size(); ++i) {
      if (leaves_[i].text != "-") continue;
      const Leaf* before = i > 0 ? &leaves_[i - 1] : nullptr;
      static const std::set<std::string_view> words{"return", "if", "else", "elif", "while", "and", "or", "not", "in"};
      leaves_[i].is_unary = before == nullptr || before->kind == Token::Kind::sign || before->kind == Token::Kind::comma
                            || before->opens() || words.contains(before->text);
    }
  }

  /// Where the expression begins that a statement is about; 0: it has none that may stand in brackets.
  std::size_t begin_of_expression() const {
    static const std::set<std::string_view> asking{"return", "if", "elif", "while"};
    if (asking.contains(leaves_.front().text)) return 1;
    std::size_t open = 0;
    for (std::size_t i = 0; i < leaves_.size(); ++i) {
      if (leaves_[i].opens()) ++open;
      if (leaves_[i].closes()) --open;
      const bool is_for = leaves_.front().text == "for" && leaves_[i].text == "in";
      if (open == 0 && (is_for || leaves_[i].text == "=")) return i + 1;
    }
    return 0;
  }

  void hide_brackets() {
    const std::size_t begin = begin_of_expression();
    if (begin == 0 || leaves_.front().text == "def") return;
    const std::size_t end = leaves_.back().text == ":" ? leaves_.size() - 1 : leaves_.size();
    if (begin >= end) return;
    if (leaves_[begin].text == "(" && closing_of(begin) == end - 1) { // written ones that are not needed
      leaves_[begin].is_hidden = leaves_[end - 1].is_hidden = true;
      return;
    }
    leaves_.insert(leaves_.begin() + static_cast<std::ptrdiff_t>(end), {Token::Kind::closes, ")"});
    leaves_.insert(leaves_.begin() + static_cast<std::ptrdiff_t>(begin),
                   {Token::Kind::opens, "(", std::exchange(leaves_[begin].is_spaced, false)});
    leaves_[begin].is_hidden = leaves_[end + 1].is_hidden = true;
  }

  std::size_t closing_of(std::size_t opening) const {
    std::size_t open = 0;
    for (std::size_t i = opening; i < leaves_.size(); ++i) {
      if (leaves_[i].opens()) ++open;
      if (leaves_[i].closes() && --open == 0) return i;
    }
    return Leaf::none;
  }

  void pair_brackets() {
    for (std::size_t i = 0; i < leaves_.size(); ++i) {
      if (!leaves_[i].opens()) continue;
      const std::size_t end = closing_of(i);
      leaves_[i].partner = end;
      leaves_[end].partner = i;
      leaves_[i].is_call = i > 0 && !leaves_[i].is_spaced && !leaves_[i].is_hidden
                           && (leaves_[i - 1].kind == Token::Kind::word || leaves_[i - 1].closes());
    }
  }

  // What a row says of itself.

  std::string text_of(const Row& row) const {
    std::string out;
    for (const std::size_t i : row.leaves) {
      if (!out.empty() && leaves_[i].is_spaced) out += ' ';
      out += leaves_[i].shown();
    }
    return out;
  }
  std::size_t length_of(std::size_t leaf, bool is_first) const {
    return leaves_[leaf].shown().size() + (leaves_[leaf].is_spaced && !is_first ? 1 : 0);
  }
  bool fits(const Row& row) const { return 4 * row.depth + text_of(row).size() <= widest; }

  int looseness(std::size_t leaf, const Leaf* before) const {
    static const std::map<std::string_view, int> of{
        {"and", at_logic},     {"or", at_logic},      {"if", at_choice},    {"else", at_choice},
        {"+", at_sum},         {"-", at_sum},         {"*", at_product},    {"/", at_product},
        {"%", at_product},     {"<", at_comparison},  {">", at_comparison}, {"<=", at_comparison},
        {">=", at_comparison}, {"==", at_comparison}, {"!=", at_comparison}};
    const Leaf& one = leaves_[leaf];
    if (one.kind == Token::Kind::dot) return before == nullptr || before->closes() ? at_dot : never;
    if (before == nullptr || one.is_unary) return never;
    const auto found = of.find(one.text);
    return found == of.end() ? never : found->second;
  }

  /// How loose the place behind each leaf is, outside all brackets of the row.
  std::vector<int> places(const Row& row) const {
    std::vector<int> all(row.leaves.size(), never);
    std::size_t open = 0;
    for (std::size_t k = 0; k < row.leaves.size(); ++k) {
      const Leaf& one = leaves_[row.leaves[k]];
      if (one.closes()) {
        if (open == 0) continue; // its partner is on a row before
        --open;
      }
      if (open == 0 && k > 0 && all[k - 1] == never) all[k - 1] = looseness(row.leaves[k], &leaves_[row.leaves[k - 1]]);
      if (open == 0 && one.kind == Token::Kind::comma) all[k] = at_comma;
      if (one.opens()) ++open;
    }
    // The word that begins a statement asks, it does not choose.
    return all;
  }

  // Ways to break a row.

  Rows laid_out(const Row& row, bool shows_brackets) {
    if (!row.must_part && fits(row)) return {row};
    std::vector<std::function<std::optional<Rows>(const Row&, bool)>> ways;
    const auto at_first_bracket = [this](const Row& one, bool) { return parted_at_first_bracket(one); };
    const auto at_signs = [this](const Row& one, bool) { return parted_at_signs(one); };
    const auto at_last_bracket = [this](const Row& one, bool shows) { return parted_at_last_bracket(one, shows); };
    if (row.is_def) {
      ways = {at_first_bracket};
    } else {
      if (row.is_inside) ways.emplace_back(at_signs);
      if (auto made = tried(row, ways, shows_brackets)) return *made;
      if (auto made = by_brackets(row, at_last_bracket, shows_brackets)) return *made;
      return {row};
    }
    if (auto made = tried(row, ways, shows_brackets)) return *made;
    return {row};
  }

  template<class Ways> std::optional<Rows> tried(const Row& row, const Ways& ways, bool shows_brackets) {
    for (const auto& way : ways)
      if (auto made = each_laid_out(row, way, shows_brackets)) return made;
    return std::nullopt;
  }

  template<class Way> std::optional<Rows> each_laid_out(const Row& row, const Way& way, bool shows_brackets) {
    const std::string whole = text_of(row);
    const std::optional<Rows> parts = way(row, shows_brackets);
    if (!parts) return std::nullopt;
    Rows all;
    for (const Row& part : *parts) {
      if (part.depth == row.depth && text_of(part) == whole) return std::nullopt;
      for (Row& one : laid_out(part, shows_brackets)) all.push_back(std::move(one));
    }
    return all;
  }

  /// At the last bracket that helps; if the first row is too long then, with the brackets seen that nobody has written.
  template<class Way> std::optional<Rows> by_brackets(const Row& row, const Way& way, bool shows_brackets) {
    std::optional<Rows> made = each_laid_out(row, way, shows_brackets);
    if (!made || shows_brackets) return made;
    const auto is_bracket_unseen = [&](std::size_t i) {
      return (leaves_[i].opens() || leaves_[i].closes()) && leaves_[i].is_hidden;
    };
    const bool has_unseen = std::any_of(row.leaves.begin(), row.leaves.end(), is_bracket_unseen);
    if (!has_unseen || fits(made->front())) return made;
    const std::vector<Leaf> before = leaves_;
    std::optional<Rows> other = each_laid_out(row, way, true);
    if (other && std::all_of(other->begin(), other->end(), [&](const Row& one) { return fits(one); })) return other;
    leaves_ = before;
    return made;
  }

  std::optional<Rows> parted_at_first_bracket(const Row& row) {
    const auto opening =
        std::find_if(row.leaves.begin(), row.leaves.end(), [&](std::size_t i) { return leaves_[i].opens(); });
    if (opening == row.leaves.end()) return std::nullopt;
    const auto closing = std::find(opening, row.leaves.end(), leaves_[*opening].partner);
    Row head = row, body = row, tail = row;
    head.leaves.assign(row.leaves.begin(), opening + 1);
    body.leaves.assign(opening + 1, closing);
    tail.leaves.assign(closing, row.leaves.end());
    if (body.leaves.empty()) return std::nullopt;
    return Rows{without_marks(head), inside(body, *opening), without_marks(tail)};
  }

  Row without_marks(Row row) const {
    row.is_def = row.must_part = false;
    return row;
  }
  Row inside(Row body, std::size_t opening) const {
    body.is_inside = true;
    body.is_def = false;
    ++body.depth;
    const std::vector<int> all = places(body);
    const bool has_commas = std::find(all.begin(), all.end(), at_comma) != all.end();
    body.must_part = has_commas && !leaves_[opening].is_call && leaves_[opening].text != "(";
    return body;
  }

  struct Parted {
    Row head, body, tail;
    std::size_t opening, closing;
  };

  std::optional<Parted> last_bracket(const Row& row, const Omitted& omitted) const {
    std::size_t at = row.leaves.size();
    while (at > 0 && !(leaves_[row.leaves[at - 1]].closes() && !omitted.contains(row.leaves[at - 1]))) --at;
    if (at == 0) return std::nullopt;
    const std::size_t closing = row.leaves[at - 1], opening = leaves_[closing].partner;
    const auto begin = std::find(row.leaves.begin(), row.leaves.end(), opening);
    if (begin == row.leaves.end()) return std::nullopt;
    const auto end = row.leaves.begin() + static_cast<std::ptrdiff_t>(at) - 1;
    Row head = without_marks(row), body = row, tail = without_marks(row);
    head.leaves.assign(row.leaves.begin(), begin + 1);
    body.leaves.assign(begin + 1, end);
    tail.leaves.assign(end, row.leaves.end());
    if (body.leaves.empty()) {
      // Black would put the empty pair into one row with what stands before it.
      if (text_of(tail).size() < 3) return std::nullopt;
    }
    return Parted{head, inside(body, opening), tail, opening, closing};
  }

  std::optional<Rows> parted(const Parted& one, const Row& row, bool shows_brackets, Omitted omitted) {
    const bool is_unwritten = leaves_[one.opening].is_hidden && leaves_[one.closing].is_hidden;
    if (!shows_brackets && is_unwritten && needs_no_brackets(one.body)) {
      omitted.insert(one.closing);
      if (const auto other = last_bracket(row, omitted))
        if (auto made = parted(*other, row, shows_brackets, omitted)) return made;
      if (one.body.leaves.size() < 2 && !fits(one.body)) return std::nullopt;
    }
    leaves_[one.opening].is_hidden = leaves_[one.closing].is_hidden = false;
    Rows all;
    for (const Row& part : {one.head, one.body, one.tail})
      if (!part.leaves.empty()) all.push_back(part);
    return all;
  }

  /// True if an expression reads well without brackets around it, though its line is too long.
  bool needs_no_brackets(const Row& body) const {
    const std::vector<int> all = places(body);
    const int loosest = *std::max_element(all.begin(), all.end());
    if (loosest == never) return true;
    if (std::count(all.begin(), all.end(), loosest) > 1) return false;
    if (loosest == at_dot) return true;
    const Leaf& first = leaves_[body.leaves.front()];
    if (first.opens() && !leaves_[body.leaves[1]].closes() && rest_fits_behind(body, body.leaves.front())) return true;
    const std::size_t last = body.leaves.back();
    const bool is_round = leaves_[last].closes() && leaves_[last].text == ")";
    if (!is_round || leaves_[body.leaves[body.leaves.size() - 2]].opens()) return false;
    return begin_fits_before(body, leaves_[last].partner);
  }
  bool rest_fits_behind(const Row& body, std::size_t opening) const {
    bool counts = false;
    std::size_t length = 4 * body.depth;
    for (const std::size_t i : body.leaves) {
      if (leaves_[i].closes() && leaves_[i].partner == opening) counts = true;
      if (!counts) continue;
      length += length_of(i, i == body.leaves.front());
      if (length > widest) return false;
      if (leaves_[i].opens()) counts = false;
    }
    return true;
  }
  bool begin_fits_before(const Row& body, std::size_t opening) const {
    bool has_others = false;
    std::size_t length = 4 * body.depth;
    for (const std::size_t i : body.leaves) {
      length += length_of(i, i == body.leaves.front());
      if (i == opening) return has_others || length <= widest;
      if (leaves_[i].opens()) has_others = true;
    }
    return false;
  }

  /// Tries the last bracket, then those before it, as long as what is behind them fits into one row.
  std::optional<Rows> parted_at_last_bracket(const Row& row, bool shows_brackets) {
    std::optional<Rows> made;
    bool has_failed = false;
    const auto is_good = [&](const Omitted& omitted) {
      const auto found = last_bracket(row, omitted);
      made = found ? parted(*found, row, shows_brackets, omitted) : std::nullopt;
      has_failed = !made;
      return has_failed || fits(made->front());
    };
    if (each_omission(row, is_good)) return has_failed ? std::nullopt : made;
    const auto found = last_bracket(row, {});
    return found ? parted(*found, row, shows_brackets, {}) : std::nullopt;
  }

  template<class Good> bool each_omission(const Row& row, const Good& is_good) {
    Omitted omitted, inner;
    if (is_good(omitted)) return true;
    std::size_t length = 4 * row.depth, opening = Leaf::none, closing = Leaf::none;
    for (std::size_t k = row.leaves.size(); k-- > 0;) {
      const std::size_t i = row.leaves[k];
      length += length_of(i, k == 0);
      if (length > widest) break;
      if (opening != Leaf::none) {
        if (i == opening)
          opening = Leaf::none;
        else if (leaves_[i].closes())
          inner.insert(i);
      } else if (leaves_[i].closes()) {
        if (k > 0 && leaves_[row.leaves[k - 1]].opens()) {
          inner.insert(i);
          continue;
        }
        if (closing != Leaf::none) {
          omitted.insert(closing);
          omitted.insert(inner.begin(), inner.end());
          inner.clear();
          if (is_good(omitted)) return true;
        }
        if (!leaves_[i].is_hidden) {
          opening = leaves_[i].partner;
          closing = i;
        }
      }
    }
    return false;
  }

  std::optional<Rows> parted_at_signs(const Row& row) {
    std::vector<int> all = places(row);
    all.back() = never;
    const int loosest = *std::max_element(all.begin(), all.end());
    if (loosest == never || (loosest == at_dot && std::count(all.begin(), all.end(), at_dot) == 1)) return std::nullopt;
    Rows parts(1, without_marks(row));
    parts.back().leaves.clear();
    for (std::size_t k = 0; k < row.leaves.size(); ++k) {
      parts.back().leaves.push_back(row.leaves[k]);
      if (all[k] != loosest) continue;
      parts.push_back(without_marks(row));
      parts.back().leaves.clear();
    }
    if (loosest == at_comma && leaves_[parts.back().leaves.back()].kind != Token::Kind::comma) {
      leaves_.push_back({Token::Kind::comma, ","});
      parts.back().leaves.push_back(leaves_.size() - 1);
    }
    return parts;
  }

  std::size_t depth_;
  std::vector<Leaf> leaves_;
};

} // namespace python
} // namespace

std::vector<std::string> python_layout(std::string_view line, std::size_t indent) {
  return python::Breaker(line, indent).rows();
}

} // namespace stasis::code
