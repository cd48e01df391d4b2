// The demo's otter camera in a C++20 program that has the heart itself, as play.c has the library; it prints the same.
//
// Build:  c++ -std=c++20 -I/usr/include/stasis play_core.cpp -l:libstasis.a -lpugixml -o play_core
//         or with CMake: find_package(Stasis), then link to Stasis::core
// Run:    ./play_core otter.toml
#include <cstdio>
#include <stasis.hpp>

int main(int count, char** words) {
  const auto opened = stasis::OpenedFeel::open(count > 1 ? words[1] : "otter.toml");
  if (!opened) {
    std::fprintf(stderr, "%s\n", opened.error().c_str()); // file, line, column, what to do
    return 2;
  }
  const auto fov = opened->component("fov");
  const auto listen = opened->control("listen");
  if (!fov || !listen) {
    std::fprintf(stderr, "this feel has no channel fov or no control listen\n");
    return 2;
  }
  stasis::Session camera = opened->play(60.0);
  std::printf("time,fov\n");
  for (int frame = 0; frame <= 120; ++frame) {
    if (frame == 30) camera.press(*listen);
    if (frame == 75) camera.release(*listen);
    camera.advance(0.0); // frames of equal length are as long as they are
    std::printf("%.17g,%.17g\n", camera.time(), camera.value(*fov));
  }
}
