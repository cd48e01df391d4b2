// All measures by name, for whoever reads a feel whose wants may name them.
#pragma once

#include "core/feel/read_feel.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/shake_measure_names.hpp"

namespace stasis {

inline constexpr MeasureNames measure_names{channel_measure_names, shake_measure_names};

} // namespace stasis
