// What `match --shake` answers: which shake was recorded.
#pragma once

#include <string>

#include "cli/match_call.hpp"
#include "core/match/match_shake.hpp"
#include "figure/match_figure.hpp"

namespace stasis::cli {

struct ShakeReport {
  std::string recording;
  const OpenedMove* opened = nullptr; ///< whose `shake` is set
  const ShakeMatch* match = nullptr;

  /// A wave as a feel has it: the keys of a table [shake.NAME], "{ on = .., wave = .., decay = .. }".
  std::string motion(const MatchedShake& one) const;
};

std::string shake_text(const ShakeReport& report);
std::string shake_json(const ShakeReport& report);
figure::MatchDrawing shake_drawing(const ShakeReport& report);

} // namespace stasis::cli
