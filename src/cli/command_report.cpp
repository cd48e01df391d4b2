// `stasis report`: one page that shows the motion, measures it and says how it was made.
#include <algorithm>
#include <filesystem>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/hands_content.hpp"
#include "cli/kept_sweep.hpp"
#include "cli/load_feel.hpp"
#include "cli/page_parts.hpp"
#include "cli/progress.hpp"
#include "cli/sweep_report.hpp"
#include "cli/version.hpp"
#include "core/check/wants.hpp"
#include "core/check/warning.hpp"
#include "core/measure/comparison.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "figure/compare_figure.hpp"
#include "figure/rates_figure.hpp"
#include "figure/render.hpp"
#include "figure/take_figures.hpp"
#include "io/files.hpp"
#include "io/measures_json.hpp"
#include "io/scratch_shelf.hpp"
#include "report/page.hpp"

namespace stasis::cli {
namespace {

constexpr const char* report_example = R"(Worked example:
  stasis report otter.toml -o otter.html

writes one page that opens from disk and needs no network: a player that shows what the camera
sees, the versions side by side, charts, measures, wants, warnings, figures and the feel itself.
Without --variant it holds the feel as it is and every variant.
  stasis watch report otter.toml -o otter.html

writes it again at each change; the open page takes up the new one by itself.)";

/// Figures are the heaviest part of a page; a reader looks at the first few.
constexpr std::size_t most_figures = 6;

struct ReportOptions {
  FeelCall feel;
  std::string out = "stasis-out/report.html";
  std::string figure = "svg";
  std::vector<std::string> sweeps; ///< files that `stasis sweep` wrote
  bool json = false, force = false, watched = false, baked = false;
};

/// A word of a call as it would be typed.
std::string typed(const std::string& word) {
  const std::string plain = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_./=:,+@%";
  if (!word.empty() && word.find_first_not_of(plain) == std::string::npos) return word;
  std::string quoted = "'";
  for (const char c : word) quoted += c == '\'' ? std::string("'\\''") : std::string(1, c);
  return quoted + "'";
}

std::string call_as_typed(const Arguments& arguments) {
  std::string call = "stasis report";
  for (const std::string& word : arguments)
    if (word != "--watched") call += " " + typed(word);
  return call;
}

class Report {
public:
  Report(const ReportOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run(const Arguments& arguments) {
    const auto source = FeelSource::open(options_.feel, streams_.err);
    if (!source) return source.error();
    const std::vector<std::string> asked =
        options_.feel.variants.empty() ? std::vector<std::string>{"all"} : options_.feel.variants;
    for (const std::string& variant : source->chosen(asked)) {
      auto loaded = source->version(variant, {}, streams_.err);
      if (!loaded) return loaded.error();
      content_.versions.push_back(variant.empty() ? "base" : variant);
      feels_.push_back(std::move(*loaded));
    }
    content_.title = feels_.front().name;
    content_.program = std::string("Stasis ") + version;
    content_.call = call_as_typed(arguments);
    for (const Source& one : source->sources())
      if (!one.text.empty()) // of a recording only the columns were kept
        content_.sources.push_back({std::filesystem::path(one.name).filename().string(), one.text});
    for (std::size_t v = 0; v < feels_.size(); ++v)
      if (const auto done = play_version(v); done != Exit::fine) return done;
    if (content_.runs.empty()) {
      print_error("the feel has no take, so there is nothing to show. Write a [take.NAME] with a length and cues.",
                  streams_.err);
      return Exit::bad_input;
    }
    if (!options_.baked) carry_hands(*source);
    if (options_.figure != "none") {
      warn_without_font(streams_.err);
      if (auto drawn = draw(); !drawn) {
        const Exit ended = failed(drawn.error(), streams_.err);
        return drawn.error().refused ? Exit::bad_input : ended;
      }
    }
    auto written = write();
    return written ? Exit::fine : failed(written.error(), streams_.err);
  }

private:
  /// The page that is played, within this one.
  void carry_hands(const FeelSource& source) {
    const auto content = hands_content(options_.feel.file, source.sources().front().text, options_.feel.allow_outside);
    if (content)
      content_.hands = report::hands_page_html(*content, page_part);
    else
      streams_.err.line(fmt::format("stasis: note: this page cannot be played by hand: {}.", content.error().message));
  }

  Exit play_version(std::size_t v) {
    const LoadedFeel& loaded = feels_[v];
    for (const std::size_t index : loaded.takes) {
      const Take& take = loaded.feel.takes[index];
      report::PageRun run;
      run.version = v;
      run.scene = {&loaded.feel, &take, clock_of(take)};
      MeasureSink measuring;
      ProgressSink progress(streams_.err, run.scene);
      BlockSink* const sinks[] = {&measuring, &run.baked, &progress};
      const TakeMeasures measures = measuring.take(stasis::play(run.scene, sinks));
      run.measures = io::measures_json({version, loaded.name, loaded.variant}, run.scene, measures);
      for (const Want& want : loaded.feel.wants)
        if (want.every_take || want.take == index) run.wants.push_back(judge(want, loaded.feel, measures));
      run.warnings = warnings_of_feel(loaded.feel);
      for (Warning& one : warnings_of_take(loaded.feel, take, measures)) run.warnings.push_back(std::move(one));
      apply_silences(loaded.feel, run.warnings);
      content_.runs.push_back(std::move(run));
    }
    return Exit::fine;
  }

  io::FileResult<void> add_figure(const figure::Figure& figure, std::string take, std::string version_name) {
    if (content_.figures.size() == most_figures) {
      content_.figures_left_out = fmt::format("Only the first {} figures are here; `stasis run` and `stasis compare` "
                                              "draw the others.",
                                              most_figures);
      return {};
    }
    const auto svg = figure::render_svg(figure);
    if (!svg) {
      const char* const advice = svg.error().not_installed ? "install the Debian package gnuplot-nox, or " : "";
      return tl::unexpected(
          io::FileError{fmt::format("no figure: {}; {}give --figure none", svg.error().message, advice)});
    }
    content_.figures.push_back({std::move(take), std::move(version_name), *svg});
    return {};
  }

  /// What sweeps of this feel found, from the tables that they wrote.
  io::FileResult<void> draw_sweeps() {
    for (const std::string& file : options_.sweeps) {
      const auto refuse = [&](const std::string& why) {
        return tl::unexpected(io::FileError{fmt::format("--sweep {}: {}", printable(file, 120), why), true});
      };
      constexpr std::size_t most_bytes = std::size_t{1} << 28;
      const auto text = io::read_file(file, most_bytes);
      if (!text) return tl::unexpected(text.error());
      const auto kept = read_kept_sweep(*text);
      if (!kept) return refuse(kept.error());
      TrialCall call{options_.feel, options_.feel.fps, kept->sweep.measures, false, {}};
      for (const SweepAxis& axis : kept->sweep.points.axes()) call.free_paths.push_back(axis.path);
      const auto opened = open_trials(call, streams_.err);
      if (!opened) return refuse("it is of another feel");
      std::vector<Better> better;
      for (const std::string& measure : kept->sweep.measures)
        better.push_back(better_side(*measure_named(opened->base, all_known_names, measure)));
      const SweepTable table = table_of(*kept, *opened, better);
      SweepReport report{
          &kept->sweep.points, &table, content_.title, kept->sweep.measures, opened->units, better[0], {}, 0, {}};
      for (const SweepAxis& axis : kept->sweep.points.axes()) report.present.push_back(opened->number_at(axis.path));
      const auto figure = figure::sweep_figure(sweep_drawing(report, *opened));
      if (!figure) return refuse("it has no axis of numbers, or more than two, and so no figure");
      if (auto done =
              add_figure(*figure, std::filesystem::path(file).filename().string(), "what other numbers would do");
          !done)
        return done;
    }
    return {};
  }

  /// For each take the first two versions, and where there are two, both over each other.
  io::FileResult<void> draw() {
    if (auto done = draw_sweeps(); !done) return done;
    for (const std::size_t index : feels_.front().takes) {
      const std::string& name = feels_.front().feel.takes[index].name;
      std::vector<Contender> contenders;
      for (std::size_t v = 0; v < std::min<std::size_t>(feels_.size(), 2); ++v) {
        const Take& take = feels_[v].feel.takes[index];
        if (auto done = draw_take(v, take); !done) return done;
        contenders.push_back(play_contender(content_.versions[v], feels_[v].feel, take, io::scratch_shelf()));
      }
      if (contenders.size() < 2) continue;
      const auto channels = shared_channels(contenders);
      if (channels.empty()) continue;
      if (auto done = add_figure(figure::compare_figure({&contenders, &channels, content_.title, {}}), name, ""); !done)
        return done;
    }
    return {};
  }

  io::FileResult<void> draw_take(std::size_t v, const Take& take) {
    const Scene scene{&feels_[v].feel, &take, clock_of(take)};
    MeasureSink measuring;
    figure::TakeFigures figures(scene);
    std::vector<BlockSink*> sinks = figures.sinks();
    sinks.push_back(&measuring);
    const TakeMeasures measures = measuring.take(stasis::play(scene, sinks));
    for (const figure::TakeFigures::One& one : figures.all(measures, {content_.title, feels_[v].variant}))
      if (auto done =
              add_figure(one.draw(), take.name + (one.caption.empty() ? "" : ", " + one.caption), content_.versions[v]);
          !done)
        return done;
    return v == 0 ? draw_rates(take) : io::FileResult<void>{};
  }

  /// What the frame rate does, where the feel has per-frame rules or the take a tick.
  io::FileResult<void> draw_rates(const Take& take) {
    const Feel& feel = feels_.front().feel;
    const bool by_frames = std::any_of(feel.motions.begin(), feel.motions.end(), [](const NamedMotion& named) {
      return std::holds_alternative<PerFrame>(named.motion);
    });
    if (by_frames) {
      figure::RatesSeries series;
      const RatesAccount account = play_rates(feel, take, usual_cases(take, usual_rates_to_try()), {}, &series);
      if (auto done = add_figure(figure::rates_figure({&account, &series, content_.title, {}}),
                                 take.name + ", frame rates", content_.versions.front());
          !done)
        return done;
    }
    const std::vector<TickStudy> ticks = study_ticks(feel, take);
    if (ticks.empty()) return {};
    return add_figure(figure::ticks_figure({&feel, &take, &ticks, content_.title}), take.name + ", on its tick",
                      content_.versions.front());
  }

  io::FileResult<void> write() {
    const std::string newest = options_.out + ".newest.svg";
    if (options_.watched) content_.looks_again_at = std::filesystem::path(newest).filename().string();
    const std::string page_data = report::page_data_json(content_);
    const std::string html = report::page_html(content_, page_data, page_part);
    if (options_.out == "-") {
      streams_.out.bytes(html);
      return {};
    }
    if (const auto folder = std::filesystem::path(options_.out).parent_path(); !folder.empty())
      if (auto made = io::make_folder(folder.string()); !made) return made;
    if (auto done = io::write_file(options_.out, html, options_.force); !done) return done;
    if (options_.watched)
      if (auto done =
              io::write_file(newest, report::state_image(report::state_of(content_, page_data)), options_.force);
          !done)
        return done;
    say(html.size());
    return {};
  }

  void say(std::size_t bytes) {
    if (options_.json)
      for (const report::PageRun& run : content_.runs) streams_.out.line(run.measures);
    Output& talk = options_.json ? streams_.err : streams_.out;
    talk.line(printable(content_.title, 80));
    for (const report::PageRun& run : content_.runs) {
      const auto held = std::count_if(run.wants.begin(), run.wants.end(), [](const WantVerdict& w) { return w.holds; });
      const auto open = std::count_if(run.warnings.begin(), run.warnings.end(),
                                      [](const Warning& w) { return w.silenced_because.empty(); });
      talk.line(fmt::format("  {}, {}: {} of {} wants hold, {} warning{}", run.scene.take->name,
                            content_.versions[run.version], held, run.wants.size(), open, open == 1 ? "" : "s"));
    }
    talk.wrote(fmt::format("{} ({} kB)", options_.out, (bytes + 999) / 1000));
  }

  const ReportOptions& options_;
  Streams streams_;
  std::vector<LoadedFeel> feels_; ///< by version; not changed once a run points into them
  report::PageContent content_;
};

} // namespace

Exit run_report(const Arguments& arguments, Streams streams) {
  Call call("stasis report", "One page that opens anywhere: player, charts, measures, figures.", report_example);
  ReportOptions options;
  declare_feel_call(call, options.feel);
  call.option("-o,--out", options.out, "The page, or - for standard output");
  call.choice("--figure", options.figure, {"svg", "none"}, "What is drawn");
  call.repeated("--sweep", options.sweeps, "The table that a sweep of this feel wrote: its figure is on the page too");
  call.flag("--json", options.json, "Print the measures as JSON, one line a take and version");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  call.flag("--baked", options.baked, "Leave out the part that is played by hand: 1 MB less");
  call.flag("--watched", options.watched, "An open page takes up newer ones; `stasis watch` sets this");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (!options.sweeps.empty() && options.figure == "none") {
    print_error("--sweep puts a figure on the page, and --figure none draws none.", streams.err);
    return Exit::bad_input;
  }
  return Report(options, streams).run(arguments);
}

} // namespace stasis::cli
