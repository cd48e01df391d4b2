// C99 and C++17: one grammar, two ways to name things.
#include <array>

#include <fmt/format.h>

#include "code/layout.hpp"
#include "code/printer.hpp"

namespace stasis::code {
namespace {

class CFamily : public Printer {
protected:
  virtual std::string record_name(const std::string& name) const = 0;
  virtual std::string constant_name(const std::string& name) const = 0;
  virtual std::string function_name(const std::string& name) const = 0;
  /// A function of <math.h> for a kind of number.
  virtual std::string math(const std::string& name, const Type& of) const = 0;
  virtual std::string reference(const Parameter& one) const = 0;

  std::vector<std::string> laid_out(std::string_view text, std::size_t indent) const override {
    return c_layout(text, indent);
  }
  std::size_t widest() const override { return 80; }
  std::size_t step() const override { return 2; }
  std::string finished(std::string text) const override { return c_file_layout(text, comment("").substr(0, 2)); }

  virtual std::string stream_type() const { return "uint64_t"; }
  std::string type(const Type& of) const {
    switch (of.kind) {
    case Type::Kind::nothing: return "void";
    case Type::Kind::real: return "double";
    case Type::Kind::single: return "float";
    case Type::Kind::whole: return "int";
    case Type::Kind::flag: return "bool";
    case Type::Kind::stream: return stream_type();
    case Type::Kind::record: return record_name(of.record);
    }
    return {};
  }
  std::string declared(const Type& of, const std::string& name) const {
    return type(of) + " " + name + (of.is_array() ? fmt::format("[{}]", of.length) : "");
  }

  void print_record_body(const Record& record) {
    ++depth_;
    for (const Field& one : record.fields) {
      const std::string start = declared(one.type, one.name) + starting_value(one.type) + ";";
      line(one.words.empty() ? start : start + " " + comment(one.words));
    }
    --depth_;
  }
  virtual std::string starting_value(const Type&) const { return {}; }

  void begin_function(const Function& one) override {
    words(one.words);
    std::string parameters;
    for (const Parameter& p : one.parameters)
      parameters += (parameters.empty() ? "" : ", ")
                    + (p.type.kind == Type::Kind::record ? reference(p) : declared(p.type, p.name));
    if (parameters.empty()) parameters = nothing_taken();
    line(fmt::format("{}{} {}({}) {{", linkage(), type(one.gives), function_name(one.name), parameters));
  }
  virtual std::string_view nothing_taken() const { return ""; }
  virtual std::string_view linkage() const = 0;

  void print_declare(const Statement& one) override {
    line(fmt::format("{}{} = {};", is_changed(one.name) ? "" : "const ", declared(one.type, one.name),
                     expression(one.value)));
  }
  void print_count(const Statement& one) override { print_counting_loop(one); }

  std::string name(const Expression& one) override {
    if (one.text == "UNBOUNDED") return unbounded_text(one.type);
    return is_constant(one.text) ? constant_name(one.text) : one.text;
  }
  static std::string unbounded_text(const Type& of) { return of.kind == Type::Kind::single ? "HUGE_VALF" : "HUGE_VAL"; }
  std::string literal(const Expression& one) const override {
    if (one.type.kind == Type::Kind::single) return one.text + "f";
    return one.type.kind == Type::Kind::stream ? "UINT64_C(" + one.text + ")" : one.text;
  }

  std::string call(const Expression& one) override {
    const std::vector<std::string> given = arguments(one);
    if (called(one.text) != nullptr) {
      std::string listed;
      for (std::size_t i = 0; i < given.size(); ++i) listed += (i > 0 ? ", " : "") + argument(one.parts[i], given[i]);
      return function_name(one.text) + "(" + listed + ")";
    }
    if (one.text == "choose") return fmt::format("({} ? {} : {})", given[0], given[1], given[2]);
    if (one.text == "real" || one.text == "single" || one.text == "wide")
      return converted(type(one.type), expression(one.parts[0], cast_strength()));
    if (one.text == "whole") return converted("int", math("floor", one.parts[0].type) + "(" + given[0] + ")");
    if (one.text == "least" || one.text == "most")
      return fmt::format("({0} {2} {1} ? {0} : {1})", expression(one.parts[0], 4), expression(one.parts[1], 4),
                         one.text == "least" ? "<" : ">");
    if (one.text == "bits") return function_name("bits") + fmt::format("({}, {})", given[0], given[1]);
    const std::string plain = one.text == "abs"   ? "fabs"
                              : one.text == "min" ? "fmin"
                              : one.text == "max" ? "fmax"
                                                  : one.text;
    return fmt::format("{}({})", math(plain, one.type), fmt::join(given, ", "));
  }
  virtual std::string argument(const Expression& one, const std::string& text) const = 0;
  virtual std::string converted(const std::string& to, const std::string& value) const = 0;
  /// How tightly a cast binds what stands behind it: 0 if it has brackets of its own.
  virtual int cast_strength() const = 0;

  void print_constant(const Constant& one) override {
    words_of_array(one);
    const std::string end = ";" + (one.words.empty() || one.type.is_array() ? "" : " " + comment(one.words));
    std::vector<std::string> values;
    for (const std::string& value : one.values) values.push_back(constant_value(value, one.type));
    if (one.type.is_array())
      print_list(fmt::format("{} {}[{}] = {{", constant_kind(one.type), constant_name(one.name), one.type.length),
                 values, "};");
    else
      print_scalar(one, values.front(), end);
  }
  virtual void print_scalar(const Constant& one, const std::string& value, const std::string& end) {
    line(fmt::format("{} {} = {}{}", constant_kind(one.type), constant_name(one.name), value, end));
  }
  void words_of_array(const Constant& one) {
    if (one.type.is_array()) words(one.words);
  }
  virtual std::string constant_kind(const Type& of) const = 0;
  std::string constant_value(const std::string& value, const Type& of) const {
    if (value == "UNBOUNDED") return unbounded_text(of);
    if (value == "-UNBOUNDED") return "-" + unbounded_text(of);
    return of.kind == Type::Kind::single ? value + "f" : value;
  }

  /// The numbers that noise is made of.
  void print_bits(const std::string& head) {
    line("");
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.");
    line(head);
    ++depth_;
    line("uint64_t bits = stream + (uint64_t)(int64_t)place * UINT64_C(0x9e3779b97f4a7c15);");
    line("bits = (bits ^ (bits >> 32)) * UINT64_C(0xd6e8feb86659fd93);");
    line("return (double)(int64_t)bits * 1.0842021724855044e-19; " + comment("over 2^63"));
    --depth_;
    line("}");
  }

  /// Prints the line of column names, as many at once as a line of source holds.
  void print_head(const std::string& head) {
    constexpr std::size_t longest = 50;
    for (std::size_t at = 0; at < head.size();) {
      const std::size_t comma = head.size() - at > longest ? head.rfind(',', at + longest) : head.size();
      const std::size_t end =
          comma == std::string::npos || comma <= at ? std::min(head.find(',', at + 1), head.size()) : comma;
      line(fmt::format("printf(\"%s\", \"{}\");", head.substr(at, end - at)));
      at = end;
    }
    line("printf(\"\\n\");");
  }

  void print_main(const Check& check, const std::string& state, const std::string& fresh) {
    line("");
    line("int main(void) {");
    ++depth_;
    line(state);
    line(fresh);
    line("double worst = 0.0;");
    print_head(check.head);
    line(fmt::format("for (int k = 0; k < {}; ++k) {{", check.rows));
    ++depth_;
    line(fmt::format("{}({}, k);", function_name("apply_cues"), state_argument()));
    line(fmt::format("printf(\"%.17g\", {}[k]);", constant_name("CHECK_TIME")));
    line(fmt::format("for (int c = 0; c < {}; ++c) {{", check.columns));
    ++depth_;
    line(fmt::format("const double value = {}({}, c);", function_name("check_value"), state_argument()));
    line(fmt::format("const double off = fabs(value - {}[k * {} + c]) / {}[c];", constant_name("CHECK_ROWS"),
                     check.columns, constant_name("CHECK_SIZE")));
    line("printf(\",%.17g\", value);");
    line("if (!(off <= worst))");
    line("    worst = off;");
    --depth_;
    line("}");
    line("printf(\"\\n\");");
    line(fmt::format("{}({}, {}[k]);", function_name("advance"), state_argument(), constant_name("CHECK_STEP")));
    --depth_;
    line("}");
    line("printf(\"largest difference %g\\n\", worst);");
    line(fmt::format("return worst <= {} ? 0 : 1;", check.tolerance));
    --depth_;
    line("}");
  }
  virtual std::string state_argument() const = 0;
};

class C final : public CFamily {
public:
  std::string_view language() const noexcept override { return "c"; }
  std::string_view extension() const noexcept override { return ".c"; }

private:
  std::string comment(std::string_view text) const override { return "/* " + std::string(text) + " */"; }
  std::string_view before_table() const override { return "/* clang-format off */"; }
  std::string_view behind_table() const override { return "/* clang-format on */"; }
  std::string record_name(const std::string& name) const override { return prefix_ + "_" + in_small_letters(name); }
  std::string constant_name(const std::string& name) const override { return in_capitals(prefix_) + "_" + name; }
  std::string function_name(const std::string& name) const override { return prefix_ + "_" + name; }
  std::string math(const std::string& name, const Type& of) const override {
    return of.kind == Type::Kind::single ? name + "f" : name;
  }
  std::string_view linkage() const override { return "static inline "; }
  std::string_view nothing_taken() const override { return "void"; }
  std::string reference(const Parameter& one) const override {
    return (one.changes ? "" : "const ") + record_name(one.type.record) + " *" + one.name;
  }
  std::string constant_kind(const Type& of) const override { return "static const " + type(of); }
  void print_scalar(const Constant& one, const std::string& value, const std::string& end) override {
    if (one.type.kind == Type::Kind::whole)
      return line(fmt::format("enum {{ {} = {} }}{}", constant_name(one.name), value, end));
    CFamily::print_scalar(one, value, end);
  }
  std::string converted(const std::string& to, const std::string& value) const override {
    return "(" + to + ")" + value;
  }
  int cast_strength() const override { return 6; }
  std::string argument(const Expression& one, const std::string& text) const override {
    return one.type.kind == Type::Kind::record && one.kind != Expression::Kind::name ? "&" + text : text;
  }
  std::string field(const Expression& one) override {
    const Expression& of = one.parts[0];
    return expression(of, 9) + (of.kind == Expression::Kind::name ? "->" : ".") + one.text;
  }
  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    words(fmt::format("Every name begins with {}_: {}_begin() and so on.", prefix_, prefix_));
    const std::string guard = in_capitals(prefix_) + "_INCLUDED";
    line("#ifndef " + guard);
    line("#define " + guard);
    line("");
    for (const char* name : {"math", "stdbool", "stdint"}) line(fmt::format("#include <{}.h>", name));
    if (uses("bits")) print_bits(fmt::format("static inline double {}_bits(uint64_t stream, int place) {{", prefix_));
    part(1);
  }
  void end_file() override {
    line("");
    line("#endif");
  }
  void print_record(const Record& record) override {
    line("typedef struct {");
    print_record_body(record);
    line("} " + record_name(record.name) + ";");
  }
  void begin_check(const Check&, const Header&) override {
    line("#include <stdio.h>");
    line("");
    line(fmt::format("#include \"{}.c\"", prefix_));
    line("");
  }
  std::string state_argument() const override { return "&state"; }
  void end_check(const Check& check, const Header&) override {
    print_main(check, fmt::format("{} state;", record_name("State")),
               fmt::format("{}(&state);", function_name("begin")));
  }
};

class Cpp final : public CFamily {
public:
  std::string_view language() const noexcept override { return "cpp"; }
  std::string_view extension() const noexcept override { return ".cpp"; }

private:
  std::string_view before_table() const override { return "// clang-format off"; }
  std::string_view behind_table() const override { return "// clang-format on"; }
  std::string record_name(const std::string& name) const override { return in_camel_case(name, true); }
  std::string constant_name(const std::string& name) const override { return name; }
  std::string function_name(const std::string& name) const override { return name; }
  std::string math(const std::string& name, const Type&) const override { return "std::" + name; }
  std::string_view linkage() const override { return "inline "; }
  std::string reference(const Parameter& one) const override {
    return (one.changes ? "" : "const ") + record_name(one.type.record) + " &" + one.name;
  }
  std::string constant_kind(const Type& of) const override { return "inline constexpr " + type(of); }
  std::string starting_value(const Type& of) const override { return of.kind == Type::Kind::record ? "" : "{}"; }
  std::string converted(const std::string& to, const std::string& value) const override {
    return "static_cast<" + to + ">(" + value + ")";
  }
  int cast_strength() const override { return 0; }
  std::string argument(const Expression&, const std::string& text) const override { return text; }
  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    const std::string guard = in_capitals(prefix_) + "_INCLUDED";
    line("#ifndef " + guard);
    line("#define " + guard);
    line("");
    for (const char* name : {"cmath", "cstdint"}) line(fmt::format("#include <{}>", name));
    line("");
    line(fmt::format("namespace {} {{", prefix_));
    if (uses("bits")) print_bits("inline double bits(std::uint64_t stream, int place) {");
    line("");
  }
  void end_file() override {
    line("");
    line("} // namespace " + prefix_);
    line("");
    line("#endif");
  }
  void print_record(const Record& record) override {
    line("struct " + record_name(record.name) + " {");
    print_record_body(record);
    line("};");
  }
  void begin_check(const Check&, const Header&) override {
    line("#include <cstdio>");
    line("");
    line(fmt::format("#include \"{}.cpp\"", prefix_));
    line("");
    line(fmt::format("using namespace {};", prefix_));
    line("using std::fabs, std::printf;");
    line("");
    line("namespace {");
    line("");
  }
  std::string state_argument() const override { return "state"; }
  void end_check(const Check& check, const Header&) override {
    line("");
    line("} // namespace");
    print_main(check, "State state;", "begin(state);");
  }
};

} // namespace

std::unique_ptr<Printer> c_printer() { return std::make_unique<C>(); }
std::unique_ptr<Printer> cpp_printer() { return std::make_unique<Cpp>(); }

} // namespace stasis::code
