// Programs played by themselves, without a compiler: a tree walked in the plainest way, to hold the parts against the
// heart that they stand for.
#pragma once

#include <map>
#include <memory>
#include <stdexcept>
#include <string>
#include <vector>

#include "code/check_program.hpp"
#include "code/lower_feel.hpp"
#include "code/program.hpp"

namespace stasis::code {

/// A number, a record or an array.
struct Cell {
  double number = 0.0;
  std::uint64_t bits = 0; ///< of a stream
  std::map<std::string, Cell, std::less<>> fields;
  std::vector<Cell> elements;

  Cell& operator[](std::string_view field) {
    const auto found = fields.find(field);
    if (found == fields.end()) throw std::logic_error("no field " + std::string(field));
    return found->second;
  }
  bool has(std::string_view field) const { return fields.find(field) != fields.end(); }
};

class PlayedProgram {
public:
  explicit PlayedProgram(Program program);

  /// A record as a program begins with it: everything 0.
  Cell make(std::string_view record) const;
  /// Calls a function. \param arguments by parameter; records are changed where they stand.
  double call(std::string_view function, const std::vector<Cell*>& arguments);
  /// The same with numbers alone.
  double of(std::string_view function, const std::vector<double>& numbers);
  bool has(std::string_view function) const { return program_.function(function) != nullptr; }
  const Program& program() const noexcept { return program_; }
  const std::vector<double>& constant(const std::string& name) const { return constants_.at(name); }

private:
  using Variables = std::map<std::string, Cell*, std::less<>>;
  enum class Goes { on, leaves_loop, gives };

  Cell made(const Type& type) const;
  Goes run(const std::vector<Statement>& block, Variables& variables, double& given);
  Goes run(const Statement& one, Variables& variables, double& given);
  Cell& place(const Expression& one, Variables& variables);
  Cell value(const Expression& one, Variables& variables);
  double number(const Expression& one, Variables& variables) { return value(one, variables).number; }
  Cell called(const Expression& one, Variables& variables);
  double binary(const Expression& one, Variables& variables);

  Program program_;
  std::map<std::string, std::vector<double>, std::less<>> constants_;
  std::map<std::string, const Function*, std::less<>> functions_;
  std::vector<std::unique_ptr<Cell>> kept_; // local variables, for as long as their function runs
};

/// A take is played by its check, row by row: what the main program of each language does. \returns the largest
/// difference from a row on, as a share of the column's size.
double worst_of(const Check& check, const Lowered& lowered, std::size_t from_row = 0);

} // namespace stasis::code
