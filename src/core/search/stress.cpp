#include "core/search/stress.hpp"

#include <algorithm>
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "core/random.hpp"
#include "core/search/stress_watch.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis {

namespace {

/// What is said of a kind of trouble, once.
struct TroubleWords {
  Trouble trouble;
  std::string_view name, words;
  bool is_about_control;
};
constexpr std::array<TroubleWords, trouble_count> troubles{
    TroubleWords{Trouble::no_number, "no_number", "becomes no number", false},
    TroubleWords{Trouble::out_of_range, "out_of_range", "leaves its range", false},
    TroubleWords{Trouble::in_between, "in_between", "drifts: it stops at a value the feel never names", false},
    TroubleWords{Trouble::still_moving, "still_moving", "is still moving when it should be at rest", false},
    TroubleWords{Trouble::jolt, "jolt", "jolts: its speed jumps although its motion lets none jump", false},
    TroubleWords{Trouble::lost_press, "lost_press", "loses presses: one changed nothing", true},
    TroubleWords{Trouble::double_press, "double_press",
                 "runs to its end by itself: a key that was held counted as pressed twice", true},
    TroubleWords{Trouble::frame_rate, "frame_rate",
                 "ends elsewhere at another frame rate: a control acts on every frame", false},
    TroubleWords{Trouble::overshoot, "overshoot", "overshoots: on a long frame its rule goes beyond its goal", false},
};
constexpr bool are_in_order() {
  for (std::size_t k = 0; k < trouble_count; ++k)
    if (troubles[k].trouble != static_cast<Trouble>(k)) return false;
  return true;
}
static_assert(are_in_order());
const TroubleWords& words_of(Trouble trouble) noexcept { return troubles[static_cast<std::size_t>(trouble)]; }

} // namespace

std::string_view name_of(Trouble trouble) noexcept { return words_of(trouble).name; }
std::string_view in_words(Trouble trouble) noexcept { return words_of(trouble).words; }
bool is_about_control(Trouble trouble) noexcept { return words_of(trouble).is_about_control; }

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
  switch (facts_of(feel_.controls[button.control]).moved_by) {
  case CueAction::press: press(); break;
  case CueAction::click:
    if (random.below(4) == 0) { // a key that clicks
      press();
      break;
    }
    action.action = CueAction::click;
    action.amount = (random.below(2) == 0 ? -1.0 : 1.0) * static_cast<double>(1 + random.below(4));
    break;
  case CueAction::pointer:
    action.action = CueAction::pointer;
    action.amount = std::round(400.0 * (random.share() - 0.5));
    break;
  case CueAction::stick:
    action.action = CueAction::stick;
    action.amount = std::round(20.0 * (random.share() - 0.5)) / 10.0;
    stay();
    break;
  case CueAction::release:
  case CueAction::cancel:
  case CueAction::lock:
  case CueAction::unlock:
  case CueAction::goal:
  case CueAction::follow:
  case CueAction::hit:
  case CueAction::start:
  case CueAction::skip: break; // by none of these does a hand move a control
  }
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
    for (std::size_t k = 1 + random.below(3); k > 0; --k) play.stalls.push_back(stall_of(random, play));
    std::stable_sort(play.stalls.begin(), play.stalls.end(),
                     [](const Stall& a, const Stall& b) { return a.at < b.at; });
  }
  return play;
}

/// A frame that takes longer: anywhere, or the very one after something was done, where it hurts most.
Stall Stress::stall_of(Random& random, const StressPlay& play) const {
  constexpr double shortest = 5.0, longest = 55.0, a_second = 100.0;
  double when = std::round(a_second * rules_.hands_on * random.share()) / a_second;
  const double length = std::round(shortest + (longest - shortest) * random.share()) / a_second;
  if (random.below(2) == 0 && !play.actions.empty()) {
    const HandAction& one = play.actions[random.below(play.actions.size())];
    when = one.at + (random.below(2) == 0 ? one.held : 0.0) + 1.0 / play.fps;
  }
  return {when, length};
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
  std::vector<TroubleFound> found = watch.take();
  const bool goes_by_frames = std::any_of(play.actions.begin(), play.actions.end(), [&](const HandAction& action) {
    return frame_habit_of(feel_.controls[action.control]) != FrameHabit::none;
  });
  if (goes_by_frames) compare_rates(play, watch.last_wishes(), found);
  return found;
}

/// The same hands at twice the frame rate must send everything to the same places.
void Stress::compare_rates(const StressPlay& play, const std::vector<std::vector<double>>& wishes,
                           std::vector<TroubleFound>& found) const {
  StressPlay finer = play;
  finer.fps *= 2.0;
  const Take take = take_of(finer, "found");
  StressWatch watch(named_);
  BlockSink* const sinks[] = {&watch};
  const Clock clock = clock_of(take);
  stasis::play({&feel_, &take, clock}, sinks);
  const std::vector<std::vector<double>> then = watch.last_wishes();
  constexpr double alike = 1e-9;
  for (std::size_t c = 0; c < wishes.size(); ++c)
    for (std::size_t i = 0; i < wishes[c].size(); ++i) {
      const double a = wishes[c][i], b = then[c][i];
      if (std::fabs(a - b) <= alike * std::max({1.0, std::fabs(a), std::fabs(b)})) continue;
      found.push_back({Trouble::frame_rate, c, a, clock.time(clock.frames - 1)});
      break;
    }
}

bool Stress::shows(const StressPlay& play, const TroubleFound& trouble) const {
  const auto found = troubles_of(play);
  return std::any_of(found.begin(), found.end(), [&](const TroubleFound& one) {
    return one.trouble == trouble.trouble && one.about == trouble.about;
  });
}

StressPlay Stress::shrunk(StressPlay play, const TroubleFound& trouble) const {
  const Attempt attempt = [&](const StressPlay& simpler) {
    if (!shows(simpler, trouble)) return false;
    play = simpler;
    return true;
  };
  join_clicks(play, attempt);
  pick_few(play, attempt);
  leave_out(play, attempt);
  join_clicks(play, attempt);
  StressPlay usual = play;
  usual.fps = 60.0;
  attempt(usual);
  for (std::size_t k = 0; k < play.actions.size(); ++k) make_round(play, k, attempt);
  make_stalls_round(play, attempt);
  return play;
}

/// One, two or three of the actions, where those do: the first few that show it.
void Stress::pick_few(StressPlay& play, const Attempt& attempt) {
  const std::vector<HandAction> all = play.actions;
  const auto only = [&](std::initializer_list<std::size_t> some) {
    StressPlay simpler = play;
    simpler.actions.clear();
    for (const std::size_t k : some) simpler.actions.push_back(all[k]);
    return attempt(simpler);
  };
  for (std::size_t a = 0; a < all.size() && all.size() > 1; ++a)
    if (only({a})) return;
  for (std::size_t a = 0; a < all.size() && all.size() > 2; ++a)
    for (std::size_t b = a + 1; b < all.size(); ++b)
      if (only({a, b})) return;
  for (std::size_t a = 0; a < all.size() && all.size() > 3; ++a)
    for (std::size_t b = a + 1; b < all.size(); ++b)
      for (std::size_t c = b + 1; c < all.size(); ++c)
        if (only({a, b, c})) return;
}

/// Fewer actions and stalls: one after another is left out, again until none can be.
void Stress::leave_out(StressPlay& play, const Attempt& attempt) {
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
}

/// Clicks of one control as one larger count.
void Stress::join_clicks(StressPlay& play, const Attempt& attempt) {
  for (std::size_t a = 0; a < play.actions.size(); ++a)
    for (std::size_t b = a + 1; b < play.actions.size(); ++b) {
      const HandAction &one = play.actions[a], &other = play.actions[b];
      const bool counts = one.action == CueAction::click || one.action == CueAction::pointer;
      if (!counts || one.action != other.action || one.control != other.control) continue;
      for (const double amount : {one.amount + other.amount, one.amount - other.amount}) {
        StressPlay simpler = play;
        simpler.actions[a].amount = amount;
        simpler.actions.erase(simpler.actions.begin() + static_cast<std::ptrdiff_t>(b));
        if (amount != 0.0 && attempt(simpler)) {
          --b;
          break;
        }
      }
    }
}

/// Rounder numbers, and no cancel where a release does.
void Stress::make_round(StressPlay& play, std::size_t k, const Attempt& attempt) {
  StressPlay simpler = play;
  simpler.actions[k].cancelled = false;
  if (play.actions[k].cancelled) attempt(simpler);
  // What comes later keeps its distance, so that the order stays.
  for (const double grid : {0.5, 0.1, 0.05, 0.01}) {
    simpler = play;
    const double began = play.actions[k].at;
    const double shift = std::max(grid, std::round(began / grid) * grid) - began;
    for (std::size_t later = k; later < simpler.actions.size(); ++later) simpler.actions[later].at += shift;
    for (Stall& stall : simpler.stalls)
      if (stall.at >= began) stall.at += shift;
    const bool in_order = k == 0 || simpler.actions[k].at > play.actions[k - 1].at + play.actions[k - 1].held;
    if (in_order && attempt(simpler)) break;
  }
  for (const double held : {0.1, 0.05, 0.2, 0.5, std::round(play.actions[k].held * 100.0) / 100.0}) {
    simpler = play;
    simpler.actions[k].held = held;
    if (play.actions[k].held > 0.0 && held > 0.0 && held <= play.actions[k].held && attempt(simpler)) break;
  }
  simpler = play;
  constexpr double fine = 1000.0;
  simpler.actions[k].at = std::round(play.actions[k].at * fine) / fine;
  simpler.actions[k].held = std::round(play.actions[k].held * fine) / fine;
  attempt(simpler);
}

/// Stalls come right after something was done, where that shows it too: there they show it best.
void Stress::make_stalls_round(StressPlay& play, const Attempt& attempt) {
  for (std::size_t k = 0; k < play.stalls.size(); ++k) {
    const auto put_after = [&](double when) {
      StressPlay simpler = play;
      simpler.stalls[k].at = when + 1.0 / play.fps;
      return attempt(simpler);
    };
    for (const HandAction& action : std::vector<HandAction>(play.actions))
      if (put_after(action.at) || put_after(action.at + action.held)) break;
    for (const double a_second : {100.0, 1000.0}) {
      StressPlay simpler = play;
      simpler.stalls[k].at = std::ceil(play.stalls[k].at * a_second) / a_second;
      if (attempt(simpler)) break;
    }
    for (const double length : {0.1, 0.2, 0.3, 0.5}) {
      StressPlay simpler = play;
      simpler.stalls[k].length = length;
      if (length <= play.stalls[k].length && attempt(simpler)) break;
    }
  }
}

} // namespace stasis
