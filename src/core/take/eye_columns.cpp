#include "core/take/eye_columns.hpp"

#include <limits>

namespace stasis {

namespace {

/// What the picture sees while everything rests.
CameraView view_at_rest(const Feel& feel) {
  return camera_view(feel, [&](ComponentRef read) { return feel.channels[read.channel].rest[read.component]; });
}

} // namespace

bool has_eye_columns(const Feel& feel) {
  const CameraView view = view_at_rest(feel);
  return view.eye.has_value() && !view.is_flat;
}

bool has_screen_columns(const Feel& feel, std::size_t track) {
  const Track& one = feel.tracks[track];
  if (one.in != TrackPlace::world || one.components < 2) return false;
  const CameraView view = view_at_rest(feel);
  return view.eye.has_value() && view.half_width.has_value();
}

EyeColumns::EyeColumns(const Feel& feel) : feel_(feel), is_kept_(has_eye_columns(feel)) {
  for (std::size_t t = 0; t < feel.tracks.size(); ++t) {
    on_screen_.push_back(has_screen_columns(feel, t) ? 1 : 0);
    any_on_screen_ = any_on_screen_ || on_screen_.back() != 0;
  }
}

void EyeColumns::put_on_screen(const CameraView& view, std::size_t row, Block& block) const {
  for (std::size_t t = 0; t < on_screen_.size(); ++t) {
    if (on_screen_[t] == 0) continue;
    const TrackBlock& track = block.tracks[t];
    Components place{};
    for (std::size_t i = 0; i < feel_.tracks[t].components; ++i) place[i] = track.place[i][row];
    const auto seen = track.lost[row] != 0 ? std::nullopt : view.seen(place);
    const double nowhere = std::numeric_limits<double>::quiet_NaN();
    block.screen[t][0].push_back(seen ? 0.5 * (1.0 + (*seen)[0]) * feel_.picture.width : nowhere);
    block.screen[t][1].push_back(seen ? 0.5 * (1.0 - (*seen)[1]) * feel_.picture.height : nowhere);
  }
}

void EyeColumns::fill(Block& block) {
  for (auto& column : block.eye) column.clear();
  block.screen.resize(on_screen_.size());
  for (auto& track : block.screen)
    for (auto& column : track) column.clear();
  if (!is_kept_ && !any_on_screen_) return;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const CameraView view = camera_view(
        feel_, [&](ComponentRef read) { return block.channels[read.channel].component[read.component].value[row]; });
    if (any_on_screen_) put_on_screen(view, row, block);
    if (!is_kept_) continue;
    last_ = beside(quaternion_of(view.axes), last_);
    const Components eye = view.eye.value_or(Components{});
    const std::array<double, 7> all{eye[0], eye[1], eye[2], last_.x, last_.y, last_.z, last_.w};
    for (std::size_t i = 0; i < all.size(); ++i) block.eye[i].push_back(all[i]);
  }
}

} // namespace stasis
