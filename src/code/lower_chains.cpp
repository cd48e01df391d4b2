// Glides and springs behind an eased or paced move.
#include <algorithm>
#include <utility>

#include "code/lowering.hpp"

namespace stasis::code {
namespace {

/// Glides and springs behind an eased or paced move: a linear system that a curve drives. The curve's part is an
/// integral over the step, by Gauss's rule on stretches so short that the curve is smooth there; from place to place
/// the links go on by themselves, by a power series, and at each place they are pushed. All is measured from the goal.
class ChainText {
public:
  ChainText(Lowering& to, std::string name, const Chain& chain, std::string head)
      : to_(to), name_(std::move(name)), chain_(chain), head_(std::move(head)) {}

  void write() {
    note_pushes();
    lower_row(to_, name_, chain_);
    to_.add("/// What leads the links of {}.\nact lead_by_{}(changing Mover m, real dt) {{ {} }}", name_, name_, head_);
    write_lead_at();
    write_step();
  }

private:
  struct Push {
    double value = 0.0, rate = 0.0; ///< what a unit of the curve adds to a link's value and to its speed, per second
    double speed = 0.0;             ///< and to what the link calls its speed, beside what is kept of it: of the first
  };

  /// A spring that resists the gap answers to the curve's speed: its own speed is kept less that part.
  void note_pushes() {
    pushes_.resize(chain_.links.size());
    for (std::size_t k = 0; k < chain_.links.size(); ++k) {
      const double before = k > 0 ? pushes_[k - 1].value : 0.0;
      if (const auto* glide = std::get_if<Glide>(&chain_.links[k])) {
        if (k == 0) pushes_[k].value = glide->rate;
        continue;
      }
      const auto& spring = std::get<Spring>(chain_.links[k]);
      const double w = spring.angular_frequency, drag = 2.0 * spring.damping_ratio * w;
      if (k > 0) {
        pushes_[k].rate = spring.resists_gap ? drag * before : 0.0;
      } else if (spring.resists_gap) {
        pushes_[k] = {drag, w * w - drag * drag, drag};
      } else {
        pushes_[k].rate = w * w;
      }
    }
  }

  void write_lead_at() {
    to_.add("/// Where that is so long after the step has begun.\nreal lead_of_{0}(changing Mover m, real since, flag "
            "ran, real value, real speed, real stop, real at) {{\n  m.elapsed = since;\n  m.runs = ran;\n  m.value = "
            "value;\n  m.speed = speed;\n  m.acting_at = stop;\n  if (any_runs() && m.goal_moves) {{ m.acting_at = "
            "m.from_at + m.goal_speed * at; }}\n  lead_by_{0}(m, at);\n  real here = m.value;\n  m.acting_at = "
            "stop;\n  return here;\n}}",
            name_);
  }

  void write_step() {
    const std::size_t end = chain_.links.size() - 1;
    const std::string longest = literal(0.5 / quickest_of(chain_)); // s: of a part
    const auto* glide = std::get_if<Glide>(&chain_.links[end]);
    to_.add("/// Its links behind a lead that is over.\nact settle_{}(changing Mover m, real dt) {{ {} }}", name_,
            row_step(name_, chain_));
    to_.add("act go_behind_{0}(changing Mover m, real dt) {{\n  if (dt <= 0.0) {{ return; }}\n  if (m.head_value == "
            "m.acting_at && m.head_speed == 0.0 && (!m.runs || m.elapsed > m.total) && !(any_runs() && m.goal_moves)) "
            "{{\n    settle_{0}(m, dt);\n    return;\n  }}",
            name_);
    // A pace to another goal plans its way again, at each look into the step from where that begins.
    const bool plans_anew = chain_.head && std::holds_alternative<Pace>(*chain_.head);
    to_.add("  real since = m.elapsed;\n  flag ran = {};\n  real head = m.head_value;\n  real head_speed = "
            "m.head_speed;\n  real stop = m.acting_at;\n  real at = 0.0;\n  whole tries = 0;\n  real h = min(dt, {});",
            plans_anew ? "m.runs && m.target == m.acting_at" : "m.runs", longest);
    for (std::size_t k = 0; k <= end; ++k) to_.add("  m.link[{0}] = m.link[{0}] - stop;", k);
    // A jump, at the beginning as anywhere, gives the link no speed of its own.
    if (pushes_[0].speed != 0.0)
      to_.add("  real begins = lead_of_{}(m, since, ran, head, head_speed, stop, 0.0);\n  m.link_speed[0] = "
              "m.link_speed[0] "
              "- {} * (begins - stop);",
              name_, literal(pushes_[0].speed));
    to_.add("  while (at < dt) {{\n    tries = tries + 1;\n    h = min(h, dt - at);\n    for j = 0 below 8 {{\n      "
            "real place = at + "
            "GAUSS_PLACE[j] * h;\n      real here = lead_of_{0}(m, since, ran, head, head_speed, stop, place);\n      "
            "m.sample[j] = here - stop;\n    }}\n    real first = lead_of_{0}(m, since, ran, head, head_speed, stop, "
            "at) - stop;\n    real ending = lead_of_{0}(m, since, ran, head, head_speed, stop, at + h) - stop;\n    if "
            "(h > 2.0e-15 && tries < 400 && !is_smooth(m, stop, first, ending)) {{\n      h = 0.5 * "
            "h;\n    }} else {{\n      real done = 0.0;\n      for j = 0 below 8 {{\n        pass_{0}(m, "
            "(GAUSS_PLACE[j] - done) * h, 0.0);\n        done = GAUSS_PLACE[j];\n        real push = m.sample[j] * "
            "GAUSS_SHARE[j] * h;",
            name_);
    for (std::size_t k = 0; k <= end; ++k) {
      if (pushes_[k].value != 0.0)
        to_.add("        m.link[{0}] = m.link[{0}] + {1} * push;", k, literal(pushes_[k].value));
      if (pushes_[k].rate != 0.0)
        to_.add("        m.link_speed[{0}] = m.link_speed[{0}] + ({1}) * push;", k, literal(pushes_[k].rate));
    }
    to_.add(
        "      }}\n      pass_{}(m, (1.0 - done) * h, 0.0);\n{}      at = at + h;\n      h = min(2.0 * h, {});\n    "
        "}}\n  }}",
        name_,
        pushes_[0].speed == 0.0
            ? std::string()
            : fmt::format("      if (h <= 2.0e-15 && abs(ending - first) > 1.0e-3 * abs(stop - m.origin)) {{\n        "
                          "m.link_speed[0] = m.link_speed[0] - {} * (ending - first);\n      }}\n",
                          literal(pushes_[0].speed)),
        longest);
    to_.add("  real last = lead_of_{}(m, since, ran, head, head_speed, stop, dt);\n  m.head_value = last;\n  "
            "m.head_speed = m.speed;",
            name_);
    for (std::size_t k = 0; k <= end; ++k) to_.add("  m.link[{0}] = m.link[{0}] + stop;", k);
    if (pushes_[0].speed != 0.0)
      to_.add("  m.link_speed[0] = m.link_speed[0] + {} * (last - stop);", literal(pushes_[0].speed));
    to_.add("  m.value = m.link[{}];\n  m.speed = {};\n}}", end,
            glide == nullptr ? fmt::format("m.link_speed[{}]", end)
            : end == 0       ? fmt::format("{} * (last - m.link[0])", literal(glide->rate))
                             : fmt::format("{} * (m.link[{}] - m.link[{}])", literal(glide->rate), end - 1, end));
  }

  Lowering& to_;
  std::string name_;
  const Chain& chain_;
  std::string head_;
  std::vector<Push> pushes_;
};

} // namespace

void lower_chain(Lowering& to, const std::string& name, const Chain& chain, const std::string& head) {
  ChainText(to, name, chain, head).write();
}

} // namespace stasis::code
