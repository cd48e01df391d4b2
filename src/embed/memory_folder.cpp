#include "embed/memory_folder.hpp"

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/column_reader.hpp"

namespace stasis::embed {
namespace {

std::string not_given(const std::string& path) {
  return fmt::format("the file {} was not given with the feel", shown_name(path));
}

} // namespace

io::FileResult<std::string> MemoryFolder::text(const std::string& path, std::size_t most_bytes) const {
  const auto found = files_.find(path);
  if (found == files_.end()) return tl::unexpected(io::FileError{not_given(path)});
  if (found->second.size() > most_bytes)
    return tl::unexpected(io::FileError{fmt::format("{} is longer than {} bytes", shown_name(path), most_bytes), true});
  return found->second;
}

Result<NumberColumns> MemoryFolder::columns(const std::string& path, const std::vector<std::string>& wanted,
                                            int source) const {
  const auto found = files_.find(path);
  if (found == files_.end())
    return fail({"file.unreadable", "", {}, not_given(path), "Give it by the name that the feel has for it."});
  return io::read_columns(found->second, wanted, source);
}

} // namespace stasis::embed
