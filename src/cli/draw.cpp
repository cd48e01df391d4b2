#include "cli/draw.hpp"

#include <fmt/format.h>

#include "figure/render.hpp"

namespace stasis::cli {
namespace {

tl::unexpected<io::FileError> drawing_failed(const figure::ProcessError& error, const char* package) {
  const std::string advice = error.not_installed ? fmt::format("install the Debian package {}, or ", package) : "";
  return tl::unexpected(io::FileError{fmt::format("no figure: {}; {}give --figure none", error.message, advice)});
}

io::FileResult<void> write_picture(const std::string& path, const std::string& bytes, bool force,
                                   std::vector<std::string>& written) {
  auto done = io::write_file(path, bytes, force);
  if (done) written.push_back(path);
  return done;
}

} // namespace

Exit failed(const io::FileError& error, Output& err) {
  print_error(error.message + ".", err);
  return Exit::bad_file;
}

void warn_without_font(Output& err) {
  if (!figure::has_figure_font())
    err.line("stasis: warning: the typeface Inter is not installed (Debian package fonts-inter); figures use another.");
}

io::FileResult<void> draw_figure(const figure::Figure& figure, const std::string& stem, const std::string& kind,
                                 bool force, std::vector<std::string>& written) {
  if (kind == "none") return {};
  const auto svg = figure::render_svg(figure);
  if (!svg) return drawing_failed(svg.error(), "gnuplot-nox");
  if (auto done = write_picture(stem + ".svg", *svg, force, written); !done || kind == "svg") return done;
  const auto png = figure::render_png(*svg);
  if (!png) return drawing_failed(png.error(), "librsvg2-bin");
  return write_picture(stem + ".png", *png, force, written);
}

io::FileResult<void> draw_into(const FigurePlace& place, const std::vector<NamedFigure>& figures, Output& out,
                               Output& err) {
  if (auto made = io::make_folder(place.folder); !made) return made;
  warn_without_font(err);
  std::vector<std::string> written;
  for (const NamedFigure& one : figures)
    if (auto done = draw_figure(one.figure, place.folder + "/" + one.name, place.kind, place.force, written); !done)
      return done;
  for (const std::string& path : written) out.wrote(path);
  return {};
}

} // namespace stasis::cli
