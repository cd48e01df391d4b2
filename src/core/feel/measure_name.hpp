// What "fov.settling_time" names in a feel.
#pragma once

#include <string>
#include <string_view>

#include <tl/expected.hpp>

#include "core/feel/read_feel.hpp"

namespace stasis {

struct MeasureFault {
  std::string code; ///< "feel.unknown_measure", ...
  std::string message, hint;
};

/// A want without a bound: whose measure it is, and which. \param text "CHANNEL.MEASURE", "SHAKE.MEASURE",
/// "camera.MEASURE".
tl::expected<Want, MeasureFault> measure_named(const Feel& feel, const KnownNames& vocabulary, std::string_view text);

} // namespace stasis
