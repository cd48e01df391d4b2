// Controls and groups.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/reader_for.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"

namespace stasis {
namespace {

class ControlReader {
public:
  ControlReader(Reading& reading, const Node& node, const SectionSpec& section, const std::string& path)
      : reading_(reading), reader_(node, section, path, reading.problems) {}

  void read(Control& control) {
    reader_.choice("kind");
    if (reader_.has("buttons")) read_buttons(control);
    using Read = void (ControlReader::*)(Control&);
    static constexpr ReaderOf<Read> readers[] = {
        {"control.hold", &ControlReader::read_hold},       {"control.toggle", &ControlReader::read_toggle},
        {"control.cycle", &ControlReader::read_cycle},     {"control.clicks", &ControlReader::read_clicks},
        {"control.pointer", &ControlReader::read_pointer}, {"control.stick", &ControlReader::read_stick},
        {"control.sequence", &ControlReader::read_starter}};
    (this->*reader_for<Read>(readers, reader_.section().id))(control);
  }

  /// Once all controls are known by name.
  void read_unless(Control& control) {
    const auto name = reader_.name("unless");
    if (!name) return;
    const auto other = reading_.resolve(reader_, "unless", *name, reading_.feel.controls, NameKind::control);
    if (!other) return;
    if (&reading_.feel.controls[*other] == &control)
      reader_.report("feel.self", "unless", "a control cannot name itself in `unless`");
    else
      control.unless = other;
  }

private:
  std::size_t pose() {
    const auto name = reader_.name("pose");
    return name ? reading_.resolve(reader_, "pose", *name, reading_.feel.poses, NameKind::pose).value_or(0) : 0;
  }

  void read_hold(Control& control) {
    const std::size_t named = pose();
    control.rule = Hold{{}, {}, named, reader_.choice("on_release") == "stay"};
  }

  void read_toggle(Control& control) { control.rule = Toggle{{}, {}, pose()}; }

  /// Which sequence it starts is read when sequences are known.
  void read_starter(Control& control) { control.rule = Starter{}; }

  void read_buttons(Control& control) {
    constexpr std::size_t most_buttons = 32;
    control.buttons = reader_.texts("buttons").value_or(std::vector<std::string>{});
    if (control.buttons.size() > most_buttons)
      reader_.report("feel.too_many", "buttons", fmt::format("a control has at most {} buttons", most_buttons));
    for (const std::string& button : control.buttons)
      if (!is_valid_name(button))
        reader_.report("feel.name", "buttons", fmt::format("\"{}\" cannot be a name", printable(button, 60)),
                       "A name is a small letter, then small letters, digits and underscores, at most 64 in all.");
  }

  void read_cycle(Control& control) {
    if (reader_.has("mirror")) {
      Mirror mirror;
      const auto target = component("mirror");
      mirror.centre = reader_.number("centre", unit_of(target)).value_or(0.0);
      const auto side = reader_.choice("side");
      mirror.rule = side == "what_is_there"     ? SideRule::what_is_there
                    : side == "opposite_of_now" ? SideRule::opposite_of_now
                                                : SideRule::stored;
      own(control, mirror, target);
      return;
    }
    Cycle cycle;
    const auto names = reader_.texts("poses");
    for (const std::string& name : names.value_or(std::vector<std::string>{})) {
      if (name == "home" && !index_of(reading_.feel.poses, name))
        cycle.poses.push_back(Cycle::home);
      else if (const auto pose = reading_.resolve(reader_, "poses", name, reading_.feel.poses, NameKind::pose))
        cycle.poses.push_back(*pose);
    }
    if (names && names->empty()) reader_.report("feel.too_few", "poses", "a cycle needs at least one pose");
    control.rule = std::move(cycle);
  }

  void read_clicks(Control& control) {
    Clicks clicks;
    const auto target = component("channel");
    const auto step = reader_.number("step");
    if (!step) mend_negative_step();
    clicks.per_stroke = static_cast<int>(reader_.number("clicks_per_stroke").value_or(1));
    clicks.double_within = reader_.number("double_within").value_or(0.0);
    if (reader_.has("repeat_every")) clicks.repeat_every = reader_.number("repeat_every");
    clicks.from_view = reader_.choice("clicks_from") == "view";
    clicks.every_frame = reader_.flag("every_frame").value_or(false);
    clicks.repeats_double = reader_.flag("repeats_double").value_or(false);
    clicks.invert = reader_.flag("invert").value_or(false);
    const auto start = reader_.has("start") ? reader_.number("start", unit_of(target)) : std::nullopt;
    if (!target || !step) return;
    clicks.target = *target;
    clicks.step = *step;
    set_step_kind(clicks);
    if (start) set_start(*target, *start);
    control.rule = clicks;
  }

  /// A step below 0 turns the wheel round.
  void mend_negative_step() {
    const Node* node = reader_.find("step");
    if (node == nullptr) return;
    const auto* whole = std::get_if<std::int64_t>(&node->value);
    const auto* real = std::get_if<double>(&node->value);
    const double found = whole != nullptr ? static_cast<double>(*whole) : real != nullptr ? *real : 0.0;
    if (found < 0.0)
      reading_.problems.back().hint =
          fmt::format("A step is how far one click goes. For the other direction write step = {}, invert = true.",
                      shortest(-found));
  }

  void set_step_kind(Clicks& clicks) {
    const Channel& channel = reading_.feel.channels[clicks.target.channel];
    const auto by = reader_.has("by") ? reader_.choice("by") : std::nullopt;
    clicks.by = by == "factor"          ? StepKind::factor
                : by == "picture_scale" ? StepKind::picture_scale
                : by == "amount" || channel.space.space == Space::linear || channel.space.space == Space::turn
                    ? StepKind::amount
                : channel.space.space == Space::ratio ? StepKind::factor
                                                      : StepKind::picture_scale;
    const double rest = channel.rest[clicks.target.component];
    const auto unit = find_unit(channel.unit);
    if (clicks.by != StepKind::amount && clicks.step == 1.0)
      reader_.report("feel.out_of_bounds", "step", "a factor of 1 changes nothing",
                     "Write 1.1 for a tenth more each click.");
    if (clicks.by == StepKind::factor && rest <= 0.0)
      reader_.report("feel.space", "by",
                     fmt::format("factors need a resting value above 0, but {} rests at {}", channel.name, rest));
    if (clicks.by == StepKind::picture_scale
        && (!unit || unit->kind != UnitKind::angle || channel.space.space != Space::zoom))
      reader_.report(
          "feel.space", "by",
          fmt::format("picture scale goes with fields of view, but {} is not a channel with space = \"zoom\"",
                      channel.name));
    const ComponentRange range = channel.range[clicks.target.component];
    if (!std::isfinite(range.low) || !std::isfinite(range.high))
      reader_.report("feel.no_range", "channel",
                     fmt::format("clicks could move {} forever: it has no range", channel.name),
                     "Give the channel a range; its ends are the last rungs.");
  }

  void set_start(ComponentRef target, double start) {
    Channel& channel = reading_.feel.channels[target.channel];
    const ComponentRange range = channel.range[target.component];
    if (start < range.low || start > range.high)
      reader_.report("feel.out_of_bounds", "start",
                     fmt::format("{} lies outside the range {} to {}", start, range.low, range.high));
    else
      channel.start[target.component] = start;
  }

  RunsOn read_time() { return reader_.choice("runs_on") == "clock" ? RunsOn::clock : RunsOn::game; }

  void read_pointer(Control& control) {
    Pointer pointer;
    const auto target = component("channel");
    pointer.gain = reader_.number("gain", unit_of(target)).value_or(1.0);
    pointer.invert = reader_.flag("invert").value_or(false);
    pointer.times_frame_time = reader_.flag("times_frame_time").value_or(false);
    if (reader_.has("top_speed")) pointer.top_speed = reader_.number("top_speed");
    pointer.runs_on = read_time();
    own(control, pointer, target);
  }

  /// A number, or the channel that gives it on each frame.
  void read_gain(Stick& stick) {
    const std::size_t before = reading_.problems.size();
    number_or_channel(reading_, reader_, "gain", stick.gain, stick.gain_from);
    const Node* node = reader_.find("gain");
    if (reading_.problems.size() > before && node->table() != nullptr)
      reading_.problems.back().hint = "Name a channel to use its value: gain = \"distance\". A share of it is "
                                      "a channel of its own, with formula = \"0.5 * distance\".";
    if (stick.gain_from && reader_.choice("position") == "absolute")
      reader_.report("feel.too_many_keys", "gain",
                     "a stick with position = \"absolute\" has no speed, so gain cannot name a channel");
  }

  void read_stick(Control& control) {
    Stick stick;
    const auto target = component("channel");
    read_gain(stick);
    stick.spin_up = reader_.number("spin_up").value_or(0.0);
    stick.spin_down = reader_.number("spin_down").value_or(0.0);
    stick.response = {reader_.number("dead_band").value_or(0.0), reader_.number("outer_dead_band").value_or(0.0),
                      reader_.number("exponent").value_or(1.0)};
    if (stick.response.dead_band + stick.response.outer_dead_band >= 1.0)
      reader_.report("feel.out_of_bounds", "outer_dead_band",
                     "dead_band and outer_dead_band leave nothing between them; together they must be less than 1");
    stick.invert = reader_.flag("invert").value_or(false);
    stick.absolute = reader_.choice("position") == "absolute";
    stick.runs_on = read_time();
    if (!target) return;
    const ComponentRange range = reading_.feel.channels[target->channel].range[target->component];
    if (stick.absolute && !(std::isfinite(range.low) && std::isfinite(range.high)))
      reader_.report("feel.no_range", "position",
                     "a stick with position = \"absolute\" goes to the ends of the range, but its channel has none",
                     "Give the channel a range.");
    own(control, stick, target);
  }

  /// A rule without a target that is known is not one: what is wrong with it has been reported.
  template<class Rule> static void own(Control& control, Rule rule, const std::optional<ComponentRef>& target) {
    if (!target) return;
    rule.target = *target;
    control.rule = std::move(rule);
  }

  std::string unit_of(const std::optional<ComponentRef>& target) const {
    return target ? reading_.feel.channels[target->channel].unit : std::string();
  }

  /// "fov", or "focus.y" of a channel of several components.
  std::optional<ComponentRef> component(std::string_view key) {
    const auto text = reader_.text(key);
    return text ? component_named(reading_, reader_, key, *text) : std::nullopt;
  }

  Reading& reading_;
  SectionReader reader_;
};

const SectionSpec* section_of(Reading& reading, const Entry& entry, const std::string& path) {
  const Node* kind = entry.value.find("kind");
  if (kind != nullptr && kind->text() != nullptr)
    if (const SectionSpec* section = find_section("control." + *kind->text())) return section;
  report_kind(reading, entry.value, path, "control.hold");
  return nullptr;
}

/// Two of which one says outright where a component's home is, and another moves it too.
void check_owners(Reading& reading) {
  const auto& controls = reading.feel.controls;
  const auto report = [&](const std::string& place, const std::string& owner, const std::string& other,
                          ComponentRef at) {
    const Node* controls_node = reading.document.find("control");
    const Node* node = controls_node != nullptr ? controls_node->find(place.substr(place.find('.') + 1)) : nullptr;
    reading.report("feel.two_owners", place, node != nullptr ? node->where : Position{},
                   fmt::format("{} says where {} is, and {} moves it too: the last one would win, silently", owner,
                               component_name(reading.feel.channels[at.channel], at.component), other),
                   "Let one of them own it: give the other a channel of its own, and add the two where they are used.");
  };
  const auto both_sticks = [](const Control& a, const Control& b) {
    return facts_of(a).moved_by == CueAction::stick && facts_of(b).moved_by == CueAction::stick;
  };
  for (std::size_t a = 0; a < controls.size(); ++a) {
    const ComponentRef* mine = target_of(controls[a]);
    if (mine == nullptr) continue;
    const Channel& channel = reading.feel.channels[mine->channel];
    const bool leads = facts_of(controls[a]).base_runs();
    if (leads)
      can_follow(reading, channel, joined_path("control", controls[a].name),
                 reading.document.find("control")->find(controls[a].name)->where);
    if (channel.formula[mine->component])
      report(joined_path("control", controls[a].name), "a formula", controls[a].name, *mine);
    // What follows only while a pose says so has a home of its own; but nothing leads it there at the same time.
    if (channel.follow && channel.follow->follows(mine->component) && (leads || !channel.follow->only_in_poses))
      report(joined_path("control", controls[a].name), "a track", controls[a].name, *mine);
    for (std::size_t b = a + 1; b < controls.size(); ++b) {
      const ComponentRef* other = target_of(controls[b]);
      if (other == nullptr || !(*mine == *other)) continue;
      const bool swap = !owns_base(controls[a]) && owns_base(controls[b]);
      const Control &first = controls[swap ? b : a], &second = controls[swap ? a : b];
      if (owns_base(first) || both_sticks(first, second))
        report(joined_path("control", controls[b].name), first.name, second.name, *mine);
    }
  }
}

} // namespace

std::optional<ComponentRef> component_named(Reading& reading, SectionReader& reader, std::string_view key,
                                            const std::string& text) {
  const auto dot = text.find('.');
  const auto index = reading.resolve(reader, key, text.substr(0, dot), reading.feel.channels, NameKind::channel);
  if (!index) return std::nullopt;
  const Channel& channel = reading.feel.channels[*index];
  const std::string letter = dot == std::string::npos ? "" : text.substr(dot + 1);
  if (letter.empty() && channel.components == 1 && dot == std::string::npos) return ComponentRef{*index, 0};
  const bool known = letter.size() == 1 && channel.components > 1 && letter[0] >= 'x'
                     && letter[0] < static_cast<char>('x' + channel.components);
  if (known) return ComponentRef{*index, static_cast<std::size_t>(letter[0] - 'x')};
  reader.report(
      "feel.component_count", key,
      channel.components == 1
          ? fmt::format("the channel {} has one component, which has no letter", channel.name)
          : fmt::format("the channel {} has {} components; one of them is meant", channel.name, channel.components),
      channel.components == 1 ? "" : fmt::format("Write {}.x or {}.y.", channel.name, channel.name));
  return std::nullopt;
}

void read_controls(Reading& reading) {
  std::vector<ControlReader> readers;
  std::vector<std::size_t> read; // which control each reader is of
  reading.each("control", [&](const Entry& entry, const std::string& path) {
    Control control;
    control.name = entry.key;
    if (const SectionSpec* section = section_of(reading, entry, path)) {
      readers.emplace_back(reading, entry.value, *section, path);
      readers.back().read(control);
      read.push_back(reading.feel.controls.size());
    }
    reading.feel.controls.push_back(std::move(control));
  });
  for (std::size_t i = 0; i < readers.size(); ++i) readers[i].read_unless(reading.feel.controls[read[i]]);
  for (const Control& control : reading.feel.controls)
    if (const ComponentRef* target = target_of(control); target != nullptr && facts_of(control).base_runs())
      reading.feel.channels[target->channel].is_pushed = true;
}

void check_control_owners(Reading& reading) {
  if (reading.problems.empty()) check_owners(reading);
}

void read_groups(Reading& reading) {
  std::vector<std::string> owner(reading.feel.controls.size());
  reading.each("group", [&](const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("group"), path, reading.problems);
    if (entry.value.table() == nullptr) return;
    Group group;
    group.name = entry.key;
    const auto word = reader.choice("policy");
    for (const Policy policy : {Policy::latest, Policy::first, Policy::neither, Policy::sum, Policy::ranked})
      if (word == name_of(policy)) group.policy = policy;
    for (const std::string& name : reader.texts("controls").value_or(std::vector<std::string>{})) {
      const auto index = reading.resolve(reader, "controls", name, reading.feel.controls, NameKind::control);
      if (!index) continue;
      if (!owner[*index].empty())
        reader.report(
            "feel.two_owners", "controls",
            fmt::format("{} is in the group {} already; one group decides for a control", name, owner[*index]));
      owner[*index] = group.name;
      group.controls.push_back(*index);
    }
    reading.feel.groups.push_back(std::move(group));
  });
}

} // namespace stasis
