#include "code/line_tokens.hpp"

#include <algorithm>
#include <array>

namespace stasis::code {
namespace {

bool is_of_word(char c) noexcept {
  return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || (c >= '0' && c <= '9') || c == '_';
}

bool is_digit(char c) noexcept { return c >= '0' && c <= '9'; }

/// Where a number ends that begins at `at`: with its fraction, its power of ten and what says its type.
std::size_t end_of_number(std::string_view line, std::size_t at) noexcept {
  const bool is_hex = line.substr(at, 2) == "0x";
  while (at < line.size()) {
    const bool is_fraction = line[at] == '.' && at + 1 < line.size() && is_digit(line[at + 1]);
    const bool is_power =
        !is_hex && (line[at] == '-' || line[at] == '+') && (line[at - 1] == 'e' || line[at - 1] == 'E');
    if (!is_of_word(line[at]) && !is_fraction && !is_power) break;
    ++at;
  }
  return at;
}

std::size_t end_of_text(std::string_view line, std::size_t at) noexcept {
  const char quote = line[at];
  for (++at; at < line.size() && line[at] != quote; ++at)
    if (line[at] == '\\') ++at;
  return std::min(at + 1, line.size());
}

std::size_t end_of_sign(std::string_view line, std::size_t at) noexcept {
  constexpr std::array<std::string_view, 20> longer{"===", "!==", "<<=", ">>=", "&&", "||", "==", "!=", "<=", ">=",
                                                    "->",  "=>",  "::",  "++",  "--", "+=", "<<", ">>", "..", "??"};
  for (const std::string_view sign : longer)
    if (line.substr(at, sign.size()) == sign) return at + sign.size();
  return at + 1;
}

} // namespace

std::vector<Token> tokens_of(std::string_view line) {
  std::vector<Token> all;
  bool is_spaced = false;
  for (std::size_t at = 0; at < line.size();) {
    const char c = line[at];
    if (c == ' ') {
      is_spaced = true;
      ++at;
      continue;
    }
    std::size_t end = at + 1;
    Token::Kind kind = Token::Kind::sign;
    if (is_digit(c)) {
      kind = Token::Kind::word;
      end = end_of_number(line, at);
    } else if (is_of_word(c)) {
      kind = Token::Kind::word;
      end = static_cast<std::size_t>(
          std::find_if_not(line.begin() + static_cast<std::ptrdiff_t>(at), line.end(), is_of_word) - line.begin());
    } else if (c == '"' || c == '`') {
      kind = Token::Kind::word;
      end = end_of_text(line, at);
    } else if (c == '(' || c == '[' || c == '{') {
      kind = Token::Kind::opens;
    } else if (c == ')' || c == ']' || c == '}') {
      kind = Token::Kind::closes;
    } else if (c == ',') {
      kind = Token::Kind::comma;
    } else if (c == '.' && line.substr(at, 2) != "..") {
      kind = Token::Kind::dot;
    } else {
      end = end_of_sign(line, at);
    }
    all.push_back({kind, std::string(line.substr(at, end - at)), is_spaced});
    is_spaced = false;
    at = end;
  }
  return all;
}

std::size_t place_outside_brackets(const std::vector<Token>& tokens, std::string_view sign) {
  std::size_t open = 0;
  for (std::size_t i = 0; i < tokens.size(); ++i) {
    if (tokens[i].kind == Token::Kind::opens) ++open;
    if (tokens[i].kind == Token::Kind::closes) --open;
    if (open == 0 && tokens[i].text == sign) return i;
  }
  return tokens.size();
}

std::vector<std::string> rows_against_first(const std::string& text, std::size_t indent) {
  std::vector<std::string> rows;
  for (std::size_t begin = 0; begin <= text.size();) {
    const std::size_t end = std::min(text.find('\n', begin), text.size());
    const std::string row = text.substr(begin, end - begin);
    rows.push_back(rows.empty() ? row : row.substr(std::min(indent, row.size())));
    begin = end + 1;
  }
  return rows;
}

} // namespace stasis::code
