#include "core/view/shown_camera.hpp"

#include <cmath>

#include "core/units.hpp"

namespace stasis {
namespace {

/// Turned up about its own right, rad.
Axes turned_up(const Axes& axes, double angle) noexcept {
  const double c = std::cos(angle), s = std::sin(angle);
  return {axes.right, plus(plus({}, axes.up, c), axes.back, s), plus(plus({}, axes.back, c), axes.up, -s)};
}

/// The view from a plain place: a little downwards, as far off as a subject usually is.
CameraView view_from_nowhere(const Feel& feel, const ReadComponent& read) {
  constexpr double usual_pitch = -0.2; // rad
  const double step = scene_step(feel);
  const EyeSeat seat = eye_seat(feel, read);
  CameraView view;
  view.axes = feel.picture.pitch || feel.picture.position ? seat.axes : turned_up(seat.axes, usual_pitch);
  const Components pivot = feel.picture.focus ? seat.pivot : plus(seat.pivot, {0.0, 0.35 * step, 0.0}, 1.0);
  const double distance = feel.picture.distance ? read({*feel.picture.distance, 0}) : 4.0 * step;
  view.eye = plus(pivot, view.axes.back, distance);
  if (feel.picture.position) // of two components: seen from before its plane
    view.eye = Components{read({*feel.picture.position, 0}), read({*feel.picture.position, 1}), 4.0 * step};
  return view;
}

} // namespace

double scene_step(const Feel& feel) noexcept {
  const double step = feel.picture.distance ? std::fabs(feel.channels[*feel.picture.distance].rest[0]) / 4.0 : 1.0;
  return step > 0.0 ? step : 1.0;
}

ShownCamera shown_camera(const Feel& feel, const ReadComponent& read) {
  const CameraView said = camera_view(feel, read);
  const double usual_half = std::tan(radians(25.0));
  const double half = said.half_height && !said.is_flat ? *said.half_height : usual_half;
  const CameraView view = said.eye ? said : view_from_nowhere(feel, read);
  return {*view.eye, view.axes, half};
}

} // namespace stasis
