#include "cli/run_takes.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/progress.hpp"
#include "cli/run_text.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "figure/take_figures.hpp"
#include "figure/text_chart.hpp"
#include "io/files.hpp"
#include "io/measures_json.hpp"
#include "io/trace_csv.hpp"

namespace stasis::cli {
namespace {

Exit trace_to_output(const std::vector<LoadedFeel>& feels, Streams streams) {
  const LoadedFeel& loaded = feels.front();
  if (feels.size() > 1 || loaded.takes.size() > 1) {
    print_error(fmt::format("-o - writes one trace, but {} were chosen. Name one with {}.",
                            feels.size() > 1 ? fmt::format("{} variants", feels.size())
                                             : fmt::format("{} takes", loaded.takes.size()),
                            feels.size() > 1 ? "--variant" : "--take"),
                streams.err);
    return Exit::bad_input;
  }
  const Take& take = loaded.feel.takes[loaded.takes.front()];
  io::TraceCsvSink trace([&](std::string_view text) { streams.out.exactly(text); });
  BlockSink* const sinks[] = {&trace};
  for (const std::string& note : play({&loaded.feel, &take, clock_of(take)}, sinks)) streams.err.line("note: " + note);
  return Exit::fine;
}

} // namespace

bool known_channels(const Feel& feel, const std::vector<std::string>& names, Output& err) {
  std::vector<std::string_view> known;
  for (const Channel& channel : feel.channels) known.push_back(channel.name);
  for (const std::string& name : names) {
    if (std::find(known.begin(), known.end(), name) != known.end()) continue;
    print_error(fmt::format("--only: the feel has no channel \"{}\".{} Known: {}.", printable(name, 60),
                            did_you_mean(name, known), listed(known)),
                err);
    return false;
  }
  return true;
}

namespace {

/// Pictures, not characters.
bool draws_files(const RunOptions& options) { return options.figure == "svg" || options.figure == "png"; }

/// One take: its files, then its text.
class TakeRun {
public:
  TakeRun(const LoadedFeel& loaded, const Take& take, const RunOptions& options, Output& err)
      : loaded_(loaded), options_(options), err_(err), scene_{&loaded.feel, &take, clock_of(take)},
        stem_(options.out + "/" + take.name + (loaded.variant.empty() ? "" : "." + loaded.variant)) {}

  io::FileResult<void> write() {
    auto trace_file = io::AtomicFile::open(stem_ + ".trace.csv", options_.force);
    if (!trace_file) return tl::unexpected(trace_file.error());
    auto measures_file = io::AtomicFile::open(stem_ + ".measures.json", options_.force);
    if (!measures_file) return tl::unexpected(measures_file.error());
    io::TraceCsvSink trace([&](std::string_view text) { trace_file->write(text); });
    MeasureSink measuring;
    std::vector<BlockSink*> sinks{&trace, &measuring};
    if (draws_files(options_))
      for (BlockSink* sink : figures_.sinks()) sinks.push_back(sink);
    if (options_.figure == "text") sinks.push_back(&chart_);
    ProgressSink progress(err_, scene_);
    sinks.push_back(&progress);
    measures_ = measuring.take(play(scene_, sinks));
    json_ = io::measures_json({version, loaded_.name, loaded_.variant}, scene_, measures_);
    measures_file->write(json_);
    measures_file->write("\n");
    for (io::AtomicFile* file : {&*trace_file, &*measures_file}) {
      if (auto done = file->commit(); !done) return done;
      written_.push_back(file->path());
    }
    return {};
  }

  /// Draws the take as SVG, and as PNG from that SVG if asked for.
  io::FileResult<void> draw() {
    for (const figure::TakeFigures::One& one :
         figures_.all(measures_, {loaded_.name, loaded_.variant, options_.only, options_.picture_scale}))
      if (auto done = draw_figure(one.draw(), stem_ + one.suffix, options_.figure, options_.force, written_); !done)
        return done;
    return {};
  }

  std::string chart() const { return chart_.text(); }
  const std::string& variant() const noexcept { return loaded_.variant; }
  const Scene& scene() const noexcept { return scene_; }
  const TakeMeasures& measures() const noexcept { return measures_; }
  const std::string& json() const noexcept { return json_; }
  const std::vector<std::string>& written() const noexcept { return written_; }

private:
  const LoadedFeel& loaded_;
  const RunOptions& options_;
  Output& err_;
  Scene scene_;
  std::string stem_;
  figure::TakeFigures figures_{scene_};
  figure::TextChart chart_{{line_width(), 4}, options_.only};
  TakeMeasures measures_;
  std::string json_;
  std::vector<std::string> written_;
};

/// What is measured, with no file written.
Exit measures_only(const std::vector<LoadedFeel>& feels, const RunOptions& options, Streams streams) {
  for (const LoadedFeel& loaded : feels)
    for (const std::size_t index : loaded.takes) {
      const Take& take = loaded.feel.takes[index];
      const Scene scene{&loaded.feel, &take, clock_of(take)};
      MeasureSink measuring;
      figure::TextChart chart({line_width(), 4}, options.only);
      std::vector<BlockSink*> sinks{&measuring};
      if (options.figure == "text") sinks.push_back(&chart);
      ProgressSink progress(streams.err, scene);
      sinks.push_back(&progress);
      const TakeMeasures measures = measuring.take(play(scene, sinks));
      if (options.json)
        streams.out.exact_line(io::measures_json({version, loaded.name, loaded.variant}, scene, measures));
      else
        streams.out.write(run_text(loaded.name, loaded.variant, scene, measures, options.only, streams.out));
      if (options.figure == "text") streams.out.write(chart.text());
    }
  return Exit::fine;
}

void report(const TakeRun& run, const std::string& name, const RunOptions& options, Streams streams) {
  if (options.json)
    streams.out.exact_line(run.json());
  else
    streams.out.write(run_text(name, run.variant(), run.scene(), run.measures(), options.only, streams.out));
  if (options.figure == "text") streams.out.write(run.chart());
}

} // namespace

Exit run_takes(const std::vector<LoadedFeel>& feels, const RunOptions& options, Streams streams) {
  for (const LoadedFeel& loaded : feels)
    if (!known_channels(loaded.feel, options.only, streams.err)) return Exit::bad_input;
  if (options.out == "-" && options.json) {
    print_error("-o - and --json would both write to standard output; -o none --json prints the measures alone.",
                streams.err);
    return Exit::bad_input;
  }
  if (options.figure == "text" && (options.json || options.out == "-")) {
    print_error("--figure text is for a reader; leave --json and -o - out, or give --figure none.", streams.err);
    return Exit::bad_input;
  }
  if (options.out == "-") return trace_to_output(feels, streams);
  if (options.out == "none") return measures_only(feels, options, streams);
  if (auto made = io::make_folder(options.out); !made) return failed(made.error(), streams.err);
  if (draws_files(options)) warn_without_font(streams.err);
  for (const LoadedFeel& loaded : feels)
    for (const std::size_t index : loaded.takes) {
      TakeRun run(loaded, loaded.feel.takes[index], options, streams.err);
      auto done = run.write();
      if (done) report(run, loaded.name, options, streams);
      if (done && draws_files(options)) done = run.draw();
      Output& talk = options.json ? streams.err : streams.out;
      for (const std::string& path : run.written()) talk.wrote(path);
      if (!done) return failed(done.error(), streams.err);
    }
  return Exit::fine;
}

} // namespace stasis::cli
