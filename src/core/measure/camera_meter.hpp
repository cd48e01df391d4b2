// How the camera as a whole goes and turns, everything that moves it added up: poses, sticks, what it follows, shakes.
// Of what is drawn, from frame to frame. What each number means: docs/measures.md.
#pragma once

#include <cstdint>
#include <optional>
#include <span>

#include "core/measure/path_meter.hpp"
#include "core/scene/quaternion.hpp"
#include "core/take/block.hpp"

namespace stasis {

/// Nothing where the picture places no eye in space.
struct CameraSummary {
  std::optional<Peak> top_turn_speed;        ///< deg/s
  std::optional<Peak> top_turn_acceleration; ///< deg/s2
  std::optional<Peak> top_eye_speed;         ///< unit/s
  std::optional<Peak> most_roll;             ///< deg
};

/// The angle between two turns, deg, the short way round.
double turn_angle(const Quaternion& from, const Quaternion& to) noexcept;

/// How fast the view turns, from frame to frame.
class TurnSpeeds {
public:
  /// Calls `visit(from, to, speed)`, s and deg/s, for each frame that the block's rows end; nothing without an eye in
  /// space. \param jumps by row: something jumps after it, which is no turning; empty: nothing does.
  template<class Visit>
  void read(const Clock& clock, const Block& block, std::span<const std::uint8_t> jumps, Visit visit) {
    for (std::size_t row = 0; row < block.eye[0].size() && row < static_cast<std::size_t>(block.count); ++row) {
      const double time = clock.time(block.first + static_cast<std::int64_t>(row));
      const Quaternion turn{block.eye[3][row], block.eye[4][row], block.eye[5][row], block.eye[6][row]};
      if (last_ && time > last_->time) visit(last_->time, time, turn_angle(last_->turn, turn) / (time - last_->time));
      last_ = Look{time, turn};
      if (!jumps.empty() && jumps[row] != 0) last_.reset();
    }
  }

private:
  struct Look {
    double time; ///< s
    Quaternion turn;
  };
  std::optional<Look> last_;
};

/// Watches the eye over a take. Cuts, and leaps of shakes, are no speed.
class CameraMeter {
public:
  explicit CameraMeter(const Scene& scene) : scene_(scene) {}

  /// \param jumps by row: not 0 where what places the camera jumps between that frame and the next.
  void consume(const Block& block, std::span<const std::uint8_t> jumps);
  const CameraSummary& summary() const noexcept { return sums_; }

private:
  struct Look {
    double time;
    Components eye;
    Quaternion turn;
  };
  struct Turn {
    Components speed; ///< deg/s about the world's axes, on average from one frame to the next
    double dt;
  };
  void go_on(const Look& now);

  Scene scene_;
  CameraSummary sums_;
  std::optional<Look> last_; ///< the frame before, unless it has jumped since
  std::optional<Turn> turn_; ///< up to that frame
};

} // namespace stasis
