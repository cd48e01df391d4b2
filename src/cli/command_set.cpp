// `stasis set`: write values into a feel, keeping everything else as it stands.
#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/rewrite_feel.hpp"
#include "core/text.hpp"
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
  std::string shown;
  bool is_written = false;
  const Exit ended = rewrite_feel(
      {file, allow_outside, typed("stasis set", arguments)}, streams.err,
      [&](const std::string& text) -> tl::expected<std::optional<std::string>, Exit> {
        std::string now = text;
        for (const std::string& word : words) {
          const auto change = change_of(word, streams.err);
          if (!change) return tl::unexpected(Exit::bad_input);
          auto edit = io::edit_value(now, change->path, change->value);
          if (!edit) {
            print_problems(edit.error(), {{file, now}}, streams.err);
            return tl::unexpected(Exit::bad_input);
          }
          now = std::move(edit->text);
          shown += fmt::format("{}:{}\n{}  + {}\n", file, edit->line,
                               edit->before.empty() ? "" : "  - " + printable(edit->before, 300) + "\n",
                               printable(edit->after, 300));
        }
        return now;
      },
      [&] {
        streams.out.write(shown);
        is_written = !dry_run;
        return is_written;
      });
  if (ended != Exit::fine) return ended;
  streams.out.line(is_written ? "  wrote " + file : "  nothing written: this was a dry run");
  return Exit::fine;
}

} // namespace stasis::cli
