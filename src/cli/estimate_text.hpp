// A number that was found, with its 95 % interval, in words.
#pragma once

#include <string>
#include <vector>

#include "core/match/match_step.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {

/// The unit of a number, of a value in `unit`.
std::string number_unit(const Estimate& number, const std::string& unit);
/// Enough digits to say a number that is known within an interval.
int digits_for(const Estimate& number);
/// "1.830 Hz (1.811 to 1.850)"; the number alone where it is known to the last digits.
std::string with_interval(const Estimate& number, const std::string& unit);
/// "0.102 deg", of a value whose unit somebody typed.
std::string in_unit(double value, const std::string& unit);
/// "frequency 1.83 Hz, damping_ratio 0.62", each with its interval if `with_intervals`.
std::string numbers_text(const std::vector<Estimate>& numbers, const std::string& unit, bool with_intervals);
/// {"value": .., "low": .., "high": ..}
void write_estimate(io::JsonWriter& json, const Estimate& number);

} // namespace stasis::cli
