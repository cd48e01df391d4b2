// Rust of the 2018 edition and later, without `unsafe`.
#include <utility>

#include <fmt/format.h>

#include "code/layout.hpp"
#include "code/printer.hpp"
#include "code/walk.hpp"

namespace stasis::code {
namespace {

class Rust final : public Printer {
public:
  std::string_view language() const noexcept override { return "rust"; }
  std::string_view extension() const noexcept override { return ".rs"; }

private:
  static std::string type(const Type& of) {
    std::string one;
    switch (of.kind) {
    case Type::Kind::nothing: return "()";
    case Type::Kind::real: one = "f64"; break;
    case Type::Kind::single: one = "f32"; break;
    case Type::Kind::whole: one = "i32"; break;
    case Type::Kind::flag: one = "bool"; break;
    case Type::Kind::stream: one = "u64"; break;
    case Type::Kind::record: one = in_camel_case(of.record, true); break;
    }
    return of.is_array() ? fmt::format("[{}; {}]", one, of.length) : one;
  }
  std::vector<std::string> laid_out(std::string_view text, std::size_t indent) const override {
    return rust_layout(text, indent);
  }
  std::string documentation(std::string_view line) const override { return "/// " + std::string(line); }
  std::string_view before_table() const override { return "#[rustfmt::skip]"; }
  std::string if_line(const std::string& condition) const override { return "if " + condition + " {"; }
  std::string while_line(const std::string& condition) const override { return "while " + condition + " {"; }

  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    line(fmt::format("#![allow(dead_code, unused_assignments{})]", uses("single") ? ", unused_parens" : ""));
    line("");
    if (!uses("bits")) return;
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.", true);
    line("fn bits(stream: u64, place: i32) -> f64 {");
    line("    let start = stream.wrapping_add((i64::from(place) as u64).wrapping_mul(0x9e37_79b9_7f4a_7c15));");
    line("    let mixed = (start ^ (start >> 32)).wrapping_mul(0xd6e8_feb8_6659_fd93);");
    line("    (mixed as i64) as f64 * 1.0842021724855044e-19 // over 2^63");
    line("}");
    line("");
  }
  static std::string value_of(const std::string& value, const Type& of) {
    const std::string name = of.kind == Type::Kind::single ? "f32" : "f64";
    if (value == "UNBOUNDED") return name + "::INFINITY";
    return value == "-UNBOUNDED" ? name + "::NEG_INFINITY" : value;
  }
  void print_constant(const Constant& one) override {
    const std::string start = fmt::format("pub const {}: {} = ", one.name, type(one.type));
    if (one.type.is_array()) {
      words(one.words, true);
      std::vector<std::string> values;
      for (const std::string& value : one.values) values.push_back(value_of(value, one.type));
      return print_list(start + "[", values, "];");
    }
    const std::string declared = start + value_of(one.values.front(), one.type) + ";";
    const std::string note = one.words.empty() ? "" : " // " + one.words;
    if (declared.size() + note.size() <= widest()) return line(declared + note);
    words(one.words, true);
    line(declared);
  }
  static std::string nothing_of(const Type& of) {
    std::string one = "0";
    if (of.kind == Type::Kind::flag) one = "false";
    if (of.kind == Type::Kind::real || of.kind == Type::Kind::single) one = "0.0";
    if (of.kind == Type::Kind::record) one = in_camel_case(of.record, true) + "::new()";
    return of.is_array() ? fmt::format("[{}; {}]", one, of.length) : one;
  }
  void print_record(const Record& record) override {
    const std::string name = in_camel_case(record.name, true);
    line("#[derive(Clone, Copy, Debug)]");
    line("pub struct " + name + " {");
    ++depth_;
    for (const Field& one : record.fields) {
      words(one.words, true);
      line(fmt::format("pub {}: {},", one.name, type(one.type)));
    }
    --depth_;
    line("}");
    line("");
    line("impl " + name + " {");
    line("    pub fn new() -> Self {");
    line("        Self {");
    for (const Field& one : record.fields) line(fmt::format("            {}: {},", one.name, nothing_of(one.type)));
    line("        }");
    line("    }");
    line("}");
    line("");
    line("impl Default for " + name + " {");
    line("    fn default() -> Self {");
    line("        Self::new()");
    line("    }");
    line("}");
  }
  void begin_function(const Function& one) override {
    words(one.words, true);
    std::vector<std::string> parameters;
    for (const Parameter& p : one.parameters)
      parameters.push_back(p.name + ": "
                           + (p.type.kind != Type::Kind::record ? ""
                              : p.changes                       ? "&mut "
                                                                : "&")
                           + type(p.type));
    const std::string gives = one.gives.kind == Type::Kind::nothing ? "" : " -> " + type(one.gives);
    signature(fmt::format("{}fn {}(", one.is_open ? "pub " : "", one.name), parameters, ")" + gives + " {");
  }
  void print_declare(const Statement& one) override {
    line(fmt::format("let {}{}: {} = {};", is_changed(one.name) ? "mut " : "", one.name, type(one.type),
                     expression(one.value)));
  }
  void print_count(const Statement& one) override {
    line(fmt::format("for {} in {}..{} {{", is_named(one.body, one.name) ? one.name : "_", expression(one.value, 9),
                     expression(one.limit, 9)));
    print_block(one.body);
    close_block();
  }
  std::string name(const Expression& one) override {
    return one.text == "UNBOUNDED" ? value_of(one.text, one.type) : one.text;
  }
  std::string element(const Expression& one) override {
    const Expression& place = one.parts[1];
    if (place.kind == Expression::Kind::literal) return expression(one.parts[0], 9) + "[" + place.text + "]";
    return expression(one.parts[0], 9) + "[" + (place.parts.empty() ? expression(place) : "(" + expression(place) + ")")
           + " as usize]";
  }
  /// A value of which a method is called; what is made of numbers alone must say of which type they are.
  std::string receiver(const Expression& one) {
    bool has_names = false;
    each_expression(one, [&](const Expression& part) {
      has_names = has_names || part.kind == Expression::Kind::name || part.kind == Expression::Kind::call;
    });
    const bool before = std::exchange(says_type_, !has_names);
    const std::string text = expression(one, 9);
    says_type_ = before;
    return text;
  }
  std::string literal(const Expression& one) const override {
    if (says_type_ && one.type.kind == Type::Kind::single) return one.text + "_f32";
    return says_type_ && one.type.kind == Type::Kind::real ? one.text + "_f64" : one.text;
  }
  std::string call(const Expression& one) override {
    if (const Function* function = called(one.text)) {
      std::string listed;
      for (std::size_t i = 0; i < one.parts.size(); ++i) {
        const bool is_part =
            one.parts[i].type.kind == Type::Kind::record && one.parts[i].kind != Expression::Kind::name;
        listed += (i > 0 ? ", " : "")
                  + std::string(!is_part                          ? ""
                                : function->parameters[i].changes ? "&mut "
                                                                  : "&")
                  + expression(one.parts[i]);
      }
      return one.text + "(" + listed + ")";
    }
    const std::vector<std::string> given = arguments(one);
    if (one.text == "choose") return fmt::format("(if {} {{ {} }} else {{ {} }})", given[0], given[1], given[2]);
    if (one.text == "wide") return fmt::format("f64::from({})", given[0]);
    if (one.text == "single" || (one.text == "real" && one.type.kind == Type::Kind::single))
      return fmt::format("({} as f32)", expression(one.parts[0], 9));
    if (one.text == "real") return fmt::format("f64::from({})", given[0]);
    if (one.text == "whole") return fmt::format("({}.floor() as i32)", receiver(one.parts[0]));
    if (one.text == "bits") return fmt::format("bits({}, {})", given[0], given[1]);
    if (one.text == "least" || one.text == "most")
      return fmt::format("std::cmp::{}({}, {})", one.text == "least" ? "min" : "max", given[0], given[1]);
    const std::string plain = one.text == "log" ? "ln" : one.text == "pow" ? "powf" : one.text;
    const std::string other = given.size() > 1 ? given[1] : "";
    return fmt::format("{}.{}({})", receiver(one.parts[0]), plain, other);
  }

  void begin_check(const Check&, const Header&) override {
    if (uses("single")) line("#![allow(unused_parens)]");
    line("#[allow(dead_code)]");
    line(fmt::format("#[path = \"{}.rs\"]", prefix_));
    line("mod feel;");
    line("use feel::*;");
    line("");
  }
  void end_check(const Check& check, const Header&) override {
    line("");
    line("fn main() {");
    ++depth_;
    line("let mut state = State::new();");
    line("begin(&mut state);");
    line("let mut worst: f64 = 0.0;");
    line(fmt::format("println!(\"{}\");", check.head));
    line(fmt::format("for k in 0..{}usize {{", check.rows));
    line("    apply_cues(&mut state, k as i32);");
    line("    let mut row = format!(\"{}\", CHECK_TIME[k]);");
    line(fmt::format("    for c in 0..{}usize {{", check.columns));
    line("        let value = check_value(&state, c as i32);");
    line(fmt::format("        let off = (value - CHECK_ROWS[k * {} + c]).abs() / CHECK_SIZE[c];", check.columns));
    line("        row += &format!(\",{}\", value);");
    line("        if !(off <= worst) {");
    line("            worst = off;");
    line("        }");
    line("    }");
    line("    println!(\"{}\", row);");
    line("    advance(&mut state, CHECK_STEP[k]);");
    line("}");
    line("println!(\"largest difference {:e}\", worst);");
    line(fmt::format("std::process::exit(if worst <= {} {{ 0 }} else {{ 1 }});", check.tolerance));
    --depth_;
    line("}");
  }

  bool says_type_ = false;
};

} // namespace

std::unique_ptr<Printer> rust_printer() { return std::make_unique<Rust>(); }

} // namespace stasis::code
