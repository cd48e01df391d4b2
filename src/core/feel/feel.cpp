#include "core/feel/feel.hpp"

#include "core/unbounded.hpp"

namespace stasis {

const char* name_of(CueAction action) noexcept {
  constexpr std::array<const char*, 3> names{"press", "release", "cancel"};
  return names[static_cast<std::size_t>(action)];
}

std::string component_name(const Channel& channel, std::size_t component) {
  return channel.components == 1 ? channel.name : channel.name + component_suffixes[component];
}

ComponentRange output_range(const Channel& channel, std::size_t component) noexcept {
  if (channel.space.space == Space::turn) return {-unbounded, unbounded};
  return channel.range[component];
}

void make_instant(Feel& feel) {
  for (NamedMotion& named : feel.motions) named.motion = Cut{};
}

} // namespace stasis
