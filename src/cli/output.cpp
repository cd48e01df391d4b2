#include "cli/output.hpp"

#include <cerrno>
#include <unistd.h>
#include <utility>

#include "core/text.hpp"

namespace stasis::cli {

void Output::write(std::string_view text) {
  constexpr std::size_t flush_at = 1 << 16;
  if (closed_) return;
  buffer_ += safe_lines(text);
  if (buffer_.size() >= flush_at) flush();
}

void Output::steer(std::string_view codes) {
  if (!closed_) buffer_ += codes;
}

void Output::line(std::string_view text) {
  write(text);
  write("\n");
}

void Output::flush() noexcept {
  if (kept_ != nullptr) *kept_ += std::exchange(buffer_, {});
  std::string_view rest = buffer_;
  while (!rest.empty() && !closed_) {
    const ssize_t written = ::write(descriptor_, rest.data(), rest.size());
    if (written > 0) {
      rest.remove_prefix(static_cast<std::size_t>(written));
    } else if (written < 0 && errno != EINTR) {
      closed_ = true;
      error_ = errno == EPIPE ? 0 : errno;
    }
  }
  buffer_.clear();
}

} // namespace stasis::cli
