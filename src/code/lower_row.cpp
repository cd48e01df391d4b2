// Glides and springs in a row, each after the one before.
#include <algorithm>
#include <utility>

#include "code/lowering.hpp"
#include "code/parts.hpp"
#include "core/overloaded.hpp"

namespace stasis::code {
namespace {

/// A linear system: what a step makes of it is the exponential of its matrix, worked out as a power series, in parts
/// that are short beside the quickest link: of terms below 1, the nineteenth is below 1e-17 of them, and most parts
/// need half as many. Once a step is as long as the one before, its matrix is kept, a column for each place and each
/// speed, and one for the goal's. All is measured from the goal.
class RowText {
public:
  RowText(std::string name, const Chain& chain) : name_(std::move(name)), chain_(chain) {
    for (std::size_t k = 0; k < chain.links.size(); ++k) states_.push_back({k, false});
    for (std::size_t k = 0; k < chain.links.size(); ++k)
      if (is_spring(k)) states_.push_back({k, true});
  }

  /// The numbers of its matrix, the column of the goal's speed among them.
  std::size_t numbers() const noexcept { return states_.size() * (states_.size() + 1); }

  std::string pass() const {
    std::string first, terms, size, left, last;
    for (std::size_t k = 0; k < chain_.links.size(); ++k) {
      const auto of_all = [k](const std::string& what) { return (k == 0 ? "" : " + ") + what; };
      size += of_all(fmt::format("abs(x{})", k));
      left += of_all(fmt::format("abs(t{})", k));
      first += fmt::format("real x{0} = m.link[{0}]; ", k);
      terms += fmt::format("real t{0} = x{0}; ", k);
      last += fmt::format("m.link[{0}] = x{0}; ", k);
      if (const auto* spring = std::get_if<Spring>(&chain_.links[k])) {
        const std::string second = literal(1.0 / spring->angular_frequency);
        size += fmt::format(" + {} * abs(v{})", second, k);
        left += fmt::format(" + {} * abs(r{})", second, k);
        first += fmt::format("real v{0} = m.link_speed[{0}]; ", k);
        terms += fmt::format("real r{0} = v{0}; ", k);
        last += fmt::format("m.link_speed[{0}] = v{0}; ", k);
      }
    }
    return fmt::format(
        "/// The links of {0} after `dt` seconds, measured from a goal of this speed.\nact pass_{0}(changing Mover m, "
        "real dt, real goal_speed) {{ whole parts = whole({1} * dt) + 1; real h = dt / real(parts); {2}for part = 0 "
        "below parts {{ {3}real push = goal_speed; real least = 1.0e-18 * ({4} + choose(any_runs(), h * "
        "abs(goal_speed), 0.0)); for n = 1 below "
        "20 {{ real share = h / real(n); {5}push = 0.0; if ({6} <= least) {{ break; }} }} }} {7}}}",
        name_, literal(quickest_of(chain_)), first, terms, size, sums(), left, last);
  }

  std::string plan() const {
    const std::size_t rows = states_.size();
    std::string kept, unit, column, back;
    for (std::size_t row = 0; row < rows; ++row) {
      kept += fmt::format("real {} = {}; ", local(row), place(row));
      unit += fmt::format("{} = choose(column == {}, 1.0, 0.0); ", place(row), row);
      column += fmt::format("m.step_map[{} * column + {}] = {}; ", rows, row, place(row));
      back += fmt::format("{} = {}; ", place(row), local(row));
    }
    return fmt::format(
        "/// What such a step makes of each place and speed, kept while steps are equally long.\nact plan_{0}(changing "
        "Mover m, real dt) {{ m.step_dt = dt; {1}for column = 0 below choose(any_runs(), {2}, {3}) {{ {4}pass_{0}(m, "
        "dt, choose(any_runs() && column == {3}, 1.0, 0.0)); {5}}} {6}}}",
        name_, kept, rows + 1, rows, unit, column, back);
  }

  std::string step() const {
    constexpr const char* start = "choose(any_runs(), m.from_at, m.acting_at)";
    std::string seen, passed, from, by_map, by_goal;
    for (std::size_t row = 0; row < states_.size(); ++row) {
      const auto [link, is_speed] = states_[row];
      if (!is_speed) {
        seen += fmt::format("m.link[{0}] = m.link[{0}] - {1}; ", link, start);
        passed += fmt::format("m.link[{0}] = m.acting_at + m.link[{0}]; ", link);
      }
      from += fmt::format("real {} = {}{}; ", local(row), place(row),
                          is_speed ? std::string() : fmt::format(" - {}", start));
      by_map += fmt::format("{} = {}{}; ", place(row), is_speed ? "" : "m.acting_at + ", row_by_map(row));
      by_goal += fmt::format("{0} = {0} + m.step_map[{1}] * m.goal_speed; ", place(row),
                             states_.size() * states_.size() + row);
    }
    const std::size_t end = chain_.links.size() - 1;
    const auto* glide = std::get_if<Glide>(&chain_.links[end]);
    const std::string before = end == 0 ? "m.acting_at" : fmt::format("m.link[{}]", end - 1);
    const std::string out =
        fmt::format("m.value = m.link[{}]; m.speed = {};", end,
                    glide != nullptr ? fmt::format("{} * ({} - m.link[{}])", literal(glide->rate), before, end)
                                     : fmt::format("m.link_speed[{}]", end));
    return fmt::format("if (dt != m.step_dt) {{ if (dt != m.tried_dt) {{ m.tried_dt = dt; {1}pass_{0}(m, dt, "
                       "choose(any_runs(), m.goal_speed, 0.0)); {2}{5} return; }} plan_{0}(m, dt); }} {3}{4}if "
                       "(any_runs()) {{ {6}}} {5}",
                       name_, seen, passed, from, by_map, out, by_goal);
  }

private:
  struct State {
    std::size_t link;
    bool is_speed; ///< else its place
  };
  bool is_spring(std::size_t link) const { return std::holds_alternative<Spring>(chain_.links[link]); }
  std::string place(std::size_t row) const {
    return fmt::format("m.{}[{}]", states_[row].is_speed ? "link_speed" : "link", states_[row].link);
  }
  std::string local(std::size_t row) const {
    return fmt::format("{}{}", states_[row].is_speed ? 'v' : 'x', states_[row].link);
  }

  /// One term of the series of each link, added to what there is.
  std::string sums() const {
    std::string rates, added;
    for (std::size_t k = 0; k < chain_.links.size(); ++k) {
      // What the link follows, measured from the goal, and its rate; the goal's own speed comes in once, at n = 1.
      const std::string input = k == 0 ? "0.0" : fmt::format("t{}", k - 1);
      const std::string input_rate = k == 0 ? "push" : fmt::format("d{}", k - 1);
      added += fmt::format("t{0} = (d{0} - push) * share; x{0} = x{0} + t{0}; ", k);
      if (const auto* glide = std::get_if<Glide>(&chain_.links[k])) {
        rates += fmt::format("real d{0} = {1} * ({2} - t{0}); ", k, literal(glide->rate), input);
        continue;
      }
      const auto& spring = std::get<Spring>(chain_.links[k]);
      const double w = spring.angular_frequency;
      rates +=
          fmt::format("real d{0} = r{0}; real a{0} = {1} * ({2} - t{0}) - {3} * (r{0}{4}); ", k, literal(w * w), input,
                      literal(2.0 * spring.damping_ratio * w), spring.resists_gap ? " - " + input_rate : std::string());
      added += fmt::format("r{0} = a{0} * share; v{0} = v{0} + r{0}; ", k);
    }
    return rates + added;
  }

  /// A link answers to those before it, and to itself.
  std::string row_by_map(std::size_t row) const {
    std::string sum;
    for (std::size_t column = 0; column < states_.size(); ++column)
      if (states_[column].link <= states_[row].link)
        sum += fmt::format("{}m.step_map[{}] * {}", sum.empty() ? "" : " + ", states_.size() * column + row,
                           local(column));
    return "(" + sum + ")";
  }

  std::string name_;
  const Chain& chain_;
  std::vector<State> states_;
};

} // namespace

double quickest_of(const Chain& chain) {
  double quickest = 0.0;
  for (const Link& link : chain.links)
    quickest =
        std::max(quickest, std::visit(Overloaded{[](const Glide& one) { return 2.0 * one.rate; },
                                                 [](const Spring& one) {
                                                   return one.angular_frequency * (2.0 + 4.0 * one.damping_ratio);
                                                 }},
                                      link));
  return quickest;
}

void lower_row(Lowering& to, const std::string& name, const Chain& chain) {
  const RowText row(name, chain);
  to.add("{}\n{}", row.pass(), row.plan());
}

std::string row_step(const std::string& name, const Chain& chain) { return RowText(name, chain).step(); }

void lower_common_records(Lowering& to) {
  std::size_t numbers = 1; // a list has at least one
  for (const std::size_t m : to.used_motions) {
    const auto* chain = std::get_if<Chain>(&to.feel.motions[m].motion);
    if (chain != nullptr && chain->links.size() > (chain->head ? 0U : 1U))
      numbers = std::max(numbers, RowText({}, *chain).numbers());
  }
  to.add("constant whole STEP_NUMBERS = {};", numbers);
  to.out.text += records_part();
}

} // namespace stasis::code
