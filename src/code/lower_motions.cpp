// The motions of a feel: their numbers as constants, their steps as functions.
#include <algorithm>
#include <cmath>

#include "code/lowering.hpp"
#include "core/overloaded.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis::code {
namespace {

constexpr const char* handover_names[] = {"RESTART", "PRO_RATA", "CARRY", "FINISH_FIRST"};

/// A curve as two expressions of `t`: its value and its slope. A text that needs more is put into functions before.
class CurveText {
public:
  CurveText(Lowering& to, std::string name) : to_(to), name_(std::move(name)) {}

  void write(const Curve& curve) {
    std::visit([&](const auto& one) { lower(one); }, curve);
  }

private:
  void functions(const std::string& value, const std::string& slope) {
    to_.add("real curve_of_{}(real t) {{ {} }}", name_, value);
    to_.add("real slope_of_{}(real t) {{ {} }}", name_, slope);
  }
  void lower(const StraightLine&) { functions("return t;", "return 1.0;"); }
  void lower(const CubicBezier& c) {
    const std::string points =
        fmt::format("{}, {}, {}, {}", literal(c.x1), literal(c.y1), literal(c.x2), literal(c.y2));
    // Where it stands upright, a time that misses the middle by a rounding would be far off in value.
    const std::string at = c.x1 == 1.0 && c.x2 == 0.0 ? "choose(abs(t - 0.5) < 1.0e-12, 0.5, t)" : "t";
    functions(fmt::format("return bezier_at({}, {});", points, at),
              fmt::format("return bezier_rate({}, {});", points, at));
  }
  void lower(const Steps& s) {
    const int extra = s.jump == StepJump::both ? 1 : s.jump == StepJump::none ? -1 : 0;
    const bool first = s.jump == StepJump::start || s.jump == StepJump::both;
    functions(fmt::format("return steps_at(t, {}.0, {}.0, {}.0);", s.count, extra, first ? 1 : 0), "return 0.0;");
  }
  /// Piece by piece; a time that misses a border by a rounding is that border.
  void lower(const LinearStops& line) {
    std::string value, slope;
    const auto& stops = line.stops;
    for (std::size_t i = 1; i < stops.size(); ++i) {
      const LinearStop &a = stops[i - 1], &b = stops[i];
      const double run = b.input - a.input;
      const std::string when =
          i + 1 < stops.size() ? fmt::format("if (t < {} - 1.0e-12) ", literal(b.input)) : std::string();
      const bool upright = run == 0.0;
      const double rate = upright ? 0.0 : (b.output - a.output) / run;
      value += upright ? fmt::format("{}{{ return {}; }} ", when.empty() ? "if (true) " : when, literal(b.output))
                       : fmt::format("{}{{ return {} + {} * ((t - {}) / {}); }} ", when.empty() ? "if (true) " : when,
                                     literal(a.output), literal(b.output - a.output), literal(a.input), literal(run));
      slope += fmt::format("{}{{ return {}; }} ", when.empty() ? "if (true) " : when, literal(rate));
    }
    // The last piece has no condition of its own.
    const auto unconditional = [](const std::string& text) {
      const std::size_t at = text.rfind("if (true) { ");
      std::string last = text.substr(at + 12);
      last = last.substr(0, last.rfind('}'));
      return text.substr(0, at) + last;
    };
    const auto with_end = [&](const std::string& text) {
      return fmt::format("if (t >= 1.0) {{ return {}; }} ", literal(stops.back().output)) + text;
    };
    functions(stops.back().input == 1.0 ? with_end(unconditional(value)) : unconditional(value), unconditional(slope));
  }
  void lower(const PointsCurve& curve) {
    const auto& knots = curve.knots;
    std::string value =
        fmt::format("if (t >= {}) {{ return {}; }} ", literal(knots.back().time), literal(knots.back().value));
    std::string slope = fmt::format("if (t > {}) {{ return 0.0; }} ", literal(knots.back().time));
    for (std::size_t i = 1; i < knots.size(); ++i) {
      const CurveKnot &a = knots[i - 1], &b = knots[i];
      const double h = b.time - a.time;
      const std::string of = fmt::format("((t - {0}) / {1}, {1}, {2}, {3}, {4})", literal(a.time), literal(h),
                                         literal(b.value - a.value), literal(a.slope), literal(b.slope));
      const bool last = i + 1 == knots.size();
      const std::string open = last ? "" : fmt::format("if (t < {} - 1.0e-12) {{ ", literal(b.time));
      value += fmt::format("{}return {} + knots_at{};{} ", open, literal(a.value), of, last ? "" : " }");
      slope += fmt::format("{}return knots_rate{};{} ", open, of, last ? "" : " }");
    }
    functions(value, slope);
  }
  void lower(const EaseShape& shape) {
    const auto plain = [&](const char* name, bool has_amount, const std::string& t, bool slope) {
      return fmt::format("{}{}({}{})", name, slope ? "_slope" : "", t,
                         has_amount ? ", " + literal(shape.amount) : std::string());
    };
    // `in` of most shapes is what is written; of the elastic one and the bounce it is `out`.
    const bool is_outward = shape.kind == ShapeKind::elastic || shape.kind == ShapeKind::bounce;
    const auto of = [&](const std::string& t, bool slope) {
      switch (shape.kind) {
      case ShapeKind::sine: return plain("sine_in", false, t, slope);
      case ShapeKind::power: return plain("power_in", true, t, slope);
      case ShapeKind::exp: return plain("exp_in", true, t, slope);
      case ShapeKind::circle: return plain("circle_in", false, t, slope);
      case ShapeKind::back: return plain("back_in", true, t, slope);
      case ShapeKind::elastic: return plain("elastic_out", true, t, slope);
      case ShapeKind::bounce: return fmt::format("bounce_out{}({}, {})", slope ? "_slope" : "", t, slack_);
      }
      return std::string();
    };
    const auto one_way = [&](bool inward, const std::string& t, bool slope) {
      const bool turned = inward == is_outward;
      // Seen from its other end, what lies at a corner lies just before it.
      slack_ = turned ? "1.0e-12" : "-1.0e-12";
      if (!turned) return of(t, slope);
      return slope ? of("1.0 - " + t, true) : "1.0 - " + of("1.0 - " + t, false);
    };
    const std::string ends = "if (t <= 0.0) { return 0.0; } if (t >= 1.0) { return 1.0; } ";
    if (shape.direction != Direction::in_out) {
      const bool inward = shape.direction == Direction::in;
      return functions(fmt::format("{}return {};", ends, one_way(inward, "t", false)),
                       fmt::format("return {};", one_way(inward, "t", true)));
    }
    functions(fmt::format("{}if (t < 0.5) {{ return 0.5 * ({}); }} return 0.5 + 0.5 * ({});", ends,
                          one_way(true, "(2.0 * t)", false), one_way(false, "(2.0 * t - 1.0)", false)),
              fmt::format("if (t < 0.5) {{ return {}; }} return {};", one_way(true, "(2.0 * t)", true),
                          one_way(false, "(2.0 * t - 1.0)", true)));
  }

  Lowering& to_;
  std::string name_;
  std::string slack_;
};

/// The step of one motion: what its function does with `m` in `dt` seconds.
class MotionText {
public:
  MotionText(Lowering& to, std::size_t motion)
      : to_(to), name_(to.motion_names[motion]), large_(to.capitals(name_)), words_(to.feel.motions[motion].name),
        slower_(to.slowed_by_value.contains(motion) ? " / m.slower" : "") {}

  /// Its numbers, by name.
  void constants(const Motion& motion) {
    std::visit(Overloaded{
                   [](const Cut&) {},
                   [&](const Glide& one) {
                     to_.add("/// 1/s: {}", words_);
                     to_.add("constant real RATE_OF_{} = {};", large_, literal(one.rate));
                   },
                   [&](const Spring& one) {
                     to_.add("/// Hz: {}", words_);
                     to_.add("constant real FREQUENCY_OF_{} = {};", large_,
                             literal(one.angular_frequency / whole_turn));
                     to_.add("/// damping ratio: {}", words_);
                     to_.add("constant real DAMPING_OF_{} = {};", large_, literal(one.damping_ratio));
                   },
                   [&](const Ease& one) {
                     to_.add("/// s: {}", words_);
                     to_.add("constant real DURATION_OF_{} = {};", large_, literal(one.duration));
                     to_.add("/// s before it begins: {}", words_);
                     to_.add("constant real DELAY_OF_{} = {};", large_, literal(one.delay));
                   },
                   [&](const Pace& one) {
                     to_.add("/// per second, in the space: {}", words_);
                     to_.add("constant real TOP_SPEED_OF_{} = {};", large_, literal(one.speed));
                     to_.add("/// per second squared, in the space: {}", words_);
                     to_.add("constant real ACCELERATION_OF_{} = {};", large_, literal(one.acceleration));
                   },
                   [&](const Chain& one) {
                     to_.add("/// s of waiting: {}", words_);
                     to_.add("constant real WAIT_OF_{} = {};", large_, literal(one.delay));
                     if (one.links.size() == 1 && !one.head)
                       std::visit([&](const auto& link) { constants(Motion(link)); }, one.links.front());
                     if (one.head) std::visit([&](const auto& head) { constants(Motion(head)); }, *one.head);
                   },
                   [](const PerFrame&) {},
                   [](const Led&) {},
               },
               motion);
  }

  /// Its functions: `step_by_NAME(m, dt)`, and what they need.
  void functions(const Motion& motion) {
    if (const Ease* ease = ease_of(motion)) CurveText(to_, name_).write(ease->curve);
    const auto* chain = std::get_if<Chain>(&motion);
    if (chain != nullptr && chain->head && !chain->links.empty()) lower_chain(to_, name_, *chain, head_step(*chain));
    if (chain != nullptr && !chain->head && chain->links.size() > 1) lower_row(to_, name_, *chain);
    to_.add("/// One step of {}.", words_);
    to_.add("act step_by_{}(changing Mover m, real dt) {{ {} }}", name_, step(motion));
  }

  /// What begins a move; empty where nothing does. What leads links begins where it is itself.
  std::string beginning(const Motion& motion) const {
    const std::string plain = plain_beginning(motion);
    const auto* chain = std::get_if<Chain>(&motion);
    if (plain.empty() || chain == nullptr || chain->links.empty()) return plain;
    return "real value = m.value; real speed = m.speed; m.value = m.head_value; m.speed = m.head_speed; " + plain
           + " m.value = value; m.speed = speed;";
  }
  std::string plain_beginning(const Motion& motion) const {
    if (const Ease* ease = ease_of(motion)) {
      // The slope with which the curve sets off.
      const double slope = evaluate(ease->curve, 0.0, Side::at).slope;
      return fmt::format("begin_ease(m, m.acting_at, old_goal, DURATION_OF_{0}, DELAY_OF_{0}, {1}, {2}, {3}, {4}, "
                         "low_at(c), high_at(c));",
                         large_, legs_of(*ease), literal(slope), literal(ease->brake_at_least),
                         handover_names[static_cast<std::size_t>(ease->handover)]);
    }
    if (pace_of(motion) != nullptr)
      return fmt::format("begin_pace(m, m.acting_at, TOP_SPEED_OF_{0}, ACCELERATION_OF_{0});", large_);
    return {};
  }

  std::string placing(const Ease& ease) const {
    const int legs = legs_of(ease);
    return legs == 1 ? fmt::format("place_in_one_way(m, DURATION_OF_{0}, DELAY_OF_{0});", large_)
                     : fmt::format("place_in_move(m, DURATION_OF_{0}, DELAY_OF_{0}, {1});", large_, legs);
  }

  static int legs_of(const Ease& ease) { return ease.repeat * (ease.there_and_back ? 2 : 1); }

private:
  std::string step(const Motion& motion) const {
    return std::visit(
        Overloaded{
            [](const Cut&) -> std::string { return "cut(m);"; },
            [&](const Glide&) -> std::string { return fmt::format("glide(m, RATE_OF_{}{}, dt);", large_, slower_); },
            [&](const Spring& one) -> std::string {
              return fmt::format("spring(m, TURN * FREQUENCY_OF_{0}{2}, DAMPING_OF_{0}, {1}, dt);", large_,
                                 one.resists_gap ? "true" : "false", slower_);
            },
            [&](const Ease& one) { return eased(one); },
            [&](const Pace&) -> std::string {
              return fmt::format("pace(m, TOP_SPEED_OF_{0}, ACCELERATION_OF_{0}, dt);", large_);
            },
            [&](const Chain& one) {
              if (one.head && !one.links.empty()) return fmt::format("go_behind_{}(m, dt);", name_);
              if (one.head) return head_step(one);
              if (one.links.empty()) return step(Motion(Cut{}));
              if (one.links.size() > 1) return row_step(name_, one);
              return std::visit([&](const auto& link) { return step(Motion(link)); }, one.links.front());
            },
            [&](const PerFrame& one) { return std::visit([&](const auto& rule) { return by_frame(rule); }, one.rule); },
            [](const Led&) -> std::string { return "cut(m);"; },
        },
        motion);
  }
  std::string head_step(const Chain& chain) const {
    return std::visit([&](const auto& head) { return step(Motion(head)); }, *chain.head);
  }
  std::string eased(const Ease& ease) const {
    const double last = evaluate(ease.curve, 1.0).value;
    // A move that is over costs nothing more, unless its goal runs on.
    const char* const is_there =
        ease.there_and_back || last != 1.0
            ? ""
            : "if (m.elapsed > m.total && m.value == m.acting_at && !(any_runs() && "
              "m.goal_moves)) { m.speed = 0.0; if (!any_runs()) { m.runs = false; } return; } ";
    return fmt::format(
        "if (!m.runs) {{ if (any_runs() && m.goal_moves) {{ m.value = m.acting_at; }} m.speed = choose(any_runs(), "
        "m.goal_speed, 0.0); return; }} {5}m.elapsed = m.elapsed + dt; {6} real u = held(m.within, 0.0, 1.0); "
        "follow_curve(m, DURATION_OF_{0}, {1}, {2}, "
        "curve_of_{3}(u), slope_of_{3}(u), {4});",
        large_, legs_of(ease), ease.there_and_back ? "true" : "false", name_, literal(last), is_there, placing(ease));
  }
  std::string by_frame(const FractionRule& one) const {
    return fmt::format("fraction_of_gap(m, {}, dt);", literal(one.fraction));
  }
  std::string by_frame(const ProductRule& one) const {
    return fmt::format("rate_times_frame(m, {}, {}, dt);", literal(one.rate), one.is_capped ? "true" : "false");
  }
  std::string by_frame(const AmountRule& one) const {
    return fmt::format("amount_a_frame(m, {}, dt);", literal(one.amount));
  }
  std::string by_frame(const SpringStepRule& one) const {
    return fmt::format("spring_a_frame(m, {}, {}, {}, dt);", literal(one.stiffness), literal(one.damping),
                       one.speed_first ? "true" : "false");
  }

  Lowering& to_;
  std::string name_, large_, words_;
  std::string slower_; // what another value makes of its rate; empty where none does
};

} // namespace

void lower_curve(Lowering& to, const std::string& name, const Curve& curve) { CurveText(to, name).write(curve); }

void lower_motion_constants(Lowering& to) {
  to.heading("Motions.");
  for (std::size_t k = 0; k < to.used_motions.size(); ++k) {
    const std::size_t m = to.used_motions[k];
    const Motion& motion = to.feel.motions[m].motion;
    to.add("constant whole MOTION_{} = {};", to.capitals(to.motion_names[m]), k);
    MotionText(to, m).constants(motion);
  }
  to.heading("What happens when a new goal comes while an eased move is under way.");
  for (std::size_t k = 0; k < 4; ++k) to.add("constant whole {} = {};", handover_names[k], k);
}

void lower_links(Lowering& to) {
  to.add(
      "/// How many glides and springs in a row the motion has; 0: it is one by itself.\nwhole links_of(Mover m) {{");
  for (const std::size_t m : to.used_motions) {
    const auto* chain = std::get_if<Chain>(&to.feel.motions[m].motion);
    if (chain != nullptr && (chain->links.size() > 1 || (chain->head && !chain->links.empty())))
      to.add("  if (m.motion == MOTION_{}) {{ return {}; }}", to.capitals(to.motion_names[m]), chain->links.size());
  }
  to.add("  return 0;\n}}");
}

namespace {

/// Calls `of` for each motion in use; what it says is what a function does where that motion acts.
template<class Of> void by_motion(Lowering& to, const Of& of) {
  for (const std::size_t m : to.used_motions) {
    const std::string body = of(m, to.feel.motions[m].motion);
    if (!body.empty()) to.add("  if (m.motion == MOTION_{}) {{ {} }}", to.capitals(to.motion_names[m]), body);
  }
}

/// A fact of a motion: a function of what acts.
template<class Of>
void fact(Lowering& to, std::string_view type, std::string_view name, std::string_view words, const Of& of) {
  if (!words.empty()) to.add("/// {}", words);
  to.add("{} {}(Mover m) {{", type, name);
  by_motion(to, [&](std::size_t m, const Motion& motion) {
    const std::string value = of(m, motion);
    return value.empty() ? value : fmt::format("return {};", value);
  });
  to.add("  return {};\n}}", type == "flag" ? "false" : "0.0");
}

/// A fact that is so of eased moves of one kind only.
template<class Is> void fact_of_eases(Lowering& to, std::string_view name, std::string_view words, const Is& is) {
  fact(to, "flag", name, words, [&](std::size_t, const Motion& motion) -> std::string {
    const Ease* ease = ease_of(motion);
    return ease != nullptr && is(*ease) ? "true" : "";
  });
}

void lower_facts(Lowering& to) {
  const auto named = [&](const char* what, std::size_t m) {
    return fmt::format("{}_OF_{}", what, to.capitals(to.motion_names[m]));
  };
  fact(to, "real", "wait_of", "Seconds for which the motion waits.",
       [&](std::size_t m, const Motion& motion) { return wait_of(motion) > 0.0 ? named("WAIT", m) : std::string(); });
  fact_of_eases(to, "finishes_first", "True if a move is finished before the next one begins.",
                [](const Ease& ease) { return ease.handover == Handover::finish_first; });
  fact_of_eases(to, "goes_there_and_back", "", [](const Ease& ease) { return ease.there_and_back; });
  fact(to, "flag", "leads_links", "True of an eased or paced move that glides and springs follow.",
       [](std::size_t, const Motion& motion) {
         const auto* chain = std::get_if<Chain>(&motion);
         return std::string(chain != nullptr && chain->head && !chain->links.empty() ? "true" : "");
       });
  fact(to, "flag", "goes_by_frames", "True of a rule that acts once a frame: it is never cut inside one.",
       [](std::size_t, const Motion& motion) {
         return std::string(std::holds_alternative<PerFrame>(motion) ? "true" : "");
       });
  fact(to, "real", "pace_speed", "Of a pace: its top speed; 0 of any other motion.",
       [&](std::size_t m, const Motion& motion) {
         return pace_of(motion) != nullptr ? named("TOP_SPEED", m) : std::string();
       });
  fact(to, "real", "pace_acceleration", "And its acceleration.", [&](std::size_t m, const Motion& motion) {
    return pace_of(motion) != nullptr ? named("ACCELERATION", m) : std::string();
  });
  fact(to, "real", "amount_of", "Of a rule of so much a frame: how much; 0 of any other motion.",
       [](std::size_t, const Motion& motion) {
         const auto* rule = std::get_if<PerFrame>(&motion);
         const auto* amount = rule == nullptr ? nullptr : std::get_if<AmountRule>(&rule->rule);
         return amount == nullptr ? std::string() : literal(amount->amount);
       });
}

} // namespace

void lower_motions(Lowering& to) {
  for (const std::size_t m : to.used_motions) MotionText(to, m).functions(to.feel.motions[m].motion);
  to.add("/// The value goes on by its motion.\nact step(changing Mover m, real dt) {{");
  by_motion(to, [&](std::size_t m, const Motion&) { return fmt::format("step_by_{}(m, dt);", to.motion_names[m]); });
  to.add("}}\n/// A jump of the goal is taken up.\nact take_up(changing Mover m, whole c, real goal, real goal_at, "
         "flag once) {{");
  to.add("  real old_goal = m.acting_at;\n  m.acting = goal;\n  m.acting_at = goal_at;\n  m.homeward = false;\n  "
         "m.once = once;");
  by_motion(to, [&](std::size_t m, const Motion& motion) { return MotionText(to, m).beginning(motion); });
  to.add("}}\n/// On which of its ways an eased move is.\nact place(changing Mover m) {{");
  by_motion(to, [&](std::size_t m, const Motion& motion) -> std::string {
    const Ease* ease = ease_of(motion);
    return ease == nullptr ? "" : MotionText(to, m).placing(*ease);
  });
  to.add("}}");
  lower_facts(to);
}

} // namespace stasis::code
