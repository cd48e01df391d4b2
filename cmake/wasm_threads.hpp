// For wasm32 only, where nothing runs beside anything else: the C++ library there has no mutex, and headers of Boost
// that we use name one in functions that we do not.
#pragma once

#include <mutex>

#ifdef _LIBCPP_HAS_NO_THREADS
namespace std {
class mutex {
public:
  void lock() noexcept {}
  void unlock() noexcept {}
};
} // namespace std
#endif
