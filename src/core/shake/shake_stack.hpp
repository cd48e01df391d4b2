// The hits of one shake that are still felt, and what they make together.
#pragma once

#include <deque>

#include "core/shake/shake.hpp"

namespace stasis {

struct Hit {
  double time = 0.0; ///< s: of the frame at which it acts
  std::int64_t frame = 0;
  double strength = 1.0;
  std::vector<double> direction{}; ///< of a ring: instead of the shake's own, by target; empty: as the shake has it
};

/// When a ring's hit ends, s after it.
double ring_end(const Shake& shake) noexcept;

class ShakeStack {
public:
  explicit ShakeStack(const Shake& shake) : shake_(shake) {}

  void hit(Hit hit);
  /// The hits of another stack are felt on.
  void go_on_from(const ShakeStack& old) { hits_ = old.hits_; }
  /// Takes hits out that are over before `time`.
  void forget(double time);
  bool is_quiet() const noexcept { return hits_.empty(); }
  /// True if nothing is felt from a time on, as long as no other hit comes. \param frame as for amplitude().
  bool is_over(double time, double frame) const noexcept;

  /// Strength at a time, 1 being one full hit: never negative, exactly 0 when all is over. \param frame that of the
  /// time, shares of one included.
  double amplitude(double time, double frame) const noexcept;
  /// Of a ring: what its hits add to target `index`, in the channel's unit.
  double ring(std::size_t index, double time) const noexcept;

private:
  double strength_of(const Hit& hit, double time, double frame) const noexcept;
  /// The hit that decides under `largest` and `latest`.
  const Hit* leading(double time, double frame) const noexcept;

  const Shake& shake_;
  std::deque<Hit> hits_;
};

} // namespace stasis
