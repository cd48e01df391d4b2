#include "support/random_feels.hpp"

#include <algorithm>
#include <cmath>
#include <optional>
#include <tuple>
#include <utility>

#include <fmt/format.h>

namespace stasis::test {
namespace {

/// What each of some calls makes, from the last to the first: in which order a compiler makes the arguments of a call
/// is its own affair, and the feel of a seed is to be the same everywhere.
template<class... Make> auto last_to_first(Make... make) {
  std::tuple<std::optional<decltype(make())>...> made;
  const auto calls = std::tie(make...);
  [&]<std::size_t... K>(std::index_sequence<K...>) {
    constexpr std::size_t last = sizeof...(K) - 1;
    (std::get<last - K>(made).emplace(std::get<last - K>(calls)()), ...);
  }
  (std::make_index_sequence<sizeof...(Make)>{});
  return std::apply([](auto&... one) { return std::tuple(std::move(*one)...); }, made);
}

template<class... Make> std::string filled(std::string_view text, Make... make) {
  return std::apply([&](const auto&... one) { return fmt::format(fmt::runtime(text), one...); },
                    last_to_first(make...));
}

} // namespace

double FeelMaker::between(double low, double high) {
  return low + (high - low) * (static_cast<double>(random_() >> 11) * 0x1p-53);
}

double FeelMaker::round_number() {
  const double all[] = {0.05, 0.1, 0.125, 0.15, 0.2, 0.25, 0.3, 0.4, 0.5, 0.6, 0.75};
  return one_of(all);
}

double FeelMaker::time() { return once_in(2) ? round_number() : between(0.04, 0.7); }

std::string FeelMaker::glide() { return fmt::format("{{ kind = \"glide\", half_life = {} }}", between(0.02, 0.3)); }

std::string FeelMaker::spring() {
  const char* const resist[] = {"speed", "gap"};
  return filled(
      "{{ kind = \"spring\", frequency = {}, damping_ratio = {}, resist = \"{}\" }}", [&] { return between(0.8, 5); },
      [&] { return once_in(6) ? 1.0 : between(0.15, 2.5); }, [&] { return one_of(resist); });
}

std::string FeelMaker::curve() {
  const char* const stock[] = {"linear",
                               "ease",
                               "ease-in",
                               "ease-out",
                               "ease-in-out",
                               "in sine",
                               "out sine",
                               "in-out sine",
                               "in power 2",
                               "in power 3",
                               "out power 3",
                               "in-out power 4",
                               "in exp 8",
                               "out exp",
                               "in circle",
                               "out circle",
                               "in-out circle",
                               "out back 1.7",
                               "in back 1.7",
                               "out elastic",
                               "in elastic 5",
                               "out bounce",
                               "in bounce",
                               "steps(4)",
                               "in power 1.5",
                               "linear(0, 0.3 20%, 1)",
                               "linear(0, 1.2 60%, 1)",
                               "steps(3, jump-start)",
                               "cubic-bezier(0, 1, 0.3, 1)",
                               "cubic-bezier(1, 0, 0, 1)",
                               "linear(0, 0.8)"};
  if (!once_in(4)) return one_of(stock);
  const auto time = [&] { return between(0, 1); };
  const auto way = [&] { return between(-0.5, 1.5); };
  return filled("cubic-bezier({:.3f}, {:.3f}, {:.3f}, {:.3f})", time, way, time, way);
}

std::string FeelMaker::ease() {
  std::string text = filled(
      "{{ kind = \"ease\", duration = {}, curve = \"{}\"", [&] { return time(); }, [&] { return curve(); });
  if (once_in(4)) text += fmt::format(", delay = {}", time());
  if (once_in(6)) {
    text += once_in(2) ? ", there_and_back = true" : ", repeat = 2";
  } else {
    const char* const handovers[] = {"restart", "pro_rata", "carry", "finish_first"};
    text += fmt::format(", handover = \"{}\"", one_of(handovers));
  }
  return text + " }";
}

std::string FeelMaker::pace() {
  if (once_in(4)) return fmt::format("{{ kind = \"pace\", speed = {} }}", between(0.8, 5));
  return filled(
      "{{ kind = \"pace\", speed = {}, acceleration = {} }}", [&] { return between(0.8, 5); },
      [&] { return between(4, 60); });
}

std::string FeelMaker::stages() {
  std::string list;
  const auto add = [&](const std::string& one) { list += (list.empty() ? "" : ", ") + one; };
  if (once_in(2)) add(fmt::format("{{ kind = \"delay\", delay = {} }}", time()));
  const auto head = random_() % 3;
  if (head == 0) add(ease());
  if (head == 1) add(pace());
  const std::size_t links = (list.empty() ? 1 : 0) + random_() % 3;
  for (std::size_t i = 0; i < links; ++i) add(once_in(2) ? glide() : spring());
  return "{ kind = \"stages\", stages = [" + list + "] }";
}

std::string FeelMaker::per_frame() {
  switch (random_() % 4) {
  case 0:
    return fmt::format("{{ kind = \"per_frame\", rule = \"fraction\", fraction = {}, at_fps = 60 }}",
                       between(0.02, 0.9));
  case 1: return fmt::format("{{ kind = \"per_frame\", rule = \"product\", rate = {}, at_fps = 60 }}", between(2, 20));
  case 2:
    return fmt::format("{{ kind = \"per_frame\", rule = \"amount\", amount = {}, at_fps = 60 }}", between(0.01, 0.5));
  default:
    return filled(
        "{{ kind = \"per_frame\", rule = \"spring_step\", stiffness = {}, damping = {}, at_fps = 60 }}",
        [&] { return between(20, 400); }, [&] { return between(4, 40); });
  }
}

std::string FeelMaker::motion(bool may_wait) {
  if (kinds_.rules_of_frames && once_in(6)) return per_frame();
  for (;;) {
    const auto kind = random_() % 10;
    if (kind < 2) return glide();
    if (kind < 4) return spring();
    if (kind == 4) return pace();
    if (!may_wait) continue;
    if (kind < 7) return ease();
    if (kind == 7) return fmt::format("{{ kind = \"delay\", delay = {} }}", time());
    return stages();
  }
}

void FeelMaker::add_channel(std::size_t index) {
  MadeChannel channel;
  channel.name = fmt::format("c{}", index);
  channel.components = once_in(3) ? 2 + random_() % 2 : 1;
  const char* const spaces[] = {"linear", "linear", "ratio", "zoom", "turn"};
  channel.space = channel.components > 1 ? "linear" : one_of(spaces);
  const bool is_angle = channel.space == "zoom" || channel.space == "turn";
  channel.rest = channel.space == "zoom"   ? std::round(between(30, 80))
                 : channel.space == "turn" ? std::round(between(-150, 150))
                                           : std::round(between(10, 60)) / 10;
  channel.low = channel.space == "turn" ? -180 : channel.space == "zoom" ? 20 : 0.5;
  channel.high = channel.space == "turn" ? 180 : channel.space == "zoom" ? 100 : 8;
  channel.follows = kinds_.tracks && channel.components == 3;
  text_ +=
      fmt::format("[channel.{}]\nspace = \"{}\"\nunit = \"{}\"\n", channel.name, channel.space, is_angle ? "deg" : "m");
  if (channel.components == 1)
    text_ += fmt::format("rest = {}\n", channel.rest);
  else
    text_ += fmt::format("rest = [{}, {}{}]\n", channel.rest, channel.rest,
                         channel.components == 3 ? fmt::format(", {}", channel.rest) : "");
  if (!channel.follows && (channel.space == "zoom" || index == 0 || once_in(2)))
    text_ += fmt::format("range = [{}, {}]\n", channel.low, channel.high);
  if (once_in(5))
    text_ += once_in(2) ? "settle_band = 5\n" : is_angle ? "settle_band = \"0.5 deg\"\n" : "settle_band = \"2 cm\"\n";
  const bool may_wait = !channel.follows;
  if (channel.components == 1 && once_in(3))
    text_ += filled(
        "motion = {{ rising = {}, falling = {} }}\n", [&] { return motion(may_wait); },
        [&] { return motion(may_wait); });
  else if (!once_in(12))
    text_ += fmt::format("motion = {}\n", motion(may_wait));
  if (channel.follows) {
    text_ += "follow = { track = \"subject\"";
    if (once_in(2)) text_ += ", offset = [0, 0.5, 0]";
    text_ += " }\n";
  }
  channels_.push_back(channel);
}

std::string FeelMaker::value_for(const MadeChannel& channel) {
  const auto one = [&] {
    // Now and then the end of the range itself, beyond it, or the resting value.
    if (once_in(8)) return channel.high;
    if (once_in(10)) return channel.rest;
    return std::round(100 * between(channel.low, channel.high)) / 100;
  };
  if (channel.components == 1) {
    if (once_in(6)) return fmt::format("{{ times = {:.2f} }}", between(0.6, 1.6));
    return fmt::format("{}", one());
  }
  std::string text = filled("[{}, {}", one, one);
  return text + (channel.components == 3 ? fmt::format(", {}]", one()) : "]");
}

void FeelMaker::add_poses() {
  const std::size_t count = 2 + random_() % 3;
  for (std::size_t p = 0; p < count; ++p) {
    const std::string name = fmt::format("p{}", p);
    text_ += fmt::format("[pose.{}]\n", name);
    const bool has_motions = once_in(3);
    std::string entering, leaving;
    for (std::size_t c = 0; c < channels_.size(); ++c) {
      const MadeChannel& channel = channels_[c];
      if (c != p % channels_.size() && once_in(3)) continue;
      text_ += fmt::format("{} = {}\n", channel.name, value_for(channel));
      if (!has_motions || channel.follows) continue;
      entering += fmt::format("{}{} = {}", entering.empty() ? "" : ", ", channel.name, motion(true));
      leaving += fmt::format("{}{} = {}", leaving.empty() ? "" : ", ", channel.name, motion(true));
    }
    if (!entering.empty()) text_ += fmt::format("entering = {{ {} }}\nleaving = {{ {} }}\n", entering, leaving);
    poses_.push_back(name);
  }
}

void FeelMaker::add_controls() {
  for (std::size_t p = 0; p < poses_.size(); ++p) {
    const std::string name = fmt::format("k{}", p);
    const bool toggles = kinds_.controls && once_in(4);
    text_ += fmt::format("[control.{}]\nkind = \"{}\"\npose = \"{}\"\n", name, toggles ? "toggle" : "hold", poses_[p]);
    (toggles ? presses_ : holds_).push_back(name);
  }
  const MadeChannel& channel = channels_.front();
  if (kinds_.controls && channel.components == 1 && !channel.follows && once_in(2)) {
    text_ += fmt::format("[control.wheel]\nkind = \"clicks\"\nchannel = \"{}\"\nstep = {}\n", channel.name,
                         channel.space == "linear" || channel.space == "turn" ? 0.7 : 1.15);
    clicks_.push_back("wheel");
  }
  if (kinds_.sticks) {
    text_ += fmt::format("[control.stick]\nkind = \"stick\"\nchannel = \"{}\"\ngain = {}\n",
                         channels_.back().components == 1 ? channels_.back().name : channels_.back().name + ".x",
                         between(0.2, 2));
    sticks_.push_back("stick");
    if (channels_.front().components == 1 && !channels_.front().follows) {
      text_ += fmt::format("[control.mouse]\nkind = \"pointer\"\nchannel = \"{}\"\ngain = {}\n", channels_.front().name,
                           between(0.01, 0.2));
      pointers_.push_back("mouse");
    }
    const MadeChannel& read = channels_.front();
    text_ += filled(
        "[channel.led]\nunit = \"m\"\nrest = 1\nformula = \"1 + {} * {} + 0.5 * sin(time)\"\nmotion = {}\n",
        [&] { return between(-0.2, 0.2); }, [&] { return read.components == 1 ? read.name : read.name + ".x"; },
        [&] { return motion(false); });
  }
}

void FeelMaker::add_switch() {
  const MadeChannel& channel = channels_.front();
  const double middle = 0.5 * (channel.low + channel.high), gap = 0.1 * (channel.high - channel.low);
  text_ += fmt::format("[switch.near]\non = \"{}\"\npose = \"{}\"\nenter_below = {}\nleave_above = {}\n", channel.name,
                       poses_.back(), middle - gap, middle + gap);
}

/// Stops flown, eased, moved and cut through, of channels that come and go.
void FeelMaker::add_sequence() {
  const bool steady = once_in(3);
  std::string stops;
  const std::size_t count = 2 + random_() % 5;
  for (std::size_t k = 0; k < count; ++k) {
    std::string stop;
    for (const MadeChannel& channel : channels_)
      if (&channel == &channels_.front() || !once_in(3))
        stop += fmt::format("{} = {}, ", channel.name, value_for(channel));
    const auto way = random_() % 6;
    if (k > 0 || once_in(2)) stop += fmt::format("after = {:.2f}, ", between(0.1, 0.9));
    if (way == 0) stop += fmt::format("curve = \"{}\", ", once_in(2) ? "in-out sine" : "ease-out");
    if (way == 1) stop += fmt::format("motion = {}, ", motion(false));
    if (way == 2 && k > 0) stop += "cut = true, ";
    if (once_in(3)) stop += fmt::format("hold = {:.2f}, ", between(0.05, 0.4));
    stop.resize(stop.size() - 2);
    stops += fmt::format("  {{ {} }},\n", stop);
  }
  text_ += fmt::format("[sequence.tour]\nstops = [\n{}]\n", stops);
  if (steady) text_ += "steady = true\n";
  if (once_in(3)) text_ += "overshoot = false\n";
  if (once_in(4)) text_ += fmt::format("ease_in = {}\n", once_in(2) ? 0.0 : 0.2);
  if (once_in(4)) text_ += fmt::format("repeat = {}\n", random_() % 4);
  if (once_in(4)) text_ += "there_and_back = true\n";
  if (once_in(6)) text_ += "backward = true\n";
  if (once_in(4)) text_ += fmt::format("pace = {}\n", once_in(2) ? 2.0 : 0.7);
  if (once_in(3)) text_ += fmt::format("skipped_by = [\"{}\"]\n", (holds_.empty() ? presses_ : holds_).front());
}

std::string FeelMaker::start_and_skip(const std::vector<double>& times) {
  const std::size_t first = random_() % times.size();
  std::string list = fmt::format("  {{ at = {}, start = \"tour\" }},\n", times[first]);
  if (first + 1 < times.size() && once_in(2))
    list +=
        fmt::format("  {{ at = {}, skip = \"tour\" }},\n", times[first + 1 + random_() % (times.size() - first - 1)]);
  return list;
}

void FeelMaker::add_shake() {
  const MadeChannel& channel = channels_[random_() % channels_.size()];
  const std::string target = channel.components == 1 ? channel.name : "\"" + channel.name + ".y\"";
  const char* const waves[] = {"{ kind = \"noise\", frequency = 9 }", "{ kind = \"sines\", frequency = 6 }",
                               "{ kind = \"noise\", frequency = 4, octaves = 3 }", "{ kind = \"jitter\", rate = 15 }",
                               "{ kind = \"ring\", frequency = 5, damping_ratio = 0.15 }"};
  const std::string wave = one_of(waves);
  text_ += fmt::format("[shake.rattle]\non = {{ {} = 0.1 }}\nwave = {}\nseed = {}\n", target, wave, random_() % 1000);
  if (wave.find("ring") == std::string::npos) {
    const char* const decays[] = {"{ kind = \"half_life\", half_life = 0.15 }", "{ kind = \"linear\", duration = 0.6 }",
                                  "{ kind = \"power\", duration = 0.8, exponent = 2, attack = 0.05 }",
                                  "{ kind = \"eased\", duration = 0.5, curve = \"in-out sine\", hold = 0.1 }"};
    text_ += fmt::format("decay = {}\n", one_of(decays));
  }
  shakes_.push_back("rattle");
}

void FeelMaker::add_track() {
  const auto sideways = [&] { return between(-3, 3); };
  const auto ahead = [&] { return between(0.5, 4); };
  const auto some_time = [&] { return time(); };
  if (once_in(2))
    text_ += filled(
        "[track.subject]\nkind = \"line\"\nfrom = [0, 1, 0]\nvelocity = [{}, 0, {}]\nunit = \"m\"\nradius = 0.4\n",
        sideways, ahead);
  else
    text_ += filled("[track.subject]\nkind = \"stop_and_go\"\nfrom = [0, 1, 0]\nvelocity = [{}, 0, {}]\ngo = "
                    "{}\nstop = {}\nunit = \"m\"\nradius = 0.4\n",
                    sideways, ahead, some_time, some_time);
}

/// Cues at times of a grid that every clock shares, and the list of those times.
std::string FeelMaker::cues() {
  std::string list;
  std::vector<double> times;
  double at = 0.0;
  std::vector<bool> down(holds_.size(), false);
  const auto add = [&](const std::string& what) { list += fmt::format("  {{ at = {}, {} }},\n", at, what); };
  const std::size_t count = 3 + random_() % 6;
  for (std::size_t k = 0; k < count; ++k) {
    at = std::round(1000 * (at + (once_in(2) ? round_number() : between(0.05, 0.8)))) / 1000;
    times.push_back(at);
    const auto what = random_() % 8;
    if (what == 0 && !clicks_.empty()) {
      add(fmt::format("click = \"wheel\", count = {}", once_in(2) ? 1 : -2));
    } else if (what == 1 && !presses_.empty()) {
      const std::string name = presses_[random_() % presses_.size()];
      add(fmt::format("press = \"{}\"", name));
      add(fmt::format("release = \"{}\"", name));
    } else if (what == 2 && !shakes_.empty()) {
      add(fmt::format("hit = \"rattle\", strength = {:.2f}", between(0.3, 1.2)));
    } else if (what == 3 && !pointers_.empty() && once_in(2)) {
      add(fmt::format("pointer = \"mouse\", counts = {:.0f}", between(-40, 40)));
    } else if (what == 3 && !sticks_.empty()) {
      add(fmt::format("stick = \"stick\", value = {:.2f}", between(-1, 1)));
    } else if (!holds_.empty()) {
      const std::size_t h = random_() % holds_.size();
      add(fmt::format("{} = \"{}\"", !down[h] ? "press" : once_in(4) ? "cancel" : "release", holds_[h]));
      down[h] = !down[h];
    }
  }
  made_.length = std::round(1000 * (at + between(0.5, 3.0))) / 1000;
  made_.cue_times = times;
  return kinds_.sequences ? list + start_and_skip(times) : list;
}

RandomFeel FeelMaker::make() {
  text_.clear();
  channels_.clear();
  for (auto* names : {&poses_, &holds_, &presses_, &clicks_, &sticks_, &pointers_, &shakes_}) names->clear();
  made_ = {};
  const std::size_t count = 1 + random_() % 3;
  for (std::size_t c = 0; c < count; ++c) add_channel(c);
  if (std::any_of(channels_.begin(), channels_.end(), [](const MadeChannel& c) { return c.follows; })) add_track();
  add_poses();
  add_controls();
  if (kinds_.switches && channels_.front().components == 1 && channels_.front().space != "turn" && once_in(3))
    add_switch();
  if (kinds_.sequences) add_sequence();
  if (kinds_.shakes && once_in(3)) add_shake();
  const std::string list = cues();
  made_.text = text_ + fmt::format("[take.t]\nlength = {}\ncues = [\n{}]\n", made_.length, list);
  return made_;
}

} // namespace stasis::test
