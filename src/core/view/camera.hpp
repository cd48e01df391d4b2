// Where the camera is and what it sees, from the channels that [picture] names. Axes as everywhere: docs/design.md,
// 3, 16.
#pragma once

#include <array>
#include <functional>
#include <optional>

#include "core/feel/feel.hpp"
#include "core/scene/axes.hpp"

namespace stasis {

/// The value of one component of a channel, in the channel's unit.
using ReadComponent = std::function<double(ComponentRef)>;

/// What the camera sees at one instant.
struct CameraView {
  bool is_flat = false;
  std::optional<Components> eye;   ///< of a flat view: its centre; nothing where the picture does not say
  std::optional<Components> focus; ///< what is looked at
  Axes axes;
  std::optional<double> reach; ///< from the eye to what is looked at; nothing where one of them is nowhere
  std::optional<double> half_width, half_height; ///< of a flat view in units, in space tangents of half the angles

  /// Half the picture in the unit of places, at the distance of `place` in space.
  std::optional<std::array<double, 2>> half_at(const Components& place) const noexcept;
  /// Where a place stands in the picture: 0, 0 is the middle, 1 and -1 are its edges. Nothing behind the eye, or where
  /// the picture does not say enough.
  std::optional<std::array<double, 2>> seen(const Components& place) const noexcept;
};
/// Where focus, distance, yaw, pitch and side put an eye in space.
struct EyeSeat {
  Components pivot{}; ///< what is looked at, moved aside by the side offset: the eye lies straight behind it
  Axes axes;          ///< as yaw, pitch and roll turn them
};
/// Of a picture with a focus.
EyeSeat eye_seat(const Feel& feel, const ReadComponent& read);
/// The eye itself; the picture has a distance as well.
Components seated_eye(const Feel& feel, const ReadComponent& read);

CameraView camera_view(const Feel& feel, const ReadComponent& read);
/// The view in which what is followed is framed. A placed eye comes after all that is followed: it is seen from its
/// seat, before its own motion.
CameraView framing_view(const Feel& feel, const ReadComponent& read);

/// Pixels of the picture per unit at the place looked at; nothing where the picture does not say how large it is.
std::optional<double> pixels_per_unit(const Feel& feel, const CameraView& view) noexcept;

} // namespace stasis
