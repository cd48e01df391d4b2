// One take at several frame rates as text and as JSON.
#pragma once

#include <string>

#include "core/measure/frame_rates.hpp"
#include "core/measure/tick_study.hpp"

namespace stasis::cli {

struct RatesReport {
  const RatesAccount* account = nullptr;
  const std::vector<TickStudy>* ticks = nullptr; ///< by channel that follows, where the take has a tick
  std::string title;
  std::vector<std::string> only; ///< channels that are told in detail; empty for the worst
};

/// Spread by channel and rate; the worst channel in detail; why, and what to put in its place.
std::string rates_text(const RatesReport& report);
std::string rates_json(const RatesReport& report);

} // namespace stasis::cli
