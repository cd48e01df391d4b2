// `stasis set`: write values into a feel, keeping everything else as it stands.
#include <filesystem>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/load_feel.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/key_table.hpp"
#include "core/feel/read_feel.hpp"
#include "core/text.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"
#include "io/toml_edit.hpp"

namespace stasis::cli {
namespace {

constexpr const char* set_example = R"text(Worked example:
  stasis set otter.toml motion.soft.frequency=2.2 "motion.swing.duration=0.3"

replaces just those two values in the text, and shows each line before and after. Comments, order,
blanks and line ends stay as they are. A key that was left at its default is added to its table.
What validation refuses is refused here too, with the same message, and the file stays as it was.
  stasis set otter.toml take.approach.cues[0].at=0.75 --dry-run     shows the change, writes nothing)text";

struct Change {
  std::string path, value;
};

/// "path=value", split at the first equals sign.
std::optional<Change> change_of(const std::string& text, Output& err) {
  const auto equals = text.find('=');
  if (equals != std::string::npos && !trimmed(std::string_view(text).substr(0, equals)).empty())
    return Change{std::string(trimmed(std::string_view(text).substr(0, equals))),
                  std::string(trimmed(std::string_view(text).substr(equals + 1)))};
  print_error(fmt::format("expected PATH=VALUE such as motion.soft.frequency=2.2, found \"{}\".", printable(text, 80)),
              err);
  return std::nullopt;
}

} // namespace

Exit run_set(const Arguments& arguments, Streams streams) {
  Call call("stasis set", "Write values into a feel, keeping its comments and everything else.", set_example);
  std::string file;
  std::vector<std::string> words;
  bool dry_run = false, allow_outside = false;
  call.positional("feel", file, "The feel", true);
  call.positionals("path=value", words, "What to write");
  call.flag("--dry-run", dry_run, "Show the change, write nothing");
  call.flag("--allow-outside", allow_outside, "Files that the feel names may lie outside its folder");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (words.empty() || file == "-") {
    print_error(words.empty() ? "no PATH=VALUE was given. `stasis set --help` shows what it takes."
                              : "a value can only be set in a file, not in standard input.",
                streams.err);
    return Exit::bad_input;
  }
  const auto lock = io::FileLock::take(file); // until the end: what another run writes meanwhile would be lost
  if (!lock) {
    print_error(lock.error().message + ".", streams.err);
    return Exit::bad_file;
  }
  auto text = io::read_file(file, most_document_bytes);
  if (!text) {
    print_error(text.error().message + ".", streams.err);
    return text.error().refused ? Exit::bad_input : Exit::bad_file;
  }
  std::string now = *text, shown;
  for (const std::string& word : words) {
    const auto change = change_of(word, streams.err);
    if (!change) return Exit::bad_input;
    auto edit = io::edit_value(now, change->path, change->value);
    if (!edit) {
      print_problems(edit.error(), {{file, now}}, streams.err);
      return Exit::bad_input;
    }
    now = std::move(edit->text);
    shown += fmt::format("{}:{}\n{}  + {}\n", file, edit->line,
                         edit->before.empty() ? "" : "  - " + printable(edit->before, 300) + "\n",
                         printable(edit->after, 300));
  }
  if (!is_valid_feel(file, now, allow_outside, streams.err)) return Exit::bad_input;
  streams.out.write(shown);
  if (dry_run) {
    streams.out.line("  nothing written: this was a dry run");
    return Exit::fine;
  }
  // A link stays a link: the file that it leads to is replaced.
  std::error_code error;
  const auto real = std::filesystem::canonical(file, error);
  if (auto done = io::write_file(error ? file : real.string(), now, true); !done) {
    print_error(done.error().message + ".", streams.err);
    return Exit::bad_file;
  }
  streams.out.line("  wrote " + file);
  return Exit::fine;
}

} // namespace stasis::cli
