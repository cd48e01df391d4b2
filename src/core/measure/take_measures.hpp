// Everything measured on one take of a feel.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/measure/camera_meter.hpp"
#include "core/measure/coast_meter.hpp"
#include "core/measure/follow_measures.hpp"
#include "core/measure/limit_watch.hpp"
#include "core/measure/move_tracker.hpp"
#include "core/measure/own_cause.hpp"
#include "core/measure/path_meter.hpp"
#include "core/measure/sequence_meter.hpp"
#include "core/measure/shake_measures.hpp"
#include "core/measure/switch_meter.hpp"

namespace stasis {

/// How long a control was down; an instant where it was clicked.
struct InputSpan {
  std::size_t control = 0;
  double from = 0.0; ///< s, the frame at which it took effect
  double to = 0.0;
  bool open = false; ///< still down when the take ended
};

struct ChannelSummary {
  Components end_value{};
  std::optional<double> time_at_limit = 0.0; ///< s for which the range held the value back
  std::optional<double> left_space_at;       ///< s at which its goal first lay where its space has no values
  bool goal_ran = false;                     ///< its goal has moved by itself
  PathSummary path;                          ///< of its way through the take
  CoastSummary coast;                        ///< of one that a stick or a pointer moves
  std::optional<double> flips;               ///< of the switches that look at it
  FollowSummary follow;                      ///< of a channel that follows, or lies on a grid
};

struct TakeMeasures {
  std::vector<Move> moves; ///< in order of their start
  std::vector<ChannelSummary> channels;
  std::vector<InputSpan> inputs;
  CameraSummary camera;
  std::vector<ShakeSummary> shakes;       ///< by shake of the feel
  std::vector<SwitchSummary> switches;    ///< by switch of the feel
  std::vector<SequenceSummary> sequences; ///< by sequence of the feel
  std::vector<std::string> notes;         ///< filled by whoever played the take, then by the measures themselves
};

/// What is to be measured, where little of it is: a search plays one feel thousands of times for a few numbers.
struct MeasureScope {
  std::vector<std::uint8_t> channels; ///< by channel: 1 where something of it is wanted
  bool paths = true;                  ///< what a channel does over the whole take, beside its moves
  bool limits = true;                 ///< for how long its range holds it back
};
/// What has to be measured for some wants; nothing where it is everything.
std::optional<MeasureScope> scope_of(const Feel& feel, const std::vector<Want>& wants);

/// Collects the measures while the take is played.
class MeasureSink final : public BlockSink {
public:
  MeasureSink() = default;
  /// Measures that are not in the scope are as if nothing had happened.
  explicit MeasureSink(std::optional<MeasureScope> scope) : scope_(std::move(scope)) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  /// The last move of each channel so far, those under way as they would stand if the take ended with the block
  /// consumed last; in the order of channels.
  std::vector<Move> last_moves() const;

  /// The finished measures; call once, after the take. `play_notes` come first among the notes.
  TakeMeasures take(std::vector<std::string> play_notes);

private:
  /// Who watches one channel.
  struct Watch {
    ChannelFrames frames;
    LimitWatch limits;
    PathMeter path;
    CoastMeter coast;
    std::vector<ComponentRef> reads;      // by its formulas
    std::unique_ptr<MoveTracker> tracker; // null while no move is under way
    std::int64_t start_frame = 0;         // of that move
    std::int64_t stepped_at = -1;         // the frame in which a formula's goal stepped last
    bool goal_ran_last = false;           // in the last frame of the block before
    double started_ago = 0.0;             // s before that frame; below 0 where it began within it
    const ChannelFrame* last = nullptr;   // the frame that it followed last
  };

  void follow_channel(const Block& block, std::size_t channel);
  std::size_t follow_rows(const Block& block, std::size_t channel, std::size_t row, std::size_t most,
                          std::optional<double> run);
  bool has_ended(std::size_t channel, const ComponentBlock& column, std::int64_t frame) const noexcept;
  struct RowMotion {
    Components end{}, end_rate{}; ///< in the space
    bool goes_on = false;         ///< by the same motion, to the same goal, as from the row before
    bool may_fade = false;        ///< its end tells all that there is, where hardly anything is left
  };
  RowMotion motion_of(const Block& block, std::size_t channel, std::size_t row, std::size_t count) const;
  bool reads_what_jumps(const Block& block, std::size_t channel) const;
  /// The clock by which a channel goes, and what is measured of it until all is.
  const Clock& clock_of(std::size_t channel) const noexcept { return watches_[channel].frames.clock(); }
  std::vector<std::size_t> goal_steps(const Block& block, std::size_t channel) const;
  void add_cuts(const Block& block, const ComponentBlock& column, const Clock& clock,
                std::vector<std::size_t>& rows) const;
  void begin_step(const Block& block, std::size_t channel, std::size_t row);
  void begin_or_end_move(const Block& block, std::size_t channel, bool runs_at_once);
  void follow_frame(std::size_t channel, std::int64_t frame, const ChannelFrame& inside, double until);
  void note_inputs(const Block& block);
  void finish_move(std::size_t channel, bool retargeted, double since_start, const Components& output);
  void leave_move(std::size_t channel, double since_start, const Components& output);
  double since_start(std::size_t channel, std::int64_t frame) const noexcept;
  void add_tied_moves();
  void add_notes();

  bool is_in_scope(std::size_t channel) const noexcept { return !scope_ || scope_->channels[channel] != 0; }
  bool has_paths() const noexcept { return !scope_ || scope_->paths; }
  bool has_limits(std::size_t channel) const noexcept {
    return (!scope_ || scope_->limits) && watches_[channel].limits.has_limits();
  }

  std::optional<MeasureScope> scope_;
  std::int64_t last_frame_ = 0; ///< consumed so far
  Scene scene_;
  std::vector<Watch> watches_;                            ///< by channel
  std::vector<std::unique_ptr<FollowTracker>> followers_; ///< by channel; null where nothing is followed or snapped
  std::optional<SceneFrames> frames_;
  std::optional<OwnCauses> causes_;
  std::optional<CameraMeter> camera_;
  std::optional<SwitchMeter> switches_;
  std::optional<SequenceMeter> sequences_;
  std::vector<std::uint8_t> places_camera_; ///< by channel
  std::vector<std::uint8_t> jumps_;         ///< by row of the block: something that places the camera jumps after it
  std::vector<ShakeTracker> shakers_;       ///< by shake
  std::vector<std::uint8_t> was_down_;
  std::vector<double> was_state_;
  TakeMeasures measures_;
};

} // namespace stasis
