#include "core/measure/judder.hpp"

#include <cmath>

namespace stasis {

void JudderMeter::add(const Components& place, double time, double scale, bool jumped) noexcept {
  const Frame now{place, time, scale};
  if (jumped) known_ = 0;
  if (known_ == 2) {
    const double span = now.time - before_.time;
    Components off{};
    for (std::size_t i = 0; i < most_components; ++i)
      off[i] = middle_.place[i]
               - (before_.place[i] * ((now.time - middle_.time) / span)
                  + now.place[i] * ((middle_.time - before_.time) / span));
    const double size = length_of(off);
    square_ += size * size;
    pixel_square_ += size * middle_.scale * (size * middle_.scale);
    ++count_;
  }
  before_ = middle_;
  middle_ = now;
  if (known_ < 2) ++known_;
}

std::optional<double> JudderMeter::result(double square) const noexcept {
  if (count_ == 0) return std::nullopt;
  return 2.0 * std::sqrt(square / static_cast<double>(count_));
}

} // namespace stasis
