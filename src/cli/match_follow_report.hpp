// What `match` says about a value behind a goal that moves by itself.
#pragma once

#include <string>

#include "cli/match_call.hpp"
#include "figure/match_figure.hpp"

namespace stasis::cli {

struct FollowReport {
  std::string recording;
  const OpenedMove* opened = nullptr; ///< with its `follow`
  const FollowMatch* match = nullptr;
};

std::string follow_text(const FollowReport& report);
std::string follow_json(const FollowReport& report);
figure::MatchDrawing follow_drawing(const FollowReport& report);

} // namespace stasis::cli
