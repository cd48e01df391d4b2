// What the camera sees of a plain scene, as shapes: a ground grid, posts, what stands there, and the subject.
#pragma once

#include "core/view/obstacle_faces.hpp"
#include "figure/display_list.hpp"
#include "figure/moving_states.hpp"

namespace stasis::figure {

/// True if the picture says enough of the camera that a scene can be shown.
bool sees_a_scene(const Feel& feel) noexcept;

class ScenePicture {
public:
  ScenePicture(const Scene& scene, Box area);

  /// \param before  the state a twentieth of a second before, by which the posts' tips are drawn as streaks: speed
  ///                that can be seen in a picture that stands
  void draw(const MovingState& now, const MovingState& before, DisplayList& to) const;

private:
  const Feel& feel_;
  Box area_;
  std::vector<ObstacleFaces> bodies_;
};

} // namespace stasis::figure
