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

std::span<const PictureRole> picture_roles() noexcept {
  static constexpr std::array roles{PictureRole{"position", &Picture::position, 2, 3, false},
                                    PictureRole{"focus", &Picture::focus, 3, 3, false},
                                    PictureRole{"distance", &Picture::distance, 1, 1, false},
                                    PictureRole{"side", &Picture::side, 1, 1, false},
                                    PictureRole{"yaw", &Picture::yaw, 1, 1, true},
                                    PictureRole{"pitch", &Picture::pitch, 1, 1, true},
                                    PictureRole{"roll", &Picture::roll, 1, 1, true}};
  return roles;
}

ComponentRange output_range(const Channel& channel, std::size_t component) noexcept {
  if (channel.space.space == Space::turn) return {-unbounded, unbounded};
  return channel.range[component];
}

void make_instant(Feel& feel) {
  for (NamedMotion& named : feel.motions) named.motion = Cut{};
}

} // namespace stasis
