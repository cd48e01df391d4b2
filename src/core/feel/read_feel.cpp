#include "core/feel/read_feel.hpp"

#include <algorithm>
#include <cmath>
#include <map>

#include <fmt/format.h>

#include "core/feel/read_motion.hpp"
#include "core/feel/section_reader.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

constexpr double unbounded = std::numeric_limits<double>::infinity();

template<class Named> std::optional<std::size_t> index_of(const std::vector<Named>& all, std::string_view name) {
  for (std::size_t i = 0; i < all.size(); ++i)
    if (all[i].name == name) return i;
  return std::nullopt;
}

template<class Named> std::vector<std::string_view> names_of(const std::vector<Named>& all) {
  std::vector<std::string_view> names;
  for (const Named& one : all) names.push_back(one.name);
  return names;
}

std::string unknown_name_hint(std::string_view name, std::span<const std::string_view> known, NameKind kind) {
  const auto close = nearest(name, known);
  if (close) return fmt::format("Did you mean {}?", *close);
  if (known.empty()) return fmt::format("The feel has no {} at all.", name_kind_in_words(kind));
  return fmt::format("Known: {}.", listed(known));
}

/// Builds the feel section by section; each part may refer to those built before it.
class FeelReader {
public:
  explicit FeelReader(const Node& document) : root_(document, *find_section("feel"), "", problems_) {}

  Result<Feel> read() {
    if (root_.node().table() != nullptr) {
      root_.number("feel");
      feel_.title = root_.text("title").value_or("");
      check_names();
      each("motion", [&](const Entry& e, const std::string& path) { read_named_motion(e, path); });
      each("channel", [&](const Entry& e, const std::string& path) { read_channel(e, path); });
      each("pose", [&](const Entry& e, const std::string& path) { read_pose(e, path); });
      each("control", [&](const Entry& e, const std::string& path) { read_control(e, path); });
      each("take", [&](const Entry& e, const std::string& path) { read_take(e, path); });
      read_picture();
      check_whole();
    }
    if (problems_.empty()) return std::move(feel_);
    std::stable_sort(problems_.begin(), problems_.end(), [](const Problem& a, const Problem& b) {
      return std::tie(a.where.source, a.where.line, a.where.column)
             < std::tie(b.where.source, b.where.line, b.where.column);
    });
    return tl::unexpected(std::move(problems_));
  }

private:
  template<class Visit> void each(std::string_view key, Visit visit) {
    const Node* tables = root_.find(key);
    if (tables == nullptr) return;
    if (tables->table() == nullptr) {
      root_.report("feel.not_a_table", key,
                   fmt::format("expected named tables such as [{}.name], found {}", key, kind_in_words(*tables)));
      return;
    }
    for (const Entry& entry : *tables->table()) visit(entry, joined_path(key, entry.key));
  }

  /// Names are well formed, and unique across kinds; a control may share the name of a pose.
  void check_names() {
    std::map<std::string, std::string, std::less<>> taken;
    for (std::string_view kind : {"channel", "motion", "pose", "control", "take"})
      each(kind, [&](const Entry& entry, const std::string& path) {
        if (!is_valid_name(entry.key)) {
          root_.report_at("feel.name", path, entry.where,
                          fmt::format("\"{}\" cannot be a name", printable(entry.key, 60)),
                          "A name is a small letter, then small letters, digits and underscores, at most 64 in all.");
          return;
        }
        const auto [at, fresh] = taken.emplace(entry.key, kind);
        if (fresh || (at->second == "pose" && kind == "control")) return;
        root_.report_at("feel.name_taken", path, entry.where,
                        fmt::format("there is already a {} named {}", at->second, entry.key),
                        "Names are unique across kinds; only a control may share the name of a pose.");
      });
  }

  void read_named_motion(const Entry& entry, const std::string& path) {
    if (auto motion = read_motion(entry.value, path, problems_))
      feel_.motions.push_back({entry.key, std::move(*motion), false});
    else
      broken_motions_.push_back(entry.key);
  }

  void read_channel(const Entry& entry, const std::string& path) {
    if (feel_.channels.size() == most_channels) {
      root_.report_at("feel.too_many", path, entry.where,
                      fmt::format("a feel holds at most {} channels", most_channels));
      return;
    }
    SectionReader reader(entry.value, *find_section("channel"), path, problems_);
    Channel channel;
    channel.name = entry.key;
    if (entry.value.table() != nullptr) {
      channel.unit = reader.text("unit").value_or("");
      check_unit(reader, channel);
      read_space(reader, channel);
      read_rest_and_range(reader, channel);
      read_settle_band(reader, channel);
      read_channel_motion(reader, channel);
    }
    feel_.channels.push_back(std::move(channel));
  }

  void check_unit(SectionReader& reader, const Channel& channel) {
    constexpr std::size_t longest = 16;
    if (printable(channel.unit, longest) == channel.unit) return;
    reader.report("feel.unit", "unit", fmt::format("a unit is at most {} characters of one line", longest));
  }

  void read_space(SectionReader& reader, Channel& channel) {
    const auto space = reader.choice("space");
    if (space != "zoom") return;
    channel.space.space = Space::zoom;
    const auto unit = find_unit(channel.unit);
    if (!unit || unit->kind != UnitKind::angle) {
      reader.report(
          "feel.space_unit", "space",
          fmt::format("the space zoom is for angles; the channel's unit is \"{}\"", printable(channel.unit, 20)),
          "Give the channel unit = \"deg\" (or rad), or use another space.");
      channel.space.space = Space::linear;
      return;
    }
    channel.space.radians_per_unit = radians(convert(1.0, *unit, *find_unit("deg")));
  }

  void read_rest_and_range(SectionReader& reader, Channel& channel) {
    channel.range.fill({-unbounded, unbounded});
    const auto rest = reader.components("rest", channel.unit);
    if (!rest) return;
    channel.components = rest->size();
    std::copy(rest->begin(), rest->end(), channel.rest.begin());
    check_domain(reader, "rest", reader.where("rest"), channel, channel.rest);
    if (!read_range(reader, channel)) return;
    for (std::size_t i = 0; i < channel.components; ++i) {
      const auto [low, high] = channel.range[i];
      if (channel.rest[i] >= low && channel.rest[i] <= high) continue;
      reader.report("feel.rest_outside_range", "rest",
                    fmt::format("the resting value {} lies outside the range {} to {}", channel.rest[i], low, high),
                    "Everything returns to the resting value, so it must be inside.");
    }
  }

  bool read_range(SectionReader& reader, Channel& channel) {
    const Node* node = reader.find("range");
    if (node == nullptr) return true;
    const NodeList* pair = node->list();
    if (pair == nullptr || pair->size() != 2) {
      reader.report("feel.range", "range", "expected a list of two, the lowest and the highest value");
      return false;
    }
    const KeySpec& spec = *find_key(*find_section("channel"), "range");
    const auto lows = reader.components_of((*pair)[0], spec, reader.path() + ".range[0]", channel.unit);
    const auto highs = reader.components_of((*pair)[1], spec, reader.path() + ".range[1]", channel.unit);
    if (!lows || !highs) return false;
    for (const auto* side : {&lows, &highs})
      if ((*side)->size() != 1 && (*side)->size() != channel.components) {
        reader.report(
            "feel.component_count", "range",
            fmt::format("the channel has {} components, this bound has {}", channel.components, (*side)->size()));
        return false;
      }
    for (std::size_t i = 0; i < channel.components; ++i) {
      channel.range[i] = {(*lows)[lows->size() == 1 ? 0 : i], (*highs)[highs->size() == 1 ? 0 : i]};
      if (channel.range[i].low < channel.range[i].high) continue;
      reader.report(
          "feel.range", "range",
          fmt::format("the lowest value {} is not below the highest {}", channel.range[i].low, channel.range[i].high));
      return false;
    }
    return true;
  }

  /// A space such as zoom cannot hold every number.
  bool check_domain(SectionReader& reader, std::string_view key, Position where, const Channel& channel,
                    const Components& values) {
    const OpenInterval allowed = domain(channel.space);
    for (std::size_t i = 0; i < channel.components; ++i) {
      if (values[i] > allowed.low && values[i] < allowed.high) continue;
      reader.report_at("feel.outside_space", joined_path(reader.path(), key), where,
                       fmt::format("{} {} cannot be a field of view", values[i], channel.unit),
                       fmt::format("In the space zoom every value lies between 0 and {} {}, both excluded.",
                                   readable(allowed.high, 4), channel.unit));
      return false;
    }
    return true;
  }

  void read_settle_band(SectionReader& reader, Channel& channel) {
    const Node* node = reader.find("settle_band");
    if (node == nullptr) return;
    KeySpec spec = *find_key(*find_section("channel"), "settle_band");
    const auto percent = node->text() != nullptr ? parse_quantity(*node->text()) : std::nullopt;
    channel.settle_band.absolute = node->text() != nullptr && !(percent && percent->unit.kind == UnitKind::percent);
    if (channel.settle_band.absolute) spec.unit = UnitKind::channel;
    if (const auto size = reader.number_of(*node, spec, joined_path(reader.path(), "settle_band"), channel.unit))
      channel.settle_band.size = *size;
  }

  void read_channel_motion(SectionReader& reader, Channel& channel) {
    const Node* node = reader.find("motion");
    const std::string path = joined_path(reader.path(), "motion");
    const bool by_component = node != nullptr && node->table() != nullptr && node->find("kind") == nullptr;
    if (!by_component) {
      channel.motion.fill(motion_index(node, path, channel.name + ".motion"));
      return;
    }
    for (const Entry& entry : *node->table())
      if (entry.key.size() != 1 || entry.key[0] < 'x' || entry.key[0] >= static_cast<char>('x' + channel.components))
        reader.report_at(
            "feel.unknown_key", joined_path(path, entry.key), entry.where,
            fmt::format("a motion by component names x{}; this channel has {}",
                        channel.components == 1   ? ""
                        : channel.components == 2 ? " and y"
                                                  : ", y and z",
                        channel.components == 1 ? "one component" : fmt::format("{} components", channel.components)),
            "To write a motion in place, give it a kind.");
    for (std::size_t i = 0; i < channel.components; ++i) {
      const std::string letter(1, static_cast<char>('x' + i));
      const std::string name = fmt::format("{}.motion.{}", channel.name, letter);
      channel.motion[i] = motion_index(node->find(letter), joined_path(path, letter), name);
    }
  }

  /// The index of the motion that `node` names or is; without a node, a cut.
  std::size_t motion_index(const Node* node, const std::string& path, const std::string& own_name) {
    if (node == nullptr) return add_motion("cut", Cut{});
    if (node->table() != nullptr) {
      auto motion = read_motion(*node, path, problems_);
      return motion ? add_motion(own_name, std::move(*motion)) : 0;
    }
    const std::string* name = node->text();
    if (name == nullptr) {
      root_.report_at(
          "feel.motion", path, node->where,
          fmt::format("expected the name of a motion or a table with its kind, found {}", kind_in_words(*node)));
      return 0;
    }
    if (const auto found = index_of(feel_.motions, *name); found && !feel_.motions[*found].written_in_place)
      return *found;
    const bool already_reported =
        std::find(broken_motions_.begin(), broken_motions_.end(), *name) != broken_motions_.end();
    if (!already_reported) report_unknown(path, node->where, NameKind::motion, *name, names_of(feel_.motions));
    return 0;
  }

  std::size_t add_motion(std::string name, Motion motion) {
    feel_.motions.push_back({std::move(name), std::move(motion), true});
    return feel_.motions.size() - 1;
  }

  void read_pose(const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("pose"), path, problems_);
    Pose pose{entry.key, {}};
    if (entry.value.table() != nullptr)
      for (const Entry& goal : *entry.value.table()) read_pose_goal(reader, goal, pose);
    feel_.poses.push_back(std::move(pose));
  }

  void read_pose_goal(SectionReader& reader, const Entry& goal, Pose& pose) {
    const auto index = index_of(feel_.channels, goal.key);
    if (!index) {
      const auto known = names_of(feel_.channels);
      reader.report_at("feel.unknown_channel", joined_path(reader.path(), goal.key), goal.where,
                       "the feel has no channel of this name", unknown_name_hint(goal.key, known, NameKind::channel));
      return;
    }
    const Channel& channel = feel_.channels[*index];
    const KeySpec& spec = *find_key(*find_section("channel"), "rest");
    const auto values = reader.components_of(goal.value, spec, joined_path(reader.path(), goal.key), channel.unit);
    if (!values) return;
    if (values->size() != channel.components) {
      reader.report("feel.component_count", goal.key,
                    fmt::format("the channel {} has {} component{}, the goal has {}", channel.name, channel.components,
                                channel.components == 1 ? "" : "s", values->size()));
      return;
    }
    PoseGoal read{*index, {}};
    std::copy(values->begin(), values->end(), read.value.begin());
    if (check_domain(reader, goal.key, goal.value.where, channel, read.value)) pose.goals.push_back(read);
  }

  void read_control(const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("control.hold"), path, problems_);
    Control control;
    control.name = entry.key;
    if (entry.value.table() != nullptr) {
      reader.choice("kind");
      if (const auto pose = reader.name("pose"))
        control.pose = resolve(reader, "pose", *pose, feel_.poses, NameKind::pose);
    }
    feel_.controls.push_back(std::move(control));
  }

  void read_take(const Entry& entry, const std::string& path) {
    SectionReader reader(entry.value, *find_section("take"), path, problems_);
    if (entry.value.table() == nullptr) return;
    Take take;
    take.name = entry.key;
    const auto length = reader.number("length");
    take.length = length.value_or(longest_take); // where it is wrong, no cue is held against it
    if (const Node* clock = reader.find("clock")) {
      SectionReader clock_reader(*clock, *find_section("take.clock"), joined_path(path, "clock"), problems_);
      if (clock->table() != nullptr) take.fps = clock_reader.number("fps").value_or(take.fps);
    }
    if (length && *length * take.fps > most_frames)
      reader.report("feel.too_many", "length",
                    fmt::format("{} s at {} fps are more than {} frames", take.length, take.fps, most_frames));
    read_cues(reader, take);
    feel_.takes.push_back(std::move(take));
  }

  void read_cues(SectionReader& reader, Take& take) {
    const Node* cues = reader.find("cues");
    if (cues == nullptr) return;
    const NodeList* list = cues->list();
    if (list == nullptr || list->size() > most_cues) {
      reader.report("feel.cues", "cues",
                    list == nullptr ? fmt::format("expected a list of cues, found {}", kind_in_words(*cues))
                                    : fmt::format("a take holds at most {} cues", most_cues));
      return;
    }
    for (std::size_t i = 0; i < list->size(); ++i)
      read_cue((*list)[i], fmt::format("{}.cues[{}]", reader.path(), i), take);
    std::stable_sort(take.cues.begin(), take.cues.end(), [](const Cue& a, const Cue& b) { return a.at < b.at; });
  }

  void read_cue(const Node& node, const std::string& path, Take& take) {
    SectionReader reader(node, *find_section("take.cue"), path, problems_);
    if (node.table() == nullptr) return;
    Cue cue;
    const auto at = reader.number("at");
    cue.at = at.value_or(0.0);
    for (const CueAction action : {CueAction::press, CueAction::release, CueAction::cancel}) {
      if (!reader.has(name_of(action))) continue;
      cue.action = action;
      if (const auto control = reader.name(name_of(action)))
        cue.control = resolve(reader, name_of(action), *control, feel_.controls, NameKind::control);
    }
    if (at && cue.at > take.length + instant_slack)
      reader.report("feel.cue_past_end", "at",
                    fmt::format("this cue comes at {} s, after the take's end at {} s", cue.at, take.length),
                    "Make the take longer or the cue earlier.");
    take.cues.push_back(cue);
  }

  template<class Named>
  std::size_t resolve(SectionReader& reader, std::string_view key, const std::string& name,
                      const std::vector<Named>& all, NameKind kind) {
    if (const auto found = index_of(all, name)) return *found;
    report_unknown(joined_path(reader.path(), key), reader.where(key), kind, name, names_of(all));
    return 0;
  }

  void report_unknown(const std::string& path, Position where, NameKind kind, std::string_view name,
                      std::vector<std::string_view> known) {
    if (kind == NameKind::motion) {
      known.clear();
      for (const NamedMotion& motion : feel_.motions)
        if (!motion.written_in_place) known.push_back(motion.name);
      for (const std::string& broken : broken_motions_) known.push_back(broken);
    }
    root_.report_at(fmt::format("feel.unknown_{}", name_kind_in_words(kind)), path, where,
                    fmt::format("the feel has no {} named \"{}\"", name_kind_in_words(kind), printable(name, 60)),
                    unknown_name_hint(name, known, kind));
  }

  void read_picture() {
    const Node* node = root_.find("picture");
    if (node == nullptr) return;
    SectionReader reader(*node, *find_section("picture"), "picture", problems_);
    if (node->table() == nullptr) return;
    if (const auto size = reader.components("size")) {
      if (size->size() != 2 || (*size)[0] != std::floor((*size)[0]) || (*size)[1] != std::floor((*size)[1]))
        reader.report("feel.component_count", "size", "expected two whole numbers of pixels, width and height");
      else
        feel_.picture.width = static_cast<int>((*size)[0]), feel_.picture.height = static_cast<int>((*size)[1]);
    }
    read_lens(reader);
    if (const Node* height = reader.find("height")) {
      SectionReader height_reader(*height, *find_section("picture.height"), "picture.height", problems_);
      if (height->table() != nullptr)
        if (const auto name = height_reader.name("channel"))
          feel_.picture.height_channel = resolve(height_reader, "channel", *name, feel_.channels, NameKind::channel);
    }
  }

  void read_lens(SectionReader& picture) {
    const Node* lens = picture.find("lens");
    if (lens == nullptr) return;
    SectionReader reader(*lens, *find_section("picture.lens"), "picture.lens", problems_);
    if (lens->table() == nullptr) return;
    if (reader.choice("axis") == "horizontal") feel_.picture.lens_axis = Picture::LensAxis::horizontal;
    const auto name = reader.name("channel");
    if (!name) return;
    const auto index = index_of(feel_.channels, *name);
    if (!index) {
      report_unknown("picture.lens.channel", reader.where("channel"), NameKind::channel, *name,
                     names_of(feel_.channels));
      return;
    }
    feel_.picture.lens_channel = index;
    const auto unit = find_unit(feel_.channels[*index].unit);
    if (!unit || unit->kind != UnitKind::angle)
      reader.report("feel.unit", "channel",
                    fmt::format("the lens is an angle, but the unit of {} is \"{}\"", *name,
                                printable(feel_.channels[*index].unit, 20)),
                    "Give that channel unit = \"deg\".");
  }

  void check_whole() {
    if (feel_.channels.empty() && problems_.empty())
      root_.report_at("feel.no_channel", "channel", {}, "the feel has no channel, so nothing can move",
                      "Add one, such as [channel.fov] with unit = \"deg\" and rest = 62. `stasis new` writes a feel to "
                      "start from.");
  }

  Problems problems_;
  SectionReader root_;
  Feel feel_;
  std::vector<std::string> broken_motions_;
};

} // namespace

bool is_valid_name(std::string_view name) noexcept {
  constexpr std::size_t longest = 64;
  const auto allowed = [](char c) { return (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_'; };
  return !name.empty() && name.size() <= longest && name.front() >= 'a' && name.front() <= 'z'
         && std::all_of(name.begin(), name.end(), allowed);
}

Result<Feel> read_feel(const Node& document) { return FeelReader(document).read(); }

const char* name_of(CueAction action) noexcept {
  constexpr std::array<const char*, 3> names{"press", "release", "cancel"};
  return names[static_cast<std::size_t>(action)];
}

std::string component_name(const Channel& channel, std::size_t component) {
  return channel.components == 1 ? channel.name : channel.name + component_suffixes[component];
}

} // namespace stasis
