#include "figure/occupancy.hpp"

#include <algorithm>
#include <cmath>

namespace stasis::figure {

Occupancy::Occupancy(int width, int height)
    : width_(width), height_(height), taken_(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), 0) {}

void Occupancy::take(const Box& box) noexcept {
  const int left = std::clamp(static_cast<int>(std::floor(box.left)), 0, width_);
  const int right = std::clamp(static_cast<int>(std::ceil(box.right)), 0, width_);
  const int top = std::clamp(static_cast<int>(std::floor(box.top)), 0, height_);
  const int bottom = std::clamp(static_cast<int>(std::ceil(box.bottom)), 0, height_);
  for (int y = top; y < bottom; ++y)
    std::fill_n(taken_.begin() + static_cast<std::ptrdiff_t>(y) * width_ + left, std::max(0, right - left),
                std::uint8_t{1});
}

void Occupancy::take(const std::vector<Point>& line, double reach) noexcept {
  for (std::size_t i = 0; i + 1 < line.size(); ++i) {
    const Point a = line[i], b = line[i + 1];
    const int steps = std::clamp(static_cast<int>(std::max(std::fabs(b.x - a.x), std::fabs(b.y - a.y))) + 1, 1, 4096);
    for (int s = 0; s <= steps; ++s) {
      const double share = static_cast<double>(s) / steps;
      const double x = a.x + (b.x - a.x) * share, y = a.y + (b.y - a.y) * share;
      take(Box{x - reach, y - reach, x + reach, y + reach});
    }
  }
}

bool Occupancy::is_free(const Box& box) const noexcept {
  if (!(box.left >= 0 && box.top >= 0 && box.right <= width_ && box.bottom <= height_)) return false;
  const int left = static_cast<int>(std::floor(box.left)), right = static_cast<int>(std::ceil(box.right));
  const int top = static_cast<int>(std::floor(box.top)), bottom = static_cast<int>(std::ceil(box.bottom));
  for (int y = top; y < std::min(bottom, height_); ++y)
    for (int x = left; x < std::min(right, width_); ++x)
      if (taken_[static_cast<std::size_t>(y) * static_cast<std::size_t>(width_) + static_cast<std::size_t>(x)] != 0)
        return false;
  return true;
}

} // namespace stasis::figure
