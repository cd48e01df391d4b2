#include "core/motion/frame_piece.hpp"

#include <cmath>

#include "core/unbounded.hpp"

namespace stasis {

Instant drawn_inside(const FramePiece& piece, double u) noexcept {
  const double rate = piece.dt > 0.0 ? (piece.end_value - piece.state.value) / piece.dt : 0.0;
  return {u == piece.dt ? piece.end_value : piece.state.value + rate * u, rate, 0.0, 0.0};
}

Outlook straight_on(const FramePiece& piece) noexcept { return {std::fabs(piece.goal.end - piece.end_value), 0.0}; }

Instant inside(const FramePiece& piece, double u, Side side, KeptSpringStep* kept) {
  KeptSpringStep once;
  if (piece.drawn) return drawn_inside(piece, u);
  return std::visit([&](const auto& kind) { return kind.inside(piece, u, side, kept != nullptr ? *kept : once); },
                    *piece.motion);
}

std::optional<double> next_break(const FramePiece& piece, double u) {
  if (piece.drawn) return std::nullopt;
  return std::visit([&](const auto& kind) { return kind.next_break(piece, u); }, *piece.motion);
}

Outlook outlook_at_end(const FramePiece& piece) {
  return std::visit([&](const auto& kind) { return kind.outlook(piece); }, *piece.motion);
}

double time_to_calm(const FramePiece& piece) noexcept {
  return std::visit([&](const auto& kind) { return kind.calm_time(piece); }, *piece.motion);
}

double smooth_stretch(const FramePiece& piece, double u, double since) noexcept {
  if (piece.drawn) return unbounded;
  return std::visit([&](const auto& kind) { return kind.smooth_stretch(piece, u, since); }, *piece.motion);
}

} // namespace stasis
