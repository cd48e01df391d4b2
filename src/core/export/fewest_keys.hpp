// The fewest keys on a curve whose cubic Hermite pieces stay within a tolerance of it.
#pragma once

#include <cstddef>
#include <functional>
#include <vector>

namespace stasis {

/// A curve at one sample: its value, and its slope as it comes and as it goes on.
struct SlopedSample {
  double time, value, slope_in, slope_out;
};

/// The cubic that has value and slope of `a` (as it goes on) and `b` (as it comes), at a time between theirs.
double hermite(const SlopedSample& a, const SlopedSample& b, double time) noexcept;

/// Indices of the fewest of `count` samples, the first and the last among them, such that each piece between neighbours
/// holds: exact, a shortest path over the samples. \param holds asked of pieces in no order; neighbours always hold.
std::vector<std::size_t> fewest_pieces(std::size_t count, const std::function<bool(std::size_t, std::size_t)>& holds);

/// Indices of the fewest samples, the first and the last among them, such that the cubics between neighbours are within
/// `tolerance` at every sample: exact, a shortest path over the samples (a piece that holds need not hold in part, so
/// that no greedy rule is). \param samples ascending in time, one or more.
std::vector<std::size_t> fewest_keys(const std::vector<SlopedSample>& samples, double tolerance);

} // namespace stasis
