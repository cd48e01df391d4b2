#include "report/baked_take.hpp"

#include <algorithm>

namespace stasis::report {

void BakeSink::begin(const Scene& scene) {
  std::size_t columns = 0;
  for (const Channel& channel : scene.feel->channels) {
    first_column_.push_back(columns);
    columns += 2 * channel.components;
  }
  for (const Track& track : scene.feel->tracks) {
    first_track_column_.push_back(columns);
    columns += track.components;
  }
  columns_.resize(columns);
}

const std::vector<double>& BakeSink::track(std::size_t track, std::size_t component) const {
  return columns_[first_track_column_[track] + component];
}

std::size_t BakeSink::column_of(std::size_t channel, std::size_t component) const noexcept {
  return first_column_[channel] + 2 * component;
}

const std::vector<double>& BakeSink::value(std::size_t channel, std::size_t component) const {
  return columns_[column_of(channel, component)];
}

const std::vector<double>& BakeSink::goal(std::size_t channel, std::size_t component) const {
  return columns_[column_of(channel, component) + 1];
}

void BakeSink::consume(const Block& block) {
  for (std::int64_t row = 0; row < block.count; ++row) frames_.push_back(block.first + row);
  for (std::size_t c = 0; c < first_column_.size(); ++c) {
    const std::size_t end = c + 1 < first_column_.size()  ? first_column_[c + 1]
                            : first_track_column_.empty() ? columns_.size()
                                                          : first_track_column_.front();
    for (std::size_t column = first_column_[c], i = 0; column < end; column += 2, ++i) {
      const ComponentBlock& component = block.channels[c].component[i];
      columns_[column].insert(columns_[column].end(), component.value.begin(),
                              component.value.begin() + static_cast<std::ptrdiff_t>(block.count));
      for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row)
        columns_[column + 1].push_back(component.goal_at(row));
    }
  }
  for (std::size_t t = 0; t < first_track_column_.size(); ++t) {
    const std::size_t end = t + 1 < first_track_column_.size() ? first_track_column_[t + 1] : columns_.size();
    for (std::size_t column = first_track_column_[t], i = 0; column < end; ++column, ++i) {
      const auto& place = block.tracks[t].place[i];
      columns_[column].insert(columns_[column].end(), place.begin(), place.end());
    }
  }
  if (frames_.size() > 2 * most_frames_) thin();
}

void BakeSink::end() {
  if (frames_.size() > most_frames_) thin();
}

std::vector<std::size_t> BakeSink::rows_worth_keeping() const {
  std::vector<std::size_t> keep;
  for (std::size_t row = 0; row < frames_.size();) {
    const std::int64_t stretch = frames_[row] / stretch_;
    std::size_t end = row;
    while (end < frames_.size() && frames_[end] / stretch_ == stretch) ++end;
    std::vector<std::size_t> chosen{row, end - 1};
    for (const std::vector<double>& column : columns_) {
      const auto from = column.begin() + static_cast<std::ptrdiff_t>(row);
      const auto [low, high] = std::minmax_element(from, column.begin() + static_cast<std::ptrdiff_t>(end));
      chosen.push_back(row + static_cast<std::size_t>(low - from));
      chosen.push_back(row + static_cast<std::size_t>(high - from));
    }
    std::sort(chosen.begin(), chosen.end());
    chosen.erase(std::unique(chosen.begin(), chosen.end()), chosen.end());
    keep.insert(keep.end(), chosen.begin(), chosen.end());
    row = end;
  }
  return keep;
}

void BakeSink::thin() {
  // New frames are first thinned like the old ones; only then is the stretch doubled.
  while (frames_.size() > most_frames_) {
    const auto keep = rows_worth_keeping();
    const auto pick = [&](auto& numbers) {
      for (std::size_t i = 0; i < keep.size(); ++i) numbers[i] = numbers[keep[i]];
      numbers.resize(keep.size());
    };
    pick(frames_);
    for (std::vector<double>& column : columns_) pick(column);
    if (frames_.size() > most_frames_) stretch_ *= 2;
  }
}

} // namespace stasis::report
