#include "io/trace_csv.hpp"

#include <bit>
#include <cmath>
#include <cstring>

#include <fmt/compile.h>
#include <fmt/format.h>

namespace stasis {
namespace {

constexpr std::size_t buffer_bytes = std::size_t{1} << 18;
/// Longest shortest-form double is 24 characters; frame numbers are shorter.
constexpr std::size_t most_number_bytes = 32;

} // namespace

void TraceCsvSink::begin(const Scene& scene) {
  scene_ = scene;
  std::string header;
  const auto names = trace_header(*scene.feel);
  for (const std::string& name : names) header += (header.empty() ? "" : ",") + name;
  header += '\n';
  last_.assign(names.size() - 3, {});
  last_dt_ = {};
  buffer_ = std::make_unique_for_overwrite<char[]>(buffer_bytes + (names.size() + 1) * most_number_bytes);
  used_ = 0;
  write_(header);
}

void TraceCsvSink::append(double number, LastText& last) {
  // Compared by bits, so that 0 and -0 stay apart; an absent number is an empty cell.
  if (last.length == 0 || std::bit_cast<std::uint64_t>(number) != std::bit_cast<std::uint64_t>(last.number)) {
    if (std::isnan(number)) {
      last.length = 0;
      return;
    }
    char* const end = fmt::format_to(last.text.data(), FMT_COMPILE("{}"), number);
    last.number = number;
    last.length = static_cast<std::uint8_t>(end - last.text.data());
  }
  append_text(last);
}

void TraceCsvSink::append_text(const LastText& text) {
  std::memcpy(buffer_.get() + used_, text.text.data(), text.length);
  used_ += text.length;
}

void TraceCsvSink::consume(const Block& block) {
  trace_columns(*scene_.feel, block, columns_);
  const double dt = scene_.clock.dt();
  for (std::int64_t row = 0; row < block.count; ++row) {
    const std::int64_t frame = block.first + row;
    char* at = buffer_.get() + used_;
    at = fmt::format_to(at, FMT_COMPILE("{},{},"), frame, scene_.clock.time(frame));
    used_ = static_cast<std::size_t>(at - buffer_.get());
    append(frame == 0 ? 0.0 : dt, last_dt_);
    for (std::size_t c = 0; c < columns_.size(); ++c) {
      buffer_[used_++] = ',';
      const ColumnView& column = columns_[c];
      const double number = column.at(static_cast<std::size_t>(row));
      const LastText& twin = last_[c - column.twin];
      const bool as_twin =
          column.twin != 0 && std::bit_cast<std::uint64_t>(number) == std::bit_cast<std::uint64_t>(twin.number);
      as_twin ? append_text(twin) : append(number, last_[c]);
    }
    buffer_[used_++] = '\n';
    if (used_ >= buffer_bytes) flush();
  }
}

void TraceCsvSink::flush() {
  write_({buffer_.get(), used_});
  used_ = 0;
}

} // namespace stasis
