#include "core/search/stress.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/overloaded.hpp"
#include "core/random.hpp"
#include "core/search/stress_watch.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis {

std::string_view name_of(Trouble trouble) noexcept {
  constexpr std::array<std::string_view, trouble_count> names{"no_number",    "out_of_range", "in_between",
                                                              "still_moving", "jolt",         "lost_press"};
  return names[static_cast<std::size_t>(trouble)];
}

std::string_view in_words(Trouble trouble) noexcept {
  constexpr std::array<std::string_view, trouble_count> words{
      "becomes no number",
      "leaves its range",
      "drifts: it stops at a value the feel never names",
      "is still moving when it should be at rest",
      "jolts: its speed jumps although its motion lets none jump",
      "loses presses: one changed nothing"};
  return words[static_cast<std::size_t>(trouble)];
}

Stress::Stress(const Feel& feel, const StressRules& rules) : feel_(feel), rules_(rules) {
  for (std::size_t c = 0; c < feel.controls.size(); ++c) {
    const std::size_t own = feel.controls[c].buttons.size();
    for (std::size_t b = 0; b < std::max<std::size_t>(own, 1); ++b) buttons_.push_back({c, own == 0 ? 0 : b});
  }
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    auto& components = named_.emplace_back();
    for (std::size_t i = 0; i < feel.channels[c].components; ++i) components.push_back(named_values(feel, {c, i}));
  }
}

/// What a hand does with one control, at random.
HandAction Stress::action_of(Random& random, Button button, double at, double hurry) const {
  HandAction action;
  action.control = button.control;
  action.button = button.button;
  action.at = at;
  const auto stay = [&] { action.held = 0.02 + hurry * random.share(); };
  const auto press = [&] {
    stay();
    action.cancelled = random.below(5) == 0;
  };
  std::visit(Overloaded{
                 [&](const Hold&) { press(); },
                 [&](const Toggle&) { press(); },
                 [&](const Cycle&) { press(); },
                 [&](const Mirror&) { press(); },
                 [&](const Clicks&) {
                   if (random.below(4) == 0) return press(); // a key that clicks
                   action.action = CueAction::click;
                   action.amount = (random.below(2) == 0 ? -1.0 : 1.0) * static_cast<double>(1 + random.below(4));
                 },
                 [&](const Pointer&) {
                   action.action = CueAction::pointer;
                   action.amount = std::round(400.0 * (random.share() - 0.5));
                 },
                 [&](const Stick&) {
                   action.action = CueAction::stick;
                   action.amount = std::round(20.0 * (random.share() - 0.5)) / 10.0;
                   stay();
                 },
                 [](const Starter&) {},
             },
             feel_.controls[button.control].rule);
  return action;
}

StressPlay Stress::play_of(std::uint64_t number) const {
  constexpr std::array rates{24.0, 30.0, 60.0, 60.0, 120.0, 144.0};
  Random random(rules_.seed * 0x2545f4914f6cdd1du + number);
  random.next();
  StressPlay play;
  play.fps = rates[random.below(rates.size())];
  const double hurry = std::pow(10.0, -1.5 * random.share()); // from calm to mashing
  const std::size_t count = 1 + random.below(10);
  const bool one_only = random.below(3) == 0;
  Button chosen = buttons_[random.below(buttons_.size())];
  double at = 0.1;
  std::vector<double> free_at(feel_.controls.size(), 0.0); // a button that is down cannot be pressed
  for (std::size_t k = 0; k < count; ++k) {
    if (!one_only) chosen = buttons_[random.below(buttons_.size())];
    at += 0.01 + hurry * random.share();
    if (at > rules_.hands_on) break;
    const HandAction action = action_of(random, chosen, std::max(at, free_at[chosen.control]), hurry);
    if (action.held > 0.0) free_at[chosen.control] = action.at + action.held + 0.01;
    play.actions.push_back(action);
  }
  std::stable_sort(play.actions.begin(), play.actions.end(),
                   [](const HandAction& a, const HandAction& b) { return a.at < b.at; });
  if (random.below(4) == 0) {
    constexpr double longest = 0.5; // s
    for (std::size_t k = 1 + random.below(3); k > 0; --k) {
      const double when = std::round(100.0 * rules_.hands_on * random.share()) / 100.0;
      play.stalls.push_back({when, 0.05 + std::round(100.0 * longest * random.share()) / 100.0});
    }
    std::stable_sort(play.stalls.begin(), play.stalls.end(),
                     [](const Stall& a, const Stall& b) { return a.at < b.at; });
  }
  return play;
}

double Stress::length_of(const StressPlay& play) const {
  double last = 0.0;
  for (const HandAction& action : play.actions) last = std::max(last, action.at + action.held);
  for (const Stall& stall : play.stalls) last = std::max(last, stall.at) + stall.length;
  // What turns back to a heading does so once nobody has touched it for a while.
  double turns_after = 0.0;
  for (const Channel& channel : feel_.channels)
    if (channel.realign) turns_after = std::max(turns_after, channel.realign->wait);
  return last + turns_after + rules_.still_after;
}

Take Stress::take_of(const StressPlay& play, std::string name) const {
  Take take;
  take.name = std::move(name);
  take.fps = play.fps;
  take.length = length_of(play);
  take.disturbance.stalls = play.stalls;
  for (const HandAction& action : play.actions) {
    take.cues.push_back({action.at, action.action, action.control, action.button, action.amount, {}});
    if (action.action == CueAction::stick)
      take.cues.push_back({action.at + action.held, CueAction::stick, action.control, 0, 0.0, {}});
    if (action.action == CueAction::press)
      take.cues.push_back({action.at + action.held,
                           action.cancelled ? CueAction::cancel : CueAction::release,
                           action.control,
                           action.button,
                           1.0,
                           {}});
  }
  std::stable_sort(take.cues.begin(), take.cues.end(), [](const Cue& a, const Cue& b) { return a.at < b.at; });
  return take;
}

std::string Stress::text_of(const StressPlay& play, std::string_view name) const {
  std::string stalls;
  for (const Stall& stall : play.stalls)
    stalls += fmt::format("{}[{}, {}]", stalls.empty() ? "" : ", ", shortest(stall.at), shortest(stall.length));
  if (!stalls.empty()) stalls = fmt::format(", stalls = [{}]", stalls);
  std::string text = fmt::format("[take.{}]\nlength = {}\nclock = {{ fps = {}{} }}\ncues = [\n", name,
                                 shortest(std::ceil(10.0 * length_of(play)) / 10.0), shortest(play.fps), stalls);
  for (const HandAction& action : play.actions) {
    const Control& control = feel_.controls[action.control];
    const std::string& button = action.button < control.buttons.size() ? control.buttons[action.button] : control.name;
    if (action.action == CueAction::click)
      text += fmt::format("  {{ at = {}, click = \"{}\", count = {} }},\n", shortest(action.at), control.name,
                          action.amount);
    else if (action.action == CueAction::pointer)
      text += fmt::format("  {{ at = {}, pointer = \"{}\", counts = {} }},\n", shortest(action.at), control.name,
                          action.amount);
    else if (action.action == CueAction::stick)
      text += fmt::format("  {{ at = {}, stick = \"{}\", value = {}, for = {} }},\n", shortest(action.at), control.name,
                          shortest(action.amount), shortest(action.held));
    else if (action.cancelled)
      text += fmt::format("  {{ at = {}, press = \"{}\" }}, {{ at = {}, cancel = \"{}\" }},\n", shortest(action.at),
                          button, shortest(action.at + action.held), control.name);
    else
      text += fmt::format("  {{ at = {}, press = \"{}\", for = {} }},\n", shortest(action.at), button,
                          shortest(action.held));
  }
  return text + "]\n";
}

std::vector<TroubleFound> Stress::troubles_of(const StressPlay& play) const {
  const Take take = take_of(play, "found");
  StressWatch watch(named_);
  BlockSink* const sinks[] = {&watch};
  stasis::play({&feel_, &take, clock_of(take)}, sinks);
  return watch.take();
}

bool Stress::shows(const StressPlay& play, const TroubleFound& trouble) const {
  const auto found = troubles_of(play);
  return std::any_of(found.begin(), found.end(), [&](const TroubleFound& one) {
    return one.trouble == trouble.trouble && one.about == trouble.about;
  });
}

StressPlay Stress::shrunk(StressPlay play, const TroubleFound& trouble) const {
  const auto attempt = [&](const StressPlay& simpler) {
    if (!shows(simpler, trouble)) return false;
    play = simpler;
    return true;
  };
  // Fewer actions: one after another is left out, again until none can be.
  for (bool fewer = true; fewer;) {
    fewer = false;
    for (std::size_t k = 0; k < play.actions.size(); ++k) {
      StressPlay simpler = play;
      simpler.actions.erase(simpler.actions.begin() + static_cast<std::ptrdiff_t>(k));
      if (attempt(simpler)) fewer = true, --k;
    }
  }
  for (std::size_t k = 0; k < play.stalls.size(); ++k) {
    StressPlay simpler = play;
    simpler.stalls.erase(simpler.stalls.begin() + static_cast<std::ptrdiff_t>(k));
    if (attempt(simpler)) --k;
  }
  StressPlay usual = play;
  usual.fps = 60.0;
  attempt(usual);
  // Rounder numbers, and no cancel where a release does.
  for (std::size_t k = 0; k < play.actions.size(); ++k) {
    StressPlay simpler = play;
    simpler.actions[k].cancelled = false;
    if (play.actions[k].cancelled) attempt(simpler);
    // What comes later keeps its distance, so that the order stays.
    for (const double grid : {0.5, 0.1, 0.05, 0.01}) {
      simpler = play;
      const double shift = std::max(grid, std::round(play.actions[k].at / grid) * grid) - play.actions[k].at;
      for (std::size_t later = k; later < simpler.actions.size(); ++later) simpler.actions[later].at += shift;
      const bool in_order = k == 0 || simpler.actions[k].at > play.actions[k - 1].at + play.actions[k - 1].held;
      if (in_order && attempt(simpler)) break;
    }
    for (const double held : {0.1, 0.05, 0.2, std::round(play.actions[k].held * 100.0) / 100.0}) {
      simpler = play;
      simpler.actions[k].held = held;
      if (play.actions[k].held > 0.0 && held > 0.0 && attempt(simpler)) break;
    }
    simpler = play;
    constexpr double fine = 1000.0;
    simpler.actions[k].at = std::round(play.actions[k].at * fine) / fine;
    simpler.actions[k].held = std::round(play.actions[k].held * fine) / fine;
    attempt(simpler);
  }
  return play;
}

} // namespace stasis
