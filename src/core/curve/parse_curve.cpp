// From a curve's text to the curve. Grammar: CSS Syntax Level 3 (numbers, blanks, comments), CSS Easing Functions
// Level 2 (functions); the shapes are our own.
#include <algorithm>
#include <array>
#include <cctype>
#include <limits>

#include <fmt/format.h>

#include "core/curve/curve.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

using Parsed = tl::expected<Curve, std::string>;

struct Keyword {
  std::string_view name;
  Curve curve;
};

// CSS Easing Functions Level 1, sections 2.2.1 and 2.3.1.
const std::array<Keyword, 7>& keywords() {
  static const std::array<Keyword, 7> all{{{"linear", StraightLine{}},
                                           {"ease", CubicBezier{0.25, 0.1, 0.25, 1.0}},
                                           {"ease-in", CubicBezier{0.42, 0.0, 1.0, 1.0}},
                                           {"ease-out", CubicBezier{0.0, 0.0, 0.58, 1.0}},
                                           {"ease-in-out", CubicBezier{0.42, 0.0, 0.58, 1.0}},
                                           {"step-start", Steps{1, StepJump::start}},
                                           {"step-end", Steps{1, StepJump::end}}}};
  return all;
}

constexpr std::array<std::string_view, 3> functions{"cubic-bezier", "linear", "steps"};
constexpr int most_steps = 10'000;
constexpr std::size_t most_stops = 10'000;

std::string lower_case(std::string_view text) {
  std::string out(text);
  std::transform(out.begin(), out.end(), out.begin(),
                 [](char c) { return c >= 'A' && c <= 'Z' ? static_cast<char>(c - 'A' + 'a') : c; });
  return out;
}

bool is_blank(char c) noexcept { return c == ' ' || c == '\t' || c == '\n' || c == '\r' || c == '\f'; }

/// Every comment as one blank.
tl::expected<std::string, std::string> without_comments(std::string_view text) {
  std::string out;
  for (std::size_t i = 0; i < text.size();) {
    if (text.substr(i, 2) != "/*") {
      out += text[i++];
      continue;
    }
    const std::size_t end = text.find("*/", i + 2);
    if (end == std::string_view::npos) return tl::unexpected(std::string("a comment is not closed"));
    out += ' ';
    i = end + 2;
  }
  return out;
}

std::string_view without_blanks(std::string_view text) noexcept {
  while (!text.empty() && is_blank(text.front())) text.remove_prefix(1);
  while (!text.empty() && is_blank(text.back())) text.remove_suffix(1);
  return text;
}

std::vector<std::string_view> words_of(std::string_view text) {
  std::vector<std::string_view> words;
  for (std::size_t i = 0; i < text.size();) {
    if (is_blank(text[i])) {
      ++i;
      continue;
    }
    const std::size_t start = i;
    while (i < text.size() && !is_blank(text[i])) ++i;
    words.push_back(text.substr(start, i - start));
  }
  return words;
}

/// A CSS number: a dot is followed by a digit, an exponent has one, no "inf" or "nan". A whole number if `whole`.
std::optional<double> css_number(std::string_view text, bool whole = false) noexcept {
  std::size_t i = !text.empty() && (text[0] == '+' || text[0] == '-') ? 1 : 0;
  const std::size_t start = i;
  const auto digits = [&] {
    const std::size_t from = i;
    while (i < text.size() && is_digit(text[i])) ++i;
    return i > from;
  };
  bool any = digits();
  if (!whole && i < text.size() && text[i] == '.') {
    ++i;
    any = digits();
    if (!any) return std::nullopt;
  }
  if (!whole && any && i < text.size() && (text[i] == 'e' || text[i] == 'E')) {
    ++i;
    if (i < text.size() && (text[i] == '+' || text[i] == '-')) ++i;
    if (!digits()) return std::nullopt;
  }
  if (!any || i != text.size()) return std::nullopt;
  const auto value = read_number(text.substr(start));
  return value && text[0] == '-' ? std::optional(-*value) : value;
}

std::string not_a_number(std::string_view text) {
  return text.empty() ? std::string("a number is missing between two commas")
                      : fmt::format("\"{}\" is not a number", printable(text, 40));
}

Parsed parse_bezier(const std::vector<std::string_view>& arguments) {
  std::array<double, 4> p{};
  if (arguments.size() != p.size())
    return tl::unexpected(fmt::format("cubic-bezier() takes 4 numbers, found {}", arguments.size()));
  for (std::size_t i = 0; i < p.size(); ++i) {
    const auto number = css_number(arguments[i]);
    if (!number) return tl::unexpected(not_a_number(arguments[i]));
    p[i] = *number;
  }
  if (p[0] < 0.0 || p[0] > 1.0 || p[2] < 0.0 || p[2] > 1.0)
    return tl::unexpected(
        fmt::format("the first and third number of cubic-bezier() are shares of the time and must lie "
                    "in 0..1, found {} and {}; nearest: cubic-bezier({}, {}, {}, {})",
                    p[0], p[2], std::clamp(p[0], 0.0, 1.0), p[1], std::clamp(p[2], 0.0, 1.0), p[3]));
  return CubicBezier{p[0], p[1], p[2], p[3]};
}

tl::expected<WrittenStop, std::string> parse_stop(std::string_view text) {
  WrittenStop stop;
  std::optional<double> output;
  std::vector<double> inputs;
  bool last_was_input = false;
  for (const std::string_view word : words_of(text)) {
    const bool is_input = word.ends_with('%');
    const auto number = css_number(is_input ? word.substr(0, word.size() - 1) : word);
    if (!number) return tl::unexpected(not_a_number(word));
    if (!is_input && output) return tl::unexpected(fmt::format("the stop \"{}\" has two outputs", printable(text, 40)));
    // The percentages of a stop stand together, before or after its output.
    if (is_input && !inputs.empty() && !last_was_input)
      return tl::unexpected(fmt::format("the percentages of the stop \"{}\" must stand together", printable(text, 40)));
    is_input ? inputs.push_back(*number / 100.0) : void(output = *number);
    last_was_input = is_input;
  }
  if (!output)
    return tl::unexpected(text.empty() ? std::string("a stop is empty")
                                       : fmt::format("the stop \"{}\" has no output", printable(text, 40)));
  if (inputs.size() > 2)
    return tl::unexpected(fmt::format("the stop \"{}\" has more than two percentages", printable(text, 40)));
  stop.output = *output;
  if (!inputs.empty()) stop.input = inputs[0];
  if (inputs.size() > 1) stop.second_input = inputs[1];
  return stop;
}

Parsed parse_linear(const std::vector<std::string_view>& arguments) {
  if (arguments.size() < 2)
    return tl::unexpected(fmt::format("linear() takes two stops or more, found {}", arguments.size()));
  if (arguments.size() > most_stops)
    return tl::unexpected(fmt::format("linear() is limited to {} stops here", most_stops));
  std::vector<WrittenStop> stops;
  for (const std::string_view argument : arguments) {
    auto stop = parse_stop(argument);
    if (!stop) return tl::unexpected(stop.error());
    stops.push_back(*stop);
  }
  return resolve_stops(stops);
}

Parsed parse_steps(const std::vector<std::string_view>& arguments) {
  struct Word {
    std::string_view word;
    StepJump jump;
  };
  static constexpr std::array<Word, 6> known{{{"jump-start", StepJump::start},
                                              {"jump-end", StepJump::end},
                                              {"jump-none", StepJump::none},
                                              {"jump-both", StepJump::both},
                                              {"start", StepJump::start},
                                              {"end", StepJump::end}}};
  if (arguments.empty() || arguments.size() > 2)
    return tl::unexpected(
        fmt::format("steps() takes a whole number and perhaps a jump position, found {} arguments", arguments.size()));
  const auto count = css_number(arguments[0], true);
  if (!count) return tl::unexpected(fmt::format("\"{}\" is not a whole number", printable(arguments[0], 40)));
  StepJump jump = StepJump::end;
  if (arguments.size() == 2) {
    const auto found = std::find_if(known.begin(), known.end(), [&](const Word& w) { return w.word == arguments[1]; });
    if (found == known.end()) {
      std::vector<std::string_view> words;
      for (const Word& word : known) words.push_back(word.word);
      return tl::unexpected(
          fmt::format("\"{}\" is not a jump position; known are {}", printable(arguments[1], 40), listed(words)));
    }
    jump = found->jump;
  }
  const int least = jump == StepJump::none ? 2 : 1;
  if (*count < least)
    return tl::unexpected(fmt::format("steps({}) needs at least {} step{}, found {}",
                                      jump == StepJump::none ? "n, jump-none" : "n", least, least == 1 ? "" : "s",
                                      *count));
  if (*count > most_steps) return tl::unexpected(fmt::format("steps() is limited to {} steps here", most_steps));
  return Steps{static_cast<int>(*count), jump};
}

Parsed parse_function(std::string_view name, std::string_view rest) {
  const std::size_t close = rest.find(')');
  if (close == std::string_view::npos) return tl::unexpected(std::string("the closing bracket is missing"));
  if (const auto junk = without_blanks(rest.substr(close + 1)); !junk.empty())
    return tl::unexpected(fmt::format("\"{}\" follows the closing bracket", printable(junk, 40)));
  const std::string_view inner = rest.substr(0, close);
  std::vector<std::string_view> arguments;
  if (!without_blanks(inner).empty()) {
    for (const std::string_view part : split(inner, ',')) arguments.push_back(without_blanks(part));
    if (inner.ends_with(',')) arguments.emplace_back();
  }
  if (name == "cubic-bezier") return parse_bezier(arguments);
  if (name == "linear") return parse_linear(arguments);
  return parse_steps(arguments);
}

std::optional<Direction> direction_of(std::string_view word) noexcept {
  for (const Direction direction : {Direction::in, Direction::out, Direction::in_out})
    if (word == word_of(direction)) return direction;
  return std::nullopt;
}

Parsed parse_shape(Direction direction, const std::vector<std::string_view>& words) {
  std::vector<std::string_view> known;
  for (const ShapeWord& shape : shape_words()) known.push_back(shape.word);
  if (words.size() < 2) return tl::unexpected(fmt::format("a shape follows the direction: {}", listed(known, "or")));
  const auto found = std::find(known.begin(), known.end(), words[1]);
  if (found == known.end()) {
    const auto close = nearest(words[1], known);
    return tl::unexpected(fmt::format("there is no shape \"{}\"{}; known are {}", printable(words[1], 40),
                                      close ? fmt::format(" (nearest: {})", *close) : "", listed(known)));
  }
  const ShapeWord& shape = shape_words()[static_cast<std::size_t>(found - known.begin())];
  double amount = shape.fallback;
  if (words.size() > 2) {
    if (shape.amount_meaning.empty()) return tl::unexpected(fmt::format("{} takes no number", shape.word));
    const auto number = css_number(words[2]);
    if (!number || words.size() > 3)
      return tl::unexpected(fmt::format("one number may follow {}: {}", shape.word, shape.amount_meaning));
    if (*number < shape.low || *number > shape.high)
      return tl::unexpected(
          fmt::format("the number of {} lies between {} and {}, found {}", shape.word, shape.low, shape.high, *number));
    amount = *number;
  }
  return EaseShape{shape.kind, direction, amount};
}

std::string unknown_curve(std::string_view name) {
  std::vector<std::string_view> names(functions.begin(), functions.end());
  for (const Keyword& keyword : keywords()) names.push_back(keyword.name);
  const auto close = nearest(name, names);
  std::vector<std::string_view> known;
  for (const Keyword& keyword : keywords()) known.push_back(keyword.name);
  for (const std::string_view function : {"cubic-bezier(x1, y1, x2, y2)", "linear(stop, ...)", "steps(n, position)"})
    known.push_back(function);
  known.push_back("a shape such as \"in sine\", \"out power 3\" or \"in-out back 1.7\"");
  return fmt::format("there is no curve of that name{}; known are {}",
                     close ? fmt::format(" (nearest: {})", *close) : "", listed(known));
}

} // namespace

Parsed parse_curve(std::string_view text) {
  const auto plain = without_comments(text);
  if (!plain) return tl::unexpected(plain.error());
  const std::string lowered = lower_case(without_blanks(*plain));
  const std::string_view name(lowered);
  for (const Keyword& keyword : keywords())
    if (name == keyword.name) return keyword.curve;
  for (const std::string_view function : functions)
    if (name.starts_with(function) && name.substr(function.size()).starts_with('('))
      return parse_function(function, name.substr(function.size() + 1));
  const auto words = words_of(name);
  if (words.empty()) return tl::unexpected(std::string("it is empty"));
  if (const auto direction = direction_of(words[0])) return parse_shape(*direction, words);
  return tl::unexpected(unknown_curve(name));
}

} // namespace stasis
