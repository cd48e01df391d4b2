// Any bytes as a formula: refused with the place of the fault, or evaluated without one.
#include <array>
#include <cstdint>
#include <cstdlib>
#include <string_view>

#include "core/formula/formula.hpp"

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  const std::string_view text(reinterpret_cast<const char*>(data), size);
  const auto resolve = [](std::string_view name) -> tl::expected<std::size_t, std::string> {
    if (name == "a") return std::size_t{0};
    if (name == "b.x") return std::size_t{1};
    return tl::unexpected(std::string("no such name"));
  };
  const auto formula = stasis::Formula::parse(text, resolve);
  if (!formula) return formula.error().message.empty() || formula.error().at > size ? (std::abort(), 0) : 0;
  const std::array<double, 2> values{0.5, -3.0};
  (void)formula->evaluate(values);
  for (const std::size_t variable : formula->variables())
    if (variable >= values.size()) std::abort();
  return 0;
}
