// Which component of which channel, by their numbers in a feel.
#pragma once

#include <cstddef>

namespace stasis {

/// One component of a channel.
struct ComponentRef {
  std::size_t channel = 0;
  std::size_t component = 0;
  bool operator==(const ComponentRef&) const = default;
};

} // namespace stasis
