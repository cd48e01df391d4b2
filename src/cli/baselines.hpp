// Traces that were kept, for takes to be held to: judged and written for `check`.
#pragma once

#include <string>

#include <tl/expected.hpp>

#include "cli/load_feel.hpp"
#include "core/check/drift.hpp"
#include "io/files.hpp"

namespace stasis::cli {

/// How a take stands to its baseline.
struct BaselineVerdict {
  std::string file, take, variant, column; ///< as the feel names them; the variant that is held to it
  double seconds = 0.0;                    ///< of the take
  double within = 0.0;
  bool exists = false;   ///< the file is there
  bool was_kept = false; ///< it was written by this call
  Drift drift{};

  bool holds() const noexcept { return exists && drift.holds(); }
  /// "fov.value is 0.31 off at 1.25 s, beyond 0.01 from 1.1 s on, and 2 more columns"
  std::string said() const;
};

/// Where a feel's baselines are.
struct BaselinePlace {
  const LoadedFeel* loaded;
  const Baseline* baseline;
  std::string feel_file;
  bool allow_outside;
};

/// The variant of which a baseline was kept, "" for the base feel; what its file says, or the base feel where none
/// says. Nothing where the file may not be read.
tl::expected<std::string, std::string> kept_variant(const BaselinePlace& place);

/// Plays the take beside the kept trace.
BaselineVerdict judge_baseline(const BaselinePlace& place);

/// Plays the take and keeps its trace, with a note of clock, variant and version beside it.
io::FileResult<void> keep_baseline(const BaselinePlace& place);

} // namespace stasis::cli
