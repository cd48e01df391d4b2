// `stasis solve`: the numbers with which every want holds.
#include <algorithm>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/progress.hpp"
#include "cli/rewrite_feel.hpp"
#include "cli/search_call.hpp"
#include "cli/search_program.hpp"
#include "cli/solve_report.hpp"
#include "core/measure/comparison.hpp"
#include "core/text.hpp"
#include "figure/compare_figure.hpp"
#include "io/scratch_shelf.hpp"

namespace stasis::cli {
namespace {

constexpr const char* solve_example = R"text(Worked examples:
  stasis solve otter.toml --free motion.soft.frequency=0.5:5 --free motion.soft.damping_ratio=0.3:1.5
      the feel's wants hold with the least change of its numbers
  stasis solve first.toml --free channel.fov.motion.frequency=0.5:5 \
      --free channel.fov.motion.damping_ratio=0.3:1.5 \
      --want "fov.settling_time at_most 0.35" --want "fov.overshoot at_most 3" --prefer softest --write
      as soft as can be, and written into the feel; comments stay
  stasis solve otter.toml --take approach --free "channel.fov.motion=soft|drift" --prefer quickest
      a choice among named motions

Wants must hold in every take, clock and variant of the call, and at both ends of every setting. --prefer:
least_change (of the numbers, relative to what they are), quickest (settling times of all moves),
softest (peak accelerations of all moves), or a measure such as fov.peak_speed, by its better side, or
fov.peak_speed=high. Exit status 1 if no numbers were found; then it says which wants conflict.)text";

struct SolveOptions {
  SearchCall search;
  std::string prefer = "least_change", out = "stasis-out", figure = "png", call;
  bool write = false, json = false, force = false;
};

class Solve {
public:
  Solve(const SolveOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (options_.write && options_.search.feel.file == "-")
      return refuse("--write changes a file; standard input is not a file");
    if (options_.write && !options_.search.feel.variants.empty())
      return refuse("--write writes into the feel itself; of a variant, take the numbers and write them there");
    constexpr int least_tries = 50;
    auto opened = open_search(options_.search, least_tries, true, streams_.err);
    if (!opened) return opened.error();
    opened_.emplace(std::move(*opened));
    if (!opened_->has_wants) return refuse("nothing is wanted: the feel has no [[want]], and the call no --want");
    if (const Exit preferring = read_preference(); preferring != Exit::fine) return preferring;
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

  /// Which measures are asked for, for the sake of what is preferred, and which side of them.
  Exit read_preference() {
    const std::string& word = options_.prefer;
    prefers_ = "with the least change";
    if (word == "least_change") return Exit::fine;
    preference_.kind = Preference::Kind::measures;
    std::vector<std::string> measures;
    if (word == "quickest" || word == "softest") {
      prefers_ = word == "quickest" ? "as quick as can be" : "as soft as can be";
      for (const Channel& channel : opened_->trials.base.channels)
        measures.push_back(channel.name + (word == "quickest" ? ".settling_time" : ".peak_acceleration"));
      return ask_for(opened_->trials, std::move(measures), streams_.err) ? Exit::fine : Exit::bad_input;
    }
    const auto equals = word.find('=');
    const std::string measure = word.substr(0, equals);
    const std::string side = equals == std::string::npos ? "" : word.substr(equals + 1);
    if (equals != std::string::npos && side != "high" && side != "low")
      return refuse(
          fmt::format("--prefer: expected {}=high or =low, found \"{}\"", printable(measure, 60), printable(side, 40)));
    if (!ask_for(opened_->trials, {measure}, streams_.err)) return Exit::bad_input;
    const Better better = better_side(*measure_named(opened_->trials.base, all_known_names, measure));
    if (side.empty() && better == Better::neither)
      return refuse(fmt::format("{} has no better side; say {}=low or {}=high", measure, measure, measure));
    preference_.larger = side.empty() ? better == Better::larger : side == "high";
    prefers_ = fmt::format("{} as {} as can be", measure, preference_.larger ? "large" : "small");
    return Exit::fine;
  }

  /// Every combination of names, each with the best numbers.
  void find(SearchProgram& search) {
    const auto before = opened_->trials.trials.with({});
    std::vector<FreeValue> numbers;
    std::vector<std::optional<double>> present;
    std::uint64_t combinations = 1;
    for (std::size_t k = 0; k < opened_->free.size(); ++k) {
      if (opened_->free[k].is_choice()) {
        combinations *= opened_->free[k].names.size();
      } else {
        numbers.push_back(opened_->free[k]);
        present.push_back(opened_->present[k]);
      }
    }
    Progress progress(streams_.err, "tries", static_cast<std::uint64_t>(opened_->tries));
    for (std::uint64_t choice = 0; choice < combinations; ++choice) {
      std::vector<std::string> names(opened_->free.size());
      std::vector<Assignment> fixed;
      std::uint64_t rest = choice;
      double renamed = 0.0;
      for (std::size_t k = 0; k < opened_->free.size(); ++k) {
        if (!opened_->free[k].is_choice()) continue;
        names[k] = opened_->free[k].names[rest % opened_->free[k].names.size()];
        rest /= opened_->free[k].names.size();
        fixed.push_back({opened_->free[k].path, Node{names[k], {}}});
        renamed += names[k] != opened_->present_names[k] ? 1.0 : 0.0; // another name is a change too
      }
      Solver solver(opened_->trials.trials, numbers, fixed, preference_, present, search);
      solver.tell([&](std::size_t tries) { progress.show(static_cast<std::uint64_t>(tried_) + tries); });
      SolveAnswer answer = solver.solve(std::max(50, opened_->tries / static_cast<int>(combinations)), opened_->seed);
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
    out.free = opened_->free;
    out.names = names_;
    out.present = opened_->present;
    out.present_names = opened_->present_names;
    out.cases = &opened_->trials.trials.cases();
    out.title = opened_->trials.title;
    out.measures = opened_->trials.trials.measures();
    out.units = opened_->trials.units;
    out.prefers = prefers_;
    out.tries = tried_;
    return out;
  }

  /// The answer, or another one, as "path=value".
  std::vector<std::string> sets(const SolveAlternative* other) const {
    const SolveReport all = report();
    std::vector<std::string> out;
    for (std::size_t k = 0; k < opened_->free.size(); ++k)
      out.push_back(fmt::format("{}={}", opened_->free[k].path,
                                opened_->free[k].is_choice()
                                    ? fmt::format("\"{}\"", names_[k])
                                    : shortest(other != nullptr ? all.number(*other, k) : all.number(k))));
    return out;
  }

  Exit finish() {
    const SolveReport all = report();
    if (options_.json)
      streams_.out.exact_line(solve_json(all));
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
    std::vector<std::pair<std::string, std::vector<std::string>>> versions{
        {"now", {}}, {answer_->solved ? "solved" : "compromise", sets(nullptr)}};
    for (const SolveAlternative& other : answer_->alternatives)
      if (versions.size() < figure::most_contenders) versions.emplace_back(other.why, sets(&other));
    std::vector<LoadedFeel> feels;
    for (const auto& [name, values] : versions)
      if (auto loaded = opened_->trials.source.version("", values, streams_.err)) feels.push_back(std::move(*loaded));
    if (feels.size() < 2) return {};
    std::vector<NamedFigure> figures;
    for (const std::string& name : opened_->trials.trials.cases()[0].takes) {
      std::vector<Contender> contenders;
      for (std::size_t k = 0; k < feels.size(); ++k)
        for (const Take& take : feels[k].feel.takes)
          if (take.name == name)
            contenders.push_back(play_contender(versions[k].first, feels[k].feel, take, io::scratch_shelf()));
      const auto channels = shared_channels(contenders);
      if (channels.empty()) continue;
      figures.push_back({"solve." + name, figure::compare_figure({&contenders, &channels, feels[0].name, {}})});
    }
    return draw_into({options_.out, options_.figure, options_.force}, figures,
                     options_.json ? streams_.err : streams_.out, streams_.err);
  }

  Exit write() {
    const SolveReport all = report();
    std::vector<WrittenValue> values;
    for (std::size_t k = 0; k < opened_->free.size(); ++k)
      values.push_back({opened_->free[k].path,
                        opened_->free[k].is_choice() ? fmt::format("\"{}\"", names_[k]) : shortest(all.number(k))});
    return write_values({options_.search.feel.file, options_.search.feel.allow_outside, options_.call}, values,
                        options_.json ? streams_.err : streams_.out, streams_.err);
  }

  const SolveOptions& options_;
  Streams streams_;
  std::vector<std::string> names_; ///< by free value: the name that was chosen
  Preference preference_;
  std::string prefers_;
  int tried_ = 0;
  std::optional<OpenedSearch> opened_;
  std::optional<SolveAnswer> answer_;
};

} // namespace

Exit run_solve(const Arguments& arguments, Streams streams) {
  Call call("stasis solve", "Find the numbers with which every want holds, by least change or another preference.",
            solve_example);
  SolveOptions options;
  options.search.tries = "5000";
  options.call = typed("stasis solve", arguments);
  call.positional("feel", options.search.feel.file, "The feel, or - for standard input", true);
  declare_search_call(call, options.search, true);
  call.option("--prefer", options.prefer, "Which of several answers: least_change, quickest, softest, or a measure");
  call.flag("--write", options.write, "Write the answer into the feel, and keep its comments");
  call.folder(options.out, "Folder for the figures");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn: before and after, over each other");
  call.flag("--json", options.json, "Print the answer as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return Solve(options, streams).run();
}

} // namespace stasis::cli
