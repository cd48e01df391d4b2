// A take written into a program that plays it by the source code of its feel and compares.
#pragma once

#include <string>

#include "code/lower_feel.hpp"
#include "code/printer.hpp"
#include "core/take/block.hpp"

namespace stasis::code {

/// \param lowered the feel that the take is of; its values whose goals others give are left out. Plays the take; of a
/// camera that is stepped on a tick, a frame a tick.
Check check_of(const Lowered& lowered, const Scene& scene);

} // namespace stasis::code
