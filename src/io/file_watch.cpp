#include "io/file_watch.hpp"

#include <ctime>
#include <sys/stat.h>

namespace stasis::io {
namespace {

constexpr int look_every_ms = 10;

void sleep_ms(int ms) noexcept {
  timespec time{ms / 1000, (ms % 1000) * 1'000'000L};
  ::nanosleep(&time, nullptr); // an interrupt ends it early, which is wanted
}

} // namespace

std::vector<FileState> states_of(const std::vector<std::string>& paths) {
  std::vector<FileState> states;
  for (const std::string& path : paths) {
    struct stat status {};
    FileState& state = states.emplace_back();
    if (::stat(path.c_str(), &status) != 0) continue;
    state.size = status.st_size;
    state.modified_ns = std::int64_t{status.st_mtim.tv_sec} * 1'000'000'000 + status.st_mtim.tv_nsec;
    state.inode = status.st_ino;
  }
  return states;
}

std::vector<FileState> wait_for_change(const std::vector<std::string>& paths, const std::vector<FileState>& seen,
                                       int quiet_ms, const volatile bool& stop) {
  std::vector<FileState> now = seen;
  while (!stop && now == seen) {
    sleep_ms(look_every_ms);
    now = states_of(paths);
  }
  // An editor may still be writing: the last change is the one that counts.
  for (int still = 0; !stop && still < quiet_ms; still += look_every_ms) {
    sleep_ms(look_every_ms);
    auto later = states_of(paths);
    if (later != now) still = 0;
    now = std::move(later);
  }
  return stop ? seen : now;
}

} // namespace stasis::io
