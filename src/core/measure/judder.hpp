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
  /// \param place in units; \param time s; \param scale pixels per unit; \param jumped what was there has jumped, so
  /// that this frame is not compared with those around it.
  void add(const Components& place, double time, double scale, bool jumped) noexcept;

  std::optional<double> in_units() const noexcept { return result(square_); }
  std::optional<double> in_pixels() const noexcept { return result(pixel_square_); }

private:
  std::optional<double> result(double square) const noexcept;

  struct Frame {
    Components place{};
    double time = 0.0, scale = 0.0;
  };
  Frame before_{}, middle_{};
  int known_ = 0; ///< how many of the frames before belong together
  double square_ = 0.0, pixel_square_ = 0.0;
  std::int64_t count_ = 0;
};

} // namespace stasis
