// A program without what it does not need: what is always so is worked out, what has no effect goes.
#pragma once

#include "code/program.hpp"

namespace stasis::code {

/// The same program: functions that always give the same are put in their places, branches that are never taken,
/// fields that are never read and parameters that are never used are left out. Open functions keep their parameters.
Program simplified(Program program);

} // namespace stasis::code
