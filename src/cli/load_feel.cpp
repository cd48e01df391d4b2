#include "cli/load_feel.hpp"

#include <algorithm>
#include <filesystem>

#include <fmt/format.h>

#include "core/check/known_names.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/read_feel.hpp"
#include "core/text.hpp"
#include "io/feel_files.hpp"
#include "io/history.hpp"
#include "io/toml_reader.hpp"

namespace stasis::cli {
namespace {

/// Puts one "path=value" into the document.
Result<void> apply_override(Node& root, const std::string& text, const std::string& option,
                            std::vector<Source>& sources) {
  const auto equals = text.find('=');
  const int source = static_cast<int>(sources.size());
  sources.push_back({option, text});
  if (equals == std::string::npos)
    return fail({"call.set",
                 "",
                 {1, 1, static_cast<int>(code_points(text)), source},
                 "expected path=value",
                 "For example: --set motion.soft.frequency=2.5"});
  const std::string path_text(trimmed(std::string_view(text).substr(0, equals)));
  const std::string value_text(trimmed(std::string_view(text).substr(equals + 1)));
  if (path_text == "include" || path_text.starts_with("include[") || path_text == "variant"
      || path_text.starts_with("variant."))
    return fail(
        {"call.set",
         "",
         {1, 1, static_cast<int>(code_points(path_text)), source},
         fmt::format("{} cannot be overridden: it has been read by then", printable(path_text, 60)),
         path_text.starts_with("include") ? "Write it into the feel." : "Use --variant, or write it into the feel."});
  auto value = io::read_toml_value(value_text, source);
  if (!value) return tl::unexpected(value.error());
  const int column = static_cast<int>(code_points(std::string_view(text).substr(0, equals + 1))) + 1;
  value->where = {1, column, static_cast<int>(code_points(value_text)), source};
  auto done = put_override(root, path_text, std::move(*value));
  if (!done) done.error().front().where = {1, 1, static_cast<int>(code_points(path_text)), source};
  return done;
}

/// What keeps a version of a feel from being read: "" is the feel itself.
Problems faults_of_version(const Node& document, const std::string& variant) {
  Node trial = document;
  Result<void> applied = variant.empty() ? Result<void>{} : apply_variant(trial, variant);
  auto used = applied ? resolve_settings(trial) : Result<std::vector<std::string>>(tl::unexpected(applied.error()));
  Result<Feel> feel = used ? read_feel(trial, all_known_names) : tl::unexpected(used.error());
  return feel ? Problems{} : feel.error();
}

/// Gives every take the frame rate that was typed.
Result<void> apply_fps(Node& root, const std::string& fps, std::vector<Source>& sources) {
  const Node* takes = fps.empty() ? nullptr : root.find("take");
  if (takes == nullptr || takes->table() == nullptr) return {};
  std::vector<std::string> names;
  for (const Entry& entry : *takes->table()) names.push_back(entry.key);
  for (const std::string& name : names) {
    if (auto done = apply_override(root, fmt::format("take.\"{}\".clock.fps={}", name, fps), "--fps", sources); !done)
      return done;
    // Recorded frame times would contradict it.
    Node* clock = root.find("take")->find(name)->find("clock");
    if (NodeTable* keys = clock != nullptr ? clock->table() : nullptr)
      std::erase_if(*keys, [](const Entry& e) { return e.key == "recorded" || e.key == "time_unit"; });
  }
  return {};
}

/// The places of the takes that were asked for; all if none was.
tl::expected<std::vector<std::size_t>, std::string> choose_takes(const Feel& feel,
                                                                 const std::vector<std::string>& names) {
  std::vector<std::string_view> known;
  for (const Take& take : feel.takes) known.push_back(take.name);
  std::vector<std::size_t> chosen;
  for (std::size_t i = 0; i < known.size() && names.empty(); ++i) chosen.push_back(i);
  for (const std::string& name : names) {
    const auto at = std::find(known.begin(), known.end(), name);
    if (at == known.end()) {
      return tl::unexpected(fmt::format("--take: the feel has no take \"{}\".{} Known: {}.", printable(name, 60),
                                        did_you_mean(name, known), listed(known)));
    }
    const auto index = static_cast<std::size_t>(at - known.begin());
    if (std::find(chosen.begin(), chosen.end(), index) == chosen.end()) chosen.push_back(index);
  }
  return chosen;
}

/// Mutes the shakes that were named; what is wrong with a name, in words.
std::string mute(Feel& feel, const std::vector<std::string>& names) {
  std::vector<std::string_view> known;
  for (const Shake& shake : feel.shakes) known.push_back(shake.name);
  for (const std::string& name : names) {
    bool found = name == "all";
    for (Shake& shake : feel.shakes)
      if (name == "all" || shake.name == name) found = shake.muted = true;
    if (!found)
      return fmt::format("--without: the feel has no shake \"{}\".{}{}", printable(name, 60), did_you_mean(name, known),
                         known.empty() ? "" : fmt::format(" Known: {}.", listed(known)));
  }
  return {};
}

} // namespace

std::string stem_of(const std::string& file) {
  if (file == "-") return "standard input";
  const auto kept = io::version_name(file);
  return std::filesystem::path(kept ? kept->feel : file).stem().string()
         + (kept ? fmt::format("@{}", kept->number) : "");
}

void declare_feel_basics(Call& call, FeelCall& feel) {
  call.repeated("--take", feel.takes, "Only this take");
  call.option("--fps", feel.fps, "Frames a second, instead of each take's own");
  call.flag("--instant", feel.instant, "Every motion a jump: are the end values right?");
  call.repeated("--without", feel.without, "Leave this shake out; all: every shake");
  call.flag("--allow-outside", feel.allow_outside, "Files that the feel names may lie outside its folder");
}

void declare_feel_versions(Call& call, FeelCall& feel) {
  call.repeated("--set", feel.set, "Override a value for this call: path=value");
  call.repeated("--variant", feel.variants,
                "This variant instead of the base feel; base: the feel itself; all: it and every variant");
  declare_feel_basics(call, feel);
}

void declare_feel_call(Call& call, FeelCall& feel) {
  call.positional("feel", feel.file, "The feel, or - for standard input", true);
  declare_feel_versions(call, feel);
}

tl::expected<FeelSource, Exit> FeelSource::open(const FeelCall& call, Output& err) {
  FeelSource source;
  source.call_ = call;
  auto document = io::read_feel_files({call.file, call.allow_outside}, source.sources_);
  if (!document) {
    print_problems(document.error(), source.sources_, err);
    return tl::unexpected(io::is_about_reading(document.error()) ? Exit::bad_file : Exit::bad_input);
  }
  source.document_ = std::move(*document);
  // A version that cannot be read is told whichever is asked for: else it is found on the day when it is needed.
  for (const std::string& one : source.versions())
    if (!one.empty())
      if (const auto faults = faults_of_version(source.document_, one); !faults.empty()) {
        print_problems(faults, source.sources_, err);
        return tl::unexpected(Exit::bad_input);
      }
  return source;
}

std::vector<std::string> FeelSource::versions() const {
  std::vector<std::string> all{""};
  for (const std::string_view name : variant_names(document_)) all.emplace_back(name);
  return all;
}

std::vector<std::string> FeelSource::chosen(const std::vector<std::string>& words) const {
  const auto all = versions();
  const bool base_is_variant = std::find(all.begin(), all.end(), "base") != all.end();
  std::vector<std::string> names;
  for (const std::string& word : words)
    for (const std::string& one :
         word == "all" ? all : std::vector<std::string>{word == "base" && !base_is_variant ? "" : word})
      if (std::find(names.begin(), names.end(), one) == names.end()) names.push_back(one);
  if (names.empty()) names.emplace_back();
  return names;
}

std::vector<std::string> FeelSource::files() const {
  std::vector<std::string> files;
  for (const Source& source : sources_) files.push_back(source.name);
  return files;
}

Result<Node> FeelSource::prepared(std::string_view variant, const std::vector<std::string>& more,
                                  const std::string& fps, std::vector<Source>& sources) const {
  Node document = document_;
  if (!variant.empty())
    if (auto done = apply_variant(document, variant); !done) return tl::unexpected(done.error());
  for (const auto* overrides : {&call_.set, &more})
    for (const std::string& text : *overrides)
      if (auto done = apply_override(document, text, "--set", sources); !done) return tl::unexpected(done.error());
  if (auto done = apply_fps(document, fps, sources); !done) return tl::unexpected(done.error());
  return document;
}

tl::expected<Node, Exit> FeelSource::document_of(std::string_view variant, const std::string& fps, Output& err) const {
  std::vector<Source> sources = sources_;
  auto document = prepared(variant, {}, fps, sources);
  if (document) return std::move(*document);
  print_problems(document.error(), sources, err);
  return tl::unexpected(Exit::bad_input);
}

tl::expected<LoadedFeel, Exit> FeelSource::version(std::string_view variant, const std::vector<std::string>& more,
                                                   Output& err) const {
  std::vector<Source> sources = sources_;
  std::vector<std::string> used_settings;
  const auto read = [&]() -> Result<Feel> {
    auto document = prepared(variant, more, call_.fps, sources);
    if (!document) return tl::unexpected(document.error());
    auto used = resolve_settings(*document);
    if (!used) return tl::unexpected(used.error());
    used_settings = std::move(*used);
    return read_feel(*document, all_known_names);
  };
  Result<Feel> feel = read();
  if (!feel) {
    print_problems(feel.error(), sources, err);
    return tl::unexpected(Exit::bad_input);
  }
  for (Setting& setting : feel->settings)
    setting.is_used =
        setting.is_used || std::find(used_settings.begin(), used_settings.end(), setting.name) != used_settings.end();
  if (call_.instant) make_instant(*feel);
  if (const std::string fault = mute(*feel, call_.without); !fault.empty()) {
    print_error(fault, err);
    return tl::unexpected(Exit::bad_input);
  }
  auto takes = choose_takes(*feel, call_.takes);
  if (!takes) {
    print_error(takes.error(), err);
    return tl::unexpected(Exit::bad_input);
  }
  std::string name = feel->title.empty() ? stem_of(call_.file) : feel->title;
  return LoadedFeel{std::move(*feel), std::move(*takes), std::move(name), std::string(variant)};
}

tl::expected<std::vector<LoadedFeel>, Exit> load_feels(const FeelCall& call, Output& err) {
  auto source = FeelSource::open(call, err);
  if (!source) return tl::unexpected(source.error());
  std::vector<LoadedFeel> feels;
  for (const std::string& name : source->chosen(call.variants)) {
    auto feel = source->version(name, {}, err);
    if (!feel) return tl::unexpected(feel.error());
    if (feel->takes.empty()) {
      print_error(fmt::format("{} has no take, so there is nothing to play. Add one, such as [take.approach] with "
                              "length = 4 and cues that press a control.",
                              call.file == "-" ? "standard input" : call.file),
                  err);
      return tl::unexpected(Exit::bad_input);
    }
    feels.push_back(std::move(*feel));
  }
  return feels;
}

Exit validity_of(const std::string& file, const std::string& text, bool allow_outside, Output& err) {
  std::vector<Source> sources;
  auto document = io::read_feel_files({file, allow_outside, text}, sources);
  if (!document) {
    print_problems(document.error(), sources, err);
    return io::is_about_reading(document.error()) ? Exit::bad_file : Exit::bad_input;
  }
  std::vector<std::string> versions{""};
  for (const std::string_view name : variant_names(*document)) versions.emplace_back(name);
  for (const std::string& one : versions)
    if (const Problems faults = faults_of_version(*document, one); !faults.empty()) {
      print_problems(faults, sources, err);
      return Exit::bad_input;
    }
  return Exit::fine;
}

tl::expected<Feel, Exit> feel_of_text(const FeelText& source, Output& err, std::string_view variant) {
  std::vector<Source> sources;
  auto document = io::read_feel_files({source.file, source.allow_outside, source.text}, sources);
  if (document && !variant.empty())
    if (auto put = apply_variant(*document, variant); !put) document = tl::unexpected(put.error());
  auto used = document ? resolve_settings(*document) : tl::unexpected(document.error());
  auto feel = used ? read_feel(*document, all_known_names) : Result<Feel>(tl::unexpected(used.error()));
  if (feel) return std::move(*feel);
  print_problems(feel.error(), sources, err);
  return tl::unexpected(io::is_about_reading(feel.error()) ? Exit::bad_file : Exit::bad_input);
}

} // namespace stasis::cli
