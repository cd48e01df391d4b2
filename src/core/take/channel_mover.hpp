// One channel on its way through a take: which motion acts, what its goal is, and its rows.
#pragma once

#include <array>
#include <cstdint>

#include "core/motion/led.hpp"
#include "core/queue.hpp"
#include "core/take/block.hpp"
#include "core/take/controls.hpp"
#include "core/take/delay_line.hpp"

namespace stasis {

class SameNames;

class ChannelMover {
public:
  /// At rest at `start`, in the channel's unit.
  ChannelMover(const Feel& feel, std::size_t channel, const Clock& clock, const Components& start);

  /// Puts it there, at rest, before a take begins.
  void place_at(const Components& start);

  /// From now on its motions take this many times as long.
  void slow_down(double times);
  /// From now on the goal goes no higher than this, in the channel's unit; the range's lowest value wins over it.
  void put_ceiling(double ceiling) noexcept { ceiling_ = ceiling; }
  /// A wish held to the range.
  double allowed(std::size_t component, double wish) const noexcept {
    const auto [low, high] = goal_range(channel_, component);
    return std::clamp(wish, low, high);
  }
  /// Of a channel of one component: where it now lies beyond `most`, it is put back there, and what speed it has
  /// outward is lost. \param frame the one that comes next; \param out the block that has led there, if it is known.
  void hold_back(double most, std::int64_t frame, ChannelBlock* out = nullptr);

  /// Goes on from where the channel of the same name was when the feel was changed at `frame`: value, speed and goal;
  /// a move of a set time is finished by its old numbers.
  void go_on_from(const ChannelMover& old, const SameNames& same, std::int64_t frame);

  /// A sequence leads a component from the beginning of `frame` on.
  void lead(std::size_t component, LedCourse course, std::int64_t frame);
  /// The sequence gives it back as it then moves: value and speed go on. \param owner a goal whose `leaving` is its
  /// motion if it goes home.
  void give_back(std::size_t component, const PoseGoal* owner, std::int64_t frame);
  bool is_led(std::size_t component) const noexcept { return movers_[component].led != nullptr; }
  bool is_led() const noexcept {
    return std::any_of(movers_.begin(), movers_.end(), [](const Mover& m) { return m.led; });
  }
  /// Where a sequence leads a component at a frame, in the channel's unit.
  double led_value(std::size_t component, std::int64_t frame) const;
  /// What it would do from the beginning of `frame` on, its goal staying where it is.
  LedWay::Moving going_on(std::size_t component, std::int64_t frame) const;

  /// Reads the goals at the beginning of a block, after its cues: notes jumps, turns and arrivals at `frame`.
  void read_goals(const std::array<Controls::Wish, most_components>& wishes, std::int64_t frame, ChannelBlock& out);
  /// True if its goal may move by itself behind a motion that waits, so that its wishes are needed at every frame.
  bool keeps_way() const noexcept { return keeps_way_; }
  /// How many frames from `frame` on may be played before something happens by itself, at most `most`.
  std::int64_t unbroken_frames(std::int64_t frame, std::int64_t most) const;
  /// The goal as last read.
  double goal(std::size_t component) const noexcept { return movers_[component].goal; }
  /// The output at the frame that comes next.
  double present(std::size_t component) const noexcept { return movers_[component].smooth; }
  /// unit/s: the rate with which it has come there.
  double arriving_rate(std::size_t component) const noexcept;
  /// Plays the block's frames into its columns.
  void fill(std::int64_t first, std::int64_t count, ChannelBlock& out);

private:
  /// A jump that is still on its way: through a delay, or until the move before it is finished.
  struct Pending {
    std::int64_t frame;
    double wait; ///< s after that frame
    double goal, goal_state;
    bool once;
    bool together; ///< with the other components, by one pace
  };
  struct Mover {
    std::size_t motion = 0; // index into Feel::motions
    std::shared_ptr<const Motion> slowed;
    MoverState state;
    StepMemory memory, piece_memory;         // of whole frames, and of pieces of one
    double asked = 0.0;                      // the wish within the range, as last read
    double goal = 0.0, goal_state = 0.0;     // where it is heading: in the unit, in the space
    double acting = 0.0, acting_state = 0.0; // the goal that has come through the motion's delay
    double start = 0.0;                      // of the move under way, in the unit
    double smooth = 0.0;                     // the next row's output: converted with the goal that led to it
    double rate_before = 0.0;                // just before the next row's goal acts
    const PoseGoal* owner = nullptr;
    const MotionChoices* choices = nullptr; // by which the motion is chosen; null: the channel's own
    bool moved_by_itself = false;           // its goal has, in the block before
    Queue<Pending> pending;
    DelayLine line;      // the goal's way, if keeps_way()
    double seen = 0.0;   // where it led to by the end of the frame before
    bool begins = false; // a move begins at the block's first frame
    bool once = false;
    bool finishes = false; // `slowed` is the motion of a feel before it was changed, until the next move begins
    bool homeward = false; // of a move there and back: it is on its way back, or has come home
    bool turned = false;   // the goal is where it then leads, not what is asked for
    std::shared_ptr<const Run> led; // by a sequence, whose motion is then in force
  };

  const Motion& motion_of(const Mover& mover) const {
    return mover.slowed != nullptr ? *mover.slowed : feel_.motions[mover.motion].motion;
  }
  void slow(Mover& mover) const;
  void choose_led(Mover& mover, const ComponentBlock& out, const std::vector<double>& ceilings);
  void fill_led(std::size_t i, std::int64_t first, const std::vector<double>& ceilings, ComponentBlock& out);
  Instant led_instant(const Mover& mover, std::int64_t frame, Side side) const;
  void adopt_component(std::size_t i, const ChannelMover& old, const SameNames& same, std::int64_t frame);
  void adopt_choice(std::size_t i, const ChannelMover& old, const SameNames& same);
  std::shared_ptr<const Run> on_my_clock(const Run& run, std::int64_t frame, double gone) const;
  void choose_motion(std::size_t i, Mover& mover, const PoseGoal* owner, std::int64_t frame);
  double works_towards(const Mover& mover, std::int64_t frame) const;
  /// \returns true if another motion has taken over, and does not simply go on.
  bool switch_motion(Mover& mover, std::size_t chosen);
  const MotionChoices* choices_of(const Mover& mover) const noexcept {
    return mover.choices != nullptr ? mover.choices : &channel_.motion;
  }
  void read_moving_goals(std::size_t i, ComponentBlock& out, const std::vector<double>& ceilings);
  void choose_direction(std::size_t i, Mover& mover, double gap);
  /// A piece of a frame: what it is a piece of, where its goal runs.
  struct Piece {
    std::size_t row;
    double from;   ///< s into the frame
    double length; ///< s
    GoalSegment goal;
    RunTime elapsed; ///< of the run
  };
  double step(const Piece& piece, Mover& mover, StepMemory& memory, ComponentBlock* record);
  double step_after(std::size_t i, const Piece& piece, Mover& mover, StepMemory& memory, ComponentBlock* record);
  bool goes_by_frames(std::size_t i, const Mover& mover) const noexcept;
  /// An amount a frame, of several components: straight along the gap. \returns false where that does not hold.
  bool fill_amount(std::int64_t first, ChannelBlock& out);
  void fill_turned(std::int64_t first, ChannelBlock& out);
  void write_turned_row(std::size_t row, const Axes& axes, const Components& value, const Components& velocity,
                        const Components& goal, const Components& slope, ChannelBlock& out);
  void leave_moving(std::size_t i, const ComponentBlock& out);
  void read_goal_pieces(Mover& mover, std::int64_t frame, std::size_t row, std::size_t& knot,
                        const ComponentBlock& out);
  double cut_for_pending(std::size_t i, Mover& mover, std::int64_t frame);
  void begin_pending(std::size_t i, Mover& mover, std::int64_t frame, double at);
  static void begin_way(Mover& mover, double time, double goal_state);
  double step_by_frames(std::size_t i, const Piece& whole, Mover& mover, ComponentBlock& out);
  void fill_moving(std::size_t i, std::int64_t first, ComponentBlock& out);
  bool jump(std::size_t i, Mover& mover, const Controls::Wish& wish, std::int64_t frame);
  static bool is_there(const Mover& mover) noexcept;
  bool is_on_its_way(const Mover& mover, std::int64_t frame) const noexcept;
  bool take_owner(std::size_t i, Mover& mover, const PoseGoal* owner, std::int64_t frame);
  void begin_moves(std::int64_t frame);
  /// Jumps that are taken up at one instant, by component.
  using Jumps = std::array<std::optional<Pending>, most_components>;
  void take_up(const Jumps& jumps);
  Jumps due_jumps(std::int64_t frame, double by);
  /// Puts a jump off where the motion waits, or finishes what is under way first. \returns true if it did.
  bool put_off(Mover& mover, const Pending& jump);
  bool moves_together() const noexcept;
  bool turn(Mover& mover, std::int64_t frame);
  static double asked_state(const Mover& mover, double goal_state) noexcept;
  bool brings_anything(const Mover& mover) const noexcept;
  std::int64_t awaits_until(const Mover& mover, std::int64_t end) const noexcept;
  /// Seconds from the beginning of `frame` to the first pending jump's arrival; infinite without one.
  double arrival_after(const Mover& mover, std::int64_t frame) const;
  void plan_standing(std::size_t i, Mover& mover, const Pending& goal) const;
  void fill_component(std::size_t i, std::int64_t first, ComponentBlock& out);
  void fill_arrival_frame(std::int64_t frame, ChannelBlock& out);
  MoveStart start_of(std::size_t i, const Mover& mover, const Pending& jump) const;
  /// Seconds from the beginning of a component's run to an instant of a frame.
  double elapsed_of(const Mover& mover, std::int64_t frame, double at = 0.0) const noexcept {
    return mover.state.run != nullptr ? mover.state.run->elapsed(clock_, frame, at) : 0.0;
  }
  void convert_rows(std::size_t i, Mover& mover, ComponentBlock& out) const;
  double output_of(std::size_t i, double state, const Mover& mover) const noexcept;
  double output_of(std::size_t i, double state, double goal_state, double goal) const noexcept;

  const Feel& feel_;
  const Channel& channel_;
  std::size_t index_;
  Clock clock_;
  bool keeps_way_ = false;
  double times_ = 1.0;         // as long as its motions are
  double ceiling_ = unbounded; // of the first component's goal, at the block's first frame
  double longest_wait_ = 0.0;  // s, of all motions that it may move by
  mutable RunPool runs_;
  std::vector<DelayLine::Piece> goal_pieces_; // of the frame that is being played
  std::array<Mover, most_components> movers_;
};

} // namespace stasis
