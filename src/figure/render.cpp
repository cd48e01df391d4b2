#include "figure/render.hpp"

#include <algorithm>
#include <array>
#include <sys/stat.h>

#include <fmt/compile.h>
#include <fmt/format.h>

#include "core/text.hpp"
#include "figure/animation.hpp"
#include "figure/plot_groups.hpp"
#include "figure/style.hpp"
#include "figure/svg_text.hpp"

namespace stasis::figure {
namespace {

class Script {
public:
  explicit Script(const Figure& figure) : figure_(figure) {}

  std::string text() {
    add(fmt::format("set term svg size {},{} fixed noenhanced font 'Inter,9.75' fontscale 1.3333 background '{}' "
                    "linewidth 1 rounded\n",
                    figure_.width, figure_.height, style::paper));
    add("set encoding utf8\nset datafile separator tab\nunset key\nunset border\nunset tics\n");
    add(fmt::format(
        "set lmargin at screen 0\nset rmargin at screen 1\nset tmargin at screen 1\nset bmargin at screen 0\n"
        "set xrange [0:{}]\nset yrange [{}:0]\n",
        figure_.width, figure_.height));
    for (const PlotGroup& group : plot_groups(figure_.shapes))
      std::visit([&](const auto& look) { add_group(look, group.pieces); }, group.look);
    if (plots_.empty()) plots_.push_back("NaN notitle");
    add("plot " + fmt::format("{}", fmt::join(plots_, ", \\\n     ")) + "\n");
    return std::move(script_);
  }

private:
  void add(std::string_view text) { script_ += text; }

  using Pieces = std::vector<std::vector<Point>>;

  /// Pieces apart from each other, by blank lines.
  std::string add_data(const Pieces& pieces) {
    const std::string name = fmt::format("$D{}", ++blocks_);
    add(name + " << EOD\n");
    for (const std::vector<Point>& piece : pieces) {
      if (&piece != &pieces.front()) add("\n");
      for (const Point& point : piece)
        fmt::format_to(std::back_inserter(script_), FMT_COMPILE("{:.2f}\t{:.2f}\n"), point.x, point.y);
    }
    add("EOD\n");
    return name;
  }

  void add_group(const Fill& fill, const Pieces& outlines) {
    Pieces closed;
    for (const std::vector<Point>& outline : outlines) {
      if (outline.size() < 3) continue;
      closed.push_back(outline);
      closed.back().push_back(outline.front());
    }
    if (closed.empty()) return;
    plots_.push_back(
        fmt::format("{} using 1:2 with filledcurves closed fs transparent solid {:.2f} noborder lc rgb '{}' notitle",
                    add_data(closed), fill.opacity, fill.colour));
  }

  /// Whoever strokes a path looks for where it crosses itself: of a very long one, which takes its square, a few
  /// thousand points at a time are a path of their own.
  void add_group(const Line& line, const Pieces& stretches) {
    constexpr std::size_t most_points = 512;
    Pieces drawn;
    std::size_t points = 0;
    const auto plot = [&] {
      if (drawn.empty()) return;
      plots_.push_back(fmt::format("{} using 1:2 with lines lw {}{} lc rgb '{}' notitle", add_data(drawn), line.width,
                                   line.dashed ? " dt (14,12)" : "", line.colour));
      drawn.clear();
      points = 0;
    };
    for (const std::vector<Point>& stretch : stretches) {
      if (stretch.size() < 2) continue;
      // A long stretch in parts that share their ends, where round caps meet.
      for (std::size_t from = 0; from + 1 < stretch.size(); from += most_points - 1) {
        const std::size_t to = std::min(stretch.size(), from + most_points);
        if (points + to - from > most_points) plot();
        points += to - from;
        drawn.emplace_back(stretch.begin() + static_cast<std::ptrdiff_t>(from),
                           stretch.begin() + static_cast<std::ptrdiff_t>(to));
      }
    }
    plot();
  }

  void add_group(const Mark& mark, const Pieces& places) {
    const std::string data = add_data(places);
    const auto add_point = [&](int type, double size, double width, Colour colour) {
      plots_.push_back(fmt::format("{} using 1:2 with points pt {} ps {} lw {} lc rgb '{}' notitle", data, type, size,
                                   width, colour));
    };
    switch (mark.kind) {
    case MarkKind::diamond:
      add_point(13, 1.125, 1, style::paper);
      add_point(12, 1.125, 1.6, mark.colour);
      break;
    case MarkKind::ring:
      add_point(7, 0.75, 1, style::paper);
      add_point(6, 0.6, 1.4, mark.colour);
      break;
    case MarkKind::dot: add_point(7, 0.5, 1, mark.colour); break;
    }
  }

  const Figure& figure_;
  std::string script_;
  std::vector<std::string> plots_;
  int blocks_ = 0;
};

void replace_all(std::string& text, std::string_view what, std::string_view with) {
  std::string out;
  std::size_t from = 0;
  for (std::size_t at = text.find(what); at != std::string::npos; at = text.find(what, from)) {
    out.append(text, from, at - from);
    out += with;
    from = at + what.size();
  }
  if (from == 0) return;
  out.append(text, from);
  text = std::move(out);
}

/// Removes every stretch from `opening` through `closing`.
void remove_all(std::string& text, std::string_view opening, std::string_view closing) {
  for (std::size_t at = text.find(opening); at != std::string::npos; at = text.find(opening, at)) {
    const std::size_t end = text.find(closing, at + opening.size());
    if (end == std::string::npos) return;
    text.erase(at, end + closing.size() - at);
  }
}

/// Plain edits of gnuplot's SVG: no producer's title, smooth edges.
void clean_svg(std::string& svg) {
  remove_all(svg, "<title>", "</title>\n");
  remove_all(svg, "<desc>", "</desc>\n");
  remove_all(svg, "\t<title>", "</title>\n");
  replace_all(svg, " shape-rendering=\"crispEdges\"", "");
  replace_all(svg, "shape-rendering='crispEdges'", "");
  replace_all(svg, "stroke-width=\"0.274\"", "stroke-width=\"0.45\"");
  const std::size_t open = svg.find("<svg");
  const std::size_t end = open == std::string::npos ? open : svg.find('>', open);
  if (end != std::string::npos) svg.insert(end + 1, "\n<desc>Drawn by Stasis</desc>");
}

/// Above all shapes, in the order in which they were placed.
void add_texts(std::string& svg, const std::vector<Text>& texts) {
  std::string elements;
  for (const Text& text : texts) elements += svg_text(text);
  svg.insert(svg.rfind("</svg>"), elements);
}

} // namespace

std::string gnuplot_script(const Figure& figure) { return Script(figure).text(); }

tl::expected<std::string, ProcessError> render_svg(const Figure& figure) {
  auto svg = run_process({"gnuplot", "-d", "-"}, gnuplot_script(figure));
  if (!svg) return svg;
  if (svg->find("</svg>") == std::string::npos) return tl::unexpected(ProcessError{"gnuplot drew nothing"});
  clean_svg(*svg);
  add_texts(*svg, figure.texts);
  return svg;
}

tl::expected<std::string, ProcessError> render_png(const std::string& svg) {
  auto png = run_process({"rsvg-convert", "--format=png"}, svg);
  return png ? signed_png(std::move(*png)) : png;
}

bool has_figure_font() {
  struct stat status {};
  if (::stat("/usr/share/fonts/opentype/inter/Inter-Regular.otf", &status) == 0) return true;
  const auto match = run_process({"fc-match", "-f", "%{family}", "Inter"}, "");
  return match && match->find("Inter") != std::string::npos;
}

} // namespace stasis::figure
