// A take as a scene of glTF 2.0 (ISO/IEC 12113): its camera animated, what it follows and goes round as plain bodies.
#pragma once

#include <string>

#include "core/export/camera_path.hpp"
#include "core/take/block.hpp"

namespace stasis::io {

struct GltfScene {
  std::string json;   ///< the scene, without the numbers of its buffer
  std::string buffer; ///< those
};

/// Every frame is a key, straight between (LINEAR). The field of view is animated through KHR_animation_pointer; what
/// does not know that shows the first frame's. \param generator what is said to have written it.
GltfScene gltf_scene(const Scene& scene, const CameraPath& path, const std::string& title,
                     const std::string& generator);

/// One text: the buffer as a data URI.
std::string as_gltf(const GltfScene& scene);
/// The binary container.
std::string as_glb(const GltfScene& scene);

} // namespace stasis::io
