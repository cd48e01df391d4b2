// The figure of a sequence in a take: its way seen from above with its stops, and how fast it goes and turns.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/measure/camera_meter.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/sequence_course.hpp"
#include "figure/series.hpp"

namespace stasis::figure {

/// Keeps what the figures of a take's sequences need: of each the first time that it runs.
class SequenceSink final : public BlockSink {
public:
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override {}

  struct Kept {
    std::optional<SequenceMark> mark;          ///< nothing where it did not run
    double elapsed = 0.0;                      ///< s for which it ran
    bool runs = false, has_ended_here = false; ///< in the block consumed last
    std::vector<Point> turning;                ///< s since it began, deg/s over the frame about it
    std::vector<Point> looks; ///< by stop, as far as it has come: which way the eye looks, seen from above; empty
                              ///< without an eye in space
  };
  /// By sequence of the feel.
  const std::vector<Kept>& kept() const noexcept { return kept_; }

private:
  void note_turning(const Block& block);
  void note_looks(const Block& block);

  Scene scene_;
  std::vector<Kept> kept_;
  TurnSpeeds turn_speeds_;
};

struct SequenceFigureInput {
  const Scene* scene = nullptr;
  const TakeMeasures* measures = nullptr;
  const SequenceSink* series = nullptr;
  std::size_t sequence = 0; ///< one that ran
  std::string feel_name;
  std::string variant;
};
Figure sequence_figure(const SequenceFigureInput& input);

} // namespace stasis::figure
