// The measures of shakes by name, for wants: "quiet_after" of the shake itself, "side.peak" of what it does to a
// component.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/measure/take_measures.hpp"

namespace stasis {

std::vector<std::string> shake_measure_names(const Feel& feel, std::size_t shake);

/// Nothing where it did not happen, or there is no measure of that name.
std::optional<double> shake_measure(const Feel& feel, const TakeMeasures& measures, std::size_t shake,
                                    std::string_view name);

/// What is known of it; null if there is no measure of that name.
const Measure* shake_measure_facts(const Feel& feel, std::size_t shake, std::string_view name);

/// "s", "%", "deg"; "1" for a plain number.
std::string shake_measure_unit(const Feel& feel, std::size_t shake, std::string_view name);

} // namespace stasis
