// Where the eye is, of a picture that says it by what is looked at, how far off and how turned.
#include <algorithm>

#include "code/lowering.hpp"
#include "core/units.hpp"

namespace stasis::code {
namespace {

/// The first value of a channel as an angle in radians; 0 without the channel.
std::string angle_of(const Lowering& to, const std::optional<std::size_t>& channel) {
  if (!channel) return "0.0";
  const auto unit = find_unit(to.feel.channels[*channel].unit);
  const double per_unit = unit ? radians(convert(1.0, *unit, *find_unit("deg"))) : 1.0;
  return fmt::format("value_of_{}(s) * {}", component_identifier(to.feel, {*channel, 0}), literal(per_unit));
}

std::string value_of(const Lowering& to, std::size_t channel, std::size_t component) {
  return fmt::format("value_of_{}(s)", component_identifier(to.feel, {channel, component}));
}

} // namespace

bool has_written_eye(const Feel& feel) {
  const Picture& picture = feel.picture;
  return !picture.is_flat() && !picture.position && picture.focus && picture.distance
         && feel.channels[*picture.focus].components == most_components;
}

void lower_eye(Lowering& to) {
  if (!has_written_eye(to.feel)) return;
  const Picture& picture = to.feel.picture;
  to.add("real eye_yaw(State s) {{ return {}; }}", angle_of(to, picture.yaw));
  to.add("real eye_pitch(State s) {{ return {}; }}", angle_of(to, picture.pitch));
  // Straight back from what is looked at, then aside, level.
  const char* const back[] = {"sin(eye_yaw(s)) * cos(eye_pitch(s))", "-sin(eye_pitch(s))",
                              "cos(eye_yaw(s)) * cos(eye_pitch(s))"};
  const char* const right[] = {" + cos(eye_yaw(s))", "", " - sin(eye_yaw(s))"};
  const std::string distance = value_of(to, *picture.distance, 0);
  for (std::size_t i = 0; i < most_components; ++i) {
    const char axis = "xyz"[i];
    if (i == 0)
      to.add("/// Where the eye is: right-handed, y up, yaw 0 looks along -z, positive yaw turns left, positive pitch "
             "up.");
    const bool goes_aside = picture.side && right[i][0] != '\0';
    to.add("open real eye_{}(State s) {{ return {} + {} * ({}){}; }}", axis, value_of(to, *picture.focus, i), distance,
           back[i], goes_aside ? fmt::format("{} * {}", right[i], value_of(to, *picture.side, 0)) : std::string());
  }
}

std::vector<std::size_t> channels_of_eye(const Feel& feel) {
  std::vector<std::size_t> all;
  if (!has_written_eye(feel)) return all;
  const Picture& picture = feel.picture;
  for (const auto& channel : {picture.focus, picture.distance, picture.yaw, picture.pitch, picture.side})
    if (channel) all.push_back(*channel);
  return all;
}

} // namespace stasis::code
