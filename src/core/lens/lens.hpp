// Fields of view: angles across a picture, focal lengths, picture scale, distances. Angles are radians in (0, pi).
// Source: the pinhole camera; docs/maths.md, section 7.
#pragma once

namespace stasis {

/// Picture width over height, > 0.
using Aspect = double;

double horizontal_of_vertical(double vertical, Aspect aspect) noexcept;
double vertical_of_horizontal(double horizontal, Aspect aspect) noexcept;
double diagonal_of_vertical(double vertical, Aspect aspect) noexcept;
double vertical_of_diagonal(double diagonal, Aspect aspect) noexcept;

/// The angle across a sensor of `size` through a lens of `focal_length`, both in one unit, > 0.
double angle_of_focal_length(double focal_length, double size) noexcept;
/// Its inverse.
double focal_length_of_angle(double angle, double size) noexcept;

/// How many times larger things stand in a picture of field of view `to` than in one of `from` (same axis).
double picture_scale(double from, double to) noexcept;

/// What is seen across `angle` at `distance`; > 0.
double extent_at(double angle, double distance) noexcept;
/// The distance at which `extent` fills `angle`.
double distance_for(double angle, double extent) noexcept;

} // namespace stasis
