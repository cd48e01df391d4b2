// All names that a feel may use of what others know: for whoever reads one.
#pragma once

#include "core/check/warning.hpp"
#include "core/feel/read_feel.hpp"
#include "core/measure/camera_measures.hpp"
#include "core/measure/channel_measures.hpp"
#include "core/measure/shake_measure_names.hpp"

namespace stasis {

inline constexpr KnownNames all_known_names{channel_measure_names, shake_measure_names, camera_measure_names,
                                            warning_codes};

} // namespace stasis
