// Beside a plan: the lag over time, and the subject in the picture.
#pragma once

#include <algorithm>

#include "figure/canvas.hpp"
#include "figure/plan_figure.hpp"

namespace stasis::figure {

class PlanPanels {
public:
  PlanPanels(Canvas& canvas, const PlanFigureInput& input);

  void draw() {
    draw_lag();
    draw_picture();
  }

private:
  const Feel& feel() const { return *input_.scene->feel; }
  double take_length() const { return std::max(frames_.back().time, 1e-9); }
  std::string unit() const;
  std::string subject_name() const;
  void draw_lag();
  void draw_picture();
  void text(TextRole role, std::string words, Point at, Align align);
  void note(Point at, std::string words, const std::string& source, double number, double least_x, double most_x,
            Colour colour = {});

  Canvas& canvas_;
  const PlanFigureInput& input_;
  const std::vector<PlanFrame>& frames_;
  const Channel& channel_;
  const FollowSummary& follow_;
};

} // namespace stasis::figure
