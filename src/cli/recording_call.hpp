// From the words of a call to the rows of a recording: which columns, which stretch, times in seconds.
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

#include "cli/call.hpp"
#include "io/recording.hpp"

namespace stasis::cli {

struct RecordingCall {
  std::string recording, time, time_unit, between, separator, rate, only;
  std::vector<std::string> repair;
  bool allow_outside = false; ///< the buffers of a scene may lie outside its folder
};

void declare_recording_call(Call& call, RecordingCall& words);

/// The rows in which all columns that were asked for hold a number.
struct NumberRows {
  std::vector<double> times;              ///< s, ascending
  std::vector<std::vector<double>> cells; ///< by column asked for
};

class OpenedRecording {
public:
  /// The recording, or the status to end with after the fault has been explained on `err`.
  static tl::expected<OpenedRecording, Exit> open(const RecordingCall& call, Output& err);

  /// The column of that name. \param option that names it.
  tl::expected<std::size_t, Exit> column(const std::string& option, const std::string& name) const;
  bool has_column(const std::string& name) const { return column_named(name).has_value(); }
  const std::string& name_of(std::size_t column) const { return table_.names[column]; }
  /// The only column beside the time, or a fault that asks for `option`.
  tl::expected<std::size_t, Exit> only_column(const std::string& option) const;
  tl::expected<NumberRows, Exit> rows(const std::vector<std::size_t>& columns);

  std::size_t row_count() const noexcept { return table_.rows(); }
  /// What was taken for granted, and how to say otherwise.
  std::vector<std::string> notes;

  /// Says what is wrong, and with which status to end.
  Exit refuse(const std::string& message) const;

private:
  OpenedRecording(const RecordingCall& call, Output& err) : call_(&call), err_(&err) {}
  std::vector<std::string_view> names() const { return {table_.names.begin(), table_.names.end()}; }
  io::FileResult<io::Recording> read(const io::RecordingForm& form);
  Exit find_time();
  tl::expected<double, Exit> rows_a_second() const;
  Exit order_rows(NumberRows& rows);
  Exit check_repairs() const;
  std::optional<std::size_t> column_named(const std::string& name) const;
  tl::expected<double, Exit> seconds_given() const;
  void guess_times(std::vector<double>& times);
  Exit cut(NumberRows& rows) const;

  const RecordingCall* call_;
  Output* err_;
  io::Recording table_;
  std::optional<std::size_t> time_; ///< its column; nothing where rows come at an even rate
  std::optional<double> time_unit_; ///< s, as the column's name says
  bool is_scene_ = false;           ///< a scene, whose rows are at `--rate` already
};

} // namespace stasis::cli
