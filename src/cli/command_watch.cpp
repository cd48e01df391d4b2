// `stasis watch`: another command again whenever the feel, or a file that it names, changes.
#include <algorithm>
#include <csignal>

#include <fmt/format.h>

#include "cli/command.hpp"
#include "cli/load_feel.hpp"
#include "cli/readings.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"
#include "io/file_watch.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr const char* help = R"text(stasis watch [--runs N] COMMAND ARGUMENTS...

Runs the command, then again whenever the feel or a file that it names (included feels, curves)
changes, and says what changed in the measures. A file that is half written or wrong is explained;
the last good results stay. Ends on an interrupt (Ctrl-C).

  COMMAND    {}, with its own arguments
  --runs N   end after so many runs, with the status of the last

Worked example:
  stasis watch run otter.toml --only fov

draws the field of view again each time the file is saved.
  stasis watch report otter.toml -o otter.html

keeps an open page up to date.
)text";

/// A file must have stood still for so long before it is read.
constexpr int quiet_ms = 30;

volatile bool told_to_end = false;
void on_interrupt(int) { told_to_end = true; }

std::vector<std::string_view> watchable_names() {
  std::vector<std::string_view> names;
  for (const Command& one : all_commands())
    if (one.can_be_watched) names.push_back(one.name);
  return names;
}

void print_changes(const std::vector<MeasureChange>& changes, Output& out) {
  constexpr std::size_t most = 12;
  const std::size_t told = out.told_of(changes.size(), most);
  for (std::size_t i = 0; i < told; ++i) out.line("  changed " + change_text(changes[i]));
  if (changes.size() > told) out.line(fmt::format("  and {} more measures changed", changes.size() - told));
  if (changes.empty()) out.line("  no measure changed");
}

/// One line: {"stasis", "changed": [{take, measure, from, to, unit}]}.
std::string changes_json(const std::vector<MeasureChange>& changes) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("changed");
  write_changes(json, changes);
  json.end_object();
  return json.take();
}

/// The feels among the arguments of a command.
std::vector<std::string> feels_in(const Arguments& arguments) {
  std::vector<std::string> feels;
  for (const std::string& word : arguments)
    if (word.ends_with(".toml") && !word.starts_with("-")) feels.push_back(word);
  for (const std::string& word : arguments)
    if (feels.empty() && !word.starts_with("-")) feels.push_back(word);
  return feels;
}

/// Everything to be watched: the feels and the files that they name. Where a feel cannot be read now, what was known
/// before stays.
std::vector<std::string> watched(const std::vector<std::string>& feels, std::vector<std::string> known) {
  Output nowhere(-1);
  std::vector<std::string> files = feels;
  bool whole = true;
  for (const std::string& feel : feels) {
    FeelCall call;
    call.file = feel;
    const auto source = FeelSource::open(call, nowhere);
    whole = whole && source;
    if (!source) continue;
    for (const std::string& file : source->files())
      if (std::find(files.begin(), files.end(), file) == files.end()) files.push_back(file);
  }
  if (!whole)
    for (std::string& file : known)
      if (std::find(files.begin(), files.end(), file) == files.end()) files.push_back(std::move(file));
  return files;
}

/// The states of `files`: as they were seen where they were looked at before, as they are now where they are new.
std::vector<io::FileState> states_for(const std::vector<std::string>& files, const std::vector<std::string>& before,
                                      const std::vector<io::FileState>& seen) {
  std::vector<io::FileState> states = io::states_of(files);
  for (std::size_t i = 0; i < files.size(); ++i)
    if (const auto known = std::find(before.begin(), before.end(), files[i]); known != before.end())
      states[i] = seen[static_cast<std::size_t>(known - before.begin())];
  return states;
}

Exit bad_call(const std::string& message, Output& err) {
  print_error(message + " `stasis watch --help` shows what it takes.", err);
  return Exit::bad_input;
}

} // namespace

Exit run_watch(const Arguments& arguments, Streams streams) {
  Arguments words = arguments;
  if (!words.empty() && (words[0] == "--help" || words[0] == "-h")) {
    streams.out.write(fmt::format(fmt::runtime(help), listed(watchable_names(), "or")));
    return Exit::fine;
  }
  long long runs_left = -1;
  if (words.size() >= 2 && words[0] == "--runs") {
    const auto number = read_number(words[1]);
    if (!number || *number < 1 || *number > 1e9 || *number != std::floor(*number))
      return bad_call(fmt::format("--runs: expected a whole number above 0, found \"{}\".", printable(words[1], 40)),
                      streams.err);
    runs_left = static_cast<long long>(*number);
    words.erase(words.begin(), words.begin() + 2);
  }
  if (words.empty()) return bad_call("no command was given.", streams.err);
  const Command* command = find_command(words[0]);
  if (command == nullptr || !command->can_be_watched) {
    const auto known = watchable_names();
    return bad_call(fmt::format("\"{}\" cannot be watched.{} Known: {}.", printable(words[0], 40),
                                did_you_mean(words[0], known), listed(known)),
                    streams.err);
  }
  words.erase(words.begin());
  // Then every line of standard output is one of JSON.
  const bool as_json = std::find(words.begin(), words.end(), "--json") != words.end();
  if (!command->when_watched.empty()) words.emplace_back(command->when_watched);
  const auto feels = feels_in(words);
  if (feels.empty() || feels.front() == "-") return bad_call("no feel was given that is a file.", streams.err);
  struct sigaction action {};
  action.sa_handler = on_interrupt;
  ::sigaction(SIGINT, &action, nullptr);
  ::sigaction(SIGTERM, &action, nullptr);
  std::vector<NamedMeasure> last;
  std::vector<std::string> files = watched(feels, {});
  while (!told_to_end) {
    // The state is taken before the command reads the files, so that no later change is missed.
    const auto seen = io::states_of(files);
    const Exit status = command->run(words, streams);
    const auto readings = readings_of(feels.front(), false);
    if (!last.empty() && !readings.empty()) {
      const auto changes = changes_of(last, readings);
      as_json ? streams.out.exact_line(changes_json(changes)) : print_changes(changes, streams.out);
    }
    if (!readings.empty()) last = readings;
    if (status != Exit::fine && status != Exit::does_not_hold)
      (as_json ? streams.err : streams.out).line("  the last good results stay; waiting for the next change");
    streams.out.flush();
    streams.err.flush();
    if (runs_left > 0 && --runs_left == 0) return status;
    const auto more = watched(feels, files);
    const auto known = states_for(more, files, seen);
    files = more;
    io::wait_for_change(files, known, quiet_ms, told_to_end);
    if (!told_to_end && !as_json) streams.out.line();
  }
  return Exit::fine;
}

} // namespace stasis::cli
