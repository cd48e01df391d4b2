#include "io/recording.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>
#include <optional>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t most_recording_bytes = std::size_t{64} << 20;

/// UTF-16 as bytes; characters beyond ASCII, which only names can have, become "?".
std::string from_utf16(std::string_view text, bool big) {
  std::string out;
  for (std::size_t k = 0; k + 1 < text.size(); k += 2) {
    const auto high = static_cast<unsigned char>(text[big ? k : k + 1]),
               low = static_cast<unsigned char>(text[big ? k + 1 : k]);
    out += high == 0 && low < 0x80 ? static_cast<char>(low) : '?';
  }
  return out;
}

/// True if every other byte of the beginning is none, from `from` on.
bool has_wide_letters(const std::string& text, std::size_t from) {
  constexpr std::size_t looked_at = 64;
  if (text.size() < 8) return false;
  for (std::size_t k = 0; k + 1 < std::min(text.size(), looked_at); k += 2)
    if (text[k + from] != '\0' || text[k + 1 - from] == '\0') return false;
  return true;
}

std::string decoded(std::string text) {
  const auto begins = [&](std::string_view mark) { return text.starts_with(mark); };
  if (begins("\xff\xfe")) return from_utf16(std::string_view(text).substr(2), false);
  if (begins("\xfe\xff")) return from_utf16(std::string_view(text).substr(2), true);
  if (has_wide_letters(text, 0)) return from_utf16(text, true);
  if (has_wide_letters(text, 1)) return from_utf16(text, false);
  if (begins("\xef\xbb\xbf")) text.erase(0, 3);
  return text;
}

struct NumberedLine {
  std::string_view text;
  std::size_t number; ///< counted from 1
};

/// The lines that hold something, by any line end.
std::vector<NumberedLine> lines_of(std::string_view text) {
  std::vector<NumberedLine> lines;
  std::size_t number = 1;
  for (std::size_t at = 0; at < text.size(); ++number) {
    const std::size_t end = std::min(text.find_first_of("\r\n", at), text.size());
    const std::string_view line = trimmed(text.substr(at, end - at));
    if (!line.empty() && !line.starts_with('#') && !line.starts_with("//")) lines.push_back({line, number});
    at = end + (text.substr(end).starts_with("\r\n") ? 2 : 1);
  }
  return lines;
}

struct Separator {
  char mark;
  std::string_view word;
};
constexpr std::array<Separator, 5> separators{
    {{'\t', "tab"}, {';', "semicolon"}, {',', "comma"}, {'|', "bar"}, {' ', "blank"}}};

/// A line cut at a separator that does not stand in quotes; blanks count as one.
std::vector<std::string> cells_of(std::string_view line, char separator) {
  std::vector<std::string> cells(1);
  bool quoted = false;
  for (std::size_t k = 0; k < line.size(); ++k) {
    if (line[k] == '"') {
      if (quoted && k + 1 < line.size() && line[k + 1] == '"')
        cells.back() += line[k++];
      else
        quoted = !quoted;
    } else if (line[k] == separator && !quoted) {
      if (separator != ' ' || !cells.back().empty()) cells.emplace_back();
    } else {
      cells.back() += line[k];
    }
  }
  for (std::string& cell : cells) cell = std::string(trimmed(cell));
  return cells;
}

/// What parts the cells: that which the names and the first rows have alike, and most often; blanks only where nothing
/// else does.
Separator separator_of(const std::vector<NumberedLine>& lines) {
  Separator best = separators[2];
  std::size_t most = 1;
  for (const Separator& one : separators) {
    if (one.mark == ' ' && most > 1) break;
    const std::size_t cells = cells_of(lines[0].text, one.mark).size();
    constexpr std::size_t looked_at = 20;
    bool alike = lines.size() > 1 || one.mark != ' ';
    for (std::size_t k = 1; k < std::min(lines.size(), looked_at); ++k)
      alike = alike && cells_of(lines[k].text, one.mark).size() == cells;
    if (alike && cells > most) {
      most = cells;
      best = one;
    }
  }
  return best;
}

/// Days from 1970-01-01 to a date of the common calendar (Hinnant 2021).
double days_to(int year, int month, int day) {
  year -= month <= 2 ? 1 : 0;
  const int era = (year >= 0 ? year : year - 399) / 400, of_era = year - era * 400;
  const int of_year = (153 * (month + (month > 2 ? -3 : 9)) + 2) / 5 + day - 1;
  return era * 146097.0 + of_era * 365 + of_era / 4 - of_era / 100 + of_year - 719468;
}

/// "10:02:03.5", "02:03.5", "2026-11-29T10:02:03.5Z" in seconds, of the day or since 1970; no time zone is looked at.
std::optional<double> time_in(std::string_view cell) {
  double days = 0.0;
  constexpr std::size_t date = 10;
  if (cell.size() > date && cell[4] == '-' && cell[7] == '-' && (cell[date] == 'T' || cell[date] == ' ')) {
    const auto year = read_number(cell.substr(0, 4)), month = read_number(cell.substr(5, 2)),
               day = read_number(cell.substr(8, 2));
    if (!year || !month || !day) return std::nullopt;
    days = days_to(static_cast<int>(*year), static_cast<int>(*month), static_cast<int>(*day));
    cell.remove_prefix(date + 1);
    if (cell.ends_with('Z')) cell.remove_suffix(1);
  }
  const auto parts = split(cell, ':');
  if (parts.size() < 2 || parts.size() > 3) return std::nullopt;
  double seconds = 0.0;
  for (const std::string_view part : parts) {
    const auto number = read_number(part);
    if (!number || *number < 0.0) return std::nullopt;
    constexpr double sixty = 60.0;
    seconds = seconds * sixty + *number;
  }
  constexpr double day_length = 86'400.0;
  return days * day_length + seconds;
}

/// How the cells of a table say their numbers.
struct CellForm {
  bool decimal_comma = false;
  std::size_t with_thousands = 0, with_units = 0, with_times = 0; ///< cells that were read so
  std::string unit;                                               ///< the first that stood behind a number
};

std::optional<double> number_in(std::string cell, CellForm& form) {
  const auto comma = cell.rfind(','), point = cell.rfind('.');
  // Of both marks the last one is the decimal one, the others part thousands.
  const bool has_both = comma != std::string::npos && point != std::string::npos;
  const bool comma_is_decimal = has_both ? comma > point : form.decimal_comma;
  if (has_both) std::erase(cell, comma_is_decimal ? '.' : ',');
  if (comma_is_decimal) std::replace(cell.begin(), cell.end(), ',', '.');
  if (const auto number = read_number(cell)) {
    if (has_both) ++form.with_thousands;
    return number;
  }
  if (const auto time = time_in(cell)) {
    ++form.with_times;
    return time;
  }
  const auto leading = read_leading_number(cell);
  if (!leading) return std::nullopt;
  const std::string_view rest = trimmed(leading->rest);
  constexpr std::size_t longest_unit = 6;
  const bool is_unit = rest.size() <= longest_unit && std::all_of(rest.begin(), rest.end(), [](char c) {
                         return (c >= 'a' && c <= 'z') || (c >= 'A' && c <= 'Z') || c == '%' || c == '/' || c < 0;
                       });
  if (!is_unit || rest.empty()) return std::nullopt;
  if (form.with_units++ == 0) form.unit = rest;
  return leading->value;
}

tl::unexpected<FileError> wrong(const std::string& path, std::string what) {
  return tl::unexpected(FileError{fmt::format("{}: {}", shown_name(path), what), true});
}

bool says_nothing(const std::string& cell) {
  std::string small = cell;
  std::transform(small.begin(), small.end(), small.begin(),
                 [](char c) { return static_cast<char>(c >= 'A' && c <= 'Z' ? c + 32 : c); });
  return small.empty() || small == "nan" || small == "null" || small == "na" || small == "-";
}

/// The reading of one file.
class TableReader {
public:
  TableReader(const std::string& path, const std::string& text, const RecordingForm& asked)
      : path_(path), asked_(asked), lines_(lines_of(text)) {}

  FileResult<Recording> run() {
    if (lines_.empty()) return wrong(path_, "there is nothing in it");
    choose_separator();
    out_.names = cells_of(lines_[0].text, separator_.mark);
    if (std::all_of(out_.names.begin(), out_.names.end(),
                    [](const std::string& n) { return read_number(n).has_value(); }))
      return wrong(path_, fmt::format("line {}: the first line holds numbers, not the names of the columns; put a line "
                                      "such as \"time{}value\" above it",
                                      lines_[0].number, separator_.mark));
    if (lines_.size() < 2) return wrong(path_, "there are no rows below the names of the columns");
    if (auto fault = check_rows(); !fault.empty()) return wrong(path_, fault);
    find_decimal_comma();
    if (auto fault = take_only(); !fault.empty()) return wrong(path_, fault);
    for (std::size_t k = 1; k < lines_.size(); ++k) read_row(k);
    drop_empty_end();
    part_names();
    say_forms();
    return std::move(out_);
  }

private:
  void choose_separator() {
    std::string word = asked_.separator;
    // A line that some spreadsheets put first: "sep=;".
    if (lines_[0].text.size() == 5 && lines_[0].text.starts_with("sep=") && lines_.size() > 1) {
      for (const Separator& one : separators)
        if (one.mark == lines_[0].text[4] && word.empty()) word = one.word;
      lines_.erase(lines_.begin());
    }
    separator_ = separator_of(lines_);
    for (const Separator& one : separators)
      if (one.word == word) separator_ = one;
    out_.separator = separator_.word;
  }

  /// What is wrong with how the rows are parted; empty if nothing is.
  std::string check_rows() const {
    for (std::size_t k = 1; k < lines_.size(); ++k) {
      const auto cells = cells_of(lines_[k].text, separator_.mark);
      if (cells == out_.names)
        return fmt::format("line {}: the names of the columns stand here again: it holds two recordings, one below the "
                           "other; split them into two files",
                           lines_[k].number);
      if (cells.size() == out_.names.size()) continue;
      for (const Separator& one : separators)
        if (one.mark != separator_.mark && one.mark != ' ' && k == 1 && cells_of(lines_[0].text, one.mark).size() > 1
            && cells_of(lines_[k].text, one.mark).size() == 1)
          return fmt::format("line {}: the names of the columns are separated by {}, the rows are not",
                             lines_[k].number, one.word);
      const bool halves = separator_.mark == ',' && cells.size() == 2 * out_.names.size();
      return fmt::format("line {}: {} cells, where the names of the columns are {} (separated by {}){}",
                         lines_[k].number, cells.size(), out_.names.size(), out_.separator,
                         halves
                             ? "; decimal commas need semicolons or tabs between the cells"
                             : "; say with --separator what stands between cells: comma, semicolon, tab, bar or blank");
    }
    return {};
  }

  /// Leaves out the rows of other recordings.
  std::string take_only() {
    if (asked_.only_column.empty()) return {};
    const auto found = std::find(out_.names.begin(), out_.names.end(), asked_.only_column);
    if (found == out_.names.end()) {
      const std::vector<std::string_view> names(out_.names.begin(), out_.names.end());
      return fmt::format("--only: there is no column \"{}\".{} Its columns: {}", printable(asked_.only_column, 60),
                         did_you_mean(asked_.only_column, names), listed(names));
    }
    const auto column = static_cast<std::size_t>(found - out_.names.begin());
    std::vector<std::string> values;
    const auto is_other = [&](const NumberedLine& line) {
      const std::string cell = cells_of(line.text, separator_.mark)[column];
      if (std::find(values.begin(), values.end(), cell) == values.end()) values.push_back(cell);
      return cell != asked_.only_value;
    };
    lines_.erase(std::remove_if(lines_.begin() + 1, lines_.end(), is_other), lines_.end());
    if (lines_.size() > 1) return {};
    constexpr std::size_t most = 8;
    values.resize(std::min(values.size(), most));
    const std::vector<std::string_view> known(values.begin(), values.end());
    return fmt::format("--only: no row of {} holds \"{}\".{} It holds {}", printable(asked_.only_column, 60),
                       printable(asked_.only_value, 60), did_you_mean(asked_.only_value, known), listed(known));
  }

  /// Where cells that are not numbers become some by them.
  void find_decimal_comma() {
    for (std::size_t k = 1; k < lines_.size() && !form_.decimal_comma; ++k)
      for (const std::string& cell : cells_of(lines_[k].text, separator_.mark)) {
        std::string other = cell;
        std::replace(other.begin(), other.end(), ',', '.');
        form_.decimal_comma = form_.decimal_comma || (!read_number(cell) && read_number(other));
      }
    out_.decimal_comma = form_.decimal_comma;
  }

  void read_row(std::size_t line) {
    out_.columns.resize(out_.names.size());
    const auto cells = cells_of(lines_[line].text, separator_.mark);
    for (std::size_t c = 0; c < cells.size(); ++c) {
      const auto number = number_in(cells[c], form_);
      out_.columns[c].push_back(number                   ? *number
                                : says_nothing(cells[c]) ? std::numeric_limits<double>::quiet_NaN()
                                                         : std::numeric_limits<double>::infinity());
    }
  }

  /// A separator at the end of each line is no column.
  void drop_empty_end() {
    const auto is_empty = [](const std::vector<double>& cells) {
      return std::none_of(cells.begin(), cells.end(), [](double v) { return std::isfinite(v); });
    };
    while (out_.names.size() > 1 && out_.names.back().empty() && is_empty(out_.columns.back())) {
      out_.names.pop_back();
      out_.columns.pop_back();
    }
  }

  /// Columns of one name are told apart by a number behind it.
  void part_names() {
    for (std::size_t c = 1; c < out_.names.size(); ++c) {
      const auto alike =
          std::count(out_.names.begin(), out_.names.begin() + static_cast<std::ptrdiff_t>(c), out_.names[c]);
      if (alike == 0) continue;
      out_.notes.push_back(fmt::format("there are several columns named {}; this one is named \"{} #{}\"",
                                       printable(out_.names[c], 40), printable(out_.names[c], 40), alike + 1));
      out_.names[c] += fmt::format(" #{}", alike + 1);
    }
  }

  void say_forms() {
    if (form_.with_thousands > 0)
      out_.notes.push_back(
          fmt::format("{} cells part thousands; the last mark was taken for the decimal one", form_.with_thousands));
    if (form_.with_units > 0)
      out_.notes.push_back(fmt::format("{} cells have a unit, such as \"{}\"; it was dropped", form_.with_units,
                                       printable(form_.unit, 20)));
    if (form_.with_times > 0)
      out_.notes.push_back(
          fmt::format("{} cells hold times of day or dates; they were read as seconds", form_.with_times));
  }

  const std::string& path_;
  const RecordingForm& asked_;
  std::vector<NumberedLine> lines_;
  Separator separator_ = separators[2];
  CellForm form_;
  Recording out_;
};

} // namespace

FileResult<Recording> read_recording(const std::string& path, const RecordingForm& form) {
  auto read = read_file(path, most_recording_bytes);
  if (!read) return tl::unexpected(read.error());
  const std::string text = decoded(std::move(*read));
  if (text.find('\0') != std::string::npos) return wrong(path, "this is a binary file, not text");
  return TableReader(path, text, form).run();
}

} // namespace stasis::io
