// `stasis complete`: what can be typed where the cursor is, for shells.
#include <algorithm>

#include <fmt/format.h>

#include "cli/command.hpp"
#include "cli/help_text.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/feel_numbers.hpp"
#include "core/search/feel_words.hpp"
#include "core/text.hpp"
#include "io/feel_files.hpp"

namespace stasis::cli {
namespace {

/// What is typed, and which word the cursor stands in.
struct Typing {
  std::vector<std::string> words; ///< "stasis" first
  std::size_t at = 0;

  std::string word(std::size_t index) const { return index < words.size() ? words[index] : std::string(); }
};

/// The document of the first feel that has been typed, if it can be read.
std::optional<Node> feel_typed(const Typing& typing) {
  for (std::size_t i = 2; i < typing.words.size(); ++i) {
    if (i == typing.at || !typing.words[i].ends_with(".toml")) continue;
    std::vector<Source> sources;
    auto document = io::read_feel_files({typing.words[i]}, sources);
    if (document) return std::move(*document);
  }
  return std::nullopt;
}

std::vector<std::string> names_in(const Node& document, std::string_view section) {
  std::vector<std::string> names;
  const Node* const table = document.find(section);
  if (table != nullptr && table->table() != nullptr)
    for (const Entry& entry : *table->table()) names.push_back(entry.key);
  return names;
}

std::vector<std::string> paths_in(const Node& document, std::string_view after) {
  std::vector<std::string> paths;
  for (const FeelNumber& number : feel_numbers(document)) paths.push_back(number.path + std::string(after));
  return paths;
}

/// Values of an option that are names of the feel.
std::optional<std::vector<std::string>> values_of(const std::string& option, const Node& document) {
  if (option == "--take") return names_in(document, "take");
  if (option == "--variant") {
    auto names = names_in(document, "variant");
    names.insert(names.end(), {"base", "all"});
    return names;
  }
  if (option == "--only") return names_in(document, "channel");
  if (option == "--without") {
    auto names = names_in(document, "shake");
    names.emplace_back("all");
    return names;
  }
  if (option == "--set" || option == "--free" || option == "--over") return paths_in(document, "=");
  return std::nullopt;
}

/// What a command takes after its feel.
std::vector<std::string> words_after_feel(const Typing& typing, const Node& document) {
  const std::string command = typing.word(1);
  if (command == "set") return paths_in(document, "=");
  if (command != "tune") return {};
  if (typing.at == 3) {
    auto names = names_in(document, "channel");
    const auto shakes = names_in(document, "shake");
    names.insert(names.end(), shakes.begin(), shakes.end());
    return names;
  }
  std::vector<std::string> words;
  for (const FeelWord& word : feel_words()) words.emplace_back(word.word);
  return words;
}

std::vector<std::string> candidates(const Typing& typing, const Output& like) {
  std::vector<std::string> found;
  if (typing.at <= 1) {
    for (const Command& command : all_commands()) found.emplace_back(command.name);
    return found;
  }
  const Command* command = find_command(typing.word(1));
  if (command != nullptr && command->name == "watch")
    if (const Command* watched = find_command(typing.word(2))) command = watched;
  if (command == nullptr) return found;
  const auto options = options_in(help_of(*command, like));
  if (typing.word(typing.at).starts_with('-')) {
    for (const HelpOption& option : options) found.push_back(option.names.back());
    for (const Manner& manner : manners()) found.emplace_back(manner.option);
    return found;
  }
  const std::string before = typing.word(typing.at - 1);
  for (const Manner& manner : manners())
    if (before == manner.option && !manner.words.empty()) return {manner.words.begin(), manner.words.end()};
  const auto document = feel_typed(typing);
  if (!document) return found;
  for (const HelpOption& option : options)
    if (option.takes_value && std::find(option.names.begin(), option.names.end(), before) != option.names.end())
      return values_of(option.names.back(), *document).value_or(found);
  return words_after_feel(typing, *document);
}

constexpr const char* complete_help =
    R"text(Prints what can be typed where the cursor is, one a line. Shells ask it themselves:

  stasis complete INDEX WORD ...    INDEX: the word that the cursor is in, "stasis" being 0

It knows commands and options, and the takes, variants, channels, shakes and paths of the feel that was typed.
It prints nothing where a file name belongs.
)text";

} // namespace

Exit run_complete(const Arguments& arguments, Streams streams) {
  if (arguments.empty() || arguments.front() == "--help" || arguments.front() == "-h") {
    streams.out.write(complete_help);
    return arguments.empty() ? Exit::bad_input : Exit::fine;
  }
  const auto index = read_number(arguments.front());
  if (!index || !(*index >= 0.0 && *index < 1000.0)) {
    print_error("the first word of `stasis complete` is the index of the word that the cursor is in.", streams.err);
    return Exit::bad_input;
  }
  const Typing typing{{arguments.begin() + 1, arguments.end()}, static_cast<std::size_t>(*index)};
  const std::string typed = typing.word(typing.at);
  std::vector<std::string> shown;
  for (std::string& candidate : candidates(typing, streams.out))
    if (candidate.starts_with(typed) && std::find(shown.begin(), shown.end(), candidate) == shown.end())
      shown.push_back(std::move(candidate));
  for (const std::string& one : shown) streams.out.exact_line(one);
  return Exit::fine;
}

} // namespace stasis::cli
