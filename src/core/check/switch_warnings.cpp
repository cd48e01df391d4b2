// What can look wrong with switches.
#include <fmt/format.h>

#include "core/check/warning.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

/// Where its own pose sends what a switch looks at; nothing if it leaves it alone.
std::optional<double> own_goal(const Feel& feel, const Switch& one) {
  const Channel& channel = feel.channels[one.on.channel];
  const double rest = channel.rest[one.on.component];
  if (!one.pose) return std::nullopt;
  for (const PoseGoal& goal : feel.poses[*one.pose].goals)
    if (goal.channel == one.on.channel && goal.value[one.on.component].rule != GoalRule::none)
      return goal.value[one.on.component].of(rest);
  return std::nullopt;
}

/// True if something else sends the channel somewhere, so that it may get out after all.
bool has_other_way(const Feel& feel, const Switch& one) {
  for (const Control& control : feel.controls)
    if (drives(feel, control, one.on.channel)) return true;
  for (const Switch& other : feel.switches)
    if (&other != &one && other.pose)
      for (const PoseGoal& goal : feel.poses[*other.pose].goals)
        if (goal.channel == one.on.channel) return true;
  return false;
}

Warning warning_of(std::string_view code, const Switch& one, std::string message, std::string take = {}) {
  return {std::string(code), one.name, std::move(take), std::move(message), {}};
}

} // namespace

void warn_of_switches(const Feel& feel, std::vector<Warning>& out) {
  for (const Switch& one : feel.switches) {
    if (one.enter == one.leave)
      out.push_back(warning_of("switch_without_gap", one,
                               fmt::format("{} goes on and off at the same {}", one.name, concise(one.enter))));
    const auto goal = own_goal(feel, one);
    const bool would_leave = goal && (one.below ? *goal > one.leave : *goal < one.leave);
    if (goal && !would_leave && !has_other_way(feel, one))
      out.push_back(warning_of(
          "switch_never_leaves", one,
          fmt::format("when {} is on, its pose {} holds {} at {}, which is not {} {}, where it would go off", one.name,
                      feel.poses[*one.pose].name, component_name(feel.channels[one.on.channel], one.on.component),
                      concise(*goal), one.below ? "above" : "below", concise(one.leave))));
  }
}

void warn_of_switches(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out) {
  for (std::size_t s = 0; s < feel.switches.size(); ++s) {
    const Switch& one = feel.switches[s];
    const SwitchSummary& did = measures.switches[s];
    constexpr std::int64_t by_chance = 1;                                   // once may be the play's own doing
    if (did.quick_returns <= by_chance || one.enter == one.leave) continue; // of that there is a warning already
    out.push_back(warning_of(
        "switch_flips", one,
        fmt::format(
            "{} goes on or off {} times, {} of them within {} s of the last, first at {} s; its gap of {} is too small",
            one.name, did.flips, did.quick_returns, concise(quick_return), readable(did.first_return_at),
            concise(std::fabs(one.leave - one.enter))),
        take.name));
  }
}

} // namespace stasis
