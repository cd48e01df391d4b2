// Sequences: views led through places.
#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "core/feel/read_motion.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

bool goes_by_frames(const Feel& feel, const MotionChoices& choices) {
  return std::any_of(choices.begin(), choices.end(), [&](const MotionChoice& choice) {
    return std::holds_alternative<PerFrame>(feel.motions[choice.rising].motion)
           || std::holds_alternative<PerFrame>(feel.motions[choice.falling].motion);
  });
}

bool is_eased(const Feel& feel, const std::vector<PoseGoal>& goals) {
  return std::any_of(goals.begin(), goals.end(), [&](const PoseGoal& goal) {
    return goal.entering && ease_of(feel.motions[(*goal.entering)[0].rising].motion) != nullptr;
  });
}

class StopReader {
public:
  StopReader(Reading& reading, const Node& node, const std::string& path, const Sequence& sequence)
      : reading_(reading), reader_(node, *find_section("sequence.stop"), path, reading.problems), sequence_(sequence) {}

  std::optional<SequenceStop> read() {
    if (reader_.node().table() == nullptr) return std::nullopt;
    SequenceStop stop;
    stop.goals = read_goals(reading_, reader_);
    stop.at = given("at");
    stop.after = given("after");
    stop.speed = given("speed");
    stop.hold = reader_.number("hold").value_or(0.0);
    read_way(stop);
    check_times(stop);
    check_tracks(stop);
    if (stop.goals.empty() && reader_.is_whole() && !reading_.lacks_channels())
      reader_.report_at("feel.missing_key", reader_.path(), reader_.node().where, "this stop names no channel",
                        "Give it goals of channels, such as fov = 38.");
    return stop;
  }

private:
  std::optional<double> given(std::string_view key) { return reader_.has(key) ? reader_.number(key) : std::nullopt; }

  void read_way(SequenceStop& stop) {
    const bool cut = reader_.flag("cut").value_or(false);
    const int ways = (cut ? 1 : 0) + (reader_.has("curve") ? 1 : 0) + (reader_.has("motion") ? 1 : 0);
    if (ways > 1)
      return reader_.report("feel.too_many_keys", reader_.has("curve") ? "curve" : "motion",
                            "a stop is reached in one way: by a curve, by a motion, or by a cut");
    if (cut) stop.way = SequenceStop::Way::cut;
    if (reader_.has("curve")) {
      stop.way = SequenceStop::Way::eased;
      if (const auto text = reader_.text("curve"))
        stop.curve = read_curve(reading_, *text, joined_path(reader_.path(), "curve"), reader_.where("curve"));
    }
    if (!reader_.has("motion")) return;
    stop.way = SequenceStop::Way::moved;
    const std::string owner = fmt::format("{}.{}", sequence_.name, sequence_.stops.size() + 1);
    read_goal_motions(reading_, reader_, "motion", &PoseGoal::entering, owner, stop.goals);
    for (const PoseGoal& goal : stop.goals)
      if (goal.entering && goes_by_frames(reading_.feel, *goal.entering))
        return reader_.report("feel.motion", "motion", "a sequence cannot go by a rule per frame",
                              "Put its equivalent in: `stasis explain` names it.");
  }

  void check_times(const SequenceStop& stop) {
    const std::array<const char*, 3> keys{"at", "after", "speed"};
    const auto given = std::count_if(keys.begin(), keys.end(), [&](const char* key) { return reader_.has(key); });
    if (given > 1)
      return reader_.report("feel.too_many_keys", reader_.has("speed") ? "speed" : "after",
                            "a stop takes one of at, after and speed");
    if (stop.at && !sequence_.stops.empty()) {
      double last = 0.0; // s: before which no later stop can lie
      for (const SequenceStop& before : sequence_.stops)
        last = (before.at ? *before.at : last + before.after.value_or(0.0)) + before.hold;
      if (*stop.at < last)
        return reader_.report("feel.out_of_bounds", "at",
                              fmt::format("it is reached at {} s, before the last stop is left at {} s",
                                          concise(*stop.at), concise(last)));
    }
    using Way = SequenceStop::Way;
    const bool first = sequence_.stops.empty();
    const bool may_be_untold = first || stop.way == Way::cut || (stop.way == Way::flown && sequence_.steady)
                               || (stop.way == Way::moved && is_eased(reading_.feel, stop.goals));
    if (given == 0 && !may_be_untold && reader_.is_whole())
      reader_.report_at("feel.missing_key", reader_.path(), reader_.node().where,
                        "nothing says when this stop is reached",
                        "Give it one of: at (s from the sequence's beginning), after (s from the stop before), speed.");
  }

  void check_tracks(const SequenceStop& stop) {
    for (const PoseGoal& goal : stop.goals)
      if (goal.track && reading_.feel.tracks[*goal.track].components != reading_.feel.channels[goal.channel].components)
        reader_.report("feel.component_count", reading_.feel.channels[goal.channel].name,
                       fmt::format("the track {} has not as many components as {}",
                                   reading_.feel.tracks[*goal.track].name, reading_.feel.channels[goal.channel].name));
      else if (goal.track && reading_.feel.tracks[*goal.track].in != TrackPlace::world)
        reader_.report("feel.sequence", reading_.feel.channels[goal.channel].name,
                       fmt::format("the track {} is given in the picture, so a stop cannot be where it is",
                                   reading_.feel.tracks[*goal.track].name),
                       "Give the stop a track with places of its own, or numbers.");
  }

  Reading& reading_;
  SectionReader reader_;
  const Sequence& sequence_;
};

class SequenceReader {
public:
  SequenceReader(Reading& reading, const Entry& entry, const std::string& path)
      : reading_(reading), reader_(entry.value, *find_section("sequence"), path, reading.problems) {
    sequence_.name = entry.key;
  }

  std::optional<Sequence> read() {
    if (reader_.node().table() == nullptr) return std::nullopt;
    sequence_.steady = reader_.flag("steady").value_or(false);
    sequence_.overshoot = reader_.flag("overshoot").value_or(true);
    for (const auto& [key, value] :
         {std::pair{"ease_in", &sequence_.ease_in}, std::pair{"ease_out", &sequence_.ease_out}})
      if (reader_.has(key)) *value = reader_.number(key);
    const auto turns = reader_.choice("turns");
    sequence_.turns = turns == "together" ? SequenceTurns::together
                      : turns == "even"   ? SequenceTurns::even
                                          : SequenceTurns::angles;
    sequence_.pace = reader_.number("pace").value_or(1.0);
    sequence_.repeat = static_cast<int>(reader_.number("repeat").value_or(1));
    sequence_.there_and_back = reader_.flag("there_and_back").value_or(false);
    sequence_.backward = reader_.flag("backward").value_or(false);
    sequence_.stays = reader_.choice("on_end") == "stay";
    const std::size_t before = reading_.problems.size();
    read_stops();
    if (reading_.problems.size() > before || sequence_.stops.empty()) return std::nullopt;
    collect_led();
    read_goal_motions(reading_, reader_, "leaving", &PoseGoal::leaving, sequence_.name, sequence_.led);
    read_along();
    for (const std::string& name : reader_.texts("skipped_by").value_or(std::vector<std::string>{}))
      if (const auto control = reading_.resolve(reader_, "skipped_by", name, reading_.feel.controls, NameKind::control))
        sequence_.skipped_by.push_back(*control);
    check_again();
    check_turns();
    return std::move(sequence_);
  }

private:
  void read_stops() {
    const Node* stops = reader_.find("stops");
    if (stops == nullptr) return;
    constexpr std::size_t most_stops = 1000;
    if (stops->list() == nullptr || stops->list()->empty() || stops->list()->size() > most_stops)
      return reader_.report("feel.not_a_list", "stops",
                            fmt::format("expected a list of 1 to {} stops, each a table", most_stops),
                            "Such as stops = [{ fov = 62 }, { after = 2, fov = 38 }].");
    for (std::size_t k = 0; k < stops->list()->size(); ++k) {
      const std::string path = fmt::format("{}[{}]", joined_path(reader_.path(), "stops"), k);
      if (auto stop = StopReader(reading_, (*stops->list())[k], path, sequence_).read())
        sequence_.stops.push_back(std::move(*stop));
    }
  }

  void collect_led() {
    for (const SequenceStop& stop : sequence_.stops)
      for (const PoseGoal& goal : stop.goals)
        if (std::none_of(sequence_.led.begin(), sequence_.led.end(),
                         [&](const PoseGoal& led) { return led.channel == goal.channel; }))
          sequence_.led.push_back({goal.channel, {}, {}, {}, {}});
    for (const PoseGoal& led : sequence_.led)
      if (reading_.feel.channels[led.channel].tie)
        reader_.report("feel.two_owners", "stops",
                       fmt::format("{} is kept in proportion with another channel, so it cannot be led by itself",
                                   reading_.feel.channels[led.channel].name));
    for (const PoseGoal& led : sequence_.led)
      if (reading_.feel.channels[led.channel].runs_on == RunsOn::clock)
        reader_.report("feel.two_times", "stops",
                       fmt::format("{} runs on the clock, but sequences go by game time",
                                   reading_.feel.channels[led.channel].name),
                       "Leave runs_on out, or lead other channels.");
  }

  bool is_led(std::size_t channel) const {
    return std::any_of(sequence_.led.begin(), sequence_.led.end(),
                       [&](const PoseGoal& led) { return led.channel == channel; });
  }

  void read_along() {
    const Feel& feel = reading_.feel;
    if (const auto name = reader_.name("along")) {
      const auto channel = reading_.resolve(reader_, "along", *name, feel.channels, NameKind::channel);
      if (!channel) return;
      if (!is_led(*channel))
        return reader_.report("feel.unknown_channel", "along", fmt::format("no stop leads {} anywhere", *name));
      sequence_.along = *channel;
      return;
    }
    const auto widest = std::find_if(sequence_.led.begin(), sequence_.led.end(),
                                     [&](const PoseGoal& led) { return feel.channels[led.channel].components > 1; });
    sequence_.along = feel.picture.position && is_led(*feel.picture.position) ? *feel.picture.position
                      : widest != sequence_.led.end()                         ? widest->channel
                                                                              : sequence_.led.front().channel;
  }

  void check_turns() {
    if (sequence_.turns == SequenceTurns::angles) return;
    const Picture& picture = reading_.feel.picture;
    bool any = false;
    for (const auto& role : {picture.yaw, picture.pitch, picture.roll}) {
      if (!role || !is_led(*role)) continue;
      any = true;
      if (is_logarithmic(reading_.feel.channels[*role].space.space))
        return reader_.report(
            "feel.sequence", "turns",
            fmt::format("{} works in factors, and a turn does not", reading_.feel.channels[*role].name),
            "Give it space = \"turn\", or leave turns out.");
    }
    if (!any)
      reader_.report("feel.sequence", "turns", "it leads none of the picture's yaw, pitch and roll",
                     "Name them in [picture], and give them goals in its stops.");
  }

  void check_again() {
    const bool again = sequence_.repeat != 1 || sequence_.there_and_back;
    if (again && sequence_.stops.size() < 2)
      reader_.report("feel.missing_key", "stops", "a sequence of one stop cannot repeat");
    if (again && goes_with_subject(sequence_))
      reader_.report(
          "feel.sequence", sequence_.there_and_back ? "there_and_back" : "repeat",
          "a stop that names a track is where its subject is at that time, so it cannot be played again or backward",
          "Give places as numbers, or start the sequence again by a cue.");
    if (sequence_.repeat == 0 && sequence_.stays)
      reader_.report("feel.too_many_keys", "on_end",
                     "with repeat = 0 it never ends, so it cannot stay at its last goals");
  }

  Reading& reading_;
  SectionReader reader_;
  Sequence sequence_;
};

/// Names that mean something else in a stop cannot be channels where there are sequences.
void check_channel_names(Reading& reading) {
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    if (find_key(*find_section("sequence.stop"), entry.key) != nullptr)
      reading.report(
          "feel.name", path, entry.where,
          fmt::format("a feel with a sequence cannot have a channel named {}, which means something else in a stop",
                      entry.key));
  });
}

/// Which sequence each control begins.
void resolve_starters(Reading& reading) {
  reading.each("control", [&](const Entry& entry, const std::string& path) {
    const auto index = index_of(reading.feel.controls, entry.key);
    auto* starter = index ? std::get_if<Starter>(&reading.feel.controls[*index].rule) : nullptr;
    const Node* node = entry.value.find("sequence");
    if (starter == nullptr || node == nullptr || node->text() == nullptr || reading.is_broken(*node->text())) return;
    if (const auto found = index_of(reading.feel.sequences, *node->text()))
      starter->sequence = *found;
    else
      reading.report_unknown(joined_path(path, "sequence"), node->where, NameKind::sequence, *node->text(),
                             names_of(reading.feel.sequences));
  });
}

/// Which sequence each switch begins.
void resolve_switches(Reading& reading) {
  reading.each("switch", [&](const Entry& entry, const std::string& path) {
    const auto index = index_of(reading.feel.switches, entry.key);
    const Node* node = entry.value.find("starts");
    if (!index || node == nullptr || node->text() == nullptr || reading.is_broken(*node->text())) return;
    if (const auto found = index_of(reading.feel.sequences, *node->text()))
      reading.feel.switches[*index].sequence = *found;
    else
      reading.report_unknown(joined_path(path, "starts"), node->where, NameKind::sequence, *node->text(),
                             names_of(reading.feel.sequences));
  });
}

} // namespace

void read_sequences(Reading& reading) {
  bool any = false;
  reading.each("sequence", [&](const Entry& entry, const std::string& path) {
    any = true;
    if (auto sequence = SequenceReader(reading, entry, path).read())
      reading.feel.sequences.push_back(std::move(*sequence));
    else
      reading.broken.push_back(entry.key);
  });
  if (any) check_channel_names(reading);
  resolve_starters(reading);
  resolve_switches(reading);
}

} // namespace stasis
