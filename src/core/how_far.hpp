// Long work tells how far it is.
#pragma once

#include <cstddef>
#include <functional>

namespace stasis {

/// Told that `done` of `total` steps are done, in order; the total stays. Without one nothing is told.
using HowFar = std::function<void(std::size_t done, std::size_t total)>;

} // namespace stasis
