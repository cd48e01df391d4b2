// A camera's turn led through stops as one turn, the short way round. Source: docs/maths.md, section 13.
#pragma once

#include <array>
#include <cstddef>
#include <vector>

#include "core/curve/curve_point.hpp"

namespace stasis {

/// Yaw, pitch and roll, rad: turned about the vertical, then about the axis to the right, then about the line of sight.
using TurnAngles = std::array<double, 3>;

/// Between stops either with a continuous angular velocity, or at one angular speed from stop to stop.
class TurnPath {
public:
  enum class Kind : std::uint8_t { smooth, even };

  /// \param times s, ascending, the first 0; \param angles as many, two at least; \param rates rad/s, with which a
  /// smooth path begins; it ends at rest.
  TurnPath(Kind kind, std::vector<double> times, const std::vector<TurnAngles>& angles, const TurnAngles& rates);

  /// One of the angles and its rates. Before the first and after the last stop it stands. Yaw and roll count on over
  /// whole turns from those of the first stop.
  CurvePoint at(std::size_t angle, double t, Side side = Side::at) const noexcept;
  const std::vector<double>& times() const noexcept { return times_; }
  /// rad/s: how fast the whole of it turns.
  double speed_at(double t) const noexcept;

private:
  using Turn = std::array<double, 4>;   ///< x, y, z, w of a unit quaternion
  using Vector = std::array<double, 3>; ///< an axis times an angle, rad, in the turned axes

  /// From one stop to the next: three turns, one after the other, each by its own share of the way.
  struct Piece {
    Turn from;
    std::array<Vector, 3> turns;
  };

  static Turn times_of(const Turn& a, const Turn& b) noexcept;
  static Turn inverse(const Turn& a) noexcept { return {-a[0], -a[1], -a[2], a[3]}; }
  static Turn turned(const Vector& by, double share) noexcept;
  static Vector way(const Turn& turn) noexcept;
  static Turn turn_of(const TurnAngles& angles) noexcept;
  static TurnAngles angles_of(const Turn& turn) noexcept;
  static Vector velocity_of(const TurnAngles& angles, const TurnAngles& rates) noexcept;

  std::size_t piece_at(double t, Side side) const noexcept;
  Turn turn_in(std::size_t piece, double u) const noexcept;
  Vector velocity_in(std::size_t piece, double u) const noexcept;
  TurnAngles rates_in(std::size_t piece, double u) const noexcept;
  TurnAngles angles_in(std::size_t piece, double u) const noexcept;

  Kind kind_;
  std::vector<double> times_;
  std::vector<Piece> pieces_;
  TurnAngles first_{}, last_{};
  static constexpr std::size_t looks_of_a_piece = 128;
  std::vector<TurnAngles> looks_; ///< counted on over whole turns, at even steps of each piece
};

} // namespace stasis
