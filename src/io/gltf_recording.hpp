// A scene of glTF 2.0 as a recording: where its moving nodes and cameras are, which way they look, what they see.
#pragma once

#include <optional>
#include <string>

#include "io/recording.hpp"

namespace stasis::io {

struct GltfForm {
  bool allow_outside = false;   ///< its buffers may lie outside its folder
  std::string animation;        ///< by name; empty: the first one
  std::optional<double> rate{}; ///< rows a second; nothing: as its keys come, or 60 where they are far apart
};

/// True of a name that ends in .gltf or .glb.
bool is_gltf_name(const std::string& path);

/// Columns `time` (s), and of each node that moves NAME.x, NAME.y, NAME.z (in the scene, parents' turns and scales
/// included), NAME.yaw, NAME.pitch, NAME.roll (deg, counted on over whole turns; yaw 0 looks along -z, positive to the
/// left) where it or a parent turns, and of a camera NAME.fov (deg, vertical). A comma in a name becomes _.
FileResult<Recording> read_gltf_recording(const std::string& path, const GltfForm& form);

} // namespace stasis::io
