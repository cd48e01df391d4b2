// `stasis solve`: the numbers with which every want holds.
#include <algorithm>
#include <cmath>
#include <filesystem>
#include <unistd.h>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/search_program.hpp"
#include "cli/solve_report.hpp"
#include "cli/trial_call.hpp"
#include "core/feel/key_table.hpp"
#include "core/measure/comparison.hpp"
#include "core/text.hpp"
#include "figure/compare_figure.hpp"
#include "io/scratch_shelf.hpp"
#include "io/toml_edit.hpp"

namespace stasis::cli {
namespace {

constexpr const char* solve_example = R"text(Worked examples:
  stasis solve otter.toml --free motion.soft.frequency=0.5:5 --free motion.soft.damping_ratio=0.3:1.5
      the feel's wants hold with the least change of its numbers
  stasis solve otter.toml --free motion.soft.frequency=0.5:5 --free motion.soft.damping_ratio=0.3:1.5 \
      --want "fov.settling_time at_most 0.35" --want "fov.overshoot at_most 3" --prefer softest --write
      as soft as can be, and written into the feel, its comments kept
  stasis solve otter.toml --free "channel.fov.motion=soft|drift" --want "fov.overshoot at_most 0" --prefer quickest
      a choice among named motions

Every take, clock and variant of the call counts, and both ends of every setting. What is preferred:
least_change (of the numbers, relative to what they are), quickest (settling times of all moves),
softest (peak accelerations of all moves), or a measure such as fov.peak_speed, by its better side, or
fov.peak_speed=high. Exit status 1 if no numbers were found; then it says which wants conflict.)text";

struct SolveOptions {
  FeelCall feel;
  std::vector<std::string> free, wants;
  std::string prefer = "least_change", tries = "5000", seed = "1", fps;
  std::string out = "stasis-out", figure = "png";
  bool write = false, json = false, force = false;
};

class Solve {
public:
  Solve(const SolveOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (const Exit read = read_call(); read != Exit::fine) return read;
    if (const Exit opened = open_feel(); opened != Exit::fine) return opened;
    auto search = SearchProgram::start();
    if (!search) {
      print_error(search.error() + ".", streams_.err);
      return Exit::bad_file;
    }
    find(**search);
    return finish();
  }

private:
  Exit refuse(const std::string& message) const {
    print_error(message + ".", streams_.err);
    return Exit::bad_input;
  }

  Exit read_call() {
    if (options_.free.empty()) return refuse("--free is needed, such as --free motion.soft.frequency=0.5:5");
    for (const std::string& text : options_.free) {
      auto one = parse_free_value(text);
      if (!one) return refuse(fmt::format("--free {}: {}", printable(text, 80), one.error()));
      for (const FreeValue& other : free_)
        if (other.path == one->path) return refuse(fmt::format("--free names {} twice", printable(one->path, 60)));
      free_.push_back(std::move(*one));
    }
    for (const std::string& text : options_.wants) {
      auto want = parse_want(text);
      if (!want) return refuse(fmt::format("--want \"{}\": {}", printable(text, 80), want.error()));
      wants_.push_back(std::move(*want));
    }
    const auto tries = read_number(options_.tries), seed = read_number(options_.seed);
    if (!tries || *tries < 50 || *tries > 1e7 || *tries != std::floor(*tries))
      return refuse(fmt::format("--tries: expected a whole number from 50 to 10000000, found \"{}\"",
                                printable(options_.tries, 40)));
    if (!seed || *seed < 0 || *seed > 4294967295.0 || *seed != std::floor(*seed))
      return refuse(fmt::format("--seed: expected a whole number from 0 to 4294967295, found \"{}\"",
                                printable(options_.seed, 40)));
    tries_ = static_cast<int>(*tries);
    seed_ = static_cast<std::uint64_t>(*seed);
    if (options_.write && options_.feel.file == "-")
      return refuse("--write changes a file, and standard input is none");
    if (options_.write && !options_.feel.variants.empty())
      return refuse("--write writes into the feel itself; of a variant, take the numbers and write them there");
    return Exit::fine;
  }

  /// Which measures are asked for, for the sake of what is preferred.
  tl::expected<std::vector<std::string>, Exit> preferred_measures() {
    std::vector<std::string> measures;
    const std::string& word = options_.prefer;
    if (word == "least_change") {
      prefers_ = "with the least change";
      return measures;
    }
    preference_.kind = Preference::Kind::measures;
    if (word == "quickest" || word == "softest") {
      prefers_ = word == "quickest" ? "as quick as can be" : "as soft as can be";
      const auto loaded = load_feels(options_.feel, streams_.err);
      if (!loaded) return tl::unexpected(loaded.error());
      for (const Channel& channel : loaded->front().feel.channels)
        measures.push_back(channel.name + (word == "quickest" ? ".settling_time" : ".peak_acceleration"));
      return measures;
    }
    const auto equals = word.find('=');
    measures.push_back(word.substr(0, equals));
    const std::string side = equals == std::string::npos ? "" : word.substr(equals + 1);
    if (!side.empty() && side != "high" && side != "low") {
      print_error(fmt::format("--prefer: expected {}=high or =low, found \"{}\".", measures[0], printable(side, 40)),
                  streams_.err);
      return tl::unexpected(Exit::bad_input);
    }
    preference_.larger = side == "high";
    prefers_ = fmt::format("{} as {} as can be", measures[0], preference_.larger ? "large" : "small");
    side_is_open_ = side.empty();
    return measures;
  }

  Exit open_feel() {
    const auto measures = preferred_measures();
    if (!measures) return measures.error();
    TrialCall call{options_.feel, options_.fps, *measures, true, {}};
    for (const FreeValue& one : free_) call.free_paths.push_back(one.path);
    for (const auto& [measure, want] : wants_) call.measures.push_back(measure); // to be known, not to be preferred
    if (auto opened = open_trials(call, streams_.err); !opened) return opened.error();
    call.measures = *measures;
    auto opened = open_trials(call, streams_.err);
    if (!opened) return opened.error();
    opened_.emplace(std::move(*opened));
    for (const auto& [measure, want] : wants_) opened_->trials.add_want(want, measure);
    if (opened_->base.wants.empty() && wants_.empty())
      return refuse("nothing is wanted: the feel has no [[want]], and the call no --want");
    if (side_is_open_) {
      const Better side = better_side(*measure_named(opened_->base, all_known_names, measures->front()));
      if (side == Better::neither)
        return refuse(fmt::format("of {} neither side is the better one; say {}=low or {}=high", measures->front(),
                                  measures->front(), measures->front()));
      preference_.larger = side == Better::larger;
      prefers_ = fmt::format("{} as {} as can be", measures->front(), preference_.larger ? "large" : "small");
    }
    return check_free();
  }

  /// Each end of what is free has to be possible by itself.
  Exit check_free() {
    for (const FreeValue& one : free_) {
      std::vector<Node> ends;
      for (const std::string& name : one.names) ends.push_back(Node{name, {}});
      if (!one.is_choice()) ends = {number_node(one.low), number_node(one.high)};
      for (const Node& end : ends)
        if (auto feel = opened_->trials.cases()[0].variations.with({{one.path, end}}); !feel)
          return refuse(fmt::format("--free: {} = {} is not possible: {}", one.path, value_in_words(end),
                                    feel.error().front().message));
      const Node* now = opened_->trials.cases()[0].variations.at(one.path);
      present_names_.push_back(now == nullptr ? "" : now->text() != nullptr ? *now->text() : value_in_words(*now));
      present_.push_back(one.is_choice() ? std::nullopt : opened_->number_at(one.path));
    }
    return Exit::fine;
  }

  /// Every combination of names, each with the best numbers.
  void find(SearchProgram& search) {
    const auto before = opened_->trials.with({});
    std::vector<FreeValue> numbers;
    std::vector<std::optional<double>> present;
    std::uint64_t combinations = 1;
    for (std::size_t k = 0; k < free_.size(); ++k) {
      if (free_[k].is_choice()) {
        combinations *= free_[k].names.size();
      } else {
        numbers.push_back(free_[k]);
        present.push_back(present_[k]);
      }
    }
    for (std::uint64_t choice = 0; choice < combinations; ++choice) {
      std::vector<std::string> names(free_.size());
      std::vector<Assignment> fixed;
      std::uint64_t rest = choice;
      double renamed = 0.0;
      for (std::size_t k = 0; k < free_.size(); ++k) {
        if (!free_[k].is_choice()) continue;
        names[k] = free_[k].names[rest % free_[k].names.size()];
        rest /= free_[k].names.size();
        fixed.push_back({free_[k].path, Node{names[k], {}}});
        renamed += names[k] != present_names_[k] ? 1.0 : 0.0; // another name is a change too
      }
      Solver solver(opened_->trials, numbers, fixed, preference_, present, search);
      SolveAnswer answer = solver.solve(std::max(50, tries_ / static_cast<int>(combinations)), seed_);
      tried_ += answer.tries;
      if (preference_.kind == Preference::Kind::least_change) answer.after.value += renamed;
      const bool is_better =
          !answer_ || answer.after.violation < answer_->after.violation
          || (answer.after.violation == answer_->after.violation && answer.after.value < answer_->after.value);
      if (!is_better) continue;
      answer_ = std::move(answer);
      names_ = std::move(names);
    }
    if (before) answer_->before.outcome = *before;
  }

  SolveReport report() const {
    SolveReport out;
    out.answer = &*answer_;
    out.free = free_;
    out.names = names_;
    out.present = present_;
    out.present_names = present_names_;
    out.cases = &opened_->trials.cases();
    out.title = opened_->title;
    out.measures = opened_->trials.measures();
    out.units = opened_->units;
    out.prefers = prefers_;
    out.tries = tried_;
    return out;
  }

  /// The answer, or another one, as "path=value".
  std::vector<std::string> sets(const SolveAlternative* other) const {
    const SolveReport all = report();
    std::vector<std::string> out;
    for (std::size_t k = 0; k < free_.size(); ++k)
      out.push_back(fmt::format("{}={}", free_[k].path,
                                free_[k].is_choice()
                                    ? fmt::format("\"{}\"", names_[k])
                                    : shortest(other != nullptr ? all.number(*other, k) : all.number(k))));
    return out;
  }

  Exit finish() {
    const SolveReport all = report();
    if (options_.json)
      streams_.out.line(solve_json(all));
    else
      streams_.out.write(solve_text(all));
    if (options_.figure != "none")
      if (const auto drawn = draw(); !drawn) return failed(drawn.error(), streams_.err);
    if (!answer_->solved) {
      if (options_.write) (options_.json ? streams_.err : streams_.out).line("  nothing written: not every want holds");
      return Exit::does_not_hold;
    }
    return options_.write ? write() : Exit::fine;
  }

  /// The feel as it is, the answer, and others, over each other, on every take.
  io::FileResult<void> draw() {
    if (auto made = io::make_folder(options_.out); !made) return made;
    warn_without_font(streams_.err);
    std::vector<std::pair<std::string, std::vector<std::string>>> versions{
        {"now", {}}, {answer_->solved ? "solved" : "compromise", sets(nullptr)}};
    for (const SolveAlternative& other : answer_->alternatives)
      if (versions.size() < figure::most_contenders) versions.emplace_back(other.why, sets(&other));
    std::vector<LoadedFeel> feels;
    for (const auto& [name, values] : versions)
      if (auto loaded = opened_->source.version("", values, streams_.err)) feels.push_back(std::move(*loaded));
    if (feels.size() < 2) return {};
    std::vector<std::string> written;
    for (const std::string& name : opened_->trials.cases()[0].takes) {
      std::vector<Contender> contenders;
      for (std::size_t k = 0; k < feels.size(); ++k)
        for (const Take& take : feels[k].feel.takes)
          if (take.name == name)
            contenders.push_back(play_contender(versions[k].first, feels[k].feel, take, io::scratch_shelf()));
      const auto channels = shared_channels(contenders);
      if (channels.empty()) continue;
      if (auto done = draw_figure(figure::compare_figure({&contenders, &channels, feels[0].name, {}}),
                                  options_.out + "/solve." + name, options_.figure, options_.force, written);
          !done)
        return done;
    }
    for (const std::string& path : written) (options_.json ? streams_.err : streams_.out).line("  wrote " + path);
    return {};
  }

  Exit write() {
    const std::string& file = options_.feel.file;
    const auto lock = io::FileLock::take(file);
    if (!lock) return failed(lock.error(), streams_.err);
    auto text = io::read_file(file, most_document_bytes);
    if (!text) return failed(text.error(), streams_.err);
    std::string now = *text;
    const SolveReport all = report();
    for (std::size_t k = 0; k < free_.size(); ++k) {
      const std::string value = free_[k].is_choice() ? fmt::format("\"{}\"", names_[k]) : shortest(all.number(k));
      auto edit = io::edit_value(now, free_[k].path, value);
      if (!edit) {
        print_problems(edit.error(), {{file, now}}, streams_.err);
        return Exit::bad_input;
      }
      now = std::move(edit->text);
    }
    if (!is_valid_feel(file, now, options_.feel.allow_outside, streams_.err)) return Exit::bad_input;
    std::error_code error;
    const auto real = std::filesystem::canonical(file, error);
    if (auto done = io::write_file(error ? file : real.string(), now, true); !done)
      return failed(done.error(), streams_.err);
    (options_.json ? streams_.err : streams_.out).line("  wrote " + file);
    return Exit::fine;
  }

  const SolveOptions& options_;
  Streams streams_;
  std::vector<FreeValue> free_;
  std::vector<std::pair<std::string, Want>> wants_;
  std::vector<std::optional<double>> present_;
  std::vector<std::string> present_names_, names_;
  Preference preference_;
  std::string prefers_;
  bool side_is_open_ = false;
  int tries_ = 0, tried_ = 0;
  std::uint64_t seed_ = 1;
  std::optional<OpenedTrials> opened_;
  std::optional<SolveAnswer> answer_;
};

} // namespace

Exit run_solve(const Arguments& arguments, Streams streams) {
  Call call("stasis solve", "The numbers with which every want holds, and of those the preferred.", solve_example);
  SolveOptions options;
  call.positional("feel", options.feel.file, "The feel, or - for standard input", true);
  call.repeated("--free", options.free, "What may change: PATH=LOW:HIGH, or PATH=a|b|c for names");
  call.repeated("--want", options.wants, "Wanted beside the feel's own wants, such as \"fov.overshoot at_most 3\"");
  call.option("--prefer", options.prefer, "Of several answers: least_change, quickest, softest, or a measure");
  call.option("--tries", options.tries, "How many sets of numbers are tried at most, 5000 if not given");
  call.option("--seed", options.seed, "Another seed, another search");
  call.flag("--write", options.write, "Write the answer into the feel, its comments kept");
  call.repeated("--set", options.feel.set, "Override a value for this call: path=value");
  call.repeated("--variant", options.feel.variants, "This variant instead of the base feel; base; all");
  call.repeated("--take", options.feel.takes, "Only this take");
  call.option("--fps", options.fps, "Frames a second instead of each take's own, several with commas between");
  call.flag("--allow-outside", options.feel.allow_outside, "Files that the feel names may lie outside its folder");
  call.option("-o,--out", options.out, "Folder for the figures");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn: before and after, over each other");
  call.flag("--json", options.json, "Print the answer as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return Solve(options, streams).run();
}

} // namespace stasis::cli
