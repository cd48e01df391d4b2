// Two recordings of one value, side by side.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "cli/measure_report.hpp"

namespace stasis::cli {

/// One measure of both.
struct BesideRow {
  std::string name, unit; ///< "moves[0].settling_time", "top_speed"
  std::optional<double> first, second;
  std::optional<double> error; ///< 95 % half width of their difference; nothing where neither has noise
  /// True if noise alone does not make them differ so.
  bool differs() const noexcept;
};

/// The measures of the channel, then those of the moves by their order; moves that only one of them has are left out.
std::vector<BesideRow> beside_rows(const MeasuredValue& first, const MeasuredValue& second);

/// \param names of the two recordings.
std::string beside_text(const std::vector<BesideRow>& rows, const std::string& first, const std::string& second);
void write_beside(io::JsonWriter& json, const std::vector<BesideRow>& rows, const std::string& second);

} // namespace stasis::cli
