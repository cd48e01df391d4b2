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
constexpr std::string_view soft_ends =
    "A curve that is soft at both ends is \"ease-in-out\", or a shape such as \"in-out sine\".";

constexpr std::string_view while_down = "What acts while a button is down is kind = \"hold\".";
constexpr std::string_view on_and_off = "What one press switches on and the next one off is kind = \"toggle\".";
constexpr std::string_view by_notches = "What goes by notches is kind = \"clicks\", with channel and step.";
constexpr std::string_view by_counts = "What goes by counts is kind = \"pointer\", with channel and gain.";
constexpr std::string_view by_deflection = "What goes by a deflection is kind = \"stick\", with channel and gain.";
constexpr std::string_view from_a_file = "Motion that a file holds is kind = \"recorded\", with file.";
constexpr std::string_view straight_on = "What goes straight on is kind = \"line\", with from and velocity.";
constexpr std::string_view goes_round = "What goes round is kind = \"circle\", with diameter and speed.";
constexpr std::string_view from_place_to_place = "What jumps from place to place is kind = \"steps\".";
constexpr std::string_view a_ball = "A ball is kind = \"sphere\", with centre and diameter.";
constexpr std::string_view a_box = "What has six sides is kind = \"box\", with centre and size.";
constexpr std::string_view a_half_space = "All that lies behind a plane, as under a floor, is kind = \"plane\".";
constexpr std::string_view upright = "What stands upright along a line is kind = \"wall\", with points.";
constexpr std::string_view smooth_noise = "What trembles by chance, smoothly, is kind = \"noise\".";
constexpr std::string_view swinging = "What swings evenly is kind = \"sines\".";
constexpr std::string_view a_kick = "What is kicked and rings is kind = \"ring\", with frequency and damping_ratio.";
constexpr std::string_view of_steps =
    "What goes by the steps of a subject is kind = \"stride\", with track and length.";

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
    GenericWord{WordFor::control_kind, "button", while_down},
    GenericWord{WordFor::control_kind, "key", while_down},
    GenericWord{WordFor::control_kind, "press", while_down},
    GenericWord{WordFor::control_kind, "pressed", while_down},
    GenericWord{WordFor::control_kind, "momentary", while_down},
    GenericWord{WordFor::control_kind, "switch", on_and_off},
    GenericWord{WordFor::control_kind, "onoff", on_and_off},
    GenericWord{WordFor::control_kind, "latch", on_and_off},
    GenericWord{WordFor::control_kind, "checkbox", on_and_off},
    GenericWord{WordFor::control_kind, "scroll", by_notches},
    GenericWord{WordFor::control_kind, "scrollwheel", by_notches},
    GenericWord{WordFor::control_kind, "wheel", by_notches},
    GenericWord{WordFor::control_kind, "steps", by_notches},
    GenericWord{WordFor::control_kind, "step", by_notches},
    GenericWord{WordFor::control_kind, "mouse", by_counts},
    GenericWord{WordFor::control_kind, "drag", by_counts},
    GenericWord{WordFor::control_kind, "touch", by_counts},
    GenericWord{WordFor::control_kind, "delta", by_counts},
    GenericWord{WordFor::control_kind, "axis", by_deflection},
    GenericWord{WordFor::control_kind, "joystick", by_deflection},
    GenericWord{WordFor::control_kind, "thumbstick", by_deflection},
    GenericWord{WordFor::control_kind, "analog", by_deflection},
    GenericWord{WordFor::control_kind, "analogue", by_deflection},
    GenericWord{WordFor::control_kind, "trigger", by_deflection},
    GenericWord{WordFor::track_kind, "file", from_a_file},
    GenericWord{WordFor::track_kind, "csv", from_a_file},
    GenericWord{WordFor::track_kind, "path", from_a_file},
    GenericWord{WordFor::track_kind, "recording", from_a_file},
    GenericWord{WordFor::track_kind, "animation", from_a_file},
    GenericWord{WordFor::track_kind, "keyframes", from_a_file},
    GenericWord{WordFor::track_kind, "keys", from_a_file},
    GenericWord{WordFor::track_kind, "straight", straight_on},
    GenericWord{WordFor::track_kind, "walk", straight_on},
    GenericWord{WordFor::track_kind, "linear", straight_on},
    GenericWord{WordFor::track_kind, "run", straight_on},
    GenericWord{WordFor::track_kind, "orbit", goes_round},
    GenericWord{WordFor::track_kind, "loop", goes_round},
    GenericWord{WordFor::track_kind, "round", goes_round},
    GenericWord{WordFor::track_kind, "waypoints", from_place_to_place},
    GenericWord{WordFor::track_kind, "points", from_place_to_place},
    GenericWord{WordFor::track_kind, "jump", from_place_to_place},
    GenericWord{WordFor::track_kind, "jumps", from_place_to_place},
    GenericWord{WordFor::track_kind, "teleport", from_place_to_place},
    GenericWord{WordFor::obstacle_kind, "ball", a_ball},
    GenericWord{WordFor::obstacle_kind, "orb", a_ball},
    GenericWord{WordFor::obstacle_kind, "globe", a_ball},
    GenericWord{WordFor::obstacle_kind, "round", a_ball},
    GenericWord{WordFor::obstacle_kind, "circle", a_ball},
    GenericWord{WordFor::obstacle_kind, "cube", a_box},
    GenericWord{WordFor::obstacle_kind, "cuboid", a_box},
    GenericWord{WordFor::obstacle_kind, "block", a_box},
    GenericWord{WordFor::obstacle_kind, "rectangle", a_box},
    GenericWord{WordFor::obstacle_kind, "prism", a_box},
    GenericWord{WordFor::obstacle_kind, "floor", a_half_space},
    GenericWord{WordFor::obstacle_kind, "ground", a_half_space},
    GenericWord{WordFor::obstacle_kind, "cliff", a_half_space},
    GenericWord{WordFor::obstacle_kind, "ceiling", a_half_space},
    GenericWord{WordFor::obstacle_kind, "slope", a_half_space},
    GenericWord{WordFor::obstacle_kind, "fence", upright},
    GenericWord{WordFor::obstacle_kind, "line", upright},
    GenericWord{WordFor::obstacle_kind, "segment", upright},
    GenericWord{WordFor::obstacle_kind, "barrier", upright},
    GenericWord{WordFor::wave_kind, "smooth", smooth_noise},
    GenericWord{WordFor::wave_kind, "random", smooth_noise},
    GenericWord{WordFor::wave_kind, "turbulence", smooth_noise},
    GenericWord{WordFor::wave_kind, "wobble", smooth_noise},
    GenericWord{WordFor::wave_kind, "sine", swinging},
    GenericWord{WordFor::wave_kind, "sinus", swinging},
    GenericWord{WordFor::wave_kind, "cosine", swinging},
    GenericWord{WordFor::wave_kind, "harmonic", swinging},
    GenericWord{WordFor::wave_kind, "periodic", swinging},
    GenericWord{WordFor::wave_kind, "kick", a_kick},
    GenericWord{WordFor::wave_kind, "spring", a_kick},
    GenericWord{WordFor::wave_kind, "impulse", a_kick},
    GenericWord{WordFor::wave_kind, "recoil", a_kick},
    GenericWord{WordFor::wave_kind, "walk", of_steps},
    GenericWord{WordFor::wave_kind, "footsteps", of_steps},
    GenericWord{WordFor::wave_kind, "gait", of_steps},
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
    GenericWord{WordFor::curve, "exponential", "Steep, then slower and slower, is \"out exp\"."},
    GenericWord{WordFor::curve, "bounce", "It bounces by \"out bounce\"."},
    GenericWord{WordFor::curve, "elastic", "It swings by \"out elastic\"."},
    GenericWord{WordFor::curve, "overshoot", "It goes beyond and comes back by \"out back 1.7\"."},
    GenericWord{WordFor::curve, "quadratic", "Powers are shapes: \"out power 2\"."},
    GenericWord{WordFor::curve, "cubic", "Powers are shapes: \"out power 3\"."},
};

/// The families of sections of which general words for a kind are known.
struct KindFamily {
  std::string_view begins; ///< of the section's id
  WordFor what;
};
constexpr std::array kind_families{
    KindFamily{"motion.", WordFor::motion_kind},   KindFamily{"control.", WordFor::control_kind},
    KindFamily{"track.", WordFor::track_kind},     KindFamily{"obstacle.", WordFor::obstacle_kind},
    KindFamily{"shake.wave.", WordFor::wave_kind},
};

struct GenericKey {
  std::string_view section;
  std::string_view word; ///< small letters only, without what parts words
  KeyInstead instead;
};

constexpr KeyInstead take_length{"length", "How long a take is: length = 3, in seconds."};
constexpr KeyInstead take_clock{"clock", "The frame rate belongs to the clock: clock = { fps = 60 }."};
constexpr KeyInstead resting{"rest", "The value that a channel has when nothing moves it: rest = 60."};
constexpr KeyInstead bounds{"range", "Write both bounds in one list: range = [30, 95]."};
constexpr KeyInstead motion_of{"motion", "How a channel moves: motion = \"NAME\"."};
constexpr KeyInstead which_kind{"kind", "What it is, is said by kind."};
constexpr KeyInstead along{"curve", "The shape of the move: curve = \"ease-in-out\"."};
constexpr KeyInstead how_long{"duration", "How long the move takes: duration = 0.3, in seconds."};
constexpr KeyInstead shaken{"on", "What is shaken, and how far at full strength: on = { fov = 1 }."};
constexpr KeyInstead when{"at", "When it comes, in seconds: at = 0.5."};
constexpr KeyInstead which_time{"runs_on", "To be left alone by slow motion: runs_on = \"clock\"."};
constexpr KeyInstead posed{"pose", "Goals belong in a pose, [pose.NAME], and the control names it: pose = \"NAME\"."};

constexpr std::array generic_keys{
    GenericKey{"take", "duration", take_length},
    GenericKey{"take", "time", take_length},
    GenericKey{"take", "seconds", take_length},
    GenericKey{"take", "fps", take_clock},
    GenericKey{"take", "framerate", take_clock},
    GenericKey{"take", "dt", take_clock},
    GenericKey{"take", "timestep", take_clock},
    GenericKey{"take", "inputs", {"cues", "The inputs and their times: cues = [{ at = 0.5, press = \"NAME\" }]."}},
    GenericKey{"take", "events", {"cues", "The inputs and their times: cues = [{ at = 0.5, press = \"NAME\" }]."}},
    GenericKey{"channel", "time", which_time},
    GenericKey{"channel", "timescale", which_time},
    GenericKey{"channel", "unscaled", which_time},
    GenericKey{"channel", "unscaledtime", which_time},
    GenericKey{"channel", "realtime", which_time},
    GenericKey{"channel", "slowmotion", which_time},
    GenericKey{"control", "time", which_time},
    GenericKey{"control", "timescale", which_time},
    GenericKey{"control", "unscaled", which_time},
    GenericKey{"control", "unscaledtime", which_time},
    GenericKey{"control", "realtime", which_time},
    GenericKey{"control", "slowmotion", which_time},
    GenericKey{"shake", "time", which_time},
    GenericKey{"shake", "timescale", which_time},
    GenericKey{"shake", "unscaled", which_time},
    GenericKey{"shake", "unscaledtime", which_time},
    GenericKey{"shake", "realtime", which_time},
    GenericKey{"shake", "slowmotion", which_time},
    GenericKey{"channel", "default", resting},
    GenericKey{"channel", "initial", resting},
    GenericKey{"channel", "start", resting},
    GenericKey{"channel", "value", resting},
    GenericKey{"channel", "base", resting},
    GenericKey{"channel", "min", bounds},
    GenericKey{"channel", "max", bounds},
    GenericKey{"channel", "minimum", bounds},
    GenericKey{"channel", "maximum", bounds},
    GenericKey{"channel", "limits", bounds},
    GenericKey{"channel", "bounds", bounds},
    GenericKey{"channel", "clamp", bounds},
    GenericKey{"channel", "smoothing", motion_of},
    GenericKey{"channel", "interpolation", motion_of},
    GenericKey{"channel", "transition", motion_of},
    GenericKey{"channel", "easing", motion_of},
    GenericKey{"motion", "type", which_kind},
    GenericKey{"motion", "mode", which_kind},
    GenericKey{"control", "type", which_kind},
    GenericKey{"control", "mode", which_kind},
    GenericKey{"motion.ease", "easing", along},
    GenericKey{"motion.ease", "ease", along},
    GenericKey{"motion.ease", "function", along},
    GenericKey{"motion.ease", "shape", along},
    GenericKey{"motion.ease", "time", how_long},
    GenericKey{"motion.ease", "length", how_long},
    GenericKey{"motion.ease", "seconds", how_long},
    GenericKey{"motion.glide",
               "factor",
               {"per_frame", "A share on each frame, at the rate it was tuned for: per_frame = 0.1, at_fps = 60."}},
    GenericKey{"motion.glide",
               "alpha",
               {"per_frame", "A share on each frame, at the rate it was tuned for: per_frame = 0.1, at_fps = 60."}},
    GenericKey{"motion.glide", "smoothing", {"half_life", "In how many seconds the gap halves: half_life = 0.1."}},
    GenericKey{"motion.glide", "damping", {"half_life", "In how many seconds the gap halves: half_life = 0.1."}},
    GenericKey{"motion.glide", "time", {"half_life", "In how many seconds the gap halves: half_life = 0.1."}},
    GenericKey{"motion.glide",
               "duration",
               {"half_life", "In how many seconds the gap halves: half_life = 0.1. It has no end; a move of a fixed "
                             "time is kind = \"ease\"."}},
    GenericKey{
        "motion.spring", "mass", {"stiffness", "Stiffness and damping are per unit of mass: divide both by it."}},
    GenericKey{"motion.spring",
               "tension",
               {"stiffness", "Of springs: stiffness and damping, or frequency and damping_ratio."}},
    GenericKey{
        "motion.spring", "friction", {"damping", "Of springs: stiffness and damping, or frequency and damping_ratio."}},
    GenericKey{"motion.spring",
               "duration",
               {"settling_time", "How long a spring takes: settling_time = 0.5, with overshoot = 5."}},
    GenericKey{"control.hold", "toggle", {"kind", "A button that switches on and off is kind = \"toggle\"."}},
    GenericKey{"control.hold", "hold", {"kind", "This kind holds its pose while it is down already; leave it out."}},
    GenericKey{"control.toggle", "toggle", {"kind", "This kind switches on and off already; leave it out."}},
    GenericKey{"control.toggle", "hold", {"kind", "A button that holds its pose while it is down is kind = \"hold\"."}},
    GenericKey{"control",
               "key",
               {"buttons", "A control is pressed by its name; buttons of other names: buttons = [\"NAME\"]."}},
    GenericKey{"control",
               "button",
               {"buttons", "A control is pressed by its name; buttons of other names: buttons = [\"NAME\"]."}},
    GenericKey{"control", "channel", posed},
    GenericKey{"control", "target", posed},
    GenericKey{"control", "goal", posed},
    GenericKey{"control", "value", posed},
    GenericKey{"shake", "amplitude", shaken},
    GenericKey{"shake", "channel", shaken},
    GenericKey{"shake", "strength", shaken},
    GenericKey{"shake", "intensity", shaken},
    GenericKey{"shake", "magnitude", shaken},
    GenericKey{"shake",
               "frequency",
               {"wave", "How fast it goes belongs to the wave: wave = { kind = \"noise\", frequency = 8 }."}},
    GenericKey{"shake", "noise", {"wave", "The wave: wave = { kind = \"noise\", frequency = 8 }."}},
    GenericKey{"shake", "duration", {"decay", "How it dies away: decay = { kind = \"half_life\", half_life = 0.2 }."}},
    GenericKey{"shake", "halflife", {"decay", "How it dies away: decay = { kind = \"half_life\", half_life = 0.2 }."}},
    GenericKey{"take.cue", "time", when},
    GenericKey{"take.cue", "t", when},
    GenericKey{"take.cue", "when", when},
    GenericKey{"take.cue", "down", {"press", "A button goes down by press = \"NAME\" and up by release = \"NAME\"."}},
    GenericKey{"take.cue", "up", {"release", "A button goes down by press = \"NAME\" and up by release = \"NAME\"."}},
};

std::string plain_word(std::string_view word) {
  std::string plain;
  for (const char c : word)
    if (std::isalnum(static_cast<unsigned char>(c)) != 0)
      plain += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return plain;
}

} // namespace

std::string written_instead(WordFor what, std::string_view word) {
  const std::string plain = plain_word(word);
  for (const GenericWord& known : generic_words)
    if (known.what == what && known.word == plain) return std::string(known.instead);
  constexpr std::size_t least_letters = 5; // of a known word at the beginning of a longer one: "smooth ..."
  for (const GenericWord& known : generic_words)
    if (what == WordFor::motion_kind && known.what == what && known.word.size() >= least_letters
        && plain.starts_with(known.word))
      return std::string(known.instead);
  return {};
}

std::string kind_written_instead(std::string_view section, std::string_view word) {
  for (const KindFamily& family : kind_families)
    if (section.starts_with(family.begins)) return written_instead(family.what, word);
  return {};
}

const KeyInstead* key_instead(std::string_view section, std::string_view key) {
  const std::string plain = plain_word(key);
  for (const GenericKey& known : generic_keys)
    if (section == known.section && known.word == plain) return &known.instead;
  for (const GenericKey& known : generic_keys) {
    const bool is_within = section.starts_with(known.section) && section.size() > known.section.size()
                           && section[known.section.size()] == '.';
    if (is_within && known.word == plain) return &known.instead;
  }
  return nullptr;
}

} // namespace stasis
