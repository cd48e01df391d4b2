// A take as characters, for a terminal far away: value against goal, a band of rows for each component.
#pragma once

#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis::figure {

/// How wide and how high, in characters.
struct TextChartSize {
  std::size_t width = 80; ///< of a line, its scale at the left included; at least 40
  std::size_t rows = 4;   ///< of a component
};

/// Keeps of each component the extremes in each column of dots, so that memory does not grow with the take.
class TextChart final : public BlockSink {
public:
  /// \param only channels that are drawn, by name; empty for all that move.
  TextChart(TextChartSize size, std::vector<std::string> only) : size_(size), only_(std::move(only)) {}

  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override {}

  /// Lines of text: the value as a line of braille dots, its goal as single dots.
  std::string text() const;

private:
  struct Extent {
    double low = 0.0, high = 0.0;
    bool any = false;
    void take(double value) noexcept;
  };
  struct Curve {
    std::size_t channel = 0, component = 0;
    std::vector<Extent> value, goal; ///< by column of dots
    Extent all;
  };

  std::size_t columns() const noexcept;
  std::size_t column_of(double time) const noexcept;
  void add_rows(const Curve& curve, std::string& out) const;
  std::string axis() const;

  TextChartSize size_;
  std::vector<std::string> only_;
  Scene scene_;
  double end_ = 0.0;          ///< s, of the last frame
  bool is_game_time_ = false; ///< which is not that of the clock
  std::vector<Curve> curves_;
};

} // namespace stasis::figure
