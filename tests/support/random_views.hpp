// Feels made at random in which a camera goes after subjects.
#pragma once

#include <cstdint>
#include <string>

namespace stasis::test {

/// A whole feel as text, with one take and its clock: two subjects of any kind, a focus that follows them by all that
/// following may say, a yaw that turns back, walls, an eye that is placed, a lens, shakes in the picture. Some are
/// refused when they are read.
std::string feel_of_views(std::uint64_t seed);

} // namespace stasis::test
