// A channel's goal computed from others: ordinary algebra over named numbers, compiled once, evaluated on each frame.
// Our own: the packaged evaluators come as shared libraries only, which a program linked whole cannot take in, and none
// tells where in the text a fault lies.
#pragma once

#include <cstdint>
#include <functional>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "core/curve/profile_curve.hpp"

namespace stasis {

/// What is wrong with a formula, and at which character it stands.
struct FormulaFault {
  std::size_t at = 0;
  std::string message;
  std::string hint;
};

class Formula {
public:
  /// The number of the variable that a name stands for, or what is wrong with the name.
  using Resolve = std::function<tl::expected<std::size_t, std::string>(std::string_view name)>;

  /// Constant parts are worked out at once. A constant part whose result is not a finite number, such as 1 / 0, is a
  /// fault.
  static tl::expected<Formula, FormulaFault> parse(std::string_view text, const Resolve& resolve);

  /// What a curve makes of one variable.
  static Formula of_curve(std::size_t variable, std::shared_ptr<const ProfileCurve> curve);

  /// \param variables by the numbers that were resolved. The result may be infinite or NaN.
  double evaluate(std::span<const double> variables) const noexcept;

  /// How each part of a formula is said in another language.
  struct Writer {
    std::function<std::string(double)> number;
    std::function<std::string(std::size_t)> variable; ///< by its number
    std::function<std::string(std::string_view name, std::span<const std::string> arguments)>
        call; ///< "+", "clamp" ...
    std::function<std::string(const ProfileCurve&, const std::string& at)> curve;
  };
  std::string write(const Writer& writer) const;

  /// The variables that it reads, each once, ascending.
  const std::vector<std::size_t>& variables() const noexcept { return variables_; }

private:
  friend class FormulaParser;
  struct Step {
    enum class Kind : std::uint8_t { number, variable, call, curve } kind = Kind::number;
    std::uint8_t function = 0;
    double number = 0.0;
    std::size_t variable = 0;
  };
  void note_variables();

  std::vector<Step> steps_; // in the order of a stack machine
  std::vector<std::size_t> variables_;
  std::shared_ptr<const ProfileCurve> curve_;
};

/// Longest formula, characters, and deepest nesting.
inline constexpr std::size_t longest_formula = 4000;
inline constexpr int deepest_formula = 50;

struct FormulaFunction {
  std::string_view name;
  int arguments;
  std::string_view meaning;
};
/// Every function that a formula may call.
std::span<const FormulaFunction> formula_functions() noexcept;

} // namespace stasis
