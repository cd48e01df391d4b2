#include "core/motion/motion.hpp"

#include <array>

#include "core/overloaded.hpp"

namespace stasis {
namespace {

template<class Kind> const Kind* head_as(const Motion& motion) noexcept {
  if (const auto* plain = std::get_if<Kind>(&motion)) return plain;
  const auto* chain = std::get_if<Chain>(&motion);
  return chain != nullptr && chain->head ? std::get_if<Kind>(&*chain->head) : nullptr;
}

} // namespace

std::string_view kind_of(const Motion& motion) noexcept {
  constexpr std::array<std::string_view, 8> names{"cut",  "glide",  "spring",    "ease",
                                                  "pace", "stages", "per_frame", "led"};
  static_assert(names.size() == std::variant_size_v<Motion>, "every motion has a name");
  const auto* chain = std::get_if<Chain>(&motion);
  if (chain != nullptr && !chain->head && chain->links.empty()) return "delay";
  return names[motion.index()];
}

const Ease* ease_of(const Motion& motion) noexcept { return head_as<Ease>(motion); }
const Pace* pace_of(const Motion& motion) noexcept { return head_as<Pace>(motion); }

Motion slowed(const Motion& motion, double times) noexcept {
  const auto slow = Overloaded{
      [](const Cut& cut) -> Motion { return cut; },
      [&](Glide glide) -> Motion {
        glide.rate /= times;
        return glide;
      },
      [&](Spring spring) -> Motion {
        spring.angular_frequency /= times;
        return spring;
      },
      // What takes a fixed time, or goes by limits or frames, is not slowed down: reading a feel refuses it.
      [](const Ease& ease) -> Motion { return ease; },
      [](const Pace& pace) -> Motion { return pace; },
      [](const Chain& chain) -> Motion { return chain; },
      [](const PerFrame& rule) -> Motion { return rule; },
      [](const Led& led) -> Motion { return led; },
  };
  return std::visit(slow, motion);
}

double wait_of(const Motion& motion) noexcept {
  const auto* chain = std::get_if<Chain>(&motion);
  return chain == nullptr ? 0.0 : chain->delay;
}

} // namespace stasis
