// A stretch of frames during which no cue acts: what the player hands to its sinks, by column.
#pragma once

#include <array>
#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/clock.hpp"
#include "core/feel/feel.hpp"
#include "core/motion/frame_piece.hpp"
#include "core/motion/led_time.hpp"
#include "core/scene/axes.hpp"

namespace stasis {

/// One component of a channel over a block of n frames.
struct ComponentBlock {
  std::vector<double> state;    ///< n + 1: the value in the channel's space; the last is the end of the last step
  std::vector<double> rate;     ///< n + 1: its rate just after each frame's goal acts; the last, just before the end
  std::vector<double> smooth;   ///< n: the value in the channel's unit after motion and limits
  std::vector<double> value;    ///< n: the value after everything
  std::vector<double> velocity; ///< n: rate of `smooth`, unit/s; NaN where the rule's own is unbounded
  std::vector<StageRow> stages; ///< n + 1 for a motion of stages, else empty
  /// Where the goal moves by itself, n + 1 each: the wish, the goal in the channel's unit and in its space just after
  /// each frame's jumps; the last just before the end. Empty where the goal stands.
  std::vector<double> wishes, goals, goal_states;
  /// Corners of such a goal between two frames, in order.
  struct Knot {
    std::size_t row; ///< the frame before it
    double at;       ///< s after that frame
    double wish, goal = 0.0, goal_state = 0.0;
  };
  std::vector<Knot> knots;
  /// n + 1: the wish before its dead zone; empty where there is none.
  std::vector<double> free_wishes;
  std::vector<double> remainders; ///< n: what the snap has left over; empty without one
  std::vector<double> shifts;     ///< n: px by which the drawn picture is to be moved for it; empty without a flat view
  double wish = 0.0;              ///< goal before limits, in the channel's unit
  double goal = 0.0;              ///< in the channel's unit
  double goal_state = 0.0;        ///< in the channel's space
  double acting_state = 0.0;      ///< the goal that the motion works toward: behind by its delays
  double rate_before = 0.0;       ///< rate in the space just before the block's first goal acted
  std::size_t motion = 0;         ///< the motion in force: index into Feel::motions
  std::shared_ptr<const Motion> slowed; ///< as it is in this block, where it takes longer or shorter
  std::shared_ptr<const Run> run;
  bool arrived = false; ///< a jump has come through a delay at the block's first frame
  /// The first frame at whose end no jump is on its way through a delay; INT64_MAX: none in this block.
  std::int64_t awaits_until = 0;
  /// The pieces of frames that are not one piece of `motion` and `run` from row to row, in order.
  std::vector<FramePiece> pieces;
  bool drawn = false; ///< its motion goes by a clock of its own (a tick): what is drawn goes straight between frames

  bool moves() const noexcept { return !goals.empty(); }
  double goal_at(std::size_t row) const noexcept { return goals.empty() ? goal : goals[row]; }
};

struct ChannelBlock {
  std::array<ComponentBlock, most_components> component;
  bool moved = false;     ///< its goal jumped at the block's first frame
  bool turned = false;    ///< the jump is a move that goes there and back turning round, since the frame before
  std::vector<Axes> axes; ///< n: in which its motions work, where the world's are not meant; else empty
  /// Where obstacles may hold it, n + 1 each: where the ray touches, and what caps the goal just after each frame's
  /// jumps, the last just before the end; infinite where nothing is in the way.
  std::vector<double> hits, ceilings;
  std::optional<std::size_t> obstacle; ///< which sets that at the block's first frame
  int unseen_clicks = 0;               ///< made at the block's first frame, and hidden by an obstacle
  std::size_t track = 0;               ///< which track it follows, counted from 1; 0: none, or none that is there
};

/// A hit that acted at a block's first frame.
struct HitMark {
  double time = 0.0; ///< s, of that frame
  double strength = 1.0;
  std::vector<double> direction{}; ///< of a ring, by target: instead of the shake's own
};

/// A shake over a block of n frames; without numbers where it is not felt.
struct ShakeBlock {
  std::vector<double> amplitude;          ///< n: strength, 1 being one full hit
  std::vector<std::vector<double>> parts; ///< by target of the shake, n each: what it adds, in the channel's unit
  bool is_felt = false;
  std::vector<HitMark> hits;
};

/// A track over a block of n frames.
struct TrackBlock {
  std::array<std::vector<double>, most_components> place; ///< n each
  std::vector<double> facing;                             ///< n: deg
  std::vector<std::uint8_t> lost;                         ///< n: 1 where it is not there
};

struct SequenceCourse;

/// A sequence that runs.
struct SequenceMark {
  std::size_t sequence = 0;
  std::int64_t frame = 0; ///< at which it began
  std::shared_ptr<const SequenceCourse> course;
  LedTime time;
};

struct Block {
  std::int64_t first = 0;
  std::int64_t count = 0;
  std::string cause; ///< of the jumps at the first frame: "press listen"; "" if none
  std::vector<ChannelBlock> channels;
  std::vector<ShakeBlock> shakes; ///< by shake of the feel
  std::vector<TrackBlock> tracks; ///< by track of the feel, as the take plays it
  std::array<std::vector<double>, 7>
      eye; ///< n each: place and turn (x, y, z, w) of the eye; empty without one in space
  /// By track, n each: px from the picture's left edge and from its upper one; NaN where it is not there to be seen.
  /// Empty where the picture does not say.
  std::vector<std::array<std::vector<double>, 2>> screen;
  std::vector<std::uint8_t> control_down; ///< by control: 1 while it is held
  std::vector<double> control_state;      ///< by control, see Controls::state()
  std::vector<std::uint8_t> pushed;    ///< by control: 1 while a stick drives its base, where counts of a pointer came
  std::vector<std::uint8_t> switches;  ///< by switch: 1 while its pose acts
  std::vector<SequenceMark> sequences; ///< those that run in this block
  std::vector<std::size_t>
      lost_presses;                     ///< controls of which a press at the first frame changed nothing, by their rule
  std::vector<std::size_t> runs_to_end; ///< controls that ran to their end by a repeat at the first frame
};

/// Which feel is played, in what take, on what clock.
struct Scene {
  const Feel* feel = nullptr;
  const Take* take = nullptr;
  Clock clock;
};

/// Receives a take while it is played. Calls come in order: begin, consume for each block, end.
class BlockSink {
public:
  virtual ~BlockSink() = default;
  virtual void begin(const Scene& scene) = 0;
  virtual void consume(const Block& block) = 0;
  virtual void end() = 0;
};

/// True if a wish of the channel can ever differ from its goal, so that its trace has a column for it.
bool has_wish_column(const Feel& feel, std::size_t channel);

/// True if the picture places an eye in space, so that the trace has columns for it.
bool has_eye_columns(const Feel& feel);

/// True if the picture tells where a track stands on the screen, so that the trace has columns for it.
bool has_screen_columns(const Feel& feel, std::size_t track);

/// True if obstacles may hold the channel in, so that its trace has columns for that.
inline bool has_room_columns(const Channel& channel) noexcept { return channel.obstacles.has_value(); }

/// True if the channel's trace has columns for the shift of the picture.
bool has_shift_column(const Feel& feel, std::size_t channel);

} // namespace stasis
