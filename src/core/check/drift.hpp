// How far a take has strayed from a trace of it that was kept.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/document.hpp"
#include "core/take/block.hpp"
#include "core/take/trace_columns.hpp"

namespace stasis {

/// A column that is further from the kept one than it may be.
struct StrayedColumn {
  std::string name;
  double first_at = 0.0;   ///< s, the first frame at which it is
  double largest = 0.0;    ///< in the column's own unit; infinite where only one of both has a number
  double largest_at = 0.0; ///< s
};

struct Drift {
  std::string fault;                  ///< why the two cannot be compared; empty where they can
  std::vector<StrayedColumn> strayed; ///< those that strayed first stand first
  double largest = 0.0;               ///< over all columns that were compared
  bool holds() const noexcept { return fault.empty() && strayed.empty(); }
};

/// Compares a take with a kept trace while it is played.
class DriftSink final : public BlockSink {
public:
  /// \param kept must outlive the sink; its columns bear names of trace_header(). \param column which of them: one,
  /// all of one name before the dot, or all for "". \param within how far each may stray, in its own unit.
  DriftSink(const NumberColumns& kept, std::string column, double within)
      : kept_(kept), column_(std::move(column)), within_(within) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  /// What was found; call once, after the take.
  Drift take();

private:
  /// A column of the trace, and the kept one that it is held to.
  struct Pair {
    std::size_t column, kept;
    StrayedColumn strayed;
    bool has_strayed = false;
  };
  void compare_row(const Block& block, std::size_t row);

  const NumberColumns& kept_;
  std::string column_;
  double within_;
  Scene scene_;
  std::size_t rows_ = 0;
  std::optional<std::size_t> time_; ///< which kept column is the time
  std::vector<Pair> pairs_;
  std::vector<ColumnView> columns_;
  Drift drift_;
};

} // namespace stasis
