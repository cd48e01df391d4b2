#include "cli/output.hpp"

#include <array>
#include <cerrno>
#include <unistd.h>
#include <utility>

#include "cli/folded.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// What stands out in a text: a mark, and the terminal's code for its colour (ECMA-48, 8.3.117).
struct Marked {
  std::string_view mark, code;
};
constexpr std::array<Marked, 5> marks{
    {{"stasis: error:", "1;31"}, {"stasis: warning:", "33"}, {"  warning ", "33"}, {"\u25cf", "32"}, {"\u2715", "31"}}};

std::string with_colours(std::string text) {
  for (const Marked& one : marks)
    for (std::size_t at = text.find(one.mark); at != std::string::npos;) {
      const std::string coloured = "\x1b[" + std::string(one.code) + "m" + std::string(one.mark) + "\x1b[0m";
      text.replace(at, one.mark.size(), coloured);
      at = text.find(one.mark, at + coloured.size());
    }
  return text;
}

} // namespace

void Output::write(std::string_view text) {
  if (no_text_) return;
  if (fold_at_ == 0 && !is_coloured_) return exactly(text);
  for (std::size_t begin = 0; begin < text.size();) {
    const std::size_t end = text.find('\n', begin);
    line_ += text.substr(begin, end - begin);
    if (end == std::string_view::npos) return;
    const std::string whole = std::exchange(line_, {});
    const std::string lines = safe_lines((fold_at_ == 0 ? whole : folded(whole, fold_at_)) + "\n");
    put(is_coloured_ ? with_colours(lines) : lines);
    begin = end + 1;
  }
}

void Output::exactly(std::string_view text) {
  if (!line_.empty()) put(safe_lines(std::exchange(line_, {})));
  put(safe_lines(text));
}

void Output::put(const std::string& safe) {
  constexpr std::size_t flush_at = 1 << 16;
  if (closed_) return;
  buffer_ += safe;
  if (buffer_.size() >= flush_at) flush();
}

void Output::wrote(std::string_view path) {
  if (no_text_ || no_files_) return;
  exactly("  wrote ");
  exact_line(path);
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
