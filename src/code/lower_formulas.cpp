// Goals that are worked out from other values: formulas and profiles.
#include <algorithm>

#include "code/lowering.hpp"

namespace stasis::code {
namespace {

class FormulaText {
public:
  explicit FormulaText(Lowering& to) : to_(to) {}

  std::string of(const Formula& formula) {
    Formula::Writer writer;
    writer.number = [](double value) { return value < 0.0 ? "(" + literal(value) + ")" : literal(value); };
    writer.variable = [&](std::size_t variable) { return read(to_.feel.variables[variable]); };
    writer.call = [](std::string_view name, std::span<const std::string> x) { return called(name, x); };
    writer.curve = [&](const ProfileCurve& curve, const std::string& at) { return on_curve(curve, at); };
    return formula.write(writer);
  }

private:
  std::string read(const FormulaVariable& variable) const {
    switch (variable.kind) {
    case FormulaVariable::Kind::smooth: return fmt::format("s.mover[{}].shown", to_.value_name(variable.component));
    case FormulaVariable::Kind::goal: return fmt::format("s.mover[{}].goal", to_.value_name(variable.component));
    case FormulaVariable::Kind::control:
      return fmt::format("state_of(s, CONTROL_{})", to_.capitals(identifier(to_.feel.controls[variable.control].name)));
    case FormulaVariable::Kind::time: return "time";
    case FormulaVariable::Kind::track: return read_track(variable);
    }
    return "0.0";
  }
  std::string read_track(const FormulaVariable& variable) const {
    const std::string subject =
        fmt::format("s.subject[TRACK_{}].", to_.capitals(identifier(to_.feel.tracks[variable.track].name)));
    switch (variable.field) {
    case TrackField::place: return fmt::format("{}place[{}]", subject, variable.component.component);
    case TrackField::speed:
      return fmt::format(
          "sqrt({0}velocity[0] * {0}velocity[0] + {0}velocity[1] * {0}velocity[1] + {0}velocity[2] * {0}velocity[2])",
          subject);
    case TrackField::heading: return subject + "facing";
    case TrackField::throttle: return subject + "throttle";
    }
    return "0.0";
  }
  static std::string called(std::string_view name, std::span<const std::string> x) {
    if (name == "+" || name == "-" || name == "*") return fmt::format("({} {} {})", x[0], name, x[1]);
    if (name == "/") return fmt::format("over({}, {})", x[0], x[1]);
    if (name == "^") return fmt::format("power_of({}, {})", x[0], x[1]);
    if (name == "negative") return fmt::format("(-{})", x[0]);
    if (name == "clamp") return fmt::format("held({}, {}, {})", x[0], x[1], x[2]);
    if (name == "blend") return fmt::format("({0} + ({1} - {0}) * {2})", x[0], x[1], x[2]);
    if (name == "part") return fmt::format("part_of({}, {}, {})", x[0], x[1], x[2]);
    if (name == "remap")
      return fmt::format("({3} + ({4} - {3}) * part_of({0}, {1}, {2}))", x[0], x[1], x[2], x[3], x[4]);
    if (name == "sqrt") return fmt::format("root_of({})", x[0]);
    if (name == "exp" || name == "log") return fmt::format("{}_of({})", name, x[0]);
    return x.size() == 2 ? fmt::format("{}({}, {})", name, x[0], x[1]) : fmt::format("{}({})", name, x[0]);
  }
  /// A profile is a function of its own, piece by piece.
  std::string on_curve(const ProfileCurve& curve, const std::string& at) {
    const std::string name = fmt::format("profile_{}", ++profiles_);
    const auto& knots = curve.knots();
    std::string body =
        fmt::format("if (x < {}) {{ return {}; }}\n", literal(knots.front().at), literal(knots.front().value));
    for (std::size_t i = 0; i + 1 < knots.size(); ++i) {
      const ProfileKnot &a = knots[i], &b = knots[i + 1];
      const auto [start, end] = curve.bend_of(i);
      body += fmt::format("if (x < {}) {{ return profile_piece((x - {}) / {}, {}, {}, {}, {}); }}\n", literal(b.at),
                          literal(a.at), literal(b.at - a.at), literal(a.value), literal(b.value), literal(start),
                          literal(end));
    }
    to_.add("/// A profile: straight or rounded from knot to knot.\nreal {}(real x) {{\n{}return {};\n}}", name, body,
            literal(knots.back().value));
    return fmt::format("{}({})", name, at);
  }

  Lowering& to_;
  int profiles_ = 0;
};

} // namespace

void lower_formulas(Lowering& to) {
  std::string lines;
  FormulaText text(to);
  for (std::size_t c = 0; c < to.feel.channels.size(); ++c)
    for (std::size_t i = 0; i < to.feel.channels[c].components && to.has_formula[c] != 0; ++i)
      if (const auto& formula = to.feel.channels[c].formula[i])
        lines += fmt::format("  if (c == {}) {{ return {}; }}\n", to.value_name({c, i}), text.of(*formula));
  to.add(
      "/// The home that a formula gives a value, from the others as they are.\nreal home_by_formula(State s, whole c, "
      "real time) {{\n{}  return s.home[c];\n}}",
      lines);
}

} // namespace stasis::code
