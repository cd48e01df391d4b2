// Bounds that several keys share. Part of the key table: included by key_table.cpp only.
#pragma once

#include "core/feel/key_table.hpp"
#include "core/unbounded.hpp"

namespace stasis::keys {

inline constexpr Bounds positive{0.0, unbounded, true, false};
inline constexpr Bounds share{0.0, 1.0, true, true};
/// Beyond these a unit has surely been mistaken, and the arithmetic would lose digits.
inline constexpr Bounds sensible_time{1e-6, 1e6, false, false};
inline constexpr Bounds sensible_rate{1e-6, 1e6, false, false};

} // namespace stasis::keys
