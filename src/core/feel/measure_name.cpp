#include "core/feel/measure_name.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

tl::unexpected<MeasureFault> unknown_owner(const Feel& feel, std::string_view owner) {
  auto known = names_of(feel.channels);
  for (const Shake& shake : feel.shakes) known.push_back(shake.name);
  const auto close = nearest(owner, known);
  return tl::unexpected(
      MeasureFault{"feel.unknown_channel", fmt::format("the feel has no channel named \"{}\"", printable(owner, 60)),
                   close ? fmt::format("Did you mean {}?", *close) : fmt::format("Known: {}.", listed(known))});
}

} // namespace

tl::expected<Want, MeasureFault> measure_named(const Feel& feel, const KnownNames& vocabulary, std::string_view text) {
  const auto dot = text.find('.');
  const std::string_view owner = text.substr(0, dot);
  Want want;
  const auto channel = index_of(feel.channels, owner);
  want.shake = index_of(feel.shakes, owner);
  want.is_of_camera = !channel && !want.shake && owner == "camera";
  if (!channel && !want.shake && !want.is_of_camera) return unknown_owner(feel, owner);
  want.channel = channel.value_or(0);
  want.measure = dot == std::string_view::npos ? "" : text.substr(dot + 1);
  const std::string_view kind = want.shake ? "a shake" : want.is_of_camera ? "the camera" : "a channel";
  const auto known = want.shake          ? vocabulary.of_shake(feel, *want.shake)
                     : want.is_of_camera ? vocabulary.of_camera(feel)
                                         : vocabulary.of_channel(feel.channels[*channel]);
  const auto unknown = [](std::string message, std::string hint) {
    return tl::unexpected(MeasureFault{"feel.unknown_measure", std::move(message), std::move(hint)});
  };
  if (want.is_of_camera && known.empty())
    return unknown("[picture] places no eye in space, so the camera cannot be measured",
                   "Name the channels that place it: focus and distance, or a position of three components.");
  const std::vector<std::string_view> views(known.begin(), known.end());
  if (std::find(views.begin(), views.end(), want.measure) != views.end()) return want;
  if (want.measure.empty())
    return unknown(fmt::format("\"{}\" names {}, but no measure", owner, kind),
                   fmt::format("Write {}.{}, or another of {}.", owner, views.front(), listed(views, "or")));
  const auto close = nearest(want.measure, views);
  return unknown(fmt::format("{1} has no measure \"{0}\"", printable(want.measure, 60), kind),
                 close ? fmt::format("Did you mean {}.{}?", owner, *close) : fmt::format("Known: {}.", listed(views)));
}

} // namespace stasis
