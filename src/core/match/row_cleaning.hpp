// What is done to the rows of a recording before anything is read from them.
#pragma once

#include <cstddef>
#include <vector>

namespace stasis {

struct RowCleaning {
  std::size_t repeated = 0, outliers = 0; ///< rows that were left out
  double noise = 0.0;                     ///< size of what is random, in the unit of the recording; 0: none was found
  double digit = 0.0;                     ///< the last digit to which the values were rounded; 0: not rounded
};

/// Of some numbers the middle one; 0 of none.
double median(std::vector<double> values);

/// The last decimal digit to which all values were rounded; 0 where they have more than six, go by even steps, or are
/// few.
double digit_of(const std::vector<double>& values);

/// Size of what is random from row to row (its standard deviation), by differences of a high order: a smooth path
/// leaves hardly anything of itself there.
double noise_of(const std::vector<double>& values);

/// The rows that count, ascending: without those that repeat the row before while the value moves, and those far off
/// their neighbours. \param values at least one.
std::vector<std::size_t> clean_rows(const std::vector<double>& values, RowCleaning& out);

} // namespace stasis
