// A file without a name that holds some bytes, by a path: for readers that want one.
#pragma once

#include <cstdint>
#include <cstdlib>
#include <string>
#include <sys/mman.h>
#include <unistd.h>

namespace stasis::fuzz {

class MemoryFile {
public:
  MemoryFile(const std::uint8_t* data, std::size_t size) : descriptor_(::memfd_create("fuzz", 0)) {
    if (descriptor_ < 0 || ::write(descriptor_, data, size) != static_cast<ssize_t>(size)) std::abort();
  }
  MemoryFile(const MemoryFile&) = delete;
  MemoryFile& operator=(const MemoryFile&) = delete;
  ~MemoryFile() { ::close(descriptor_); }
  std::string path() const { return "/proc/self/fd/" + std::to_string(descriptor_); }

private:
  int descriptor_;
};

} // namespace stasis::fuzz
