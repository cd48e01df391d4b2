// `stasis explain`: what each channel does, in words and numbers, in every equivalent form.
#include <algorithm>
#include <map>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/load_feel.hpp"
#include "cli/motion_json.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/check/warning.hpp"
#include "core/explain/explain.hpp"
#include "core/explain/explain_controls.hpp"
#include "core/explain/explain_sequence.hpp"
#include "core/explain/glossary.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr const char* explain_example = R"text(Worked example:
  stasis explain otter.toml --only fov

says for the field of view: where it rests, by which motion it moves and how that feels, the
same motion in other words, how long a step takes to 50, 90 and 98 %, how far it lags behind a goal
that moves steadily, how much of a sway comes through and how late, what happens at the ends of
its range, what each pose does to it, and what looks wrong.)text";

/// What was told of one channel already, so that another one need only refer to it; with --verbose all is told in full.
class ToldBefore {
public:
  /// The channel of which `words` were told; none: they are told now, of `channel`.
  std::optional<std::string> of(const std::string& words, const std::string& channel, const Output& out) {
    if (out.tells_all()) return std::nullopt;
    const auto [place, is_new] = first_.emplace(words, channel);
    if (is_new) return std::nullopt;
    return place->second == channel ? "above" : "for " + place->second;
  }

private:
  std::map<std::string, std::string> first_;
};

std::string seconds(const std::optional<double>& time) { return time ? readable(*time) + " s" : std::string("never"); }

std::string form_text(const EquivalentForm& form) {
  return fmt::format("{} {}{}", form.name, readable(form.value, 4), form.unit.empty() ? "" : " " + form.unit);
}

void print_lag(const MotionAccount& motion, const Channel& channel, Output& out) {
  const std::string unit = channel.unit.empty() ? "" : " " + printable(channel.unit, 16);
  std::string text =
      "a goal that moves by itself does not restart it; after the move, the value follows such a goal exactly";
  if (motion.at_fps)
    text = "a goal that moves by itself is followed by a fixed amount on each frame; it never catches up with a faster "
           "one";
  if (motion.lag && is_logarithmic(channel.space.space))
    text = fmt::format("behind a goal that changes by equal factors in equal times it is {} s late",
                       readable(*motion.lag));
  else if (motion.lag)
    text = fmt::format("behind a goal moving at 1{} a second it lags by {}{} ({} s late)", unit, readable(*motion.lag),
                       unit, readable(*motion.lag));
  out.write(paragraph(text, "    "));
}

void print_motion(const MotionAccount& motion, const Channel& channel, ToldBefore& told, Output& out) {
  const bool has_own_name = !motion.sentence.starts_with("a " + motion.name); // a channel without a motion: "by a cut"
  const std::string by =
      fmt::format("{}by {}", motion.when.empty() ? "" : motion.when + ": ", has_own_name ? motion.name + ", " : "");
  if (const auto before = told.of(motion.name + motion.sentence, channel.name, out)) {
    out.write(paragraph(fmt::format("{}as {}.", by, *before), "  "));
    if (motion.lag && !motion.step.takes_no_time()) print_lag(motion, channel, out);
    return;
  }
  out.write(paragraph(fmt::format("{}{}.", by, motion.sentence), "  "));
  if (motion.step.takes_no_time()) return; // it takes no time, lags behind nothing and lets every sway pass
  std::string exact, nearest;
  for (const EquivalentForm& form : motion.forms) {
    std::string& list = form.sense.starts_with("exact") ? exact : nearest;
    list += (list.empty() ? "" : ", ") + form_text(form)
            + (form.sense.find(" fps") != std::string::npos ? " at 60 fps" : "");
  }
  if (!exact.empty()) out.write(paragraph("the same: " + exact, "    "));
  if (!nearest.empty()) out.write(paragraph("nearest, the same time to 90 %: " + nearest, "    "));
  const StepAccount& step = motion.step;
  if (!step.why_not_played.empty()) out.write(paragraph("a step: " + step.why_not_played, "    "));
  if (step.to_50)
    out.write(paragraph(
        fmt::format("a step: 50 % after {}, 90 % after {}, 98 % after {}; settled (2 %) after {}; overshoot {} %{}",
                    seconds(step.to_50), seconds(step.to_90), seconds(step.to_98), seconds(step.settling_time),
                    readable(step.overshoot.value_or(0.0)),
                    step.start_kick
                        ? fmt::format("; start kick {} (0 is soft, a glide has 3.9)", readable(*step.start_kick, 2))
                        : ""),
        "    "));
  print_lag(motion, channel, out);
  if (motion.sways.empty()) return;
  TextTable table({"sway of the goal", "passes", "late"}, {true, true, true});
  for (const Sway& sway : motion.sways)
    table.add({fmt::format("{} Hz", concise(sway.frequency_hz)), fmt::format("{} %", readable(100.0 * sway.passes)),
               fmt::format("{} s", readable(sway.late))});
  const std::string rows = table.text();
  for (const std::string_view line : split(rows, '\n')) out.line("  " + std::string(line));
}

void print_channel(const Feel& feel, const ChannelAccount& account, const Channel& channel, ToldBefore& told,
                   Output& out) {
  out.write(paragraph(account.channel + ": " + account.heading + ".", ""));
  for (const std::string* lead : {&account.follow, &account.profile, &account.realign, &account.room})
    if (!lead->empty()) out.write(paragraph(*lead + ".", "  "));
  for (const MotionAccount& motion : account.motions) print_motion(motion, channel, told, out);
  for (const PoseAccount& pose : account.poses)
    out.write(paragraph(fmt::format("pose {}: {}.", pose.pose, pose.sentence), "  "));
  if (!account.snap.empty()) out.write(paragraph(account.snap + ".", "  "));
  if (!account.time.empty()) out.write(paragraph(account.time + ".", "  "));
  if (!account.at_range.empty()) {
    const auto before = told.of(account.at_range, account.channel, out);
    out.write(paragraph("at the range: " + (before ? "as " + *before : account.at_range) + ".", "  "));
  }
  for (const Warning& warning : warnings_of_feel(feel))
    if (warning.about == account.channel
        || std::any_of(account.motions.begin(), account.motions.end(),
                       [&](const MotionAccount& m) { return m.name == warning.about; }))
      out.write(paragraph(fmt::format("warning {}: {}.", warning.code, warning.message), "  "));
}

/// The controls that send one of the channels somewhere, and who decides between them.
void print_controls(const Feel& feel, const std::vector<ChannelAccount>& channels, Output& out) {
  const auto is_shown = [&](std::size_t c) {
    return std::any_of(channels.begin(), channels.end(),
                       [&](const ChannelAccount& a) { return a.channel == feel.channels[c].name; });
  };
  std::string text;
  for (const ControlAccount& account : accounts_of_controls(feel)) {
    const Control& control = feel.controls[account.control];
    bool shown = false;
    for (std::size_t c = 0; c < feel.channels.size(); ++c) shown = shown || (is_shown(c) && drives(feel, control, c));
    if (!shown) continue;
    text += paragraph(fmt::format("{}: {}.", control.name, account.sentence), "  ");
    for (const Warning& warning : warnings_of_feel(feel))
      if (warning.about == control.name)
        text += paragraph(fmt::format("warning {}: {}.", warning.code, warning.message), "    ");
  }
  for (const Switch& one : feel.switches)
    text += paragraph(fmt::format("{}: {}.", one.name, account_of_switch(feel, one)), "  ");
  for (const ContestAccount& contest : accounts_of_contests(feel))
    if (is_shown(contest.channel))
      text += paragraph(fmt::format("{}: {}.", feel.channels[contest.channel].name, contest.sentence), "  ");
  if (text.empty()) return;
  out.line();
  out.line("controls");
  out.write(text);
}

/// Sequences that lead one of the channels, stop by stop.
void print_sequences(const Feel& feel, const std::vector<ChannelAccount>& channels, Output& out) {
  for (const Sequence& sequence : feel.sequences) {
    const bool told = std::any_of(channels.begin(), channels.end(), [&](const ChannelAccount& account) {
      return std::any_of(sequence.led.begin(), sequence.led.end(),
                         [&](const PoseGoal& led) { return feel.channels[led.channel].name == account.channel; });
    });
    if (!told) continue;
    const SequenceAccount account = account_of_sequence(feel, nullptr, sequence);
    out.line();
    out.write(paragraph(fmt::format("sequence {}: {} s; {}. Begun from rest:", account.sequence,
                                    readable(account.duration), account.sentence),
                        ""));
    const std::string along = account.unit.empty() ? "" : " " + account.unit;
    TextTable table({"stop", "at", "how", "way", "top speed", "turns at up to"}, {true, true, false, true, true, true});
    const auto size = [](double value, const std::string& unit) {
      return value > 0.0 ? readable(value) + unit : "\u2013";
    };
    for (const StopAccount& stop : account.stops)
      table.add({fmt::format("{}", stop.stop),
                 readable(stop.arrives) + (stop.leaves > stop.arrives ? " to " + readable(stop.leaves) : "") + " s",
                 stop.way, size(stop.leg.leg.length, along), size(stop.leg.leg.top_speed, along + "/s"),
                 size(stop.leg.top_turn_speed.value_or(0.0), " deg/s")});
    out.write(table.text());
    for (const StopAccount& stop : account.stops)
      out.write(paragraph(fmt::format("{}: {}", stop.stop, stop.goals), "    "));
    for (const std::string& lost : account.given_up) out.write(paragraph("not kept on the way " + lost + ".", "  "));
    for (const Warning& warning : warnings_of_feel(feel))
      if (warning.about == account.sequence)
        out.write(paragraph(fmt::format("warning {}: {}.", warning.code, warning.message), "  "));
  }
}

void write_sequences(io::JsonWriter& json, const Feel& feel) {
  json.key("sequences").begin_object();
  for (const Sequence& sequence : feel.sequences) {
    const SequenceAccount account = account_of_sequence(feel, nullptr, sequence);
    json.key(account.sequence).begin_object().key("words").text(account.sentence).key("along").text(account.along);
    json.key("duration").number(account.duration).key("stops").begin_array();
    for (const StopAccount& stop : account.stops) {
      json.begin_object().key("stop").integer(static_cast<std::int64_t>(stop.stop));
      json.key("arrives").number(stop.arrives).key("leaves").number(stop.leaves).key("way").text(stop.way);
      json.key("goals").text(stop.goals).key("length").number(stop.leg.leg.length);
      json.key("top_speed").number(stop.leg.leg.top_speed).key("top_turn_speed").number(stop.leg.top_turn_speed);
      json.end_object();
    }
    json.end_array().key("given_up").begin_array();
    for (const std::string& lost : account.given_up) json.text(lost);
    json.end_array().end_object();
  }
  json.end_object();
}

void write_controls(io::JsonWriter& json, const Feel& feel) {
  json.key("controls").begin_object();
  for (const ControlAccount& account : accounts_of_controls(feel)) {
    json.key(feel.controls[account.control].name).begin_object().key("words").text(account.sentence);
    if (account.clicks_end_to_end)
      json.key("clicks_end_to_end")
          .integer(*account.clicks_end_to_end)
          .key("strokes_end_to_end")
          .integer(*account.strokes_end_to_end);
    json.end_object();
  }
  json.end_object().key("contests").begin_object();
  for (const ContestAccount& contest : accounts_of_contests(feel))
    json.key(feel.channels[contest.channel].name).text(contest.sentence);
  json.end_object();
}

std::string explain_json(const LoadedFeel& loaded, const std::vector<ChannelAccount>& accounts) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(loaded.name, 10'000)).key("variant");
  loaded.variant.empty() ? json.null() : json.text(loaded.variant);
  json.key("channels").begin_object();
  for (const ChannelAccount& account : accounts) {
    json.key(account.channel).begin_object().key("words").text(account.heading).key("motions").begin_array();
    for (const MotionAccount& motion : account.motions) write_motion(json, motion);
    json.end_array().key("poses").begin_array();
    for (const PoseAccount& pose : account.poses)
      json.begin_object()
          .key("pose")
          .text(pose.pose)
          .key("words")
          .text(pose.sentence)
          .key("picture_scale")
          .number(pose.picture_scale)
          .end_object();
    json.end_array().key("follow").text(account.follow).key("profile").text(account.profile);
    json.key("realign")
        .text(account.realign)
        .key("room")
        .text(account.room)
        .key("snap")
        .text(account.snap)
        .key("time")
        .text(account.time);
    json.key("at_range").text(account.at_range).end_object();
  }
  json.end_object();
  json.key("shakes").begin_object();
  for (const Shake& shake : loaded.feel.shakes) json.key(shake.name).text(shake_in_words(loaded.feel, shake));
  json.end_object();
  write_controls(json, loaded.feel);
  write_sequences(json, loaded.feel);
  json.key("warnings").begin_array();
  for (const Warning& warning : warnings_of_feel(loaded.feel))
    json.begin_object()
        .key("code")
        .text(warning.code)
        .key("about")
        .text(warning.about)
        .key("message")
        .text(warning.message)
        .end_object();
  json.end_array().end_object();
  return json.take();
}

/// The shakes of the channels that are told of.
void print_shakes(const Feel& feel, const std::vector<ChannelAccount>& accounts, Output& out) {
  bool any = false;
  for (const Shake& shake : feel.shakes) {
    const bool told = std::any_of(shake.targets.begin(), shake.targets.end(), [&](const ShakeTarget& target) {
      return std::any_of(accounts.begin(), accounts.end(), [&](const ChannelAccount& account) {
        return account.channel == feel.channels[target.component.channel].name;
      });
    });
    if (!told) continue;
    if (!any) out.write("\nshakes:\n");
    any = true;
    out.write(paragraph(shake.name + ": " + shake_in_words(feel, shake) + ".", "  "));
  }
}

Exit tell_term(const std::string& name, bool with_feel, Streams streams) {
  if (with_feel) {
    print_error("--term explains a word, not a feel; leave the feel out.", streams.err);
    return Exit::bad_input;
  }
  const auto tell = [&](const Term& term) {
    streams.out.write(paragraph(fmt::format("{}: {}", term.name, term.meaning), "  "));
  };
  if (name == "all") {
    for (const Term& term : glossary()) tell(term);
    return Exit::fine;
  }
  if (const Term* const term = find_term(name)) {
    tell(*term);
    return Exit::fine;
  }
  std::vector<std::string_view> known;
  for (const Term& term : glossary()) known.push_back(term.name);
  print_error(fmt::format("--term: \"{}\" is not in the glossary.{} `stasis explain --term all` prints it.",
                          printable(name, 60), did_you_mean(name, known)),
              streams.err);
  return Exit::bad_input;
}

/// All of it, channel by channel.
void print_feel(const LoadedFeel& loaded, const std::vector<ChannelAccount>& accounts, Output& out) {
  out.line(printable(loaded.name, 80) + (loaded.variant.empty() ? "" : ", variant " + loaded.variant));
  ToldBefore told;
  for (const ChannelAccount& account : accounts) {
    out.line();
    const auto channel = std::find_if(loaded.feel.channels.begin(), loaded.feel.channels.end(),
                                      [&](const Channel& c) { return c.name == account.channel; });
    print_channel(loaded.feel, account, *channel, told, out);
  }
  // Of a file that holds rules only, which feels include: its motions by themselves.
  for (const NamedMotion& named : loaded.feel.motions)
    if (loaded.feel.channels.empty() && !std::holds_alternative<Cut>(named.motion)) {
      out.line();
      print_motion(account_of(named.name, named.motion), Channel{}, told, out);
    }
  print_shakes(loaded.feel, accounts, out);
  print_controls(loaded.feel, accounts, out);
  print_sequences(loaded.feel, accounts, out);
}

} // namespace

Exit run_explain(const Arguments& arguments, Streams streams) {
  Call call("stasis explain", "What each channel does, in words and numbers, in every equivalent form.",
            explain_example);
  FeelCall feel_call;
  std::vector<std::string> only;
  bool as_json = false;
  std::string term;
  call.positional("feel", feel_call.file, "The feel, or - for standard input", false);
  call.option("--term", term, "What a word means, such as half-life; all: the whole glossary");
  call.repeated("--set", feel_call.set, "Override a value for this call: path=value");
  call.repeated("--variant", feel_call.variants, "This variant instead of the base feel");
  call.repeated("--only", only, "Only this channel");
  call.flag("--allow-outside", feel_call.allow_outside, "Files that the feel names may lie outside its folder");
  call.flag("--json", as_json, "Print as JSON, one line a variant");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (!term.empty()) return tell_term(term, !feel_call.file.empty(), streams);
  if (feel_call.file.empty()) {
    print_error("name the feel to explain, or a word by --term.", streams.err);
    return Exit::bad_input;
  }
  const auto source = FeelSource::open(feel_call, streams.err);
  if (!source) return source.error();
  for (const std::string& variant : source->chosen(feel_call.variants)) {
    const auto loaded = source->version(variant, {}, streams.err);
    if (!loaded) return loaded.error();
    std::vector<std::string_view> known;
    for (const Channel& channel : loaded->feel.channels) known.push_back(channel.name);
    for (const std::string& name : only)
      if (std::find(known.begin(), known.end(), name) == known.end()) {
        print_error(fmt::format("--only: the feel has no channel \"{}\".{} Known: {}.", printable(name, 60),
                                did_you_mean(name, known), listed(known)),
                    streams.err);
        return Exit::bad_input;
      }
    std::vector<ChannelAccount> accounts;
    for (std::size_t c = 0; c < known.size(); ++c)
      if (only.empty() || std::find(only.begin(), only.end(), known[c]) != only.end())
        accounts.push_back(account_of(loaded->feel, c));
    if (as_json) {
      streams.out.exact_line(explain_json(*loaded, accounts));
      continue;
    }
    print_feel(*loaded, accounts, streams.out);
  }
  return Exit::fine;
}

} // namespace stasis::cli
