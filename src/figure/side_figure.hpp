// The figure of a profile: the view's way seen from the side, and each driven channel against its driver.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/take/block.hpp"
#include "core/view/camera.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

/// One kept frame of a take: the driver, what it drives, and the eye as seen from the side.
struct SideFrame {
  double driver = 0.0;
  std::vector<double> driven; ///< by Profile::driven
  std::optional<Point> eye;   ///< from what is looked at: out along the level, and up
};

/// Keeps the frames of a take for the figure of the feel's first profile; of a long take every second, fourth, ...
class SideSink final : public BlockSink {
public:
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override {}

  const std::vector<SideFrame>& frames() const noexcept { return frames_; }

private:
  Scene scene_;
  std::int64_t stride_ = 1;
  std::vector<SideFrame> frames_;
};

struct SideFigureInput {
  const Scene* scene = nullptr;
  const SideSink* frames = nullptr;
  std::string title, variant;
};

/// The first profile of the feel, which must have one. Where the picture has no eye in space, or the profile does not
/// move it, only the panels are drawn, and it says so.
Figure side_figure(const SideFigureInput& input);

} // namespace stasis::figure
