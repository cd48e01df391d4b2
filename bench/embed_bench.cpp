// The library against the core's own stepping, frame by frame on the demo's otter, with the same hands.
#include <fstream>
#include <iterator>
#include <string>
#include <vector>

#include <benchmark/benchmark.h>

#include "core/check/known_names.hpp"
#include "core/feel/compose.hpp"
#include "core/feel/read_feel.hpp"
#include "core/take/session.hpp"
#include "embed/stasis.h"
#include "io/feel_files.hpp"

namespace stasis {
namespace {

const std::string otter = STASIS_DEMO "/otter.toml";
constexpr int frames = 600;
constexpr double dt = 1.0 / 60.0;

Feel otter_feel() {
  std::vector<Source> sources;
  auto document = io::read_feel_files({otter}, sources);
  (void)resolve_settings(*document);
  return *read_feel(*document, all_known_names);
}

void advance_core(benchmark::State& state) {
  const Feel feel = otter_feel();
  for (auto _ : state) {
    Session session(feel, feel.takes[0]);
    for (int frame = 0; frame < frames; ++frame) {
      if (frame % 60 == 10) session.press(0);
      if (frame % 60 == 40) session.release(0);
      session.advance(dt);
      benchmark::DoNotOptimize(session.value({0, 0}));
    }
  }
  state.SetItemsProcessed(state.iterations() * frames);
}
BENCHMARK(advance_core);

void advance_library(benchmark::State& state) {
  for (auto _ : state) {
    state.PauseTiming();
    stasis_session* const session = stasis_open_file(otter.c_str(), nullptr, nullptr, 0.0, nullptr);
    state.ResumeTiming();
    for (int frame = 0; frame < frames; ++frame) {
      if (frame % 60 == 10) stasis_press(session, 0, 0);
      if (frame % 60 == 40) stasis_release(session, 0, 0);
      stasis_advance(session, dt);
      benchmark::DoNotOptimize(stasis_value(session, 0, 0));
    }
    state.PauseTiming();
    stasis_close(session);
    state.ResumeTiming();
  }
  state.SetItemsProcessed(state.iterations() * frames);
}
BENCHMARK(advance_library);

} // namespace
} // namespace stasis
