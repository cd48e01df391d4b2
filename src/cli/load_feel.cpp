#include "cli/load_feel.hpp"

#include <algorithm>
#include <filesystem>

#include <fmt/format.h>

#include "core/feel/key_table.hpp"
#include "core/feel/read_feel.hpp"
#include "core/text.hpp"
#include "io/files.hpp"
#include "io/toml_reader.hpp"

namespace stasis {
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
  auto path = parse_path(path_text);
  if (!path) {
    path.error().front().where = {1, 1, static_cast<int>(code_points(path_text)), source};
    return tl::unexpected(path.error());
  }
  auto value = read_toml_value(value_text, source);
  if (!value) return tl::unexpected(value.error());
  const int column = static_cast<int>(code_points(std::string_view(text).substr(0, equals + 1))) + 1;
  value->where = {1, column, static_cast<int>(code_points(value_text)), source};
  auto done = put(root, *path, path_text, std::move(*value));
  if (!done) done.error().front().where = {1, 1, static_cast<int>(code_points(path_text)), source};
  return done;
}

Result<void> apply_overrides(Node& root, const FeelCall& call, std::vector<Source>& sources) {
  for (const std::string& text : call.set)
    if (auto done = apply_override(root, text, "--set", sources); !done) return done;
  const Node* takes = call.fps.empty() ? nullptr : root.find("take");
  if (takes == nullptr || takes->table() == nullptr) return {};
  std::vector<std::string> names;
  for (const Entry& entry : *takes->table()) names.push_back(entry.key);
  for (const std::string& name : names)
    if (auto done = apply_override(root, fmt::format("take.\"{}\".clock.fps={}", name, call.fps), "--fps", sources);
        !done)
      return done;
  return {};
}

std::string stem_of(const std::string& file) {
  return file == "-" ? "standard input" : std::filesystem::path(file).stem().string();
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
      const auto close = nearest(name, known);
      return tl::unexpected(fmt::format("--take: the feel has no take \"{}\"{}. Known: {}.", printable(name, 60),
                                        close ? fmt::format("; did you mean {}?", *close) : "", listed(known)));
    }
    const auto index = static_cast<std::size_t>(at - known.begin());
    if (std::find(chosen.begin(), chosen.end(), index) == chosen.end()) chosen.push_back(index);
  }
  return chosen;
}

} // namespace

void declare_feel_call(Call& call, FeelCall& feel) {
  call.positional("feel", feel.file, "The feel, or - for standard input", true);
  call.repeated("--set", feel.set, "Override a value for this call: path=value");
  call.repeated("--take", feel.takes, "Only this take");
  call.option("--fps", feel.fps, "Frames a second, instead of each take's own");
}

tl::expected<LoadedFeel, Exit> load_feel(const FeelCall& call, Output& err) {
  auto text = read_file(call.file, most_document_bytes);
  if (!text) {
    print_error(text.error().message + ". Give the path of a feel, or - for standard input.", err);
    return tl::unexpected(text.error().refused ? Exit::bad_input : Exit::bad_file);
  }
  std::vector<Source> sources{{call.file == "-" ? "standard input" : call.file, std::move(*text)}};
  auto document = read_toml(sources[0].text, 0);
  if (!document) {
    print_problems(document.error(), sources, err);
    return tl::unexpected(Exit::bad_input);
  }
  if (auto done = apply_overrides(*document, call, sources); !done) {
    print_problems(done.error(), sources, err);
    return tl::unexpected(Exit::bad_input);
  }
  auto feel = read_feel(*document);
  if (!feel) {
    print_problems(feel.error(), sources, err);
    return tl::unexpected(Exit::bad_input);
  }
  auto takes = choose_takes(*feel, call.takes);
  if (!takes) {
    print_error(takes.error(), err);
    return tl::unexpected(Exit::bad_input);
  }
  if (takes->empty()) {
    print_error(fmt::format("{} has no take, so there is nothing to play. Add one, such as [take.approach] with "
                            "length = 4 and cues that press a control.",
                            sources[0].name),
                err);
    return tl::unexpected(Exit::bad_input);
  }
  std::string name = feel->title.empty() ? stem_of(call.file) : feel->title;
  return LoadedFeel{std::move(*feel), std::move(*takes), std::move(name)};
}

} // namespace stasis
