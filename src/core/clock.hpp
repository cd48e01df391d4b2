// Frame times of a take. Time is frame index over rate, never a running sum.
#pragma once

#include <cmath>
#include <cstdint>
#include <memory>
#include <optional>
#include <vector>

#include "core/frame_times.hpp"

namespace stasis {

/// Two instants closer than this are the same instant when cues and the end of a take are matched to frames, seconds.
inline constexpr double instant_slack = 1e-9;

/// Which time something goes by: the game's, which may be slowed, or that of the clock on the wall.
enum class RunsOn : std::uint8_t { game, clock };

/// From an instant on, game time goes this many times as fast as the clock.
struct GameSpeed {
  double at = 0.0;    ///< s on the clock
  double speed = 1.0; ///< >= 0
  double over = 0.0;  ///< s on the clock in which the speed changes, evenly eased
};

/// Game time by the time on the clock: the integral of a speed that eases from one to the next. Source: docs/maths.md,
/// section 4.
class GameTime {
public:
  /// \param next not before the change before it.
  void change(const GameSpeed& next);
  /// \param clock s, >= 0
  double at(double clock) const noexcept;
  /// The time of the clock at which game time is so much, s, >= 0.
  double clock_at(double time) const;

private:
  struct Ramp {
    double begin, time; // s on the clock, game time then
    double from, to;    // speeds
    double over;        // s

    double speed_at(double clock) const noexcept;
    double time_at(double clock) const noexcept;
  };
  std::vector<Ramp> ramps_;
};

/// When frames are drawn: steadily, frame k at k / fps, or at times of their own. All but cues go by game time, which
/// is the same unless a longest frame holds it back, or it is slowed or quickened.
struct Clock {
  double fps = 60.0;       ///< frames a second, > 0; of a disturbed clock as it would be undisturbed
  std::int64_t frames = 1; ///< number of frames, >= 1
  /// Of a disturbed clock: the game time of each frame, and of one more that is not drawn. Ascending, the first 0.
  std::shared_ptr<const FrameTimes> times{};
  /// Where game time is not that of the clock: the time on the clock of each frame, in the same way.
  std::shared_ptr<const FrameTimes> drawn{};
  /// What leads from one to the other between frames too; null where a longest frame holds game time back.
  std::shared_ptr<const GameTime> game_time{};

  bool is_steady() const noexcept { return times == nullptr; }
  double time(std::int64_t frame) const noexcept {
    return times == nullptr ? static_cast<double>(frame) / fps : (*times)[static_cast<std::size_t>(frame)];
  }
  /// The time on the clock at which a frame is drawn.
  double drawn_time(std::int64_t frame) const noexcept {
    return drawn == nullptr ? time(frame) : (*drawn)[static_cast<std::size_t>(frame)];
  }
  /// The same, of a frame and the next, as the step that leads from one to the other.
  double drawn_dt(std::int64_t frame) const noexcept {
    return drawn == nullptr ? dt(frame) : drawn_time(frame + 1) - drawn_time(frame);
  }
  /// Seconds from one frame to another, rounded once.
  double elapsed(std::int64_t from, std::int64_t to) const noexcept {
    return times == nullptr ? static_cast<double>(to - from) / fps : time(to) - time(from);
  }
  /// Seconds from a frame to the next.
  double dt(std::int64_t frame) const noexcept { return times == nullptr ? 1.0 / fps : elapsed(frame, frame + 1); }
  /// Seconds of a frame if nothing disturbs it.
  double usual_dt() const noexcept { return 1.0 / fps; }
  /// The clock of what goes by that time.
  Clock of(RunsOn which) const;
  double time(std::int64_t frame, RunsOn which) const noexcept {
    return which == RunsOn::clock ? drawn_time(frame) : time(frame);
  }
  double dt(std::int64_t frame, RunsOn which) const noexcept {
    return which == RunsOn::clock ? drawn_dt(frame) : dt(frame);
  }
  /// The clock's time at a game time from 0 to that of the last frame, and the other way round; where a longest frame
  /// holds game time back, evenly within a frame.
  double drawn_at(double time) const;
  double game_at(double time) const;
  /// How many whole frames from `frame` on lie within `span` seconds; at most `most`.
  std::int64_t frames_within(std::int64_t frame, double span, std::int64_t most) const noexcept;
};

/// A frame that takes longer.
struct Stall {
  double at = 0.0;     ///< s: the first frame that would begin at or after this begins late
  double length = 0.0; ///< s by which
};

/// Stalls that come by chance: their number a second on average, and each one's length between two bounds.
struct RandomStalls {
  double rate = 0.0;                    ///< 1/s
  double shortest = 0.0, longest = 0.0; ///< s
};

/// A fixed rate at which subjects advance, and how a frame reads what lies between.
struct Tick {
  double rate = 50.0;  ///< Hz; 0: there is none, and a frame reads its own time
  bool blends = false; ///< a frame lies between the last two ticks, one tick late; else it holds the latest
  enum class Order : std::uint8_t {
    camera_last,  ///< the camera reads the subject of its own frame
    camera_first, ///< it reads that of the frame before
    on_tick,      ///< it is stepped once a tick, after the subject, and drawn as the subject is
  } order = Order::camera_last;

  /// The number of the latest tick at a time (s, >= 0). Source: docs/maths.md, section 4.
  double latest(double time) const noexcept { return std::floor(time * rate + 1e-9); }
};

/// What disturbs a clock.
struct Disturbance {
  double jitter = 0.0; ///< share (0..1) of a frame's time by which it may be longer or shorter
  std::uint64_t seed = 1;
  std::vector<Stall> stalls; ///< ascending
  RandomStalls random_stalls{};
  /// Frame times as they were recorded, s: ascending, the first 0, two at least. The frame rate has no effect then.
  std::shared_ptr<const std::vector<double>> recorded{};
  std::optional<double> longest_frame{}; ///< s: game time goes on by no more than this from frame to frame
  std::vector<GameSpeed> speeds{};       ///< ascending
  bool any() const noexcept {
    return jitter > 0.0 || !stalls.empty() || random_stalls.rate > 0.0 || recorded != nullptr
           || longest_frame.has_value() || !speeds.empty();
  }
};

/// The clock of a take of `length` seconds: every frame with time <= length + 1 ns.
Clock steady_clock(double fps, double length) noexcept;
/// The same disturbed; steady where nothing disturbs it.
Clock disturbed_clock(double fps, double length, const Disturbance& disturbance);
/// A clock with frames at these times, of which the last is not drawn; game time is slowed and quickened.
/// \param speeds ascending
Clock clock_at(double fps, std::vector<double> times, const std::vector<GameSpeed>& speeds = {});
/// The same at the times that a maker gives, of which there may be many.
Clock clock_at(double fps, const TimeMaker& times, const std::vector<GameSpeed>& speeds = {});

/// The first frame at which a cue at time `at` (seconds on the clock, >= 0) is due.
std::int64_t due_frame(const Clock& clock, double at) noexcept;
/// The first frame at or after a game time (seconds, >= 0).
std::int64_t first_frame_at(const Clock& clock, double at) noexcept;

} // namespace stasis
