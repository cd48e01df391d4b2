#include "code/simplify.hpp"

#include <algorithm>
#include <functional>
#include <iterator>
#include <optional>
#include <set>
#include <utility>

#include "code/known_values.hpp"
#include "code/needed.hpp"
#include "code/walk.hpp"

namespace stasis::code {
namespace {

bool is_literal(const Expression& one) noexcept { return one.kind == Expression::Kind::literal && !one.text.empty(); }
bool is_literal(const Expression& one, std::string_view text) noexcept { return is_literal(one) && one.text == text; }
Expression truth(bool is_so) {
  return {Expression::Kind::literal, is_so ? "true" : "false", {}, {Type::Kind::flag, {}, 0}};
}

class Simplifier {
public:
  explicit Simplifier(Program program) : program_(std::move(program)) {}

  Program run() {
    do {
      changed_ = put_known_values(program_);
      note_always();
      for (Function& one : program_.functions) {
        each_expression_in(one.body, [&](Expression& part) { put_always(part); });
        // Parts before wholes: a few rounds come to rest.
        each_statement(one.body, [&](Statement& statement) {
          for (Expression* part : {&statement.target, &statement.value, &statement.limit}) fold(*part);
        });
        one.body = shortened(std::move(one.body));
        // A return at the very end says nothing.
        while (!one.body.empty() && one.body.back().kind == Statement::Kind::give && !one.body.back().has_value) {
          one.body.pop_back();
          changed_ = true;
        }
      }
      drop_unread_fields();
      changed_ |= drop_unneeded(program_);
      drop_unused_parameters();
      drop_uncalled();
    } while (changed_);
    drop_unnamed();
    drop_unsaid_words();
    return std::move(program_);
  }

private:
  /// Functions that always give the same number, and those that do nothing.
  void note_always() {
    always_.clear();
    idle_.clear();
    for (const Function& one : program_.functions) {
      const bool gives = one.body.size() == 1 && one.body[0].kind == Statement::Kind::give && one.body[0].has_value;
      // A constant keeps its function: what that says of time holds for it in single precision too.
      if (gives && is_literal(one.body[0].value)) always_[one.name] = one.body[0].value;
      if (one.body.empty()) idle_.insert(one.name);
    }
  }
  void put_always(Expression& one) {
    if (one.kind != Expression::Kind::call) return;
    const auto found = always_.find(one.text);
    const Expression* const answer = found != always_.end() ? &found->second : looked_up(one);
    if (answer == nullptr) return;
    one = Expression(*answer);
    changed_ = true;
  }
  /// What a function answers that only compares its one number with known ones, where it is asked about such a one.
  const Expression* looked_up(const Expression& call) const {
    const Function* const function = program_.function(call.text);
    if (function == nullptr || function->is_open || call.parts.size() != 1 || !number_of(call.parts[0])) return nullptr;
    const std::string& asked = function->parameters[0].name;
    for (const Statement& one : function->body) {
      if (one.kind == Statement::Kind::give && is_plain_answer(one)) return &one.value;
      const bool compares = one.kind == Statement::Kind::branch && one.other.empty() && one.body.size() == 1
                            && is_plain_answer(one.body[0]) && one.value.kind == Expression::Kind::binary
                            && one.value.text == "==" && one.value.parts[0].kind == Expression::Kind::name
                            && one.value.parts[0].text == asked;
      const std::optional<double> known = compares ? number_of(one.value.parts[1]) : std::nullopt;
      if (!known) return nullptr;
      if (*known == *number_of(call.parts[0])) return &one.body[0].value;
    }
    return nullptr;
  }
  /// True of a return of a literal or a constant.
  bool is_plain_answer(const Statement& one) const {
    if (one.kind != Statement::Kind::give || !one.has_value) return false;
    return is_literal(one.value) || is_constant(one.value);
  }
  bool is_constant(const Expression& one) const {
    return one.kind == Expression::Kind::name
           && std::any_of(program_.constants.begin(), program_.constants.end(),
                          [&](const Constant& each) { return each.name == one.text && !each.type.is_array(); });
  }

  void fold(Expression& one) {
    for (Expression& part : one.parts) fold(part);
    if (std::optional<Expression> made = folded(one)) {
      one = Expression(*std::move(made));
      changed_ = true;
    }
  }
  /// The number of a literal, or of a constant that only numbers what there is; no number that a designer has set.
  std::optional<double> number_of(const Expression& one) const {
    if (is_literal(one)) {
      if (one.text == "true" || one.text == "false") return std::nullopt;
      return std::stod(one.text);
    }
    if (one.kind != Expression::Kind::name) return std::nullopt;
    const auto constant = std::find_if(program_.constants.begin(), program_.constants.end(),
                                       [&](const Constant& each) { return each.name == one.text; });
    if (constant == program_.constants.end() || constant->type.kind != Type::Kind::whole
        || constant->values.size() != 1)
      return std::nullopt;
    return std::stod(constant->values[0]);
  }
  std::optional<Expression> folded(const Expression& one) const {
    if (one.kind == Expression::Kind::unary && one.text == "!" && is_literal(one.parts[0]))
      return truth(one.parts[0].text == "false");
    if (one.kind == Expression::Kind::call && one.text == "choose" && is_literal(one.parts[0]))
      return one.parts[0].text == "true" ? one.parts[1] : one.parts[2];
    if (one.kind == Expression::Kind::call && one.text == "choose" && is_literal(one.parts[1])
        && is_literal(one.parts[2], one.parts[1].text) && !calls_any(one.parts[0]))
      return one.parts[1];
    if (one.kind == Expression::Kind::call && one.text == "real" && is_literal(one.parts[0]))
      return Expression{Expression::Kind::literal, one.parts[0].text + ".0", {}, {Type::Kind::real, {}, 0}};
    if (one.kind != Expression::Kind::binary) return std::nullopt;
    const Expression &left = one.parts[0], &right = one.parts[1];
    if (one.text == "&&" || one.text == "||") {
      const char* const decides = one.text == "&&" ? "false" : "true";
      if (is_literal(left, decides) || is_literal(right, decides)) return truth(one.text == "||");
      if (is_literal(left)) return right;
      if (is_literal(right)) return left;
      return std::nullopt;
    }
    // What adds nothing, and what multiplies by one.
    if ((one.text == "+" || one.text == "-") && is_literal(right, "0.0")) return left;
    if (one.text == "+" && is_literal(left, "0.0")) return right;
    if ((one.text == "*" || one.text == "/") && is_literal(right, "1.0")) return left;
    if (one.text == "*" && is_literal(left, "1.0")) return right;
    const std::optional<double> numbers[] = {number_of(left), number_of(right)};
    if (!numbers[0] || !numbers[1]) return std::nullopt;
    const double a = *numbers[0], b = *numbers[1];
    if (one.text == "*" && one.type.kind == Type::Kind::real && (a == 0.0 || b == 0.0)) return a == 0.0 ? left : right;
    if (one.text == "<") return truth(a < b);
    if (one.text == ">") return truth(a > b);
    if (one.text == "<=") return truth(a <= b);
    if (one.text == ">=") return truth(a >= b);
    if (one.text == "==") return truth(a == b);
    if (one.text == "!=") return truth(a != b);
    return std::nullopt;
  }

  /// A block without statements that do nothing; what follows one that ends it goes too.
  std::vector<Statement> shortened(std::vector<Statement> block) {
    std::vector<Statement> kept;
    for (Statement& one : block) {
      one.body = shortened(std::move(one.body));
      one.other = shortened(std::move(one.other));
      if (splice(one, kept)) continue;
      const bool ends = one.kind == Statement::Kind::give || one.kind == Statement::Kind::leave_loop;
      kept.push_back(std::move(one));
      if (ends) break;
    }
    while (ends_alike(kept)) kept.erase(kept.end() - 2);
    if (kept.size() != block.size()) changed_ = true;
    return kept;
  }
  /// True if a block ends with the same answer whether its last condition holds or not.
  static bool ends_alike(const std::vector<Statement>& block) {
    if (block.size() < 2) return false;
    const Statement &last = block.back(), &before = block[block.size() - 2];
    const auto gives_plainly = [](const Statement& one) {
      return one.kind == Statement::Kind::give && one.has_value
             && (one.value.kind == Expression::Kind::literal || one.value.kind == Expression::Kind::name);
    };
    if (before.kind != Statement::Kind::branch || !before.other.empty() || before.body.size() != 1) return false;
    const Statement& inner = before.body.front();
    if (!gives_plainly(last) || !gives_plainly(inner) || last.value.text != inner.value.text) return false;
    return !calls_any(before.value);
  }
  static bool calls_any(const Expression& one) {
    bool calls = false;
    each_expression(one, [&](const Expression& part) { calls |= part.kind == Expression::Kind::call; });
    return calls;
  }
  /// Puts what is left of a statement in `kept`. \returns false if it stays as it is.
  bool splice(Statement& one, std::vector<Statement>& kept) {
    if (one.kind == Statement::Kind::call && idle_.contains(one.value.text)) return gone();
    if (one.kind == Statement::Kind::repeat && is_literal(one.value, "false")) return gone();
    if (one.kind == Statement::Kind::count && one.body.empty()) return gone();
    if (one.kind != Statement::Kind::branch) return false;
    if (is_literal(one.value)) {
      auto& taken = one.value.text == "true" ? one.body : one.other;
      std::move(taken.begin(), taken.end(), std::back_inserter(kept));
      return gone();
    }
    if (one.body.empty() && one.other.empty()) return gone();
    if (one.body.empty()) {
      one.value = {Expression::Kind::unary, "!", {std::move(one.value)}, {Type::Kind::flag, {}, 0}};
      one.body = std::move(one.other);
      one.other.clear();
      changed_ = true;
    }
    return false;
  }
  bool gone() {
    changed_ = true;
    return true;
  }

  /// The field of a record that an assignment writes, if that is what it does.
  static const std::string* written_field(const Statement& one) {
    if (one.kind != Statement::Kind::assign) return nullptr;
    const Expression* target = &one.target;
    if (target->kind == Expression::Kind::index) target = target->parts.data();
    return target->kind == Expression::Kind::field ? &target->text : nullptr;
  }
  void drop_unread_fields() {
    std::set<std::string> read;
    const auto see = [&](const Expression& part) {
      if (part.kind == Expression::Kind::field) read.insert(part.text);
    };
    for (const Function& one : program_.functions)
      each_statement(one.body, [&](const Statement& statement) {
        each_expression(statement.value, see);
        each_expression(statement.limit, see);
        if (written_field(statement) == nullptr) return each_expression(statement.target, see);
        // The way to what is written, and its place in an array, are read.
        const Expression* target = &statement.target;
        if (target->kind == Expression::Kind::index) {
          each_expression(target->parts[1], see);
          target = target->parts.data();
        }
        each_expression(target->parts[0], see);
      });
    const auto is_unread = [&](const Statement& one) {
      const std::string* field = written_field(one);
      return field != nullptr && !read.contains(*field);
    };
    for (Function& one : program_.functions) erase(one.body, is_unread);
  }
  void erase(std::vector<Statement>& block, const std::function<bool(const Statement&)>& goes) {
    for (Statement& one : block) {
      erase(one.body, goes);
      erase(one.other, goes);
    }
    if (std::erase_if(block, goes) > 0) changed_ = true;
  }
  static std::set<std::string> names_in(const std::vector<Statement>& block) {
    std::set<std::string> names;
    each_statement(block, [&](const Statement& statement) {
      const auto see = [&](const Expression& part) {
        if (part.kind == Expression::Kind::name) names.insert(part.text);
      };
      each_expression(statement.value, see);
      each_expression(statement.limit, see);
      if (statement.kind != Statement::Kind::assign || statement.target.kind != Expression::Kind::name)
        each_expression(statement.target, see);
    });
    return names;
  }
  void drop_unused_parameters() {
    for (Function& one : program_.functions) {
      if (one.is_open) continue;
      std::set<std::string> used = names_in(one.body);
      each_statement(one.body, [&](const Statement& statement) {
        if (statement.kind == Statement::Kind::assign && statement.target.kind == Expression::Kind::name)
          used.insert(statement.target.text);
      });
      for (std::size_t p = one.parameters.size(); p-- > 0;) {
        if (used.contains(one.parameters[p].name)) continue;
        one.parameters.erase(one.parameters.begin() + static_cast<std::ptrdiff_t>(p));
        changed_ = true;
        for (Function& other : program_.functions)
          each_expression_in(other.body, [&](Expression& part) {
            if (part.kind == Expression::Kind::call && part.text == one.name)
              part.parts.erase(part.parts.begin() + static_cast<std::ptrdiff_t>(p));
          });
      }
    }
  }
  void drop_uncalled() {
    std::set<std::string> called;
    for (auto one = program_.functions.rbegin(); one != program_.functions.rend(); ++one)
      if (one->is_open || called.contains(one->name))
        each_expression_in(one->body, [&](const Expression& part) {
          if (part.kind == Expression::Kind::call) called.insert(part.text);
        });
    if (std::erase_if(program_.functions,
                      [&](const Function& one) { return !one.is_open && !called.contains(one.name); })
        > 0)
      changed_ = true;
  }
  /// What is said of parameters that are no longer there, each in a clause of its own: "`slope`: of its curve;".
  void drop_unsaid_words() {
    for (Function& one : program_.functions) {
      const auto is_there = [&](std::string_view name) {
        return std::any_of(one.parameters.begin(), one.parameters.end(),
                           [&](const Parameter& parameter) { return parameter.name == name; });
      };
      const auto is_of_none = [&](std::string_view clause) {
        if (!clause.starts_with('`') || clause.find("`:") == std::string_view::npos) return false;
        std::string_view names = clause.substr(0, clause.find("`:") + 1);
        for (std::size_t at = names.find('`'); at != std::string_view::npos; at = names.find('`')) {
          names.remove_prefix(at + 1);
          if (is_there(names.substr(0, names.find('`')))) return false;
          names.remove_prefix(names.find('`') + 1);
        }
        return true;
      };
      std::string kept;
      for (std::string_view rest = one.words; !rest.empty();) {
        const std::size_t ends = std::min(rest.find("; "), rest.find(". "));
        const std::string_view clause = rest.substr(0, ends == std::string_view::npos ? rest.size() : ends + 2);
        if (!is_of_none(clause)) kept += clause;
        rest.remove_prefix(clause.size());
      }
      while (kept.ends_with(' ') || kept.ends_with(';')) kept.pop_back();
      if (!kept.empty() && !kept.ends_with('.') && one.words.ends_with('.')) kept += '.';
      one.words = std::move(kept);
    }
  }
  /// Constants and fields that nothing names any more. A heading stays with those that are left of its group.
  void drop_unnamed() {
    std::set<std::string> names, fields;
    for (const Function& one : program_.functions)
      each_expression_in(one.body, [&](const Expression& part) {
        if (part.kind == Expression::Kind::name) names.insert(part.text);
        if (part.kind == Expression::Kind::field) fields.insert(part.text);
      });
    std::vector<Constant> kept;
    std::string heading;
    for (Constant& one : program_.constants) {
      if (!one.heading.empty()) heading = one.heading;
      if (!names.contains(one.name)) continue;
      one.heading = std::exchange(heading, {});
      kept.push_back(std::move(one));
    }
    program_.constants = std::move(kept);
    for (Record& record : program_.records)
      std::erase_if(record.fields, [&](const Field& field) { return !fields.contains(field.name); });
    // Records that a function takes, and those of which their fields are.
    std::set<std::string> records;
    for (const Function& one : program_.functions)
      for (const Parameter& parameter : one.parameters) records.insert(parameter.type.record);
    for (auto record = program_.records.rbegin(); record != program_.records.rend(); ++record)
      if (records.contains(record->name))
        for (const Field& field : record->fields) records.insert(field.type.record);
    std::erase_if(program_.records,
                  [&](const Record& record) { return record.fields.empty() || !records.contains(record.name); });
  }

  Program program_;
  std::map<std::string, Expression> always_;
  std::set<std::string> idle_;
  bool changed_ = false;
};

} // namespace

Program simplified(Program program) { return Simplifier(std::move(program)).run(); }

} // namespace stasis::code
