// What holds a distance in, and where an eye is put, in words.
#include <fmt/format.h>

#include "core/explain/explain.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::string held_in_words(const Feel& feel, const Channel& channel) {
  const ObstacleRule& rule = *channel.obstacles;
  std::vector<std::string_view> names;
  for (const std::size_t o : rule.obstacles) names.push_back(feel.obstacles[o].name);
  std::string words = fmt::format("is held in by {}", listed(names, "or"));
  if (rule.has_ray && rule.radius > 0.0)
    words += fmt::format(", where a ball {} across, on its way back from what is looked at, touches one",
                         amount_in(2.0 * rule.radius, channel.unit));
  else if (rule.has_ray)
    words += ", where the line back from what is looked at meets one";
  if (rule.stand_off > 0.0)
    words += fmt::format("; its goal stays {} off the surface; if its motion lags by more than that, it goes through",
                         amount_in(rule.stand_off, channel.unit));
  else
    words += "; its goal is on the surface itself; if its motion lags, it goes through";
  if (rule.never_through) words += "; after the motion, the value itself is held at the surface";
  if (channel.range[0].low > 0.0)
    words += fmt::format("; it never comes nearer than {}", amount_in(channel.range[0].low, channel.unit));
  return words;
}

} // namespace

std::string room_in_words(const Feel& feel, const Channel& channel) {
  if (channel.obstacles) return held_in_words(feel, channel);
  if (!channel.is_placed) return "";
  const Picture& picture = feel.picture;
  return fmt::format("is put {} behind {}, by how the view is turned; its own motion takes it there straight, so a "
                     "quick turn cuts the corner; it looks at {}",
                     feel.channels[*picture.distance].name, feel.channels[*picture.focus].name,
                     feel.channels[*picture.focus].name);
}

} // namespace stasis
