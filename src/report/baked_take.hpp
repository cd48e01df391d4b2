// A take kept for the page's player: frames with the goal and value of every component.
#pragma once

#include <cstdint>
#include <vector>

#include "core/take/block.hpp"

namespace stasis::report {

/// Frames kept of a take. Where a take is long, frames between which nothing stands out are left out: the first, the
/// last and every extreme of every column over equal stretches of time stay, so that no peak is lost.
class BakeSink final : public BlockSink {
public:
  /// \param most_frames kept at most, >= 2 times the columns and some; a longer take is thinned.
  explicit BakeSink(std::size_t at_most = 6000) : most_frames_(at_most) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  /// The kept frames, ascending.
  const std::vector<std::int64_t>& frames() const noexcept { return frames_; }
  /// True if every frame was kept.
  bool whole() const noexcept { return stretch_ == 1; }
  /// Values of one component in its channel's unit, one for each kept frame.
  const std::vector<double>& value(std::size_t channel, std::size_t component) const;
  const std::vector<double>& goal(std::size_t channel, std::size_t component) const;
  /// Places of a track of the feel, as the take plays it.
  const std::vector<double>& track(std::size_t track, std::size_t component) const;

private:
  std::size_t column_of(std::size_t channel, std::size_t component) const noexcept;
  /// Doubles the stretch until few enough frames remain.
  void thin();
  std::vector<std::size_t> rows_worth_keeping() const;

  std::size_t most_frames_;
  std::int64_t stretch_ = 1; ///< frames of which only extremes are kept
  std::vector<std::size_t> first_column_;
  std::vector<std::size_t> first_track_column_;
  std::vector<std::int64_t> frames_;
  std::vector<std::vector<double>> columns_; ///< value, goal of each component in turn, then tracks
};

} // namespace stasis::report
