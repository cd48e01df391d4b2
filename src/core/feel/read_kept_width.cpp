// A distance that follows the lens, so that the subject keeps its size. Source: docs/maths.md, section 7.
#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

void read_kept_width(Reading& reading, std::size_t index, const Node& declared, const std::string& path) {
  SectionReader reader(declared, *find_section("channel"), path, reading.problems);
  Channel& channel = reading.feel.channels[index];
  const Picture& picture = reading.feel.picture;
  const auto width = reader.number("keeps_width", channel.unit);
  if (!width) return;
  if (picture.distance != index || !picture.lens_channel || picture.lens_channel == index)
    return reader.report("feel.picture", "keeps_width",
                         fmt::format("{} is not the distance of [picture], or the picture has no lens", channel.name),
                         "Give [picture] lens = { channel = \"..\" } and distance = \"..\".");
  if (channel.formula[0] || channel.follow)
    return reader.report(
        "feel.two_owners", "keeps_width",
        fmt::format("{} already has a goal of its own, by its formula, a profile or what it follows", channel.name));
  // d = w / (2 tan(H/2)), tan(H/2) = aspect tan(V/2).
  const bool across = picture.lens_axis == Picture::LensAxis::horizontal;
  const double aspect = across ? 1.0 : static_cast<double>(picture.width) / picture.height;
  const Channel& lens = reading.feel.channels[*picture.lens_channel];
  const double half_radians = 0.5 * radians(convert(1.0, *find_unit(lens.unit), *find_unit("deg")));
  FormulaVariable read;
  read.component = {*picture.lens_channel, 0};
  reading.feel.variables.push_back(read);
  channel.formula[0] = *Formula::parse(
      fmt::format("{} / tan({} * lens)", shortest(*width / (2.0 * aspect)), shortest(half_radians)),
      [&](std::string_view) -> tl::expected<std::size_t, std::string> { return reading.feel.variables.size() - 1; });
  channel.keeps_width = width;
  can_follow(reading, channel, path, reader.where("keeps_width"));
}

} // namespace

void read_kept_widths(Reading& reading) {
  if (!reading.problems.empty()) return; // a channel's keys are looked at once more
  reading.each("channel", [&](const Entry& entry, const std::string& path) {
    const auto index = index_of(reading.feel.channels, entry.key);
    if (index && entry.value.find("keeps_width") != nullptr) read_kept_width(reading, *index, entry.value, path);
  });
}

} // namespace stasis
