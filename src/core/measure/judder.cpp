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
    sums_.square += size * size;
    sums_.pixel_square += size * middle_.scale * (size * middle_.scale);
    if (++sums_.count % cycle_ == 0) whole_ = sums_;
  }
  before_ = middle_;
  middle_ = now;
  if (known_ < 2) ++known_;
}

std::optional<double> JudderMeter::result(double Sums::*square) const noexcept {
  const Sums& counted = whole_.count > 0 ? whole_ : sums_;
  if (counted.count == 0) return std::nullopt;
  return 2.0 * std::sqrt(counted.*square / static_cast<double>(counted.count));
}

std::int64_t beat_of(double fps, double tick) noexcept {
  for (std::int64_t frames = 1; static_cast<double>(frames) <= fps; ++frames) {
    const double ticks = static_cast<double>(frames) * tick / fps;
    if (std::fabs(ticks - std::round(ticks)) < 1e-9) return frames;
  }
  return 1;
}

} // namespace stasis
