#include "code/known_values.hpp"

#include <algorithm>
#include <array>
#include <map>
#include <optional>
#include <set>
#include <string>

#include "code/walk.hpp"

namespace stasis::code {
namespace {

/// A number that says no more under a name than by itself, or a constant that numbers what there is.
bool is_plain(const Program& program, const Expression& one) noexcept {
  constexpr std::array<std::string_view, 7> plain{"true", "false", "0", "1", "-1", "0.0", "1.0"};
  if (one.kind == Expression::Kind::literal)
    return std::find(plain.begin(), plain.end(), std::string_view(one.text)) != plain.end();
  return one.kind == Expression::Kind::name
         && std::any_of(program.constants.begin(), program.constants.end(), [&](const Constant& each) {
              return each.name == one.text && each.type.kind == Type::Kind::whole && !each.type.is_array();
            });
}

/// By name: the one plain number that was noted for it; nothing once another value was.
class Notes {
public:
  explicit Notes(const Program& program) : program_(program) {}

  void note(const std::string& name, const Expression& value) {
    const auto [at, is_new] = known_.try_emplace(name, value);
    if (!is_plain(program_, value) || (!is_new && at->second && at->second->text != value.text)) at->second.reset();
  }
  void refuse(const std::string& name) { known_[name].reset(); }
  const Expression* of(const std::string& name) const {
    const auto found = known_.find(name);
    return found == known_.end() || !found->second ? nullptr : &*found->second;
  }

private:
  const Program& program_;
  std::map<std::string, std::optional<Expression>> known_;
};

/// What is written to: a variable, or a field of a record; null for an element of an array.
const Expression* written(const Statement& one, Expression::Kind kind) noexcept {
  return one.kind == Statement::Kind::assign && one.target.kind == kind ? &one.target : nullptr;
}

/// Puts known numbers in the places of names, where these are read.
template<class Of> bool put_in_places(std::vector<Statement>& body, Expression::Kind kind, const Of& known) {
  bool changed = false;
  const auto put = [&](Expression& part) {
    if (part.kind != kind) return;
    const Expression* value = known(part.text);
    if (value == nullptr) return;
    part = Expression(*value);
    changed = true;
  };
  each_statement(body, [&](Statement& one) {
    each_expression(one.value, put);
    each_expression(one.limit, put);
    if (written(one, kind) == nullptr) each_expression(one.target, put);
  });
  return changed;
}

bool put_known_variables(const Program& program, Function& function) {
  Notes notes(program);
  for (const Parameter& parameter : function.parameters) notes.refuse(parameter.name);
  each_statement(function.body, [&](const Statement& one) {
    if (one.kind == Statement::Kind::count) notes.refuse(one.name);
    if (one.kind == Statement::Kind::declare) {
      if (one.type.is_array() || one.type.kind == Type::Kind::record) return notes.refuse(one.name);
      notes.note(one.name, one.value);
    }
    if (const Expression* target = written(one, Expression::Kind::name)) notes.note(target->text, one.value);
    if (one.kind == Statement::Kind::assign && one.target.kind == Expression::Kind::index)
      each_expression(one.target.parts[0], [&](const Expression& part) {
        if (part.kind == Expression::Kind::name) notes.refuse(part.text);
      });
  });
  return put_in_places(function.body, Expression::Kind::name, [&](const std::string& name) { return notes.of(name); });
}

bool put_known_parameters(Program& program) {
  Notes notes(program); // by "function parameter"
  for (const Function& caller : program.functions)
    each_expression_in(caller.body, [&](const Expression& call) {
      if (call.kind != Expression::Kind::call) return;
      for (std::size_t p = 0; p < call.parts.size(); ++p)
        notes.note(call.text + " " + std::to_string(p), call.parts[p]);
    });
  bool changed = false;
  for (Function& one : program.functions) {
    if (one.is_open) continue;
    std::set<std::string> assigned;
    each_statement(one.body, [&](const Statement& statement) {
      if (const Expression* target = written(statement, Expression::Kind::name)) assigned.insert(target->text);
    });
    for (std::size_t p = 0; p < one.parameters.size(); ++p) {
      const std::string& name = one.parameters[p].name;
      const Expression* value = notes.of(one.name + " " + std::to_string(p));
      if (value == nullptr || assigned.contains(name)) continue;
      changed |= put_in_places(one.body, Expression::Kind::name,
                               [&](const std::string& read) { return read == name ? value : nullptr; });
    }
  }
  return changed;
}

bool put_known_fields(Program& program) {
  Notes notes(program);
  for (const Record& record : program.records)
    for (const Field& field : record.fields)
      if (field.type.is_array() || field.type.kind == Type::Kind::record) notes.refuse(field.name);
  for (const Function& one : program.functions)
    each_statement(one.body, [&](const Statement& statement) {
      if (const Expression* target = written(statement, Expression::Kind::field))
        notes.note(target->text, statement.value);
    });
  bool changed = false;
  for (Function& one : program.functions)
    changed |=
        put_in_places(one.body, Expression::Kind::field, [&](const std::string& name) { return notes.of(name); });
  return changed;
}

} // namespace

bool put_known_values(Program& program) {
  bool changed = put_known_parameters(program);
  for (Function& one : program.functions) changed |= put_known_variables(program, one);
  changed |= put_known_fields(program);
  return changed;
}

} // namespace stasis::code
