#include "core/formula/formula.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

using Operands = const double*;

double part(double x, double low, double high) noexcept { return std::clamp((x - low) / (high - low), 0.0, 1.0); }

struct Operation {
  FormulaFunction function;
  double (*apply)(Operands);
};

constexpr std::array operations{
    // Operators come first, in the order of Operator below.
    Operation{{"+", 2, ""}, [](Operands x) { return x[0] + x[1]; }},
    Operation{{"-", 2, ""}, [](Operands x) { return x[0] - x[1]; }},
    Operation{{"*", 2, ""}, [](Operands x) { return x[0] * x[1]; }},
    Operation{{"/", 2, ""}, [](Operands x) { return x[0] / x[1]; }},
    Operation{{"^", 2, ""}, [](Operands x) { return std::pow(x[0], x[1]); }},
    Operation{{"negative", 1, ""}, [](Operands x) { return -x[0]; }},
    Operation{{"clamp", 3, "clamp(x, low, high): x, brought into the range"},
              [](Operands x) { return x[0] < x[1]   ? x[1]
                                      : x[0] > x[2] ? x[2]
                                                    : x[0]; }},
    Operation{{"blend", 3, "blend(a, b, w): a for w = 0, b for w = 1, straight in between and beyond"},
              [](Operands x) { return x[0] + (x[1] - x[0]) * x[2]; }},
    Operation{{"part", 3, "part(x, low, high): where x lies in the range, 0 to 1"},
              [](Operands x) { return part(x[0], x[1], x[2]); }},
    Operation{{"remap", 5, "remap(x, low, high, a, b): a at low or below, b at high or above, straight in between"},
              [](Operands x) { return x[3] + (x[4] - x[3]) * part(x[0], x[1], x[2]); }},
    Operation{{"min", 2, "min(a, b): the smaller"}, [](Operands x) { return std::min(x[0], x[1]); }},
    Operation{{"max", 2, "max(a, b): the larger"}, [](Operands x) { return std::max(x[0], x[1]); }},
    Operation{{"abs", 1, "abs(x): without its sign"}, [](Operands x) { return std::fabs(x[0]); }},
    Operation{{"sqrt", 1, "sqrt(x): square root"}, [](Operands x) { return std::sqrt(x[0]); }},
    Operation{{"exp", 1, "exp(x)"}, [](Operands x) { return std::exp(x[0]); }},
    Operation{{"log", 1, "log(x): natural logarithm"}, [](Operands x) { return std::log(x[0]); }},
    Operation{{"sin", 1, "sin(x), of an angle in radians"}, [](Operands x) { return std::sin(x[0]); }},
    Operation{{"cos", 1, "cos(x), of an angle in radians"}, [](Operands x) { return std::cos(x[0]); }},
    Operation{{"tan", 1, "tan(x), of an angle in radians"}, [](Operands x) { return std::tan(x[0]); }},
    Operation{{"atan", 1, "atan(x), an angle in radians"}, [](Operands x) { return std::atan(x[0]); }}};

enum Operator : std::uint8_t { add, subtract, multiply, divide, power, negative, first_function };

bool is_letter(char c) noexcept { return (c >= 'a' && c <= 'z') || c == '_'; }

} // namespace

/// Recursive descent: sums of products of signed powers of numbers, names, calls and brackets.
class FormulaParser {
public:
  FormulaParser(std::string_view text, const Formula::Resolve& resolve) : text_(text), resolve_(resolve) {}

  tl::expected<Formula, FormulaFault> parse() {
    if (text_.size() > longest_formula)
      fail(longest_formula, fmt::format("a formula has at most {} characters", longest_formula));
    sum();
    skip();
    if (!fault_ && at_ < text_.size())
      fail(at_, fmt::format("\"{}\" is not expected here", printable(text_.substr(at_), 20)));
    if (fault_) return tl::unexpected(std::move(*fault_));
    formula_.note_variables();
    return std::move(formula_);
  }

private:
  using Step = Formula::Step;

  void fail(std::size_t at, std::string message, std::string hint = {}) {
    if (!fault_) fault_ = FormulaFault{at, std::move(message), std::move(hint)};
    at_ = text_.size(); // nothing more is read
  }

  void skip() {
    while (at_ < text_.size() && (text_[at_] == ' ' || text_[at_] == '\t' || text_[at_] == '\n' || text_[at_] == '\r'))
      ++at_;
  }
  bool take(char wanted) {
    skip();
    if (at_ >= text_.size() || text_[at_] != wanted) return false;
    ++at_;
    return true;
  }

  void sum() {
    if (++depth_ > deepest_formula) return fail(at_, fmt::format("brackets go deeper than {}", deepest_formula));
    product();
    for (std::size_t start = at_; !fault_; start = at_) {
      if (take('+')) {
        product();
        call(add, start);
      } else if (take('-')) {
        product();
        call(subtract, start);
      } else {
        break;
      }
    }
    --depth_;
  }

  void product() {
    sign();
    for (std::size_t start = at_; !fault_; start = at_) {
      if (take('*')) {
        sign();
        call(multiply, start);
      } else if (take('/')) {
        sign();
        call(divide, start);
      } else {
        break;
      }
    }
  }

  void sign() {
    const std::size_t start = at_;
    int minuses = 0;
    for (;; ++minuses)
      if (!take('-')) break;
    raised();
    if (minuses % 2 == 1) call(negative, start);
  }

  /// a ^ b ^ c is a ^ (b ^ c), and -a ^ b is -(a ^ b).
  void raised() {
    atom();
    const std::size_t start = at_;
    if (fault_ || !take('^')) return;
    if (++depth_ > deepest_formula) return fail(at_, fmt::format("powers go deeper than {}", deepest_formula));
    const bool below = take('-');
    raised();
    if (below) call(negative, start);
    call(power, start);
    --depth_;
  }

  void atom() {
    skip();
    if (at_ >= text_.size()) return fail(at_, "something is missing at the end");
    const char c = text_[at_];
    if (is_digit(c) || c == '.') return number();
    if (is_letter(c)) return named();
    if (!take('(')) return fail(at_, fmt::format("\"{}\" is not expected here", printable(text_.substr(at_, 1), 4)));
    const std::size_t opened = at_ - 1;
    sum();
    if (!fault_ && !take(')')) fail(opened, "this bracket is not closed");
  }

  void number() {
    Step step;
    const char* const begin = text_.data() + at_;
    const char* const stop = read_decimal(begin, text_.data() + text_.size(), step.number);
    if (stop == begin || !std::isfinite(step.number)) return fail(at_, "this is not a number that can be used");
    at_ = static_cast<std::size_t>(stop - text_.data());
    formula_.steps_.push_back(step);
  }

  void named() {
    const std::size_t start = at_;
    while (at_ < text_.size() && (is_letter(text_[at_]) || is_digit(text_[at_]) || text_[at_] == '.')) ++at_;
    const std::string_view name = text_.substr(start, at_ - start);
    if (take('(')) return called(name, start);
    Step step;
    if (name == "pi") {
      step.number = std::numbers::pi;
    } else {
      const auto variable = resolve_(name);
      if (!variable) return fail(start, variable.error());
      step.kind = Step::Kind::variable;
      step.variable = *variable;
    }
    formula_.steps_.push_back(step);
  }

  void called(std::string_view name, std::size_t start) {
    std::size_t index = first_function;
    while (index < operations.size() && operations[index].function.name != name) ++index;
    if (index == operations.size()) {
      std::vector<std::string_view> known;
      for (const FormulaFunction& one : formula_functions()) known.push_back(one.name);
      return fail(start, fmt::format("there is no function {}", printable(name, 40)),
                  did_you_mean(name, known) + " Known: " + listed(known) + ".");
    }
    int arguments = 0;
    do {
      sum();
      ++arguments;
    } while (!fault_ && take(','));
    if (!fault_ && !take(')')) return fail(start, fmt::format("the bracket of {} is not closed", name));
    const FormulaFunction& function = operations[index].function;
    if (!fault_ && arguments != function.arguments)
      return fail(start,
                  fmt::format("{} takes {} argument{}, found {}", name, function.arguments,
                              function.arguments == 1 ? "" : "s", arguments),
                  fmt::format("Write {}.", function.meaning.substr(0, function.meaning.find(':'))));
    call(static_cast<std::uint8_t>(index), start);
  }

  /// Adds an operation; one on constants only is worked out at once.
  void call(std::uint8_t index, std::size_t start) {
    if (fault_) return;
    auto& steps = formula_.steps_;
    const auto count = static_cast<std::size_t>(operations[index].function.arguments);
    if (index == divide && steps.back().kind == Step::Kind::number && steps.back().number == 0.0)
      return fail(start, "this divides by 0");
    const bool constant = std::all_of(steps.end() - static_cast<std::ptrdiff_t>(count), steps.end(),
                                      [](const Step& s) { return s.kind == Step::Kind::number; });
    if (!constant) {
      steps.push_back({Step::Kind::call, index, 0.0, 0});
      return;
    }
    std::array<double, 5> operands{};
    for (std::size_t k = 0; k < count; ++k) operands[k] = steps[steps.size() - count + k].number;
    const double value = operations[index].apply(operands.data());
    while (start < text_.size() && text_[start] == ' ') ++start;
    if (!std::isfinite(value)) return fail(start, "this does not give a number");
    steps.resize(steps.size() - count);
    steps.push_back({Step::Kind::number, 0, value, 0});
  }

  std::string_view text_;
  const Formula::Resolve& resolve_;
  std::size_t at_ = 0;
  int depth_ = 0;
  Formula formula_;
  std::optional<FormulaFault> fault_;
};

tl::expected<Formula, FormulaFault> Formula::parse(std::string_view text, const Resolve& resolve) {
  return FormulaParser(text, resolve).parse();
}

double Formula::evaluate(std::span<const double> variables) const noexcept {
  // Each level of nesting keeps at most the arguments of one call waiting.
  std::array<double, 6 * (2 * deepest_formula + 2)>
      stack; // set as it is used: to clear it costs more than most formulas
  stack[0] = 0.0;
  std::size_t top = 0;
  for (const Step& step : steps_) {
    if (step.kind == Step::Kind::number)
      stack[top++] = step.number;
    else if (step.kind == Step::Kind::variable)
      stack[top++] = variables[step.variable];
    else if (step.kind == Step::Kind::curve)
      stack[top - 1] = curve_->value_at(stack[top - 1]);
    else {
      const Operation& operation = operations[step.function];
      top -= static_cast<std::size_t>(operation.function.arguments);
      stack[top] = operation.apply(&stack[top]);
      ++top;
    }
  }
  return stack[0];
}

std::string Formula::write(const Writer& writer) const {
  std::vector<std::string> stack;
  for (const Step& step : steps_) switch (step.kind) {
    case Step::Kind::number: stack.push_back(writer.number(step.number)); break;
    case Step::Kind::variable: stack.push_back(writer.variable(step.variable)); break;
    case Step::Kind::curve: stack.back() = writer.curve(*curve_, stack.back()); break;
    case Step::Kind::call: {
      const FormulaFunction& function = operations[step.function].function;
      const std::size_t first = stack.size() - static_cast<std::size_t>(function.arguments);
      std::string said = writer.call(function.name, std::span(stack).subspan(first));
      stack.resize(first);
      stack.push_back(std::move(said));
      break;
    }
    }
  return stack.front();
}

Formula Formula::of_curve(std::size_t variable, std::shared_ptr<const ProfileCurve> curve) {
  Formula formula;
  Step read, apply;
  read.kind = Step::Kind::variable;
  read.variable = variable;
  apply.kind = Step::Kind::curve;
  formula.steps_ = {read, apply};
  formula.curve_ = std::move(curve);
  formula.note_variables();
  return formula;
}

void Formula::note_variables() {
  for (const Step& step : steps_)
    if (step.kind == Step::Kind::variable) variables_.push_back(step.variable);
  std::sort(variables_.begin(), variables_.end());
  variables_.erase(std::unique(variables_.begin(), variables_.end()), variables_.end());
}

std::span<const FormulaFunction> formula_functions() noexcept {
  static const auto functions = [] {
    std::array<FormulaFunction, operations.size() - first_function> all;
    for (std::size_t i = 0; i < all.size(); ++i) all[i] = operations[i + first_function].function;
    return all;
  }();
  return functions;
}

} // namespace stasis
