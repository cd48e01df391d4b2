#include "core/scene/quaternion.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

Quaternion quaternion_of(const Axes& axes) noexcept {
  // Columns of the matrix are the axes: m[row][column] = axes[column][row].
  const auto m = [&](std::size_t row, std::size_t column) { return axes[column][row]; };
  const double xx = m(0, 0), yy = m(1, 1), zz = m(2, 2), trace = xx + yy + zz;
  Quaternion q;
  if (trace >= std::max({xx, yy, zz})) {
    q.w = 0.5 * std::sqrt(1.0 + trace);
    const double part = 0.25 / q.w;
    q.x = (m(2, 1) - m(1, 2)) * part;
    q.y = (m(0, 2) - m(2, 0)) * part;
    q.z = (m(1, 0) - m(0, 1)) * part;
    return q;
  }
  const std::size_t i = xx >= yy && xx >= zz ? 0 : yy >= zz ? 1 : 2, j = (i + 1) % 3, k = (i + 2) % 3;
  std::array<double, 3> axis{};
  axis[i] = 0.5 * std::sqrt(1.0 + m(i, i) - m(j, j) - m(k, k));
  const double part = 0.25 / axis[i];
  axis[j] = (m(j, i) + m(i, j)) * part;
  axis[k] = (m(k, i) + m(i, k)) * part;
  q = {axis[0], axis[1], axis[2], (m(k, j) - m(j, k)) * part};
  return q.w < 0.0 ? Quaternion{-q.x, -q.y, -q.z, -q.w} : q;
}

Quaternion beside(const Quaternion& turn, const Quaternion& other) noexcept {
  const double along = turn.x * other.x + turn.y * other.y + turn.z * other.z + turn.w * other.w;
  return along < 0.0 ? Quaternion{-turn.x, -turn.y, -turn.z, -turn.w} : turn;
}

} // namespace stasis
