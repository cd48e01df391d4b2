// `stasis match --stops`: from a recorded path to the stops of a sequence.
#pragma once

#include <string>

#include "cli/command.hpp"
#include "cli/match_call.hpp"

namespace stasis::cli {

struct StopsCall {
  const MatchCall* match = nullptr;
  std::string within; ///< how far the path may be off: one for all columns, or one for each
  std::string write;  ///< FEEL:sequence.NAME
  std::string out, figure, typed;
  bool json = false, force = false;
};

Exit run_match_stops(const StopsCall& call, Streams streams);

} // namespace stasis::cli
