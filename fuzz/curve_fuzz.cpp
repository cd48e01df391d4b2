// Any bytes as a curve: refused in words, or a number everywhere from 0 to 1.
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/curve/curve.hpp"
#include "core/curve/curve_facts.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const auto curve = stasis::parse_curve({reinterpret_cast<const char*>(data), size});
  if (!curve) return curve.error().empty() ? (std::abort(), 0) : 0;
  constexpr int looks = 64;
  for (int k = 0; k <= looks; ++k)
    if (!std::isfinite(stasis::evaluate(*curve, static_cast<double>(k) / looks).value)) std::abort();
  if (stasis::in_words(stasis::facts_of(*curve)).empty()) std::abort();
  return 0;
}
