// Plays takes and writes what comes of them; shared by `run` and `demo`.
#pragma once

#include <string>
#include <vector>

#include "cli/command.hpp"
#include "cli/load_feel.hpp"

namespace stasis::cli {

struct RunOptions {
  std::string out = "stasis-out"; ///< folder, "-" for one trace on standard output, "none" for no file at all
  std::string figure = "png";     ///< "svg", "png" (with its SVG beside it), "text" (on the terminal) or "none"
  std::vector<std::string> only;  ///< channels to draw; empty for all
  bool picture_scale = false;     ///< draw the lens as picture scale as well
  bool json = false;
  bool force = false;
};

/// True if the feel has channels of these names; explained on `err` where it has not.
bool known_channels(const Feel& feel, const std::vector<std::string>& names, Output& err);

/// Plays the chosen takes of each feel, writes their files, prints what happened.
Exit run_takes(const std::vector<LoadedFeel>& feels, const RunOptions& options, Streams streams);

} // namespace stasis::cli
