// Where a take's eye is and what it sees of, frame by frame, for scenes that other programs show.
#pragma once

#include <array>
#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

struct CameraPath {
  std::vector<double> times;               ///< s, by frame
  std::vector<std::array<double, 3>> eye;  ///< place
  std::vector<std::array<double, 4>> turn; ///< quaternion x, y, z, w; axes as in glTF
  std::vector<double> field;               ///< rad: vertical field of view; empty where the picture does not say
  std::vector<std::vector<std::array<double, 3>>> tracks; ///< by track of the feel, by frame: where it is, or was last
};

/// Follows a take whose picture places an eye in space: has_eye_columns().
class CameraPathSink final : public BlockSink {
public:
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override {}

  /// Call once, after the take.
  CameraPath take() { return std::move(path_); }

private:
  Scene scene_;
  CameraPath path_;
};

} // namespace stasis
