#include "io/column_reader.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdint>
#include <cstring>
#include <limits>

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/csv_reader.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t most_rows = 50'000'000;

constexpr std::uint64_t one_in_each_byte = 0x0101010101010101u;

/// The sum of eight bytes, which is at most 255.
std::size_t sum_of_bytes(std::uint64_t bytes) noexcept { return (bytes * one_in_each_byte) >> 56; }

/// Commas in a text, sixteen bytes at a time, each counted in a lane of its own; then eight, then one by one.
std::size_t commas_in(std::string_view text) noexcept {
  constexpr std::size_t lanes = 16, most_blocks = 31; // eight lanes of so many add up to less than 256
  std::size_t count = 0;
  while (text.size() >= lanes) {
    std::array<std::uint8_t, lanes> found{};
    const std::size_t blocks = std::min(text.size() / lanes, most_blocks);
    for (std::size_t block = 0; block < blocks; ++block)
      for (std::size_t lane = 0; lane < lanes; ++lane)
        found[lane] = static_cast<std::uint8_t>(found[lane] + (text[block * lanes + lane] == ',' ? 1 : 0));
    std::array<std::uint64_t, 2> halves{};
    std::memcpy(halves.data(), found.data(), lanes);
    count += sum_of_bytes(halves[0]) + sum_of_bytes(halves[1]);
    text.remove_prefix(blocks * lanes);
  }
  if (text.size() >= sizeof(std::uint64_t)) { // a byte that is a comma becomes 0, and the bytes that are 0 are counted
    constexpr std::uint64_t low_bits = 0x7f * one_in_each_byte;
    std::uint64_t bytes = 0;
    std::memcpy(&bytes, text.data(), sizeof bytes);
    bytes ^= one_in_each_byte * ',';
    count += sum_of_bytes(~(((bytes & low_bits) + low_bits) | bytes | low_bits) >> 7);
    text.remove_prefix(sizeof bytes);
  }
  for (const char c : text) count += c == ',' ? 1 : 0;
  return count;
}

/// Powers of ten that are doubles without rounding.
constexpr std::array<double, 23> exact_powers{1e0,  1e1,  1e2,  1e3,  1e4,  1e5,  1e6,  1e7,  1e8,  1e9,  1e10, 1e11,
                                              1e12, 1e13, 1e14, 1e15, 1e16, 1e17, 1e18, 1e19, 1e20, 1e21, 1e22};

/// Most numbers of a recording are as plain as -12.0345. Its digits as a whole number are an exact double, and so is
/// the power of ten, so that their quotient is rounded once: what std::from_chars gives, in a third of the time.
/// Source: W. Clinger, How to read floating point numbers accurately, 1990. Null where a number is not so plain.
const char* read_plain_decimal(const char* at, const char* end, double& value) noexcept {
  constexpr std::uint64_t largest_exact = std::uint64_t{1} << 53;
  constexpr std::ptrdiff_t most_digits = 19; // of any that an unsigned 64-bit number holds
  const bool negative = at != end && *at == '-';
  if (negative) ++at;
  const char* const first = at;
  std::uint64_t digits = 0;
  for (; at != end && is_digit(*at); ++at) digits = 10 * digits + static_cast<std::uint64_t>(*at - '0');
  if (at == first) return nullptr;
  std::ptrdiff_t decimals = 0;
  if (at != end && *at == '.') {
    const char* const point = ++at;
    for (; at != end && is_digit(*at); ++at) digits = 10 * digits + static_cast<std::uint64_t>(*at - '0');
    decimals = at - point;
  }
  if (at - first > most_digits || digits > largest_exact) return nullptr;
  const double size = static_cast<double>(digits) / exact_powers[static_cast<std::size_t>(decimals)];
  value = negative ? -size : size;
  return at;
}

} // namespace

void ColumnReader::line(std::string_view text, bool may_have_quotes) {
  ++number_;
  if (text.ends_with('\r')) text.remove_suffix(1);
  if (number_ == 1 && text.starts_with("\xEF\xBB\xBF")) text.remove_prefix(3);
  const bool begins_blank = text.empty() || text.front() == ' ' || text.front() == '\t';
  if (begins_blank && text.find_first_not_of(" \t") == std::string_view::npos) return;
  if (out_.header.empty()) return read_header(text);
  note_line();
  const bool has_quotes = may_have_quotes && text.find('"') != std::string_view::npos;
  const bool whole = has_quotes ? read_quoted(text) : read_plain(text);
  if (!whole && problems_.empty()) return;
  ++rows_;
  if (rows_ > most_rows) fault(1, 1, fmt::format("the file has more than {} rows", most_rows));
}

Result<NumberColumns> ColumnReader::finish() {
  if (out_.header.empty() && problems_.empty()) problems_.push_back({"csv.empty", "", {}, "the file has no line", ""});
  if (!problems_.empty()) return tl::unexpected(std::move(problems_));
  for (NumberColumnWriter& column : columns_) out_.columns.push_back(column.finish());
  return std::move(out_);
}

void ColumnReader::fault(int column, int length, std::string message) {
  problems_.push_back({"csv.number", "", {number_, column, length, out_.source}, std::move(message), ""});
}

void ColumnReader::read_header(std::string_view text) {
  for (const CsvCell& cell : csv_cells(text)) {
    const std::string name(trimmed(cell.text));
    const auto found = std::find(wanted_.begin(), wanted_.end(), name);
    const bool again = std::find(out_.names.begin(), out_.names.end(), name) != out_.names.end();
    if (found != wanted_.end() && again)
      problems_.push_back({"csv.header",
                           "",
                           {number_, cell.column, static_cast<int>(code_points(cell.text)), out_.source},
                           fmt::format("two columns are named \"{}\"", printable(name, 40)),
                           ""});
    place_.push_back(found == wanted_.end() || again ? unwanted : static_cast<int>(out_.names.size()));
    if (place_.back() != unwanted) out_.names.push_back(name);
    out_.header.push_back(name);
  }
  for (std::size_t i = 0; i < out_.names.size(); ++i) columns_.emplace_back(shelf_);
  last_wanted_ = 0;
  for (std::size_t i = 0; i < place_.size(); ++i)
    if (place_[i] != unwanted) last_wanted_ = i;
}

/// Lines follow each other unless a blank one lies between.
void ColumnReader::note_line() {
  if (rows_ == 0 || number_ != last_line_ + 1) out_.lines.push_back({rows_, number_});
  last_line_ = number_;
}

/// Whatever is not plainly a number: blanks about one, nothing, or something else.
void ColumnReader::keep(std::size_t cell, std::string_view text, int column) {
  auto& numbers = columns_[static_cast<std::size_t>(place_[cell])];
  const std::string_view bare = trimmed(text);
  if (bare.empty()) return numbers.add(std::numeric_limits<double>::quiet_NaN());
  const auto read = read_number(bare);
  if (!read)
    fault(column, std::max(1, static_cast<int>(code_points(text))),
          fmt::format("expected a finite number, found \"{}\"", printable(text, 40)));
  numbers.add(read.value_or(0.0));
}

/// A number of a wanted cell, which says itself where it ends: at a comma or the line's end. Null where there is no
/// such number, and the cell is to be looked at closely.
const char* ColumnReader::take_number(std::size_t cell, const char* at, const char* end) {
  double value = 0.0;
  const char* stop = read_plain_decimal(at, end, value);
  if (stop == nullptr || (stop != end && *stop != ',')) {
    stop = read_decimal(at, end, value);
    if (stop == at || (stop != end && *stop != ',') || !std::isfinite(value)) return nullptr;
  }
  columns_[static_cast<std::size_t>(place_[cell])].add(value);
  return stop;
}

/// A line without quotes: cells from comma to comma up to the last wanted one; the rest are only counted.
bool ColumnReader::read_plain(std::string_view text) {
  const char* at = text.data();
  const char* const end = at + text.size();
  for (std::size_t cell = 0; cell <= last_wanted_; ++cell) {
    const bool is_wanted = place_[cell] != unwanted;
    const char* stop = is_wanted ? take_number(cell, at, end) : nullptr;
    if (stop == nullptr) {
      stop = static_cast<const char*>(std::memchr(at, ',', static_cast<std::size_t>(end - at)));
      if (stop == nullptr) stop = end;
      if (is_wanted) keep(cell, {at, static_cast<std::size_t>(stop - at)}, 1 + static_cast<int>(at - text.data()));
    }
    if (stop == end) return check_width(cell + 1);
    at = stop + 1;
  }
  return check_width(last_wanted_ + 2 + commas_in({at, static_cast<std::size_t>(end - at)}));
}

bool ColumnReader::read_quoted(std::string_view text) {
  const auto cells = csv_cells(text);
  for (std::size_t i = 0; i < cells.size() && i < place_.size(); ++i)
    if (place_[i] != unwanted) keep(i, cells[i].text, cells[i].column);
  return check_width(cells.size());
}

bool ColumnReader::check_width(std::size_t cells) {
  if (cells == place_.size()) return true;
  fault(1, 1, fmt::format("this row has {} cells, the header has {}", cells, place_.size()));
  return false;
}

Result<NumberColumns> read_columns(std::string_view text, const std::vector<std::string>& wanted, int source) {
  ColumnReader reader(wanted, source, nullptr);
  while (!text.empty() && !reader.is_done()) {
    const std::size_t end = std::min(text.find('\n'), text.size());
    reader.line(text.substr(0, end), true);
    text.remove_prefix(std::min(end + 1, text.size()));
  }
  return reader.finish();
}

} // namespace stasis::io
