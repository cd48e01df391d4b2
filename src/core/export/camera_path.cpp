#include "core/export/camera_path.hpp"

#include <cmath>

#include "core/view/camera.hpp"

namespace stasis {

void CameraPathSink::begin(const Scene& scene) {
  scene_ = scene;
  path_.tracks.resize(scene.feel->tracks.size());
}

void CameraPathSink::consume(const Block& block) {
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    path_.times.push_back(scene_.clock.drawn_time(block.first + static_cast<std::int64_t>(row)));
    path_.eye.push_back({block.eye[0][row], block.eye[1][row], block.eye[2][row]});
    path_.turn.push_back({block.eye[3][row], block.eye[4][row], block.eye[5][row], block.eye[6][row]});
    const CameraView view = camera_view(*scene_.feel, [&](ComponentRef ref) {
      return block.channels[ref.channel].component[ref.component].value[row];
    });
    if (view.half_height) path_.field.push_back(2.0 * std::atan(*view.half_height));
    for (std::size_t t = 0; t < path_.tracks.size(); ++t) {
      const TrackBlock& track = block.tracks[t];
      auto& places = path_.tracks[t];
      const bool is_there = track.lost.empty() || track.lost[row] == 0;
      if (!is_there && !places.empty()) {
        places.push_back(places.back());
        continue;
      }
      std::array<double, 3> place{};
      for (std::size_t i = 0; i < scene_.feel->tracks[t].components; ++i)
        place[i] = std::isfinite(track.place[i][row]) ? track.place[i][row] : 0.0;
      places.push_back(place);
    }
  }
}

} // namespace stasis
