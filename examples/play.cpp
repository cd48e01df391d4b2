// The demo's otter camera in a C++ program: as play.c, with the session owned by a std::unique_ptr, and a spring that
// is made quicker while it is under way.
//
// Build:  c++ -std=c++17 play.cpp $(pkg-config --cflags --libs stasis) -o play
// Run:    ./play otter.toml
#include <cstdio>
#include <memory>
#include <stasis.h>

namespace {

struct Close {
  void operator()(stasis_session* session) const { stasis_close(session); }
  void operator()(stasis_faults* faults) const { stasis_faults_free(faults); }
  void operator()(char* text) const { stasis_free(text); }
};
template<class Thing> using Owned = std::unique_ptr<Thing, Close>;

} // namespace

int main(int count, char** words) {
  stasis_faults* found = nullptr;
  const Owned<stasis_session> camera(
      stasis_open_file(count > 1 ? words[1] : "otter.toml", nullptr, nullptr, 60.0, &found));
  const Owned<stasis_faults> faults(found);
  if (camera == nullptr) {
    std::fprintf(stderr, "%s\n", Owned<char>(stasis_faults_text(faults.get())).get());
    return 2;
  }
  const int fov = stasis_find(camera.get(), STASIS_CHANNEL, "fov");
  const int listen = stasis_find(camera.get(), STASIS_CONTROL, "listen");
  std::printf("time,fov\n");
  for (int frame = 0; frame <= 120; ++frame) {
    if (frame == 30) stasis_press(camera.get(), listen, 0);
    if (frame == 75) stasis_release(camera.get(), listen, 0);
    if (frame == 45 && stasis_set(camera.get(), "motion.soft.frequency", "3", nullptr) == 0) return 2;
    stasis_advance(camera.get(), 0.0);
    std::printf("%.17g,%.17g\n", stasis_time(camera.get()), stasis_value(camera.get(), fov, 0));
  }
}
