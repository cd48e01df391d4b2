// A take written into a program that plays it by the source code of its feel and compares.
#pragma once

#include <string>

#include "code/lower_feel.hpp"
#include "code/printer.hpp"
#include "core/take/block.hpp"

namespace stasis::code {

/// The frames of which a check has a row: the scene's own, or of a camera that is stepped on a tick, the ticks. What is
/// drawn between ticks is the program's own.
Scene checked_frames(const Scene& scene);

/// \param lowered the feel that the take is of; its values whose goals others give are left out. Plays the take; of a
/// camera that is stepped on a tick, a frame a tick.
Check check_of(const Lowered& lowered, const Scene& scene);

} // namespace stasis::code
