#include "core/feel/key_table.hpp"

#include <array>

#include "core/unbounded.hpp"

namespace stasis {
namespace {

using enum ValueKind;

constexpr Bounds positive{0.0, unbounded, true, false};
constexpr Bounds share{0.0, 1.0, true, true};
/// Beyond these a unit has surely been mistaken, and the arithmetic would lose digits.
constexpr Bounds sensible_time{1e-6, 1e6, false, false};
constexpr Bounds sensible_rate{1e-6, 1e6, false, false};

constexpr std::string_view motion_kinds = "cut|glide|spring|ease|pace|delay|stages";

constexpr std::array feel_keys{
    KeySpec{.key = "feel", .kind = integer, .bounds = {1, 1}, .fallback = "1", .meaning = "Version of this format."},
    KeySpec{
        .key = "title", .kind = text, .fallback = "\"\"", .meaning = "What the feel is called on figures and pages."},
    KeySpec{.key = "include",
            .kind = texts,
            .meaning = "Files beside this one whose motions, curves and settings are brought in; a name given twice is "
                       "an error."},
    KeySpec{.key = "picture",
            .kind = table,
            .section = "picture",
            .meaning = "What is seen: size, lens, where the camera is."},
    KeySpec{.key = "channel", .kind = tables, .section = "channel", .meaning = "The values that change over time."},
    KeySpec{.key = "motion",
            .kind = tables,
            .section = "motion.",
            .meaning = "The rules by which values approach their goals."},
    KeySpec{.key = "curve", .kind = tables, .section = "curve", .meaning = "Named curves for eased moves."},
    KeySpec{.key = "pose", .kind = tables, .section = "pose", .meaning = "Named goals of several channels."},
    KeySpec{.key = "control", .kind = tables, .section = "control.", .meaning = "What an input does."},
    KeySpec{
        .key = "take", .kind = tables, .section = "take", .meaning = "Rehearsals: a length, a clock and timed inputs."},
    KeySpec{.key = "setting",
            .kind = tables,
            .section = "setting",
            .meaning =
                "Numbers that a player may change. Any number of the feel may refer to one: { setting = \"NAME\" "
                "}, with times or add if wanted."},
    KeySpec{
        .key = "variant", .kind = tables, .section = "variant", .meaning = "Named overrides of values in this feel."},
    KeySpec{.key = "want", .kind = list, .section = "want", .meaning = "Bounds that `stasis check` holds the feel to."},
    KeySpec{.key = "silence",
            .kind = list,
            .section = "silence",
            .meaning = "Warnings that are meant to be there, with the reason."},
};

constexpr std::array picture_keys{
    KeySpec{.key = "size",
            .kind = components,
            .unit = UnitKind::pixels,
            .bounds = {1, 65536},
            .fallback = "[1280, 800]",
            .meaning = "Width and height."},
    KeySpec{.key = "lens", .kind = table, .section = "picture.lens", .meaning = "Which channel is the field of view."},
    KeySpec{.key = "height",
            .kind = table,
            .section = "picture.height",
            .meaning = "For a flat view: which channel is the visible height."},
    KeySpec{.key = "position",
            .kind = name,
            .names = NameKind::channel,
            .meaning =
                "The channel that holds the centre of a flat view (x right, y up), or the eye's place in space."},
    KeySpec{.key = "focus",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel that holds the point looked at: x right, y up, z towards the viewer."},
    KeySpec{.key = "distance",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel that holds how far the eye is from the focus."},
    KeySpec{.key = "side",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel that holds how far the eye stands to the right."},
    KeySpec{.key = "yaw",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel that holds which way the camera looks; 0 along -z, positive turns left."},
    KeySpec{.key = "pitch",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel that holds how far the camera looks up."},
    KeySpec{.key = "roll",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel that holds how far the camera leans to its left about its line of sight."},
};

constexpr std::array lens_keys{
    KeySpec{.key = "channel",
            .kind = name,
            .required = true,
            .names = NameKind::channel,
            .meaning = "The channel that holds the field of view; its unit is an angle."},
    KeySpec{.key = "axis",
            .kind = choice,
            .fallback = "\"vertical\"",
            .choices = "vertical|horizontal",
            .meaning = "Which way across the picture the angle is measured."},
};

constexpr std::array height_keys{
    KeySpec{.key = "channel",
            .kind = name,
            .required = true,
            .names = NameKind::channel,
            .meaning = "The channel that holds the visible height."},
};

constexpr std::array channel_keys{
    KeySpec{.key = "unit",
            .kind = text,
            .fallback = "\"\"",
            .meaning = "Unit of the channel's numbers, such as \"deg\" or \"m\"; a label where it is not a unit that "
                       "Stasis knows."},
    KeySpec{.key = "rest",
            .kind = components,
            .unit = UnitKind::channel,
            .required = true,
            .meaning = "The resting value; a list of 2 or 3 makes a channel of as many components."},
    KeySpec{.key = "range",
            .kind = pair,
            .unit = UnitKind::channel,
            .meaning = "Lowest and highest value. Goals and output are clamped to it; a pair holds for every "
                       "component, a pair of lists bounds each."},
    KeySpec{.key = "space",
            .kind = choice,
            .fallback = "\"linear\"",
            .choices = "linear|ratio|zoom|turn",
            .meaning =
                "The scale in which the motion works: linear; ratio (equal steps are equal factors; values above "
                "0); zoom (equal steps are equal ratios of size on the picture; angles); turn (angles that go "
                "round, by the short way)."},
    KeySpec{.key = "motion",
            .kind = motion,
            .fallback = "cut",
            .names = NameKind::motion,
            .meaning = "How the value approaches its goal: the name of a motion, a motion written in place, { rising = "
                       ".., falling = .. } by direction, or { x = .., y = .. } by component. Without it the value "
                       "jumps."},
    KeySpec{.key = "settle_band",
            .kind = band,
            .unit = UnitKind::percent,
            .bounds = positive,
            .fallback = "2",
            .meaning = "How near its end a move must stay to count as settled: per cent of the move, or a text in the "
                       "channel's unit such as \"0.1 deg\"."},
};

constexpr std::array cut_keys{
    KeySpec{.key = "kind", .kind = choice, .required = true, .choices = motion_kinds, .meaning = "The rule: a jump."},
};

constexpr std::array glide_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: the gap shrinks by one constant factor per equal time. It starts at full speed."},
    KeySpec{.key = "half_life",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .meaning = "Time in which the gap halves."},
    KeySpec{.key = "time_constant",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .meaning = "Time in which the gap falls to 1/e, about 37 %."},
    KeySpec{.key = "rate",
            .kind = number,
            .unit = UnitKind::rate,
            .bounds = sensible_rate,
            .meaning = "Share of the gap closed per second at the start; 1 / time_constant."},
    KeySpec{.key = "settling_time",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .meaning = "Time to within 2 % of a step."},
    KeySpec{.key = "per_frame",
            .kind = number,
            .bounds = share,
            .meaning = "Fraction of the gap closed on each frame of a program that runs at at_fps; simulated as the "
                       "exact equivalent at any rate."},
    KeySpec{.key = "at_fps",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1, 100000},
            .meaning = "The frame rate for which per_frame was chosen."},
};

constexpr std::array spring_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: a damped oscillator. It starts softly and may overshoot."},
    KeySpec{.key = "frequency",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1e-4, 1e5},
            .meaning = "Undamped natural frequency: how quick it is."},
    KeySpec{
        .key = "damping_ratio",
        .kind = number,
        .bounds = {0.0, 1e4},
        .meaning =
            "Below 1 it overshoots, at 1 it is as quick as it can be without, above 1 it is slower; 0 never settles."},
    KeySpec{.key = "stiffness",
            .kind = number,
            .bounds = {0.0, 1e12, true, false},
            .meaning = "Pull per unit of gap: with mass 1, the square of the angular frequency."},
    KeySpec{.key = "damping",
            .kind = number,
            .bounds = {0.0, 1e12},
            .meaning = "Drag per unit of speed; 2 sqrt(stiffness mass) is ratio 1."},
    KeySpec{.key = "mass",
            .kind = number,
            .bounds = {0.0, 1e12, true, false},
            .fallback = "1",
            .meaning = "Inertia; with stiffness and damping only."},
    KeySpec{.key = "settling_time",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .meaning = "Time after which a step from rest stays within 2 % of its end; with overshoot."},
    KeySpec{.key = "overshoot",
            .kind = number,
            .unit = UnitKind::percent,
            .bounds = {0.0, 100.0, false, true},
            .meaning = "How far a step from rest goes beyond its end, per cent of the step; 0 means ratio 1."},
    KeySpec{.key = "resist",
            .kind = choice,
            .fallback = "\"speed\"",
            .choices = "speed|gap",
            .meaning = "What the damping works against: the value's own speed (it lags behind a moving goal), or the "
                       "speed at which the gap changes (no steady lag)."},
};

constexpr std::array ease_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: a move of fixed duration along a curve."},
    KeySpec{.key = "duration",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .required = true,
            .meaning = "How long a move takes."},
    KeySpec{.key = "curve",
            .kind = curve,
            .fallback = "\"ease-in-out\"",
            .names = NameKind::curve,
            .meaning =
                "Progress over time: a CSS easing function (linear, ease, ease-in, ease-out, ease-in-out, "
                "cubic-bezier(), linear(), steps(), step-start, step-end), a shape such as in sine, out power 3, "
                "in-out back 1.7, out exp, in circle, out elastic, out bounce, or the name of a [curve.NAME]."},
    KeySpec{.key = "delay",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, 1e6},
            .fallback = "0",
            .meaning = "How long the value waits before it moves."},
    KeySpec{.key = "repeat",
            .kind = integer,
            .bounds = {1, 1000},
            .fallback = "1",
            .meaning = "How often the move is made; the way home is made once."},
    KeySpec{.key = "there_and_back",
            .kind = flag,
            .fallback = "false",
            .meaning = "Each time the value returns to where it began: its goal goes back at the turn. The way home is "
                       "one way."},
    KeySpec{
        .key = "handover",
        .kind = choice,
        .fallback = "\"restart\"",
        .choices = "restart",
        .meaning =
            "What a new goal does to a move under way: restart takes the full duration again from where the value is."},
};

constexpr std::array pace_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: the least time that a largest speed and a largest acceleration allow; a channel of "
                       "several components moves straight."},
    KeySpec{.key = "speed",
            .kind = number,
            .bounds = {1e-9, 1e12},
            .required = true,
            .meaning = "Largest speed: channel units a second; doublings a second in the spaces ratio and zoom."},
    KeySpec{.key = "acceleration",
            .kind = number,
            .bounds = {1e-9, 1e15},
            .required = true,
            .meaning = "Largest acceleration: the same, per second once more."},
};

constexpr std::array delay_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: the goal itself, some time later."},
    KeySpec{.key = "delay",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, 1e6},
            .required = true,
            .meaning = "How much later."},
};

constexpr std::array stages_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: motions in a row, each following the one before."},
    KeySpec{.key = "stages",
            .kind = motions,
            .required = true,
            .names = NameKind::motion,
            .meaning = "Names of motions, or motions written in place; an ease or a pace comes before any glide or "
                       "spring, and there are at most 6 of those."},
};

constexpr std::array curve_keys{
    KeySpec{.key = "shape", .kind = curve, .meaning = "A curve as an ease takes it."},
    KeySpec{.key = "points",
            .kind = points,
            .meaning = "Pairs [time, value] with ascending times, or a CSV file of two columns. The first time is the "
                       "start of a move, the last its end; value 0 is where it began, 1 its goal. Smooth, and monotone "
                       "wherever the points are."},
};

constexpr std::array pose_keys{
    KeySpec{.key = "entering",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "Motion of this pose's channels while it is in force, instead of their own; or a table of "
                       "motions by channel."},
    KeySpec{.key = "leaving",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "Motion of this pose's channels when the base takes over from it."},
};

constexpr std::array goal_keys{
    KeySpec{
        .key = "times", .kind = components, .bounds = {-1e12, 1e12}, .meaning = "The goal is this factor of the base."},
    KeySpec{.key = "add",
            .kind = components,
            .unit = UnitKind::channel,
            .meaning = "The goal is the base and this much more."},
};

constexpr std::array setting_keys{
    KeySpec{.key = "value", .kind = number, .required = true, .meaning = "The value unless a player changes it."},
    KeySpec{.key = "range",
            .kind = pair,
            .required = true,
            .meaning = "Lowest and highest value; `stasis check` tries both."},
    KeySpec{.key = "unit", .kind = text, .fallback = "\"\"", .meaning = "A label for the number."},
};

constexpr std::array want_keys{
    KeySpec{.key = "take", .kind = name, .names = NameKind::take, .meaning = "The take; every take without it."},
    KeySpec{.key = "measure",
            .kind = text,
            .required = true,
            .meaning =
                "A channel and its measure, such as fov.settling_time: the largest over the channel's moves, the "
                "smallest for at_least."},
    KeySpec{.key = "at_most", .kind = number, .meaning = "It is at most this, in the measure's unit."},
    KeySpec{.key = "at_least", .kind = number, .meaning = "It is at least this."},
    KeySpec{.key = "near", .kind = number, .meaning = "It is this, give or take within."},
    KeySpec{.key = "within", .kind = number, .bounds = {0.0, unbounded}, .meaning = "How far from near it may be."},
};

constexpr std::array silence_keys{
    KeySpec{
        .key = "warning", .kind = text, .required = true, .meaning = "The warning's code, as `stasis check` shows it."},
    KeySpec{.key = "about",
            .kind = text,
            .fallback = "\"\"",
            .meaning = "Only where it is about this; without it, everywhere."},
    KeySpec{.key = "reason", .kind = text, .required = true, .meaning = "Why it is meant to be so."},
};

constexpr std::array hold_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = "hold",
            .meaning = "The pose is in force while the control is down; release and cancel both lead home."},
    KeySpec{.key = "pose", .kind = name, .required = true, .names = NameKind::pose, .meaning = "The pose."},
};

constexpr std::array take_keys{
    KeySpec{.key = "length",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .required = true,
            .meaning = "How long the take is."},
    KeySpec{.key = "clock", .kind = table, .section = "take.clock", .meaning = "Frame times."},
    KeySpec{.key = "cues",
            .kind = list,
            .section = "take.cue",
            .meaning = "Timed inputs. Those at one instant act in the order written."},
};

constexpr std::array clock_keys{
    KeySpec{.key = "fps",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {0.01, 100000},
            .fallback = "60",
            .meaning = "Frames a second, evenly spaced."},
};

constexpr std::array cue_keys{
    KeySpec{.key = "at",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .required = true,
            .meaning = "When, from the start of the take."},
    KeySpec{.key = "press", .kind = name, .names = NameKind::control, .meaning = "The control goes down."},
    KeySpec{.key = "release", .kind = name, .names = NameKind::control, .meaning = "The control comes up."},
    KeySpec{.key = "cancel",
            .kind = name,
            .names = NameKind::control,
            .meaning = "The control's press is taken away, as when a menu opens; acts as a release."},
};

constexpr std::array sections{
    SectionSpec{"feel", "the document",
                "A TOML document. Unknown keys are errors. A plain number is in the key's own unit; a text may carry "
                "another, such as \"110 ms\".",
                feel_keys},
    SectionSpec{"picture", "[picture]", "What is seen.", picture_keys},
    SectionSpec{"picture.lens", "picture.lens", "The field of view of a perspective view.", lens_keys},
    SectionSpec{"picture.height", "picture.height", "The visible height of a flat view.", height_keys},
    SectionSpec{"channel", "[channel.NAME]", "One value that changes over time, of 1 to 3 components.", channel_keys},
    SectionSpec{"motion.cut", "[motion.NAME] kind = \"cut\"", "The value is the goal, one frame later.", cut_keys},
    SectionSpec{
        "motion.glide", "[motion.NAME] kind = \"glide\"",
        "The gap shrinks by one constant factor per equal time: fast at first, ever slower, never exactly there.",
        glide_keys, "half_life | time_constant | rate | settling_time | per_frame + at_fps"},
    SectionSpec{"motion.spring", "[motion.NAME] kind = \"spring\"",
                "A damped oscillator, stepped by its exact solution at any frame rate.", spring_keys,
                "frequency + damping_ratio | stiffness + damping | settling_time + overshoot"},
    SectionSpec{"motion.ease", "[motion.NAME] kind = \"ease\"", "A move of fixed duration along a curve.", ease_keys},
    SectionSpec{"motion.pace", "[motion.NAME] kind = \"pace\"",
                "To the goal in the least time that a largest speed and acceleration allow.", pace_keys},
    SectionSpec{"motion.delay", "[motion.NAME] kind = \"delay\"", "The goal, some time later.", delay_keys},
    SectionSpec{"motion.stages", "[motion.NAME] kind = \"stages\"", "Motions in a row.", stages_keys},
    SectionSpec{"curve", "[curve.NAME]", "A curve of one's own.", curve_keys, "shape | points"},
    SectionSpec{
        "pose", "[pose.NAME]",
        "Each other key is a channel, or one component of it (\"focus.y\"), each value its goal while the pose is "
        "in force: a number in the channel's unit, a list for a channel of several components, or { times = .. } "
        "or { add = .. } of the base.",
        pose_keys, "", SectionSpec::OtherKeys::channels},
    SectionSpec{"pose.goal", "pose.NAME.CHANNEL", "A goal by the channel's base.", goal_keys, "times | add"},
    SectionSpec{"control.hold", "[control.NAME] kind = \"hold\"", "A button that holds a pose.", hold_keys},
    SectionSpec{"take", "[take.NAME]", "One rehearsal.", take_keys},
    SectionSpec{"take.clock", "take.NAME.clock", "The clock of a take.", clock_keys},
    SectionSpec{"take.cue", "take.NAME.cues[]", "One timed input.", cue_keys, "press | release | cancel"},
    SectionSpec{"setting", "[setting.NAME]", "A number that a player may change.", setting_keys},
    SectionSpec{"variant",
                "[variant.NAME]",
                "Each key is the path of a value, such as \"motion.soft.frequency\", each value what stands there "
                "instead.",
                {},
                "",
                SectionSpec::OtherKeys::paths},
    SectionSpec{"want", "[[want]]", "A bound on a measure.", want_keys, "at_most | at_least | near + within"},
    SectionSpec{"silence", "[[silence]]", "A warning that is meant to be there.", silence_keys},
};

} // namespace

std::span<const SectionSpec> all_sections() noexcept { return sections; }

const SectionSpec* find_section(std::string_view id) noexcept {
  for (const SectionSpec& section : sections)
    if (section.id == id) return &section;
  return nullptr;
}

const KeySpec* find_key(const SectionSpec& section, std::string_view key) noexcept {
  for (const KeySpec& spec : section.keys)
    if (spec.key == key) return &spec;
  return nullptr;
}

std::string_view name_kind_in_words(NameKind kind) noexcept {
  constexpr std::array<std::string_view, 9> words{"",     "channel", "motion",  "pose",   "control",
                                                  "take", "curve",   "setting", "variant"};
  return words[static_cast<std::size_t>(kind)];
}

} // namespace stasis
