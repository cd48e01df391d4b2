// The eye and how it is turned, and where tracks stand on the screen, frame by frame, of what is drawn.
#pragma once

#include "core/scene/quaternion.hpp"
#include "core/take/block.hpp"
#include "core/view/camera.hpp"

namespace stasis {

/// Keeps the turn of the frame before, so that a quaternion never leaps to its opposite.
class EyeColumns {
public:
  explicit EyeColumns(const Feel& feel);

  /// Goes on from the turn of another one.
  void go_on_from(const EyeColumns& old) noexcept { last_ = old.last_; }

  /// Fills `block.eye` and `block.screen` from the drawn values and the tracks; leaves empty what the picture does not
  /// tell.
  void fill(Block& block);

private:
  void put_on_screen(const CameraView& view, std::size_t row, Block& block) const;

  const Feel& feel_;
  bool is_kept_;
  std::vector<std::uint8_t> on_screen_; ///< by track
  bool any_on_screen_ = false;
  Quaternion last_{};
};

} // namespace stasis
