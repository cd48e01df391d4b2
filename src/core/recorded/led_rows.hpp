// Columns of a recording that are led through places: where they jump, where they stand. Method: docs/maths.md, section
// "Recordings".
#pragma once

#include <cstddef>
#include <vector>

#include "core/space/space.hpp"

namespace stasis {

/// A column of a recording that a sequence shall lead.
struct LedColumn {
  std::vector<double> values; ///< by row, in its unit
  SpaceMap space;             ///< in which it is led
  double within = 0.0;        ///< how far the path may be off, in its unit; > 0
};

/// Columns of a recording, each in the space in which it is led.
struct LedRows {
  std::vector<double> times;                ///< s, ascending
  std::vector<std::vector<double>> places;  ///< by column and row: coordinates in the column's space
  std::vector<std::vector<double>> weights; ///< likewise: 1 / how far the path may be off there
  std::vector<double> noise;                ///< by column: what is random, in what is allowed; 0: nothing to speak of
  bool is_rounded = false;                  ///< any column, to a last digit
  std::size_t columns() const noexcept { return places.size(); }
  /// Half the usual time between two rows, s.
  double half_row() const noexcept;
};
LedRows led_rows(const std::vector<double>& times, const std::vector<LedColumn>& columns);

/// How far the columns go from one row to another, in what each may be off by.
double distance(const LedRows& rows, std::size_t a, std::size_t b);

/// The rows before which anything jumps: it goes far between two rows, and slowly before and after.
std::vector<std::size_t> cuts_of(const LedRows& rows);

/// Rows, both ends included.
struct RowSpan {
  std::size_t first, last;
};
/// Where nothing goes further than is allowed, nor anywhere.
std::vector<RowSpan> rests_in(const LedRows& rows, const RowSpan& section);
/// Where it stands: by the middle half of the rest.
std::vector<double> level_of(const LedRows& rows, const RowSpan& rest);

} // namespace stasis
