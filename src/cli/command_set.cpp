// `stasis set`: write values into a feel, keeping everything else as it stands.
#include <algorithm>
#include <span>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/load_feel.hpp"
#include "cli/rewrite_feel.hpp"
#include "core/explain/motion_form.hpp"
#include "core/text.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"

namespace stasis::cli {
namespace {

constexpr const char* set_example = R"text(Worked example:
  stasis set otter.toml motion.soft.frequency=2.2 "motion.swing.duration=0.3"

replaces just those two values in the text, and shows each line before and after. Comments, order,
blanks and line ends stay as they are. What stands in an included file is changed there. A key that was left at its default is added to its table.
What validation refuses is refused here too, with the same message, and the file stays as it was.
  stasis set first.toml --form channel.fov.motion=stiffness   the same spring by stiffness and damping
  stasis set swim.toml --form motion.easy=frequency   a spring that settles as soon as that glide
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

/// The first key of a motion's form whose number is read off a setting; empty if there is none.
std::string_view key_of_setting(const std::string& text, const std::string& path) {
  const auto document = io::read_toml(text, 0);
  if (!document) return {};
  for (const auto keys :
       {std::span<const std::string_view>(first_form_keys), std::span<const std::string_view>(second_form_keys)})
    for (const std::string_view key : keys) {
      const Node* there = node_at(*document, fmt::format("{}.{}", path, key));
      if (there != nullptr && there->table() != nullptr) return key;
    }
  return {};
}

/// Gives the motion at a path another form. \returns the new text; the fault has been said where there is none.
// many: what is changed, how, and where it is said
std::optional<std::string> reformed(const Feel& feel, const std::string& text, const Change& change,
                                    const std::string& file, std::string& shown, Output& err) {
  const auto refuse = [&](const std::string& why) -> std::nullopt_t {
    print_error(fmt::format("--form {}: {}.", printable(change.path, 120), why), err);
    return std::nullopt;
  };
  // motion.soft, or channel.yaw.motion for one that is written in place
  std::string name = change.path;
  for (const std::string_view head : {"motion.", "channel."})
    if (name.starts_with(head)) name.erase(0, head.size());
  const auto motion =
      std::find_if(feel.motions.begin(), feel.motions.end(), [&](const NamedMotion& m) { return m.name == name; });
  if (motion == feel.motions.end()) {
    std::vector<std::string> paths;
    for (const NamedMotion& one : feel.motions)
      if (!std::holds_alternative<Cut>(one.motion))
        paths.push_back((one.written_in_place ? "channel." : "motion.") + one.name);
    const std::vector<std::string_view> known(paths.begin(), paths.end());
    return refuse(fmt::format("the feel has no motion there.{}{}", did_you_mean(change.path, known),
                              known.empty() ? "" : " Known: " + listed(known)));
  }
  const auto form = form_named(change.value, motion->motion);
  if (!form)
    return refuse(fmt::format("\"{}\" is no form. Known: half_life, time_constant, rate, frequency, stiffness and "
                              "settling_time",
                              printable(change.value, 40)));
  // A number that a player may change would become one that stands.
  if (const auto led = key_of_setting(text, change.path); !led.empty())
    return refuse(fmt::format("its {} is read off a setting, which a number in its place would cut off", led));
  const auto numbers = numbers_in(*form, motion->motion);
  if (!numbers) return refuse(std::string(numbers.error()));
  std::vector<io::KeyChange> changes{{"kind", "kind", form->is_spring ? "\"spring\"" : "\"glide\""}};
  for (const std::string_view key : first_form_keys)
    changes.push_back({std::string(key), std::string(form->first), shortest(numbers->first)});
  for (const std::string_view key : second_form_keys)
    changes.push_back({std::string(key), std::string(form->second), shortest(numbers->second)});
  for (const std::string_view key : lone_form_keys) changes.push_back({std::string(key), "", ""});
  auto now = io::change_keys(text, change.path, changes);
  if (!now) {
    print_problems(now.error(), {{file, text}}, err);
    return std::nullopt;
  }
  if (form->is_spring && !std::holds_alternative<Spring>(motion->motion)) { // its second key is new
    auto added = io::edit_value(*now, change.path + "." + std::string(form->second), shortest(numbers->second));
    if (!added) {
      print_problems(added.error(), {{file, *now}}, err);
      return std::nullopt;
    }
    now = std::move(added->text);
  }
  shown += fmt::format("{}: {} {}{}{}\n", printable(change.path, 120), form->first, shortest(numbers->first),
                       form->is_spring ? fmt::format(", {} {}", form->second, shortest(numbers->second)) : "",
                       numbers->is_same_motion ? ", the same motion" : ", which settles in the same time");
  return std::move(*now);
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
      // By what stands there now: the motions may have been changed just before.
      const auto feel = feel_of_text(one.file, now, rewriting_.allow_outside, streams_.err);
      if (!feel) return tl::unexpected(feel.error());
      auto next = reformed(*feel, now, change, one.file, shown_, streams_.err);
      if (!next) return tl::unexpected(Exit::bad_input);
      now = std::move(*next);
    }
    return now;
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
