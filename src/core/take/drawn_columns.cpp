#include "core/take/drawn_columns.hpp"

#include <algorithm>
#include <cmath>

namespace stasis {

void snap_to_grids(const Feel& feel, const ReadRow& row_of, Block& block) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    for (std::size_t i = 0; i < channel.components && channel.snap; ++i) {
      ComponentBlock& column = block.channels[c].component[i];
      column.remainders.resize(column.value.size());
      column.shifts.resize(has_shift_column(feel, c) ? column.value.size() : 0);
      for (std::size_t row = 0; row < column.value.size(); ++row) {
        const double free = column.value[row];
        column.value[row] = *channel.snap * std::round(free / *channel.snap);
        column.remainders[row] = free - column.value[row];
        if (!column.shifts.empty())
          column.shifts[row] = -column.remainders[row] * *pixels_per_unit(feel, camera_view(feel, row_of(row)));
      }
    }
  }
}

void put_tied(const Feel& feel, std::size_t channel, Block& block) {
  const Channel& tied = feel.channels[channel];
  const auto [source, factor] = *tied.tie;
  const double times = factor; // which a lambda may hold
  ChannelBlock& out = block.channels[channel];
  out = block.channels[source];
  ComponentBlock& column = out.component[0];
  for (auto* values :
       {&column.smooth, &column.value, &column.velocity, &column.wishes, &column.goals, &column.free_wishes})
    for (double& value : *values) value *= times;
  for (double* value : {&column.wish, &column.goal}) *value *= times;
  const bool by_factors = is_logarithmic(tied.space.space);
  const double shift = std::log(times);
  const auto put_state = [&](double& state) { state = by_factors ? state + shift : state * times; };
  for (auto* states : {&column.state, &column.goal_states}) std::for_each(states->begin(), states->end(), put_state);
  put_state(column.goal_state);
  put_state(column.acting_state);
  if (!by_factors) {
    for (double& rate : column.rate) rate *= times;
    column.rate_before *= times;
  }
  for (ComponentBlock::Knot& knot : column.knots) {
    knot.wish *= times;
    knot.goal *= times;
    put_state(knot.goal_state);
  }
}

void read_drawn_tracks(const Scene& scene, const std::vector<TrackReader>& readers, Block& block) {
  block.tracks.resize(readers.size());
  for (std::size_t t = 0; t < readers.size(); ++t) {
    TrackBlock& out = block.tracks[t];
    const TrackReader& reader = readers[played_track(*scene.take, t)];
    for (auto& column : out.place) column.clear();
    out.facing.clear();
    out.lost.clear();
    for (std::int64_t row = 0; row < block.count; ++row) {
      const TrackPoint point = reader.at(scene.clock.time(block.first + row));
      for (std::size_t i = 0; i < scene.feel->tracks[t].components; ++i) out.place[i].push_back(point.place[i]);
      out.facing.push_back(point.facing);
      out.lost.push_back(point.lost ? 1 : 0);
    }
  }
}

} // namespace stasis
