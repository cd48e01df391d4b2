// `stasis sweep`: many values of a few numbers, each played and measured.
#include <algorithm>
#include <cmath>
#include <csignal>
#include <filesystem>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/parallel.hpp"
#include "cli/progress.hpp"
#include "cli/sweep_report.hpp"
#include "cli/trial_call.hpp"
#include "core/text.hpp"
#include "figure/sweep_figure.hpp"

namespace stasis::cli {
namespace {

constexpr const char* sweep_example = R"(Worked examples:
  stasis sweep otter.toml --over motion.soft.frequency=1:3:21 --measure fov.settling_time
      where is it quick enough? A line plot with the feel's wants
  stasis sweep otter.toml --over motion.soft.frequency=1:3:40 --over motion.soft.damping_ratio=0.4:1.2:40 \
                          --measure fov.settling_time --measure fov.overshoot
      two numbers: a map, with the edge where each want begins to hold
  stasis sweep otter.toml --over channel.fov.motion=soft,drift,snatch --measure fov.settling_time
      a whole motion by its name
  stasis sweep otter.toml --samples 500 --over motion.soft.frequency=1:3 --over motion.drift.half_life=0.05:0.5:log \
                          --measure fov.settling_time
      at random: which number matters most

Many machines: --part 3/40 plays the third of 40 shares and writes sweep.3-of-40.csv;
  stasis sweep --gather OUT/sweep.*-of-40.csv -o OUT
puts them together into the bytes that one run writes.)";

struct SweepOptions {
  FeelCall feel;
  std::vector<std::string> files, over, measures;
  std::string samples, seed, part = "1/1", best, threads, fps;
  std::string out = "stasis-out", figure = "png";
  bool gather = false, json = false, force = false;
};

volatile std::sig_atomic_t interrupted = 0;
void note_interrupt(int) { interrupted = 1; }

class Sweep {
public:
  Sweep(const SweepOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (const Exit read = read_call(); read != Exit::fine) return read;
    if (const Exit opened = open_feel(); opened != Exit::fine) return opened;
    if (auto made = io::make_folder(options_.out); !made) return failed(made.error(), streams_.err);
    const SweepTable table = play();
    return finish(table);
  }

private:
  Exit refuse(const std::string& message) const {
    print_error(message + ".", streams_.err);
    return Exit::bad_input;
  }

  Exit read_call() {
    if (options_.over.empty()) return refuse("--over is needed, such as --over motion.soft.frequency=1:3:21");
    if (options_.measures.empty()) return refuse("--measure is needed, such as --measure fov.settling_time");
    std::vector<SweepAxis> axes;
    for (const std::string& text : options_.over) {
      auto axis = parse_sweep_axis(text, !options_.samples.empty());
      if (!axis) return refuse(fmt::format("--over {}: {}", printable(text, 80), axis.error()));
      for (const SweepAxis& other : axes)
        if (other.path == axis->path) return refuse(fmt::format("--over names {} twice", printable(axis->path, 60)));
      axes.push_back(std::move(*axis));
    }
    constexpr double most_points = 1'000'000;
    double count = 1.0;
    for (const SweepAxis& axis : axes) count *= static_cast<double>(std::max<std::size_t>(1, axis.values.size()));
    if (count > most_points)
      return refuse(fmt::format("that is {} points; a sweep has at most {}", concise(count, 6), shortest(most_points)));
    if (options_.samples.empty()) {
      if (!options_.seed.empty()) return refuse("--seed belongs to --samples: a grid has nothing random");
      points_.emplace(std::move(axes));
    } else {
      const auto samples = number_option("--samples", options_.samples, 1, most_points, true, streams_.err),
                 seed = number_option("--seed", options_.seed.empty() ? "1" : options_.seed, 0, 4294967295.0, true,
                                      streams_.err);
      if (!samples || !seed) return Exit::bad_input;
      points_.emplace(std::move(axes), static_cast<std::uint64_t>(*samples), static_cast<std::uint64_t>(*seed));
    }
    return read_part();
  }

  Exit read_part() {
    const auto slash = options_.part.find('/');
    const auto number = read_number(std::string_view(options_.part).substr(0, slash));
    const auto of =
        slash == std::string::npos ? std::nullopt : read_number(std::string_view(options_.part).substr(slash + 1));
    if (!number || !of || *of < 1 || *number < 1 || *number > *of || *of > 1e6 || *number != std::floor(*number)
        || *of != std::floor(*of))
      return refuse(fmt::format("--part: expected K/N, such as 3/40, found \"{}\"", printable(options_.part, 40)));
    part_ = {static_cast<std::uint64_t>(*number), static_cast<std::uint64_t>(*of)};
    const auto threads = number_option(
        "--threads", options_.threads.empty() ? fmt::format("{}", std::min(usual_threads(), 256u)) : options_.threads,
        1, 256, true, streams_.err);
    if (!threads) return Exit::bad_input;
    threads_ = static_cast<unsigned>(*threads);
    return Exit::fine;
  }

  Exit open_feel() {
    TrialCall call{options_.feel, options_.fps, options_.measures, false, {}};
    for (const SweepAxis& axis : points_->axes()) call.free_paths.push_back(axis.path);
    auto trials = open_trials(call, streams_.err);
    if (!trials) return trials.error();
    opened_.emplace(std::move(*trials));
    for (const std::string& measure : options_.measures) {
      Better side = better_side(*measure_named(opened_->base, all_known_names, measure));
      if (&measure == &options_.measures.front()) {
        if (options_.best == "high") side = Better::larger;
        if (options_.best == "low") side = Better::smaller;
        if (side == Better::neither)
          return refuse(fmt::format("{} has no better side; say --best low or --best high", measure));
      }
      better_.push_back(side);
    }
    // What cannot be read at the first and at the last point is a fault of the call.
    for (const std::uint64_t point : {std::uint64_t{0}, points_->count() - 1})
      for (const Assignment& one : points_->assignments(point))
        if (!is_possible(*opened_, "--over", one.path, one.value, streams_.err)) return Exit::bad_input;
    return Exit::fine;
  }

  SweepTable play() {
    struct sigaction action {
    }, before{};
    action.sa_handler = note_interrupt;
    ::sigaction(SIGINT, &action, &before);
    const std::uint64_t count = part_.last(points_->count()) - part_.first(points_->count());
    Progress progress(streams_.err, "points", count);
    SweepTable table = run_sweep(opened_->trials, *points_, part_, better_, threads_, [&](std::uint64_t done) {
      progress.show(done);
      return interrupted == 0;
    });
    progress.clear();
    ::sigaction(SIGINT, &before, nullptr);
    return table;
  }

  Exit finish(const SweepTable& table) {
    SweepReport report{&*points_, &table, opened_->title, options_.measures, opened_->units, better_[0], {}, 0, {}};
    for (const SweepAxis& axis : points_->axes()) report.present.push_back(opened_->number_at(axis.path));
    const std::string name = part_.of == 1 ? "sweep.csv" : fmt::format("sweep.{}-of-{}.csv", part_.number, part_.of);
    report.csv = options_.out + "/" + name;
    std::string text = sweep_header(*points_, options_.measures);
    for (const std::string& rows : table.rows) {
      text += rows;
      report.rows += static_cast<std::size_t>(std::count(rows.begin(), rows.end(), '\n'));
    }
    if (auto done = io::write_file(report.csv, text, options_.force); !done) return failed(done.error(), streams_.err);
    std::vector<std::string> written{report.csv};
    const bool is_whole = table.done == points_->count();
    if (options_.json)
      streams_.out.exact_line(sweep_json(report));
    else if (part_.of > 1)
      streams_.out.line(fmt::format("{}: share {} of {}, {} points", printable(opened_->title, 80), part_.number,
                                    part_.of, table.done));
    else
      streams_.out.write(sweep_text(report));
    if (is_whole && options_.figure != "none")
      if (auto drawn = draw(report, written); !drawn) return failed(drawn.error(), streams_.err);
    for (const std::string& path : written) (options_.json ? streams_.err : streams_.out).wrote(path);
    if (interrupted == 0) return Exit::fine;
    streams_.err.line(fmt::format("stasis: interrupted; the first {} points are in {}", table.done, report.csv));
    streams_.out.flush();
    streams_.err.flush();
    ::raise(SIGINT); // so that who called knows
    return Exit::fault;
  }

  io::FileResult<void> draw(const SweepReport& report, std::vector<std::string>& written) {
    const auto figure = figure::sweep_figure(sweep_drawing(report, *opened_));
    if (!figure) return {};
    warn_without_font(streams_.err);
    return draw_figure(*figure, options_.out + "/sweep", options_.figure, options_.force, written);
  }

  const SweepOptions& options_;
  Streams streams_;
  std::optional<SweepPoints> points_;
  SweepPart part_;
  unsigned threads_ = 1;
  std::optional<OpenedTrials> opened_;
  std::vector<Better> better_;
};

/// The number and the count of shares in a name such as "sweep.3-of-40.csv".
std::optional<SweepPart> part_of_name(const std::string& file) {
  const std::string name = std::filesystem::path(file).filename().string();
  unsigned long long number = 0, of = 0;
  char rest = 0;
  if (std::sscanf(name.c_str(), "sweep.%llu-of-%llu.cs%c", &number, &of, &rest) != 3 || rest != 'v')
    return std::nullopt;
  return SweepPart{number, of};
}

/// Puts the shares of a sweep together.
Exit gather(const SweepOptions& options, Streams streams) {
  const auto refuse = [&](const std::string& message) {
    print_error(message + ".", streams.err);
    return Exit::bad_input;
  };
  if (options.files.empty()) return refuse("--gather is followed by the shares, such as OUT/sweep.*-of-40.csv");
  std::vector<std::pair<std::uint64_t, std::string>> shares;
  std::uint64_t of = 0;
  for (const std::string& file : options.files) {
    const auto part = part_of_name(file);
    if (!part) return refuse(printable(file, 120) + " is not a share: shares are named sweep.K-of-N.csv");
    if (of != 0 && part->of != of)
      return refuse(fmt::format("shares of {} and of {} do not belong together", of, part->of));
    of = part->of;
    shares.emplace_back(part->number, file);
  }
  std::sort(shares.begin(), shares.end());
  std::string text, header;
  for (std::uint64_t k = 1; k <= of; ++k) {
    if (k > shares.size() || shares[k - 1].first != k)
      return refuse(fmt::format("share {} of {} is missing{}", k, of,
                                k > 1 && k <= shares.size() && shares[k - 1].first == shares[k - 2].first
                                    ? ", and another is there twice"
                                    : ""));
    constexpr std::size_t most_bytes = std::size_t{1} << 32;
    const auto share = io::read_file(shares[k - 1].second, most_bytes);
    if (!share) return failed(share.error(), streams.err);
    const auto end = share->find('\n') == std::string::npos ? share->size() : share->find('\n') + 1;
    if (k == 1) text = header = share->substr(0, end);
    if (share->substr(0, end) != header)
      return refuse(printable(shares[k - 1].second, 120)
                    + " is of another sweep: its first line is not that of the others");
    text += share->substr(end);
  }
  if (shares.size() != of) return refuse(fmt::format("{} shares were given of {}", shares.size(), of));
  if (auto made = io::make_folder(options.out); !made) return failed(made.error(), streams.err);
  const std::string out = options.out + "/sweep.csv";
  if (auto done = io::write_file(out, text, options.force); !done) return failed(done.error(), streams.err);
  streams.out.line(fmt::format("{} shares, {} rows", of, std::count(text.begin(), text.end(), '\n') - 1));
  streams.out.wrote(out);
  return Exit::fine;
}

} // namespace

Exit run_sweep_command(const Arguments& arguments, Streams streams) {
  Call call("stasis sweep", "Many values of a few numbers, each played and measured: a plot, a map, a table.",
            sweep_example);
  SweepOptions options;
  call.positionals("feel", options.files, "The feel, or - for standard input; with --gather the shares");
  call.repeated("--over", options.over, "PATH=LOW:HIGH:COUNT, with :log by equal factors; or PATH=a,b,c");
  call.repeated("--measure", options.measures,
                "What is measured, such as fov.settling_time; the first decides the best");
  call.option("--samples", options.samples, "This many points at random, each --over as PATH=LOW:HIGH");
  call.option("--seed", options.seed, "Another seed, other samples; 1 if not given");
  call.choice("--best", options.best, {"low", "high"}, "Which side of the first measure is better");
  call.option("--part", options.part, "Only this share of the points: K/N");
  call.flag("--gather", options.gather, "Put shares together: no feel, but their files");
  declare_trial_call(call, options.feel, options.fps);
  call.option("--threads", options.threads, "How many threads; as many as the machine has, if not given");
  call.folder(options.out, "Folder for the files");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn");
  call.flag("--json", options.json, "Print what was found as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (options.gather) {
    if (!options.over.empty() || !options.measures.empty() || !options.samples.empty()) {
      print_error("--gather puts files together and plays nothing: it goes with -o and --force only.", streams.err);
      return Exit::bad_input;
    }
    return gather(options, streams);
  }
  if (options.files.size() != 1) {
    print_error(options.files.empty() ? "no feel was given. `stasis sweep --help` shows what it takes."
                                      : "one feel is swept at a time.",
                streams.err);
    return Exit::bad_input;
  }
  options.feel.file = options.files.front();
  return Sweep(options, streams).run();
}

} // namespace stasis::cli
