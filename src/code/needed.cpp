#include "code/needed.hpp"

#include <algorithm>
#include <set>
#include <string>

#include "code/walk.hpp"

namespace stasis::code {
namespace {

class Needs {
public:
  /// \param acts functions that change what they are given
  Needs(const Function& function, const std::set<std::string>& acts) : acts_(acts) {
    each_statement(function.body, [&](const Statement& one) {
      if (one.kind == Statement::Kind::declare) own_.insert(one.name);
    });
    std::size_t before = 0;
    do {
      before = needed_.size();
      look_at(function.body);
    } while (needed_.size() != before);
  }

  /// True of a statement that something depends on: it leaves, changes what is not the function's own, or makes a
  /// variable that is needed; and of one that holds such a statement.
  bool is_needed(const Statement& one) const {
    switch (one.kind) {
    case Statement::Kind::give:
    case Statement::Kind::leave_loop:
    case Statement::Kind::call: return true;
    case Statement::Kind::declare: return needed_.contains(one.name) || acts(one.value);
    case Statement::Kind::assign:
      return one.target.kind != Expression::Kind::name || !own_.contains(one.target.text)
             || needed_.contains(one.target.text) || acts(one.value);
    case Statement::Kind::branch:
    case Statement::Kind::repeat:
    case Statement::Kind::count:
      return acts(one.value) || acts(one.limit) || any_needed(one.body) || any_needed(one.other);
    case Statement::Kind::remark: return false; // it stays with what it is said of
    }
    return true;
  }

private:
  bool acts(const Expression& one) const {
    bool any = false;
    each_expression(
        one, [&](const Expression& part) { any |= part.kind == Expression::Kind::call && acts_.contains(part.text); });
    return any;
  }
  bool any_needed(const std::vector<Statement>& block) const {
    return std::any_of(block.begin(), block.end(), [&](const Statement& one) { return is_needed(one); });
  }
  void look_at(const std::vector<Statement>& block) {
    const auto note = [&](const Expression& part) {
      if (part.kind == Expression::Kind::name) needed_.insert(part.text);
    };
    for (const Statement& one : block) {
      if (!is_needed(one)) continue;
      each_expression(one.value, note);
      each_expression(one.limit, note);
      if (one.kind != Statement::Kind::assign || one.target.kind != Expression::Kind::name)
        each_expression(one.target, note);
      // What a variable is made as, it stays where nothing else is written to it.
      if (one.kind == Statement::Kind::assign && one.target.kind == Expression::Kind::name) note(one.target);
      look_at(one.body);
      look_at(one.other);
    }
  }

  const std::set<std::string>& acts_;
  std::set<std::string> own_, needed_;
};

bool keep_needed(std::vector<Statement>& block, const Needs& needs) {
  std::vector<Statement> kept;
  bool changed = false;
  for (Statement& one : block) {
    if (one.kind != Statement::Kind::remark && !needs.is_needed(one)) {
      // What is said of it goes with it.
      while (!kept.empty() && kept.back().kind == Statement::Kind::remark) kept.pop_back();
      changed = true;
      continue;
    }
    changed |= keep_needed(one.body, needs);
    changed |= keep_needed(one.other, needs);
    kept.push_back(std::move(one));
  }
  block = std::move(kept);
  return changed;
}

} // namespace

bool drop_unneeded(Program& program) {
  std::set<std::string> acts;
  for (const Function& one : program.functions)
    if (std::any_of(one.parameters.begin(), one.parameters.end(), [](const Parameter& each) { return each.changes; }))
      acts.insert(one.name);
  bool changed = false;
  for (Function& one : program.functions) changed |= keep_needed(one.body, Needs(one, acts));
  return changed;
}

} // namespace stasis::code
