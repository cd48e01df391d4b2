#include "core/recorded/recorded_path.hpp"

#include <algorithm>

namespace stasis {

Smooth between(const PathNode& a, const PathNode& b, std::size_t component, double time) noexcept {
  const Smooth &p = a.state[component], &q = b.state[component];
  const double h = b.time - a.time;
  if (!(h > 0.0)) return p;
  const double u = std::clamp((time - a.time) / h, 0.0, 1.0), v = 1.0 - u;
  Smooth out;
  // Quintic by value, rate and bend; its rate by rate and bend; its bend straight: each is as smooth as what is known.
  const double a0 = p.value, a1 = h * p.rate, a2 = 0.5 * h * h * p.push, d = q.value - (a0 + a1 + a2),
               d1 = h * q.rate - (a1 + 2.0 * a2), d2 = h * h * q.push - 2.0 * a2;
  const double c3 = 10.0 * d - 4.0 * d1 + 0.5 * d2, c4 = -15.0 * d + 7.0 * d1 - d2, c5 = 6.0 * d - 3.0 * d1 + 0.5 * d2;
  out.value = a0 + u * (a1 + u * (a2 + u * (c3 + u * (c4 + u * c5))));
  out.rate =
      p.rate * v * v * (1.0 + 2.0 * u) + q.rate * u * u * (3.0 - 2.0 * u) + h * u * v * (v * p.push - u * q.push);
  out.push = v * p.push + u * q.push;
  out.jerk = v * p.jerk + u * q.jerk;
  return out;
}

Components value_at(const CapturedPath& path, double time, bool later) noexcept {
  auto section =
      later ? std::find_if(path.rbegin(), path.rend(), [&](const PathSection& s) { return s.front().time <= time; })
                  .base()
            : std::find_if(path.begin(), path.end(), [&](const PathSection& s) { return s.back().time >= time; });
  if (later) section = section == path.begin() ? section : section - 1;
  if (section == path.end()) section = path.end() - 1;
  auto next = std::lower_bound(section->begin(), section->end(), time,
                               [](const PathNode& node, double t) { return node.time < t; });
  if (next == section->end()) next = section->end() - 1;
  const auto before = next == section->begin() ? next : next - 1;
  Components out{};
  for (std::size_t c = 0; c < most_components; ++c) out[c] = between(*before, *next, c, time).value;
  return out;
}

} // namespace stasis
