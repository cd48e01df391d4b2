// Measures of a channel over a whole take, by name: what wants bound and comparisons list.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/measure/measure_facts.hpp"

namespace stasis {

struct TakeMeasures;

/// The names, in the order in which they are listed everywhere: "delay_time", ..., "end_value" or "end_value.x".
std::vector<std::string> channel_measure_names(const Channel& channel);

/// The measure of that name over a channel's moves: the largest, or the smallest if `smallest`. Nothing where it did
/// not happen.
std::optional<double> channel_measure(const Feel& feel, const TakeMeasures& measures, std::size_t channel,
                                      std::string_view name, bool smallest = false);

/// When the measure of that name was taken, s, of those that are of one instant: a number, or nothing where it did not
/// happen. Null without a when.
struct MeasureTime {
  std::string key; ///< as the measures file names it: "top_speed_at", "lowest_value_at.x"
  std::optional<double> at;
};
std::optional<MeasureTime> channel_measure_time(const TakeMeasures& measures, std::size_t channel,
                                                std::string_view name);

/// What is known of the measure of that name ("end_value.x" too); null if there is none.
const Measure* channel_measure_facts(std::string_view name) noexcept;
/// The unit of that measure: "s", "%", "deg/s", ...
std::string channel_measure_unit(const Channel& channel, std::string_view name);

} // namespace stasis
