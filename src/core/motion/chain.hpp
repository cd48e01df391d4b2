// `stages`: motions in a row, each following the one before. Delays come first (a delay may stand anywhere in such a
// row with the same result), then perhaps an eased or paced move, then glides and springs, which are stepped together
// as one linear system. Source: docs/maths.md, section 3.
#pragma once

#include <array>
#include <optional>
#include <variant>
#include <vector>

#include "core/motion/ease.hpp"
#include "core/motion/glide.hpp"
#include "core/motion/pace.hpp"
#include "core/motion/spring.hpp"

namespace stasis {

using Link = std::variant<Glide, Spring>;
/// A move that starts when its goal jumps.
using Head = std::variant<Ease, Pace>;

inline constexpr std::size_t most_links = 6;

struct Chain {
  double delay = 0.0; ///< s, >= 0
  std::optional<Head> head;
  std::vector<Link> links; ///< at most most_links
};

/// The eased move of a chain's head, if it has one.
inline const Ease* ease_of(const Chain& chain) noexcept {
  return chain.head ? std::get_if<Ease>(&*chain.head) : nullptr;
}

/// The links' values and velocities (the velocity of a glide follows from the rest and is not kept).
using LinkStates = std::array<SpringState, most_links>;

/// What the links follow during one step: a cubic in time, measured from the goal.
struct LinkInput {
  double start = 0.0, velocity = 0.0, bend = 0.0, twist = 0.0;
};

/// The cubic that has these values and velocities at the ends of a step of `h` seconds; straight where a velocity has
/// no bound. Exact for a pace (its pieces are parabolas); for an eased move within h^4 / 384 of its fourth derivative.
LinkInput cubic_input(double start, double start_velocity, double end, double end_velocity, double h) noexcept;

/// One exact step of all links for a fixed length; keep it while the length stays the same.
class LinkStep {
public:
  /// \param moving whether the input differs from the goal without a head, because the goal moves by itself.
  LinkStep(const Chain& chain, double dt, bool moving = false);
  bool takes_input() const noexcept { return used_ > rows_; }
  /// Advances the links toward a standing `goal`, their input being goal + `input`.
  void advance(LinkStates& states, double goal, const LinkInput& input) const noexcept;

private:
  static constexpr std::size_t most_rows = 2 * most_links + 4;
  std::size_t rows_ = 0; ///< of the links' own states; four more for the input
  std::size_t used_ = 0; ///< rows and columns of the matrix that are filled
  std::size_t links_ = 0;
  std::array<bool, most_links> has_velocity_{};
  std::array<std::array<double, most_rows>, most_rows> matrix_;
};

/// The last link at an instant, the input of the first being `input` then.
Instant output_of(const Chain& chain, const LinkStates& states, Instant input) noexcept;

/// Bound on how far the output can still stray from its goal if the input stays within `input_stray` of it; infinite
/// where no simple bound holds.
double stray_bound(const Chain& chain, const LinkStates& states, double goal, double input_stray) noexcept;

} // namespace stasis
