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
blanks and line ends stay as they are. A key that was left at its default is added to its table.
What validation refuses is refused here too, with the same message, and the file stays as it was.
  stasis set otter.toml --form motion.soft=stiffness      the same spring by stiffness and damping
  stasis set otter.toml --form motion.drift=frequency     a spring that settles as soon as that glide
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
        for (const std::string& word : forms) {
          const auto change = change_of(word, streams.err);
          if (!change) return tl::unexpected(Exit::bad_input);
          // By what stands there now: the motions may have been changed just before.
          const auto feel = feel_of_text(file, now, allow_outside, streams.err);
          if (!feel) return tl::unexpected(feel.error());
          auto next = reformed(*feel, now, *change, file, shown, streams.err);
          if (!next) return tl::unexpected(Exit::bad_input);
          now = std::move(*next);
        }
        return now;
      },
      [&] {
        is_written = !dry_run;
        return is_written;
      });
  if (ended != Exit::fine) return ended;
  streams.out.write(shown);
  streams.out.line(is_written ? "  wrote " + file : "  nothing written: this was a dry run");
  return Exit::fine;
}

} // namespace stasis::cli
