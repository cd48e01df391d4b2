// The eye and how it is turned, frame by frame, of what is drawn.
#pragma once

#include "core/scene/quaternion.hpp"
#include "core/take/block.hpp"
#include "core/view/camera.hpp"

namespace stasis {

/// Keeps the turn of the frame before, so that a quaternion never leaps to its opposite.
class EyeColumns {
public:
  explicit EyeColumns(const Feel& feel) : feel_(feel), is_kept_(has_eye_columns(feel)) {}

  /// Fills `block.eye` from the drawn values; leaves it empty where the picture places no eye in space.
  void fill(Block& block);

private:
  const Feel& feel_;
  bool is_kept_;
  Quaternion last_{};
};

} // namespace stasis
