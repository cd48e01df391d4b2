// What `match --json` prints, whatever was matched: one shape for moves, followers and shakes.
#pragma once

#include <functional>
#include <optional>
#include <string>
#include <vector>

#include "core/match/match_step.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {

/// One entry of the ranking.
struct RankedAnswer {
  std::string kind, space = "linear";
  std::vector<Estimate> numbers{};
  std::optional<Estimate> start{}, from{}, goal{}; ///< null where there is none
  double rms = 0.0, probability = 0.0;
  std::string same_path{}, motion{}, follow{};
  bool knows_lag_only = false;
};

struct MatchAnswer {
  std::string recording, column;
  std::size_t rows = 0;
  RowCleaning cleaning;
  bool is_explained = false;
  std::string trouble{}; ///< empty if nothing stands in its way
  std::vector<RankedAnswer> ranking{};
  std::vector<std::string> indistinct{};
  std::string motion{}; ///< to be pasted; empty where none can be told
  std::vector<std::string> notes{};
};

/// \param more writes what this kind of match has beside the others, before the notes.
std::string match_json(const MatchAnswer& answer, const std::function<void(io::JsonWriter&)>& more = {});

/// "parameters": {NAME: {"value", "low", "high"}, ..}
void write_parameters(io::JsonWriter& json, const std::vector<Estimate>& numbers);

} // namespace stasis::cli
