#include "cli/progress.hpp"

#include <cmath>
#include <unistd.h>

#include <fmt/format.h>

#include "cli/table.hpp"

namespace stasis::cli {
namespace {

/// What is shown after so many seconds; nothing in the first.
std::string progress_line(const std::string& what, std::uint64_t done, std::uint64_t total, double elapsed) {
  constexpr double soon = 1.0, minute = 60.0;
  if (elapsed < soon) return {};
  std::string text = fmt::format("{} of {} {}", done, total, what);
  if (done == 0 || done >= total) return text;
  const double left = std::ceil(elapsed * static_cast<double>(total - done) / static_cast<double>(done));
  return text
         + (left < 2.0 * minute ? fmt::format(", {:.0f} s left", left)
                                : fmt::format(", {:.0f} min left", std::ceil(left / minute)));
}

} // namespace

Progress::Progress(Output& err, std::string what, std::uint64_t total)
    : err_(err), what_(std::move(what)), total_(total), is_seen_(takes_codes(STDERR_FILENO)) {}

Progress::~Progress() { clear(); }

void Progress::show(std::uint64_t done) {
  if (!is_seen_) return;
  constexpr std::chrono::milliseconds between{100};
  const auto now = Time::now();
  if (is_shown_ && now - shown_ < between) return;
  const std::string text = progress_line(what_, done, total_, std::chrono::duration<double>(now - began_).count());
  if (text.empty()) return;
  err_.steer("\r" + text + "\x1b[K");
  err_.flush();
  shown_ = now;
  is_shown_ = true;
}

void Progress::clear() {
  if (!is_shown_) return;
  err_.steer("\r\x1b[K");
  err_.flush();
  is_shown_ = false;
}

} // namespace stasis::cli
