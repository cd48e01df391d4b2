// JavaScript, as a module, with declarations of its types beside it.
#include <fmt/format.h>

#include "code/layout.hpp"
#include "code/printer.hpp"

namespace stasis::code {
namespace {

class JavaScript final : public Printer {
public:
  std::string_view language() const noexcept override { return "javascript"; }
  std::string_view extension() const noexcept override { return ".mjs"; }

  std::string declarations(const Program& program, const Header& header) override {
    text_.clear();
    depth_ = 0;
    prefix_ = header.prefix;
    words(header.words.front());
    words(fmt::format("Types of {}.mjs.", header.prefix));
    for (const Constant& one : program.constants) line(fmt::format("export const {}: {};", one.name, typed(one.type)));
    for (const Record& record : program.records) {
      line(fmt::format("export class {} {{", in_camel_case(record.name, true)));
      for (const Field& one : record.fields) line(fmt::format("    {}: {};", names(one.name), typed(one.type)));
      line("}");
    }
    for (const Function& one : program.functions) {
      if (!one.is_open) continue;
      std::string parameters;
      for (const Parameter& p : one.parameters)
        parameters += (parameters.empty() ? "" : ", ") + names(p.name) + ": " + typed(p.type);
      words(one.words);
      line(fmt::format("export function {}({}): {};", names(one.name), parameters, typed(one.gives)));
    }
    return std::move(text_);
  }

private:
  std::vector<std::string> laid_out(std::string_view text, std::size_t indent) const override {
    return javascript_layout(text, indent);
  }
  std::size_t widest() const override { return 80; }
  std::size_t step() const override { return 2; }
  static std::string typed(const Type& of) {
    const std::string array = of.is_array() ? "[]" : "";
    switch (of.kind) {
    case Type::Kind::nothing: return "void";
    case Type::Kind::real:
    case Type::Kind::single:
    case Type::Kind::whole: return "number" + array;
    case Type::Kind::flag: return "boolean" + array;
    case Type::Kind::stream: return "bigint";
    case Type::Kind::record: return in_camel_case(of.record, true) + array;
    }
    return {};
  }
  std::string names(const std::string& name) const override { return in_camel_case(name, false); }

  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    if (!uses("bits")) return;
    line("");
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.");
    line("function bits(stream, place) {");
    line("    let mixed = BigInt.asUintN(64, stream + BigInt(place) * 0x9e3779b97f4a7c15n);");
    line("    mixed = BigInt.asUintN(64, (mixed ^ (mixed >> 32n)) * 0xd6e8feb86659fd93n);");
    line("    return Number(BigInt.asIntN(64, mixed)) * 1.0842021724855044e-19; // over 2^63");
    line("}");
    line("");
  }
  static std::string value_of(const std::string& value) {
    if (value == "UNBOUNDED") return "Infinity";
    return value == "-UNBOUNDED" ? "-Infinity" : value;
  }
  void print_constant(const Constant& one) override {
    const std::string start = fmt::format("{}const {} = ", checked_ != nullptr ? "" : "export ", one.name);
    if (one.type.is_array()) {
      words(one.words);
      std::vector<std::string> values;
      for (const std::string& value : one.values) values.push_back(value_of(value));
      return print_list(start + "[", values, "];");
    }
    line(start + value_of(one.values.front()) + ";" + (one.words.empty() ? "" : " // " + one.words));
  }
  static std::string nothing_of(const Type& type) {
    const std::string one = type.kind == Type::Kind::flag     ? "false"
                            : type.kind == Type::Kind::record ? "new " + in_camel_case(type.record, true) + "()"
                                                              : "0";
    if (!type.is_array()) return one;
    if (type.kind == Type::Kind::record) return fmt::format("Array.from({{ length: {} }}, () => {})", type.length, one);
    return fmt::format("new Array({}).fill({})", type.length, one);
  }
  void print_record(const Record& record) override {
    line("export class " + in_camel_case(record.name, true) + " {");
    line("    constructor() {");
    depth_ += 2;
    for (const Field& one : record.fields)
      line(fmt::format("this.{} = {};{}", names(one.name), nothing_of(one.type),
                       one.words.empty() ? "" : " // " + one.words));
    depth_ -= 2;
    line("    }");
    line("}");
  }
  void begin_function(const Function& one) override {
    words(one.words);
    std::string parameters;
    for (const Parameter& p : one.parameters) parameters += (parameters.empty() ? "" : ", ") + names(p.name);
    line(fmt::format("{}function {}({}) {{", one.is_open && checked_ == nullptr ? "export " : "", names(one.name),
                     parameters));
  }
  void print_declare(const Statement& one) override {
    line(fmt::format("{} {} = {};", is_changed(one.name) ? "let" : "const", names(one.name), expression(one.value)));
  }
  void print_count(const Statement& one) override {
    line(fmt::format("for (let {0} = {1}; {0} < {2}; ++{0}) {{", names(one.name), expression(one.value),
                     expression(one.limit)));
    print_block(one.body);
    close_block();
  }
  std::string operator_text(const std::string& sign) const override {
    return sign == "==" ? "===" : sign == "!=" ? "!==" : sign;
  }
  std::string literal(const Expression& one) const override {
    return one.type.kind == Type::Kind::stream ? one.text + "n" : one.text;
  }
  std::string name(const Expression& one) override {
    if (one.text == "UNBOUNDED") return "Infinity";
    if (!is_constant(one.text)) return names(one.text);
    return checked_ != nullptr && is_of_checked(one.text) ? "feel." + one.text : one.text;
  }
  bool is_of_checked(std::string_view name) const {
    for (const Constant& one : checked_->constants)
      if (one.name == name) return true;
    return false;
  }
  std::string call(const Expression& one) override {
    const std::vector<std::string> given = arguments(one);
    if (called(one.text) != nullptr)
      return fmt::format("{}{}({})", program_->function(one.text) != nullptr ? "" : "feel.", names(one.text),
                         fmt::join(given, ", "));
    if (one.text == "choose") return fmt::format("({} ? {} : {})", given[0], given[1], given[2]);
    if (one.text == "real") return expression(one.parts[0], 9);
    if (one.text == "whole") return fmt::format("Math.floor({})", given[0]);
    if (one.text == "bits") return fmt::format("bits({}, {})", given[0], given[1]);
    const std::string plain = one.text == "least" ? "min" : one.text == "most" ? "max" : one.text;
    return fmt::format("Math.{}({})", plain, fmt::join(given, ", "));
  }

  void begin_check(const Check&, const Header&) override {
    line(fmt::format("import * as feel from \"./{}.mjs\";", prefix_));
    line("");
  }
  void end_check(const Check& check, const Header&) override {
    line("");
    line("const state = new feel.State();");
    line("feel.begin(state);");
    line("let worst = 0;");
    line(fmt::format("const lines = [\"{}\"];", check.head));
    line(fmt::format("for (let k = 0; k < {}; ++k) {{", check.rows));
    line("    applyCues(state, k);");
    line("    const row = [CHECK_TIME[k]];");
    line(fmt::format("    for (let c = 0; c < {}; ++c) {{", check.columns));
    line("        const value = checkValue(state, c);");
    line(fmt::format("        const off = Math.abs(value - CHECK_ROWS[k * {} + c]) / CHECK_SIZE[c];", check.columns));
    line("        row.push(value);");
    line("        if (!(off <= worst)) worst = off;");
    line("    }");
    line("    lines.push(row.join(\",\"));");
    line("    feel.advance(state, CHECK_STEP[k]);");
    line("}");
    line("lines.push(`largest difference ${worst}`);");
    line("console.log(lines.join(\"\\n\"));");
    line(fmt::format("process.exitCode = worst <= {} ? 0 : 1;", check.tolerance));
  }
};

} // namespace

std::unique_ptr<Printer> javascript_printer() { return std::make_unique<JavaScript>(); }

} // namespace stasis::code
