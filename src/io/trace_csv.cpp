#include "io/trace_csv.hpp"

#include <algorithm>
#include <bit>
#include <cmath>
#include <cstring>

#include <fmt/compile.h>
#include <fmt/format.h>

namespace stasis::io {
namespace {

constexpr std::size_t buffer_bytes = std::size_t{1} << 18;
/// Longest shortest-form double is 24 characters; frame numbers are shorter.
constexpr std::size_t most_number_bytes = 32;

/// Compared by bits, so that 0 and -0 stay apart.
bool same_bits(double a, double b) noexcept {
  return std::bit_cast<std::uint64_t>(a) == std::bit_cast<std::uint64_t>(b);
}

} // namespace

void TraceCsvSink::begin(const Scene& scene) {
  scene_ = scene;
  std::string header;
  const auto names = trace_header(scene);
  for (const std::string& name : names) header += (header.empty() ? "" : ",") + name;
  header += '\n';
  last_.assign(names.size() - 3, {});
  last_dt_ = {};
  buffer_ = std::make_unique_for_overwrite<char[]>(buffer_bytes + (names.size() + 1) * most_number_bytes);
  used_ = 0;
  write_(header);
}

void TraceCsvSink::refresh(double number, LastText& last) {
  if (last.length != 0 && same_bits(number, last.number)) return;
  last.length = 0;
  if (!std::isfinite(number)) return; // an absent number is an empty cell
  char* const end = fmt::format_to(last.text.data(), FMT_COMPILE("{}"), number);
  last.number = number;
  last.length = static_cast<std::uint8_t>(end - last.text.data());
}

void TraceCsvSink::append_text(std::string_view text) {
  std::memcpy(buffer_.get() + used_, text.data(), text.size());
  used_ += text.size();
}

/// Joins the columns that hold one number throughout the block, so that a row costs only what moves.
void TraceCsvSink::plan_stretches(std::size_t rows) {
  stretches_.clear();
  std::string standing;
  for (std::size_t c = 0; c < columns_.size(); ++c) {
    standing += ',';
    const auto& numbers = columns_[c].numbers;
    const double first = columns_[c].at(0);
    const bool stands = numbers.empty()
                        || std::all_of(numbers.begin(), numbers.begin() + static_cast<std::ptrdiff_t>(rows),
                                       [&](double number) { return same_bits(number, first); });
    if (stands) {
      refresh(first, last_[c]);
      standing += last_[c].view();
    } else {
      stretches_.push_back({std::move(standing), c});
      standing.clear();
    }
  }
  standing += '\n';
  stretches_.push_back({std::move(standing), columns_.size()});
}

void TraceCsvSink::consume(const Block& block) {
  trace_columns(scene_, block, columns_);
  const auto rows = static_cast<std::size_t>(block.count);
  plan_stretches(rows);
  for (std::size_t row = 0; row < rows; ++row) {
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    char* const at =
        fmt::format_to(buffer_.get() + used_, FMT_COMPILE("{},{},"), frame, scene_.clock.drawn_time(frame));
    used_ = static_cast<std::size_t>(at - buffer_.get());
    refresh(frame == 0 ? 0.0 : scene_.clock.drawn_dt(frame - 1), last_dt_);
    append_text(last_dt_.view());
    for (const Stretch& stretch : stretches_) {
      append_text(stretch.standing);
      if (stretch.column == columns_.size()) break;
      const ColumnView& column = columns_[stretch.column];
      LastText& last = last_[stretch.column];
      const LastText& twin = last_[stretch.column - column.twin];
      const double number = column.numbers[row];
      if (column.twin != 0 && same_bits(number, twin.number))
        last = twin;
      else
        refresh(number, last);
      append_text(last.view());
    }
    if (used_ >= buffer_bytes) flush();
  }
}

void TraceCsvSink::flush() {
  write_({buffer_.get(), used_});
  used_ = 0;
}

} // namespace stasis::io
