// A trace as CSV (RFC 4180), written while the take is played: memory does not grow with its length.
#pragma once

#include <array>
#include <cstdint>
#include <functional>
#include <memory>
#include <string>
#include <string_view>
#include <vector>

#include "core/take/block.hpp"
#include "core/take/trace_columns.hpp"

namespace stasis::io {

class TraceCsvSink final : public BlockSink {
public:
  using Write = std::function<void(std::string_view)>;
  /// \param write takes each large piece of the text in order.
  explicit TraceCsvSink(Write write) : write_(std::move(write)) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override { flush(); }

private:
  /// The text of a column's last number: values that rest are formatted once.
  struct LastText {
    double number = 0.0;
    std::uint8_t length = 0;
    std::array<char, 31> text{};
    std::string_view view() const noexcept { return {text.data(), length}; }
  };
  /// A stretch of a row: texts that stand still in this block, then one column that moves (or none, at the end).
  struct Stretch {
    std::string standing;
    std::size_t column;
  };

  void plan_stretches(std::size_t rows);
  void refresh(double number, LastText& last);
  void append_text(std::string_view text);
  void flush();

  Scene scene_;
  Write write_;
  std::unique_ptr<char[]> buffer_; // not a vector: a large buffer need not be cleared first
  std::size_t used_ = 0;
  std::vector<ColumnView> columns_;
  std::vector<LastText> last_;
  std::vector<Stretch> stretches_;
  LastText last_dt_;
};

} // namespace stasis::io
