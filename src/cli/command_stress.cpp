// `stasis stress`: thousands of random plays, and the shortest that shows each trouble.
#include <algorithm>
#include <cmath>
#include <map>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/parallel.hpp"
#include "cli/progress.hpp"
#include "cli/version.hpp"
#include "core/search/stress.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "figure/take_figure.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr const char* stress_example = R"(Worked example:
  stasis stress otter.toml --plays 20000

plays 20,000 sessions of random input at 24 to 144 fps, and then lets go. Whatever was pressed,
every channel must stay in its range, come to rest, and rest at a value that the feel names. When
something fails, Stasis looks for the shortest take that shows it, prints it ready to paste, and
draws it. The same seed finds the same, on any number of threads. Exit status 1 if anything fails.)";

struct StressOptions {
  FeelCall feel;
  std::string plays = "2000", seed = "1", threads, still_after = "5";
  std::string out = "stasis-out", figure = "png";
  bool json = false, force = false;
};

/// How often one trouble was found, and the first play that showed it.
struct Tally {
  std::uint64_t count = 0;
  std::uint64_t first = ~std::uint64_t{0};
  TroubleFound found{};
};
using Tallies = std::map<std::pair<Trouble, std::size_t>, Tally>;

void add_to(Tallies& tallies, std::uint64_t number, const TroubleFound& found) {
  Tally& tally = tallies[{found.trouble, found.about}];
  ++tally.count;
  if (number >= tally.first) return;
  tally.first = number;
  tally.found = found;
}

class StressRun {
public:
  /// \param named how many findings have a name already
  StressRun(const LoadedFeel& loaded, const StressOptions& options, const StressRules& rules, std::size_t& named,
            Streams streams)
      : loaded_(loaded), options_(options), stress_(loaded.feel, rules), named_(named), streams_(streams) {}

  bool has_hands() const { return stress_.has_hands(); }

  void search(std::uint64_t plays, unsigned threads) {
    plays_ = plays;
    std::vector<Tallies> by_thread(threads);
    Progress progress(streams_.err, "runs", plays);
    constexpr std::uint64_t chunk = 64;
    share_out(
        plays, chunk, threads,
        [&](std::uint64_t first, std::uint64_t last, unsigned thread) {
          for (std::uint64_t number = first; number < last; ++number)
            for (const TroubleFound& found : stress_.troubles_of(stress_.play_of(number)))
              add_to(by_thread[thread], number, found);
        },
        [&](std::uint64_t done) { progress.show(done); });
    progress.clear();
    for (const Tallies& some : by_thread)
      for (const auto& [key, tally] : some) {
        Tally& all = tallies_[key];
        all.count += tally.count;
        if (tally.first < all.first) all.first = tally.first, all.found = tally.found;
      }
    for (auto& [key, tally] : tallies_) {
      shortest_.push_back(stress_.shrunk(stress_.play_of(tally.first), tally.found));
      const auto is_taken = [&](const std::string& name) {
        return std::any_of(loaded_.feel.takes.begin(), loaded_.feel.takes.end(),
                           [&](const Take& take) { return take.name == name; });
      };
      std::string name;
      do name = fmt::format("found_{}", ++named_);
      while (is_taken(name));
      names_.push_back(name);
    }
  }

  bool found_any() const { return !tallies_.empty(); }

  void print_text() {
    Output& out = streams_.out;
    out.line(fmt::format("{}{}: {} simulated sessions of random input, seed {}", printable(loaded_.name, 80),
                         loaded_.variant.empty() ? "" : ", variant " + loaded_.variant, plays_, options_.seed));
    if (tallies_.empty())
      out.line("  \u25cf nothing found: every channel stays in range and comes to rest where the feel says");
    std::size_t number = 0;
    for (const auto& [key, tally] : tallies_) {
      const StressPlay& play = shortest_[number];
      out.line(fmt::format("  \u2715 {} {}, in {} of {} runs", about(tally.found), in_words(tally.found.trouble),
                           tally.count, plays_));
      if (const auto detail = detail_of(tally.found); !detail.empty()) out.line("    " + detail);
      out.line(fmt::format("    the shortest take that shows it, {} action{}:", play.actions.size(),
                           play.actions.size() == 1 ? "" : "s"));
      out.line();
      out.write(stress_.text_of(play, take_name(++number)));
      out.line();
    }
  }

  std::string json() const {
    io::JsonWriter json;
    json.begin_object().key("stasis").text(version).key("feel").text(loaded_.name).key("variant");
    loaded_.variant.empty() ? json.null() : json.text(loaded_.variant);
    json.key("plays").integer(static_cast<long long>(plays_)).key("seed").text(options_.seed);
    json.key("findings").begin_array();
    std::size_t number = 0;
    for (const auto& [key, tally] : tallies_) {
      const StressPlay& play = shortest_[number++];
      json.begin_object().key("trouble").text(name_of(key.first)).key("about").text(about(tally.found));
      json.key("plays").integer(static_cast<long long>(tally.count));
      json.key("first_play").integer(static_cast<long long>(tally.first));
      json.key("actions").integer(static_cast<long long>(play.actions.size()));
      json.key("take").text(stress_.text_of(play, take_name(number))).end_object();
    }
    json.end_array().end_object();
    return json.take();
  }

  io::FileResult<void> draw(std::vector<std::string>& written) {
    std::size_t number = 0;
    for (const auto& [key, tally] : tallies_) {
      const StressPlay& play = shortest_[number++];
      const Take take = stress_.take_of(play, take_name(number));
      const Scene scene{&loaded_.feel, &take, clock_of(take)};
      MeasureSink measuring;
      figure::SeriesSink series;
      BlockSink* const sinks[] = {&measuring, &series};
      const TakeMeasures measures = measuring.take(stasis::play(scene, sinks));
      std::vector<std::string> only;
      if (!is_about_control(key.first)) only = {loaded_.feel.channels[tally.found.about].name};
      const figure::Figure figure = figure::take_figure({&scene, &measures, &series,
                                                         fmt::format("{} {}", about(tally.found), in_words(key.first)),
                                                         loaded_.variant, only, false});
      const std::string stem =
          fmt::format("{}/stress.{}{}", options_.out, loaded_.variant.empty() ? "" : loaded_.variant + ".", take.name);
      if (auto done = draw_figure(figure, stem, options_.figure, options_.force, written); !done) return done;
    }
    return {};
  }

private:
  /// Names that no take of the feel and no finding before has, so that all can be pasted into one feel.
  std::string take_name(std::size_t number) const { return names_[number - 1]; }

  std::string about(const TroubleFound& found) const {
    return is_about_control(found.trouble) ? loaded_.feel.controls[found.about].name
                                           : loaded_.feel.channels[found.about].name;
  }

  std::string detail_of(const TroubleFound& found) const {
    if (found.trouble == Trouble::double_press)
      return "only presses and clicks count for two within double_within when repeats_double is left out";
    if (found.trouble == Trouble::lost_press)
      return "a press before the value has crossed the centre asks for the side that was asked for already; side = "
             "\"stored\" counts each";
    const Channel& channel = loaded_.feel.channels[found.about];
    const std::string unit = channel.unit.empty() ? "" : " " + printable(channel.unit, 16);
    if (found.trouble == Trouble::jolt)
      return fmt::format("by {} at {} s, in its space", readable(found.value), readable(found.time));
    if (found.trouble == Trouble::frame_rate)
      return fmt::format("for instance it is sent to {}{}, and elsewhere at twice the frame rate",
                         readable(found.value, 4), unit);
    return fmt::format("for instance {} {}{}", found.trouble == Trouble::overshoot ? "to" : "at",
                       readable(found.value, 4), unit);
  }

  const LoadedFeel& loaded_;
  const StressOptions& options_;
  Stress stress_;
  std::size_t& named_;
  Streams streams_;
  std::uint64_t plays_ = 0;
  Tallies tallies_;
  std::vector<StressPlay> shortest_; ///< in the order of tallies_
  std::vector<std::string> names_;   ///< likewise, of their takes
};

} // namespace

Exit run_stress(const Arguments& arguments, Streams streams) {
  Call call("stasis stress", "Thousands of sessions of random input: does it drift, stick, jolt, or lose a press.",
            stress_example);
  StressOptions options;
  call.positional("feel", options.feel.file, "The feel, or - for standard input", true);
  call.repeated("--set", options.feel.set, "Override a value for this call: path=value");
  call.repeated("--variant", options.feel.variants, "This variant instead of the base feel; all: every one");
  call.flag("--allow-outside", options.feel.allow_outside, "Files that the feel names may lie outside its folder");
  call.option("--plays", options.plays, "How many sessions to play, 2000 if not given");
  call.option("--seed", options.seed, "Another seed, other sessions");
  call.option("--still-after", options.still_after, "Seconds after the last input by which every channel must rest");
  call.option("--threads", options.threads, "How many threads; as many as the machine has, if not given");
  call.folder(options.out, "Folder for the figures");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn for each finding");
  call.flag("--json", options.json, "Print the findings as JSON, one line a variant");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  const auto plays = number_option("--plays", options.plays, 1, 1e9, true, streams.err);
  const auto seed = number_option("--seed", options.seed, 0, 4294967295.0, true, streams.err);
  const auto still = number_option("--still-after", options.still_after, 0.01, 3600, false, streams.err);
  const auto threads = number_option(
      "--threads", options.threads.empty() ? fmt::format("{}", std::min(usual_threads(), 256u)) : options.threads, 1,
      256, true, streams.err);
  if (!plays || !seed || !still || !threads) return Exit::bad_input;
  const auto source = FeelSource::open(options.feel, streams.err);
  if (!source) return source.error();
  Exit worst = Exit::fine;
  std::size_t named = 0;
  for (const std::string& variant : source->chosen(options.feel.variants)) {
    const auto loaded = source->version(variant, {}, streams.err);
    if (!loaded) return loaded.error();
    StressRun run(*loaded, options, {static_cast<std::uint64_t>(*seed), 4.0, *still}, named, streams);
    if (!run.has_hands()) {
      print_error("the feel has no control, so there is nothing to press.", streams.err);
      return Exit::bad_input;
    }
    run.search(static_cast<std::uint64_t>(*plays), static_cast<unsigned>(*threads));
    if (options.json)
      streams.out.exact_line(run.json());
    else
      run.print_text();
    if (!run.found_any()) continue;
    worst = Exit::does_not_hold;
    if (options.figure == "none") continue;
    if (auto made = io::make_folder(options.out); !made) return failed(made.error(), streams.err);
    warn_without_font(streams.err);
    std::vector<std::string> written;
    const auto drawn = run.draw(written);
    for (const std::string& path : written) (options.json ? streams.err : streams.out).wrote(path);
    if (!drawn) return failed(drawn.error(), streams.err);
  }
  return worst;
}

} // namespace stasis::cli
