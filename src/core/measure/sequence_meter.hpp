// What is measured on sequences: leg by leg how long, how far, how fast along the way and in turning.
#pragma once

#include <optional>
#include <span>
#include <vector>

#include "core/measure/camera_meter.hpp"
#include "core/take/block.hpp"
#include "core/take/sequence_course.hpp"

namespace stasis {

struct LegSummary {
  SequenceLeg leg;                      ///< `start` in the take's time, s
  std::optional<double> top_turn_speed; ///< deg/s, from frame to frame; nothing without an eye in space
};

/// A sequence in a take: each time that it ran, one leg after the other.
struct SequenceSummary {
  int starts = 0;
  int skips = 0; ///< how often it ended before its time
  std::vector<LegSummary> legs;
};

/// Marks the rows after which a running sequence cuts, which is no speed: at its own time, which may be that of the
/// very row in which it is seen.
void note_cuts(const Clock& clock, const Block& block, std::span<std::uint8_t> jumps);

class SequenceMeter {
public:
  explicit SequenceMeter(const Scene& scene);

  /// \param jumps by row: something that places the camera jumps after it, which is no turning.
  void consume(const Block& block, std::span<const std::uint8_t> jumps);
  /// By sequence of the feel; call once, after the take.
  std::vector<SequenceSummary> finish();

private:
  struct Turn {
    double time, speed; ///< s in the middle of a frame; deg/s over it
  };
  struct Run {
    SequenceMark mark;
    std::vector<Turn> turns;
    double last_time = 0.0; ///< s, of the last frame that it ran
  };

  void note_turns(const Block& block, std::span<const std::uint8_t> jumps);
  void close(const Run& run, double until);

  Scene scene_;
  std::vector<Run> runs_;
  std::vector<SequenceSummary> out_;
  TurnSpeeds turn_speeds_;
  bool has_eye_ = false;
};

} // namespace stasis
