#include "core/lens/lens.hpp"

#include <cmath>

namespace stasis {
namespace {

/// The angle whose half has `factor` times the tangent of this one's half.
double enlarged_angle(double angle, double factor) noexcept { return 2.0 * std::atan(factor * std::tan(0.5 * angle)); }

} // namespace

double horizontal_of_vertical(double vertical, Aspect aspect) noexcept { return enlarged_angle(vertical, aspect); }
double vertical_of_horizontal(double horizontal, Aspect aspect) noexcept {
  return enlarged_angle(horizontal, 1.0 / aspect);
}
double diagonal_of_vertical(double vertical, Aspect aspect) noexcept {
  return enlarged_angle(vertical, std::hypot(1.0, aspect));
}
double vertical_of_diagonal(double diagonal, Aspect aspect) noexcept {
  return enlarged_angle(diagonal, 1.0 / std::hypot(1.0, aspect));
}

double angle_of_focal_length(double focal_length, double size) noexcept {
  return 2.0 * std::atan(size / (2.0 * focal_length));
}
double focal_length_of_angle(double angle, double size) noexcept { return size / (2.0 * std::tan(0.5 * angle)); }

double picture_scale(double from, double to) noexcept { return std::tan(0.5 * from) / std::tan(0.5 * to); }

double extent_at(double angle, double distance) noexcept { return 2.0 * distance * std::tan(0.5 * angle); }
double distance_for(double angle, double extent) noexcept { return extent / (2.0 * std::tan(0.5 * angle)); }

} // namespace stasis
