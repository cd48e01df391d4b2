#include "cli/parallel.hpp"

#include <algorithm>
#include <system_error>

namespace stasis::cli {

void share_out(std::uint64_t count, std::uint64_t chunk, unsigned threads,
               const std::function<void(std::uint64_t, std::uint64_t, unsigned)>& work,
               const std::function<void(std::uint64_t)>& progress) {
  std::atomic<std::uint64_t> next{0}, done{0};
  const auto run = [&](unsigned thread) {
    for (std::uint64_t first; (first = next.fetch_add(chunk)) < count;) {
      const std::uint64_t last = std::min(count, first + chunk);
      work(first, last, thread);
      done += last - first;
      if (thread == 0) progress(done);
    }
  };
  std::vector<std::thread> others;
  try {
    for (unsigned t = 1; t < threads; ++t) others.emplace_back(run, t);
  } catch (const std::system_error&) { // no more are to be had: those that are there do it all
  }
  run(0);
  for (std::thread& other : others) other.join();
  progress(done);
}

} // namespace stasis::cli
