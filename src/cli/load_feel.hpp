// From the words of a call to a checked feel: read the file, put the overrides in, validate.
#pragma once

#include <string>
#include <vector>

#include <tl/expected.hpp>

#include "cli/call.hpp"
#include "core/feel/feel.hpp"

namespace stasis {

struct FeelCall {
  std::string file;               ///< "-" for standard input
  std::vector<std::string> set;   ///< "path=value"
  std::vector<std::string> takes; ///< only these; empty for all
  std::string fps;                ///< as typed; empty for each take's own
};

struct LoadedFeel {
  Feel feel;
  std::vector<std::size_t> takes; ///< indices of the takes to play
  std::string name;               ///< title, or the file's name without folder and extension
};

/// Declares the arguments that every command on a feel takes.
void declare_feel_call(Call& call, FeelCall& feel);

/// The feel, or the status with which to end after the fault has been explained on `err`.
tl::expected<LoadedFeel, Exit> load_feel(const FeelCall& call, Output& err);

} // namespace stasis
