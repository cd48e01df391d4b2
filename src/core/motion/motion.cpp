#include "core/motion/motion.hpp"

namespace stasis {
namespace {

template<class Kind> const Kind* head_as(const Motion& motion) noexcept {
  if (const auto* plain = std::get_if<Kind>(&motion)) return plain;
  const auto* chain = std::get_if<Chain>(&motion);
  return chain != nullptr && chain->head ? std::get_if<Kind>(&*chain->head) : nullptr;
}

} // namespace

std::string_view kind_of(const Motion& motion) noexcept {
  return std::visit([](const auto& kind) { return kind.name(); }, motion);
}
MotionFacts facts_of(const Motion& motion) {
  return std::visit([](const auto& kind) { return kind.facts(); }, motion);
}
MotionTraits traits_of(const Motion& motion) noexcept {
  return std::visit([](const auto& kind) { return kind.traits(); }, motion);
}
std::string sentence_of(const Motion& motion, bool in_doublings) {
  return std::visit([&](const auto& kind) { return kind.sentence(in_doublings); }, motion);
}
std::vector<EquivalentForm> forms_of(const Motion& motion) {
  return std::visit([](const auto& kind) { return kind.forms(); }, motion);
}

const Ease* ease_of(const Motion& motion) noexcept { return head_as<Ease>(motion); }
const Pace* pace_of(const Motion& motion) noexcept { return head_as<Pace>(motion); }

Motion slowed(const Motion& motion, double times) noexcept {
  return std::visit([&](const auto& kind) -> Motion { return kind.slowed(times); }, motion);
}

double wait_of(const Motion& motion) noexcept {
  const auto* chain = std::get_if<Chain>(&motion);
  return chain == nullptr ? 0.0 : chain->delay;
}

} // namespace stasis
