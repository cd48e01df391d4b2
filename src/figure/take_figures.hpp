// Which figures a take has: the one list, for whoever draws them.
#pragma once

#include <functional>
#include <string>
#include <vector>

#include "figure/figure.hpp"
#include "figure/plan_series.hpp"
#include "figure/sequence_figure.hpp"
#include "figure/series.hpp"
#include "figure/shake_figure.hpp"
#include "figure/side_figure.hpp"

namespace stasis::figure {

/// What is written over the figures of a take, and what of it they show.
struct FigureWords {
  std::string title, variant;
  std::vector<std::string> only{}; ///< channels of the first figure; all if empty
  bool picture_scale = false;
};

/// Keeps what the figures of a take need while it is played, and draws them.
class TakeFigures {
public:
  /// \param scene outlives it.
  explicit TakeFigures(const Scene& scene);
  TakeFigures(const TakeFigures&) = delete;
  TakeFigures& operator=(const TakeFigures&) = delete;

  /// Those that look on while the take is played.
  std::vector<BlockSink*> sinks();

  struct One {
    std::string suffix;  ///< of the file: "", ".plan", ".shake.rattle"
    std::string caption; ///< behind the take's name: "", "plan", "shake rattle"
    std::function<Figure()> draw;
  };
  /// In the order in which they are shown. \param measures outlive what is drawn.
  std::vector<One> all(const TakeMeasures& measures, const FigureWords& words) const;

private:
  const Scene& scene_;
  SeriesSink series_;
  PlanSink plan_;
  SideSink side_;
  ShakeSink shakes_;
  SequenceSink sequences_;
};

} // namespace stasis::figure
