// The cues of a take, written out: repeats, presses for a time, random presses.
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <utility>

#include <fmt/format.h>

#include "core/clock.hpp"
#include "core/feel/reading.hpp"
#include "core/random.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

constexpr std::array pressing{CueAction::press, CueAction::release, CueAction::cancel};
constexpr std::array telling{CueAction::click, CueAction::pointer, CueAction::stick, CueAction::lock,
                             CueAction::unlock};

/// The number that a cue of that kind goes with, as it is written.
std::string_view number_beside(CueAction action) noexcept {
  if (action == CueAction::click) return ", count = 1";
  if (action == CueAction::pointer) return ", counts = 100";
  if (action == CueAction::stick) return ", value = 1";
  return "";
}

class CueReader {
public:
  CueReader(Reading& reading, const Node& node, const std::string& path, Take& take)
      : reading_(reading), reader_(node, *find_section("take.cue"), path, reading.problems), take_(take) {}

  void read() {
    if (reader_.node().table() == nullptr) return;
    at_ = reader_.number("at");
    std::vector<Cue> cues;
    for (const CueAction action : pressing)
      if (reader_.has(name_of(action))) read_press(action, cues);
    for (const CueAction action : telling)
      if (reader_.has(name_of(action))) read_told(action, cues);
    if (reader_.has("goal")) read_goal(cues);
    if (reader_.has("follow")) read_follow(cues);
    if (reader_.has("hit")) read_hit(cues);
    for (const CueAction action : {CueAction::start, CueAction::skip})
      if (reader_.has(name_of(action))) read_sequence(action, cues);
    if (reader_.has("game_speed"))
      read_game_speed();
    else if (reader_.has("over"))
      reader_.report("feel.too_many_keys", "over", "over goes with a game_speed");
    for (const char* key : {"from", "to", "pace", "backward"})
      if (reader_.has(key) && !reader_.has("start"))
        reader_.report("feel.too_many_keys", key, fmt::format("{} goes with a start", key));
    read_count(cues);
    if (at_) write_out(cues);
  }

private:
  void read_press(CueAction action, std::vector<Cue>& cues) {
    const auto name = reader_.text(name_of(action));
    if (!name) return;
    const auto found = buttons_named(reading_.feel, *name);
    if (found.empty()) report_unknown(action, *name);
    for (const ControlButton& button : found)
      cues.push_back({at_.value_or(0.0), action, button.control, button.button, 1.0, {}, {}});
  }

  void report_unknown(CueAction action, const std::string& name) {
    std::vector<std::string_view> known = names_of(reading_.feel.controls);
    for (const Control& control : reading_.feel.controls)
      for (const std::string& button : control.buttons) known.push_back(button);
    reading_.report_unknown(joined_path(reader_.path(), name_of(action)), reader_.where(name_of(action)),
                            NameKind::control, name, known);
  }

  void read_told(CueAction action, std::vector<Cue>& cues) {
    const std::string_view key = name_of(action);
    const auto name = reader_.text(key);
    if (!name) return;
    Cue cue{at_.value_or(0.0), action, 0, 0, 1.0, {}, {}};
    const auto found = reading_.resolve(reader_, key, *name, reading_.feel.controls, NameKind::control);
    if (!found) return;
    cue.control = *found;
    const bool by_kind = action == CueAction::click || action == CueAction::pointer || action == CueAction::stick;
    const CueAction moved_by = facts_of(reading_.feel.controls[cue.control]).moved_by;
    if (by_kind && moved_by != action)
      reader_.report("feel.cue", key,
                     fmt::format("{} is not a control of kind \"{}\"", *name,
                                 action == CueAction::click ? "clicks" : name_of(action)),
                     fmt::format("It is worked by {}: {{ at = .., {} = \"{}\"{} }}.", name_of(moved_by),
                                 name_of(moved_by), *name, number_beside(moved_by)));
    cues.push_back(cue);
  }

  void read_goal(std::vector<Cue>& cues) {
    const Node& node = *reader_.find("goal");
    SectionReader goals(node, *find_section("take.cue.goal"), joined_path(reader_.path(), "goal"), reading_.problems);
    if (node.table() == nullptr) return;
    Cue cue{at_.value_or(0.0), CueAction::goal, 0, 0, 1.0, {}, {}};
    const KeySpec& rest = *find_key(*find_section("channel"), "rest");
    for (const Entry& entry : *node.table()) {
      const std::string path = joined_path(goals.path(), entry.key);
      if (entry.key.find('.') == std::string::npos)
        if (const auto whole = index_of(reading_.feel.channels, entry.key)) {
          read_whole_goal(*whole, entry, path, cue);
          continue;
        }
      const auto target = component_named(reading_, goals, entry.key, entry.key);
      if (!target) continue;
      const auto values = goals.components_of(entry.value, rest, path, reading_.feel.channels[target->channel].unit);
      if (values && values->size() == 1) cue.goals.push_back({*target, (*values)[0]});
    }
    cues.push_back(std::move(cue));
  }

  void read_whole_goal(std::size_t index, const Entry& entry, const std::string& path, Cue& cue) {
    const Channel& channel = reading_.feel.channels[index];
    const auto values =
        reader_.components_of(entry.value, *find_key(*find_section("channel"), "rest"), path, channel.unit);
    if (!values) return;
    if (values->size() != channel.components) {
      reading_.report("feel.component_count", path, entry.value.where,
                      fmt::format("the channel {} has {} component{}, the goal has {}", channel.name,
                                  channel.components, channel.components == 1 ? "" : "s", values->size()));
      return;
    }
    for (std::size_t i = 0; i < values->size(); ++i)
      if (is_in_space(reading_, path, entry.value.where, channel, (*values)[i]))
        cue.goals.push_back({{index, i}, (*values)[i]});
  }

  void read_hit(std::vector<Cue>& cues) {
    const auto name = reader_.name("hit");
    if (!name || reading_.is_broken(*name)) return;
    Cue cue;
    cue.at = at_.value_or(0.0);
    cue.action = CueAction::hit;
    const auto found = reading_.resolve(reader_, "hit", *name, reading_.feel.shakes, NameKind::shake);
    if (!found) return;
    cue.shake = *found;
    const Shake& shake = reading_.feel.shakes[cue.shake];
    if (never_ends(shake))
      return reader_.report(
          "feel.missing_key", "hit",
          fmt::format("{} is always there and has no decay, so a hit on it would never end", shake.name),
          "Give it a decay, such as { kind = \"half_life\", half_life = 0.2 }; or take the hit out.");
    cue.amount = strength_of_hit(shake);
    read_direction(shake, cue);
    if (const auto place = reader_.components("place")) {
      if (!shake.falloff)
        reader_.report("feel.too_many_keys", "place",
                       fmt::format("{} has no falloff, so a hit feels the same everywhere", shake.name));
      cue.place = *place;
    } else if (shake.falloff) {
      reader_.report("feel.missing_key", "place",
                     fmt::format("{} falls off with distance, so a hit needs its place", shake.name));
    }
    cues.push_back(std::move(cue));
  }

  /// The speed of game time is the clock's, not what a control does.
  void read_game_speed() {
    const auto speed = reader_.number("game_speed"), over = reader_.number("over");
    for (const char* key : {"for", "every", "times"})
      if (reader_.has(key))
        return reader_.report("feel.too_many_keys", key, "a game_speed cannot be repeated; write it again");
    if (!at_ || !speed || !over) return;
    if (*at_ > take_.length + instant_slack)
      return reader_.report("feel.cue_past_end", "at",
                            fmt::format("this cue comes at {} s, after the take's end at {} s", *at_, take_.length));
    auto& speeds = take_.disturbance.speeds;
    const auto later = std::upper_bound(speeds.begin(), speeds.end(), *at_,
                                        [](double at, const GameSpeed& one) { return at < one.at; });
    speeds.insert(later, {*at_, *speed, *over});
  }

  void read_sequence(CueAction action, std::vector<Cue>& cues) {
    const std::string_view key = name_of(action);
    const auto name = reader_.name(key);
    if (!name || reading_.is_broken(*name)) return;
    Cue cue;
    cue.at = at_.value_or(0.0);
    cue.action = action;
    const auto found = reading_.resolve(reader_, key, *name, reading_.feel.sequences, NameKind::sequence);
    if (!found) return;
    cue.sequence = *found;
    if (action == CueAction::start) read_part(reading_.feel.sequences[cue.sequence], cue.part);
    cues.push_back(std::move(cue));
  }

  void read_part(const Sequence& sequence, SequencePart& part) {
    for (const auto& [key, stop] : {std::pair{"from", &part.from}, std::pair{"to", &part.to}}) {
      if (!reader_.has(key)) continue;
      const auto number = reader_.number(key);
      if (!number) continue;
      if (*number > static_cast<double>(sequence.stops.size()))
        reader_.report("feel.out_of_bounds", key,
                       fmt::format("{} has {} stops, found stop {}", sequence.name, sequence.stops.size(), *number));
      else
        *stop = static_cast<std::size_t>(*number) - 1;
    }
    if (part.from && part.to && *part.from >= *part.to)
      reader_.report("feel.out_of_bounds", "to", "it ends at a later stop than that at which it begins",
                     "To go back, add backward = true.");
    if (reader_.has("pace")) part.pace = reader_.number("pace");
    if (reader_.has("backward")) part.backward = reader_.flag("backward");
  }

  static bool never_ends(const Shake& shake) {
    return shake.decay.kind == Decay::Kind::none && !std::holds_alternative<RingWave>(shake.wave);
  }

  double strength_of_hit(const Shake& shake) {
    const Node* node = reader_.find("strength");
    if (node == nullptr || node->text() == nullptr) return reader_.number("strength").value_or(1.0);
    std::vector<std::string_view> known;
    for (const NamedStrength& one : shake.strengths) {
      if (one.name == *node->text()) return one.strength;
      known.push_back(one.name);
    }
    reader_.report("feel.choice", "strength",
                   fmt::format("{} has no strength named \"{}\"", shake.name, printable(*node->text(), 40)),
                   known.empty() ? "It names none; give a number." : known_names(*node->text(), known));
    return 1.0;
  }

  /// A kick keeps the length of the shake's own amplitudes and takes another direction. Lengths are those of one
  /// channel, since other channels have other units: the longest part is kicked in full, the others in proportion.
  void read_direction(const Shake& shake, Cue& cue) {
    const auto direction = reader_.components("direction");
    if (!direction) return;
    if (!std::holds_alternative<RingWave>(shake.wave))
      return reader_.report("feel.too_many_keys", "direction",
                            fmt::format("{} is not a ring; only a ring is kicked in a direction", shake.name));
    if (direction->size() != shake.targets.size())
      return reader_.report("feel.component_count", "direction",
                            fmt::format("{} shakes {} components, the direction has {}", shake.name,
                                        shake.targets.size(), direction->size()));
    const auto unit_of = [&](std::size_t target) -> const std::string& {
      return reading_.feel.channels[shake.targets[target].component.channel].unit;
    };
    std::map<std::string, double> own, lengths; // of the amplitudes, of the direction
    for (std::size_t i = 0; i < direction->size(); ++i) {
      own[unit_of(i)] = std::hypot(own[unit_of(i)], shake.targets[i].amplitude);
      lengths[unit_of(i)] = std::hypot(lengths[unit_of(i)], (*direction)[i]);
    }
    double longest = 0.0;
    for (const auto& [unit, length] : lengths) longest = std::max(longest, length);
    if (longest == 0.0) return reader_.report("feel.out_of_bounds", "direction", "a direction of no length");
    for (std::size_t i = 0; i < direction->size(); ++i)
      cue.direction.push_back((*direction)[i] / longest * own[unit_of(i)]);
  }

  /// { focus = "heron" }: channels that follow, and the tracks that they follow from here on.
  void read_follow(std::vector<Cue>& cues) {
    const Node& node = *reader_.find("follow");
    SectionReader names(node, *find_section("take.cue.follow"), joined_path(reader_.path(), "follow"),
                        reading_.problems);
    if (node.table() == nullptr) return;
    Cue cue{at_.value_or(0.0), CueAction::follow, 0, 0, 1.0, {}, {}};
    for (const Entry& entry : *node.table()) {
      const std::string path = joined_path(names.path(), entry.key);
      const auto channel = index_of(reading_.feel.channels, entry.key);
      if (reading_.is_misspelt(channel ? "track" : "channel")) continue;
      if (!channel || !reading_.feel.channels[*channel].follow) {
        reading_.report("feel.follow", path, entry.where,
                        channel ? fmt::format("{} follows nothing, so it cannot follow something else", entry.key)
                                : fmt::format("the feel has no channel \"{}\"", printable(entry.key, 40)));
        continue;
      }
      const std::string* name = entry.value.text();
      const auto track = name != nullptr ? index_of(reading_.feel.tracks, *name) : std::nullopt;
      if (track && fits(*channel, *track))
        cue.tracks.push_back({*channel, *track});
      else if (track)
        reading_.report("feel.component_count", path, entry.value.where,
                        fmt::format("the track {} has not as many components as {} follows", *name, entry.key));
      else
        reading_.report_unknown(path, entry.value.where, NameKind::track, name != nullptr ? *name : std::string(),
                                names_of(reading_.feel.tracks));
    }
    cues.push_back(std::move(cue));
  }

  bool fits(std::size_t channel, std::size_t track) const {
    const Follow& follow = *reading_.feel.channels[channel].follow;
    return reading_.feel.tracks[track].components == reading_.feel.tracks[follow.track].components;
  }

  void read_count(std::vector<Cue>& cues) {
    const bool clicks = reader_.has("click"), pointer = reader_.has("pointer");
    if (reader_.has("count") && !clicks) reader_.report("feel.too_many_keys", "count", "a count goes with a click");
    for (const auto& [action, key] : {std::pair{"pointer", "counts"}, std::pair{"stick", "value"}})
      if (reader_.has(action) != reader_.has(key))
        reader_.report("feel.missing_key", reader_.has(key) ? key : action,
                       reader_.has(action) ? fmt::format("a {} cue needs its {}", action, key)
                                           : fmt::format("{} goes with a {}", key, action));
    const auto amount = clicks                 ? reader_.number("count")
                        : pointer              ? reader_.number("counts")
                        : reader_.has("stick") ? reader_.number("value")
                                               : std::nullopt;
    for (Cue& cue : cues)
      if (cue.action != CueAction::hit) cue.amount = amount.value_or(1.0);
    for (const char* key : {"strength", "place", "direction"})
      if (reader_.has(key) && !reader_.has("hit"))
        reader_.report("feel.too_many_keys", key, fmt::format("{} goes with a hit", key));
    if (clicks && amount == 0.0) reader_.report("feel.out_of_bounds", "count", "no click at all", "Leave the cue out.");
  }

  /// Puts the cue into the take, as often as it says, each press with its release.
  void write_out(const std::vector<Cue>& cues) {
    const auto held = reader_.has("for") ? reader_.number("for") : std::nullopt;
    const auto every = reader_.has("every") ? reader_.number("every") : std::nullopt;
    const auto times = static_cast<int>(reader_.number("times").value_or(1));
    if (held && !reader_.has("press") && !reader_.has("stick"))
      reader_.report("feel.too_many_keys", "for", "only a press or a stick can last for a time");
    if (times > 1 && !every)
      reader_.report("feel.missing_key", "times", "`times` says how often, but `every` is missing");
    double last = *at_;
    for (int k = 0; k < times && take_.cues.size() < most_cues; ++k)
      for (Cue cue : cues) {
        cue.at = *at_ + (every ? *every * k : 0.0);
        last = std::max(last, cue.at);
        take_.cues.push_back(cue);
        if (!held || (cue.action != CueAction::press && cue.action != CueAction::stick)) continue;
        if (cue.action == CueAction::press) cue.action = CueAction::release;
        cue.amount = 0.0; // a stick springs back
        cue.at += *held;
        last = std::max(last, cue.at);
        take_.cues.push_back(cue);
      }
    if (last > take_.length + instant_slack)
      reader_.report("feel.cue_past_end", "at",
                     fmt::format("this cue comes at {} s, after the take's end at {} s", last, take_.length),
                     "Make the take longer or the cue earlier.");
  }

  Reading& reading_;
  SectionReader reader_;
  Take& take_;
  std::optional<double> at_;
};

/// Each press lies in a stretch of its own, so that no button goes down twice.
void read_random(Reading& reading, SectionReader& take_reader, Take& take) {
  const Node* node = take_reader.find("random");
  if (node == nullptr) return;
  SectionReader reader(*node, *find_section("take.random"), joined_path(take_reader.path(), "random"),
                       reading.problems);
  if (node->table() == nullptr) return;
  const auto presses = reader.number("presses"), from = reader.number("from"), to = reader.number("to");
  const auto longest = reader.number("longest"), seed = reader.number("seed");
  std::vector<std::vector<ControlButton>> of;
  for (const std::string& name : reader.texts("of").value_or(std::vector<std::string>{})) {
    of.push_back(buttons_named(reading.feel, name));
    if (of.back().empty())
      reading.report_unknown(joined_path(reader.path(), "of"), reader.where("of"), NameKind::control, name,
                             names_of(reading.feel.controls));
  }
  if (!presses || !from || !to || !longest || !seed) return;
  if (of.empty()) return reader.report("feel.too_few", "of", "no control is named");
  if (*to > take.length || *to <= *from)
    return reader.report(
        "feel.out_of_bounds", "to",
        fmt::format("expected a time after {} s and not past the take's end at {} s", *from, take.length));
  Random random(static_cast<std::uint64_t>(*seed));
  const double stretch = (*to - *from) / *presses;
  for (int k = 0; k < static_cast<int>(*presses); ++k) {
    const auto& chosen = of[random.below(of.size())];
    const double begin = *from + stretch * k;
    const double held = std::min(*longest, stretch) * (0.02 + 0.96 * random.share());
    const double at = begin + (stretch - held) * random.share();
    for (const ControlButton& button : chosen) {
      take.cues.push_back({at, CueAction::press, button.control, button.button, 1.0, {}, {}});
      take.cues.push_back({at + held, CueAction::release, button.control, button.button, 1.0, {}, {}});
    }
  }
}

} // namespace

std::vector<ControlButton> buttons_named(const Feel& feel, const std::string& name) {
  std::vector<ControlButton> found;
  for (std::size_t c = 0; c < feel.controls.size(); ++c) {
    const auto& buttons = feel.controls[c].buttons;
    if (feel.controls[c].name == name) found.push_back({c, buttons.size()});
    for (std::size_t b = 0; b < buttons.size(); ++b)
      if (buttons[b] == name) found.push_back({c, b});
  }
  return found;
}

void read_cues(Reading& reading, SectionReader& reader, Take& take) {
  if (const Node* cues = reader.find("cues")) {
    const NodeList* list = cues->list();
    if (list == nullptr) {
      reader.report("feel.cues", "cues", fmt::format("expected a list of cues, found {}", kind_in_words(*cues)),
                    "Write a list in square brackets: cues = [{ at = 0.5, press = \"NAME\" }].");
      return;
    }
    for (std::size_t i = 0; i < list->size() && take.cues.size() < most_cues; ++i)
      CueReader(reading, (*list)[i], fmt::format("{}.cues[{}]", reader.path(), i), take).read();
    if (list->size() > most_cues || take.cues.size() >= most_cues)
      reader.report("feel.cues", "cues", fmt::format("a take holds at most {} cues", most_cues));
  }
  read_recorded_input(reading, reader, take);
  read_random(reading, reader, take);
  std::stable_sort(take.cues.begin(), take.cues.end(), [](const Cue& a, const Cue& b) { return a.at < b.at; });
}

} // namespace stasis
