// A take as a scene of glTF 2.0 (ISO/IEC 12113): its camera animated, what it follows and goes round as plain bodies.
#pragma once

#include <optional>
#include <string>

#include "core/export/camera_path.hpp"
#include "core/take/block.hpp"

namespace stasis::io {

struct GltfScene {
  std::string json;     ///< the scene, without the numbers of its buffer
  std::string buffer;   ///< those
  std::size_t keys = 0; ///< of everything that moves
};

/// How near an animation of few keys must come at every frame.
struct KeyTolerance {
  double share = 0.001; ///< of how far each thing goes, or turns
};

/// Every frame is a key, straight between (LINEAR); with a tolerance the fewest numbers in the way that needs least
/// (STEP, LINEAR, CUBICSPLINE), each thing by itself. The field of view is animated through KHR_animation_pointer; what
/// does not know that shows the first frame's. \param generator what is said to have written it.
GltfScene gltf_scene(const Scene& scene, const CameraPath& path, const std::string& title, const std::string& generator,
                     const std::optional<KeyTolerance>& tolerance = std::nullopt);

/// One text: the buffer as a data URI.
std::string as_gltf(const GltfScene& scene);
/// The binary container.
std::string as_glb(const GltfScene& scene);

} // namespace stasis::io
