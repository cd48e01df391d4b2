#include "core/view/camera.hpp"

#include <cmath>

#include "core/lens/lens.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

double in_radians(const Channel& channel, double value) noexcept {
  if (channel.unit == "deg") return radians(value); // as most are, frame after frame
  const auto unit = find_unit(channel.unit);
  return unit ? radians(convert(value, *unit, *find_unit("deg"))) : value;
}

class PictureReader {
public:
  PictureReader(const Feel& feel, const ReadComponent& read) : feel_(feel), read_(read) {}

  std::optional<double> number(const std::optional<std::size_t>& channel) const {
    return channel ? std::optional(read_({*channel, 0})) : std::nullopt;
  }
  double angle(const std::optional<std::size_t>& channel) const {
    return channel ? in_radians(feel_.channels[*channel], read_({*channel, 0})) : 0.0;
  }
  std::optional<Components> place(const std::optional<std::size_t>& channel) const {
    if (!channel) return std::nullopt;
    Components place{};
    for (std::size_t i = 0; i < feel_.channels[*channel].components; ++i) place[i] = read_({*channel, i});
    return place;
  }

private:
  const Feel& feel_;
  const ReadComponent& read_;
};

/// Looks from the eye towards a place, upright except for the roll, rad.
Axes axes_towards(const Components& eye, const Components& place, double roll = 0.0) noexcept {
  const Components way = plus(place, eye, -1.0);
  const double level = std::hypot(way[0], way[2]);
  if (level == 0.0 && way[1] == 0.0) return {};
  return axes_of_view(std::atan2(-way[0], -way[2]), std::atan2(way[1], level), roll);
}

/// A place moved aside, level, as the view is turned.
Components moved_aside(const Components& place, double yaw, double side) noexcept {
  return plus(place, axes_of_view(yaw, 0.0, 0.0).right, side);
}

bool is_placed(const Feel& feel) noexcept {
  return feel.picture.position && feel.channels[*feel.picture.position].is_placed;
}

/// From an eye behind its focus and beside it to the focus: at a right angle, so that neither place is asked.
double reach_of(const PictureReader& reader, const Picture& picture) {
  return std::hypot(*reader.number(picture.distance), reader.number(picture.side).value_or(0.0));
}

void add_flat_size(const Picture& picture, const PictureReader& reader, CameraView& view) {
  const double aspect = static_cast<double>(picture.width) / picture.height;
  const auto height = reader.number(picture.height_channel), width = reader.number(picture.width_channel);
  view.half_height = 0.5 * (height ? *height : *width / aspect);
  view.half_width = 0.5 * (width ? *width : *height * aspect);
}

} // namespace

EyeSeat eye_seat(const Feel& feel, const ReadComponent& read) {
  const Picture& picture = feel.picture;
  const PictureReader reader(feel, read);
  const double yaw = reader.angle(picture.yaw);
  EyeSeat seat{reader.place(picture.focus).value_or(Components{}),
               axes_of_view(yaw, reader.angle(picture.pitch), reader.angle(picture.roll))};
  if (const auto side = reader.number(picture.side)) seat.pivot = moved_aside(seat.pivot, yaw, *side);
  return seat;
}

Components seated_eye(const Feel& feel, const ReadComponent& read) {
  const EyeSeat seat = eye_seat(feel, read);
  return plus(seat.pivot, seat.axes.back, read({*feel.picture.distance, 0}));
}

namespace {

/// \param from_seat a placed eye before its own motion.
CameraView view_of(const Feel& feel, const ReadComponent& read, bool from_seat) {
  const Picture& picture = feel.picture;
  const PictureReader reader(feel, read);
  CameraView view;
  view.focus = reader.place(picture.focus);
  auto position = reader.place(picture.position);
  if (picture.is_flat()) {
    view.is_flat = true;
    const double roll = reader.angle(picture.roll), c = std::cos(roll), s = std::sin(roll);
    view.axes = {{c, s, 0.0}, {-s, c, 0.0}, {0.0, 0.0, 1.0}};
    view.eye = position ? position : view.focus;
    add_flat_size(picture, reader, view);
    return view;
  }
  view.axes = axes_of_view(reader.angle(picture.yaw), reader.angle(picture.pitch), reader.angle(picture.roll));
  const bool in_space = position && feel.channels[*picture.position].components == most_components;
  if (from_seat) position = seated_eye(feel, read);
  if (in_space) {
    view.eye = position;
    if (from_seat) {
      view.reach = reach_of(reader, picture);
    } else if (is_placed(feel)) {
      view.axes = axes_towards(*position, eye_seat(feel, read).pivot, reader.angle(picture.roll));
    } else if (view.focus && !picture.yaw && !picture.pitch) {
      view.axes = axes_towards(*position, *view.focus);
    }
  } else if (const auto distance = reader.number(picture.distance); view.focus && distance) {
    view.eye = plus(*view.focus, view.axes.back, *distance);
    view.reach = reach_of(reader, picture);
  }
  if (const auto side = reader.number(picture.side); side && view.eye && !(in_space && is_placed(feel)))
    view.eye = moved_aside(*view.eye, reader.angle(picture.yaw), *side);
  if (!view.reach && view.eye && view.focus) view.reach = length_of(plus(*view.eye, *view.focus, -1.0));
  if (picture.lens_channel) {
    const double aspect = static_cast<double>(picture.width) / picture.height,
                 lens = reader.angle(picture.lens_channel);
    const bool across = picture.lens_axis == Picture::LensAxis::horizontal;
    view.half_width = across ? std::tan(lens / 2.0) : aspect * std::tan(lens / 2.0);
    view.half_height = across ? std::tan(lens / 2.0) / aspect : std::tan(lens / 2.0);
  }
  return view;
}

} // namespace

CameraView camera_view(const Feel& feel, const ReadComponent& read) { return view_of(feel, read, false); }

CameraView framing_view(const Feel& feel, const ReadComponent& read) {
  return view_of(feel, read, is_placed(feel) && !feel.picture.is_flat());
}

std::optional<std::array<double, 2>> CameraView::half_at(const Components& place) const noexcept {
  if (!half_width) return std::nullopt;
  if (is_flat) return std::array{*half_width, *half_height};
  if (!eye) return std::nullopt;
  const Components way = plus(place, *eye, -1.0);
  const double ahead = -dot(way, axes.back);
  // What is beside the eye, or at it, stands nowhere in the picture; a rounding must not put it somewhere far out.
  constexpr double beside = 1e-6;
  if (ahead <= beside * length_of(way)) return std::nullopt;
  return std::array{ahead * *half_width, ahead * *half_height};
}

std::optional<std::array<double, 2>> CameraView::seen(const Components& place) const noexcept {
  const auto half = half_at(place);
  if (!half || !eye) return std::nullopt;
  const Components parts = axes.parts(plus(place, *eye, -1.0));
  return std::array{parts[0] / (*half)[0], parts[1] / (*half)[1]};
}

std::optional<double> pixels_per_unit(const Feel& feel, const CameraView& view) noexcept {
  if (!view.half_height) return std::nullopt;
  const double half_pixels = 0.5 * feel.picture.height;
  if (view.is_flat) return half_pixels / *view.half_height;
  if (!view.eye || !view.focus) return std::nullopt;
  const double distance = length_of(plus(*view.eye, *view.focus, -1.0));
  if (distance == 0.0) return std::nullopt;
  return half_pixels / (*view.half_height * distance);
}

} // namespace stasis
