#include "core/measure/both_times.hpp"

namespace stasis {
namespace {

/// A move that goes by game time, in seconds of the clock.
MoveOnTheClock on_the_clock(const Move& move, const Clock& clock) {
  const auto between = [&](double from, const std::optional<double>& seconds) {
    return seconds ? std::optional(clock.drawn_at(move.start + from + *seconds) - clock.drawn_at(move.start + from))
                   : std::nullopt;
  };
  return {clock.drawn_at(move.start), between(0.0, move.delay_time),
          between(move.rise_from_time.value_or(0.0), move.rise_time), between(0.0, move.peak_time),
          between(0.0, move.settling_time)};
}

} // namespace

void tell_by_both_times(const Feel& feel, const Clock& clock, TakeMeasures& measures) {
  if (clock.drawn == nullptr) return;
  const auto runs_on = [&](std::size_t c) { return feel.channels[moved_channel(feel, c)].runs_on; };
  const auto whole = std::make_shared<const Clock>(clock);
  for (Move& move : measures.moves) {
    if (runs_on(move.channel) == RunsOn::game) {
      move.on_the_clock = on_the_clock(move, clock);
      continue;
    }
    move.on_the_clock = MoveOnTheClock{move.start, move.delay_time, move.rise_time, move.peak_time, move.settling_time};
    move.by_clock = whole;
    move.start = clock.game_at(move.start);
    move.end = clock.game_at(move.end);
  }
  for (std::size_t c = 0; c < measures.channels.size(); ++c)
    if (runs_on(c) == RunsOn::clock)
      visit_instants(measures.channels[c].path, [&](double& at) { at = clock.game_at(at); });
}

} // namespace stasis
