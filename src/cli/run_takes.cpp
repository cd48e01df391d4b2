#include "cli/run_takes.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/run_text.hpp"
#include "cli/version.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "figure/render.hpp"
#include "figure/take_figure.hpp"
#include "io/files.hpp"
#include "io/measures_json.hpp"
#include "io/trace_csv.hpp"

namespace stasis {
namespace {

Exit file_failure(const FileError& error, Streams streams) {
  print_error(error.message + ".", streams.err);
  return Exit::bad_file;
}

Exit trace_to_output(const LoadedFeel& loaded, Streams streams) {
  if (loaded.takes.size() > 1) {
    print_error(
        fmt::format("-o - writes one trace, but {} takes were chosen. Name one with --take.", loaded.takes.size()),
        streams.err);
    return Exit::bad_input;
  }
  const Take& take = loaded.feel.takes[loaded.takes.front()];
  TraceCsvSink trace([&](std::string_view text) { streams.out.write(text); });
  BlockSink* const sinks[] = {&trace};
  for (const std::string& note : play({&loaded.feel, &take, steady_clock(take.fps, take.length)}, sinks))
    streams.err.line("note: " + note);
  return Exit::fine;
}

bool known_channels(const Feel& feel, const std::vector<std::string>& names, Output& err) {
  std::vector<std::string_view> known;
  for (const Channel& channel : feel.channels) known.push_back(channel.name);
  for (const std::string& name : names) {
    if (std::find(known.begin(), known.end(), name) != known.end()) continue;
    const auto close = nearest(name, known);
    print_error(fmt::format("--only: the feel has no channel \"{}\"{}. Known: {}.", printable(name, 60),
                            close ? fmt::format("; did you mean {}?", *close) : "", listed(known)),
                err);
    return false;
  }
  return true;
}

/// One take: its files, then its text.
class TakeRun {
public:
  TakeRun(const LoadedFeel& loaded, const Take& take, const RunOptions& options)
      : loaded_(loaded), options_(options), scene_{&loaded.feel, &take, steady_clock(take.fps, take.length)},
        stem_(options.out + "/" + take.name) {}

  FileResult<void> write() {
    auto trace_file = AtomicFile::open(stem_ + ".trace.csv", options_.force);
    if (!trace_file) return tl::unexpected(trace_file.error());
    auto measures_file = AtomicFile::open(stem_ + ".measures.json", options_.force);
    if (!measures_file) return tl::unexpected(measures_file.error());
    TraceCsvSink trace([&](std::string_view text) { trace_file->write(text); });
    MeasureSink measuring;
    std::vector<BlockSink*> sinks{&trace, &measuring};
    if (options_.figure != "none") sinks.push_back(&series_);
    measures_ = measuring.take(play(scene_, sinks));
    json_ = measures_json({version, loaded_.name, ""}, scene_, measures_);
    measures_file->write(json_);
    measures_file->write("\n");
    for (AtomicFile* file : {&*trace_file, &*measures_file}) {
      if (auto done = file->commit(); !done) return done;
      written_.push_back(file->path());
    }
    return {};
  }

  /// Draws the take as SVG, and as PNG from that SVG if asked for.
  FileResult<void> draw() {
    const Figure figure = take_figure({&scene_, &measures_, &series_, loaded_.name, "", options_.only});
    const auto svg = render_svg(figure);
    if (!svg) return drawing_failed(svg.error(), "gnuplot-nox");
    if (auto done = write_picture(".svg", *svg); !done || options_.figure == "svg") return done;
    const auto png = render_png(*svg);
    if (!png) return drawing_failed(png.error(), "librsvg2-bin");
    return write_picture(".png", *png);
  }

  const Scene& scene() const noexcept { return scene_; }
  const TakeMeasures& measures() const noexcept { return measures_; }
  const std::string& json() const noexcept { return json_; }
  const std::vector<std::string>& written() const noexcept { return written_; }

private:
  FileResult<void> write_picture(const char* extension, const std::string& bytes) {
    auto done = write_file(stem_ + extension, bytes, options_.force);
    if (done) written_.push_back(stem_ + extension);
    return done;
  }

  static tl::unexpected<FileError> drawing_failed(const ProcessError& error, const char* package) {
    const std::string advice = error.not_installed ? fmt::format("install the Debian package {}, or ", package) : "";
    return tl::unexpected(FileError{fmt::format("no figure: {}; {}give --figure none", error.message, advice)});
  }

  const LoadedFeel& loaded_;
  const RunOptions& options_;
  Scene scene_;
  std::string stem_;
  SeriesSink series_;
  TakeMeasures measures_;
  std::string json_;
  std::vector<std::string> written_;
};

void report(const TakeRun& run, const std::string& name, const RunOptions& options, Streams streams) {
  if (options.json)
    streams.out.line(run.json());
  else
    streams.out.write(run_text(name, run.scene(), run.measures()));
}

} // namespace

Exit run_takes(const LoadedFeel& loaded, const RunOptions& options, Streams streams) {
  if (!known_channels(loaded.feel, options.only, streams.err)) return Exit::bad_input;
  if (options.out == "-") return trace_to_output(loaded, streams);
  if (auto made = make_folder(options.out); !made) return file_failure(made.error(), streams);
  if (options.figure != "none" && !has_figure_font())
    streams.err.line(
        "stasis: warning: the typeface Inter is not installed (Debian package fonts-inter); figures use another.");
  for (const std::size_t index : loaded.takes) {
    TakeRun run(loaded, loaded.feel.takes[index], options);
    auto done = run.write();
    if (done) report(run, loaded.name, options, streams);
    if (done && options.figure != "none") done = run.draw();
    Output& talk = options.json ? streams.err : streams.out;
    for (const std::string& path : run.written()) talk.line("  wrote " + path);
    if (!done) return file_failure(done.error(), streams);
  }
  return Exit::fine;
}

} // namespace stasis
