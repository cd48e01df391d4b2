#include "core/take/player.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>

#include "core/take/channel_mover.hpp"
#include "core/take/controls.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class Player {
public:
  explicit Player(const Scene& scene)
      : scene_(scene), feel_(*scene.feel), order_(channel_order(feel_)),
        controls_(feel_, scene.clock, [this](ComponentRef c) { return movers_[c.channel].present(c.component); }) {
    block_.channels.resize(feel_.channels.size());
    variables_.resize(feel_.variables.size());
    start_channels();
  }

  std::vector<std::string> play(std::span<BlockSink* const> sinks) {
    for (BlockSink* sink : sinks) sink->begin(scene_);
    for (std::int64_t frame = 0; frame < scene_.clock.frames;) {
      begin_block(frame);
      for (const std::size_t c : order_) {
        read_wishes(c, frame);
        movers_[c].fill(frame, block_.count, block_.channels[c]);
      }
      for (BlockSink* sink : sinks) sink->consume(block_);
      frame += block_.count;
    }
    for (BlockSink* sink : sinks) sink->end();
    return std::move(notes_);
  }

private:
  /// Formulas give their channels a start as well, so they are made in order.
  void start_channels() {
    for (std::size_t c = 0; c < feel_.channels.size(); ++c)
      movers_.emplace_back(feel_, c, scene_.clock, starting_bases(c));
    for (const std::size_t c : order_) {
      if (!has_formula(feel_.channels[c])) continue;
      put_formula_bases(
          c, 0.0, [&](ComponentRef component) { return movers_[component.channel].present(component.component); },
          [&](ComponentRef component) { return movers_[component.channel].goal(component.component); });
      Components start{};
      for (std::size_t i = 0; i < feel_.channels[c].components; ++i) start[i] = controls_.base({c, i});
      movers_[c].place_at(start);
    }
  }

  Components starting_bases(std::size_t c) const {
    Components start{};
    for (std::size_t i = 0; i < feel_.channels[c].components; ++i) start[i] = starting_base(feel_.channels[c], i);
    return start;
  }

  /// Works the formulas of a channel out and puts their values into its bases. One that is no number changes nothing.
  template<class Smooth, class Goal>
  void put_formula_bases(std::size_t c, double time, const Smooth& smooth, const Goal& goal) {
    const Channel& channel = feel_.channels[c];
    for (std::size_t i = 0; i < channel.components; ++i) {
      if (!channel.formula[i]) continue;
      for (const std::size_t v : channel.formula[i]->variables()) {
        const FormulaVariable& variable = feel_.variables[v];
        using Kind = FormulaVariable::Kind;
        variables_[v] = variable.kind == Kind::time      ? time
                        : variable.kind == Kind::control ? controls_.state(variable.control)
                        : variable.kind == Kind::smooth  ? smooth(variable.component)
                                                         : goal(variable.component);
      }
      const double value = channel.formula[i]->evaluate(variables_);
      if (std::isfinite(value))
        controls_.put_base({c, i}, value);
      else if (const std::string note = fmt::format("{}: its formula gave no number, first at {} s; the goal stayed",
                                                    component_name(channel, i), concise(time));
               std::none_of(notes_.begin(), notes_.end(), [&](const std::string& n) {
                 return n.starts_with(component_name(channel, i) + ": its formula");
               }))
        notes_.push_back(note);
    }
  }

  /// The wishes of a channel whose goal moves by itself in this block: at each frame, and just before the end.
  void read_wishes(std::size_t c, std::int64_t frame) {
    const Channel& channel = feel_.channels[c];
    ChannelBlock& out = block_.channels[c];
    std::array<std::optional<std::size_t>, most_components> mover;
    bool moves = has_formula(channel);
    for (std::size_t i = 0; i < channel.components; ++i) {
      out.component[i].wishes.clear();
      mover[i] = controls_.moving_base({c, i});
      moves = moves || mover[i];
    }
    if (!moves) return;
    const auto rows = static_cast<std::size_t>(block_.count) + 1;
    for (std::size_t r = 0; r < rows; ++r) {
      const double time = scene_.clock.time(frame + static_cast<std::int64_t>(r));
      put_formula_bases(
          c, time,
          [&](ComponentRef read) {
            const auto& column = block_.channels[read.channel].component[read.component];
            return r < column.smooth.size() ? column.smooth[r] : movers_[read.channel].present(read.component);
          },
          [&](ComponentRef read) { return block_.channels[read.channel].component[read.component].goal_at(r); });
      for (std::size_t i = 0; i < channel.components; ++i) out.component[i].wishes.push_back(0.0);
      for (std::size_t i = 0; i < channel.components; ++i)
        out.component[i].wishes[r] =
            mover[i] ? controls_.wish_with_base(c, i, controls_.base_at(*mover[i], time)) : controls_.wish(c, i).value;
    }
    for (std::size_t i = 0; i < channel.components; ++i) {
      auto& wishes = out.component[i].wishes;
      if (std::all_of(wishes.begin(), wishes.end(), [&](double wish) { return wish == wishes[0]; })) wishes.clear();
    }
  }

  void add_cause(const std::string& what) {
    if (!what.empty()) block_.cause += (block_.cause.empty() ? "" : ", ") + what;
  }

  /// Applies the cues due at `frame`, reads the goals once, and sets the block's extent.
  void begin_block(std::int64_t frame) {
    const auto& cues = scene_.take->cues;
    block_.first = frame;
    block_.cause.clear();
    controls_.run_bases(scene_.clock.time(frame));
    for (; next_cue_ < cues.size() && due_frame(scene_.clock, cues[next_cue_].at) <= frame; ++next_cue_) {
      // What repeated before this cue came first; the frame itself is asked only after its cues.
      add_cause(controls_.repeat_until(cues[next_cue_].at, frame - 1));
      add_cause(controls_.apply(cues[next_cue_], frame, notes_));
    }
    add_cause(controls_.repeat_until(scene_.clock.time(frame), frame));
    add_cause(controls_.look_at_switches(frame));
    std::int64_t next = next_cue_ < cues.size() ? due_frame(scene_.clock, cues[next_cue_].at) : scene_.clock.frames;
    next = std::min(next, controls_.next_event(frame));
    // A switch looks at every frame.
    const std::int64_t longest = feel_.switches.empty() ? longest_block : 1;
    block_.count = std::min({longest, next - frame, scene_.clock.frames - frame});
    block_.control_down = controls_.down();
    block_.switches.resize(feel_.switches.size());
    for (std::size_t s = 0; s < feel_.switches.size(); ++s) block_.switches[s] = controls_.is_in(s) ? 1 : 0;
    block_.lost_presses = controls_.take_lost_presses();
    block_.control_state.resize(feel_.controls.size());
    for (std::size_t c = 0; c < feel_.controls.size(); ++c) {
      block_.control_state[c] = controls_.state(c);
    }
    for (const std::size_t c : order_) {
      if (has_formula(feel_.channels[c]))
        put_formula_bases(
            c, scene_.clock.time(frame), [&](ComponentRef r) { return movers_[r.channel].present(r.component); },
            [&](ComponentRef r) { return movers_[r.channel].goal(r.component); });
      movers_[c].read_goals(controls_, frame, block_.channels[c]);
    }
    for (const ChannelMover& mover : movers_) block_.count = mover.unbroken_frames(frame, block_.count);
  }

  Scene scene_;
  const Feel& feel_;
  std::vector<std::size_t> order_; // of the channels: a formula after what it reads
  std::vector<double> variables_;  // of formulas
  Controls controls_;
  Block block_;
  std::vector<ChannelMover> movers_;
  std::vector<std::string> notes_;
  std::size_t next_cue_ = 0;
};

} // namespace

std::vector<std::string> play(const Scene& scene, std::span<BlockSink* const> sinks) {
  return Player(scene).play(sinks);
}

namespace {

bool turns_back(const Feel& feel, const MotionChoices& choices) {
  return std::any_of(choices.begin(), choices.end(), [&](const MotionChoice& choice) {
    for (const std::size_t index : {choice.rising, choice.falling})
      if (const Ease* ease = ease_of(feel.motions[index].motion); ease != nullptr && ease->there_and_back) return true;
    return false;
  });
}

bool leaves_range(const Channel& channel, const PoseGoal& goal) {
  for (std::size_t i = 0; i < channel.components; ++i) {
    const double value = goal.value[i].of(channel.rest[i]);
    if (goal.value[i].rule != GoalRule::none && (value < channel.range[i].low || value > channel.range[i].high))
      return true;
  }
  return false;
}

} // namespace

namespace {

/// True if controls may ask for what the range does not allow: a mirrored side, a sum.
bool may_be_asked_too_much(const Feel& feel, std::size_t channel) {
  const bool mirrored = std::any_of(feel.controls.begin(), feel.controls.end(), [&](const Control& control) {
    const auto* mirror = std::get_if<Mirror>(&control.rule);
    return mirror != nullptr && mirror->target.channel == channel;
  });
  const bool summed = std::any_of(feel.groups.begin(), feel.groups.end(),
                                  [](const Group& group) { return group.policy == Policy::sum; });
  return mirrored || summed;
}

} // namespace

bool has_wish_column(const Feel& feel, std::size_t channel) {
  const Channel& declared = feel.channels[channel];
  if (may_be_asked_too_much(feel, channel) || has_formula(declared)) return true;
  if (declared.space.space == Space::turn || turns_back(feel, declared.motion)) return true;
  for (const Pose& pose : feel.poses)
    for (const PoseGoal& goal : pose.goals)
      if (goal.channel == channel
          && (leaves_range(declared, goal) || (goal.entering && turns_back(feel, *goal.entering))))
        return true;
  return false;
}

} // namespace stasis
