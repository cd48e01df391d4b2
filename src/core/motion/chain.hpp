// `stages`: motions in a row, each following the one before. Delays come first (a delay may stand anywhere in such a
// row with the same result), then perhaps an eased or paced move, then glides and springs, which are stepped together
// as one linear system. Source: docs/maths.md, sections 3 and 11.
#pragma once

#include <optional>
#include <variant>
#include <vector>

#include "core/motion/ease.hpp"
#include "core/motion/link_step.hpp"
#include "core/motion/pace.hpp"

namespace stasis {

/// A move that starts when its goal jumps.
using Head = std::variant<Ease, Pace>;

struct Chain {
  double delay = 0.0; ///< s, >= 0
  std::optional<Head> head;
  std::vector<Link> links; ///< at most most_links
};

/// The eased move of a chain's head, if it has one.
inline const Ease* ease_of(const Chain& chain) noexcept {
  return chain.head ? std::get_if<Ease>(&*chain.head) : nullptr;
}

/// Bound on how far the output can still stray from its goal if the input stays within `input_stray` of it; infinite
/// where no simple bound holds.
double stray_bound(const Chain& chain, const LinkStates& states, double goal, double input_stray) noexcept;

} // namespace stasis
