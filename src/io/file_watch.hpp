// Notices that files have changed, whichever way an editor writes them: in place, cut short first, or renamed into
// place.
#pragma once

#include <cstdint>
#include <string>
#include <vector>

namespace stasis::io {

/// What tells two states of a file apart.
struct FileState {
  std::int64_t size = -1; ///< -1: it is not there
  std::int64_t modified_ns = 0;
  std::uint64_t inode = 0;
  friend bool operator==(const FileState&, const FileState&) = default;
};

/// The present state of each file.
std::vector<FileState> states_of(const std::vector<std::string>& paths);

/// Waits until the files differ from `seen` and have then stood still for `quiet_ms`, or until `stop` becomes true.
/// \returns their state then; `seen` itself if it was stopped.
std::vector<FileState> wait_for_change(const std::vector<std::string>& paths, const std::vector<FileState>& seen,
                                       int quiet_ms, const volatile bool& stop);

} // namespace stasis::io
