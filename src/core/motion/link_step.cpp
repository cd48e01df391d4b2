#include "core/motion/link_step.hpp"

#include <algorithm>
#include <cmath>

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

/// sum over m of a^m b / (m + j + 1)!, for each part j.
void add_powers(const Square& a, Column b, std::size_t rows, std::size_t parts,
                std::array<Column, most_parts>& out) noexcept {
  for (int m = 0; m <= taylor_terms; ++m) {
    double inverse = 1.0;
    for (int n = 2; n <= m; ++n) inverse /= n;
    for (std::size_t j = 0; j < parts; ++j) {
      inverse /= static_cast<double>(m) + static_cast<double>(j) + 1.0;
      for (std::size_t i = 0; i < rows; ++i) out[j][i] += b[i] * inverse;
    }
    b = times(a, b, rows);
  }
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
  double size = 0.0;
  for (std::size_t i = 0; i < s.rows; ++i) {
    double row = 0.0;
    for (std::size_t j = 0; j < s.rows; ++j) row += std::fabs(s.a[i][j]);
    size = std::max(size, row * h);
  }
  int halvings = 0;
  for (; size > 0.5; size *= 0.5) ++halvings;
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
  if (parts > 0) {
    add_powers(s.a, s.value, s.rows, parts, out.value);
    add_powers(s.a, s.rate, s.rows, parts, out.rate);
  }
  for (int k = 0; k < halvings; ++k) {
    double_parts(out.kept, s.rows, parts, out.value);
    double_parts(out.kept, s.rows, parts, out.rate);
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

template<std::size_t Known>
void LinkStep::advance_by(LinkStates& states, double goal, std::span<const double> parts) const noexcept {
  std::array<double, (Known > 0 ? Known : most_rows + LinkInput::most_parts)> before;
  std::size_t row = 0;
  for (std::size_t i = 0; i < links_; ++i) {
    before[row++] = states[i].value - goal;
    if (has_velocity_[i]) before[row++] = states[i].velocity;
  }
  for (const double part : parts) before[row++] = part;
  const std::size_t used = Known > 0 ? Known : row;
  const auto gained = [&](std::size_t r) {
    double sum = 0.0;
    for (std::size_t j = 0; j < used; ++j) sum += gain_[r][j] * before[j];
    return sum;
  };
  row = 0;
  for (std::size_t i = 0; i < links_; ++i) {
    const double gap = before[row], gain = gained(row);
    // Written from the goal when the gap has shrunk by more than half, so that arrival is exact.
    states[i].value = std::fabs(gain + gap) < 0.5 * std::fabs(gap) ? goal + (gap + gain) : states[i].value + gain;
    ++row;
    if (has_velocity_[i]) states[i].velocity += gained(row++);
  }
}

void LinkStep::advance(LinkStates& states, double goal, const LinkInput& input) const noexcept {
  advance_by<0>(states, goal, std::span(input.part).first(parts_));
}

void LinkStep::advance_standing(LinkStates& states, double goal) const noexcept {
  switch (rows_) { // what is used most
  case 1: return advance_by<1>(states, goal, {});
  case 2: return advance_by<2>(states, goal, {});
  case 3: return advance_by<3>(states, goal, {});
  case 4: return advance_by<4>(states, goal, {});
  default: return advance_by<0>(states, goal, {});
  }
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

Instant output_of(std::span<const Link> links, const LinkStates& states, Instant input) noexcept {
  for (std::size_t i = 0; i < links.size(); ++i)
    input = std::visit([&](const auto& link) { return output_of(link, states[i], input); }, links[i]);
  return input;
}

} // namespace stasis
