// Obstacles, what they hold in, and an eye that is placed.
#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reader_for.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"
#include "core/unbounded.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

class ObstacleReader {
public:
  ObstacleReader(Reading& reading, const Entry& entry, const SectionSpec& section, const std::string& path)
      : reading_(reading), reader_(entry.value, section, path, reading.problems) {}

  std::optional<ObstacleShape> read() {
    using Read = ObstacleShape (ObstacleReader::*)();
    static constexpr ReaderOf<Read> readers[] = {{"obstacle.plane", &ObstacleReader::plane},
                                                 {"obstacle.box", &ObstacleReader::box},
                                                 {"obstacle.sphere", &ObstacleReader::sphere},
                                                 {"obstacle.wall", &ObstacleReader::wall},
                                                 {"obstacle.recorded", &ObstacleReader::recorded}};
    ObstacleShape shape = (this->*reader_for<Read>(readers, reader_.section().id))();
    return reader_.is_whole() && !lacks_track_ ? std::optional(std::move(shape)) : std::nullopt;
  }

private:
  /// One number for each component of a place.
  Components vector(std::string_view key) {
    Components out{};
    const auto values = reader_.components(key);
    if (!values) return out;
    if (values->size() != most_components)
      reader_.report("feel.component_count", key, fmt::format("expected three numbers, found {}", values->size()));
    std::copy(values->begin(), values->end(), out.begin());
    return out;
  }

  ObstacleShape plane() {
    PlaneShape plane;
    plane.at = vector("at");
    if (reader_.has("normal")) plane.normal = vector("normal");
    const double length = length_of(plane.normal);
    if (!(length > 0.0) || !std::isfinite(length))
      reader_.report("feel.out_of_bounds", "normal", "a normal cannot have length 0",
                     "[0, 1, 0] is a floor, [1, 0, 0] a wall that looks along x.");
    else
      plane.normal = scaled(plane.normal, 1.0 / length);
    return plane;
  }

  ObstacleShape box() {
    BoxShape box;
    box.centre = vector("centre");
    if (const auto size = reader_.components("size")) {
      if (size->size() == 2)
        reader_.report("feel.component_count", "size", "expected three sizes, or one for all, found 2");
      for (std::size_t i = 0; i < most_components; ++i) {
        box.high[i] = 0.5 * (*size)[size->size() == 1 ? 0 : i];
        box.low[i] = -box.high[i];
      }
    }
    if (const auto turn = reader_.components("turn")) box.axes = turned(*turn);
    return box;
  }

  Axes turned(const std::vector<double>& turn) {
    if (turn.size() == 1) return axes_of_heading(turn[0], most_components);
    if (turn.size() != most_components) {
      reader_.report("feel.component_count", "turn", "expected a heading, or [yaw, pitch, roll], found 2 numbers");
      return {};
    }
    return axes_of_view(radians(turn[0]), radians(turn[1]), radians(turn[2]));
  }

  ObstacleShape sphere() { return SphereShape{vector("centre"), 0.5 * reader_.number("diameter").value_or(1.0)}; }

  ObstacleShape wall() {
    std::vector<std::array<double, 2>> points;
    const Node* node = reader_.find("points");
    if (node == nullptr) return WallShape{};
    const NodeList* list = node->list();
    if (list == nullptr || list->size() < 2) {
      reader_.report("feel.not_a_list", "points", "expected two points at least, such as [[0, 0], [3, 1]]");
      return WallShape{};
    }
    const KeySpec& spec = *find_key(reader_.section(), "points");
    for (std::size_t i = 0; i < list->size(); ++i) {
      const std::string place = fmt::format("{}.points[{}]", reader_.path(), i);
      const auto values = reader_.components_of((*list)[i], spec, place, {});
      if (!values) continue;
      if (values->size() != 2)
        reading_.report("feel.component_count", place, (*list)[i].where,
                        fmt::format("a point of a wall has two numbers, x and z; found {}", values->size()));
      else
        add_point(points, {(*values)[0], (*values)[1]}, place, (*list)[i].where);
    }
    if (reader_.flag("closed").value_or(false) && points.size() > 2) points.push_back(points.front());
    return wall_along(std::move(points), edge("bottom", -unbounded), edge("top", unbounded));
  }

  void add_point(std::vector<std::array<double, 2>>& points, std::array<double, 2> point, const std::string& place,
                 Position where) {
    if (!points.empty() && points.back() == point)
      reading_.report("feel.points", place, where,
                      "the point is the same as the one before, so there is no wall between them");
    else
      points.push_back(point);
  }

  double edge(std::string_view key, double otherwise) {
    if (!reader_.has(key)) return otherwise;
    const double height = reader_.number(key).value_or(otherwise);
    if (key == "top" && reader_.has("bottom") && height <= reader_.number("bottom").value_or(-unbounded))
      reader_.report("feel.out_of_bounds", "top", "the upper edge is not above the lower one");
    return height;
  }

  ObstacleShape recorded() {
    RecordedClearance clearance;
    const auto name = reader_.name("track");
    lacks_track_ = name && reading_.is_broken(*name);
    if (!name || lacks_track_) return clearance;
    const auto found = reading_.resolve(reader_, "track", *name, reading_.feel.tracks, NameKind::track);
    lacks_track_ = !found;
    if (!found) return clearance;
    clearance.track = *found;
    const Track& track = reading_.feel.tracks[clearance.track];
    if (track.components != 1)
      reader_.report("feel.component_count", "track",
                     fmt::format("a clear distance is one number, but {} has {}", *name, track.components));
    return clearance;
  }

  Reading& reading_;
  SectionReader reader_;
  bool lacks_track_ = false; ///< it is wrong or not there, which is reported elsewhere
};

/// The obstacles that a list of names means; all of them without one.
std::vector<std::size_t> obstacles_named(Reading& reading, SectionReader& reader, std::string_view key) {
  std::vector<std::size_t> named;
  const auto& all = reading.feel.obstacles;
  const auto names = reader.texts(key);
  if (!names) {
    for (std::size_t i = 0; i < all.size() && !reader.has(key); ++i) named.push_back(i);
    return named;
  }
  for (const std::string& name : *names) {
    if (const auto index = index_of(all, name))
      named.push_back(*index);
    else if (!reading.is_broken(name))
      reading.report_unknown(joined_path(reader.path(), key), reader.where(key), NameKind::obstacle, name,
                             names_of(all));
  }
  std::sort(named.begin(), named.end());
  named.erase(std::unique(named.begin(), named.end()), named.end());
  return named;
}

/// Whether a ray can be cast for the channel; says why not.
bool has_ray(Reading& reading, SectionReader& reader, std::size_t index) {
  const Picture& picture = reading.feel.picture;
  const Channel& channel = reading.feel.channels[index];
  const bool hangs = !picture.position || reading.feel.channels[*picture.position].is_placed;
  if (picture.distance == index && picture.focus && hangs && !picture.is_flat()) return true;
  reader.report_at(
      "feel.picture", reader.path(), reader.node().where,
      fmt::format("{} is not the distance of [picture] from what is looked at, so no ray can be cast for it",
                  channel.name),
      "Give [picture] focus = \"..\" and distance = \"..\"; a recorded clear distance needs neither.");
  return false;
}

void read_rule(Reading& reading, std::size_t index, const Node& node, const std::string& path) {
  SectionReader reader(node, *find_section("obstacles"), path, reading.problems);
  Channel& channel = reading.feel.channels[index];
  if (node.table() == nullptr) return;
  if (channel.components != 1 || channel.space.space == Space::turn)
    return reading.report("feel.obstacles", path, node.where,
                          fmt::format("{} is not a distance: one number that does not go round", channel.name));
  ObstacleRule rule;
  rule.radius = 0.5 * reader.number("thickness", channel.unit).value_or(0.0);
  rule.stand_off = reader.number("stand_off", channel.unit).value_or(0.0);
  rule.never_through = reader.flag("never_through").value_or(false);
  const std::size_t before = reading.problems.size();
  rule.obstacles = obstacles_named(reading, reader, "only");
  if (reading.problems.size() > before) return;
  const Node* declared = reading.document.find("obstacle");
  const std::size_t count = declared != nullptr && declared->table() != nullptr ? declared->table()->size() : 0;
  // One is wrong, or what all of them are called, and reported.
  if (count > reading.feel.obstacles.size() || reading.is_misspelt("obstacle")) return;
  if (rule.obstacles.empty())
    return reading.report("feel.obstacles", path, node.where, "there is no obstacle that could hold it in",
                          "Add one, such as [obstacle.floor] with kind = \"plane\" and at = [0, 0, 0].");
  rule.has_ray = std::any_of(rule.obstacles.begin(), rule.obstacles.end(), [&](std::size_t o) {
    return !std::holds_alternative<RecordedClearance>(reading.feel.obstacles[o].shape);
  });
  if (rule.has_ray && reading.problems.empty() && !has_ray(reading, reader, index)) return;
  const double least = domain(channel.space).low;
  if (channel.range[0].low <= least && std::isfinite(least))
    return reading.report(
        "feel.no_range", path, node.where,
        fmt::format("an obstacle close to what is looked at would hold {} at {}, which its space cannot hold",
                    channel.name, least),
        "Give the channel a range; its lowest value holds there.");
  channel.obstacles = std::move(rule);
  can_follow(reading, channel, path, node.where);
}

void read_placed(Reading& reading, std::size_t index, const Node& declared, const std::string& path) {
  SectionReader reader(declared, *find_section("channel"), path, reading.problems);
  if (!reader.flag("placed").value_or(false)) return;
  Channel& channel = reading.feel.channels[index];
  const Picture& picture = reading.feel.picture;
  if (picture.position != index || !picture.focus || !picture.distance || channel.components != most_components)
    return reader.report("feel.picture", "placed",
                         fmt::format("{} is not the position of [picture], of three components, with a focus and a "
                                     "distance to place it by",
                                     channel.name),
                         "Give [picture] position = \"..\", focus = \"..\" and distance = \"..\".");
  const bool is_led =
      channel.follow || std::any_of(channel.formula.begin(), channel.formula.end(), [](const auto& f) { return !!f; });
  if (is_led)
    return reader.report(
        "feel.two_owners", "placed",
        fmt::format("{} already has a goal of its own, by its formula, a profile or what it follows", channel.name));
  if (channel.space.space != Space::linear)
    return reader.report("feel.space", "placed", fmt::format("{} is a place, so its space is linear", channel.name));
  channel.is_placed = true;
  can_follow(reading, channel, path, reader.where("placed"));
}

} // namespace

void read_obstacles(Reading& reading) {
  reading.each("obstacle", [&](const Entry& entry, const std::string& path) {
    const Node* kind = entry.value.find("kind");
    const SectionSpec* section =
        kind != nullptr && kind->text() != nullptr ? find_section("obstacle." + *kind->text()) : nullptr;
    if (section == nullptr) {
      report_kind(reading, entry.value, path, "obstacle.plane");
      reading.broken.push_back(entry.key);
      return;
    }
    if (auto shape = ObstacleReader(reading, entry, *section, path).read())
      reading.feel.obstacles.push_back({entry.key, std::move(*shape)});
    else
      reading.broken.push_back(entry.key);
  });
}

void read_obstacle_rules(Reading& reading) {
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    const auto index = index_of(reading.feel.channels, entry.key);
    if (index && entry.value.find("placed") != nullptr && reading.problems.empty())
      read_placed(reading, *index, entry.value, path);
  });
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    const auto index = index_of(reading.feel.channels, entry.key);
    const Node* node = entry.value.find("obstacles");
    if (index && node != nullptr) read_rule(reading, *index, *node, joined_path(path, "obstacles"));
  });
}

void read_take_obstacles(Reading& reading, SectionReader& reader, Take& take) {
  if (reader.has("obstacles")) take.obstacles = obstacles_named(reading, reader, "obstacles");
}

} // namespace stasis
