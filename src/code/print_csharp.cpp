// C#, for any version since 6.
#include <fmt/format.h>

#include "code/printer.hpp"

namespace stasis::code {
namespace {

class CSharp final : public Printer {
public:
  std::string_view language() const noexcept override { return "csharp"; }
  std::string_view extension() const noexcept override { return ".cs"; }

private:
  std::string type(const Type& of) const {
    const std::string array = of.is_array() ? "[]" : "";
    switch (of.kind) {
    case Type::Kind::nothing: return "void";
    case Type::Kind::real: return "double" + array;
    case Type::Kind::single: return "float" + array;
    case Type::Kind::whole: return "int" + array;
    case Type::Kind::flag: return "bool" + array;
    case Type::Kind::stream: return "ulong";
    case Type::Kind::record: return in_camel_case(of.record, true) + array;
    }
    return {};
  }
  std::string names(const std::string& name) const override { return in_camel_case(name, false); }
  std::string field_name(const std::string& name) const { return in_camel_case(name, true); }
  std::string class_name() const { return in_camel_case(prefix_, true); }

  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    line("using System;");
    line("");
    line("public static class " + class_name());
    line("{");
    ++depth_;
    if (!uses("bits")) return;
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.");
    line("static double Bits(ulong stream, int place) {");
    line("    unchecked {");
    line("        ulong bits = stream + (ulong)(long)place * 0x9e3779b97f4a7c15UL;");
    line("        bits = (bits ^ (bits >> 32)) * 0xd6e8feb86659fd93UL;");
    line("        return (double)(long)bits * 1.0842021724855044e-19; // over 2^63");
    line("    }");
    line("}");
    line("");
  }
  void end_file() override {
    --depth_;
    line("}");
  }
  static std::string value_of(const std::string& value, const Type& of) {
    const bool is_single = of.kind == Type::Kind::single;
    const std::string name = is_single ? "float" : "double";
    if (value == "UNBOUNDED") return name + ".PositiveInfinity";
    return value == "-UNBOUNDED" ? name + ".NegativeInfinity" : is_single ? value + "f" : value;
  }
  void print_constant(const Constant& one) override {
    if (one.type.is_array()) {
      words(one.words);
      std::vector<std::string> values;
      for (const std::string& value : one.values) values.push_back(value_of(value, one.type));
      return print_list(fmt::format("public static readonly {} {} = {{", type(one.type), one.name), values, "};");
    }
    line(fmt::format("public const {} {} = {};{}", type(one.type), one.name, value_of(one.values.front(), one.type),
                     one.words.empty() ? "" : " // " + one.words));
  }
  void print_record(const Record& record) override {
    line("public sealed class " + in_camel_case(record.name, true));
    line("{");
    ++depth_;
    for (const Field& one : record.fields) {
      std::string made;
      if (one.type.is_array())
        made = fmt::format(" = new {}[{}]", type(one.type.element()), one.type.length);
      else if (one.type.kind == Type::Kind::record)
        made = fmt::format(" = new {}()", type(one.type));
      line(fmt::format("public {} {}{};{}", type(one.type), field_name(one.name), made,
                       one.words.empty() ? "" : " // " + one.words));
    }
    std::vector<std::string> makes; // an array of records begins as one of nothing
    for (const Field& one : record.fields)
      if (one.type.is_array() && one.type.kind == Type::Kind::record)
        makes.push_back(fmt::format("for (int i = 0; i < {0}.Length; ++i) {0}[i] = new {1}();", field_name(one.name),
                                    type(one.type.element())));
    if (!makes.empty()) {
      line("");
      line(fmt::format("public {}()", in_camel_case(record.name, true)));
      line("{");
      for (const std::string& one : makes) line("    " + one);
      line("}");
    }
    --depth_;
    line("}");
  }
  void begin_function(const Function& one) override {
    words(one.words);
    std::string parameters;
    for (const Parameter& p : one.parameters)
      parameters += (parameters.empty() ? "" : ", ") + type(p.type) + " " + names(p.name);
    line(fmt::format("{}static {} {}({})", one.is_open ? "public " : "", type(one.gives), field_name(one.name),
                     parameters));
    line("{");
  }
  void print_declare(const Statement& one) override {
    line(fmt::format("{} {} = {};", type(one.type), names(one.name), expression(one.value)));
  }
  void print_count(const Statement& one) override { print_counting_loop(one); }
  std::string literal(const Expression& one) const override {
    if (one.type.kind == Type::Kind::single) return one.text + "f";
    return one.type.kind == Type::Kind::stream ? one.text + "UL" : one.text;
  }
  std::string name(const Expression& one) override {
    if (one.text == "UNBOUNDED") return value_of(one.text, one.type);
    return is_constant(one.text) ? one.text : names(one.text);
  }
  std::string field(const Expression& one) override { return expression(one.parts[0], 9) + "." + field_name(one.text); }
  std::string call(const Expression& one) override {
    const std::vector<std::string> given = arguments(one);
    if (called(one.text) != nullptr) return fmt::format("{}({})", field_name(one.text), fmt::join(given, ", "));
    if (one.text == "choose") return fmt::format("({} ? {} : {})", given[0], given[1], given[2]);
    if (one.text == "real" || one.text == "single" || one.text == "wide")
      return "(" + type(one.type) + ")" + expression(one.parts[0], 8);
    if (one.text == "whole") return fmt::format("(int)Math.Floor({})", given[0]);
    if (one.text == "bits") return fmt::format("Bits({}, {})", given[0], given[1]);
    // What works on long numbers only is brought back.
    const bool keeps_kind =
        one.text == "abs" || one.text == "min" || one.text == "max" || one.text == "least" || one.text == "most";
    const std::string back = one.type.kind == Type::Kind::single && !keeps_kind ? "(float)" : "";
    if (one.text == "hypot") return fmt::format("{2}Math.Sqrt({0} * {0} + {1} * {1})", given[0], given[1], back);
    const std::string plain = one.text == "ceil"    ? "Ceiling"
                              : one.text == "least" ? "Min"
                              : one.text == "most"  ? "Max"
                                                    : in_camel_case(one.text, true);
    return fmt::format("{}Math.{}({})", back, plain, fmt::join(given, ", "));
  }

  void begin_check(const Check&, const Header&) override {
    line("using System;");
    line("using System.Globalization;");
    line("using static " + class_name() + ";");
    line("");
    line("public static class " + class_name() + "Check");
    line("{");
    ++depth_;
  }
  void end_check(const Check& check, const Header&) override {
    line("");
    line("public static int Main()");
    line("{");
    ++depth_;
    for (const std::string_view one : {"var state = new State();", "Begin(state);", "double worst = 0.0;",
                                       "var shown = CultureInfo.InvariantCulture;"})
      line(std::string(one));
    line(fmt::format("Console.Write(\"{}\\n\");", check.head));
    line(fmt::format("for (int k = 0; k < {}; ++k) {{", check.rows));
    line("    ApplyCues(state, k);");
    line("    Console.Write(CHECK_TIME[k].ToString(\"R\", shown));");
    line(fmt::format("    for (int c = 0; c < {}; ++c) {{", check.columns));
    line("        double value = CheckValue(state, c);");
    line(fmt::format("        double off = Math.Abs(value - CHECK_ROWS[k * {} + c]) / CHECK_SIZE[c];", check.columns));
    line("        Console.Write(\",\" + value.ToString(\"R\", shown));");
    line("        if (!(off <= worst)) worst = off;");
    line("    }");
    line("    Console.Write(\"\\n\");");
    line("    Advance(state, CHECK_STEP[k]);");
    line("}");
    line("Console.Write(\"largest difference \" + worst.ToString(\"R\", shown) + \"\\n\");");
    line(fmt::format("return worst <= {} ? 0 : 1;", check.tolerance));
    --depth_;
    line("}");
    --depth_;
    line("}");
  }
};

} // namespace

std::unique_ptr<Printer> csharp_printer() { return std::make_unique<CSharp>(); }

} // namespace stasis::code
