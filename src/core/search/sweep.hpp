// Many values of a few numbers, each played and measured. Which points there are, and what their measures tell.
#pragma once

#include <cstdint>
#include <optional>
#include <string>
#include <vector>

#include "core/search/number_range.hpp"
#include "core/search/variations.hpp"

namespace stasis {

/// The values that a sweep puts at one path.
struct SweepAxis {
  enum class Kind : std::uint8_t {
    even,      ///< evenly spaced from low to high
    by_factor, ///< by equal factors; low and high above 0
    listed,    ///< as they were written
  };

  std::string path;
  Kind kind = Kind::even;
  NumberRange range{};            ///< of the two that are spaced
  std::vector<Node> values;       ///< those of the axis; of a random sweep empty
  std::vector<std::string> words; ///< the same as they stand in the table
  std::vector<double> numbers;    ///< the same, where all of them are numbers; else empty

  bool is_numeric() const noexcept { return kind != Kind::listed || !numbers.empty(); }
};

/// "PATH=LOW:HIGH:COUNT", "PATH=LOW:HIGH:COUNT:log", "PATH=a,b,c"; "PATH=LOW:HIGH" and "PATH=LOW:HIGH:log" where
/// `samples` are drawn. The error says what is wrong, in a sentence without its full stop.
tl::expected<SweepAxis, std::string> parse_sweep_axis(const std::string& text, bool samples);

/// The points of a sweep: every combination, the last axis going fastest; or so many drawn at random.
class SweepPoints {
public:
  explicit SweepPoints(std::vector<SweepAxis> axes);
  SweepPoints(std::vector<SweepAxis> axes, std::uint64_t samples, std::uint64_t seed);

  const std::vector<SweepAxis>& axes() const noexcept { return axes_; }
  std::uint64_t count() const noexcept { return count_; }
  bool is_random() const noexcept { return !drawn_.empty(); }
  std::vector<Assignment> assignments(std::uint64_t point) const;
  /// As they stand in the table.
  std::vector<std::string> words(std::uint64_t point) const;
  /// Which value of an axis a point has; of a random sweep meaningless.
  std::size_t index(std::uint64_t point, std::size_t axis) const noexcept;
  /// The number of a numeric axis at a point.
  double number(std::uint64_t point, std::size_t axis) const noexcept;

private:
  std::vector<SweepAxis> axes_;
  std::uint64_t count_ = 1;
  std::vector<double> drawn_; ///< by point, then axis
};

using Measured = std::optional<double>;

/// A place between two neighbouring values of an axis at which a measure jumps.
struct Cliff {
  std::size_t axis = 0;
  std::uint64_t before = 0, after = 0; ///< points
  double jump = 0.0;
};
/// The jumps of a measure along every numeric axis of a grid, largest first. A step counts that is eight times those
/// before and after it, and a twentieth of the measure's whole range.
std::vector<Cliff> cliffs_of(const SweepPoints& points, const std::vector<Measured>& measure);

/// Rank correlation (Spearman) of a measure with each axis of a random sweep; 0 where either stands still. Points
/// without the measure are left out.
std::vector<double> rank_correlations(const SweepPoints& points, const std::vector<Measured>& measure);

} // namespace stasis
