#include "core/motion/motion.hpp"

#include <array>

namespace stasis {
namespace {

template<class Kind> const Kind* head_as(const Motion& motion) noexcept {
  if (const auto* plain = std::get_if<Kind>(&motion)) return plain;
  const auto* chain = std::get_if<Chain>(&motion);
  return chain != nullptr && chain->head ? std::get_if<Kind>(&*chain->head) : nullptr;
}

} // namespace

std::string_view kind_of(const Motion& motion) noexcept {
  constexpr std::array<std::string_view, 7> names{"cut", "glide", "spring", "ease", "pace", "stages", "per_frame"};
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain != nullptr && !chain->head && chain->links.empty()) return "delay";
  return names[motion.index()];
}

const Ease* ease_of(const Motion& motion) noexcept { return head_as<Ease>(motion); }
const Pace* pace_of(const Motion& motion) noexcept { return head_as<Pace>(motion); }

Motion slowed(const Motion& motion, double times) noexcept {
  Motion slow = motion;
  if (auto* glide = std::get_if<Glide>(&slow)) glide->rate /= times;
  if (auto* spring = std::get_if<Spring>(&slow)) spring->angular_frequency /= times;
  return slow;
}

double wait_of(const Motion& motion) noexcept {
  const auto* chain = std::get_if<Chain>(&motion);
  return chain == nullptr ? 0.0 : chain->delay;
}

} // namespace stasis
