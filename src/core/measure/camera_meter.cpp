#include "core/measure/camera_meter.hpp"

#include <algorithm>
#include <cmath>

#include "core/units.hpp"

namespace stasis {
namespace {

/// The turn from one to the other as an axis times an angle, deg, the short way round.
Components turn_between(const Quaternion& from, const Quaternion& to) noexcept {
  const Components axis{to.x * from.w - to.w * from.x - to.y * from.z + to.z * from.y,
                        to.y * from.w - to.w * from.y - to.z * from.x + to.x * from.z,
                        to.z * from.w - to.w * from.z - to.x * from.y + to.y * from.x};
  const double half = to.w * from.w + to.x * from.x + to.y * from.y + to.z * from.z, sine = length_of(axis);
  if (sine == 0.0) return {};
  const double angle = 2.0 * std::atan2(sine, std::fabs(half));
  return scaled(axis, std::copysign(degrees(angle) / sine, half));
}

} // namespace

double turn_angle(const Quaternion& from, const Quaternion& to) noexcept { return length_of(turn_between(from, to)); }

namespace {

/// How far the picture leans, deg; nothing where it looks straight up or down.
std::optional<double> roll_of(const Quaternion& q) noexcept {
  const double right_up = 2.0 * (q.x * q.y + q.w * q.z), up_up = 1.0 - 2.0 * (q.x * q.x + q.z * q.z);
  constexpr double least = 1e-6;
  if (std::hypot(right_up, up_up) < least) return std::nullopt;
  return std::fabs(degrees(std::atan2(right_up, up_up)));
}

/// True if a hit that acts on the block's first frame sets in at full strength: a leap.
bool leaps(const Feel& feel, const Block& block) noexcept {
  for (std::size_t s = 0; s < block.shakes.size(); ++s)
    if (!block.shakes[s].hits.empty() && feel.shakes[s].decay.attack == 0.0) return true;
  return false;
}

} // namespace

void CameraMeter::go_on(const Look& now) {
  if (!last_) {
    turn_.reset();
    return;
  }
  const double dt = now.time - last_->time;
  if (!(dt > 0.0)) return;
  const Turn turn{scaled(turn_between(last_->turn, now.turn), 1.0 / dt), dt};
  keep_peak(sums_.top_turn_speed, length_of(turn.speed), now.time);
  keep_peak(sums_.top_eye_speed, length_of(plus(now.eye, last_->eye, -1.0)) / dt, now.time);
  if (turn_)
    keep_peak(sums_.top_turn_acceleration, length_of(plus(turn.speed, turn_->speed, -1.0)) / (0.5 * (dt + turn_->dt)),
              last_->time);
  turn_ = turn;
}

void CameraMeter::consume(const Block& block, std::span<const std::uint8_t> jumps) {
  if (block.eye[0].empty()) return;
  if (!sums_.top_turn_speed) sums_.top_turn_speed = sums_.top_turn_acceleration = sums_.top_eye_speed = Peak{};
  if (leaps(*scene_.feel, block)) last_.reset();
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const auto& eye = block.eye;
    const Look now{scene_.clock.time(block.first + static_cast<std::int64_t>(row)),
                   {eye[0][row], eye[1][row], eye[2][row]},
                   {eye[3][row], eye[4][row], eye[5][row], eye[6][row]}};
    go_on(now);
    if (const auto roll = roll_of(now.turn)) keep_peak(sums_.most_roll, *roll, now.time);
    last_ = now;
    if (jumps[row] != 0) last_.reset();
  }
}

} // namespace stasis
