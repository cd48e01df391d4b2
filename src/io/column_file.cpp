#include "io/column_file.hpp"

#include <cerrno>
#include <cstring>
#include <memory>
#include <unistd.h>

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/column_reader.hpp"
#include "io/files.hpp"
#include "io/scratch_shelf.hpp"

namespace stasis::io {
namespace {

constexpr std::size_t piece_bytes = std::size_t{1} << 20;
constexpr std::size_t longest_line = ColumnReader::longest_line;

} // namespace

Result<NumberColumns> read_column_file(const std::string& path, const std::vector<std::string>& wanted, int source) {
  const auto failed = [&](std::string_view what, int error) {
    return fail({"file.unreadable",
                 "",
                 {},
                 fmt::format("{} {}: {}", what, shown_name(path), std::strerror(error)),
                 "The path is relative to the feel."});
  };
  const auto opened = open_plain_file(path);
  if (!opened) return fail({"file.unreadable", "", {}, opened.error().message, "The path is relative to the feel."});
  const int file = *opened;
  ColumnReader collector(wanted, source, scratch_shelf());
  const auto buffer = std::make_unique_for_overwrite<char[]>(piece_bytes + longest_line);
  std::size_t kept = 0;
  ssize_t got = 0;
  int error = 0;
  while (!collector.is_done()) {
    do got = ::read(file, buffer.get() + kept, piece_bytes);
    while (got < 0 && errno == EINTR);
    error = got < 0 ? errno : 0;
    if (got <= 0) break;
    const std::size_t used = kept + static_cast<std::size_t>(got);
    std::size_t from = 0;
    const bool has_quotes = std::memchr(buffer.get(), '"', used) != nullptr;
    while (!collector.is_done()) {
      const auto* end = static_cast<const char*>(std::memchr(buffer.get() + from, '\n', used - from));
      if (end == nullptr) break;
      const auto to = static_cast<std::size_t>(end - buffer.get());
      collector.line({buffer.get() + from, to - from}, has_quotes);
      from = to + 1;
    }
    kept = used - from;
    if (kept > longest_line) {
      ::close(file);
      return fail(
          {"csv.line", "", {}, fmt::format("{} has a line longer than {} bytes", shown_name(path), longest_line), ""});
    }
    std::memmove(buffer.get(), buffer.get() + from, kept);
  }
  ::close(file);
  if (error != 0) return failed("could not read", error);
  if (kept > 0 && !collector.is_done()) collector.line({buffer.get(), kept}, true);
  return collector.finish();
}

} // namespace stasis::io
