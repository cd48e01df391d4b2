// Long columns of numbers in temporary files, which are gone with the program.
#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/number_column.hpp"

namespace stasis::io {

/// Folders for files that do not last, the first that takes one being used: TMPDIR if it is set, /var/tmp, /tmp.
std::vector<std::string> scratch_folders();

/// A shelf in the first of these folders that takes a file; one without room has no spool to give.
std::shared_ptr<const NumberShelf> scratch_shelf(std::vector<std::string> folders = scratch_folders());

} // namespace stasis::io
