#include "cli/command.hpp"

#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "cli/version.hpp"
#include "core/text.hpp"

namespace stasis::cli {

// Each in its command_NAME.cpp.
Exit run_demo(const Arguments& arguments, Streams streams);
Exit run_new(const Arguments& arguments, Streams streams);
Exit run_run(const Arguments& arguments, Streams streams);
Exit run_explain(const Arguments& arguments, Streams streams);
Exit run_check(const Arguments& arguments, Streams streams);
Exit run_stress(const Arguments& arguments, Streams streams);
Exit run_compare(const Arguments& arguments, Streams streams);
Exit run_sweep_command(const Arguments& arguments, Streams streams);
Exit run_solve(const Arguments& arguments, Streams streams);
Exit run_tune(const Arguments& arguments, Streams streams);
Exit run_tradeoff(const Arguments& arguments, Streams streams);
Exit run_rates(const Arguments& arguments, Streams streams);
Exit run_curve(const Arguments& arguments, Streams streams);
Exit run_convert(const Arguments& arguments, Streams streams);
Exit run_measure(const Arguments& arguments, Streams streams);
Exit run_match(const Arguments& arguments, Streams streams);
Exit run_export(const Arguments& arguments, Streams streams);
Exit run_report(const Arguments& arguments, Streams streams);
Exit run_set(const Arguments& arguments, Streams streams);
Exit run_history(const Arguments& arguments, Streams streams);
Exit run_hands(const Arguments& arguments, Streams streams);
Exit run_step(const Arguments& arguments, Streams streams);
Exit run_watch(const Arguments& arguments, Streams streams);
Exit run_complete(const Arguments& arguments, Streams streams);
Exit run_schema(const Arguments& arguments, Streams streams);

namespace {

// The one list: help, `watch` and the tour of `demo` go by it.
constexpr std::array commands{
    Command{"demo", "unpack the demo feel and run the whole tour", run_demo},
    Command{"new", "start a commented feel", run_new},
    Command{"run", "what a feel does in a take: trace, measures, figure", run_run, true},
    Command{"explain", "what each channel does, in words and numbers, in every equivalent form", run_explain, true},
    Command{"check", "whether the wants hold and whether anything looks wrong, for build machines too", run_check,
            true},
    Command{"stress", "thousands of sessions of random input: does it drift, stick or lose a press", run_stress},
    Command{"compare", "versions of a feel side by side: overlay, difference, measures", run_compare, true},
    Command{"rates", "how much a feel changes with frame rate, why, and the fix", run_rates},
    Command{"tune", "a word of feel, such as snappier or heavier, as a change of numbers", run_tune},
    Command{"sweep", "try many values of a few numbers: what each does to the measures, as a plot, a map, a table",
            run_sweep_command, true},
    Command{"solve", "find the numbers with which every want holds, by least change or another preference", run_solve,
            true},
    Command{"tradeoff", "the best pairs of two measures, and what one costs in the other", run_tradeoff, true},
    Command{"measure", "what a recording does, in the measures of a take", run_measure},
    Command{"match", "which rule made a recorded move, with which numbers", run_match},
    Command{"curve", "easing curves: value and speed as a sheet, as samples, in words", run_curve},
    Command{"convert", "the same smoothing, or the same lens, in other words", run_convert},
    Command{"export", "carry a feel on: easing functions, keys, tables, scenes, source code, numbers", run_export,
            true},
    Command{"report", "one page with a player that shows the motion, measures and figures", run_report, true,
            "--watched"},
    Command{"hands", "one page on which the feel is played by hand", run_hands, true, "--watched"},
    Command{"set", "write values into a feel, keeping its comments", run_set},
    Command{"history", "what Stasis changed in a feel, when and by which call, and the way back", run_history},
    Command{"step", "play a feel over a pipe: a line of inputs in, a line of values out", run_step},
    Command{"watch", "a command again whenever the feel changes", run_watch},
    Command{"schema", "the JSON Schema of a feel, its reference page, manual pages", run_schema},
    Command{"complete", "what can be typed where the cursor is, for shells", run_complete},
};

void print_first_steps(Output& out) {
  out.line("Stasis tunes how camera values change over time.");
  out.line();
  out.line("Type first:");
  out.line("  stasis demo             see it work on a made-up feel, in ./stasis-demo");
  out.line("  stasis new my.toml      start a feel of your own");
  out.line("  stasis run my.toml      what it does: numbers here, trace and figure in ./stasis-out");
  out.line();
  out.line("`stasis --help` lists everything; `stasis COMMAND --help` explains one command.");
}

void print_help(Output& out) {
  out.line("usage: stasis COMMAND [arguments]");
  out.line();
  for (const Command& command : commands) out.line(fmt::format("  {:<10}{}", command.name, command.answers));
  out.line();
  out.line("  --help     this text; after a command, its options and a worked example");
  out.line("  --version  the version");
  out.line();
  out.line("With any command:");
  for (const Manner& one : manners())
    out.line(fmt::format("  {:<15}{}", fmt::format("{}{}", one.option, one.words.empty() ? "" : " WORD"), one.meaning));
  out.line();
  out.line("Exit status: 0 fine, 1 a want or check does not hold, 2 the call or an input file is wrong,");
  out.line("3 a file could not be read or written, 4 an error in Stasis itself.");
}

Exit unknown_command(const std::string& name, Output& err) {
  std::vector<std::string_view> names;
  for (const Command& command : commands) names.push_back(command.name);
  print_error(fmt::format("there is no command \"{}\".{} Known: {}.", printable(name, 60), did_you_mean(name, names),
                          listed(names)),
              err);
  return Exit::bad_input;
}

} // namespace

namespace {

constexpr std::array<std::string_view, 2> error_styles{"text", "json"};
constexpr std::array<std::string_view, 3> colour_words{"auto", "always", "never"};
constexpr std::array all_manners{
    Manner{"--errors", error_styles,
           "text, or json: errors as lines of JSON with file, line, column, key, code, message, fix"},
    Manner{"--quiet", {}, "print only errors, and what programs read; the exit status tells the rest"},
    Manner{"--verbose", {}, "print long lists in full"},
    Manner{"--color", colour_words, "always, never, or auto: on a terminal, unless NO_COLOR is set"},
};

} // namespace

std::span<const Manner> manners() noexcept { return all_manners; }

std::span<const Command> all_commands() noexcept { return commands; }

const Command* find_command(std::string_view name) noexcept {
  const auto found = std::find_if(commands.begin(), commands.end(), [&](const Command& c) { return c.name == name; });
  return found == commands.end() ? nullptr : &*found;
}

namespace {

/// Takes an option that goes with any command out of a call, wherever it stands: "--errors json", "--errors=json".
/// \returns its words in the order in which they came; an empty one where none follows.
std::vector<std::string> take_option(Arguments& arguments, const std::string& name) {
  std::vector<std::string> words;
  for (std::size_t i = 0; i < arguments.size();) {
    const bool apart = arguments[i] == name, joined = arguments[i].starts_with(name + "=");
    if (!apart && !joined) {
      ++i;
      continue;
    }
    const bool has_word = joined || i + 1 < arguments.size();
    words.push_back(joined ? arguments[i].substr(name.size() + 1) : has_word ? arguments[i + 1] : std::string());
    const auto at = arguments.begin() + static_cast<std::ptrdiff_t>(i);
    arguments.erase(at, at + (apart && has_word ? 2 : 1));
  }
  return words;
}

bool take_flag(Arguments& arguments, std::string_view name) { return std::erase(arguments, name) > 0; }

/// How the program speaks: what goes with any command. \returns false where a word is not one of an option's.
bool take_manner(Arguments& arguments, Streams streams) {
  const auto refuse = [&](const std::string& message) {
    print_error(message, streams.err);
    return false;
  };
  for (const Manner& one : manners()) {
    if (one.words.empty()) continue;
    for (const std::string& word : take_option(arguments, std::string(one.option))) {
      if (std::find(one.words.begin(), one.words.end(), word) == one.words.end())
        return refuse(fmt::format("{}: \"{}\" is not one of {}.", one.option, printable(word, 40),
                                  listed({one.words.begin(), one.words.end()}, "or")));
      if (one.option == "--errors" && word == "json") streams.err.tell_as_json();
      if (one.option != "--color" || word == "auto") continue;
      streams.out.colour(word == "always");
      streams.err.colour(word == "always");
    }
  }
  const bool is_quiet = take_flag(arguments, "--quiet"), tells_all = take_flag(arguments, "--verbose");
  if (is_quiet && tells_all) return refuse("--quiet and --verbose ask for opposite things; leave one out.");
  if (is_quiet) {
    streams.out.say_nothing(false);
    streams.err.say_nothing(true);
  }
  if (tells_all) {
    streams.out.tell_all();
    streams.err.tell_all();
  }
  return true;
}

} // namespace

Exit run_program(const Arguments& typed, Streams streams) {
  Arguments arguments = typed;
  // What is completed is a call of somebody else's.
  const bool is_completing = !arguments.empty() && arguments.front() == "complete";
  if (!is_completing && !take_manner(arguments, streams)) return Exit::bad_input;
  if (arguments.empty()) {
    print_first_steps(streams.out);
    return Exit::fine;
  }
  const std::string& first = arguments.front();
  if (first == "--help" || first == "-h" || first == "help") {
    print_help(streams.out);
    return Exit::fine;
  }
  if (first == "--version") {
    streams.out.line(fmt::format("stasis {}", version));
    return Exit::fine;
  }
  const Command* command = find_command(first);
  if (command == nullptr) return unknown_command(first, streams.err);
  return command->run(Arguments(arguments.begin() + 1, arguments.end()), streams);
}

} // namespace stasis::cli
