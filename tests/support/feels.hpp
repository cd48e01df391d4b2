// Feels as text for tests, and short ways to play them.
#pragma once

#include <string>
#include <vector>

#include "core/measure/take_measures.hpp"
#include "core/problem.hpp"
#include "core/take/player.hpp"
#include "support/step_feel.hpp"

namespace stasis::test {

/// The feel that `text` describes; the test fails, with every problem named, if it does not.
Feel feel_from(const std::string& text);
/// The problems of a text that describes no feel; empty if it does.
Problems problems_of(const std::string& text);

/// Every row of a take.
struct Rows {
  std::vector<double> time, goal, smooth, value, velocity;
};

/// Keeps the rows of one component.
class RowSink final : public BlockSink {
public:
  RowSink(std::size_t channel, std::size_t component) : channel_(channel), component_(component) {}
  void begin(const Scene& scene) override { clock_ = scene.clock; }
  void consume(const Block& block) override;
  void end() override {}
  Rows rows;

private:
  std::size_t channel_, component_;
  Clock clock_;
};

Scene scene_of(const Feel& feel, std::size_t take = 0);
Rows play_rows(const Feel& feel, std::size_t channel = 0, std::size_t component = 0);
TakeMeasures play_measures(const Feel& feel);

} // namespace stasis::test
