#include "io/line_reader.hpp"

#include <array>
#include <cerrno>
#include <unistd.h>
#include <utility>

namespace stasis::io {

std::optional<std::string> LineReader::next() {
  std::size_t looked_at = 0;
  for (;;) {
    if (const std::size_t end = held_.find('\n', looked_at); end != std::string::npos) {
      std::string line = held_.substr(0, end);
      held_.erase(0, end + 1);
      if (line.ends_with('\r')) line.pop_back();
      return line;
    }
    looked_at = held_.size();
    too_long_ = held_.size() > longest;
    if (too_long_) return std::nullopt;
    if (ended_) return held_.empty() ? std::nullopt : std::optional(std::exchange(held_, {}));
    std::array<char, 4096> piece{};
    ssize_t got = 0;
    do got = ::read(descriptor_, piece.data(), piece.size());
    while (got < 0 && errno == EINTR);
    if (got <= 0)
      ended_ = true;
    else
      held_.append(piece.data(), static_cast<std::size_t>(got));
  }
}

} // namespace stasis::io
