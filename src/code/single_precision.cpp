#include "code/single_precision.hpp"

#include <algorithm>
#include <map>
#include <set>
#include <utility>

#include "code/walk.hpp"

namespace stasis::code {
namespace {

using Kind = Type::Kind;

/// Fields and parameters that add up over many frames: time, shares of it, and homes that sticks and pointers move. A
/// sum of so many parts needs more than seven digits.
const std::set<std::string_view> adding_up{
    "home",  "next_home", "stick_home",    "stick_speed", "stick_left", "to_come", "time",   "time_rest",
    "since", "time_then", "input_time",    "last_step",   "step_dt",    "dt",      "t",      "elapsed",
    "total", "within",    "wait",          "line_time",   "phase_time", "delay",   "length", "way_total",
    "lasts", "duration",  "double_within", "pressed_at",  "last_click", "sample"};
bool adds_up(std::string_view name) noexcept { return adding_up.contains(name) || name.starts_with("last_touch_"); }

/// Functions in which every number is long: they are called with what is worked out of time, or count steps of a
/// ladder.
const std::set<std::string_view> long_functions{
    "exp_less_one",  "mean_decay",   "in_space",      "out_of_space",  "run_home",    "spin",
    "run_stick",     "noise",        "noise_lattice", "ring_envelope", "ring_bound",  "ring",
    "wait_of",       "longest_wait", "way_at",        "way_speed_at",  "rungs_to",    "rungs_up",
    "value_of_rung", "rung_at",      "rung_after",    "highest_rung",  "lowest_rung", "check_value"};
bool is_long(std::string_view function) noexcept { return long_functions.contains(function); }

Type as_short(Type type, bool stays_long) {
  if (type.kind == Kind::real && !stays_long) type.kind = Kind::single;
  return type;
}

bool is_number(const Expression& one) noexcept { return one.type.kind == Kind::real || one.type.kind == Kind::single; }

class Narrowing {
public:
  Narrowing(Program program, const Program* checked) : program_(std::move(program)), checked_(checked) {}

  Program run() {
    for (Record& record : program_.records)
      for (Field& field : record.fields) field.type = as_short(field.type, adds_up(field.name));
    for (Function& one : program_.functions) {
      const bool all = is_long(one.name);
      one.gives = as_short(one.gives, all);
      for (Parameter& parameter : one.parameters)
        parameter.type = as_short(parameter.type, all || adds_up(parameter.name));
    }
    note_long_constants();
    for (Constant& one : program_.constants)
      one.type = as_short(one.type, one.name.starts_with("CHECK_") || long_constants_.contains(one.name));
    for (Function& one : program_.functions) narrow(one);
    return std::move(program_);
  }

private:
  const Function* called(std::string_view name) const noexcept {
    const Function* own = program_.function(name);
    return own != nullptr || checked_ == nullptr ? own : checked_->function(name);
  }

  /// Constants that are handed on as long numbers are long.
  void note_long_constants() {
    const auto note = [&](const Expression& one) {
      each_expression(one, [&](const Expression& part) {
        if (part.kind == Expression::Kind::name) long_constants_.insert(part.text);
      });
    };
    for (const Function& one : program_.functions) {
      each_expression_in(one.body, [&](const Expression& part) {
        const Function* function = part.kind == Expression::Kind::call ? called(part.text) : nullptr;
        for (std::size_t i = 0; function != nullptr && i < part.parts.size(); ++i)
          if (function->parameters[i].type.kind == Kind::real && part.parts[i].kind == Expression::Kind::name)
            note(part.parts[i]);
      });
      if (one.gives.kind != Kind::real) continue;
      each_statement(one.body, [&](const Statement& statement) {
        if (statement.kind == Statement::Kind::give && statement.has_value) note(statement.value);
      });
    }
  }

  void narrow(Function& one) {
    // A variable is long where anything that it is given is, so it may take a few rounds until all are known.
    variables_.clear();
    for (const Parameter& parameter : one.parameters) variables_[parameter.name] = parameter.type;
    each_statement(one.body, [&](const Statement& statement) {
      if (statement.kind == Statement::Kind::declare)
        variables_[statement.name] = as_short(statement.type, is_long(one.name) || adds_up(statement.name));
      if (statement.kind == Statement::Kind::count) variables_[statement.name] = {Kind::whole, {}, 0};
    });
    for (bool changed = true; changed;) {
      changed = false;
      each_statement(one.body, [&](const Statement& statement) {
        const bool is_declared = statement.kind == Statement::Kind::declare;
        const bool is_assigned =
            statement.kind == Statement::Kind::assign && statement.target.kind == Expression::Kind::name;
        if (!is_declared && !is_assigned) return;
        Type& type = variables_[is_declared ? statement.name : statement.target.text];
        if (type.kind != Kind::single || is_parameter(one, is_declared ? statement.name : statement.target.text))
          return;
        Expression value = statement.value;
        if (settle(value) != Kind::real) return;
        type.kind = Kind::real;
        changed = true;
      });
    }
    each_statement(one.body, [&](Statement& statement) { rewrite(one, statement); });
  }

  static bool is_parameter(const Function& one, std::string_view name) noexcept {
    return std::any_of(one.parameters.begin(), one.parameters.end(),
                       [&](const Parameter& parameter) { return parameter.name == name; });
  }

  void rewrite(const Function& function, Statement& one) {
    switch (one.kind) {
    case Statement::Kind::declare:
      one.type = variables_.at(one.name);
      convert(one.value, one.type.kind);
      return;
    case Statement::Kind::assign:
      settle(one.target);
      convert(one.value, one.target.type.kind);
      return;
    case Statement::Kind::give:
      if (one.has_value) convert(one.value, function.gives.kind);
      return;
    case Statement::Kind::count:
      settle(one.value);
      settle(one.limit);
      return;
    case Statement::Kind::call:
    case Statement::Kind::branch:
    case Statement::Kind::repeat: settle(one.value); return;
    case Statement::Kind::leave_loop:
    case Statement::Kind::remark: return;
    }
  }

  /// Makes an expression one of a kind; what does not have its own, such as a literal, takes it.
  void convert(Expression& one, Kind wanted) {
    const Kind found = settle(one);
    if (wanted != Kind::real && wanted != Kind::single) return;
    if (found == Kind::nothing) return take(one, wanted);
    if (found == wanted) return;
    Expression inside = std::move(one);
    one = {Expression::Kind::call, wanted == Kind::single ? "single" : "wide", {std::move(inside)}, {wanted, {}, 0}};
  }

  /// Gives literals, and what is made of them alone, a kind.
  static void take(Expression& one, Kind kind) {
    if (!is_number(one)) return;
    one.type.kind = kind;
    if (!one.short_text.empty()) one.text = std::exchange(one.short_text, {});
    if (one.kind == Expression::Kind::index || one.kind == Expression::Kind::field || is_conversion(one)) return;
    for (Expression& part : one.parts) take(part, kind);
  }
  static bool is_conversion(const Expression& one) noexcept {
    return one.kind == Expression::Kind::call && (one.text == "single" || one.text == "wide");
  }

  /// Settles the types inside an expression. \returns its kind; nothing for a number that may be of either.
  Kind settle(Expression& one) {
    switch (one.kind) {
    case Expression::Kind::literal: return is_number(one) ? Kind::nothing : one.type.kind;
    case Expression::Kind::name: return kind_of_name(one);
    case Expression::Kind::field:
      settle(one.parts[0]);
      return (one.type = field_type(one.parts[0].type, one.text, one.type)).kind;
    case Expression::Kind::index:
      settle(one.parts[0]);
      settle(one.parts[1]);
      return (one.type = one.parts[0].type.element()).kind;
    case Expression::Kind::unary: {
      const Kind kind = settle(one.parts[0]);
      if (kind != Kind::nothing) one.type.kind = kind;
      return kind;
    }
    case Expression::Kind::binary: {
      const Kind kind = agree(one.parts, 0);
      if (one.type.kind == Kind::flag) {
        if (kind == Kind::nothing) // two literals
          for (Expression& part : one.parts) take(part, Kind::real);
        return Kind::flag;
      }
      if (kind != Kind::nothing && is_number(one)) one.type.kind = kind;
      return kind;
    }
    case Expression::Kind::call: return settle_call(one);
    }
    return Kind::nothing;
  }

  Kind kind_of_name(Expression& one) {
    if (one.text == "UNBOUNDED") return Kind::nothing;
    if (const auto found = variables_.find(one.text); found != variables_.end())
      one.type = found->second;
    else
      for (const Program* program : {static_cast<const Program*>(&program_), checked_})
        if (program != nullptr)
          for (const Constant& constant : program->constants)
            if (constant.name == one.text) one.type = constant.type;
    return one.type.kind;
  }

  Type field_type(const Type& of, const std::string& name, const Type& otherwise) const {
    for (const Program* program : {static_cast<const Program*>(&program_), checked_})
      if (program != nullptr)
        for (const Record& record : program->records)
          if (record.name == of.record)
            for (const Field& field : record.fields)
              if (field.name == name) return field.type;
    return otherwise;
  }

  /// Parts from `first` on become of one kind: the long one, where there are both.
  Kind agree(std::vector<Expression>& parts, std::size_t first) {
    Kind kind = Kind::nothing;
    bool is_numbers = true;
    for (std::size_t i = first; i < parts.size(); ++i) {
      const Kind found = settle(parts[i]);
      is_numbers = is_numbers && is_number(parts[i]);
      if (found != Kind::nothing && kind != Kind::real) kind = found;
    }
    if (!is_numbers) return parts[first].type.kind;
    if (kind == Kind::nothing) return kind;
    for (std::size_t i = first; i < parts.size(); ++i) convert(parts[i], kind);
    return kind;
  }

  Kind settle_call(Expression& one) {
    if (const Function* function = called(one.text)) {
      for (std::size_t i = 0; i < one.parts.size(); ++i) convert(one.parts[i], function->parameters[i].type.kind);
      one.type = function->gives;
      return one.type.kind;
    }
    if (is_conversion(one)) return one.type.kind;
    if (one.text == "choose") {
      settle(one.parts[0]);
      const Kind kind = agree(one.parts, 1);
      if (kind != Kind::nothing) one.type.kind = kind;
      return kind;
    }
    if (one.text == "real") { // of a whole number, which either kind may hold
      settle(one.parts[0]);
      return Kind::nothing;
    }
    if (one.text == "bits") {
      for (Expression& part : one.parts) settle(part);
      return one.type.kind = Kind::real;
    }
    const Kind kind = agree(one.parts, 0);
    if (one.type.kind == Kind::whole) {
      if (kind == Kind::nothing)
        for (Expression& part : one.parts) take(part, Kind::real);
      return Kind::whole;
    }
    if (kind != Kind::nothing) one.type.kind = kind;
    return kind;
  }

  Program program_;
  const Program* checked_;
  std::map<std::string, Type> variables_;
  std::set<std::string> long_constants_;
};

} // namespace

std::vector<std::string_view> names_kept_long() {
  std::vector<std::string_view> all(adding_up.begin(), adding_up.end());
  all.insert(all.end(), long_functions.begin(), long_functions.end());
  return all;
}

Program in_single_precision(Program program, const Program* checked) {
  return Narrowing(std::move(program), checked).run();
}

} // namespace stasis::code
