#include "code/parts.hpp"

namespace stasis::code {

std::string_view shakes_part() noexcept {
  return R"(
/// Gradient noise on a lattice of unit cells, from -1/2 to 1/2.
real noise_lattice(stream numbers, real x) {
  whole place = whole(x);
  real u = x - real(place);
  real fade = u * u * u * (u * (u * 6.0 - 15.0) + 10.0);
  real here = bits(numbers, place) * u;
  return here + (bits(numbers, place + 1) * (u - 1.0) - here) * fade;
}
/// Smooth noise from -1 to 1: two lattices, half a cell apart.
real noise(stream first, stream second, real x) {
  return (noise_lattice(first, x) + noise_lattice(second, x + 0.5)) * (1.0 / 0.6035);
}
/// A ring after its kick: what bounds it. w: its angular frequency, z: its damping ratio.
real ring_bound(real w, real z, real since) {
  if (since < 0.0) { return 0.0; }
  real root = sqrt((1.0 - z) * (1.0 + z));
  return exp(z * acos(z) / root) / root * exp(-z * w * since);
}
real ring(real w, real z, real since) {
  if (since <= 0.0) { return 0.0; }
  return ring_bound(w, z, since) * sin(w * sqrt((1.0 - z) * (1.0 + z)) * since);
}
/// Keeps a hit. Where sixteen are felt at once, the oldest makes room.
act keep_hit(changing Hits h, real time, whole frame, real strength, real lasts) {
  whole kept = 0;
  for k = 0 below h.count {
    flag stays = time - h.time[k] <= lasts + 1.0e-9 && !(k == 0 && h.count == 16);
    if (stays) {
      h.time[kept] = h.time[k];
      h.frame[kept] = h.frame[k];
      h.strength[kept] = h.strength[k];
      kept = kept + 1;
    }
  }
  h.time[kept] = time;
  h.frame[kept] = frame;
  h.strength[kept] = strength;
  h.count = kept + 1;
}
)";
}

} // namespace stasis::code
