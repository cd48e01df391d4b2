// The numbers of one thing that has up to three: a place, a velocity, the value of a channel.
#pragma once

#include <array>
#include <cstddef>

namespace stasis {

inline constexpr std::size_t most_components = 3;
using Components = std::array<double, most_components>;
/// The suffixes of components: ".x", ".y", ".z".
inline constexpr std::array<const char*, most_components> component_suffixes{".x", ".y", ".z"};

} // namespace stasis
