// How unevenly something moves from frame to frame: 0 for what travels steadily, on any clock.
#pragma once

#include <cstdint>
#include <optional>

#include "core/scene/axes.hpp"

namespace stasis {

/// Collects 2 RMS(j) over the frames of a take, j being how far a frame is off the straight way between its neighbours.
/// Source: docs/maths.md, section 8.
class JudderMeter {
public:
  /// \param cycle frames after which the unevenness repeats, 1 if it does not: only whole cycles are counted.
  explicit JudderMeter(std::int64_t cycle = 1) : cycle_(cycle) {}

  /// \param place in units; \param time s; \param scale pixels per unit; \param jumped what was there has jumped, so
  /// that this frame is not compared with those around it.
  void add(const Components& place, double time, double scale, bool jumped) noexcept;

  std::optional<double> in_units() const noexcept { return result(&Sums::square); }
  std::optional<double> in_pixels() const noexcept { return result(&Sums::pixel_square); }

private:
  struct Sums {
    double square = 0.0, pixel_square = 0.0;
    std::int64_t count = 0;
  };
  std::optional<double> result(double Sums::*square) const noexcept;

  struct Frame {
    Components place{};
    double time = 0.0, scale = 0.0;
  };
  Frame before_{}, middle_{};
  int known_ = 0; ///< how many of the frames before belong together
  std::int64_t cycle_;
  Sums sums_, whole_; ///< of all frames, of whole cycles
};

/// Frames after which ticks and frames fall together again; 1 where they do not within a second.
std::int64_t beat_of(double fps, double tick) noexcept;

} // namespace stasis
