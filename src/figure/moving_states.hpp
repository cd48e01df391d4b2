// What a moving picture needs of a take, at the times of its pictures.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/take/block.hpp"
#include "core/view/shown_camera.hpp"

namespace stasis::figure {

/// One picture's instant. Components of all channels follow one another.
struct MovingState {
  double time = 0.0; ///< s, on the clock
  std::vector<double> values, goals;
  std::vector<double> smooth, speeds; ///< without what is added to it; per second
  std::vector<std::uint8_t> leaps;    ///< 1 where it is cut before the next picture
  ShownCamera camera;
  std::optional<Components> subject; ///< where what is followed is, if it is there
  std::string cause;                 ///< of the latest jump of a goal, and when
  double cause_at = 0.0;
};

/// Plays along and keeps a state every 1/`rate` s. Between two frames a value goes straight; what is
/// cut stands until the later one.
class MovingSink final : public BlockSink {
public:
  explicit MovingSink(double rate) : rate_(rate) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  std::vector<MovingState> take() { return std::move(states_); }

private:
  void take_row(const Block& block, std::size_t row, MovingState& state) const;
  void keep(const MovingState& from, const MovingState& to, double share);

  double rate_;
  Scene scene_;
  std::optional<std::size_t> follower_;
  std::optional<MovingState> last_;
  std::vector<MovingState> states_;
};

/// The places of a channel's components among a state's values.
std::size_t first_component_of(const Feel& feel, std::size_t channel) noexcept;

} // namespace stasis::figure
