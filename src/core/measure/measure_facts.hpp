// What there is to know of a measure without taking it. The table of all of them is measure_registry.cpp; units, JSON,
// wants, comparisons, the schema and docs/measures.md read it.
#pragma once

#include <cstdint>
#include <string>
#include <string_view>

#include "core/feel/feel.hpp"

namespace stasis {

/// What the unit of a measure is made of.
enum class MeasureUnit : std::uint8_t {
  seconds,
  per_cent,
  plain, ///< a number, or what `unit_word` says
  channel,
  channel_per_second,
  channel_per_second2,
  channel_per_second3,
  in_space, ///< of the channel's space: its unit where that is even, a natural logarithm where it goes by factors
};

/// Which of two values of a measure a designer would rather have, all else being equal.
enum class Better : std::uint8_t { smaller, larger, neither };

/// What a measure is taken of.
enum class MeasureOf : std::uint8_t {
  move,
  move_of_several, ///< of a channel of several components
  channel,
  component, ///< of each component of a channel: named with its letter where there are several
  pushed,    ///< by a stick or a pointer
  watched,   ///< by a switch
  trailing,  ///< a goal that moves by itself
  following,
  on_grid,
  keeping_size,
  held_in,
  placed,
  held_in_or_placed,
  camera, ///< as a whole
  shake,
  shaken_component, ///< what a shake does to a component
};
/// "a move", "a channel that follows a track", ...
std::string_view in_words(MeasureOf of) noexcept;

struct Measure {
  std::string_view name;
  MeasureUnit unit;
  std::string_view unit_word; ///< of MeasureUnit::plain: "px", "Hz"; empty: no unit
  Better better;
  MeasureOf of;
  std::string_view meaning;
};

/// True if the channel has the measure; of shakes: never.
bool has_measure(const Measure& measure, const Channel& channel) noexcept;
/// True if the unit is not the same for every channel.
bool depends_on_channel(MeasureUnit unit) noexcept;
/// The unit of a measure on a channel: "s", "%", "deg/s", "1" for a plain number.
std::string unit_of(const Measure& measure, const Channel& channel);
/// The same for a channel whose unit is `channel_unit`.
std::string unit_text(MeasureUnit unit, std::string_view channel_unit);

} // namespace stasis
