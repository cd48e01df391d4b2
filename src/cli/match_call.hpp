// From the words of a call to a recorded move: which columns, which stretch, which unit.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "cli/recording_call.hpp"
#include "core/match/match_follow.hpp"
#include "core/match/match_shake.hpp"

namespace stasis::cli {

struct MatchCall {
  RecordingCall table;
  std::string value, start, from, goal, goal_from, unit;
  std::vector<std::string> spaces, kinds;
  bool shake = false; ///< what was recorded is a shake
};

void declare_match_call(Call& call, MatchCall& match);

/// What a call asks for: the move in each space, and the rules that are tried.
struct OpenedMove {
  std::vector<RecordedMove> moves;      ///< one for each space
  std::optional<RecordedFollow> follow; ///< instead of moves, where the goal moves by itself
  std::optional<RecordedShake> shake;   ///< likewise, where the call says so
  std::vector<StepRule> kinds;
  std::string column, unit;
  std::size_t rows = 0;           ///< of the recording
  std::vector<std::string> notes; ///< what was taken for granted, and how to say otherwise
};

/// The recording, or the status to end with after the fault has been explained on `err`.
tl::expected<OpenedMove, Exit> open_move(const MatchCall& call, Output& err);

} // namespace stasis::cli
