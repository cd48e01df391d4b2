// Sampled curves as CSV, and what is known of them as JSON.
#pragma once

#include <string>
#include <vector>

#include "core/curve/curve_facts.hpp"

namespace stasis::io {

/// RFC 4180: `time` from 0 to 1 in `samples` rows (>= 2), then for each curve its value and its speed (in multiples of
/// the mean speed; empty where it has no bound). Shortest round-trip decimals.
std::string curves_csv(const std::vector<KnownCurve>& curves, int samples);

/// One object: for each curve its facts and its sentence.
std::string curves_json(const std::vector<KnownCurve>& curves, std::string_view version);

} // namespace stasis::io
