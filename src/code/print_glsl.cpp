// GLSL, for shaders of the versions 3.00 ES and 3.30 and later: functions of time, without state.
#include <set>
#include <string_view>

#include <fmt/format.h>

#include "code/printer.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

/// Words that the language keeps for itself and that are none of ours (GLSL ES 3.00, 3.7).
bool is_kept_in_shaders(const std::string& name) {
  static const std::set<std::string_view> kept{
      "active", "attribute", "buffer", "centroid", "common",     "discard",   "filter",  "fixed",     "flat",
      "half",   "highp",     "hvec2",  "image",    "in",         "inout",     "input",   "invariant", "layout",
      "lowp",   "mediump",   "noise1", "out",      "output",     "partition", "patch",   "precision", "resource",
      "sample", "sampler",   "shared", "smooth",   "subroutine", "superp",    "texture", "uniform",   "varying"};
  return kept.contains(name);
}

class Glsl final : public Printer {
public:
  std::string_view language() const noexcept override { return "glsl"; }
  std::string_view extension() const noexcept override { return ".glsl"; }

private:
  static std::string type(const Type& of) {
    switch (of.kind) {
    case Type::Kind::nothing: return "void";
    case Type::Kind::real:
    case Type::Kind::single: return "float";
    case Type::Kind::whole: return "int";
    case Type::Kind::flag: return "bool";
    case Type::Kind::stream: return "uvec2";
    case Type::Kind::record: return in_camel_case(of.record, true);
    }
    return {};
  }
  std::string names(const std::string& name) const override { return is_kept_in_shaders(name) ? name + "_" : name; }
  std::string function_name(const std::string& name) const { return prefix_ + "_" + name; }
  std::string constant_name(const std::string& name) const { return in_capitals(prefix_) + "_" + name; }

  void begin_file(const Header& header) override {
    for (const std::string& paragraph : header.words) words(paragraph);
    words(fmt::format("Every name begins with {}_. Put this before what calls it; numbers are of single precision.",
                      prefix_));
    line("precision highp float;");
    line("precision highp int;");
    line("");
    if (uses("bits")) print_bits();
    if (uses("sin") || uses("cos")) print_sine();
  }
  /// The language's own sine is allowed to be off by 2^-11 (GLSL ES 3.00, 8.1; OpenGL ES leaves it to the machine).
  void print_sine() {
    words("The sine to the last digits of single precision, which the machine's own need not have.");
    line(fmt::format("float {}_sine(float x) {{", prefix_));
    line("    float turns = floor(x * 0.15915494309 + 0.5);");
    line("    float y = (x - turns * 2.0 * 3.140625) - turns * 0.0019353071795864769;");
    line("    if (abs(y) > 1.5707963267948966) {");
    line("        y = (y > 0.0 ? 3.141592653589793 : -3.141592653589793) - y;");
    line("    }");
    line("    float s = y * y;");
    line("    return y + y * s * (-0.16666666666 + s * (0.00833333333 + s * (-0.000198412698 + s * (2.75573192e-06 - s "
         "* "
         "2.5052108e-08))));");
    line("}");
  }
  /// Products of 64 bits from parts of 16: the language has none.
  void print_bits() {
    words("The lower 64 bits of a product, high half first.");
    line(fmt::format("uvec2 {}_product(uvec2 a, uvec2 b) {{", prefix_));
    line("    uint a0 = a.y & 0xffffu, a1 = a.y >> 16, b0 = b.y & 0xffffu, b1 = b.y >> 16;");
    line("    uint low = a0 * b0, cross = a1 * b0 + (low >> 16), across = (cross & 0xffffu) + a0 * b1;");
    line("    uint high = a1 * b1 + (cross >> 16) + (across >> 16) + a.x * b.y + a.y * b.x;");
    line("    return uvec2(high, a.y * b.y);");
    line("}");
    words("A number from -1 to 1 for each place of a stream: the place's bits, well mixed.");
    line(fmt::format("float {}_bits(uvec2 stream, int place) {{", prefix_));
    line(fmt::format("    uvec2 step = {}_product(uvec2(place < 0 ? 0xffffffffu : 0u, uint(place)), uvec2(0x9e3779b9u, "
                     "0x7f4a7c15u));",
                     prefix_));
    line("    uint low = stream.y + step.y;");
    line("    uvec2 start = uvec2(stream.x + step.x + (low < step.y ? 1u : 0u), low);");
    line(fmt::format(
        "    uvec2 mixed = {}_product(uvec2(start.x, start.y ^ start.x), uvec2(0xd6e8feb8u, 0x6659fd93u));", prefix_));
    line("    return (float(int(mixed.x)) + float(mixed.y) * 2.3283064e-10) * 4.656612873e-10; // over 2^63");
    line("}");
  }
  static std::string value_of(const std::string& value) {
    if (value == "UNBOUNDED") return "3.402823466e+38";
    return value == "-UNBOUNDED" ? "-3.402823466e+38" : value;
  }
  void print_constant(const Constant& one) override {
    line(fmt::format("const {} {} = {};{}", type(one.type), constant_name(one.name), value_of(one.values.front()),
                     one.words.empty() ? "" : " // " + one.words));
  }
  void print_record(const Record&) override {} // what keeps no state has none
  void begin_function(const Function& one) override {
    words(one.words);
    std::string parameters;
    for (const Parameter& p : one.parameters)
      parameters += (parameters.empty() ? "" : ", ") + type(p.type) + " " + names(p.name);
    line(fmt::format("{} {}({}) {{", type(one.gives), function_name(one.name), parameters));
  }
  void print_declare(const Statement& one) override {
    line(fmt::format("{} {} = {};", type(one.type), names(one.name), expression(one.value)));
  }
  void print_count(const Statement& one) override { print_counting_loop(one); }
  std::string literal(const Expression& one) const override {
    if (one.type.kind != Type::Kind::stream) return one.text;
    // "0x" and sixteen digits
    return fmt::format("uvec2(0x{}u, 0x{}u)", one.text.substr(2, 8), one.text.substr(10, 8));
  }
  std::string name(const Expression& one) override {
    if (one.text == "UNBOUNDED") return value_of(one.text);
    return is_constant(one.text) ? constant_name(one.text) : names(one.text);
  }
  std::string call(const Expression& one) override {
    const std::vector<std::string> given = arguments(one);
    if (called(one.text) != nullptr) return fmt::format("{}({})", function_name(one.text), fmt::join(given, ", "));
    if (one.text == "choose") return fmt::format("({} ? {} : {})", given[0], given[1], given[2]);
    if (one.text == "real") return "float(" + given[0] + ")";
    if (one.text == "whole") return "int(floor(" + given[0] + "))";
    if (one.text == "bits") return fmt::format("{}_bits({}, {})", prefix_, given[0], given[1]);
    if (one.text == "sin") return fmt::format("{}_sine({})", prefix_, given[0]);
    if (one.text == "cos") return fmt::format("{}_sine(1.5707963267948966 + {})", prefix_, expression(one.parts[0], 4));
    if (one.text == "hypot") return fmt::format("length(vec2({}, {}))", given[0], given[1]);
    const std::string plain = one.text == "least" ? "min" : one.text == "most" ? "max" : one.text;
    return fmt::format("{}({})", plain, fmt::join(given, ", "));
  }
  void begin_check(const Check&, const Header&) override {}
  void end_check(const Check&, const Header&) override {}
};

} // namespace

std::unique_ptr<Printer> glsl_printer() { return std::make_unique<Glsl>(); }

} // namespace stasis::code
