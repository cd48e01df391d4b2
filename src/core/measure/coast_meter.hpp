// How long and how far a component goes on once the stick that drove it, or the pointer, is let go.
#pragma once

#include <optional>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

struct CoastSummary {
  std::optional<double> time;     ///< s
  std::optional<double> distance; ///< in the channel's unit
};

/// Watches one channel over a take, frame by frame; a coast that something else interrupts does not count.
class CoastMeter {
public:
  CoastMeter(const Scene& scene, std::size_t channel);

  void consume(const Block& block);
  /// The longest and the farthest coast that has come to rest.
  CoastSummary finish();

private:
  struct Coast {
    double let_go, from;    ///< s, and where it was then
    double goal;            ///< where it heads for
    double left_at;         ///< s: when it was outside the settle band last
    bool is_outside = true; ///< at the row before
    double last_time, last_gap;
  };
  struct Pushed {
    std::size_t control, component;
    bool is_held; ///< as long as it is pushed; else counts come at an instant
    bool was_pushed = false;
    std::optional<Coast> coast{};
  };
  void go_on(Pushed& pushed, double time, double value, double goal);
  void end(Pushed& pushed);

  Scene scene_;
  std::size_t channel_;
  std::vector<Pushed> pushed_;
  CoastSummary sums_;
};

} // namespace stasis
