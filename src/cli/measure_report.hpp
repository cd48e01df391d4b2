// What `measure` says about recordings: as text, and as the JSON of docs/design.md, section 7.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/recorded/recording_measures.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {

/// One value of a recording, measured.
struct MeasuredValue {
  std::string name, unit, asked; ///< asked: its columns, as the call names them
  std::size_t components = 1;
  RecordedRows rows; ///< as they were recorded
  RecordingMeasures found;
};

struct MeasureReport {
  std::string recording;
  std::vector<MeasuredValue> values;
  std::vector<std::string> notes;        ///< on how it was read
  std::string beside_name;               ///< of another recording
  std::optional<MeasuredValue> beside{}; ///< the first value, measured there
};

std::string measure_text(const MeasureReport& report);
std::string measure_json(const MeasureReport& report);

/// The 95 % half width of a channel's own measure.
std::optional<double> error_of(const RecordingMeasures& found, const std::string& name);
/// The unit of a measure as it stands behind a number; empty for a plain one.
std::string unit_behind(const Measure& measure, const Channel& channel);

/// A number with its 95 % half width, to as many digits as that leaves: "0.412 ± 0.006 s".
std::string with_error(std::optional<double> value, std::optional<double> error, const std::string& unit);

} // namespace stasis::cli
