// `stasis set`: write values into a feel, keeping everything else as it stands.
#include <algorithm>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/load_feel.hpp"
#include "cli/reform_motion.hpp"
#include "cli/rewrite_feel.hpp"
#include "core/feel/key_table.hpp"
#include "core/text.hpp"
#include "io/files.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"
#include "io/variant_overrides.hpp"

namespace stasis::cli {
namespace {

constexpr const char* set_example = R"text(Worked example:
  stasis set otter.toml motion.soft.frequency=2.2 "motion.swing.duration=0.3"

replaces just those two values in the text, and shows each line before and after. Comments, order,
blanks and line ends stay as they are. A value in an included file is changed there. A key that was not there is added to its table.
If the feel would no longer be valid, the message says why, and the file stays as it was.
  stasis set first.toml --form channel.fov.motion=stiffness   the same spring, by stiffness and damping
  stasis set swim.toml --form motion.easy=frequency   a spring that settles as fast as that glide
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

/// One call of `set`: its changes, each in the file that holds what it changes.
class Setting {
public:
  Setting(Rewriting rewriting, const std::vector<std::string>& words, const std::vector<std::string>& forms,
          Streams streams)
      : rewriting_(std::move(rewriting)), words_(words), forms_(forms), streams_(streams) {}

  Exit run(bool dry_run) {
    for (const bool is_form : {false, true})
      for (const std::string& word : is_form ? forms_ : words_) {
        const auto change = change_of(word, streams_.err);
        if (!change) return Exit::bad_input;
        const std::string owner = owner_of(rewriting_.file, rewriting_.allow_outside, change->path);
        const auto known =
            std::find_if(files_.begin(), files_.end(), [&](const InFile& one) { return one.file == owner; });
        InFile& one = known != files_.end() ? *known : files_.emplace_back(InFile{owner, {}, {}});
        (is_form ? one.forms : one.values).push_back(*change);
      }
    // Where several files change, all are tried before one is written.
    if (files_.size() > 1 || dry_run)
      for (const InFile& one : files_)
        if (const Exit ended = rewrite(one, false); ended != Exit::fine) return ended;
    if (!dry_run) {
      shown_.clear();
      for (const InFile& one : files_)
        if (const Exit ended = rewrite(one, true); ended != Exit::fine) return ended;
    }
    streams_.out.write(shown_);
    if (dry_run) streams_.out.line("  nothing written: this was a dry run");
    for (const InFile& one : files_)
      if (!dry_run) streams_.out.wrote(one.file);
    return Exit::fine;
  }

private:
  struct InFile {
    std::string file;
    std::vector<Change> values, forms;
  };

  Exit rewrite(const InFile& one, bool is_written) {
    Rewriting rewriting = rewriting_;
    rewriting.file = one.file;
    return rewrite_feel(
        rewriting, streams_.err, [&](const std::string& text) { return changed(one, text); },
        [&] { return is_written; });
  }

  tl::expected<std::optional<std::string>, Exit> changed(const InFile& one, const std::string& text) {
    std::string now = text;
    for (const Change& change : one.values) {
      auto edit = io::edit_value(now, change.path, change.value);
      if (!edit) {
        print_problems(edit.error(), {{one.file, now}}, streams_.err);
        return tl::unexpected(Exit::bad_input);
      }
      now = std::move(edit->text);
      shown_ += fmt::format("{}:{}\n{}  + {}\n", one.file, edit->line,
                            edit->before.empty() ? "" : "  - " + printable(edit->before, 300) + "\n",
                            printable(edit->after, 300));
    }
    for (const Change& change : one.forms) {
      if (one.file != rewriting_.file && variant_elsewhere(change, one.file)) return tl::unexpected(Exit::bad_input);
      // By what stands there now: the motions may have been changed just before.
      auto next =
          reformed({one.file, now, rewriting_.allow_outside}, {change.path, change.value}, shown_, streams_.err);
      if (!next) return tl::unexpected(next.error());
      now = std::move(*next);
    }
    return now;
  }

  /// Whether a variant of the feel changes numbers of a motion that stands in another file; it is said.
  bool variant_elsewhere(const Change& change, const std::string& owner) const {
    const auto text = io::read_file(rewriting_.file, most_document_bytes);
    const auto document = io::read_toml(text ? *text : "", 0);
    const auto overrides = document ? io::overrides_of(*document, change.path) : std::vector<io::Override>();
    if (overrides.empty()) return false;
    print_error(
        fmt::format(
            "--form {}: the motion stands in {}, and the variant {} of {} says its {}. Bring both into one file "
            "first.",
            printable(change.path, 120), printable(owner, 200), printable(overrides.front().variant, 60),
            printable(rewriting_.file, 200), printable(overrides.front().last(), 60)),
        streams_.err);
    return true;
  }

  Rewriting rewriting_;
  const std::vector<std::string>&words_, &forms_;
  Streams streams_;
  std::vector<InFile> files_; ///< in the order in which the call names them
  std::string shown_;
};

} // namespace

Exit run_set(const Arguments& arguments, Streams streams) {
  Call call("stasis set", "Write values into a feel, keeping its comments and everything else.", set_example);
  std::string file;
  std::vector<std::string> words, forms;
  bool dry_run = false, allow_outside = false;
  call.positional("feel", file, "The feel", true);
  call.positionals("path=value", words, "What to write");
  call.repeated("--form", forms, "Give a motion in another form: motion.soft=stiffness, or half_life, frequency, ...");
  call.flag("--dry-run", dry_run, "Show the change, write nothing");
  call.flag("--allow-outside", allow_outside, "Files that the feel names may lie outside its folder");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if ((words.empty() && forms.empty()) || file == "-") {
    print_error(words.empty() && forms.empty() ? "no PATH=VALUE was given. `stasis set --help` shows what it takes."
                                               : "a value can only be set in a file, not in standard input.",
                streams.err);
    return Exit::bad_input;
  }
  return Setting({file, allow_outside, typed("stasis set", arguments)}, words, forms, streams).run(dry_run);
}

} // namespace stasis::cli
