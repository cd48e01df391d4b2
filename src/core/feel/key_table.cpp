#include "core/feel/key_table.hpp"

#include <array>

namespace stasis {
namespace {

using enum ValueKind;

constexpr double unbounded = std::numeric_limits<double>::infinity();
constexpr Bounds positive{0.0, unbounded, true, false};
constexpr Bounds share{0.0, 1.0, true, true};
/// Beyond these a unit has surely been mistaken, and the arithmetic would lose digits.
constexpr Bounds sensible_time{1e-6, 1e6, false, false};
constexpr Bounds sensible_rate{1e-6, 1e6, false, false};

constexpr std::array feel_keys{
    KeySpec{.key = "feel", .kind = integer, .bounds = {1, 1}, .fallback = "1", .meaning = "Version of this format."},
    KeySpec{
        .key = "title", .kind = text, .fallback = "\"\"", .meaning = "What the feel is called on figures and pages."},
    KeySpec{.key = "picture", .kind = table, .section = "picture", .meaning = "What is seen: size, lens."},
    KeySpec{.key = "channel", .kind = tables, .section = "channel", .meaning = "The values that change over time."},
    KeySpec{.key = "motion",
            .kind = tables,
            .section = "motion.",
            .meaning = "The rules by which values approach their goals."},
    KeySpec{.key = "pose", .kind = tables, .section = "pose", .meaning = "Named goals of several channels."},
    KeySpec{.key = "control", .kind = tables, .section = "control.", .meaning = "What an input does."},
    KeySpec{
        .key = "take", .kind = tables, .section = "take", .meaning = "Rehearsals: a length, a clock and timed inputs."},
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
            .choices = "linear|zoom",
            .meaning = "The scale in which the motion works: linear, or zoom (equal steps are equal ratios of size on "
                       "the picture; angles only)."},
    KeySpec{.key = "motion",
            .kind = motion,
            .fallback = "cut",
            .names = NameKind::motion,
            .meaning = "How the value approaches its goal: the name of a motion, a motion written in place, or { x = "
                       ".., y = .. } by component. Without it the value jumps."},
    KeySpec{.key = "settle_band",
            .kind = band,
            .unit = UnitKind::percent,
            .bounds = positive,
            .fallback = "2",
            .meaning = "How near its end a move must stay to count as settled: per cent of the move, or a text in the "
                       "channel's unit such as \"0.1 deg\"."},
};

constexpr std::array cut_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = "cut|glide|spring|ease",
            .meaning = "The rule: a jump."},
};

constexpr std::array glide_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = "cut|glide|spring|ease",
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
            .choices = "cut|glide|spring|ease",
            .meaning = "The rule: a damped oscillator. It starts softly and may overshoot."},
    KeySpec{.key = "frequency",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1e-4, 1e5},
            .required = true,
            .meaning = "Undamped natural frequency: how quick it is."},
    KeySpec{
        .key = "damping_ratio",
        .kind = number,
        .bounds = {0.0, 1e4},
        .required = true,
        .meaning =
            "Below 1 it overshoots, at 1 it is as quick as it can be without, above 1 it is slower; 0 never settles."},
};

constexpr std::array ease_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = "cut|glide|spring|ease",
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
            .meaning =
                "Progress over time: linear, ease, ease-in, ease-out, ease-in-out or cubic-bezier(x1, y1, x2, y2)."},
    KeySpec{
        .key = "handover",
        .kind = choice,
        .fallback = "\"restart\"",
        .choices = "restart",
        .meaning =
            "What a new goal does to a move under way: restart takes the full duration again from where the value is."},
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
                "A damped oscillator, stepped by its exact solution at any frame rate.", spring_keys},
    SectionSpec{"motion.ease", "[motion.NAME] kind = \"ease\"", "A move of fixed duration along a curve.", ease_keys},
    SectionSpec{"pose",
                "[pose.NAME]",
                "Each key is a channel, each value its goal while the pose is in force: a number in the channel's "
                "unit, or a list for a channel of several components.",
                {},
                {},
                true},
    SectionSpec{"control.hold", "[control.NAME] kind = \"hold\"", "A button that holds a pose.", hold_keys},
    SectionSpec{"take", "[take.NAME]", "One rehearsal.", take_keys},
    SectionSpec{"take.clock", "take.NAME.clock", "The clock of a take.", clock_keys},
    SectionSpec{"take.cue", "take.NAME.cues[]", "One timed input.", cue_keys, "press | release | cancel"},
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
  constexpr std::array<std::string_view, 6> words{"", "channel", "motion", "pose", "control", "take"};
  return words[static_cast<std::size_t>(kind)];
}

} // namespace stasis
