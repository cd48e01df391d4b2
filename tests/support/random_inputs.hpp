// Feels made at random whose channels are led by every kind of input at once.
#pragma once

#include <cstdint>
#include <string>

namespace stasis::test {

/// A whole feel as text, with one take and its clock: holds, toggles, cycles, mirrors, wheels, sticks and pointers with
/// all that they may say, groups, switches, a sequence, a shake, slow motion, locks. Some are refused when they are
/// read.
std::string feel_of_inputs(std::uint64_t seed);

} // namespace stasis::test
