// A line of `stasis step`: how long the frame is, and what hands do before it.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <utility>
#include <vector>

#include <tl/expected.hpp>

#include "core/feel/feel.hpp"
#include "embed/played_feel.hpp"

namespace stasis::cli {

struct StepInput {
  std::optional<double> dt;      ///< s; nothing: the frame is as long as usual
  std::vector<GameSpeed> speeds; ///< from the frame on
  std::vector<Cue> cues;
  std::vector<std::pair<std::size_t, Components>> places; ///< of tracks
  std::vector<embed::PlayedFeel::Written> values;         ///< of the feel, all at once
};

/// Reads one line of JSON: {"dt": 0.0167, "inputs": [{"press": "listen"}, ..]}. Inputs are written as cues of a take
/// are; beside those {"place": {TRACK: [x, y, z]}} and {"set": {PATH: value}}. A blank line is a frame without inputs.
/// What is wrong is told in one sentence.
tl::expected<StepInput, std::string> read_step_input(const Feel& feel, std::string_view line);

} // namespace stasis::cli
