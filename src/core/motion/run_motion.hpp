// What eased, paced and led moves answer alike, by the run that is under way.
#pragma once

#include <optional>

#include "core/motion/frame_piece.hpp"
#include "core/motion/stretch.hpp"

namespace stasis {

// In each, `ease` is null for a pace, and where the value is led.

void fill_run(const Ease* ease, MoverState& state, const Stretch& stretch) noexcept;
/// The state is as it is `at` the end of an advance. \returns the rate just before it.
double arrive(MoverState& state, const Instant& before, const Instant& at) noexcept;
Instant inside_run(const Ease* ease, const FramePiece& piece, double u, Side side) noexcept;
std::optional<double> break_in_run(const Ease* ease, const FramePiece& piece, double u);
/// Seconds after the piece's end until its run is over.
double run_left(const Ease* ease, const FramePiece& piece) noexcept;
/// `next` s into the piece, if that is not after its end; what lies there by all but a rounding lies there.
std::optional<double> break_within(const FramePiece& piece, double next, double rounding) noexcept;

} // namespace stasis
