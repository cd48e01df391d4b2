// Bytes as a recorded move: whatever its rows, the rules found for it are numbers, the true value lies in its interval
// as it is stated, and the probabilities add up to 1.
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <vector>

#include "core/match/match_step.hpp"

namespace {

/// Rows as the bytes have them: steps of time, and values of any size, or noise about a step.
stasis::RecordedMove a_move(const std::uint8_t* data, std::size_t size) {
  stasis::RecordedMove move;
  const double unit = std::pow(10.0, static_cast<double>(data[0] % 13) - 6.0), noise = data[1] / 255.0;
  const bool is_a_step = (data[2] & 1) != 0;
  double time = 0.0;
  constexpr std::size_t most_rows = 150;
  for (std::size_t k = 4; k + 1 < size && move.times.size() < most_rows; k += 2) {
    time += (1 + data[k] % 32) / 600.0;
    const double chance = (data[k + 1] - 127.5) / 127.5;
    const double way = time < 0.5 ? 0.0 : 1.0 - std::exp(-5.0 * (time - 0.5));
    move.times.push_back(time);
    move.values.push_back(unit * (is_a_step ? 10.0 * way + noise * chance : chance));
  }
  if ((data[2] & 2) != 0) move.start = 0.5;
  if ((data[2] & 4) != 0) move.goal = unit * 10.0;
  if ((data[2] & 8) != 0) move.from = 0.0;
  return move;
}

bool is_sound(const stasis::Estimate& one) { return !std::isnan(one.value) && one.low <= one.high; }

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  if (size < 20) return 0;
  const auto found = stasis::match_step({a_move(data, size)}, stasis::step_rules());
  if (!found) return 0;
  double sum = 0.0;
  for (const stasis::MatchedRule& rule : found->ranking) {
    if (rule.kind == nullptr || std::isnan(rule.rms)) std::abort();
    for (const stasis::Estimate& number : rule.numbers)
      if (!is_sound(number)) std::abort();
    if (!is_sound(rule.start_at) || !is_sound(rule.from_at) || !is_sound(rule.goal_at)) std::abort();
    if (!(rule.probability >= 0.0 && rule.probability <= 1.0 + 1e-9)) std::abort();
    sum += rule.probability;
  }
  if (!found->ranking.empty() && std::fabs(sum - 1.0) > 1e-6) std::abort();
  return 0;
}
