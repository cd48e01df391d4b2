// `stasis compare`: versions of a feel side by side.
#include <algorithm>
#include <cmath>
#include <filesystem>

#include <fmt/format.h>

#include "cli/compare_report.hpp"
#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/move_table.hpp"
#include "cli/run_takes.hpp"
#include "core/text.hpp"
#include "figure/compare_figure.hpp"
#include "io/scratch_shelf.hpp"

namespace stasis::cli {
namespace {

constexpr const char* compare_example =
    R"text(What is compared: every FEEL, every --variant, and every --label: the first feel with the
--set overrides after that label. If only one of these is given, the feel itself comes
first; --variant base puts it at any other place.

Worked examples:
  stasis compare otter.toml --variant heavy
  stasis compare otter.toml --label quick --set motion.soft.frequency=3 --label slow --set motion.soft.frequency=0.8
  stasis compare before.toml after.toml --take approach

Each take gets a table of measures side by side (* marks the best in its row), a sentence
for each channel that says what you would notice, and compare.<take>.png in stasis-out/.)text";

struct CompareOptions {
  std::vector<std::string> files, variants, labels, sets;
  FeelCall feel;
  std::string out = "stasis-out", figure = "png";
  std::vector<std::string> only;
  bool json = false, force = false;
};

struct Version {
  std::string name, variant;
  std::vector<std::string> sets;
};

/// The versions of the first feel: variants, then labels with the overrides that follow each.
tl::expected<std::vector<Version>, std::string> versions_of(const CompareOptions& options, const Call& call) {
  std::vector<Version> versions;
  for (const std::string& name : options.variants) versions.push_back({name, name == "base" ? "" : name, {}});
  std::size_t labels = 0, sets = 0;
  const std::size_t first_label = versions.size();
  for (const std::string& option : call.order_of({"--label", "--set"})) {
    if (option == "--label") {
      versions.push_back({options.labels[labels++], "", {}});
      continue;
    }
    const std::string& set = options.sets[sets++];
    if (versions.size() == first_label)
      return tl::unexpected(fmt::format("--set {} stands before any --label: overrides that are compared need a name. "
                                        "For example: --label quick --set {}",
                                        printable(set, 80), printable(set, 80)));
    versions.back().sets.push_back(set);
  }
  return versions;
}

class Comparison {
public:
  Comparison(const CompareOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run(std::vector<Version> versions) {
    const auto loaded = load(std::move(versions));
    if (!loaded) return loaded.error();
    if (feels_.size() < 2 || feels_.size() > figure::most_contenders) {
      print_error(
          fmt::format(
              "a comparison takes 2 to {} versions, found {}. Name variants with --variant, overrides with --label "
              "and --set, or several feels.",
              figure::most_contenders, feels_.size()),
          streams_.err);
      return Exit::bad_input;
    }
    const auto takes = shared_takes();
    if (takes.empty()) {
      print_error("the feels have no take of one name in common, so there is nothing to compare.", streams_.err);
      return Exit::bad_input;
    }
    if (!knows_only()) return Exit::bad_input;
    if (auto made = io::make_folder(options_.out); !made) return failed(made.error(), streams_.err);
    if (options_.figure != "none") warn_without_font(streams_.err);
    for (const std::string& take : takes)
      if (const auto done = compare_take(take); !done) return failed(done.error(), streams_.err);
    return Exit::fine;
  }

private:
  tl::expected<void, Exit> load(std::vector<Version> versions) {
    const bool several = options_.files.size() > 1;
    for (std::size_t f = 0; f < options_.files.size(); ++f) {
      FeelCall call = options_.feel;
      call.file = options_.files[f];
      auto source = FeelSource::open(call, streams_.err);
      if (!source) return tl::unexpected(source.error());
      std::vector<Version> mine;
      if (several) mine.push_back({stem_of(call.file), "", {}});
      if (f == 0) mine.insert(mine.end(), versions.begin(), versions.end());
      if (!several && mine.size() == 1) mine.insert(mine.begin(), Version{"base", "", {}});
      if (mine.empty()) mine.push_back({"base", "", {}});
      if (const auto all = std::find_if(mine.begin(), mine.end(), [](const Version& v) { return v.variant == "all"; });
          all != mine.end()) {
        std::vector<Version> every;
        for (const std::string& name : source->versions()) every.push_back({name.empty() ? "base" : name, name, {}});
        const auto at = mine.erase(all);
        mine.insert(at, every.begin(), every.end());
      }
      for (const Version& version : mine) {
        auto feel = source->version(version.variant, version.sets, streams_.err);
        if (!feel) return tl::unexpected(feel.error());
        feels_.push_back(std::move(*feel));
        names_.push_back(unused(version.name));
      }
    }
    return {};
  }

  /// Two feels of one name are told apart by a number.
  std::string unused(const std::string& name) const {
    std::string free = printable(name, 40);
    for (int n = 2; std::find(names_.begin(), names_.end(), free) != names_.end(); ++n)
      free = fmt::format("{} {}", printable(name, 40), n);
    return free;
  }

  static const Take* take_named(const LoadedFeel& loaded, const std::string& name) {
    for (const std::size_t index : loaded.takes)
      if (loaded.feel.takes[index].name == name) return &loaded.feel.takes[index];
    return nullptr;
  }

  std::vector<std::string> shared_takes() const {
    std::vector<std::string> names;
    for (const std::size_t index : feels_.front().takes) {
      const std::string& name = feels_.front().feel.takes[index].name;
      if (std::all_of(feels_.begin(), feels_.end(),
                      [&](const LoadedFeel& f) { return take_named(f, name) != nullptr; }))
        names.push_back(name);
    }
    return names;
  }

  /// The channels that are to be drawn are channels of every version.
  bool knows_only() const {
    return std::all_of(feels_.begin(), feels_.end(),
                       [&](const LoadedFeel& f) { return known_channels(f.feel, options_.only, streams_.err); });
  }

  io::FileResult<void> compare_take(const std::string& take) {
    std::vector<Contender> contenders;
    for (std::size_t k = 0; k < feels_.size(); ++k)
      contenders.push_back(
          play_contender(names_[k], feels_[k].feel, *take_named(feels_[k], take), io::scratch_shelf()));
    auto channels = shared_channels(contenders);
    std::erase_if(channels, [&](const SharedChannel& channel) { return !is_wanted(options_.only, channel.name); });
    const CompareReport report{&contenders, &channels, feels_.front().name, options_.only};
    const std::string json = compare_json(report);
    const std::string stem = options_.out + "/compare." + take;
    std::vector<std::string> written;
    auto done = io::write_file(stem + ".json", json + "\n", options_.force);
    if (done) written.push_back(stem + ".json");
    if (options_.json)
      streams_.out.exact_line(json);
    else
      streams_.out.write(compare_text(report));
    if (done && !channels.empty())
      done = draw_figure(figure::compare_figure({&contenders, &channels, feels_.front().name, options_.only}), stem,
                         options_.figure, options_.force, written);
    for (const std::string& path : written) (options_.json ? streams_.err : streams_.out).wrote(path);
    return done;
  }

  const CompareOptions& options_;
  Streams streams_;
  std::vector<LoadedFeel> feels_;
  std::vector<std::string> names_;
};

} // namespace

Exit run_compare(const Arguments& arguments, Streams streams) {
  Call call("stasis compare", "Versions of a feel side by side: overlay, difference, measures, what would be noticed.",
            compare_example);
  CompareOptions options;
  call.positionals("feel", options.files, "The feels, or - for standard input");
  call.repeated("--variant", options.variants,
                "This variant of the first feel; base: the feel itself; all: it and every variant");
  call.repeated("--label", options.labels, "A version of the first feel under this name, with the --set after it");
  call.repeated("--set", options.sets, "Override a value in the version of the --label before it: path=value");
  declare_feel_basics(call, options.feel);
  call.folder(options.out, "Folder for the files");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn");
  call.repeated("--only", options.only, "Tell and draw only this channel");
  call.flag("--json", options.json, "Print the comparison as JSON, one line a take");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (options.files.empty()) {
    print_error("no feel was given. `stasis compare --help` shows what it takes.", streams.err);
    return Exit::bad_input;
  }
  auto versions = versions_of(options, call);
  if (!versions) {
    print_error(versions.error() + ".", streams.err);
    return Exit::bad_input;
  }
  return Comparison(options, streams).run(std::move(*versions));
}

} // namespace stasis::cli
