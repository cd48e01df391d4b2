// What `match` says about several moves of one recording.
#pragma once

#include <string>

#include "cli/match_call.hpp"
#include "core/recorded/match_moves.hpp"
#include "figure/match_figure.hpp"

namespace stasis::cli {

struct MovesReport {
  std::string recording;
  const OpenedMove* opened = nullptr;
  const MovesMatch* match = nullptr;
};

/// The motion that is to be pasted, or written: of both directions where they differ.
std::string motion_of_moves(const MovesMatch& match);
std::string moves_text(const MovesReport& report);
std::string moves_json(const MovesReport& report);
figure::MatchDrawing moves_drawing(const MovesReport& report);

} // namespace stasis::cli
