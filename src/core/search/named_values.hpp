// The values at which a designer means a component to rest.
#pragma once

#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

/// The goals that a component may have while nobody touches a control; nothing in between is meant.
struct NamedValues {
  bool any = false;           ///< a pointer or the like moves it: every value of its range is meant
  std::vector<double> values; ///< sorted, within the range

  bool hold(double value) const noexcept;
};
NamedValues named_values(const Feel& feel, ComponentRef target);

} // namespace stasis
