// Which pixels of a figure are taken, so that texts are put only where nothing else is.
#pragma once

#include <cstdint>
#include <vector>

#include "figure/figure.hpp"

namespace stasis::figure {

class Occupancy {
public:
  Occupancy(int width, int height);

  void take(const Box& box) noexcept;
  /// Takes the pixels along a line, `reach` px to each side.
  void take(const std::vector<Point>& line, double reach) noexcept;
  /// True if the box lies on the page and nothing is in it.
  bool is_free(const Box& box) const noexcept;

private:
  int width_, height_;
  std::vector<std::uint8_t> taken_;
};

} // namespace stasis::figure
