// The state of a take's controls, and the goals that follow from it.
#pragma once

#include <functional>
#include <limits>
#include <string>
#include <utility>
#include <vector>

#include "core/clock.hpp"
#include "core/feel/feel.hpp"
#include "core/take/stick.hpp"

namespace stasis {

class SameNames;

/// Which controls are on, since when, and the bases that they have moved. Rules: docs/design.md, section 3.
class Controls {
public:
  /// The smoothed value of a component at the frame that is being begun.
  using Present = std::function<double(ComponentRef)>;

  Controls(const Feel& feel, const Clock& clock, Present present);

  /// Goes on as the controls of the same names were when the feel was changed. Called before anything else.
  void go_on_from(const Controls& old, const SameNames& same, std::int64_t frame);

  /// Applies one cue due at `frame`. \param cause of moves: what happened is added ("press listen"); nothing, and a
  /// note instead, where the cue had no effect.
  void apply(const Cue& cue, std::int64_t frame, std::string& cause, std::vector<std::string>& notes);
  /// Clicks that repeat while a control is held: those due by `time` and before the next cue at `frame`.
  void repeat_until(double time, std::int64_t frame, std::string& cause);
  /// Looks at every switch with the values that are there.
  void look_at_switches(std::int64_t frame, std::string& cause);
  /// Reads the speeds of sticks that channels give, which hold until this is called again.
  void read_gains();
  bool is_in(std::size_t index) const noexcept { return in_force_[index]; }

  /// The first frame after `frame` at which something happens without a cue; `none` if nothing does.
  std::int64_t next_event(std::int64_t frame) const;
  static constexpr std::int64_t none = INT64_MAX;

  /// The wish of a component, by the policies of the groups, else by the pose that came last; home without one.
  struct Wish {
    double value;
    const PoseGoal* owner; ///< null at home
  };
  /// \param base of the component, on the unmirrored side: own_base(), or what a source gives it instead.
  Wish wish(ComponentRef target, double base) const;
  /// A base on the side where its component is now.
  double on_its_side(ComponentRef target, double base) const noexcept;
  /// The base that hands, cues and headings have moved.
  double own_base(ComponentRef target) const noexcept { return base_[index_of(target)]; }
  void put_own_base(ComponentRef target, double value) noexcept { base_[index_of(target)] = value; }

  /// The track that a pose in force, or else a cue, gives a channel instead of its own.
  std::optional<std::size_t> track_for(std::size_t channel) const;

  /// A home that is set outright, within the range.
  void put_home(ComponentRef target, double value) { set_base(target, value); }
  /// An obstacle holds a component's goal there, short of its wish; or nothing holds it.
  void hold(ComponentRef target, std::optional<double> goal) { held_[index_of(target)] = goal; }
  /// Clicks that have changed a base of the channel since this was last asked.
  int take_clicks(std::size_t channel) { return std::exchange(clicks_made_[channel], 0); }
  /// The stick or pointer that moves a component's base now, if one does.
  std::optional<std::size_t> moving_base(ComponentRef target) const noexcept;
  /// Puts the bases that run where they are at a frame; they go on from there.
  void run_bases(std::int64_t frame);
  /// Where the base is at a frame, at or after that of the last run_bases().
  double base_at(std::size_t control, std::int64_t frame) const noexcept;

  /// True while a stick drives its base, and where counts of a pointer have come since forget_counts().
  bool is_pushed(std::size_t control) const noexcept;
  void forget_counts() noexcept;
  /// Controls of which a press changed nothing, by their rule, since this was last asked.
  std::vector<std::size_t> take_lost_presses() { return std::exchange(lost_presses_, {}); }
  /// Controls that ran to their end by a repeat, which no hand has asked for, since this was last asked.
  std::vector<std::size_t> take_runs_to_end() { return std::exchange(runs_to_end_, {}); }

  /// Controls that have gone down since they were forgotten, except for those without effect then.
  const std::vector<std::size_t>& presses() const noexcept { return presses_; }
  void forget_presses() noexcept { presses_.clear(); }
  /// Sequences that switches have begun since this was last asked.
  std::vector<std::size_t> take_begun() { return std::exchange(begun_, {}); }

  /// 1 while the control is held.
  const std::vector<std::uint8_t>& down() const noexcept { return down_; }
  /// 1 while the control is on: held, toggled on, in one of its poses, mirrored.
  bool is_on(std::size_t control) const noexcept;
  /// What the trace shows beside that: a toggle's state, which pose of a cycle (0: home), a mirror's side (1 or -1),
  /// the rung of clicks.
  double state(std::size_t control) const noexcept;

private:
  /// A control or, numbered after them, a switch that has put a pose into force.
  struct Contender {
    std::size_t control;
    std::size_t pose;
    std::int64_t frame;
    double at;
  };
  struct Each {
    std::uint64_t buttons = 0; // bit by bit which are down
    bool locked = false;
    std::size_t turn = 0;               // of a cycle: how many presses, over all poses
    std::optional<double> last_click{}; // s: one that counts as by hand, and is not yet half of a double press
    int last_way = 0;
    double pressed_at = 0.0;
    std::int64_t pressed_frame = 0;
    std::int64_t repeats = 0; // made since the press
    double deflection = 0.0;  // of a stick
    double gain = 1.0;        // of a stick whose speed a channel gives
    double speed = 0.0;       // of a stick's base when it was last looked at, in the space
    double remaining = 0.0;   // of a pointer with a top speed: what is still to come
    double looked_at = 0.0;   // s
    bool counted = false;     // of a pointer
    /// From where a base runs, as long as nothing else moves it: so that what it reaches does not depend on how often
    /// it was looked at in between.
    struct Anchor {
      double at = 0.0;                                           // s
      double base = 0.0;                                         // in the unit
      double speed = 0.0, remaining = 0.0;                       // then
      double asked = 0.0;                                        // of a stick: the speed it heads for
      double reached = std::numeric_limits<double>::quiet_NaN(); // the base when it was last looked at
    } anchor{};
  };

  std::optional<Contender> contender_now(const Contender& contender, const Controls& old, const SameNames& same) const;
  void adopt_bases(std::size_t channel, std::size_t before, const Controls& old, const SameNames& same);
  bool press(const Cue& cue, std::int64_t frame, std::vector<std::string>& notes);
  bool let_go(const Cue& cue, std::int64_t frame, std::vector<std::string>& notes);
  void go_down(std::size_t control, double at, std::int64_t frame, std::vector<std::string>& notes);
  void come_up(std::size_t control, double at, std::int64_t frame, std::vector<std::string>& notes);
  void enter(std::size_t control, std::size_t pose, double at, std::int64_t frame);
  void leave(std::size_t control);
  void turn(const Cycle& cycle, std::size_t control, double at, std::int64_t frame);
  /// \returns false if nothing changed.
  bool mirror(const Mirror& rule);
  bool click(std::size_t control, int count, std::optional<double> at);
  void count_pointer(std::size_t control, double counts);
  double time_of(std::size_t control, std::int64_t frame) const noexcept;
  RunsOn runs_on_of(std::size_t control) const noexcept;
  double pointer_way(const Pointer& pointer, std::size_t control, double time) const noexcept;
  bool runs(std::size_t control) const noexcept;
  void deflect(std::size_t control, double deflection);
  double full_speed(const Stick& stick, std::size_t control) const noexcept;
  double asked_speed(const Stick& stick, std::size_t control) const noexcept;
  Each::Anchor anchor_of(std::size_t control) const noexcept;
  StickState stick_state(const Stick& stick, std::size_t control, double time) const noexcept;
  void keep_pose(std::size_t pose);
  bool is_suppressed(std::size_t control) const noexcept;
  void set_base(ComponentRef target, double value);
  std::size_t index_of(ComponentRef target) const noexcept {
    return target.channel * most_components + target.component;
  }

  /// The goal that a contender has for a component, if its pose names it.
  const PoseGoal* goal_in(const Contender& contender, ComponentRef target) const noexcept;
  // many: whose goal for which component, and around which base
  double value_in(const Contender& contender, const PoseGoal& goal, ComponentRef target, double base) const noexcept;
  Wish decided(const Group& group, ComponentRef target, double base) const;
  Wish summed(const std::vector<const Contender*>& contenders, ComponentRef target, double base) const;
  const Group* group_of(std::size_t control) const noexcept;

  const Feel& feel_;
  Clock clock_;
  Present present_;
  std::vector<std::uint8_t> down_;
  std::vector<Each> each_;
  std::vector<Contender> contenders_;              // in the order in which they came
  std::vector<double> base_;                       // by index_of(), on the unmirrored side
  std::vector<std::optional<std::size_t>> tracks_; // by channel: as the last cue has it
  std::vector<std::size_t> lost_presses_, runs_to_end_, presses_, begun_;
  std::vector<std::optional<double>> held_ = std::vector<std::optional<double>>(base_.size()); // by index_of()
  std::vector<int> clicks_made_ = std::vector<int>(tracks_.size());                            // by channel
  double last_dt_ = clock_.usual_dt(); // s: of the step that led to the frame at which cues act
  std::vector<bool> in_force_;         // by switch
  std::vector<const Mirror*> flipped_; // by index_of(): the rule that has put the component on the other side
};

} // namespace stasis
