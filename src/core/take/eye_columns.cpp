#include "core/take/eye_columns.hpp"

namespace stasis {

bool has_eye_columns(const Feel& feel) {
  const CameraView view =
      camera_view(feel, [&](ComponentRef read) { return feel.channels[read.channel].rest[read.component]; });
  return view.eye.has_value() && !view.is_flat;
}

void EyeColumns::fill(Block& block) {
  for (auto& column : block.eye) column.clear();
  if (!is_kept_) return;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const CameraView view = camera_view(
        feel_, [&](ComponentRef read) { return block.channels[read.channel].component[read.component].value[row]; });
    last_ = beside(quaternion_of(view.axes), last_);
    const Components eye = view.eye.value_or(Components{});
    const std::array<double, 7> all{eye[0], eye[1], eye[2], last_.x, last_.y, last_.z, last_.w};
    for (std::size_t i = 0; i < all.size(); ++i) block.eye[i].push_back(all[i]);
  }
}

} // namespace stasis
