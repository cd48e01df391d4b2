// `stasis history`: the texts that a feel had, what each changed, and back to one of them.
#include <algorithm>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/draw.hpp"
#include "cli/readings.hpp"
#include "cli/rewrite_feel.hpp"
#include "cli/version.hpp"
#include "core/feel/document_changes.hpp"
#include "core/feel/key_table.hpp"
#include "core/text.hpp"
#include "io/history.hpp"
#include "io/json_writer.hpp"
#include "io/toml_reader.hpp"

namespace stasis::cli {
namespace {

constexpr const char* history_example =
    R"text(Whenever Stasis writes into a feel (set, tune, solve, rates), it keeps the text before and after
in stasis-history/ beside the feel: 50 texts, or as many as the feel's key `history` says; 0: none.

Worked examples:
  stasis history otter.toml                  what changed, when, by which call, what that did
  stasis history otter.toml --undo           goes back to the text before the last change; again, to the one before
  stasis history otter.toml --restore 3      goes back to version 3; the text of now is kept as well
  stasis history otter.toml --show 3         prints version 3
  stasis compare otter.toml@3 otter.toml     any command takes a kept version: FEEL@NUMBER)text";

struct HistoryOptions {
  std::string file, restore, show, last = "10", call;
  bool undo = false, json = false, allow_outside = false;
};

/// A kept version and what it changed, against the version that it was made from.
struct Told {
  io::KeptVersion version;
  bool is_now = false;
  std::vector<ValueChange> values;
  std::vector<NamedMeasure> before, after;
};

class History {
public:
  History(const HistoryOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (options_.file == "-") return refuse("standard input has no history; name a file");
    const int asked = (options_.undo ? 1 : 0) + (options_.restore.empty() ? 0 : 1) + (options_.show.empty() ? 0 : 1);
    if (asked > 1) return refuse("--undo, --restore and --show are three different calls; give one of them");
    if (!options_.show.empty()) return show();
    if (options_.undo) return undo();
    if (!options_.restore.empty()) return restore();
    return list();
  }

private:
  Exit refuse(const std::string& message) const {
    print_error(message + ".", streams_.err);
    return Exit::bad_input;
  }
  Exit refuse(const io::FileError& fault) const {
    failed(fault, streams_.err);
    return fault.refused ? Exit::bad_input : Exit::bad_file;
  }

  tl::expected<int, Exit> number(const std::string& option, const std::string& text) const {
    const auto given = number_option(option, text, 1, 1e9, true, streams_.err);
    if (!given) return tl::unexpected(given.error());
    return static_cast<int>(*given);
  }

  Exit show() {
    const auto version = number("--show", options_.show);
    if (!version) return version.error();
    const auto text = io::kept_text(options_.file, *version);
    if (!text) return refuse(text.error());
    streams_.out.exactly(*text);
    return Exit::fine;
  }

  Exit restore() {
    const auto version = number("--restore", options_.restore);
    if (!version) return version.error();
    return take_up(*version);
  }

  Exit take_up(int version) {
    const auto text = io::kept_text(options_.file, version);
    if (!text) return refuse(text.error());
    bool is_there = false;
    const Exit ended = rewrite_feel({options_.file, options_.allow_outside, options_.call, version}, streams_.err,
                                    [&](const std::string& now) -> tl::expected<std::optional<std::string>, Exit> {
                                      is_there = now == *text;
                                      return is_there ? std::nullopt : std::optional(*text);
                                    });
    if (ended != Exit::fine) return ended;
    streams_.out.line(is_there ? fmt::format("  {} is version {} already", options_.file, version)
                               : fmt::format("  wrote {}: version {} again", options_.file, version));
    return Exit::fine;
  }

  /// What is kept, and which of it stands in the file now.
  struct Kept {
    std::vector<io::KeptVersion> versions;
    std::optional<io::KeptVersion> now;
  };
  io::FileResult<Kept> kept() const {
    auto versions = io::kept_versions(options_.file);
    if (!versions) return tl::unexpected(versions.error());
    const auto text = io::read_file(options_.file, most_document_bytes);
    if (!text) return tl::unexpected(text.error());
    auto now = io::version_with_text(options_.file, *text);
    if (!now) return tl::unexpected(now.error());
    return Kept{std::move(*versions), std::move(*now)};
  }

  Exit undo() {
    const auto read = kept();
    if (!read) return refuse(read.error());
    const auto& [versions, now] = *read;
    if (versions.empty()) return refuse(fmt::format("nothing is kept of {} yet", options_.file));
    // Changed by hand since: back to what Stasis wrote last.
    if (!now) return take_up(versions.back().number);
    io::KeptVersion current = *now;
    // What was restored goes on from there, so that undo after undo leads further back.
    for (std::size_t steps = 0; current.restores && steps < versions.size(); ++steps) {
      const auto original = std::find_if(versions.begin(), versions.end(),
                                         [&](const io::KeptVersion& v) { return v.number == *current.restores; });
      if (original == versions.end()) break;
      current = *original;
    }
    if (!current.from || current.restores)
      return refuse(fmt::format("nothing older is kept than what {} is now", options_.file));
    return take_up(*current.from);
  }

  Exit list() {
    const auto read = kept();
    if (!read) return refuse(read.error());
    const auto& [versions, now] = *read;
    const auto last = number("--last", options_.last);
    if (!last) return last.error();
    const std::size_t shown = std::min(versions.size(), static_cast<std::size_t>(*last));
    std::vector<Told> told;
    for (auto one = versions.end() - static_cast<std::ptrdiff_t>(shown); one != versions.end(); ++one)
      told.push_back(tell(*one, now && now->number == one->number));
    const bool by_hand = !versions.empty() && !now;
    if (options_.json)
      streams_.out.exact_line(json(told, versions.size(), by_hand));
    else
      print(told, versions.size(), by_hand);
    return Exit::fine;
  }

  Told tell(const io::KeptVersion& version, bool is_now) const {
    Told told{version, is_now, {}, {}, {}};
    if (!version.from) return told;
    const auto before = io::kept_text(options_.file, *version.from),
               after = io::kept_text(options_.file, version.number);
    if (!before || !after) return told;
    const auto was = io::read_toml(*before, 0), is = io::read_toml(*after, 0);
    if (was && is) told.values = value_changes(*was, *is);
    told.before = readings_of(fmt::format("{}@{}", options_.file, *version.from), options_.allow_outside);
    told.after = readings_of(fmt::format("{}@{}", options_.file, version.number), options_.allow_outside);
    return told;
  }

  void print(const std::vector<Told>& told, std::size_t kept, bool by_hand) const {
    if (told.empty()) {
      streams_.out.line(fmt::format("{}: nothing is kept yet. set, tune, solve and rates --write keep what they change",
                                    options_.file));
      return;
    }
    streams_.out.line(fmt::format("{}: {} version{} kept{}", options_.file, kept, kept == 1 ? "" : "s",
                                  kept > told.size() ? fmt::format(", the last {} here", told.size()) : ""));
    for (const Told& one : told) print(one);
    if (by_hand) streams_.out.line("  what stands in the file now is not one of these: it was changed by hand");
  }

  void print(const Told& one) const {
    std::string when = one.version.when;
    std::replace(when.begin(), when.end(), 'T', ' ');
    if (!when.empty() && when.back() == 'Z') when.replace(when.size() - 1, 1, " UTC");
    streams_.out.line(fmt::format("\n{}  {}  {}{}{}", one.version.number, when,
                                  one.version.call.empty() ? (one.version.from ? "changed by hand" : "as it was found")
                                                           : printable(one.version.call, 200),
                                  one.version.restores ? fmt::format(": version {} again", *one.version.restores) : "",
                                  one.is_now ? "   <- now" : ""));
    constexpr std::size_t most_values = 12, most_measures = 6;
    for (std::size_t i = 0; i < streams_.out.told_of(one.values.size(), most_values); ++i) {
      const ValueChange& change = one.values[i];
      const auto side = [](const std::string& value) { return value.empty() ? std::string("nothing") : value; };
      streams_.out.line(
          fmt::format("     {}: {} to {}", printable(change.path, 120), side(change.before), side(change.after)));
    }
    if (const std::size_t told = streams_.out.told_of(one.values.size(), most_values); told < one.values.size())
      streams_.out.line(fmt::format("     and {} more values", one.values.size() - told));
    const auto measures = changes_of(one.before, one.after);
    for (std::size_t i = 0; i < streams_.out.told_of(measures.size(), most_measures); ++i)
      streams_.out.line("       " + change_text(measures[i]));
    if (const std::size_t told = streams_.out.told_of(measures.size(), most_measures); told < measures.size())
      streams_.out.line(fmt::format("       and {} more measures changed", measures.size() - told));
  }

  std::string json(const std::vector<Told>& told, std::size_t kept, bool by_hand) const {
    io::JsonWriter json;
    json.begin_object().key("stasis").text(version).key("feel").text(printable(options_.file, 10'000));
    json.key("kept").number(static_cast<double>(kept)).key("changed_by_hand").flag(by_hand);
    json.key("versions").begin_array();
    const auto optional = [](const std::optional<int>& number) {
      return number ? std::optional(static_cast<double>(*number)) : std::nullopt;
    };
    for (const Told& one : told) {
      json.begin_object().key("number").number(one.version.number).key("when").text(one.version.when);
      json.key("call").text(one.version.call).key("from").number(optional(one.version.from));
      json.key("restores").number(optional(one.version.restores)).key("is_now").flag(one.is_now);
      json.key("values");
      write_value_changes(json, one.values);
      json.key("measures");
      write_changes(json, changes_of(one.before, one.after));
      json.end_object();
    }
    return json.end_array().end_object().take();
  }

  const HistoryOptions& options_;
  Streams streams_;
};

} // namespace

Exit run_history(const Arguments& arguments, Streams streams) {
  Call call("stasis history", "What Stasis changed in a feel, when and by which call, and the way back.",
            history_example);
  HistoryOptions options;
  options.call = typed("stasis history", arguments);
  call.positional("feel", options.file, "The feel", true);
  call.flag("--undo", options.undo, "Write the text before the last change");
  call.option("--restore", options.restore, "Write the text of this version");
  call.option("--show", options.show, "Print the text of this version");
  call.option("--last", options.last, "How many versions are listed, newest last");
  call.flag("--json", options.json, "Print the list as JSON");
  call.flag("--allow-outside", options.allow_outside, "Files that the feel names may lie outside its folder");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return History(options, streams).run();
}

} // namespace stasis::cli
