#include "cli/move_table.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/table.hpp"
#include "core/text.hpp"

namespace stasis::cli {
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

/// Moves of one channel that came one after the other from one control, or switch, or whatever it was.
struct Burst {
  std::string_view source;
  std::vector<const Move*> moves;
};

/// "wheel" of "click wheel +3", "lean" of "press lean": what one cause shares with the next.
std::string_view source_of(std::string_view cause) noexcept {
  const std::size_t first = cause.find(' ');
  if (first == std::string_view::npos) return cause;
  return cause.substr(first + 1, cause.find(' ', first + 1) - first - 1);
}

std::vector<Burst> bursts_of(const Feel& feel, const TakeMeasures& measures, const std::vector<std::string>& only) {
  std::vector<Burst> bursts;
  std::vector<std::size_t> open(feel.channels.size(), static_cast<std::size_t>(-1));
  for (const Move& move : measures.moves) {
    if (!is_wanted(only, feel.channels[move.channel].name)) continue;
    std::size_t& last = open[move.channel];
    if (last >= bursts.size() || bursts[last].source != source_of(move.cause)) {
      last = bursts.size();
      bursts.push_back({source_of(move.cause), {}});
    }
    bursts[last].moves.push_back(&move);
  }
  return bursts;
}

/// The largest of a measure over the moves of a burst; nothing where none has it.
std::optional<double> largest_of(const Burst& burst, std::optional<double> Move::*measure) {
  std::optional<double> largest;
  for (const Move* move : burst.moves)
    if (move->*measure && (!largest || *(move->*measure) > *largest)) largest = move->*measure;
  return largest;
}

constexpr const char* game_time_note =
    "  at, delay, rise and settling: in game time, except for what runs on the clock;\n"
    "  clock at, clock settling: by the clock\n";

/// Adds a row, and before its cause how long it takes to settle by the clock, where that is another time.
void add_row(TextTable& table, std::vector<std::string> cells, const Move& settles, const std::string& cause) {
  if (settles.on_the_clock) {
    cells.push_back(concise(settles.on_the_clock->start) + " s");
    cells.push_back(settles.retargeted ? ""
                                       : measure_text(settles.on_the_clock->settling_time, MeasureUnit::seconds, ""));
  }
  cells.push_back(cause);
  table.add(std::move(cells));
}

void add_move(TextTable& table, const Channel& channel, const Move& move) {
  const std::string unit = printable(channel.unit);
  add_row(table,
          {channel.name, concise(move.start) + " s", values_text(channel, move.from), values_text(channel, move.to),
           measure_text(move.delay_time, MeasureUnit::seconds, unit),
           measure_text(move.rise_time, MeasureUnit::seconds, unit),
           move.retargeted ? "retargeted" : measure_text(move.settling_time, MeasureUnit::seconds, unit),
           measure_text(move.overshoot, MeasureUnit::per_cent, unit),
           measure_text(move.peak_speed, MeasureUnit::channel_per_second, unit)},
          move, move.cause);
}

void add_burst(TextTable& table, const Channel& channel, const Burst& burst) {
  const std::string unit = printable(channel.unit);
  const Move &first = *burst.moves.front(), &last = *burst.moves.back();
  add_row(table,
          {channel.name, fmt::format("{} to {} s", concise(first.start), concise(last.start)),
           values_text(channel, first.from), values_text(channel, last.to), "", "",
           last.retargeted ? "retargeted" : measure_text(last.settling_time, MeasureUnit::seconds, unit),
           measure_text(largest_of(burst, &Move::overshoot), MeasureUnit::per_cent, unit),
           measure_text(largest_of(burst, &Move::peak_speed), MeasureUnit::channel_per_second, unit)},
          last, fmt::format("{}, {} moves", burst.source, burst.moves.size()));
}

} // namespace

bool is_wanted(const std::vector<std::string>& only, const std::string& name) {
  return only.empty() || std::find(only.begin(), only.end(), name) != only.end();
}

bool shakes_wanted(const Feel& feel, std::size_t shake, const std::vector<std::string>& only) {
  const auto& targets = feel.shakes[shake].targets;
  return only.empty() || std::any_of(targets.begin(), targets.end(), [&](const auto& target) {
           return is_wanted(only, feel.channels[target.component.channel].name);
         });
}

std::string move_table(const Feel& feel, const TakeMeasures& measures, const std::vector<std::string>& only) {
  // As long as all fit on a screen, each has its line.
  constexpr std::size_t most_lines = 20, many = 4;
  const std::vector<Burst> bursts = bursts_of(feel, measures, only);
  std::size_t moves = 0;
  for (const Burst& burst : bursts) moves += burst.moves.size();
  if (moves == 0) return "";
  const bool both = std::any_of(measures.moves.begin(), measures.moves.end(),
                                [](const Move& move) { return move.on_the_clock.has_value(); });
  std::vector<std::string> heads{"channel", "at", "from", "to", "delay", "rise", "settling", "overshoot", "peak speed"};
  std::vector<bool> right{false, true, true, true, true, true, true, true, true};
  for (const char* const head : {"clock at", "clock settling"})
    if (both) {
      heads.emplace_back(head);
      right.push_back(true);
    }
  heads.emplace_back("cause");
  right.push_back(false);
  TextTable table(heads, right);
  table.name_rows_by(2);
  if (moves <= most_lines) {
    for (const Move& move : measures.moves)
      if (const Channel& channel = feel.channels[move.channel]; is_wanted(only, channel.name))
        add_move(table, channel, move);
    return table.text() + (both ? game_time_note : "");
  }
  std::size_t lines = 0;
  bool any_burst = false;
  for (const Burst& burst : bursts) {
    if (++lines > most_lines) break;
    const Channel& channel = feel.channels[burst.moves.front()->channel];
    if (burst.moves.size() >= many) {
      any_burst = true;
      add_burst(table, channel, burst);
      continue;
    }
    for (const Move* move : burst.moves) add_move(table, channel, *move);
    lines += burst.moves.size() - 1;
  }
  std::string out = table.text();
  if (both) out += game_time_note;
  if (any_burst)
    out +=
        "  of many moves: settling of the last, the largest overshoot and peak speed; each is in the measures file\n";
  if (lines > most_lines) out += "  and more; all of them are in the measures file\n";
  return out;
}

} // namespace stasis::cli
