#include "core/feel/generic_words.hpp"

#include <array>
#include <cctype>

namespace stasis {
namespace {

struct GenericWord {
  WordFor what;
  std::string_view word; ///< small letters only, without what parts words
  std::string_view instead;
};

constexpr std::string_view share_of_gap =
    "What closes a share of the gap is kind = \"glide\", with half_life: the same at any frame rate. To replay what a "
    "program does on each frame: kind = \"per_frame\", rule = \"fraction\".";
constexpr std::string_view fixed_time =
    "What takes a fixed time is kind = \"ease\", with duration and curve; at an even speed the curve is \"linear\".";
constexpr std::string_view at_once = "What goes to its goal at once is kind = \"cut\".";
constexpr std::string_view fixed_speed = "What goes at a fixed speed is kind = \"pace\", with speed and acceleration.";
constexpr std::string_view swings =
    "What swings about its goal is kind = \"spring\" with a damping_ratio below 1; at the end of a fixed time, "
    "kind = \"ease\" with curve = \"out elastic\" or \"out bounce\".";
constexpr std::string_view in_a_row = "Motions in a row are kind = \"stages\", with stages = [..].";
constexpr std::string_view even = "Even progress is \"linear\".";
constexpr std::string_view soft_ends = "Soft at both ends is \"ease-in-out\", or a shape such as \"in-out sine\".";

constexpr std::array generic_words{
    GenericWord{WordFor::motion_kind, "lerp", share_of_gap},
    GenericWord{WordFor::motion_kind, "interpolation", share_of_gap},
    GenericWord{WordFor::motion_kind, "linearinterpolation", share_of_gap},
    GenericWord{WordFor::motion_kind, "smooth", share_of_gap},
    GenericWord{WordFor::motion_kind, "smoothing", share_of_gap},
    GenericWord{WordFor::motion_kind, "smoothed", share_of_gap},
    GenericWord{WordFor::motion_kind, "exponential", share_of_gap},
    GenericWord{WordFor::motion_kind, "exponentialsmoothing", share_of_gap},
    GenericWord{WordFor::motion_kind, "exponentialdecay", share_of_gap},
    GenericWord{WordFor::motion_kind, "lowpass", share_of_gap},
    GenericWord{WordFor::motion_kind, "lowpassfilter", share_of_gap},
    GenericWord{WordFor::motion_kind, "filter", share_of_gap},
    GenericWord{WordFor::motion_kind, "movingaverage", share_of_gap},
    GenericWord{WordFor::motion_kind, "damp", share_of_gap},
    GenericWord{WordFor::motion_kind, "damping", share_of_gap},
    GenericWord{WordFor::motion_kind, "lag", share_of_gap},
    GenericWord{WordFor::motion_kind, "follow", share_of_gap},
    GenericWord{WordFor::motion_kind, "tween", fixed_time},
    GenericWord{WordFor::motion_kind, "animate", fixed_time},
    GenericWord{WordFor::motion_kind, "animation", fixed_time},
    GenericWord{WordFor::motion_kind, "transition", fixed_time},
    GenericWord{WordFor::motion_kind, "easing", fixed_time},
    GenericWord{WordFor::motion_kind, "easein", fixed_time},
    GenericWord{WordFor::motion_kind, "easeout", fixed_time},
    GenericWord{WordFor::motion_kind, "easeinout", fixed_time},
    GenericWord{WordFor::motion_kind, "linear", fixed_time},
    GenericWord{WordFor::motion_kind, "curve", fixed_time},
    GenericWord{WordFor::motion_kind, "bezier", fixed_time},
    GenericWord{WordFor::motion_kind, "cubicbezier", fixed_time},
    GenericWord{WordFor::motion_kind, "instant", at_once},
    GenericWord{WordFor::motion_kind, "immediate", at_once},
    GenericWord{WordFor::motion_kind, "jump", at_once},
    GenericWord{WordFor::motion_kind, "snap", at_once},
    GenericWord{WordFor::motion_kind, "set", at_once},
    GenericWord{WordFor::motion_kind, "none", at_once},
    GenericWord{WordFor::motion_kind, "step", at_once},
    GenericWord{WordFor::motion_kind, "constant", fixed_speed},
    GenericWord{WordFor::motion_kind, "constantspeed", fixed_speed},
    GenericWord{WordFor::motion_kind, "speed", fixed_speed},
    GenericWord{WordFor::motion_kind, "speedlimit", fixed_speed},
    GenericWord{WordFor::motion_kind, "ratelimit", fixed_speed},
    GenericWord{WordFor::motion_kind, "velocity", fixed_speed},
    GenericWord{WordFor::motion_kind, "ramp", fixed_speed},
    GenericWord{WordFor::motion_kind, "bounce", swings},
    GenericWord{WordFor::motion_kind, "elastic", swings},
    GenericWord{WordFor::motion_kind, "oscillator", swings},
    GenericWord{WordFor::motion_kind, "harmonic", swings},
    GenericWord{WordFor::motion_kind, "chain", in_a_row},
    GenericWord{WordFor::motion_kind, "sequence", in_a_row},
    GenericWord{WordFor::motion_kind, "doubleexponential", in_a_row},
    GenericWord{WordFor::motion_kind, "wait", "What only waits is kind = \"delay\"."},
    GenericWord{WordFor::motion_kind, "pause", "What only waits is kind = \"delay\"."},
    GenericWord{WordFor::curve, "lerp", even},
    GenericWord{WordFor::curve, "linearinterpolation", even},
    GenericWord{WordFor::curve, "interpolation", even},
    GenericWord{WordFor::curve, "constant", even},
    GenericWord{WordFor::curve, "none", even},
    GenericWord{WordFor::curve, "smooth", soft_ends},
    GenericWord{WordFor::curve, "smoothing", soft_ends},
    GenericWord{WordFor::curve, "scurve", soft_ends},
    GenericWord{WordFor::curve, "sigmoid", soft_ends},
    GenericWord{WordFor::curve, "easing", soft_ends},
    GenericWord{WordFor::curve, "cosine", soft_ends},
    GenericWord{WordFor::curve, "exponential", "Steep and then ever slower is \"out exp\"."},
    GenericWord{WordFor::curve, "bounce", "It bounces by \"out bounce\"."},
    GenericWord{WordFor::curve, "elastic", "It swings by \"out elastic\"."},
    GenericWord{WordFor::curve, "overshoot", "It goes beyond and comes back by \"out back 1.7\"."},
    GenericWord{WordFor::curve, "quadratic", "Powers are shapes: \"out power 2\"."},
    GenericWord{WordFor::curve, "cubic", "Powers are shapes: \"out power 3\"."},
};

} // namespace

std::string written_instead(WordFor what, std::string_view word) {
  std::string plain;
  for (const char c : word)
    if (std::isalnum(static_cast<unsigned char>(c)) != 0)
      plain += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  for (const GenericWord& known : generic_words)
    if (known.what == what && known.word == plain) return std::string(known.instead);
  return {};
}

} // namespace stasis
