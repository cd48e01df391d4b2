// Takes and the picture.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/take/clock.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

void read_take(Reading& reading, const Entry& entry, const std::string& path) {
  SectionReader reader(entry.value, *find_section("take"), path, reading.problems);
  if (entry.value.table() == nullptr) return;
  Take take;
  take.name = entry.key;
  const auto length = reader.number("length");
  take.length = length.value_or(longest_take); // where it is wrong, no cue is held against it
  if (const Node* clock = reader.find("clock")) {
    SectionReader clock_reader(*clock, *find_section("take.clock"), joined_path(path, "clock"), reading.problems);
    if (clock->table() != nullptr) take.fps = clock_reader.number("fps").value_or(take.fps);
  }
  if (length && *length * take.fps > most_frames)
    reader.report("feel.too_many", "length",
                  fmt::format("{} s at {} fps are more than {} frames", take.length, take.fps, most_frames));
  read_cues(reading, reader, take);
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
  const std::size_t before = reading.problems.size();
  const std::size_t index = reading.resolve(reader, "channel", *name, reading.feel.channels, NameKind::channel);
  if (reading.problems.size() > before) return;
  out.lens_channel = index;
  const Channel& channel = reading.feel.channels[index];
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
    const std::size_t before = reading.problems.size();
    const std::size_t index = reading.resolve(reader, role.key, *name, reading.feel.channels, NameKind::channel);
    if (reading.problems.size() > before) continue;
    reading.feel.picture.*role.channel = index;
    check_role(reader, role, reading.feel.channels[index]);
  }
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
  const Node* height = reader.find("height");
  if (height == nullptr) return;
  SectionReader height_reader(*height, *find_section("picture.height"), "picture.height", reading.problems);
  if (height->table() == nullptr) return;
  if (const auto name = height_reader.name("channel"))
    picture.height_channel = reading.resolve(height_reader, "channel", *name, reading.feel.channels, NameKind::channel);
}

} // namespace stasis
