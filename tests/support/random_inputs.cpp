#include "support/random_inputs.hpp"

#include <algorithm>
#include <cmath>
#include <initializer_list>
#include <random>
#include <vector>

#include <fmt/format.h>

namespace stasis::test {
namespace {

struct Target {
  std::string channel;
  double low, high;
  bool has_range, is_logarithmic;
};

class InputMaker {
public:
  explicit InputMaker(std::uint64_t seed) : random_(seed) {}

  std::string make() {
    add_channels();
    add_poses();
    add_buttons();
    add_mirror();
    add_wheel();
    add_stick();
    add_pointer();
    add_sequence();
    add_switch();
    add_shake();
    add_unless();
    for (const std::string& control : controls_) text_ += control;
    return text_ + take();
  }

private:
  double between(double low, double high) {
    return std::round(1000.0 * std::uniform_real_distribution(low, high)(random_)) / 1000.0;
  }
  bool once_in(unsigned n) { return random_() % n == 0; }
  template<class T> const T& one_of(const std::vector<T>& all) { return all[random_() % all.size()]; }
  std::string one_of(std::initializer_list<const char*> all) { return *(all.begin() + random_() % all.size()); }
  double value_of(const Target& one) {
    return between(one.low + 0.05 * (one.high - one.low), one.high - 0.05 * (one.high - one.low));
  }
  void may(unsigned n, std::string& text, const std::string& line) {
    if (once_in(n)) text += line + "\n";
  }

  std::string one_motion() {
    const std::string glide = fmt::format("{{ kind = \"glide\", half_life = {} }}", between(0.02, 0.3));
    switch (random_() % 6) {
    case 0: return glide;
    case 1:
      return fmt::format("{{ kind = \"spring\", frequency = {}, damping_ratio = {} }}", between(0.5, 4),
                         between(0.1, 2));
    case 2:
      return fmt::format("{{ kind = \"ease\", duration = {}, curve = \"{}\", handover = \"{}\" }}", between(0.1, 1),
                         one_of({"ease", "linear", "in-out power 3", "out elastic", "in back 1.7", "steps(5)"}),
                         one_of({"restart", "pro_rata", "carry", "finish_first"}));
    case 3: return fmt::format("{{ kind = \"pace\", speed = {}, acceleration = {} }}", between(1, 12), between(2, 40));
    case 4:
      return fmt::format("{{ kind = \"stages\", stages = [ {{ kind = \"delay\", delay = {} }}, {} ] }}",
                         between(0.05, 0.3), glide);
    default:
      return fmt::format("{{ kind = \"per_frame\", at_fps = 60, rule = \"fraction\", fraction = {} }}",
                         between(0.05, 0.4));
    }
  }

  std::string motion() {
    const std::string one = one_motion();
    return once_in(4) ? fmt::format("{{ rising = {}, falling = {} }}", one, one_motion()) : one;
  }

  void add_channels() {
    for (const char* const name : {"a", "b", "c"}) {
      const bool is_ratio = once_in(4), has_range = !once_in(4);
      const Target one{name, is_ratio ? 0.5 : -10.0, is_ratio ? 20.0 : 10.0, has_range, is_ratio};
      targets_.push_back(one);
      text_ += fmt::format("[channel.{}]\nrest = {}\nmotion = {}\n", name, value_of(one), motion());
      if (is_ratio) text_ += "space = \"ratio\"\n";
      if (has_range) text_ += fmt::format("range = [{}, {}]\n", one.low, one.high);
      may(8, text_, fmt::format("snap = {}", between(0.05, 1)));
    }
    if (once_in(3)) text_ += "[channel.f]\nrest = 0\nformula = \"0.5 * a - b.goal + h1\"\nmotion = " + motion() + "\n";
    free_ = targets_;
    std::shuffle(free_.begin(), free_.end(), random_);
  }

  void add_poses() {
    for (std::size_t p = 0; p < 3; ++p) {
      poses_.push_back(fmt::format("p{}", p));
      text_ += fmt::format("[pose.p{}]\n", p);
      for (std::size_t k = 0; k < targets_.size(); ++k)
        if (k == p || once_in(3)) {
          const double value = value_of(targets_[k]);
          text_ += fmt::format("{} = {}\n", targets_[k].channel,
                               once_in(3) ? fmt::format("{{ times = {} }}", between(0.5, 1.5)) : fmt::to_string(value));
        }
      may(4, text_, "entering = " + motion());
      may(4, text_, "leaving = " + motion());
      may(5, text_, "mirrors = false");
    }
  }

  void add_control(const std::string& name, const std::string& text) {
    names_.push_back(name);
    controls_.push_back(fmt::format("[control.{}]\n{}", name, text));
  }

  void add_buttons() {
    for (const char* const name : {"h0", "h1", "h2"}) {
      const std::string kind = one_of({"hold", "hold", "toggle", "cycle"});
      std::string text = fmt::format("kind = \"{}\"\n", kind);
      text += kind == "cycle" ? fmt::format("poses = [\"{}\", \"home\", \"{}\"]\n", one_of(poses_), one_of(poses_))
                              : fmt::format("pose = \"{}\"\n", one_of(poses_));
      if (kind == "hold") may(4, text, "on_release = \"stay\"");
      const bool has_two = once_in(4);
      if (has_two) text += fmt::format("buttons = [\"{0}x\", \"{0}y\"]\n", name);
      for (const char* const end : {"x", "y"}) presses_.push_back(has_two ? std::string(name) + end : name);
      add_control(name, text);
    }
    may(2, text_,
        fmt::format("[group.g]\ncontrols = [\"h0\", \"h1\", \"h2\"]\npolicy = \"{}\"",
                    one_of({"latest", "first", "neither", "sum", "ranked"})));
  }

  void add_mirror() {
    if (!once_in(3)) return;
    const Target one = taken();
    presses_.emplace_back("mir");
    add_control("mir", fmt::format("kind = \"cycle\"\nmirror = \"{}\"\ncentre = {}\nside = \"{}\"\n", one.channel,
                                   value_of(one), one_of({"stored", "what_is_there", "opposite_of_now"})));
  }
  void add_wheel() {
    if (free_.empty() || !free_.back().has_range || once_in(3)) return;
    const Target one = taken();
    std::string text = fmt::format("kind = \"clicks\"\nchannel = \"{}\"\nstep = {}\n", one.channel,
                                   one.is_logarithmic ? between(1.05, 1.4) : between(0.3, 4));
    may(2, text, fmt::format("double_within = {}", between(0.05, 0.4)));
    text += once_in(3)   ? fmt::format("repeat_every = {}\n", between(0.04, 0.4))
            : once_in(4) ? "every_frame = true\n"
                         : "";
    may(3, text, "repeats_double = true");
    may(3, text, "invert = true");
    may(3, text, fmt::format("start = {}", value_of(one)));
    presses_.emplace_back("wheel");
    add_control("wheel", text);
  }
  void add_stick() {
    if (free_.empty() || once_in(2)) return;
    const Target one = taken();
    std::string text = fmt::format("kind = \"stick\"\nchannel = \"{}\"\n", one.channel);
    if (one.has_range && once_in(3)) {
      text += "position = \"absolute\"\n";
    } else {
      text += fmt::format("gain = {}\nspin_up = {}\n", between(0.3, 5), between(0, 0.4));
      may(2, text, fmt::format("spin_down = {}", between(0.05, 0.5)));
      may(4, text, "runs_on = \"clock\"");
    }
    may(2, text, fmt::format("dead_band = {}", between(0, 0.3)));
    may(2, text, fmt::format("exponent = {}", between(0.5, 3)));
    may(3, text, "invert = true");
    add_control("stick", text);
  }
  void add_pointer() {
    if (free_.empty() || once_in(2)) return;
    const Target one = taken();
    std::string text =
        fmt::format("kind = \"pointer\"\nchannel = \"{}\"\ngain = {}\n", one.channel, between(0.005, 0.05));
    may(2, text, fmt::format("top_speed = {}", between(1, 10)));
    may(4, text, "times_frame_time = true");
    may(4, text, "runs_on = \"clock\"");
    add_control("mouse", text);
  }
  Target taken() {
    const Target one = free_.back();
    free_.pop_back();
    return one;
  }

  void add_sequence() {
    if (!once_in(3)) return;
    const Target& one = one_of(targets_);
    text_ += fmt::format("[sequence.s]\nstops = [ {{ at = {}, {} = {} }}, {{ at = {}, {} = {}{} }} ]\n",
                         between(0.1, 0.4), one.channel, value_of(one), between(0.6, 1.2), one.channel, value_of(one),
                         one_of({"", ", curve = \"in-out sine\"", ", cut = true", ", hold = 0.1"}));
    may(3, text_, "on_end = \"stay\"");
    may(4, text_, "there_and_back = true");
    may(4, text_, "ease_out = 0");
    may(4, text_, "pace = 1.5");
    may(3, text_, "leaving = { kind = \"glide\", half_life = 0.1 }");
    may(3, text_, "skipped_by = [\"h0\"]");
    presses_.emplace_back("go");
    add_control("go", "kind = \"sequence\"\nsequence = \"s\"\n");
  }
  void add_switch() {
    if (!once_in(3)) return;
    const Target& one = one_of(targets_);
    const double at = value_of(one), gap = between(0.1, 2);
    text_ += fmt::format("[switch.w]\non = \"{}\"\npose = \"{}\"\n", one.channel, one_of(poses_));
    text_ += once_in(2) ? fmt::format("enter_above = {}\nleave_below = {}\n", at, at - gap)
                        : fmt::format("enter_below = {}\nleave_above = {}\n", at, at + gap);
  }
  void add_shake() {
    if (!once_in(2)) return;
    text_ += fmt::format("[shake.k]\non = {{ {} = {} }}\nwave = {{ kind = \"{}\", frequency = {} }}\ndecay = {{ kind = "
                         "\"half_life\", half_life = {} }}\nstack = \"{}\"\n",
                         one_of(targets_).channel, between(0.1, 1), one_of({"noise", "sines"}), between(1, 8),
                         between(0.05, 0.5), one_of({"largest", "sum", "root_sum", "latest"}));
    may(3, text_, fmt::format("cap = {}", between(0.5, 1.5)));
    may(4, text_, fmt::format("always = true\nlevel = {}", between(0.1, 1)));
    may(4, text_, "runs_on = \"clock\"");
    has_shake_ = true;
  }
  void add_unless() {
    const std::size_t one = random_() % names_.size(), other = random_() % names_.size();
    if (one != other) controls_[one] += fmt::format("unless = \"{}\"\n", names_[other]);
  }
  bool has(const char* name) const { return std::find(names_.begin(), names_.end(), name) != names_.end(); }

  std::string cue() {
    switch (random_() % 10) {
    case 4: return has("wheel") ? fmt::format("click = \"wheel\", count = {}", one_of({"-3", "-1", "1", "2"})) : "";
    case 5:
      return has("stick") ? fmt::format("stick = \"stick\", value = {}, for = {}", between(-1, 1), between(0.1, 1))
                          : "";
    case 6: return has("mouse") ? fmt::format("pointer = \"mouse\", counts = {}", one_of({"-150", "40", "120"})) : "";
    case 7: return has_shake_ ? fmt::format("hit = \"k\", strength = {}", between(0.2, 1.5)) : "";
    case 8: return fmt::format("{} = \"{}\"", one_of({"cancel", "lock", "unlock"}), one_of(names_));
    case 9: return fmt::format("game_speed = {}, over = {}", one_of({"0.25", "0.5", "1", "2"}), one_of({"0", "0.3"}));
    default: return fmt::format("press = \"{}\", for = {}", one_of(presses_), between(0.005, 0.9));
    }
  }
  std::string take() {
    std::string cues;
    for (std::size_t k = 2 + random_() % 10; k > 0; --k)
      if (const std::string one = cue(); !one.empty())
        cues += fmt::format("  {{ at = {}, {} }},\n", between(0.05, 2), one);
    return fmt::format("[take.t]\nlength = 3\ncues = [\n{}]\nclock = {{ fps = {}{}{} }}\n", cues,
                       one_of({"24", "30", "60", "90", "144"}), once_in(2) ? ", jitter = 0.4" : "",
                       once_in(4) ? ", stalls = [[1.1, 0.3]]" : "");
  }

  std::mt19937_64 random_;
  std::string text_;
  std::vector<Target> targets_, free_;
  std::vector<std::string> poses_, names_, controls_, presses_;
  bool has_shake_ = false;
};

} // namespace

std::string feel_of_inputs(std::uint64_t seed) { return InputMaker(seed).make(); }

} // namespace stasis::test
