// Figures to files.
#pragma once

#include <string>
#include <vector>

#include "cli/command.hpp"
#include "figure/figure.hpp"
#include "io/files.hpp"

namespace stasis::cli {

/// Explains a file that could not be read or written. \returns the status to end with.
Exit failed(const io::FileError& error, Output& err);

/// Says on `err` that figures will use another typeface, if the right one is missing.
void warn_without_font(Output& err);

/// Draws `figure` to `stem`.svg and, if `kind` is "png", `stem`.png made from it; nothing if `kind` is "none". Adds the
/// files that were written to `written`.
io::FileResult<void> draw_figure(const figure::Figure& figure, const std::string& stem, const std::string& kind,
                                 bool force, std::vector<std::string>& written);

/// Where figures go, and how.
struct FigurePlace {
  std::string folder;
  std::string kind; ///< "svg" or "png", as for draw_figure
  bool force = false;
};
struct NamedFigure {
  std::string name; ///< of its files in the folder, without their endings
  figure::Figure figure;
};
/// Makes the folder, draws all of them, and says on `out` what was written.
io::FileResult<void> draw_into(const FigurePlace& place, const std::vector<NamedFigure>& figures, Output& out,
                               Output& err);

} // namespace stasis::cli
