#include "core/feel/motion_at.hpp"

#include <algorithm>

namespace stasis {

const NamedMotion* motion_at(const Feel& feel, std::string_view path) noexcept {
  // One that is written in place is named after what follows "channel.".
  for (const std::string_view head : {"motion.", "channel."})
    if (path.starts_with(head)) path.remove_prefix(head.size());
  const auto found =
      std::find_if(feel.motions.begin(), feel.motions.end(), [&](const NamedMotion& one) { return one.name == path; });
  return found != feel.motions.end() ? &*found : nullptr;
}

} // namespace stasis
