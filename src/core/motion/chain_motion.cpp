// What stages answer, as every motion does.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/motion/chain_input.hpp"
#include "core/motion/run_motion.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

/// What comes out of stages, the input of their links being `input`.
Instant output_of(const Chain& chain, const LinkStates& links, const Instant& input) noexcept {
  return chain.links.empty() ? input : output_of(chain.links, links, input);
}

/// Stages after a step: their state just after its end. \returns the rate just before it.
double take_step(const Chain& chain, MoverState& state, const InputEnd& end) noexcept {
  const Instant out = output_of(chain, state.links, end.at);
  state.input = {end.at.value, end.at.velocity};
  state.value = out.value;
  state.velocity = out.velocity;
  return output_of(chain, state.links, end.before).velocity;
}

/// Stages without a head, whose goal stands: nothing but their links moves.
void fill_links(const Chain& chain, MoverState& state, StepMemory& memory, const Stretch& stretch) {
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count(), last = chain.links.size() - 1;
  LinkSteps& steps = link_steps(memory);
  const double first_value = state.value;
  if (count > 0 && clock.is_steady() && rows.stages.empty()) {
    steps.of(chain.links, clock.dt(first), InputParts::none)
        .advance_rows(chain.links, state.links, goal, rows.value, rows.velocity);
    state.input = {goal, 0.0};
  } else {
    const auto* const glide = std::get_if<Glide>(&chain.links[last]);
    const double& driver = last > 0 ? state.links[last - 1].value : goal;
    SpringState& out = state.links[last];
    for (std::size_t i = 0;; ++i) {
      rows.value[i] = out.value;
      rows.velocity[i] = glide != nullptr ? glide->rate * (driver - out.value) : out.velocity;
      if (!rows.stages.empty()) rows.stages[i] = {state.input, state.links};
      if (i == count) break;
      steps.of(chain.links, clock.dt(stretch.frame(i)), InputParts::none).advance_standing(state.links, goal);
      state.input = {goal, 0.0};
    }
  }
  rows.value[0] = first_value; // as it was shown: the last link may be a rounding off it
  state.value = rows.value[count];
  state.velocity = rows.velocity[count];
}

/// s after the piece's end until its head's run is over.
double head_left(const Chain& chain, const FramePiece& piece) noexcept {
  return chain.head ? run_left(ease_of(chain), piece) : 0.0;
}

/// True if what leads the links stands at the goal from a frame on, so that nothing but they move.
bool head_is_over(const Chain& chain, const MoverState& state, double elapsed, const Instant& input,
                  double goal) noexcept {
  if (chain.links.empty() || state.run == nullptr) return false;
  if (input.value != goal || input.velocity != 0.0 || input.acceleration != 0.0 || input.jerk != 0.0) return false;
  const Ease* const ease = ease_of(chain);
  return elapsed > total_time(ease, *state.run) + rounding_at(ease, *state.run, elapsed);
}

} // namespace

void Chain::fill(MoverState& state, StepMemory& memory, const Stretch& stretch) const {
  if (!head && !links.empty()) return fill_links(*this, state, memory, stretch);
  const auto& [clock, first, goal, rows] = stretch;
  const std::size_t count = stretch.count();
  LinkSteps& steps = link_steps(memory);
  const GoalSegment standing{goal, goal};
  InputEnd now{};
  double rate = 0.0;
  for (std::size_t i = 0;; ++i) {
    const std::int64_t frame = stretch.frame(i);
    const double elapsed = state.run != nullptr ? state.run->elapsed(clock, frame) : 0.0;
    const double dt = i < count ? clock.dt(frame) : 0.0;
    ChainInput input(*this, state, elapsed, standing, dt);
    if (state.run != nullptr && i < count) input.end_at(state.run->elapsed(clock, frame + 1));
    if (i == 0) {
      now.at = input.at(0.0);
      state.velocity = output_of(*this, state.links, now.at).velocity;
    }
    if (i < count && head_is_over(*this, state, elapsed, now.at, goal)) {
      const MoverRows rest{rows.value.subspan(i), rows.velocity.subspan(i),
                           rows.stages.empty() ? rows.stages : rows.stages.subspan(i)};
      return fill_links(*this, state, memory, {clock, frame, goal, rest});
    }
    rows.value[i] = state.value;
    // The last entry still belongs to the frame before it: the speed of arrival is on.
    rows.velocity[i] = i == count && i > 0 ? rate : state.velocity;
    if (!rows.stages.empty()) rows.stages[i] = {state.input, state.links};
    if (i == count) return;
    now = advance_links(*this, state.links, input, now.at, dt, &steps);
    rate = take_step(*this, state, now);
  }
}

double Chain::go_on(MoverState& state, StepMemory& memory, RunTime time, GoalSegment goal, double h) const {
  if (h == 0.0) return state.velocity;
  ChainInput input(*this, state, time.begin, goal, h);
  input.end_at(time.end);
  const double rate =
      take_step(*this, state, advance_links(*this, state.links, input, input.at(0.0), h, &link_steps(memory)));
  if (goal.end != goal.start && head && ease_of(*this) == nullptr) state.run.reset();
  return rate;
}

double Chain::starting_rate(const MoverState& state, double elapsed, double goal, double slope) const {
  const ChainInput input(*this, state, elapsed, {goal, goal + slope}, 1.0);
  return output_of(*this, state.links, input.at(0.0)).velocity;
}

Instant Chain::inside(const FramePiece& piece, double u, Side side, KeptSpringStep&) const {
  const ChainInput input(*this, piece.state, piece.run_elapsed, piece.goal, piece.dt);
  if (u != piece.dt || !piece.end_stages || side == Side::at) {
    if (links.empty()) return input.at(u, side);
    const Instant start = input.at(0.0);
    if (u == 0.0) return output_of(links, piece.state.links, start);
    LinkStates come_to = piece.state.links;
    const InputEnd end = advance_links(*this, come_to, input, start, u, piece.at_break);
    return output_of(links, come_to, side == Side::at ? end.at : end.before);
  }
  const Instant at_end = head ? input.at(u, side) : Instant{piece.goal.end, piece.slope(), 0.0, 0.0};
  return links.empty() ? at_end : output_of(links, piece.end_stages->links, at_end);
}

std::optional<double> Chain::next_break(const FramePiece& piece, double u) const {
  const ChainInput input(*this, piece.state, piece.run_elapsed, piece.goal, piece.dt);
  return break_within(piece, input.next_break(u), input.rounding(piece.dt));
}

Outlook Chain::outlook(const FramePiece& piece) const {
  if (head_left(*this, piece) > 0.0) return {unbounded, unbounded};
  if (links.empty()) return straight_on(piece);
  if (!piece.end_stages) return {unbounded, unbounded};
  const double goal = piece.goal.end;
  const double input_stray = head ? std::fabs(piece.end_stages->input.value - goal) : 0.0;
  const double bound = stray_bound(*this, piece.end_stages->links, goal, input_stray);
  return {bound, bound};
}

double Chain::calm_time(const FramePiece& piece) const noexcept {
  double all = head_left(*this, piece);
  for (const Link& link : links) all += std::visit([](const auto& one) { return one.calm_time(); }, link);
  return all;
}

double Chain::smooth_stretch(const FramePiece& piece, double u, double since) const noexcept {
  double least = unbounded;
  if (head) least = std::visit([&](const auto& one) { return one.smooth_stretch(piece, u, since); }, *head);
  for (const Link& link : links)
    least = std::min(least, std::visit([&](const auto& one) { return one.turning_time(since); }, link));
  return least;
}

std::optional<Response> Chain::response(double angular) const noexcept {
  if (head) return std::nullopt;
  Response total;
  for (const Link& link : links) {
    const Response one = *std::visit([&](const auto& own) { return own.response(angular); }, link);
    total.gain *= one.gain;
    total.phase += one.phase;
  }
  total.wait = delay;
  return total;
}

std::optional<double> Chain::lag() const noexcept {
  if (head) return std::nullopt;
  double all = delay;
  for (const Link& link : links) all += *std::visit([](const auto& one) { return one.lag(); }, link);
  return all;
}

MotionFacts Chain::facts() const noexcept {
  const auto step_time = [](const auto& one) { return one.facts().step_time; };
  MotionFacts facts;
  double all = 0.01 + delay;
  if (head) all += std::visit(step_time, *head);
  for (const Link& link : links) all += std::visit(step_time, link);
  facts.step_time = 1.5 * all;
  return facts;
}

std::string Chain::sentence(bool in_doublings) const {
  const auto told = [&](const auto& one) { return one.sentence(in_doublings); };
  std::vector<std::string> parts;
  if (delay > 0.0 || (!head && links.empty())) parts.push_back(fmt::format("a wait of {} s", concise(delay)));
  if (head) parts.push_back(std::visit(told, *head));
  for (const Link& link : links) parts.push_back(std::visit(told, link));
  std::string text = parts.size() > 1 ? "stages in a row, each following the one before: " : "";
  for (std::size_t i = 0; i < parts.size(); ++i) text += (i > 0 ? "; then " : "") + parts[i];
  return text;
}

} // namespace stasis
