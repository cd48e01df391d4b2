// Rows of a take kept for drawing: all of them, or first, least, greatest and last of each pixel column.
#pragma once

#include <vector>

#include "core/take/block.hpp"
#include "figure/figure.hpp"

namespace stasis::figure {

/// Thins a series that comes in order of x, without averaging: extremes stay.
class SeriesReducer {
public:
  /// \param columns number of columns over `extent`; 0 keeps every point.
  SeriesReducer(double extent, int columns) : extent_(extent), columns_(columns) {}

  void add(double x, double y);
  /// The kept points in order; call once at the end.
  std::vector<Point> finish();

private:
  void close_column();

  double extent_;
  int columns_;
  int column_ = -1;
  std::vector<Point> column_points_; ///< first, least, greatest, last of the open column
  std::vector<Point> kept_;
};

/// What is drawn of one component of a channel, over time in seconds.
struct ComponentSeries {
  std::vector<Point> smooth, velocity, goal;
  std::vector<Point> hit; ///< where an obstacle begins; far out where none does. Empty where none may hold it
};

/// Collects what a take's figure needs while the take is played.
class SeriesSink final : public BlockSink {
public:
  void begin(const Scene& scene) override;
  void consume(const Block& block) override;
  void end() override;

  /// By channel, then component.
  const std::vector<std::vector<ComponentSeries>>& series() const noexcept { return series_; }

  /// The lens as picture scale against rest (times) and its rate (doublings a second); empty without a lens.
  const ComponentSeries& picture() const noexcept { return picture_; }

private:
  void consume_lens(const Block& block);
  template<class Shown>
  void add_goal(const Block& block, const ComponentBlock& column, SeriesReducer& reducer, Shown shown) const;

  struct Reducers {
    SeriesReducer smooth, velocity, goal, hit;
  };
  Scene scene_;
  std::vector<std::vector<Reducers>> reducers_;
  std::vector<std::vector<ComponentSeries>> series_;
  std::vector<Reducers> picture_reducers_; ///< one if there is a lens
  ComponentSeries picture_;
};

} // namespace stasis::figure
