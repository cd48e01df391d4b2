// The figure of one shake in a take: what it does over time, how fast it rattles, where it takes the picture.
#pragma once

#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"
#include "figure/series.hpp"

namespace stasis::figure {

/// Keeps what the figures of a take's shakes need.
class ShakeSink final : public BlockSink {
public:
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  struct Kept {
    std::vector<Point> amplitude;          ///< over time
    std::vector<std::vector<Point>> parts; ///< by target, over time
    std::vector<Point> against;            ///< the first two targets against each other, a point a frame
    bool is_felt = false;
  };
  /// By shake of the feel.
  const std::vector<Kept>& kept() const noexcept { return kept_; }

private:
  Scene scene_;
  struct Reducers {
    SeriesReducer amplitude;
    std::vector<SeriesReducer> parts;
  };
  std::vector<Reducers> reducers_;
  std::vector<Kept> kept_;
};

struct ShakeFigureInput {
  const Scene* scene = nullptr;
  const TakeMeasures* measures = nullptr;
  const ShakeSink* series = nullptr;
  std::size_t shake = 0; ///< one that is felt
  std::string feel_name;
  std::string variant;
};
Figure shake_figure(const ShakeFigureInput& input);

} // namespace stasis::figure
