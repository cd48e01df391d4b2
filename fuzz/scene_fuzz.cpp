// Any bytes as a scene of glTF: refused in words, or a table in which every column is as long.
#include <cstdint>
#include <cstdlib>

#include "io/gltf_recording.hpp"
#include "memory_file.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const stasis::fuzz::MemoryFile file(data, size);
  const auto table = stasis::io::read_gltf_recording(file.path(), {false, "", 30.0});
  if (!table) return table.error().message.empty() ? (std::abort(), 0) : 0;
  if (table->names.size() != table->columns.size()) std::abort();
  for (const auto& column : table->columns)
    if (column.size() != table->rows()) std::abort();
  return 0;
}
