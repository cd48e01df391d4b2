// The page of `stasis report`: one HTML file that needs nothing else, with a player, charts, tables and figures.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/check/wants.hpp"
#include "core/check/warning.hpp"
#include "core/take/block.hpp"
#include "report/baked_take.hpp"

namespace stasis::report {

/// One take of one version of the feel, played.
struct PageRun {
  std::size_t version = 0; ///< index into PageContent::versions
  Scene scene;
  BakeSink baked;
  std::string measures; ///< JSON
  std::vector<WantVerdict> wants;
  std::vector<Warning> warnings;
};

struct PageFigure {
  std::string take, version; ///< version: empty where it shows several
  std::string svg;
};

struct PageSource {
  std::string name; ///< of the file
  std::string text;
};

struct PageContent {
  std::string title;
  std::string program;               ///< "Stasis 0.1.0"
  std::string call;                  ///< the command line, as typed
  std::vector<std::string> versions; ///< names; "base" for the feel itself
  std::vector<PageRun> runs;
  std::vector<PageFigure> figures;
  std::string figures_left_out; ///< in words; empty if none
  std::vector<PageSource> sources;
  std::string hands;          ///< the page that is played by hand, to be opened within this one; empty: left out
  std::string looks_again_at; ///< name of the image beside the page that tells its newest state; empty: it never looks
};

/// Style, scripts and licences that are built into the program, by name: see src/report/page.
using PagePart = std::string_view (*)(std::string_view name);

/// What the player needs, as JSON that may stand inside a script element.
std::string page_data_json(const PageContent& content);

/// The whole page around its data. Everything that comes from a feel is escaped.
std::string page_html(const PageContent& content, const std::string& data, PagePart part);

/// Two sides, in pixels, of the picture beside a page by which the page tells that there is a newer one.
struct PageState {
  int width = 1, height = 1;
};
PageState state_of(const PageContent& content, std::string_view data);
/// That picture, as SVG.
std::string state_image(PageState state);

} // namespace stasis::report
