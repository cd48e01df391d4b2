// The table of all measures, each with where its number lies once it is taken.
#pragma once

#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/measure/measure_facts.hpp"
#include "core/measure/take_measures.hpp"

namespace stasis {

struct ChannelMeasure : Measure {
  std::optional<double> (*value)(const ChannelSummary& summary, std::size_t component);
  /// When that was, s: stands beside it in the measures file as `NAME_at`. Null where it is of no one instant.
  std::optional<double> (*at)(const ChannelSummary& summary, std::size_t component) = nullptr;
};
struct ShakeMeasure : Measure {
  std::optional<double> (*value)(const ShakeSummary& shake);
};
struct CameraMeasure : Measure {
  std::optional<Peak> CameraSummary::*peak;
};
struct PartMeasure : Measure {
  std::optional<double> (*value)(const ShakePart& part);
};

// Each in the order in which they are listed everywhere.
std::span<const MoveMeasure> move_measures() noexcept;
/// Of a channel over a whole take.
std::span<const ChannelMeasure> whole_measures() noexcept;
/// Of the camera as a whole.
std::span<const CameraMeasure> camera_measures() noexcept;
std::span<const ShakeMeasure> shake_measures() noexcept;
/// Of what a shake does to one component.
std::span<const PartMeasure> part_measures() noexcept;

/// Which side of what is wanted is the better one. Its measure: "settling_time", "end_value.x"; of a shake
/// "half_life" or "fov.rms".
Better better_side(const Want& wanted) noexcept;

/// All of them as a table in Markdown, as docs/measures.md has it.
std::string measure_table();

} // namespace stasis
