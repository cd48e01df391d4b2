#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

class PoseReader {
public:
  PoseReader(Reading& reading, const Entry& entry, const std::string& path)
      : reading_(reading), entry_(entry), reader_(entry.value, *find_section("pose"), path, reading.problems) {}

  Pose read() {
    Pose pose{entry_.key, {}, true};
    if (entry_.value.table() == nullptr) return pose;
    for (const Entry& goal : *entry_.value.table())
      if (find_key(*find_section("pose"), goal.key) == nullptr) read_goal(pose, goal);
    for (const char* key : {"entering", "leaving"}) read_motions(pose, key);
    pose.mirrors = reader_.flag("mirrors").value_or(true);
    return pose;
  }

private:
  /// `goal.key` is a channel, or one component of it: "focus.y".
  void read_goal(Pose& pose, const Entry& goal) {
    const auto dot = goal.key.find('.');
    const std::string name = goal.key.substr(0, dot);
    const std::string path = joined_path(reader_.path(), goal.key);
    const auto index = channel_named(name, path, goal.where);
    if (!index) return;
    const Channel& channel = reading_.feel.channels[*index];
    auto known =
        std::find_if(pose.goals.begin(), pose.goals.end(), [&](const PoseGoal& g) { return g.channel == *index; });
    if (known == pose.goals.end()) known = pose.goals.insert(pose.goals.end(), PoseGoal{*index, {}, {}, {}, {}});
    const std::size_t before = reading_.problems.size();
    if (dot != std::string::npos)
      read_component(*known, channel, goal.key.substr(dot + 1), goal.value, path, goal.where);
    else if (is_by_component(goal.value))
      for (const Entry& part : *goal.value.table())
        read_component(*known, channel, part.key, part.value, joined_path(path, part.key), part.where);
    else if (goal.value.find("track") != nullptr)
      read_track(*known, channel, goal.value, path);
    else
      read_whole(*known, channel, goal.value, path);
    if (reading_.problems.size() == before) check_space(*known, channel, path, goal.value.where);
  }

  static bool is_by_component(const Node& node) noexcept {
    return node.table() != nullptr && node.find("times") == nullptr && node.find("add") == nullptr
           && node.find("track") == nullptr;
  }

  /// The channel follows another track while the pose is in force: its base, as that track makes it.
  void read_track(PoseGoal& goal, const Channel& channel, const Node& node, const std::string& path) {
    SectionReader reader(node, *find_section("pose.goal"), path, reading_.problems);
    const auto name = reader.name("track");
    if (!name || reading_.is_broken(*name)) return;
    const std::size_t before = reading_.problems.size();
    const std::size_t index = reading_.resolve(reader, "track", *name, reading_.feel.tracks, NameKind::track);
    if (reading_.problems.size() > before) return;
    goal.track = index;
    for (std::size_t i = 0; i < channel.components; ++i) goal.value[i] = {GoalRule::add, 0.0};
  }

  std::optional<std::size_t> channel_named(const std::string& name, const std::string& path, Position where) {
    const auto index = index_of(reading_.feel.channels, name);
    if (index) return index;
    const auto known = names_of(reading_.feel.channels);
    const auto close = nearest(name, known);
    reading_.report("feel.unknown_channel", path, where, "the feel has no channel of this name",
                    close           ? fmt::format("Did you mean {}?", *close)
                    : known.empty() ? std::string("The feel has no channel at all.")
                                    : fmt::format("Known: {}.", listed(known)));
    return std::nullopt;
  }

  // many: a place in the document, and what is read into
  void read_component(PoseGoal& goal, const Channel& channel, const std::string& letter, const Node& node,
                      const std::string& path, Position where) {
    const bool known = letter.size() == 1 && letter[0] >= 'x' && channel.components > 1
                       && letter[0] < static_cast<char>('x' + channel.components);
    if (!known) {
      reading_.report("feel.unknown_key", path, where,
                      fmt::format("the channel {} has no component \"{}\"", channel.name, printable(letter, 20)),
                      channel.components == 1
                          ? "It has one component, which has no letter."
                          : fmt::format("Its components are x{}.", channel.components > 2 ? ", y and z" : " and y"));
      return;
    }
    const auto [rule, values] = read_amounts(node, path, channel);
    if (values.empty()) return;
    if (values.size() != 1)
      reading_.report("feel.component_count", path, node.where,
                      fmt::format("one component takes one number, found {}", values.size()));
    else
      goal.value[static_cast<std::size_t>(letter[0] - 'x')] = {rule, values[0]};
  }

  void read_whole(PoseGoal& goal, const Channel& channel, const Node& node, const std::string& path) {
    const auto [rule, values] = read_amounts(node, path, channel);
    if (values.empty()) return;
    const bool one_for_all = values.size() == 1 && rule == GoalRule::times;
    if (values.size() != channel.components && !one_for_all) {
      reading_.report("feel.component_count", path, node.where,
                      fmt::format("the channel {} has {} component{}, the goal has {}", channel.name,
                                  channel.components, channel.components == 1 ? "" : "s", values.size()));
      return;
    }
    for (std::size_t i = 0; i < channel.components; ++i) goal.value[i] = {rule, values[one_for_all ? 0 : i]};
  }

  struct Amounts {
    GoalRule rule;
    std::vector<double> values; ///< empty where there was a problem
  };

  Amounts read_amounts(const Node& node, const std::string& path, const Channel& channel) {
    if (node.table() == nullptr) {
      const KeySpec& spec = *find_key(*find_section("channel"), "rest");
      return {GoalRule::value, reader_.components_of(node, spec, path, channel.unit).value_or(std::vector<double>{})};
    }
    SectionReader goal(node, *find_section("pose.goal"), path, reading_.problems);
    const bool times = goal.has("times");
    return {times ? GoalRule::times : GoalRule::add,
            goal.components(times ? "times" : "add", channel.unit).value_or(std::vector<double>{})};
  }

  void check_space(const PoseGoal& goal, const Channel& channel, const std::string& path, Position where) {
    for (std::size_t i = 0; i < channel.components; ++i)
      if (goal.value[i].rule != GoalRule::none
          && !is_in_space(reading_, path, where, channel, goal.value[i].of(channel.rest[i])))
        return;
  }

  /// One motion for all of the pose's channels, or a table of motions by channel.
  void read_motions(Pose& pose, const char* key) {
    const Node* node = reader_.find(key);
    if (node == nullptr) return;
    const std::string path = joined_path(reader_.path(), key);
    const auto set = [&](PoseGoal& goal, const Node& motion, const std::string& place) {
      const Channel& channel = reading_.feel.channels[goal.channel];
      const std::string own_name = fmt::format("{}.{}.{}", pose.name, key, channel.name);
      (key == std::string_view("entering") ? goal.entering : goal.leaving) =
          read_motion_choices(reading_, &motion, place, channel, own_name);
    };
    if (!is_by_channel(*node)) {
      for (PoseGoal& goal : pose.goals) set(goal, *node, path);
      return;
    }
    for (const Entry& entry : *node->table()) {
      const auto index = channel_named(entry.key, joined_path(path, entry.key), entry.where);
      if (!index) continue;
      const auto goal =
          std::find_if(pose.goals.begin(), pose.goals.end(), [&](const PoseGoal& g) { return g.channel == *index; });
      if (goal == pose.goals.end())
        reading_.report("feel.motion", joined_path(path, entry.key), entry.where,
                        fmt::format("the pose {} sets no goal for the channel {}", pose.name, entry.key));
      else
        set(*goal, entry.value, joined_path(path, entry.key));
    }
  }

  bool is_by_channel(const Node& node) const {
    if (node.table() == nullptr || node.find("kind") != nullptr || node.find("rising") != nullptr
        || node.find("falling") != nullptr)
      return false;
    return std::none_of(node.table()->begin(), node.table()->end(),
                        [](const Entry& entry) { return entry.key == "x" || entry.key == "y" || entry.key == "z"; });
  }

  Reading& reading_;
  const Entry& entry_;
  SectionReader reader_;
};

} // namespace

void read_poses(Reading& reading) {
  reading.each("pose", [&](const Entry& entry, const std::string& path) {
    reading.feel.poses.push_back(PoseReader(reading, entry, path).read());
  });
}

} // namespace stasis
