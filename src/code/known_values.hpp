// What is the same wherever a program is asked for it.
#pragma once

#include "code/program.hpp"

namespace stasis::code {

/// Puts plain numbers (0, 1, -1, true, false) in the places of parameters that are given the same one by every call, of
/// variables that never become another, and of fields to which nothing else is ever written. Open functions keep their
/// parameters. \returns true if anything has changed.
bool put_known_values(Program& program);

} // namespace stasis::code
