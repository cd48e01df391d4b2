#include "core/explain/motion_form.hpp"

#include <cmath>
#include <numbers>

#include "core/motion/spring_design.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr std::array<MotionForm, 7> forms{{{"half_life", "", false},
                                           {"time_constant", "", false},
                                           {"rate", "", false},
                                           {"settling_time", "", false},
                                           {"frequency", "damping_ratio", true},
                                           {"stiffness", "damping", true},
                                           {"settling_time", "overshoot", true}}};

double of_glide(std::string_view key, double rate) noexcept {
  if (key == "half_life") return std::numbers::ln2 / rate;
  if (key == "time_constant") return 1.0 / rate;
  if (key == "rate") return rate;
  return -std::log(default_settle_share) / rate;
}

} // namespace

std::optional<MotionForm> form_named(std::string_view key, const Motion& motion) noexcept {
  const bool is_spring = std::holds_alternative<Spring>(motion);
  std::optional<MotionForm> found;
  for (const MotionForm& form : forms)
    if (form.first == key && (!found || form.is_spring == is_spring)) found = form;
  return found;
}

tl::expected<FormNumbers, std::string_view> numbers_in(const MotionForm& form, const Motion& motion) {
  const auto* glide = std::get_if<Glide>(&motion);
  const auto* spring = std::get_if<Spring>(&motion);
  if (glide == nullptr && spring == nullptr)
    return tl::unexpected(std::string_view("only a glide and a spring can be given in other forms"));
  const double time = glide != nullptr
                          ? -std::log(default_settle_share) / glide->rate
                          : settling_angle(spring->damping_ratio, default_settle_share) / spring->angular_frequency;
  if (!(time > 0.0) || !std::isfinite(time))
    return tl::unexpected(std::string_view("it never settles, so no other kind settles in the same time"));
  FormNumbers out;
  out.is_same_motion = form.is_spring == (spring != nullptr);
  if (!form.is_spring) {
    out.first = of_glide(form.first, glide != nullptr ? glide->rate : -std::log(default_settle_share) / time);
    return out;
  }
  const double ratio = spring != nullptr ? spring->damping_ratio : 1.0;
  const double w = spring != nullptr ? spring->angular_frequency : settling_angle(ratio, default_settle_share) / time;
  if (form.first == "frequency") {
    out.first = natural_frequency_hz(w);
    out.second = ratio;
  } else if (form.first == "stiffness") {
    out.first = w * w;
    out.second = 2.0 * ratio * w;
  } else {
    if (ratio > 1.0)
      return tl::unexpected(
          std::string_view("above a damping ratio of 1 its overshoot says nothing of how it creeps in"));
    out.first = time;
    out.second = ratio < 1.0 ? 100.0 * overshoot_of(ratio) : 0.0;
  }
  return out;
}

} // namespace stasis
