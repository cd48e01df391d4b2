// `stasis measure`: a recorded path measured without any rule. Methods: docs/maths.md, section "Recordings".
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/match/row_cleaning.hpp"
#include "core/recorded/path_reading.hpp"
#include "core/recorded/unrest.hpp"

namespace stasis {

struct RecordedValue {
  RecordedRows rows;                        ///< at least `fewest_recorded_rows`, every cell a number
  std::vector<std::vector<double>> goals{}; ///< by component, as long as the rows; empty: not known
  Channel channel;                          ///< its name, unit, components, space and settle band
};
inline constexpr std::size_t fewest_recorded_rows = 8;

/// The 95 % half width of a measure, by noise; infinite where noise hides it.
struct MeasureError {
  std::string name; ///< "top_speed", "end_value.x"
  double half_width = 0.0;
};

/// From and to a time, s.
struct TimeSpan {
  double from = 0.0, to = 0.0;
};

/// The times of the rows themselves.
struct RowTimes {
  double usual = 0.0, longest = 0.0, longest_at = 0.0; ///< s
  std::size_t stalls = 0;                              ///< gaps of more than one and a half usual ones
};

struct RecordingMeasures {
  Feel feel;                         ///< of the one channel
  TakeMeasures measures;             ///< of that; moves in order
  bool is_exact = false;             ///< no noise but that of the last bits
  std::vector<RowCleaning> cleaning; ///< by component
  std::vector<std::size_t> kept;     ///< rows that were measured
  CapturedPath path;
  std::vector<MeasureError> errors;                            ///< of the channel's own measures; none of exact rows
  std::vector<std::vector<std::optional<double>>> move_errors; ///< by move and measure, in order of move_measures()
  std::vector<double> start_errors;                            ///< s, by move
  RowTimes row_times;
  double rest_from = 0.0, rest_to = 0.0; ///< s: the longest rest; of what never rests, all of it
  bool never_rests = false;
  std::vector<TimeSpan> rests; ///< all of them, from where each stands for good
  std::vector<Unrest> unrest;  ///< by component, there
};

RecordingMeasures measure_recording(const RecordedValue& value);

/// True of a size that noise leaves no digit of. \param error its 95 % half width
bool is_hidden_by_noise(const Measure& measure, double value, double error) noexcept;

/// What the components of a recorded value are called: the columns of one that is named by them ("east,up,south"), else
/// x, y and z.
std::vector<std::string> component_names(const Channel& channel);

} // namespace stasis
