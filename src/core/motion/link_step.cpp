#include "core/motion/link_step.hpp"

#include <algorithm>
#include <cmath>
#include <type_traits>
#include <utility>

namespace stasis {
namespace {

constexpr std::size_t most_rows = 2 * most_links;
using Column = std::array<double, most_rows>;
using Square = std::array<Column, most_rows>; // by row
constexpr std::size_t most_parts = LinkInput::most_parts;

/// The links as x' = a x + value u + rate u', with u the input of the first. Velocities are held in units of the
/// spring's own angular frequency, so that quick and slow links have numbers of one size.
struct System {
  std::size_t rows = 0;
  Square a{};
  Column value{}, rate{};
  Column unit{}; ///< by row: what one of the row's numbers stands for
};

System system_of(std::span<const Link> links) noexcept {
  System s;
  s.unit.fill(1.0);
  // What drives the next link: a row of the system, or the input.
  struct Driver {
    bool is_input = true;
    std::size_t value_row = 0;
    bool is_glide = false;
  } driver;
  const auto add_value_of_driver = [&](std::size_t to, double factor) {
    if (driver.is_input)
      s.value[to] += factor;
    else
      s.a[to][driver.value_row] += factor;
  };
  const auto add_rate_of_driver = [&](std::size_t to, double factor) {
    if (driver.is_input) {
      s.rate[to] += factor;
    } else if (driver.is_glide) { // its rate is its own row
      for (std::size_t j = 0; j < s.rows; ++j) s.a[to][j] += factor * s.a[driver.value_row][j];
      s.value[to] += factor * s.value[driver.value_row];
      s.rate[to] += factor * s.rate[driver.value_row];
    } else {
      s.a[to][driver.value_row + 1] += factor * s.unit[driver.value_row + 1];
    }
  };
  for (const Link& link : links) {
    const std::size_t row = s.rows;
    if (const auto* glide = std::get_if<Glide>(&link)) {
      s.a[row][row] = -glide->rate;
      add_value_of_driver(row, glide->rate);
      s.rows += 1;
      driver = {false, row, true};
      continue;
    }
    const auto& spring = std::get<Spring>(link);
    const double w = spring.angular_frequency, drag = 2.0 * spring.damping_ratio;
    s.unit[row + 1] = w;
    s.a[row][row + 1] = w;
    s.a[row + 1][row] = -w;
    s.a[row + 1][row + 1] = -drag * w;
    add_value_of_driver(row + 1, w);
    if (spring.resists_gap) add_rate_of_driver(row + 1, drag);
    s.rows += 2;
    driver = {false, row, false};
  }
  return s;
}

void multiply_into(const Square& a, const Square& b, Square& out, std::size_t rows) noexcept {
  for (std::size_t i = 0; i < rows; ++i) {
    for (std::size_t j = 0; j < rows; ++j) out[i][j] = 0.0;
    for (std::size_t k = 0; k < rows; ++k) {
      const double factor = a[i][k];
      if (factor == 0.0) continue;
      for (std::size_t j = 0; j < rows; ++j) out[i][j] += factor * b[k][j];
    }
  }
}

Column times(const Square& a, const Column& x, std::size_t rows) noexcept {
  Column out{};
  for (std::size_t i = 0; i < rows; ++i)
    for (std::size_t j = 0; j < rows; ++j) out[i] += a[i][j] * x[j];
  return out;
}

/// What a step of length 1 makes of the states and of the parts of the input.
struct StepResponse {
  Square kept{};                                  ///< exp(a) - 1: the difference from 1 keeps the digits of slow links
  std::array<Column, most_parts> value{}, rate{}; ///< integral of exp(a (1 - s)) b s^j / j!, for both inputs
};

constexpr int taylor_terms = 16; // 0.5^17 / 17! is below 1e-19
/// What of the system times the step's length such a series takes.
constexpr double taylor_size = 0.5;

/// 1 / n!.
constexpr auto inverse_factorials = [] {
  std::array<double, taylor_terms + most_parts + 2> all{1.0};
  for (std::size_t n = 1; n < all.size(); ++n) all[n] = all[n - 1] / static_cast<double>(n);
  return all;
}();

/// 1 / n; nothing at 0.
constexpr auto inverses = [] {
  std::array<double, taylor_terms + most_parts + 2> all{};
  for (std::size_t n = 1; n < all.size(); ++n) all[n] = 1.0 / static_cast<double>(n);
  return all;
}();

bool is_nothing(const Column& b, std::size_t rows) noexcept {
  return std::all_of(b.begin(), b.begin() + static_cast<std::ptrdiff_t>(rows), [](double one) { return one == 0.0; });
}

/// sum over m of a^m b / (m + j + 1)!, for each part j.
void add_powers(const Square& a, Column b, std::size_t rows, std::size_t parts,
                std::array<Column, most_parts>& out) noexcept {
  for (std::size_t m = 0; m <= taylor_terms; ++m) {
    for (std::size_t j = 0; j < parts; ++j)
      for (std::size_t i = 0; i < rows; ++i) out[j][i] += b[i] * inverse_factorials[m + j + 1];
    b = times(a, b, rows);
  }
}

/// The largest sum of a row of the system over a step of `h` seconds.
double size_of(const System& s, double h) noexcept {
  double size = 0.0;
  for (std::size_t i = 0; i < s.rows; ++i) {
    double row = 0.0;
    for (std::size_t j = 0; j < s.rows; ++j) row += std::fabs(s.a[i][j]);
    size = std::max(size, row * h);
  }
  return size;
}

/// The same for a step twice as long, whose parts are by the share of the longer time.
void double_parts(const Square& kept, std::size_t rows, std::size_t parts,
                  std::array<Column, most_parts>& response) noexcept {
  std::array<Column, most_parts> longer{};
  double shrink = 1.0; // 2^-j
  for (std::size_t j = 0; j < parts; ++j, shrink *= 0.5) {
    Column sum = times(kept, response[j], rows); // the first half, carried through the second
    for (std::size_t i = 0; i < rows; ++i) sum[i] += response[j][i];
    double inverse = 1.0; // 1 / (j - k)!
    for (std::size_t back = 0; back <= j; ++back) {
      for (std::size_t i = 0; i < rows; ++i) sum[i] += inverse * response[j - back][i];
      inverse /= static_cast<double>(back) + 1.0;
    }
    for (std::size_t i = 0; i < rows; ++i) longer[j][i] = shrink * sum[i];
  }
  response = longer;
}

StepResponse response_of(System s, double h, std::size_t parts) noexcept {
  int halvings = 0;
  while (std::ldexp(size_of(s, h), -halvings) > taylor_size) ++halvings;
  const double scale = std::ldexp(h, -halvings);
  for (std::size_t i = 0; i < s.rows; ++i)
    for (std::size_t j = 0; j < s.rows; ++j) s.a[i][j] *= scale;
  StepResponse out;
  Square term = s.a, next;
  out.kept = s.a;
  for (int n = 2; n <= taylor_terms; ++n) {
    multiply_into(term, s.a, next, s.rows);
    for (std::size_t i = 0; i < s.rows; ++i)
      for (std::size_t j = 0; j < s.rows; ++j) out.kept[i][j] += (term[i][j] = next[i][j] / n);
  }
  // Each doubling of the step doubles what one unit of input does in it as well.
  for (std::size_t i = 0; i < s.rows; ++i) {
    s.value[i] *= scale;
    s.rate[i] *= scale;
  }
  const bool by_rate = parts > 0 && !is_nothing(s.rate, s.rows);
  if (parts > 0) add_powers(s.a, s.value, s.rows, parts, out.value);
  if (by_rate) add_powers(s.a, s.rate, s.rows, parts, out.rate);
  for (int k = 0; k < halvings; ++k) {
    if (parts > 0) double_parts(out.kept, s.rows, parts, out.value);
    if (by_rate) double_parts(out.kept, s.rows, parts, out.rate);
    multiply_into(out.kept, out.kept, next, s.rows);
    for (std::size_t i = 0; i < s.rows; ++i)
      for (std::size_t j = 0; j < s.rows; ++j) out.kept[i][j] = 2.0 * out.kept[i][j] + next[i][j];
  }
  return out;
}

Instant output_of(const Glide& glide, const SpringState& state, const Instant& input) noexcept {
  const double v = glide.rate * (input.value - state.value), a = glide.rate * (input.velocity - v);
  return {state.value, v, a, glide.rate * (input.acceleration - a)};
}

Instant output_of(const Spring& spring, const SpringState& state, const Instant& input) noexcept {
  const double w = spring.angular_frequency, drag = 2.0 * spring.damping_ratio * w;
  const auto resisted = [&](double own, double other) { return spring.resists_gap ? own - other : own; };
  const double a = w * w * (input.value - state.value) - drag * resisted(state.velocity, input.velocity);
  return {state.value, state.velocity, a,
          w * w * (input.velocity - state.velocity) - drag * resisted(a, input.acceleration)};
}

/// A link's value after a step: written from the goal when the gap has shrunk by more than half, so that arrival is
/// exact.
double stepped(double value, double gap, double gain, double goal) noexcept {
  return std::fabs(gain + gap) < 0.5 * std::fabs(gap) ? goal + (gap + gain) : value + gain;
}

} // namespace

LinkStep::LinkStep(std::span<const Link> links, double h, InputParts parts)
    : parts_(static_cast<std::size_t>(parts)), links_(links.size()) {
  for (std::size_t i = 0; i < links_; ++i) has_velocity_[i] = std::holds_alternative<Spring>(links[i]);
  const System system = system_of(links);
  rows_ = system.rows;
  const StepResponse response = response_of(system, h, parts_);
  for (std::size_t i = 0; i < rows_; ++i) {
    for (std::size_t j = 0; j < rows_; ++j) gain_[i][j] = response.kept[i][j] * system.unit[i] / system.unit[j];
    for (std::size_t j = 0; j < parts_; ++j) {
      // The rate of part j, by time, is part j - 1 over h.
      const double by_rate = j > 0 && h > 0.0 ? response.rate[j - 1][i] / h : 0.0;
      gain_[i][rows_ + j] = (response.value[j][i] + by_rate) * system.unit[i];
    }
  }
}

void LinkStep::advance(LinkStates& states, double goal, const LinkInput& input) const noexcept {
  std::array<double, most_rows + LinkInput::most_parts> before;
  std::size_t row = 0;
  for (std::size_t i = 0; i < links_; ++i) {
    before[row++] = states[i].value - goal;
    if (has_velocity_[i]) before[row++] = states[i].velocity;
  }
  for (std::size_t j = 0; j < parts_; ++j) before[row++] = input.part[j];
  const std::size_t used = row;
  const auto gained = [&](std::size_t r) {
    double sum = gain_[r][0] * before[0];
    for (std::size_t j = 1; j < used; ++j) sum += gain_[r][j] * before[j];
    return sum;
  };
  row = 0;
  for (std::size_t i = 0; i < links_; ++i) {
    states[i].value = stepped(states[i].value, before[row], gained(row), goal);
    ++row;
    if (has_velocity_[i]) states[i].velocity += gained(row++);
  }
}

/// The links' states by themselves, their number and kinds known to the compiler: what is used most. The same numbers
/// as of advance(), whose sums run in the same order; what a link's own rows do not depend on adds 0 there.
template<bool... HasVelocity> struct LinkStep::Rows {
  static constexpr std::size_t links = sizeof...(HasVelocity);
  static constexpr std::array<bool, links> has_velocity{HasVelocity...};
  static constexpr std::size_t rows = links + (static_cast<std::size_t>(HasVelocity) + ...);
  static constexpr std::size_t first_row(std::size_t link) noexcept {
    std::size_t row = 0;
    for (std::size_t i = 0; i < link; ++i) row += has_velocity[i] ? std::size_t{2} : std::size_t{1};
    return row;
  }

  template<std::size_t Link> void take(const LinkStates& states) noexcept {
    now[first_row(Link)] = states[Link].value;
    if constexpr (has_velocity[Link]) now[first_row(Link) + 1] = states[Link].velocity;
  }
  template<std::size_t Link> void put(LinkStates& states) const noexcept {
    states[Link].value = now[first_row(Link)];
    if constexpr (has_velocity[Link]) states[Link].velocity = now[first_row(Link) + 1];
  }
  template<std::size_t... Column>
  double gained(std::size_t row, const std::array<double, rows>& before,
                std::index_sequence<Column...>) const noexcept {
    return (... + (step.gain_[row][Column] * before[Column]));
  }
  template<std::size_t Link> void advance_link(const std::array<double, rows>& before, double goal) noexcept {
    constexpr std::size_t row = first_row(Link);
    constexpr auto columns = std::make_index_sequence<first_row(Link + 1)>{};
    now[row] = stepped(now[row], before[row], gained(row, before, columns), goal);
    if constexpr (has_velocity[Link]) now[row + 1] += gained(row + 1, before, columns);
  }
  template<std::size_t Link> void measure_link(std::array<double, rows>& before, double goal) const noexcept {
    before[first_row(Link)] = now[first_row(Link)] - goal;
    if constexpr (has_velocity[Link]) before[first_row(Link) + 1] = now[first_row(Link) + 1];
  }
  template<std::size_t... Each> void advance(double goal, std::index_sequence<Each...>) noexcept {
    std::array<double, rows> before;
    (measure_link<Each>(before, goal), ...);
    (advance_link<Each>(before, goal), ...);
  }
  /// What drives the last link.
  double driver(double goal) const noexcept {
    if constexpr (links == 1) return goal;
    return now[first_row(links - 2)];
  }

  // many: the links, their states and goal, and both columns that are filled
  template<std::size_t... Each>
  void fill(std::span<const stasis::Link> chain, LinkStates& states, double goal, std::span<double> value,
            std::span<double> rate, std::index_sequence<Each...> each) noexcept {
    constexpr std::size_t out = first_row(links - 1);
    double glide_rate = 0.0;
    if constexpr (!has_velocity[links - 1]) glide_rate = std::get<Glide>(chain.back()).rate;
    (take<Each>(states), ...);
    for (std::size_t i = 0;; ++i) {
      value[i] = now[out];
      if constexpr (has_velocity[links - 1])
        rate[i] = now[out + 1];
      else
        rate[i] = glide_rate * (driver(goal) - now[out]);
      if (i + 1 == value.size()) break;
      advance(goal, each);
    }
    (put<Each>(states), ...);
  }

  template<std::size_t... Each>
  void step_once(LinkStates& states, double goal, std::index_sequence<Each...> each) noexcept {
    (take<Each>(states), ...);
    advance(goal, each);
    (put<Each>(states), ...);
  }

  const LinkStep& step;
  std::array<double, rows> now;
};

template<class Known, class Any> void LinkStep::by_kinds(Known known, Any any) const noexcept {
  constexpr std::true_type spring;
  constexpr std::false_type glide;
  const bool first = has_velocity_[0], second = links_ > 1 && has_velocity_[1];
  if (links_ == 1) return first ? known(spring) : known(glide);
  if (links_ == 2 && first) return second ? known(spring, spring) : known(spring, glide);
  if (links_ == 2) return second ? known(glide, spring) : known(glide, glide);
  any();
}

void LinkStep::advance_standing(LinkStates& states, double goal) const noexcept {
  by_kinds(
      [&]<bool... HasVelocity>(std::bool_constant<HasVelocity>...) {
        Rows<HasVelocity...>{*this, {}}.step_once(states, goal, std::make_index_sequence<sizeof...(HasVelocity)>{});
      },
      [&] { advance(states, goal, {}); });
}

// many: the links, their states and goal, and both columns that are filled
void LinkStep::advance_rows(std::span<const Link> links, LinkStates& states, double goal, std::span<double> value,
                            std::span<double> rate) const noexcept {
  by_kinds(
      [&]<bool... HasVelocity>(std::bool_constant<HasVelocity>...) {
        Rows<HasVelocity...>{*this, {}}.fill(links, states, goal, value, rate,
                                             std::make_index_sequence<sizeof...(HasVelocity)>{});
      },
      [&] {
        for (std::size_t i = 0;; ++i) {
          const Instant now = output_of(links, states, {goal, 0.0, 0.0, 0.0});
          value[i] = now.value;
          rate[i] = now.velocity;
          if (i + 1 == value.size()) break;
          advance(states, goal, {});
        }
      });
}

const LinkStep& LinkSteps::of(std::span<const Link> links, double h, InputParts parts) {
  for (const Kept& kept : kept_)
    if (kept.h == h && kept.parts == parts) return kept.step;
  if (kept_.size() < most_kept) return kept_.emplace_back(Kept{h, parts, LinkStep(links, h, parts)}).step;
  Kept& kept = kept_[oldest_];
  oldest_ = (oldest_ + 1) % most_kept;
  kept = {h, parts, LinkStep(links, h, parts)};
  return kept.step;
}

namespace {

/// An input as seen from a share of the step's time, by parts of that time `span` long.
LinkInput seen_from(const LinkInput& input, double share, double span) noexcept {
  if (share == 0.0 && span == 1.0) return input;
  LinkInput out;
  double scale = 1.0; // span^j
  for (std::size_t j = 0; j < most_parts; ++j, scale *= span) {
    double sum = 0.0;
    for (std::size_t i = most_parts; i-- > j;) // Horner's rule, of the parts' own factorials
      sum = input.part[i] + sum * share * inverses[i - j + 1];
    out.part[j] = sum * scale;
  }
  return out;
}

/// How much of an input there is: what is not need not be worked out.
InputParts parts_of(const LinkInput& input) noexcept {
  std::size_t used = most_parts;
  while (used > 0 && input.part[used - 1] == 0.0) --used;
  for (const InputParts parts : {InputParts::none, InputParts::straight})
    if (used <= static_cast<std::size_t>(parts)) return parts;
  return InputParts::curved;
}

/// What a short step adds to the rows: the Taylor series of the path itself, term by term from x' = a x + b u + c u'.
Column gained_by_series(const System& s, const Column& from, double h, const LinkInput& input) noexcept {
  constexpr std::size_t terms = taylor_terms + most_parts;
  constexpr double least = 1e-18; // beside what is there already; what follows is smaller by far
  Column term = from, next, sum{};
  double largest = 0.0;
  for (std::size_t m = 0; m < terms; ++m) {
    const double u = m < most_parts ? input.part[m] * inverse_factorials[m] : 0.0;
    const double rate = m + 1 < most_parts ? input.part[m + 1] * inverse_factorials[m] : 0.0;
    double size = 0.0;
    for (std::size_t i = 0; i < s.rows; ++i) {
      double slope = s.value[i] * u;
      for (std::size_t j = 0; j < s.rows; ++j) slope += s.a[i][j] * term[j];
      next[i] = (h * slope + s.rate[i] * rate) * inverses[m + 1];
      sum[i] += next[i];
      size = std::max(size, std::fabs(next[i]));
    }
    largest = std::max(largest, size);
    if (m >= most_parts && size <= least * largest) break;
    std::swap(term, next);
  }
  return sum;
}

} // namespace

void advance_once(std::span<const Link> links, double h, LinkStates& states, double goal, const LinkInput& input) {
  const System system = system_of(links);
  constexpr double most_pieces = 8.0; // more of them take longer than halving
  const double pieces = std::max(1.0, std::ceil(size_of(system, h) / taylor_size));
  if (!(pieces <= most_pieces)) return LinkStep(links, h, parts_of(input)).advance(states, goal, input);
  Column from{};
  std::size_t row = 0;
  for (std::size_t i = 0; i < links.size(); ++i) {
    from[row++] = states[i].value - goal;
    if (std::holds_alternative<Spring>(links[i])) {
      from[row] = states[i].velocity / system.unit[row];
      ++row;
    }
  }
  Column gained{};
  for (int piece = 0; piece < static_cast<int>(pieces); ++piece) {
    Column now = from;
    for (std::size_t i = 0; i < row; ++i) now[i] += gained[i];
    const Column more = gained_by_series(system, now, h / pieces, seen_from(input, piece / pieces, 1.0 / pieces));
    for (std::size_t i = 0; i < row; ++i) gained[i] += more[i];
  }
  row = 0;
  for (std::size_t i = 0; i < links.size(); ++i) {
    states[i].value = stepped(states[i].value, from[row], gained[row], goal);
    ++row;
    if (std::holds_alternative<Spring>(links[i])) {
      states[i].velocity += gained[row] * system.unit[row];
      ++row;
    }
  }
}

Instant output_of(std::span<const Link> links, const LinkStates& states, Instant input) noexcept {
  for (std::size_t i = 0; i < links.size(); ++i)
    input = std::visit([&](const auto& link) { return output_of(link, states[i], input); }, links[i]);
  return input;
}

} // namespace stasis
