#include "cli/run_text.hpp"

#include <fmt/format.h>

#include "cli/table.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::string values_text(const Channel& channel, const Components& values) {
  std::string text;
  for (std::size_t i = 0; i < channel.components; ++i) text += (i > 0 ? ", " : "") + concise(values[i]);
  if (channel.components > 1) text = "(" + text + ")";
  const std::string unit = printable(channel.unit);
  return unit.empty() ? text : text + " " + unit;
}

std::string measure_text(const std::optional<double>& value, MeasureUnit unit, const std::string& channel_unit) {
  if (!value) return "\u2013";
  const std::string symbol = unit_text(unit, channel_unit);
  return readable(*value) + (symbol == "1" ? "" : " " + symbol);
}

} // namespace

std::string run_text(const std::string& feel_name, const std::string& variant, const Scene& scene,
                     const TakeMeasures& measures) {
  const Feel& feel = *scene.feel;
  std::string out = fmt::format("{}{}, take {}: {} s, {} frames at {} fps\n", printable(feel_name, 80),
                                variant.empty() ? "" : ", variant " + variant, scene.take->name, scene.take->length,
                                scene.clock.frames, scene.clock.fps);
  TextTable table({"channel", "at", "from", "to", "delay", "rise", "settling", "overshoot", "peak speed", "cause"},
                  {false, true, true, true, true, true, true, true, true, false});
  for (const Move& move : measures.moves) {
    const Channel& channel = feel.channels[move.channel];
    const std::string unit = printable(channel.unit);
    table.add({channel.name, concise(move.start) + " s", values_text(channel, move.from), values_text(channel, move.to),
               measure_text(move.delay_time, MeasureUnit::seconds, unit),
               measure_text(move.rise_time, MeasureUnit::seconds, unit),
               move.retargeted ? "retargeted" : measure_text(move.settling_time, MeasureUnit::seconds, unit),
               measure_text(move.overshoot, MeasureUnit::per_cent, unit),
               measure_text(move.peak_speed, MeasureUnit::channel_per_second, unit), move.cause});
  }
  if (!measures.moves.empty()) out += table.text();
  constexpr std::size_t most_notes = 12;
  for (std::size_t i = 0; i < measures.notes.size() && i < most_notes; ++i)
    out += fmt::format("  note: {}\n", measures.notes[i]);
  if (measures.notes.size() > most_notes)
    out += fmt::format("  note: and {} more, all in the measures file\n", measures.notes.size() - most_notes);
  return out;
}

} // namespace stasis
