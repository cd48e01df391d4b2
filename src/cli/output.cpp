#include "cli/output.hpp"

#include <cerrno>
#include <unistd.h>
#include <utility>

#include "cli/folded.hpp"
#include "core/text.hpp"

namespace stasis::cli {

void Output::write(std::string_view text) {
  if (fold_at_ == 0) return exactly(text);
  for (std::size_t begin = 0; begin < text.size();) {
    const std::size_t end = text.find('\n', begin);
    line_ += text.substr(begin, end - begin);
    if (end == std::string_view::npos) return;
    const std::string whole = std::exchange(line_, {});
    exactly(folded(whole, fold_at_) + "\n");
    begin = end + 1;
  }
}

void Output::exactly(std::string_view text) {
  constexpr std::size_t flush_at = 1 << 16;
  if (closed_) return;
  if (!line_.empty()) buffer_ += safe_lines(std::exchange(line_, {}));
  buffer_ += safe_lines(text);
  if (buffer_.size() >= flush_at) flush();
}

void Output::exact_line(std::string_view text) {
  exactly(text);
  exactly("\n");
}

void Output::steer(std::string_view codes) {
  exactly({}); // what is written of a line stands before them
  if (!closed_) buffer_ += codes;
}

void Output::line(std::string_view text) {
  write(text);
  write("\n");
}

void Output::flush() noexcept {
  if (!line_.empty()) buffer_ += safe_lines(std::exchange(line_, {}));
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
