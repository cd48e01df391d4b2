// Work that is the same whichever thread does it, shared out.
#pragma once

#include <atomic>
#include <cstdint>
#include <functional>
#include <thread>
#include <vector>

namespace stasis::cli {

/// As many threads as the machine has, at least one.
inline unsigned usual_threads() { return std::max(1u, std::thread::hardware_concurrency()); }

/// Calls `work(first, last, thread)` for chunks of 0..count-1 on `threads` threads, and `progress(done)` now and then
/// on the calling one. Chunks are handed out as threads come free, so `work` must not depend on which thread it is on.
void share_out(std::uint64_t count, std::uint64_t chunk, unsigned threads,
               const std::function<void(std::uint64_t, std::uint64_t, unsigned)>& work,
               const std::function<void(std::uint64_t)>& progress);

} // namespace stasis::cli
