// The plan of a moving picture: what is followed, what follows it and the eye, with the way so far.
#pragma once

#include <optional>
#include <string>

#include "core/view/obstacle_plan.hpp"
#include "figure/display_list.hpp"
#include "figure/moving_states.hpp"

namespace stasis::figure {

class PlanPicture {
public:
  /// \param states  all of them, so that the scale stands still; of a feel whose plan_channel() follows a place
  PlanPicture(const Scene& scene, const std::vector<MovingState>& states, Box area);

  void draw(std::size_t picture, DisplayList& to) const;

private:
  Point place(Point on_plan) const noexcept;
  void draw_grid(DisplayList& to) const;
  void draw_obstacles(DisplayList& to) const;
  void draw_legend(std::size_t picture, DisplayList& to) const;
  void draw_sight(const MovingState& now, std::size_t picture, DisplayList& to) const;

  const Feel& feel_;
  const std::vector<MovingState>& states_;
  Box area_;
  std::string subject_name_;
  bool is_flat_ = false, has_eye_ = false;
  std::vector<Point> values_, goals_, eyes_;
  std::vector<std::optional<Point>> subjects_;
  std::vector<bool> is_cut_; ///< after this picture what follows leaps
  double scale_ = 1.0;
  Point middle_{};
  std::vector<PlanObstacle> obstacles_;
};

} // namespace stasis::figure
