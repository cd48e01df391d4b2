// Python 3, with type hints.
#include <fmt/format.h>

#include "code/layout.hpp"
#include "code/printer.hpp"

namespace stasis::code {
namespace {

class Python final : public Printer {
public:
  std::string_view language() const noexcept override { return "python"; }
  std::string_view extension() const noexcept override { return ".py"; }

private:
  std::string comment(std::string_view text) const override { return "# " + std::string(text); }
  std::vector<std::string> laid_out(std::string_view text, std::size_t indent) const override {
    return python_layout(text, indent);
  }
  std::size_t widest() const override { return 88; }
  std::size_t notes_gap() const override { return 1; }
  std::string_view before_table() const override { return "# fmt: off"; }
  std::string_view behind_table() const override { return "# fmt: on"; }
  std::string_view ending() const override { return ""; }
  std::string_view no_statement() const override { return "pass"; }
  std::string closing() const override { return ""; }
  std::string if_line(const std::string& condition) const override { return "if " + condition + ":"; }
  std::string else_if_line(const std::string& condition) const override { return "elif " + condition + ":"; }
  std::string else_line() const override { return "else:"; }
  std::string while_line(const std::string& condition) const override { return "while " + condition + ":"; }
  std::string operator_text(const std::string& sign) const override {
    if (sign == "!") return "not ";
    return sign == "&&" ? "and" : sign == "||" ? "or" : sign;
  }
  static std::string typed(const Type& of) {
    std::string one;
    switch (of.kind) {
    case Type::Kind::nothing: return "None";
    case Type::Kind::real:
    case Type::Kind::single: one = "float"; break;
    case Type::Kind::whole:
    case Type::Kind::stream: one = "int"; break;
    case Type::Kind::flag: one = "bool"; break;
    case Type::Kind::record: one = in_camel_case(of.record, true); break;
    }
    return of.is_array() ? "list[" + one + "]" : one;
  }

  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    line("from __future__ import annotations");
    line("");
    line("import math");
    line("");
    if (!uses("bits")) return;
    line("");
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.");
    line("def bits(stream: int, place: int) -> float:");
    line("    mixed = (stream + place * 0x9E3779B97F4A7C15) & 0xFFFFFFFFFFFFFFFF");
    line("    mixed = ((mixed ^ (mixed >> 32)) * 0xD6E8FEB86659FD93) & 0xFFFFFFFFFFFFFFFF");
    line("    signed = mixed - (1 << 64) if mixed >> 63 else mixed");
    line("    return signed * 1.0842021724855044e-19  # over 2^63");
    line("");
    line("");
  }
  static std::string value_of(const std::string& value) {
    if (value == "UNBOUNDED") return "math.inf";
    if (value == "true") return "True";
    if (value == "false") return "False";
    return value == "-UNBOUNDED" ? "-math.inf" : value;
  }
  void print_constant(const Constant& one) override {
    if (one.type.is_array()) {
      words(one.words);
      std::vector<std::string> values;
      for (const std::string& value : one.values) values.push_back(value_of(value));
      return print_list(one.name + " = [", values, "]");
    }
    line(one.name + " = " + value_of(one.values.front()) + (one.words.empty() ? "" : "  # " + one.words));
  }
  static std::string nothing_of(const Type& type) {
    std::string one = "0";
    if (type.kind == Type::Kind::flag) one = "False";
    if (type.kind == Type::Kind::real) one = "0.0";
    if (type.kind == Type::Kind::record) one = in_camel_case(type.record, true) + "()";
    if (!type.is_array()) return one;
    if (type.kind == Type::Kind::record) return fmt::format("[{} for _ in range({})]", one, type.length);
    return fmt::format("[{}] * {}", one, type.length);
  }
  void print_record(const Record& record) override {
    line("class " + in_camel_case(record.name, true) + ":");
    line("    def __init__(self) -> None:");
    depth_ += 2;
    for (const Field& one : record.fields)
      line(fmt::format("self.{}: {} = {}{}", one.name, typed(one.type), nothing_of(one.type),
                       one.words.empty() ? "" : "  # " + one.words));
    depth_ -= 2;
  }
  void begin_function(const Function& one) override {
    line("");
    words(one.words);
    std::vector<std::string> parameters;
    for (const Parameter& p : one.parameters) parameters.push_back(p.name + ": " + typed(p.type));
    line(fmt::format("def {}({}) -> {}:", one.name, fmt::join(parameters, ", "), typed(one.gives)));
  }
  int blank_lines() const override { return 2; }
  void print_declare(const Statement& one) override { line(fmt::format("{} = {}", one.name, expression(one.value))); }
  void print_count(const Statement& one) override {
    const std::string first = expression(one.value);
    line(fmt::format("for {} in range({}{}):", one.name, first == "0" ? "" : first + ", ", expression(one.limit)));
    print_block(one.body);
    close_block();
  }
  std::string literal(const Expression& one) const override {
    return one.type.kind == Type::Kind::stream ? "0x" + in_capitals(one.text.substr(2)) : value_of(one.text);
  }
  std::string name(const Expression& one) override {
    if (one.text == "UNBOUNDED") return "math.inf";
    if (checked_ == nullptr || !is_constant(one.text)) return one.text;
    for (const Constant& constant : program_->constants)
      if (constant.name == one.text) return one.text;
    return "feel." + one.text;
  }
  std::string call(const Expression& one) override {
    const std::vector<std::string> given = arguments(one);
    const std::string listed = fmt::format("{}", fmt::join(given, ", "));
    if (called(one.text) != nullptr)
      return fmt::format("{}{}({})", program_->function(one.text) != nullptr ? "" : "feel.", one.text, listed);
    if (one.text == "choose") return fmt::format("({} if {} else {})", given[1], given[0], given[2]);
    if (one.text == "real") return expression(one.parts[0], 9);
    if (one.text == "whole") return fmt::format("math.floor({})", given[0]);
    if (one.text == "bits") return fmt::format("bits({})", listed);
    if (one.text == "floor" || one.text == "ceil") return fmt::format("float(math.{}({}))", one.text, listed);
    if (one.text == "abs" || one.text == "min" || one.text == "max") return fmt::format("{}({})", one.text, listed);
    if (one.text == "least" || one.text == "most")
      return fmt::format("{}({})", one.text == "least" ? "min" : "max", listed);
    return fmt::format("math.{}({})", one.text, listed);
  }

  void begin_check(const Check&, const Header& header) override {
    line("from __future__ import annotations");
    line("");
    line("import math");
    line("import sys");
    line("");
    line(fmt::format("import {} as feel", header.prefix));
    line("from " + header.prefix + " import State");
    line("");
  }
  void end_check(const Check& check, const Header&) override {
    line("");
    line("");
    line("def main() -> int:");
    ++depth_;
    line("state = State()");
    line("feel.begin(state)");
    line("worst = 0.0");
    line(fmt::format("print(\"{}\")", check.head));
    line(fmt::format("for k in range({}):", check.rows));
    line("    apply_cues(state, k)");
    line("    row = [repr(CHECK_TIME[k])]");
    line(fmt::format("    for c in range({}):", check.columns));
    line("        value = check_value(state, c)");
    line(fmt::format("        off = abs(value - CHECK_ROWS[k * {} + c]) / CHECK_SIZE[c]", check.columns));
    line("        row.append(repr(value))");
    line("        if not off <= worst:");
    line("            worst = off");
    line("    print(\",\".join(row))");
    line("    feel.advance(state, CHECK_STEP[k])");
    line("print(\"largest difference\", worst)");
    line(fmt::format("return 0 if worst <= {} else 1", check.tolerance));
    --depth_;
    line("");
    line("");
    line("if __name__ == \"__main__\":");
    line("    sys.exit(main())");
  }
};

} // namespace

std::unique_ptr<Printer> python_printer() { return std::make_unique<Python>(); }

} // namespace stasis::code
