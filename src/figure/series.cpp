#include "figure/series.hpp"

#include <algorithm>
#include <cmath>
#include <numbers>

#include "core/lens/lens.hpp"
#include "core/units.hpp"
#include "figure/style.hpp"

namespace stasis::figure {

void SeriesReducer::add(double x, double y) {
  if (!std::isfinite(y)) return;
  if (columns_ == 0) {
    kept_.push_back({x, y});
    return;
  }
  const int column = static_cast<int>(x / extent_ * columns_);
  if (column != column_) {
    close_column();
    column_ = column;
    column_points_.assign(4, {x, y});
    return;
  }
  if (y < column_points_[1].y) column_points_[1] = {x, y};
  if (y > column_points_[2].y) column_points_[2] = {x, y};
  column_points_[3] = {x, y};
}

void SeriesReducer::close_column() {
  std::stable_sort(column_points_.begin(), column_points_.end(), [](Point a, Point b) { return a.x < b.x; });
  for (const Point& point : column_points_)
    if (kept_.empty() || kept_.back().x != point.x || kept_.back().y != point.y) kept_.push_back(point);
  column_points_.clear();
}

std::vector<Point> SeriesReducer::finish() {
  close_column();
  return std::move(kept_);
}

void SeriesSink::begin(const Scene& scene) {
  scene_ = scene;
  reducers_.clear();
  series_.clear();
  constexpr auto columns = static_cast<int>(style::plot_right - style::plot_left);
  // Up to four rows a pixel column nothing is gained by thinning.
  const int used = scene.clock.frames > 4 * columns ? columns : 0;
  const double extent = std::max(scene.clock.time(scene.clock.frames - 1), scene.clock.usual_dt()) * (1.0 + 1e-12);
  for (const Channel& channel : scene.feel->channels) {
    const SeriesReducer reducer(extent, used);
    const SeriesReducer goals(extent, columns);
    reducers_.emplace_back(channel.components, Reducers{reducer, reducer, goals, goals});
    series_.emplace_back(channel.components);
  }
  picture_reducers_.clear();
  if (scene.feel->picture.lens_channel) {
    const SeriesReducer reducer(extent, used);
    picture_reducers_.push_back({reducer, reducer, SeriesReducer(extent, columns), reducer});
  }
}

/// A goal stands, or runs, until the next block's first frame, and jumps there.
template<class Shown>
void SeriesSink::add_goal(const Block& block, const ComponentBlock& column, SeriesReducer& reducer, Shown shown) const {
  const std::int64_t last = scene_.clock.frames - 1;
  for (std::int64_t row = 0; row <= block.count && block.first + row <= last; ++row)
    if (row == 0 || row == block.count || column.moves() || block.first + row == last)
      reducer.add(scene_.clock.time(block.first + row), shown(column.goal_at(static_cast<std::size_t>(row))));
}

void SeriesSink::consume_lens(const Block& block) {
  const std::size_t lens = *scene_.feel->picture.lens_channel;
  const Channel& channel = scene_.feel->channels[lens];
  const ComponentBlock& column = block.channels[lens].component[0];
  const auto unit = find_unit(channel.unit);
  const double per_unit = unit ? radians(convert(1.0, *unit, *find_unit("deg"))) : 1.0;
  const double rest = channel.rest[0] * per_unit;
  Reducers& reducers = picture_reducers_.front();
  for (std::int64_t row = 0; row < block.count; ++row) {
    const auto k = static_cast<std::size_t>(row);
    const double time = scene_.clock.time(block.first + row), angle = column.smooth[k] * per_unit;
    reducers.smooth.add(time, picture_scale(rest, angle));
    // d/dt log2(1 / tan(angle / 2))
    reducers.velocity.add(time, -column.velocity[k] * per_unit / (std::sin(angle) * std::numbers::ln2));
  }
  add_goal(block, column, reducers.goal, [&](double goal) { return picture_scale(rest, goal * per_unit); });
}

void SeriesSink::consume(const Block& block) {
  if (!picture_reducers_.empty()) consume_lens(block);
  for (std::size_t c = 0; c < reducers_.size(); ++c)
    for (std::size_t i = 0; i < reducers_[c].size(); ++i) {
      const ComponentBlock& column = block.channels[c].component[i];
      for (std::int64_t row = 0; row < block.count; ++row) {
        const double time = scene_.clock.time(block.first + row);
        reducers_[c][i].smooth.add(time, column.smooth[static_cast<std::size_t>(row)]);
        reducers_[c][i].velocity.add(time, column.velocity[static_cast<std::size_t>(row)]);
        constexpr double far_out = 1e9;
        if (const auto& hits = block.channels[c].hits; !hits.empty())
          reducers_[c][i].hit.add(time, std::min(hits[static_cast<std::size_t>(row)], far_out));
      }
      add_goal(block, column, reducers_[c][i].goal, [](double goal) { return goal; });
    }
}

void SeriesSink::end() {
  if (!picture_reducers_.empty()) {
    Reducers& r = picture_reducers_.front();
    picture_ = {r.smooth.finish(), r.velocity.finish(), r.goal.finish(), {}};
  }
  for (std::size_t c = 0; c < reducers_.size(); ++c)
    for (std::size_t i = 0; i < reducers_[c].size(); ++i)
      series_[c][i] = {reducers_[c][i].smooth.finish(), reducers_[c][i].velocity.finish(),
                       reducers_[c][i].goal.finish(), reducers_[c][i].hit.finish()};
}

} // namespace stasis::figure
