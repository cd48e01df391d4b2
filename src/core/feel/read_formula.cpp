// Formulas of channels: names resolved, faults placed.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/motion/mover.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// "fov", "focus.y", "focus.goal.y", a control, or time.
class NameResolver {
public:
  explicit NameResolver(Reading& reading) : reading_(reading) {}

  tl::expected<std::size_t, std::string> operator()(std::string_view name) {
    if (name == "time") return number_of({FormulaVariable::Kind::time, {}, 0, 0, TrackField::place});
    std::vector<std::string_view> parts = split(name, '.');
    if (const auto control = index_of(reading_.feel.controls, parts[0]);
        control && !index_of(reading_.feel.channels, parts[0])) {
      if (parts.size() > 1) return tl::unexpected(fmt::format("the control {} has no parts", parts[0]));
      return number_of({FormulaVariable::Kind::control, {}, *control, 0, TrackField::place});
    }
    const auto channel = index_of(reading_.feel.channels, parts[0]);
    if (const auto track = index_of(reading_.feel.tracks, parts[0]); track && !channel) return part_of(*track, name);
    if (!channel) return tl::unexpected(unknown(parts[0]));
    FormulaVariable variable;
    variable.component.channel = *channel;
    std::size_t at = 1;
    if (at < parts.size() && (parts[at] == "goal" || parts[at] == "value" || parts[at] == "smooth")) {
      if (parts[at] == "goal") variable.kind = FormulaVariable::Kind::goal;
      ++at;
    }
    const std::size_t components = reading_.feel.channels[*channel].components;
    if (at < parts.size()) {
      const bool known = parts[at].size() == 1 && components > 1 && parts[at][0] >= 'x'
                         && parts[at][0] < static_cast<char>('x' + components);
      if (!known) return tl::unexpected(fmt::format("{} has no part {}", parts[0], printable(parts[at], 20)));
      variable.component.component = static_cast<std::size_t>(parts[at][0] - 'x');
      ++at;
    } else if (components > 1) {
      return tl::unexpected(
          fmt::format("{} has {} components; one of them is meant: {}.x", parts[0], components, name));
    }
    if (at < parts.size()) return tl::unexpected(fmt::format("{} has no part {}", parts[0], printable(parts[at], 20)));
    return number_of(variable);
  }

private:
  /// "otter.speed", "otter.y", ...
  tl::expected<std::size_t, std::string> part_of(std::size_t track, std::string_view name) {
    const Track& one = reading_.feel.tracks[track];
    const auto dot = name.find('.');
    const std::string_view part = dot == std::string_view::npos ? "" : name.substr(dot + 1);
    FormulaVariable variable{FormulaVariable::Kind::track, {}, 0, track, TrackField::place};
    if (part == "speed")
      variable.field = TrackField::speed;
    else if (part == "heading")
      variable.field = TrackField::heading;
    else if (part == "throttle")
      variable.field = TrackField::throttle;
    else if (part == "height" && one.components > 1)
      variable.component.component = 1;
    else if (part.size() == 1 && part[0] >= 'x' && part[0] < static_cast<char>('x' + one.components))
      variable.component.component = static_cast<std::size_t>(part[0] - 'x');
    else
      return tl::unexpected(
          fmt::format("of the track {} a formula reads speed, heading, throttle, height or a component such as {}.x",
                      one.name, one.name));
    return number_of(variable);
  }

  std::size_t number_of(const FormulaVariable& variable) {
    auto& all = reading_.feel.variables;
    const auto known = std::find(all.begin(), all.end(), variable);
    if (known != all.end()) return static_cast<std::size_t>(known - all.begin());
    all.push_back(variable);
    return all.size() - 1;
  }

  std::string unknown(std::string_view name) const {
    std::vector<std::string_view> known = names_of(reading_.feel.channels);
    for (const Control& control : reading_.feel.controls) known.push_back(control.name);
    for (const Track& track : reading_.feel.tracks) known.push_back(track.name);
    known.push_back("time");
    const std::string close = did_you_mean(name, known);
    return fmt::format("there is no channel and no control {}{}", printable(name, 40),
                       close.empty() ? "" : "." + close);
  }

  Reading& reading_;
};

class FormulaReader {
public:
  FormulaReader(Reading& reading, std::size_t channel, const std::string& path)
      : reading_(reading), channel_(reading.feel.channels[channel]), path_(path) {}

  void read(const Node& node) {
    if (const NodeTable* table = node.table()) {
      for (const Entry& entry : *table) {
        const bool known = entry.key.size() == 1 && channel_.components > 1 && entry.key[0] >= 'x'
                           && entry.key[0] < static_cast<char>('x' + channel_.components);
        if (known)
          read_one(static_cast<std::size_t>(entry.key[0] - 'x'), entry.value, joined_path(path_, entry.key));
        else
          reading_.report(
              "feel.unknown_key", joined_path(path_, entry.key), entry.where,
              fmt::format("the channel {} has no component \"{}\"", channel_.name, printable(entry.key, 20)));
      }
      return;
    }
    if (channel_.components > 1)
      return reading_.report("feel.component_count", path_, node.where,
                             fmt::format("the channel {} has {} components, each with a formula of its own",
                                         channel_.name, channel_.components),
                             "Write { x = \"..\", y = \"..\" }.");
    read_one(0, node, path_);
  }

private:
  void read_one(std::size_t component, const Node& node, const std::string& path) {
    const std::string* text = node.text();
    if (text == nullptr)
      return reading_.report("feel.not_a_text", path, node.where,
                             fmt::format("expected a formula as text, found {}", kind_in_words(node)));
    auto formula = Formula::parse(*text, NameResolver(reading_));
    if (!formula) return report_fault(formula.error(), *text, node, path);
    channel_.formula[component] = std::move(*formula);
    can_follow(reading_, channel_, path, node.where);
  }

  void report_fault(const FormulaFault& fault, const std::string& text, const Node& node, const std::string& path) {
    constexpr std::size_t around = 24;
    const std::size_t from = fault.at > around ? fault.at - around : 0;
    const std::string before = printable(std::string_view(text).substr(from, fault.at - from), 60);
    const std::string place = before.empty() ? std::string("at its beginning")
                                             : fmt::format("at character {}, after \"{}\"", fault.at + 1, before);
    Position where = node.where;
    // A plain text of one line begins after its quotation mark.
    const bool plain = text.find_first_of("\n\\\"") == std::string::npos;
    if (plain && where.line > 0) where.column += static_cast<decltype(where.column)>(fault.at + 1);
    reading_.report("feel.formula", path, where, fmt::format("{} ({})", fault.message, place), fault.hint);
  }

  Reading& reading_;
  Channel& channel_;
  std::string path_;
};

} // namespace

bool can_follow(Reading& reading, const Channel& channel, const std::string& path, Position where) {
  const auto is_fit = [&](const MotionChoices& choices) {
    for (const MotionChoice& choice : choices)
      for (const std::size_t index : {choice.rising, choice.falling}) {
        if (index >= reading.feel.motions.size()) continue; // it is wrong, and reported
        if (follows_moving_goals(reading.feel.motions[index].motion)) continue;
        reading.report(
            "feel.delayed_formula", path, where,
            fmt::format(
                "{} moves by {}, an eased or paced move with a delay; a goal that moves by itself would never start it",
                channel.name, reading.feel.motions[index].name),
            "Use a delay, a glide or a spring.");
        return false;
      }
    return true;
  };
  if (!is_fit(channel.motion)) return false;
  const auto index = static_cast<std::size_t>(&channel - reading.feel.channels.data());
  for (const Pose& pose : reading.feel.poses)
    for (const PoseGoal& goal : pose.goals)
      for (const auto& choices : {goal.entering, goal.leaving})
        if (goal.channel == index && choices && !is_fit(*choices)) return false;
  return true;
}

void read_formulas(Reading& reading) {
  const Node* channels = reading.document.find("channel");
  if (channels == nullptr || channels->table() == nullptr) return;
  for (const Entry& entry : *channels->table()) {
    const Node* formula = entry.value.find("formula");
    const auto index = index_of(reading.feel.channels, entry.key);
    if (formula == nullptr || !index) continue;
    FormulaReader(reading, *index, joined_path(joined_path("channel", entry.key), "formula")).read(*formula);
  }
}

} // namespace stasis
