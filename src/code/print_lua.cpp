// Lua 5.3 and later, as a module.
#include <fmt/format.h>

#include "code/printer.hpp"

namespace stasis::code {
namespace {

class Lua final : public Printer {
public:
  std::string_view language() const noexcept override { return "lua"; }
  std::string_view extension() const noexcept override { return ".lua"; }

private:
  std::string comment(std::string_view text) const override { return "-- " + std::string(text); }
  std::string_view ending() const override { return ""; }
  std::string closing() const override { return "end"; }
  std::string if_line(const std::string& condition) const override { return "if " + condition + " then"; }
  std::string else_if_line(const std::string& condition) const override { return "elseif " + condition + " then"; }
  std::string else_line() const override { return "else"; }
  std::string while_line(const std::string& condition) const override { return "while " + condition + " do"; }
  std::string operator_text(const std::string& sign) const override {
    if (sign == "!") return "not ";
    return sign == "&&" ? "and" : sign == "||" ? "or" : sign == "!=" ? "~=" : sign;
  }

  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    line("local M = {}");
    if (!uses("bits")) return;
    line("");
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.");
    line("local function bits(stream, place)");
    line("    local mixed = stream + place * 0x9e3779b97f4a7c15");
    line("    mixed = (mixed ~ (mixed >> 32)) * 0xd6e8feb86659fd93");
    line("    return mixed * 1.0842021724855044e-19 -- over 2^63");
    line("end");
    line("");
  }
  void end_file() override {
    line("");
    line("return M");
  }
  static std::string value_of(const std::string& value) {
    if (value == "UNBOUNDED") return "math.huge";
    return value == "-UNBOUNDED" ? "-math.huge" : value;
  }
  void print_constant(const Constant& one) override {
    const std::string name = checked_ != nullptr ? "local " + one.name : "M." + one.name;
    if (one.type.is_array()) {
      words(one.words);
      std::vector<std::string> values;
      for (const std::string& value : one.values) values.push_back(value_of(value));
      return print_list(name + " = {", values, "}");
    }
    line(name + " = " + value_of(one.values.front()) + (one.words.empty() ? "" : " -- " + one.words));
  }
  static std::string nothing_of(const Type& type) {
    switch (type.kind) {
    case Type::Kind::flag: return "false";
    case Type::Kind::record: return fmt::format("M.new_{}()", in_small_letters(type.record));
    case Type::Kind::real:
    case Type::Kind::single: return "0.0";
    default: return "0";
    }
  }
  void print_record(const Record& record) override {
    line(fmt::format("function M.new_{}()", in_small_letters(record.name)));
    line("    local made = {}");
    ++depth_;
    for (const Field& one : record.fields) {
      const std::string note = one.words.empty() ? "" : " -- " + one.words;
      if (one.type.is_array()) {
        line(fmt::format("made.{} = {{}}{}", one.name, note));
        line(fmt::format("for i = 1, {} do made.{}[i] = {} end", one.type.length, one.name, nothing_of(one.type)));
      } else {
        line(fmt::format("made.{} = {}{}", one.name, nothing_of(one.type), note));
      }
    }
    line("return made");
    --depth_;
    line("end");
  }
  void begin_function(const Function& one) override {
    words(one.words);
    std::string parameters;
    for (const Parameter& p : one.parameters) parameters += (parameters.empty() ? "" : ", ") + p.name;
    line(fmt::format("{}{}({})", checked_ != nullptr ? "local function " : "function M.", one.name, parameters));
  }
  void print_declare(const Statement& one) override {
    line(fmt::format("local {} = {}", one.name, expression(one.value)));
  }
  void print_count(const Statement& one) override {
    line(fmt::format("for {} = {}, {} - 1 do", one.name, expression(one.value), expression(one.limit, 5)));
    print_block(one.body);
    close_block();
  }
  std::string name(const Expression& one) override {
    if (one.text == "UNBOUNDED") return "math.huge";
    if (!is_constant(one.text)) return one.text;
    if (checked_ == nullptr) return "M." + one.text;
    for (const Constant& constant : program_->constants)
      if (constant.name == one.text) return one.text;
    return "feel." + one.text;
  }
  /// Arrays count from 1.
  std::string element(const Expression& one) override {
    const Expression& place = one.parts[1];
    const std::string at = place.kind == Expression::Kind::literal ? std::to_string(std::stoi(place.text) + 1)
                                                                   : expression(place, 4) + " + 1";
    return expression(one.parts[0], 9) + "[" + at + "]";
  }
  std::string call(const Expression& one) override {
    const std::vector<std::string> given = arguments(one);
    if (called(one.text) != nullptr) {
      const std::string_view of = checked_ == nullptr ? "M." : program_->function(one.text) != nullptr ? "" : "feel.";
      return fmt::format("{}{}({})", of, one.text, fmt::join(given, ", "));
    }
    if (one.text == "choose") return fmt::format("({} and {} or {})", expression(one.parts[0], 3), given[1], given[2]);
    if (one.text == "real") return expression(one.parts[0], 9);
    if (one.text == "whole") return fmt::format("math.floor({})", given[0]);
    if (one.text == "bits") return fmt::format("bits({}, {})", given[0], given[1]);
    if (one.text == "pow") return fmt::format("({} ^ {})", expression(one.parts[0], 8), expression(one.parts[1], 8));
    if (one.text == "hypot") return fmt::format("math.sqrt({0} * {0} + {1} * {1})", given[0], given[1]);
    const std::string plain = one.text == "least" ? "min" : one.text == "most" ? "max" : one.text;
    return fmt::format("math.{}({})", plain, fmt::join(given, ", "));
  }

  void begin_check(const Check&, const Header&) override {
    line("package.path = (arg[0]:match(\"^.*/\") or \"./\") .. \"?.lua;\" .. package.path");
    line(fmt::format("local feel = require(\"{}\")", prefix_));
    line("");
  }
  void end_check(const Check& check, const Header&) override {
    line("");
    line("local state = feel.new_state()");
    line("feel.begin(state)");
    line("local worst = 0.0");
    line(fmt::format("print(\"{}\")", check.head));
    line(fmt::format("for k = 1, {} do", check.rows));
    line("    apply_cues(state, k - 1)");
    line("    local row = {string.format(\"%.17g\", CHECK_TIME[k])}");
    line(fmt::format("    for c = 1, {} do", check.columns));
    line("        local value = check_value(state, c - 1)");
    line(fmt::format("        local off = math.abs(value - CHECK_ROWS[(k - 1) * {} + c]) / CHECK_SIZE[c]",
                     check.columns));
    line("        row[#row + 1] = string.format(\"%.17g\", value)");
    line("        if not (off <= worst) then worst = off end");
    line("    end");
    line("    print(table.concat(row, \",\"))");
    line("    feel.advance(state, CHECK_STEP[k])");
    line("end");
    line("print(string.format(\"largest difference %g\", worst))");
    line(fmt::format("os.exit(worst <= {})", check.tolerance));
  }
};

} // namespace

std::unique_ptr<Printer> lua_printer() { return std::make_unique<Lua>(); }

} // namespace stasis::code
