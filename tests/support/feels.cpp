#include "support/feels.hpp"

#include <gtest/gtest.h>

#include "core/check/known_names.hpp"
#include "core/feel/read_feel.hpp"
#include "io/toml_reader.hpp"

namespace stasis::test {

Problems problems_of(const std::string& text) {
  const auto document = io::read_toml(text, 0);
  if (!document) return document.error();
  const auto feel = read_feel(*document, all_known_names);
  return feel ? Problems{} : feel.error();
}

Feel feel_from(const std::string& text) {
  const auto document = io::read_toml(text, 0);
  if (!document) {
    ADD_FAILURE() << document.error().front().message;
    return {};
  }
  auto feel = read_feel(*document, all_known_names);
  if (feel) return std::move(*feel);
  for (const Problem& problem : feel.error())
    ADD_FAILURE() << problem.where.line << ": " << problem.path << ": " << problem.message;
  return {};
}

void RowSink::consume(const Block& block) {
  const ComponentBlock& column = block.channels[channel_].component[component_];
  for (std::int64_t i = 0; i < block.count; ++i) {
    const auto row = static_cast<std::size_t>(i);
    rows.time.push_back(clock_.time(block.first + i));
    rows.goal.push_back(column.goal_at(row));
    rows.smooth.push_back(column.smooth[row]);
    rows.value.push_back(column.value[row]);
    rows.velocity.push_back(column.velocity[row]);
  }
}

Scene scene_of(const Feel& feel, std::size_t take) { return {&feel, &feel.takes[take], clock_of(feel.takes[take])}; }

Rows play_rows(const Feel& feel, std::size_t channel, std::size_t component) {
  RowSink sink(channel, component);
  BlockSink* const sinks[] = {&sink};
  play(scene_of(feel), sinks);
  return std::move(sink.rows);
}

TakeMeasures play_measures(const Feel& feel) {
  MeasureSink sink;
  BlockSink* const sinks[] = {&sink};
  auto notes = play(scene_of(feel), sinks);
  return sink.take(std::move(notes));
}

} // namespace stasis::test
