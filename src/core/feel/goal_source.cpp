#include "core/feel/goal_source.hpp"

#include <algorithm>

#include "core/overloaded.hpp"

namespace stasis {
namespace {

using Kind = GoalSource::Kind;

/// What all formulas of a channel read together.
GoalSource formula_source(const Feel& feel, const Channel& channel) {
  GoalSource source{.kind = channel.tie ? Kind::tie : Kind::formula,
                    .by_hand = false,
                    .is_worked_out = true,
                    .goes_on_untouched = false, // unless it reads time or a track, below
                    .is_curved = !channel.tie,
                    .reads = {}};
  for (const auto& formula : channel.formula) {
    if (!formula) continue;
    for (const std::size_t v : formula->variables()) {
      const FormulaVariable& variable = feel.variables[v];
      switch (variable.kind) {
      case FormulaVariable::Kind::smooth:
      case FormulaVariable::Kind::goal: source.reads.push_back(variable.component.channel); break;
      case FormulaVariable::Kind::time:
      case FormulaVariable::Kind::track: source.goes_on_untouched = true; break;
      case FormulaVariable::Kind::control: break;
      }
    }
  }
  return source;
}

/// True of a path that goes straight between its corners.
bool is_straight(const TrackPath& path) noexcept {
  const auto straight = Overloaded{
      [](const std::shared_ptr<const RecordedPath>&) { return true; },
      [](const LinePath&) { return true; },
      [](const StepsPath&) { return true; },
      [](const StopAndGoPath&) { return true; },
      [](const LedPath&) { return true; },
      [](const CirclePath&) { return false; },
      [](const EightPath&) { return false; },
  };
  return std::visit(straight, path);
}

GoalSource follow_source(const Feel& feel, const Channel& channel, const Take* take) {
  const Follow& follow = *channel.follow;
  const std::size_t track = take != nullptr ? played_track(*take, follow.track) : follow.track;
  const bool curved = !is_straight(feel.tracks[track].path) || follow.lead.by != Lead::By::none || follow.zone
                      || follow.second || follow.offset_frame != AxisFrame::world
                      || follow.damping_frame != AxisFrame::world || is_logarithmic(channel.space.space);
  return {.kind = Kind::follow,
          .by_hand = false,
          .is_worked_out = false,
          .goes_on_untouched = true,
          .is_curved = curved,
          .reads = {}};
}

/// True if a control or a switch begins the sequence.
bool can_be_begun(const Feel& feel, const Sequence& sequence) {
  return std::any_of(feel.controls.begin(), feel.controls.end(),
                     [&](const Control& control) {
                       const auto* starter = std::get_if<Starter>(&control.rule);
                       return starter != nullptr && &feel.sequences[starter->sequence] == &sequence;
                     })
         || std::any_of(feel.switches.begin(), feel.switches.end(),
                        [&](const Switch& one) { return one.sequence && &feel.sequences[*one.sequence] == &sequence; });
}

/// The channels that say where the eye is, except for one.
std::vector<std::size_t> of_the_eye(const Feel& feel, std::size_t except) {
  std::vector<std::size_t> from;
  for (const PictureRole& role : picture_roles())
    if (const auto& read = feel.picture.*role.channel; read && *read != except) from.push_back(*read);
  return from;
}

} // namespace

std::vector<GoalSource> goal_sources(const Feel& feel, std::size_t c, const Take* take) {
  const Channel& channel = feel.channels[c];
  std::vector<GoalSource> sources;
  if (has_formula(channel)) sources.push_back(formula_source(feel, channel));
  if (channel.follow) sources.push_back(follow_source(feel, channel, take));
  if (channel.is_placed)
    sources.push_back({.kind = Kind::seat,
                       .by_hand = false,
                       .is_worked_out = true,
                       .goes_on_untouched = false,
                       .is_curved = true,
                       .reads = of_the_eye(feel, c)});
  if (channel.realign)
    sources.push_back({.kind = Kind::heading,
                       .by_hand = false,
                       .is_worked_out = true,
                       .goes_on_untouched = channel.realign->to != Realign::To::heading,
                       .is_curved = true,
                       .reads = {}});
  if (channel.obstacles)
    sources.push_back({.kind = Kind::cap,
                       .by_hand = false,
                       .is_worked_out = false,
                       .goes_on_untouched = !channel.obstacles->has_ray, // what was recorded goes by time
                       .is_curved = true,
                       .reads = of_the_eye(feel, c)});
  for (const Control& control : feel.controls)
    if (facts_of(control).base_runs() && target_of(control)->channel == c)
      sources.push_back({.kind = Kind::hand,
                         .by_hand = true,
                         .is_worked_out = true,
                         .goes_on_untouched = false,
                         .is_curved = true,
                         .reads = {}});
  for (const Sequence& sequence : feel.sequences)
    if (leads(sequence, c))
      sources.push_back({.kind = Kind::led,
                         .by_hand = true, // it stands unless somebody begins it
                         .is_worked_out = false,
                         .goes_on_untouched = can_be_begun(feel, sequence),
                         .is_curved = false, // it is exact inside a frame
                         .reads = {}});
  return sources;
}

bool trails_goal(const Channel& channel, std::size_t component) noexcept {
  if (channel.tie) return false;
  if (channel.follow) return channel.follow->follows(component);
  return channel.formula[component] || channel.realign || channel.keeps_width || channel.is_placed;
}

bool trails_goal(const Channel& channel) noexcept {
  for (std::size_t i = 0; i < channel.components; ++i)
    if (trails_goal(channel, i)) return true;
  return false;
}

std::vector<ComponentRef> formula_reads(const Feel& feel, std::size_t channel) {
  std::vector<ComponentRef> reads;
  for (const GoalSource& source : goal_sources(feel, channel))
    if (source.kind == GoalSource::Kind::formula)
      for (const std::size_t read : source.reads)
        for (std::size_t i = 0; i < feel.channels[read].components; ++i) reads.push_back({read, i});
  return reads;
}

bool is_led(const Feel& feel, std::size_t channel) {
  const auto sources = goal_sources(feel, channel);
  return std::any_of(sources.begin(), sources.end(), [](const GoalSource& source) { return !source.by_hand; });
}

bool may_run(const Feel& feel, std::size_t channel) { return !goal_sources(feel, channel).empty(); }

bool has_curved_goals(const Feel& feel, const Take& take) {
  if (!feel.switches.empty() || take.tick.rate > 0.0 || take.tick.order != Tick::Order::camera_last) return true;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const auto sources = goal_sources(feel, c, &take);
    if (std::any_of(sources.begin(), sources.end(), [](const GoalSource& source) { return source.is_curved; }))
      return true;
  }
  return false;
}

std::vector<bool> channels_that_never_rest(const Feel& feel) {
  std::vector<std::vector<GoalSource>> sources;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) sources.push_back(goal_sources(feel, c));
  std::vector<bool> moves(feel.channels.size());
  const auto goes_on = [&](const GoalSource& source) {
    return source.goes_on_untouched
           || std::any_of(source.reads.begin(), source.reads.end(), [&](std::size_t read) { return moves[read]; });
  };
  for (bool grown = true; grown;) {
    grown = false;
    for (std::size_t c = 0; c < moves.size(); ++c) {
      if (moves[c] || std::none_of(sources[c].begin(), sources[c].end(), goes_on)) continue;
      moves[c] = grown = true;
    }
  }
  return moves;
}

} // namespace stasis
