// What leads a channel other than a track, in words: a profile, a heading.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/explain/explain.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

std::string driven_in_words(const Feel& feel, const Profile& profile, const Profile::Driven& driven) {
  const Channel& driver = feel.channels[profile.driver.channel];
  const Channel& channel = feel.channels[driven.component.channel];
  std::string words =
      fmt::format("{} goes by {}, through {} knots of {}", component_name(channel, driven.component.component),
                  component_name(driver, profile.driver.component), driven.curve->knots().size(), profile.name);
  const char* joint = ": ";
  for (const ProfileKnot& knot : driven.curve->knots()) {
    words += fmt::format("{}{} at {}", joint, amount_in(knot.value, channel.unit), amount_in(knot.at, driver.unit));
    joint = ", ";
  }
  const std::string shape =
      profile.roundness == 0.0 ? "straight from knot to knot"
      : profile.roundness == 1.0
          ? "smooth in between, and never beyond the knots around"
          : fmt::format("{} % round in between, and never beyond the knots around", concise(100.0 * profile.roundness));
  return words + "; " + shape + "; beyond the first and the last knot it stays as there";
}

} // namespace

std::string profile_in_words(const Feel& feel, std::size_t channel) {
  std::string words;
  for (const Profile& profile : feel.profiles)
    for (const Profile::Driven& driven : profile.driven)
      if (driven.component.channel == channel)
        words += (words.empty() ? "" : ". ") + driven_in_words(feel, profile, driven);
  return words;
}

std::string kept_width_in_words(const Channel& channel) {
  if (!channel.keeps_width) return "";
  return fmt::format("keeps {} across the picture, whatever the lens does: its goal is half of that divided by the "
                     "tangent of half the horizontal field of view; how well it keeps it depends on its motion",
                     amount_in(*channel.keeps_width, channel.unit));
}

std::string realign_in_words(const Feel& feel, const Channel& channel) {
  if (!channel.realign) return "";
  const Realign& realign = *channel.realign;
  using To = Realign::To;
  const std::string beside =
      realign.heading == 0.0 ? "" : fmt::format(", and {} beside it", amount_in(realign.heading, channel.unit));
  std::string to = fmt::format("the heading {}", amount_in(realign.heading, channel.unit));
  if (realign.to != To::heading) {
    const std::string& track = feel.tracks[realign.track].name;
    to = realign.to == To::travel     ? fmt::format("the way that {} travels{}", track, beside)
         : realign.to == To::velocity ? fmt::format("the direction of {}'s velocity{}", track, beside)
                                      : fmt::format("the way that {} faces{}", track, beside);
  }
  std::string words =
      fmt::format("turns back to {} when stick and pointer have not been touched for {} s", to, concise(realign.wait));
  if (realign.to != To::heading && realign.least_speed > 0.0)
    words += fmt::format("; slower than {} a second it stays where it is", concise(realign.least_speed));
  return words;
}

} // namespace stasis
