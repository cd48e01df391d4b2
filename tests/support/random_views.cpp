#include "support/random_views.hpp"

#include <cmath>
#include <initializer_list>
#include <random>

#include <fmt/format.h>

namespace stasis::test {
namespace {

class ViewMaker {
public:
  explicit ViewMaker(std::uint64_t seed)
      : random_(seed), is_flat_(once_in(4)), axes_(is_flat_ ? 2 : 3), is_placed_(!is_flat_ && once_in(3)),
        has_roll_(once_in(2)), has_side_(!is_flat_ && once_in(2)) {}

  std::string make() {
    add_picture();
    for (const char* const name : {"u", "v"}) add_track(name);
    add_focus();
    if (is_flat_)
      add("[channel.high]\nrest = 9\nunit = \"m\"\nrange = [3, 20]\nspace = \"ratio\"\nmotion = {}\n", motion());
    else
      add_camera();
    if (has_roll_) add("[channel.roll]\nunit = \"deg\"\nrest = {}\nmotion = {}\n", between(-10, 10), motion());
    add_pose();
    add_shake();
    return text_ + take();
  }

private:
  double between(double low, double high) {
    return std::round(1000.0 * std::uniform_real_distribution(low, high)(random_)) / 1000.0;
  }
  bool once_in(unsigned n) { return random_() % n == 0; }
  std::string one_of(std::initializer_list<const char*> all) { return *(all.begin() + random_() % all.size()); }
  template<class... Values> void add(fmt::format_string<Values...> text, Values&&... values) {
    text_ += fmt::format(text, std::forward<Values>(values)...);
  }
  std::string may(unsigned n, const std::string& said) { return once_in(n) ? said : ""; }
  std::string place(double low, double high, int axes = 0) {
    std::string list;
    for (int i = 0; i < (axes > 0 ? axes : axes_); ++i)
      list += fmt::format("{}{}", i > 0 ? ", " : "", between(low, high));
    return "[" + list + "]";
  }

  std::string motion() {
    const std::string glide = fmt::format("{{ kind = \"glide\", half_life = {} }}", between(0.03, 0.3));
    switch (random_() % 7) {
    case 0: return glide;
    case 1:
      return fmt::format("{{ kind = \"spring\", frequency = {}, damping_ratio = {}, resist = \"{}\" }}",
                         between(0.6, 3), between(0.3, 1.5), one_of({"speed", "gap"}));
    case 2: return fmt::format("{{ kind = \"stages\", stages = [ {}, {} ] }}", glide, glide);
    case 3: return "{ kind = \"cut\" }";
    case 4:
      return fmt::format("{{ kind = \"per_frame\", at_fps = 60, rule = \"fraction\", fraction = {} }}",
                         between(0.05, 0.4));
    case 5: return fmt::format("{{ kind = \"pace\", speed = {} }}", between(5, 30));
    default:
      return fmt::format("{{ kind = \"stages\", stages = [ {{ kind = \"delay\", delay = {} }}, {} ] }}",
                         between(0.02, 0.2), glide);
    }
  }

  void add_picture() {
    text_ += is_flat_
                 ? "[picture]\nposition = \"focus\"\nheight = { channel = \"high\" }\n"
                 : "[picture]\nfocus = \"focus\"\ndistance = \"distance\"\nyaw = \"yaw\"\npitch = \"pitch\"\nlens = { "
                   "channel = \"fov\" }\n";
    if (has_side_) text_ += "side = \"side\"\n";
    if (has_roll_) text_ += "roll = \"roll\"\n";
    if (is_placed_) text_ += "position = \"eye\"\n";
  }

  void add_track(const char* name) {
    add("[track.{}]\nunit = \"m\"\n", name);
    switch (random_() % 5) {
    case 0: add("kind = \"line\"\nfrom = {}\nvelocity = {}\n", place(-3, 3), place(-3, 3)); break;
    case 1:
      add("kind = \"circle\"\ncentre = {}\ndiameter = {}\nspeed = {}\n", place(-3, 3), between(2, 9), between(1, 6));
      break;
    case 2:
      add("kind = \"eight\"\ncentre = {}\nwidth = {}\nheight = {}\nlap = {}\n", place(-3, 3), between(2, 9),
          between(1, 5), between(2, 6));
      break;
    case 3:
      add("kind = \"steps\"\nplaces = [ {}, {}, {} ]\nevery = {}\n", place(-4, 4), place(-4, 4), place(-4, 4),
          between(0.3, 1.2));
      break;
    default:
      add("kind = \"stop_and_go\"\nfrom = {}\nvelocity = {}\ngo = {}\nstop = {}\n", place(-3, 3), place(-3, 3),
          between(0.3, 1.2), between(0.2, 1));
    }
    text_ += may(3, fmt::format("begins_at = {}\n", between(-1, 1.5)));
  }

  void add_focus() {
    std::string follow = "{ track = \"u\"";
    follow += may(3, fmt::format(", second = \"v\", weight = {}", one_of({"0.4", "\"w\""})));
    follow += may(2, fmt::format(", lead = {{ by = \"{}\", seconds = {}{} }}", one_of({"velocity", "forward_speed"}),
                                 between(-0.3, 0.6), may(2, ", longest = 1")));
    follow += may(
        3, fmt::format(", dead_zone = {{ size = {}, shape = \"{}\" }}", between(0.2, 3), one_of({"box", "ellipse"})));
    follow += may(2, ", offset = " + place(-2, 2));
    if (!is_flat_) {
      follow += may(3, fmt::format(", offset_in = \"{}\"", one_of({"heading", "subject", "view"})));
      follow += may(3, fmt::format(", damping_in = \"{}\"", one_of({"heading", "subject", "view"})));
    }
    follow += may(5, ", keep = [\"y\"]") + may(5, ", start = \"rest\"") + " }";
    add("[channel.focus]\nunit = \"m\"\nrest = {}\nmotion = {}\nfollow = {}\n", place(-2, 2), motion(), follow);
    add("[channel.w]\nrest = 0.3\nrange = [0, 1]\nmotion = {{ kind = \"glide\", half_life = 0.2 }}\n");
  }

  void add_camera() {
    const std::string way = once_in(2) ? motion() : fmt::format("{{ rising = {}, falling = {} }}", motion(), motion());
    add("[channel.distance]\nunit = \"m\"\nrest = {}\nrange = [0.5, 12]\nmotion = {}\n", between(3, 7), way);
    if (once_in(2)) {
      add("obstacles = {{ thickness = {}{}{} }}\n", between(0.1, 0.6), may(3, ", stand_off = 0.2"),
          may(3, ", never_through = true"));
      walls_ = fmt::format("[obstacle.ball]\nkind = \"sphere\"\ncentre = {}\ndiameter = {}\n[obstacle.wall]\nkind = "
                           "\"wall\"\npoints = [ {}, {} ]\n",
                           place(-5, 5), between(0.5, 4), place(-6, 6, 2), place(-6, 6, 2));
    } else {
      text_ += may(3, fmt::format("keeps_width = {}\n", between(1, 5)));
    }
    add("[channel.yaw]\nunit = \"deg\"\nspace = \"turn\"\nrest = {}\nmotion = {}\n", between(-170, 170), motion());
    text_ += may(2, fmt::format("realign = {{ to = \"{}\", track = \"u\", wait = {} }}\n",
                                one_of({"travel", "velocity", "facing"}), between(0.1, 1)));
    add("[channel.pitch]\nunit = \"deg\"\nrest = {}\nrange = [-80, 80]\nmotion = {}\n", between(-40, 20), motion());
    add("[channel.fov]\nunit = \"deg\"\nspace = \"zoom\"\nrest = {}\nrange = [20, 100]\nmotion = {}\n", between(35, 75),
        motion());
    if (has_side_) add("[channel.side]\nunit = \"m\"\nrest = {}\nmotion = {}\n", between(-1, 1), motion());
    if (is_placed_)
      add("[channel.eye]\nunit = \"m\"\nrest = [0, 0, 0]\nplaced = true\nmotion = {{ kind = \"glide\", half_life = 0.1 "
          "}}\n");
    text_ += walls_;
    add("[control.turn]\nkind = \"stick\"\nchannel = \"yaw\"\ngain = {}\nspin_up = 0.1\n", between(20, 200));
  }

  void add_pose() {
    add("[pose.p]\nw = 0.9\n{} = {}\n", is_flat_ ? "high" : "fov", is_flat_ ? between(4, 15) : between(25, 60));
    if (!is_flat_) text_ += may(2, fmt::format("distance = {}\n", between(1.5, 9)));
    text_ += may(3, fmt::format("focus = {{ add = {} }}\n", place(-1, 1)));
    text_ += "[control.k]\nkind = \"hold\"\npose = \"p\"\n";
  }

  void add_shake() {
    has_shake_ = once_in(2);
    if (!has_shake_) return;
    add("[shake.q]\non = {{ focus = {}{} }}\nwave = {{ kind = \"{}\", frequency = 5 }}\ndecay = {{ kind = "
        "\"half_life\", "
        "half_life = {}{} }}\n",
        place(0.05, 0.4), has_roll_ ? ", roll = 2" : "", one_of({"noise", "sines"}), between(0.1, 0.5),
        may(3, ", attack = 0.1"));
    text_ += may(2, "frame = \"view\"\n");
  }

  std::string take() {
    std::string cues = fmt::format("  {{ at = {}, press = \"k\", for = {} }},\n", between(0.1, 1), between(0.1, 0.9));
    if (!is_flat_)
      cues += fmt::format("  {{ at = {}, stick = \"turn\", value = {}, for = {} }},\n", between(0.1, 1), between(-1, 1),
                          between(0.1, 0.9));
    if (has_shake_) cues += fmt::format("  {{ at = {}, hit = \"q\" }},\n", between(0.1, 1));
    cues += may(4, fmt::format("  {{ at = {}, follow = {{ focus = \"v\" }} }},\n", between(0.3, 1.5)));
    cues += may(4, fmt::format("  {{ at = {}, game_speed = 0.5, over = 0.3 }},\n", between(0.2, 1.2)));
    return fmt::format("[take.t]\nlength = 2\ncues = [\n{}]\nclock = {{ fps = {}{} }}\n", cues,
                       one_of({"24", "30", "60"}), may(3, ", jitter = 0.4"));
  }

  std::mt19937_64 random_;
  bool is_flat_;
  int axes_;
  bool is_placed_, has_roll_, has_side_, has_shake_ = false;
  std::string text_, walls_;
};

} // namespace

std::string feel_of_views(std::uint64_t seed) { return ViewMaker(seed).make(); }

} // namespace stasis::test
