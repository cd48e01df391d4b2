// What a page that is played by hand carries: the feel's text and every file that it names.
#pragma once

#include <string>

#include "io/files.hpp"
#include "report/hands_page.hpp"

namespace stasis::cli {

/// \param file of a feel that can be read, "-" for standard input. \param text of it.
/// Refused where its recordings are too large to be carried.
io::FileResult<report::HandsContent> hands_content(const std::string& file, const std::string& text,
                                                   bool allow_outside);

} // namespace stasis::cli
