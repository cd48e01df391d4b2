#include "code/played_take.hpp"

#include <cmath>

#include "core/take/sequence_course.hpp"

namespace stasis::code {

PlayedSink::PlayedSink(const Feel& feel, const Clock& clock) : feel_(feel), clock_(clock) {
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    for (std::size_t i = 0; i < feel.channels[c].components; ++i) all.emplace_back().component = {c, i};
}

void PlayedSink::consume(const Block& block) {
  for (std::size_t i = 0; i < eye.size(); ++i) eye[i].insert(eye[i].end(), block.eye[i].begin(), block.eye[i].end());
  for (std::size_t shake = 0; shake < block.shakes.size(); ++shake)
    for (const HitMark& hit : block.shakes[shake].hits) felt[{shake, block.first}] = hit.strength;
  for (Played& one : all) {
    const ChannelBlock& channel = block.channels[one.component.channel];
    const ComponentBlock& column = channel.component[one.component.component];
    const auto rows = static_cast<std::size_t>(block.count);
    one.values.insert(one.values.end(), column.value.begin(), column.value.begin() + block.count);
    for (std::size_t row = 0; row < rows; ++row) {
      one.goals.push_back(column.moves() ? column.wishes[row] : column.wish);
      one.runs_to.push_back(column.moves() ? column.wishes[row + 1] : column.wish);
    }
    one.has_corners = one.has_corners || !column.knots.empty() || !channel.axes.empty();
    for (std::size_t row = 0; row < rows; ++row) one.led.push_back(led_in(block, row, one.component));
    if (channel.ceilings.empty() || one.component.component > 0) continue;
    for (std::size_t row = 0; row < rows; ++row) {
      one.rooms.push_back({channel.hits[row], channel.ceilings[row]});
      one.room_ends.push_back({channel.hits[row + 1], channel.ceilings[row + 1]});
    }
  }
}

/// What a sequence does with a component between a row and the next.
LedFrame PlayedSink::led_in(const Block& block, std::size_t row, ComponentRef component) const {
  LedFrame out;
  const Channel& channel = feel_.channels[component.channel];
  const SpaceMap& space = channel.space;
  const Clock clock = clock_.of(channel.runs_on);
  for (const SequenceMark& mark : block.sequences)
    for (const SequenceCourse::OfChannel& one : mark.course->channels) {
      const auto& way = one.way[component.component];
      if (one.channel != component.channel || way == nullptr) continue;
      out.sequence = mark.sequence;
      const std::int64_t next = block.first + static_cast<std::int64_t>(row) + 1;
      const Instant there = evaluate({way, mark.time}, clock.elapsed(mark.frame, next), Side::at);
      // A cut is seen a frame later, and what is held lies elsewhere: then it is given back at rest.
      const double seen = block.channels[component.channel].component[component.component].state[row + 1];
      out.value = from_space(space, seen);
      constexpr double rounding = 1e-9;
      if (std::fabs(seen - there.value) <= rounding * std::max(1.0, std::fabs(there.value)))
        out.speed = stretch(space, from_space(space, there.value)) * there.velocity;
      const double last = stasis::place_at(mark.time, mark.time.total(), false).at;
      if (feel_.sequences[mark.sequence].stays && std::isfinite(last))
        out.stays_at = from_space(space, way->at(last).value);
    }
  return out;
}

} // namespace stasis::code
