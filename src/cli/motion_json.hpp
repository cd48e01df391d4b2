// A motion with every equivalent form, as `explain --json` and `export numbers` tell it.
#pragma once

#include "core/explain/explain.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {

/// An object: motion, when, words, forms (form, value, unit, sense), step, lag_time, sway.
void write_motion(io::JsonWriter& json, const MotionAccount& motion);

} // namespace stasis::cli
