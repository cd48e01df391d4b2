#include "code/played_program.hpp"

#include <cmath>
#include <limits>

#include "code/read_program.hpp"
#include "core/shake/noise.hpp"

namespace stasis::code {
namespace {

double literal_value(const std::string& text) {
  if (text == "true") return 1.0;
  if (text == "false") return 0.0;
  const double unbounded = std::numeric_limits<double>::infinity();
  if (text == "UNBOUNDED") return unbounded;
  return text == "-UNBOUNDED" ? -unbounded : std::stod(text);
}

/// What every language has by itself, of one number or two.
double built_in_value(const std::string& name, double a, double b) {
  if (name == "abs") return std::fabs(a);
  if (name == "sqrt") return std::sqrt(a);
  if (name == "exp") return std::exp(a);
  if (name == "log") return std::log(a);
  if (name == "sin") return std::sin(a);
  if (name == "cos") return std::cos(a);
  if (name == "tan") return std::tan(a);
  if (name == "atan") return std::atan(a);
  if (name == "acos") return std::acos(a);
  if (name == "pow") return std::pow(a, b);
  if (name == "floor" || name == "whole") return std::floor(a);
  if (name == "ceil") return std::ceil(a);
  if (name == "hypot") return std::hypot(a, b);
  if (name == "min" || name == "least") return std::min(a, b);
  if (name == "max" || name == "most") return std::max(a, b);
  if (name == "real") return a;
  throw std::logic_error("nothing is called " + name);
}

} // namespace

PlayedProgram::PlayedProgram(Program program) : program_(std::move(program)) {
  for (const Constant& one : program_.constants)
    for (const std::string& value : one.values) constants_[one.name].push_back(literal_value(value));
  for (const Function& one : program_.functions) functions_[one.name] = &one;
}

Cell PlayedProgram::made(const Type& type) const {
  Cell cell;
  if (type.is_array())
    cell.elements.assign(static_cast<std::size_t>(type.length), made(type.element()));
  else if (type.kind == Type::Kind::record)
    cell = make(type.record);
  return cell;
}

Cell PlayedProgram::make(std::string_view record) const {
  for (const Record& one : program_.records) {
    if (one.name != record) continue;
    Cell cell;
    for (const Field& field : one.fields) cell.fields[field.name] = made(field.type);
    return cell;
  }
  throw std::logic_error("no record " + std::string(record));
}

double PlayedProgram::call(std::string_view function, const std::vector<Cell*>& arguments) {
  const auto found = functions_.find(function);
  if (found == functions_.end()) throw std::logic_error("no function " + std::string(function));
  const Function& one = *found->second;
  if (one.parameters.size() != arguments.size()) throw std::logic_error("another number of values");
  Variables variables;
  for (std::size_t i = 0; i < arguments.size(); ++i) variables[one.parameters[i].name] = arguments[i];
  const std::size_t before = kept_.size();
  double given = 0.0;
  run(one.body, variables, given);
  kept_.resize(before);
  return given;
}

double PlayedProgram::of(std::string_view function, const std::vector<double>& numbers) {
  std::vector<Cell> cells(numbers.size());
  std::vector<Cell*> arguments;
  for (std::size_t i = 0; i < numbers.size(); ++i) {
    cells[i].number = numbers[i];
    arguments.push_back(&cells[i]);
  }
  return call(function, arguments);
}

PlayedProgram::Goes PlayedProgram::run(const std::vector<Statement>& block, Variables& variables, double& given) {
  for (const Statement& one : block)
    if (const Goes goes = run(one, variables, given); goes != Goes::on) return goes;
  return Goes::on;
}

PlayedProgram::Goes PlayedProgram::run(const Statement& one, Variables& variables, double& given) {
  switch (one.kind) {
  case Statement::Kind::declare:
    kept_.push_back(std::make_unique<Cell>(value(one.value, variables)));
    variables[one.name] = kept_.back().get();
    return Goes::on;
  case Statement::Kind::assign: {
    Cell made = value(one.value, variables);
    place(one.target, variables) = std::move(made);
    return Goes::on;
  }
  case Statement::Kind::call: value(one.value, variables); return Goes::on;
  case Statement::Kind::branch:
    return run(number(one.value, variables) != 0.0 ? one.body : one.other, variables, given);
  case Statement::Kind::repeat:
    while (number(one.value, variables) != 0.0) {
      const Goes goes = run(one.body, variables, given);
      if (goes == Goes::gives) return goes;
      if (goes == Goes::leaves_loop) break;
    }
    return Goes::on;
  case Statement::Kind::count: {
    const double limit = number(one.limit, variables);
    for (double at = number(one.value, variables); at < limit; at += 1.0) {
      kept_.push_back(std::make_unique<Cell>());
      kept_.back()->number = at;
      variables[one.name] = kept_.back().get();
      const Goes goes = run(one.body, variables, given);
      if (goes == Goes::gives) return goes;
      if (goes == Goes::leaves_loop) break;
    }
    return Goes::on;
  }
  case Statement::Kind::give:
    if (one.has_value) given = number(one.value, variables);
    return Goes::gives;
  case Statement::Kind::leave_loop: return Goes::leaves_loop;
  case Statement::Kind::remark: return Goes::on;
  }
  return Goes::on;
}

Cell& PlayedProgram::place(const Expression& one, Variables& variables) {
  switch (one.kind) {
  case Expression::Kind::name: return *variables.at(one.text);
  case Expression::Kind::field: return place(one.parts[0], variables)[one.text];
  case Expression::Kind::index:
    return place(one.parts[0], variables).elements.at(static_cast<std::size_t>(number(one.parts[1], variables)));
  default: throw std::logic_error("this is no place");
  }
}

Cell PlayedProgram::value(const Expression& one, Variables& variables) {
  Cell cell;
  switch (one.kind) {
  case Expression::Kind::literal:
    if (one.type.kind == Type::Kind::stream)
      cell.bits = std::stoull(one.text, nullptr, 16);
    else
      cell.number = literal_value(one.text);
    return cell;
  case Expression::Kind::name:
    if (const auto found = variables.find(one.text); found != variables.end()) return *found->second;
    cell.number = one.text == "UNBOUNDED" ? literal_value(one.text) : constants_.at(one.text).front();
    return cell;
  case Expression::Kind::field: return place(one, variables);
  case Expression::Kind::index:
    if (one.parts[0].kind == Expression::Kind::name && variables.count(one.parts[0].text) == 0)
      cell.number = constants_.at(one.parts[0].text).at(static_cast<std::size_t>(number(one.parts[1], variables)));
    else
      cell = place(one, variables);
    return cell;
  case Expression::Kind::call: return called(one, variables);
  case Expression::Kind::unary:
    cell.number = number(one.parts[0], variables);
    cell.number = one.text == "-" ? -cell.number : static_cast<double>(cell.number == 0.0);
    return cell;
  case Expression::Kind::binary: cell.number = binary(one, variables); return cell;
  }
  return cell;
}

double PlayedProgram::binary(const Expression& one, Variables& variables) {
  const double a = number(one.parts[0], variables);
  if (one.text == "&&" && a == 0.0) return 0.0;
  if (one.text == "||" && a != 0.0) return 1.0;
  const double b = number(one.parts[1], variables);
  if (one.text == "&&" || one.text == "||") return b;
  if (one.text == "+") return a + b;
  if (one.text == "-") return a - b;
  if (one.text == "*") return a * b;
  if (one.text == "/") return a / b;
  if (one.text == "%") return std::fmod(a, b);
  if (one.text == "<") return a < b;
  if (one.text == "<=") return a <= b;
  if (one.text == ">") return a > b;
  if (one.text == ">=") return a >= b;
  return one.text == "==" ? a == b : a != b;
}

Cell PlayedProgram::called(const Expression& one, Variables& variables) {
  Cell cell;
  if (functions_.count(one.text) == 0) {
    if (one.text == "choose") return value(one.parts[number(one.parts[0], variables) != 0.0 ? 1 : 2], variables);
    if (one.text == "bits") {
      cell.number =
          signed_share(value(one.parts[0], variables).bits, static_cast<std::int64_t>(number(one.parts[1], variables)));
      return cell;
    }
    const double second = one.parts.size() > 1 ? number(one.parts[1], variables) : 0.0;
    cell.number = built_in_value(one.text, number(one.parts[0], variables), second);
    return cell;
  }
  // Records are handed on as they stand, numbers as copies.
  std::vector<Cell> copies(one.parts.size());
  std::vector<Cell*> arguments;
  for (std::size_t i = 0; i < one.parts.size(); ++i) {
    const bool is_record = one.parts[i].type.kind == Type::Kind::record;
    if (!is_record) copies[i] = value(one.parts[i], variables);
    arguments.push_back(is_record ? &place(one.parts[i], variables) : &copies[i]);
  }
  cell.number = call(one.text, arguments);
  return cell;
}

double worst_of(const Check& check, const Lowered& lowered, std::size_t from_row) {
  Program whole = read_program(lowered.text);
  whole.constants.insert(whole.constants.end(), check.program.constants.begin(), check.program.constants.end());
  whole.functions.insert(whole.functions.end(), check.program.functions.begin(), check.program.functions.end());
  PlayedProgram played(std::move(whole));
  Cell state = played.make("State"), number, column;
  played.call("begin", {&state});
  const auto &rows = played.constant("CHECK_ROWS"), &sizes = played.constant("CHECK_SIZE"),
             &steps = played.constant("CHECK_STEP");
  double worst = 0.0;
  for (std::size_t k = 0; k < check.rows; ++k) {
    number.number = static_cast<double>(k);
    played.call("apply_cues", {&state, &number});
    for (std::size_t c = 0; k >= from_row && c < check.columns; ++c) {
      column.number = static_cast<double>(c);
      const double off =
          std::fabs(played.call("check_value", {&state, &column}) - rows[k * check.columns + c]) / sizes[c];
      if (!(off <= worst)) worst = off;
    }
    number.number = steps[k];
    played.call("advance", {&state, &number});
  }
  return worst;
}

} // namespace stasis::code
