// Input as it was recorded, as cues of a take.
#include <algorithm>
#include <array>
#include <cmath>
#include <map>
#include <utility>

#include <fmt/format.h>

#include "core/clock.hpp"
#include "core/feel/reading.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Input as it was recorded: what changes from row to row becomes cues.
class RecordingReader {
public:
  RecordingReader(Reading& reading, SectionReader& take_reader, Take& take)
      : reading_(reading), reader_(take_reader), take_(take), path_(joined_path(take_reader.path(), "recorded")) {}

  void read() {
    const Node* node = reader_.find("recorded");
    if (node == nullptr) return;
    const Node *columns = node->find("columns"), *rows = node->find("rows");
    if (columns == nullptr || rows == nullptr)
      return reader_.report("feel.not_a_text", "recorded", "expected the name of a CSV file beside the feel");
    if (!read_header(*columns)) return;
    double last = -1.0;
    for (const Node& row : *rows->list()) {
      const double time = number(row, time_column_);
      if (time < 0.0 || time <= last)
        return report(row.where, fmt::format("the time {} s comes after {} s", time, last < 0.0 ? 0.0 : last),
                      "Rows are sorted by time, each time once, from 0 on.");
      last = time;
      if (time > take_.length + instant_slack || take_.cues.size() >= most_cues) return;
      for (const Column& column : columns_) {
        const double value = number(row, column.index);
        if (const std::string fault = fault_of(column, value); !fault.empty()) return report(row.where, fault, {});
        add(column, time, value);
      }
    }
  }

private:
  struct Column {
    std::size_t index;
    std::vector<ControlButton> buttons;
    CueAction action; ///< press, click, pointer or stick
    std::string name{};
  };

  /// Why a value cannot be one of the column, as a cue would be refused that said it.
  static std::string fault_of(const Column& column, double value) {
    constexpr double most_clicks = 10'000.0;
    const bool is_whole = value == std::round(value) && std::fabs(value) <= most_clicks;
    if (column.action == CueAction::click && !is_whole)
      return fmt::format("{}: clicks are whole numbers up to {} either way, found {}", column.name, most_clicks, value);
    if (column.action == CueAction::stick && std::fabs(value) > 1.0)
      return fmt::format("{}: a deflection lies between -1 and 1, found {}", column.name, value);
    if (!is_within_reach(value)) return fmt::format("{}: sizes go from 1e-100 to 1e15, found {}", column.name, value);
    return {};
  }

  static double number(const Node& row, std::size_t column) { return std::get<double>((*row.list())[column].value); }

  void report(Position where, std::string message, std::string hint) {
    reading_.report("feel.recorded", path_, where, std::move(message), std::move(hint));
  }

  bool read_header(const Node& columns) {
    bool has_time = false;
    const std::size_t before = reading_.problems.size();
    for (std::size_t i = 0; i < columns.list()->size(); ++i) {
      const std::string& name = *(*columns.list())[i].text();
      if (name == "time") {
        time_column_ = i;
        has_time = true;
        continue;
      }
      Column column{i, buttons_named(reading_.feel, name), CueAction::press};
      if (column.buttons.empty()) {
        reading_.report_unknown(path_, columns.where, NameKind::control, name, names_of(reading_.feel.controls));
        continue;
      }
      column.action = facts_of(reading_.feel.controls[column.buttons[0].control]).moved_by;
      column.name = name;
      const auto moves_the_same = [&](const Column& other) {
        return std::any_of(other.buttons.begin(), other.buttons.end(), [&](const ControlButton& a) {
          return std::any_of(column.buttons.begin(), column.buttons.end(), [&](const ControlButton& b) {
            return a.control == b.control && (a.button == b.button || column.action != CueAction::press);
          });
        });
      };
      if (const auto twin = std::find_if(columns_.begin(), columns_.end(), moves_the_same); twin != columns_.end()) {
        report(columns.where, fmt::format("the columns {} and {} both move one control", twin->name, name),
               "Keep one of them.");
        continue;
      }
      columns_.push_back(std::move(column));
      last_.push_back(0.0);
    }
    if (!has_time)
      report(columns.where, "the first line names no column time", "Write a header such as time,listen,wheel.");
    return reading_.problems.size() == before;
  }

  void add(const Column& column, double time, double value) {
    double& last = last_[static_cast<std::size_t>(&column - columns_.data())];
    const double before = std::exchange(last, value);
    Cue cue{time, column.action, column.buttons[0].control, column.buttons[0].button, value, {}, {}};
    if (column.action == CueAction::press) {
      constexpr double half = 0.5;
      if ((value > half) == (before > half)) return;
      cue.action = value > half ? CueAction::press : CueAction::release;
      for (const ControlButton& button : column.buttons) {
        cue.control = button.control;
        cue.button = button.button;
        take_.cues.push_back(cue);
      }
      return;
    }
    if (column.action == CueAction::stick ? value == before : value == 0.0) return;
    take_.cues.push_back(cue);
  }

  Reading& reading_;
  SectionReader& reader_;
  Take& take_;
  std::string path_;
  std::size_t time_column_ = 0;
  std::vector<Column> columns_;
  std::vector<double> last_; ///< by column
};

} // namespace

void read_recorded_input(Reading& reading, SectionReader& reader, Take& take) {
  RecordingReader(reading, reader, take).read();
}

} // namespace stasis
