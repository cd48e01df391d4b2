// A take as pictures one after the other: what the camera sees, the plan (or the values on rails), and the value that
// moves most against its goal.
#pragma once

#include <memory>
#include <optional>
#include <string>

#include "figure/plan_picture.hpp"
#include "figure/scene_picture.hpp"

namespace stasis::figure {

inline constexpr int moving_width_px = 960, moving_height_px = 540;

class MovingPicture {
public:
  /// \param states  one a picture, as MovingSink keeps them; one at least
  MovingPicture(const Scene& scene, std::string title, const std::vector<MovingState>& states);

  /// Adds picture `k` to a list, from "picture" through "end".
  void draw(std::size_t k, DisplayList& to) const;

private:
  void draw_heading(const MovingState& now, DisplayList& to) const;
  void draw_rails(const MovingState& now, DisplayList& to) const;
  void draw_strip(std::size_t k, DisplayList& to) const;
  void choose_strip();

  struct Track {
    std::string name, unit;
    double low, high;
  };

  const Scene scene_;
  std::string title_;
  const std::vector<MovingState>& states_;
  std::vector<Track> components_; ///< of all channels, one after another
  std::size_t shown_ = 0;         ///< the component of the strip
  Box side_{};                    ///< beside the scene, or the whole width without one
  std::optional<ScenePicture> seen_;
  std::unique_ptr<PlanPicture> plan_;
  std::size_t rate_back_ = 0; ///< pictures in a twentieth of a second
};

} // namespace stasis::figure
