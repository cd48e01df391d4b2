// What a take does to the values of a feel, as a program that plays it is told and compared.
#pragma once

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <utility>
#include <vector>

#include "core/clock.hpp"
#include "core/feel/feel.hpp"
#include "core/take/block.hpp"
#include "core/take/obstacle_ray.hpp"

namespace stasis::code {

/// What a sequence does with a value in a frame.
struct LedFrame {
  static constexpr std::size_t by_none = static_cast<std::size_t>(-1);
  std::size_t sequence = by_none; ///< that has it
  double value = 0.0;             ///< in its unit, where it is as the frame ends, without what shakes it
  double speed = 0.0; ///< per second in its unit: with which it goes on if it is given back as the frame ends
  std::optional<double> stays_at; ///< where it is left, if that becomes its home
};

/// What a take does to one value.
struct Played {
  ComponentRef component;
  std::vector<double> values;         ///< by frame
  std::vector<double> goals, runs_to; ///< its wish as each frame begins, and where that runs to
  std::vector<LedFrame> led;          ///< by frame
  std::vector<Room> rooms, room_ends; ///< by frame, where obstacles hold it in: as it begins, and as it ends
  bool has_corners = false;           ///< the goal turned a corner inside a frame
};

class PlayedSink final : public BlockSink {
public:
  /// Both outlive it.
  PlayedSink(const Feel& feel, const Clock& clock);

  void begin(const Scene&) override {}
  void consume(const Block& block) override;
  void end() override {}

  std::vector<Played> all;
  std::array<std::vector<double>, most_components> eye; ///< by frame
  /// How strong hits are where the eye is, by shake and frame: the last one there.
  std::map<std::pair<std::size_t, std::int64_t>, double> felt;

private:
  LedFrame led_in(const Block& block, std::size_t row, ComponentRef component) const;

  const Feel& feel_;
  const Clock& clock_;
};

} // namespace stasis::code
