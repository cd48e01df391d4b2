#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Reads what a table says of channels: their goals, beside the keys of its section, and motions that lead there.
class GoalReader {
public:
  GoalReader(Reading& reading, SectionReader& reader) : reading_(reading), reader_(reader) {}

  std::vector<PoseGoal> read() {
    std::vector<PoseGoal> goals;
    for (const Entry& goal : *reader_.node().table())
      if (find_key(reader_.section(), goal.key) == nullptr) read_goal(goals, goal);
    return goals;
  }

  /// One motion for all of the goals' channels, or a table of motions by channel. \param owner whose goals they are.
  void read_motions(std::vector<PoseGoal>& goals, const char* key, std::optional<MotionChoices> PoseGoal::*motion,
                    const std::string& owner) {
    const Node* node = reader_.find(key);
    if (node == nullptr) return;
    const std::string path = joined_path(reader_.path(), key);
    const auto set = [&](PoseGoal& goal, const Node& written, const std::string& place) {
      const Channel& channel = reading_.feel.channels[goal.channel];
      const std::string own_name = fmt::format("{}.{}.{}", owner, key, channel.name);
      goal.*motion = read_motion_choices(reading_, &written, place, channel, own_name);
    };
    if (!is_by_channel(*node)) {
      for (PoseGoal& goal : goals) set(goal, *node, path);
      return;
    }
    for (const Entry& entry : *node->table()) {
      const auto index = channel_named(entry.key, joined_path(path, entry.key), entry.where);
      if (!index) continue;
      const auto goal =
          std::find_if(goals.begin(), goals.end(), [&](const PoseGoal& g) { return g.channel == *index; });
      if (goal == goals.end())
        reading_.report("feel.motion", joined_path(path, entry.key), entry.where,
                        fmt::format("{} sets no goal for the channel {}", owner, entry.key));
      else
        set(*goal, entry.value, joined_path(path, entry.key));
    }
  }

private:
  /// `goal.key` is a channel, or one component of it: "focus.y".
  void read_goal(std::vector<PoseGoal>& goals, const Entry& goal) {
    const auto dot = goal.key.find('.');
    const std::string name = goal.key.substr(0, dot);
    const std::string path = joined_path(reader_.path(), goal.key);
    const auto index = channel_named(name, path, goal.where);
    if (!index) return;
    const Channel& channel = reading_.feel.channels[*index];
    auto known = std::find_if(goals.begin(), goals.end(), [&](const PoseGoal& g) { return g.channel == *index; });
    if (known == goals.end()) known = goals.insert(goals.end(), PoseGoal{*index, {}, {}, {}, {}});
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

  /// The channel follows another track while the pose acts: its base, as that track makes it.
  void read_track(PoseGoal& goal, const Channel& channel, const Node& node, const std::string& path) {
    SectionReader reader(node, *find_section("pose.goal"), path, reading_.problems);
    const auto name = reader.name("track");
    if (!name || reading_.is_broken(*name)) return;
    const auto index = reading_.resolve(reader, "track", *name, reading_.feel.tracks, NameKind::track);
    if (!index) return;
    goal.track = *index;
    for (std::size_t i = 0; i < channel.components; ++i) goal.value[i] = {GoalRule::add, 0.0};
  }

  /// Keys of the table that may have been meant.
  std::optional<std::string_view> near_key(const std::string& name) const {
    std::vector<std::string_view> keys;
    for (const KeySpec& key : reader_.section().keys) keys.push_back(key.key);
    return nearest(name, keys);
  }

  std::optional<std::size_t> channel_named(const std::string& name, const std::string& path, Position where) {
    const auto index = index_of(reading_.feel.channels, name);
    if (index) return index;
    const auto known = names_of(reading_.feel.channels);
    if (known.empty() && reading_.is_misspelt("channel")) return std::nullopt;
    auto close = nearest(name, known);
    if (!close) close = near_key(name);
    reading_.report("feel.unknown_channel", path, where, "the feel has no channel of that name",
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

  bool is_by_channel(const Node& node) const {
    if (node.table() == nullptr || node.find("kind") != nullptr || node.find("rising") != nullptr
        || node.find("falling") != nullptr)
      return false;
    return std::none_of(node.table()->begin(), node.table()->end(),
                        [](const Entry& entry) { return entry.key == "x" || entry.key == "y" || entry.key == "z"; });
  }

  Reading& reading_;
  SectionReader& reader_;
};

} // namespace

std::vector<PoseGoal> read_goals(Reading& reading, SectionReader& reader) { return GoalReader(reading, reader).read(); }

// many: what is read, where, for whom, and into which of two motions
void read_goal_motions(Reading& reading, SectionReader& reader, const char* key,
                       std::optional<MotionChoices> PoseGoal::*motion, const std::string& owner,
                       std::vector<PoseGoal>& goals) {
  GoalReader(reading, reader).read_motions(goals, key, motion, owner);
}

void read_poses(Reading& reading) {
  reading.each("pose", [&](const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("pose"), path, reading.problems);
    Pose pose{entry.key, {}, true};
    if (entry.value.table() != nullptr) {
      pose.goals = read_goals(reading, reader);
      read_goal_motions(reading, reader, "entering", &PoseGoal::entering, entry.key, pose.goals);
      read_goal_motions(reading, reader, "leaving", &PoseGoal::leaving, entry.key, pose.goals);
      pose.mirrors = reader.flag("mirrors").value_or(true);
    }
    reading.feel.poses.push_back(std::move(pose));
  });
}

} // namespace stasis
