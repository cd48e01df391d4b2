// Measures of the camera as a whole, by name: `camera.top_turn_speed`.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/measure/measure_facts.hpp"

namespace stasis {

struct TakeMeasures;

/// What they stand under, where channels and shakes stand under their names.
inline constexpr std::string_view camera_name = "camera";

/// The names; none where the picture places no eye in space.
std::vector<std::string> camera_measure_names(const Feel& feel);
/// The measure of that name; nothing where there is none.
std::optional<double> camera_measure(const TakeMeasures& measures, std::string_view name);
/// When that was, s; likewise.
std::optional<double> camera_measure_time(const TakeMeasures& measures, std::string_view name);
/// What is known of it; null if there is no such name.
const Measure* camera_measure_facts(std::string_view name) noexcept;
/// Its unit: "deg/s", "m/s", ...
std::string camera_measure_unit(const Feel& feel, std::string_view name);

} // namespace stasis
