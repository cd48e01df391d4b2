#include "core/take/drawn_columns.hpp"

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
