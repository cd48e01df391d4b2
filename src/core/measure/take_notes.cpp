#include "core/measure/take_notes.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis {
namespace {

/// One reason: what is said of a single move, and of many of one channel.
struct Reason {
  bool (*applies)(const Feel& feel, const Move& move);
  std::string (*once)(const Feel& feel, const Move& move);
  std::string_view many; ///< with {} for "12 times, first at 3.6 s"
};

std::string_view kind_of_move(const Feel& feel, const Move& move) noexcept {
  return kind_of(feel.motions[move.motion[0]].motion);
}
bool is_a_jump(const Feel& feel, const Move& move) noexcept {
  return traits_of(feel.motions[move.motion[0]].motion).jumps;
}
bool is_on_its_way(const Move& move) noexcept { return !move.retargeted && !move.settling_time; }

bool became_no_number(const Move& move) noexcept { return move.remaining && std::isnan(*move.remaining); }

constexpr std::array reasons{
    Reason{[](const Feel&, const Move& move) { return move.retargeted; },
           [](const Feel&, const Move& move) {
             return fmt::format("another goal came after {} s, before it had settled; no settling time",
                                readable(move.end - move.start));
           },
           "another goal came before it had settled, {}; no settling time"},
    Reason{[](const Feel&, const Move& move) { return is_on_its_way(move) && became_no_number(move); },
           [](const Feel&, const Move&) { return std::string("became no number on its way; nothing to measure"); },
           "became no number on its way, {}; nothing to measure"},
    Reason{
        [](const Feel&, const Move& move) { return is_on_its_way(move) && !is_there(move) && !became_no_number(move); },
        [](const Feel& feel, const Move& move) {
          const std::string& unit = feel.channels[move.channel].unit;
          return fmt::format("still on its way when the take ended, {}{} from its goal; no settling time",
                             readable(*move.remaining), unit.empty() ? "" : " " + unit);
        },
        "still on its way when the take ended, {}; no settling time"},
    Reason{[](const Feel&, const Move& move) {
             return is_on_its_way(move) && !(move.remaining > 0.0) && !became_no_number(move);
           },
           [](const Feel&, const Move&) { return std::string("too short, or too late in the take, to measure"); },
           "too short, or too late in the take, to measure, {}"},
    Reason{[](const Feel& feel, const Move& move) { return !move.peak_speed && is_a_jump(feel, move); },
           [](const Feel& feel, const Move& move) {
             return fmt::format("a {} jumps; it has no speed", kind_of_move(feel, move));
           },
           "it jumps, {}; a jump has no speed"},
    Reason{[](const Feel& feel, const Move& move) {
             return !move.peak_speed && !is_a_jump(feel, move) && move.settling_time;
           },
           [](const Feel&, const Move&) {
             return std::string("the curve starts or ends with unbounded speed; no peak speed");
           },
           "the curve starts or ends with unbounded speed, {}; no peak speed"},
    Reason{[](const Feel&, const Move& move) { return move.unbounded_acceleration; },
           [](const Feel&, const Move&) {
             return std::string("the curve bends without bound where it starts or ends; no peak acceleration");
           },
           "the curve bends without bound where it starts or ends, {}; no peak acceleration"},
    Reason{[](const Feel&, const Move& move) { return move.unavoidable; },
           [](const Feel&, const Move&) {
             return std::string(
                 "it came in too fast to stop at its goal; with its acceleration or braking time it must overshoot");
           },
           "it came in too fast to stop at its goal, {}; with its acceleration or braking time it must overshoot"},
};

} // namespace

std::vector<std::string> notes_of_moves(const Feel& feel, const TakeMeasures& measures) {
  std::vector<std::string> notes;
  for (const Reason& reason : reasons)
    for (std::size_t c = 0; c < feel.channels.size(); ++c) {
      std::vector<const Move*> of_channel;
      for (const Move& move : measures.moves)
        if (move.channel == c && reason.applies(feel, move)) of_channel.push_back(&move);
      constexpr std::size_t few = 2;
      const std::string& name = feel.channels[c].name;
      if (of_channel.size() > few) {
        const std::string count =
            fmt::format("{} times, first at {} s", of_channel.size(), concise(of_channel.front()->start));
        notes.push_back(fmt::format("{}: {}", name, fmt::format(fmt::runtime(reason.many), count)));
        continue;
      }
      for (const Move* move : of_channel)
        notes.push_back(fmt::format("{} at {} s: {}", name, concise(move->start), reason.once(feel, *move)));
    }
  return notes;
}

std::vector<std::string> notes_of_the_still(const Feel& feel, const TakeMeasures& measures) {
  std::vector<std::string_view> still;
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    if (channel.follow || channel.obstacles || measures.channels[c].goal_ran) continue; // told by their way
    const bool has_moved =
        std::any_of(measures.moves.begin(), measures.moves.end(), [&](const Move& m) { return m.channel == c; });
    if (!has_moved) still.push_back(channel.name);
  }
  if (still.empty()) return {};
  return {fmt::format("{}: {} in this take; nothing to measure", listed(still),
                      still.size() > 1 ? "their goals never changed" : "its goal never changed")};
}

} // namespace stasis
