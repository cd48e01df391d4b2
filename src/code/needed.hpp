// Statements without which a program does the same.
#pragma once

#include "code/program.hpp"

namespace stasis::code {

/// Leaves out variables that nothing but themselves depends on, and what is only done for them. \returns true if
/// anything has changed.
bool drop_unneeded(Program& program);

} // namespace stasis::code
