// Takes and the picture.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/clock.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// { otter = "drill" }: another track is played wherever the first is followed.
void read_take_tracks(Reading& reading, const Node& node, const std::string& path, Take& take) {
  if (node.table() == nullptr)
    return reading.report(
        "feel.not_a_table", path, node.where,
        fmt::format("expected a table such as {{ otter = \"drill\" }}, found {}", kind_in_words(node)));
  const auto& tracks = reading.feel.tracks;
  take.tracks.resize(tracks.size());
  for (std::size_t t = 0; t < tracks.size(); ++t) take.tracks[t] = t;
  for (const Entry& entry : *node.table()) {
    const std::string place = joined_path(path, entry.key);
    const auto from = index_of(tracks, entry.key);
    const auto to = entry.value.text() != nullptr ? index_of(tracks, *entry.value.text()) : std::nullopt;
    if (!from || !to) {
      const std::string name = !from ? entry.key : entry.value.text() != nullptr ? *entry.value.text() : "";
      if (!reading.is_broken(name))
        reading.report_unknown(place, from ? entry.value.where : entry.where, NameKind::track, name, names_of(tracks));
    } else if (tracks[*from].components != tracks[*to].components) {
      reading.report("feel.component_count", place, entry.value.where,
                     fmt::format("{} has {} components, {} has {}", entry.key, tracks[*from].components,
                                 tracks[*to].name, tracks[*to].components));
    } else {
      take.tracks[*from] = *to;
    }
  }
}

/// A track that must cover the take and does not.
void check_coverage(Reading& reading, const Take& take, const std::string& path, Position where) {
  const auto check = [&](const Channel& channel, std::size_t index) {
    const Track& track = reading.feel.tracks[played_track(take, index)];
    const TrackSpan span = span_of(track);
    if (track.lost != LostRule::error || (span.first <= instant_slack && span.last >= take.length - instant_slack))
      return;
    reading.report("feel.track_lost", path, where,
                   fmt::format("{} follows {}, which is there from {} to {} s only; the take lasts {} s", channel.name,
                               track.name, readable(span.first, 6), readable(span.last, 6), take.length),
                   "Shorten the take, move the track with begins_at, or give it lost = \"hold\" or \"base\".");
  };
  for (const Channel& channel : reading.feel.channels) {
    if (channel.follow) check(channel, channel.follow->track);
    for (const std::size_t o : channel.obstacles ? channel.obstacles->obstacles : std::vector<std::size_t>{})
      if (const auto* recorded = std::get_if<RecordedClearance>(&reading.feel.obstacles[o].shape))
        check(channel, recorded->track);
  }
}

void read_take(Reading& reading, const Entry& entry, const std::string& path) {
  SectionReader reader(entry.value, *find_section("take"), path, reading.problems);
  if (entry.value.table() == nullptr) return;
  Take take;
  take.name = entry.key;
  const auto length = reader.number("length");
  take.length = length.value_or(longest_take); // where it is wrong, no cue is held against it
  if (const Node* clock = reader.find("clock")) {
    SectionReader clock_reader(*clock, *find_section("take.clock"), joined_path(path, "clock"), reading.problems);
    if (clock->table() != nullptr) read_clock(reading, clock_reader, take);
  }
  if (length && *length * take.fps > most_frames)
    reader.report("feel.too_many", "length",
                  fmt::format("{} s at {} fps are more than {} frames", take.length, take.fps, most_frames));
  read_cues(reading, reader, take);
  if (const Node* tracks = reader.find("tracks")) read_take_tracks(reading, *tracks, joined_path(path, "tracks"), take);
  read_take_obstacles(reading, reader, take);
  check_coverage(reading, take, path, entry.where);
  reading.feel.takes.push_back(std::move(take));
}

void read_lens(Reading& reading, SectionReader& picture) {
  const Node* lens = picture.find("lens");
  if (lens == nullptr) return;
  SectionReader reader(*lens, *find_section("picture.lens"), "picture.lens", reading.problems);
  if (lens->table() == nullptr) return;
  Picture& out = reading.feel.picture;
  if (reader.choice("axis") == "horizontal") out.lens_axis = Picture::LensAxis::horizontal;
  const auto name = reader.name("channel");
  if (!name) return;
  const auto index = reading.resolve(reader, "channel", *name, reading.feel.channels, NameKind::channel);
  if (!index) return;
  out.lens_channel = index;
  const Channel& channel = reading.feel.channels[*index];
  const auto unit = find_unit(channel.unit);
  if (!unit || unit->kind != UnitKind::angle)
    reader.report("feel.unit", "channel",
                  fmt::format("the lens is an angle, but the unit of {} is \"{}\"", *name, printable(channel.unit, 20)),
                  "Give that channel unit = \"deg\".");
  else if (channel.components > 1)
    reader.report("feel.component_count", "channel",
                  fmt::format("the lens is one angle, but {} has {} components", *name, channel.components));
}

/// A channel that places the camera must have as many components, and be an angle, as its role asks.
void check_role(SectionReader& reader, const PictureRole& role, const Channel& channel) {
  if (channel.components < role.least_components || channel.components > role.most_components)
    reader.report("feel.component_count", role.key,
                  fmt::format("{} takes a channel of {}, but {} has {}", role.key,
                              role.most_components == 1                       ? "one number"
                              : role.least_components == role.most_components ? "three components"
                                                                              : "two or three components",
                              channel.name, channel.components));
  const auto unit = find_unit(channel.unit);
  if (role.is_angle && (!unit || unit->kind != UnitKind::angle))
    reader.report("feel.unit", role.key,
                  fmt::format("{} is an angle, but the unit of {} is \"{}\"", role.key, channel.name,
                              printable(channel.unit, 20)),
                  "Give that channel unit = \"deg\".");
}

void read_roles(Reading& reading, SectionReader& reader) {
  for (const PictureRole& role : picture_roles()) {
    const auto name = reader.name(role.key);
    if (!name) continue;
    const auto index = reading.resolve(reader, role.key, *name, reading.feel.channels, NameKind::channel);
    if (!index) continue;
    reading.feel.picture.*role.channel = index;
    check_role(reader, role, reading.feel.channels[*index]);
  }
}

/// The channel of `height` or `width` of a flat view.
std::optional<std::size_t> extent_channel(Reading& reading, SectionReader& picture, std::string_view key) {
  const Node* node = picture.find(key);
  if (node == nullptr) return std::nullopt;
  SectionReader reader(*node, *find_section(fmt::format("picture.{}", key)), joined_path("picture", key),
                       reading.problems);
  if (node->table() == nullptr) return std::nullopt;
  const auto name = reader.name("channel");
  if (!name) return std::nullopt;
  const auto index = reading.resolve(reader, "channel", *name, reading.feel.channels, NameKind::channel);
  if (!index) return std::nullopt;
  const Channel& channel = reading.feel.channels[*index];
  if (channel.components > 1)
    reader.report("feel.component_count", "channel",
                  fmt::format("the {} is one number, but {} has {} components", key, *name, channel.components));
  return index;
}

/// Height and width are a pair: the width is the height times the aspect, whatever the height does.
void tie_width(Reading& reading, SectionReader& reader) {
  const Picture& picture = reading.feel.picture;
  Channel& width = reading.feel.channels[*picture.width_channel];
  const Channel& height = reading.feel.channels[*picture.height_channel];
  const double aspect = static_cast<double>(picture.width) / picture.height;
  const auto moved_by = [&]() -> std::string {
    for (const Pose& pose : reading.feel.poses)
      for (const PoseGoal& goal : pose.goals)
        if (goal.channel == *picture.width_channel) return "the pose " + pose.name;
    for (const Control& control : reading.feel.controls)
      if (const ComponentRef* target = target_of(control);
          target != nullptr && target->channel == *picture.width_channel)
        return "the control " + control.name;
    const Node* declared = reading.document.find("channel")->find(width.name);
    for (const char* key : {"formula", "follow", "motion", "runs_on"})
      if (declared->find(key) != nullptr) return fmt::format("its own {}", key);
    return "";
  }();
  if (!moved_by.empty())
    return reader.report("feel.aspect", "width",
                         fmt::format("{} is {} times {}, but {} moves it separately, which would stretch the picture",
                                     width.name, aspect, height.name, moved_by),
                         fmt::format("Move {} alone; {} goes with it.", height.name, width.name));
  if (std::fabs(width.rest[0] - height.rest[0] * aspect) > 1e-9 * std::fabs(width.rest[0]))
    return reader.report("feel.aspect", "width",
                         fmt::format("{} rests at {}, but the picture of {} x {} pixels asks for {}", width.name,
                                     width.rest[0], picture.width, picture.height, concise(height.rest[0] * aspect, 8)),
                         "Otherwise the picture is stretched.");
  FormulaVariable read;
  read.component = {*picture.height_channel, 0};
  reading.feel.variables.push_back(read);
  width.formula[0] = *Formula::parse(
      fmt::format("{} * {} / {}", height.name, picture.width, picture.height),
      [&](std::string_view) -> tl::expected<std::size_t, std::string> { return reading.feel.variables.size() - 1; });
  width.motion = read_motion_choices(reading, nullptr, "", width, width.name + ".motion");
  width.tie = Tie{*picture.height_channel, aspect};
  width.space = height.space;
  width.runs_on = height.runs_on;
  width.settle_band = height.settle_band;
  if (width.settle_band.absolute) width.settle_band.size *= aspect;
}

} // namespace

void read_takes(Reading& reading) {
  reading.each("take", [&](const Entry& entry, const std::string& path) { read_take(reading, entry, path); });
}

void read_picture(Reading& reading) {
  const Node* node = reading.document.find("picture");
  if (node == nullptr) return;
  SectionReader reader(*node, *find_section("picture"), "picture", reading.problems);
  if (node->table() == nullptr) return;
  Picture& picture = reading.feel.picture;
  if (const auto size = reader.components("size")) {
    if (size->size() != 2 || (*size)[0] != std::floor((*size)[0]) || (*size)[1] != std::floor((*size)[1]))
      reader.report("feel.component_count", "size", "expected two whole numbers of pixels, width and height");
    else
      picture.width = static_cast<int>((*size)[0]), picture.height = static_cast<int>((*size)[1]);
  }
  read_lens(reading, reader);
  read_roles(reading, reader);
  if (reader.has("margin")) picture.margin = reader.number("margin");
  if (reader.has("most_roll")) picture.most_roll = reader.number("most_roll");
  if (reader.has("top_turn_speed")) picture.top_turn_speed = reader.number("top_turn_speed");
  if (reader.has("top_turn_acceleration")) picture.top_turn_acceleration = reader.number("top_turn_acceleration");
  if (reader.has("top_eye_speed")) picture.top_eye_speed = reader.number("top_eye_speed");
  if (const auto coarse = reader.components("coarse")) {
    if (coarse->size() != 2 || (*coarse)[0] != std::floor((*coarse)[0]) || (*coarse)[1] != std::floor((*coarse)[1]))
      reader.report("feel.component_count", "coarse", "expected two whole numbers of pixels, width and height");
    else
      picture.coarse = {static_cast<int>((*coarse)[0]), static_cast<int>((*coarse)[1])};
  }
  picture.height_channel = extent_channel(reading, reader, "height");
  picture.width_channel = extent_channel(reading, reader, "width");
  if (picture.height_channel && picture.width_channel && reading.problems.empty()) tie_width(reading, reader);
}

} // namespace stasis
