// The document, the picture, channels, poses, settings, wants. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

inline constexpr std::array feel_keys{
    KeySpec{.key = "feel", .kind = integer, .bounds = {1, 1}, .fallback = "1", .meaning = "Version of this format."},
    KeySpec{.key = "title", .kind = text, .fallback = "\"\"", .meaning = "The feel's name on figures and pages."},
    KeySpec{
        .key = "include",
        .kind = texts,
        .meaning =
            "Files beside this one whose motions, curves, shakes and settings are brought in; a name given twice is "
            "an error."},
    KeySpec{.key = "history",
            .kind = integer,
            .bounds = {0, 1000},
            .fallback = "50",
            .meaning = "How many of the feel's texts are kept beside it when Stasis writes into it; 0: none. `stasis "
                       "history` lists them."},
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
    KeySpec{.key = "track", .kind = tables, .section = "track.", .meaning = "Motion of subjects that are followed."},
    KeySpec{.key = "obstacle",
            .kind = tables,
            .section = "obstacle.",
            .meaning = "Geometry that limits how far back the camera may be."},
    KeySpec{.key = "pose", .kind = tables, .section = "pose", .meaning = "Named goals of several channels."},
    KeySpec{.key = "control", .kind = tables, .section = "control.", .meaning = "What an input does."},
    KeySpec{.key = "sequence",
            .kind = tables,
            .section = "sequence",
            .meaning = "Views led through places, one after the other."},
    KeySpec{.key = "switch",
            .kind = tables,
            .section = "switch",
            .meaning = "Poses that go on and off when a channel crosses thresholds."},
    KeySpec{.key = "group",
            .kind = tables,
            .section = "group",
            .meaning = "Controls that oppose or outrank each other, and who decides."},
    KeySpec{
        .key = "shake", .kind = tables, .section = "shake", .meaning = "Disturbances put on after everything else."},
    KeySpec{.key = "profile",
            .kind = tables,
            .section = "profile",
            .meaning = "Goals of several channels that one channel drives."},
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
    KeySpec{.key = "want", .kind = list, .section = "want", .meaning = "Limits that `stasis check` tests."},
    KeySpec{.key = "silence",
            .kind = list,
            .section = "silence",
            .meaning = "Warnings that are no mistake here, with the reason."},
};

inline constexpr std::array picture_keys{
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
    KeySpec{.key = "width",
            .kind = table,
            .section = "picture.width",
            .meaning = "For a flat view: which channel is the visible width; with a height beside it, it is the "
                       "height times the aspect."},
    KeySpec{.key = "coarse",
            .kind = components,
            .unit = UnitKind::pixels,
            .bounds = {1, 65536},
            .meaning = "Width and height of the low-resolution picture that is drawn and then enlarged to `size`."},
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
    KeySpec{.key = "margin",
            .kind = number,
            .unit = UnitKind::pixels,
            .bounds = {0, 65536},
            .meaning = "How much is drawn beyond each edge of the picture, so that it may be shaken; `check` warns if "
                       "that is not enough."},
    KeySpec{.key = "most_roll",
            .kind = number,
            .unit = UnitKind::angle,
            .bounds = {0.0, 180.0},
            .meaning = "How far the camera may roll before it is uncomfortable, everything that rolls it together; "
                       "`check` warns beyond."},
    KeySpec{.key = "top_turn_speed",
            .kind = number,
            .bounds = {0.0, 1e6},
            .meaning = "How fast the view may turn, in degrees a second, all that turns it together; `check` warns "
                       "beyond."},
    KeySpec{.key = "top_turn_acceleration",
            .kind = number,
            .bounds = {0.0, 1e9},
            .meaning = "How quickly that may change, in degrees a second each second; likewise."},
    KeySpec{.key = "top_eye_speed",
            .kind = number,
            .bounds = {0.0, 1e9},
            .meaning = "How fast the eye may go, in the unit of places a second; likewise."},
};

inline constexpr std::array lens_keys{
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

inline constexpr std::array height_keys{
    KeySpec{.key = "channel",
            .kind = name,
            .required = true,
            .names = NameKind::channel,
            .meaning = "The channel that holds the visible height."},
};

inline constexpr std::array width_keys{
    KeySpec{.key = "channel",
            .kind = name,
            .required = true,
            .names = NameKind::channel,
            .meaning = "The channel that holds the visible width."},
};

inline constexpr std::array channel_keys{
    KeySpec{.key = "unit",
            .kind = text,
            .fallback = "\"\"",
            .meaning = "Unit of the channel's numbers, such as \"deg\" or \"m\"; a label where it is not a unit that "
                       "Stasis knows."},
    KeySpec{.key = "rest",
            .kind = components,
            .unit = UnitKind::channel,
            .required = true,
            .meaning = "The resting value; a list of 2 or 3 numbers makes a channel of as many components."},
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
    KeySpec{.key = "motion_times",
            .kind = weight,
            .bounds = {1e-6, 1e6},
            .fallback = "1",
            .meaning = "How many times as long the channel's glides and springs take: a number, or the name of a "
                       "channel, which a profile may drive. Its value at a frame holds over that frame."},
    KeySpec{.key = "formula",
            .kind = formula,
            .meaning = "Works out the home from other values, on each frame: ordinary algebra over channels (their "
                       "smoothed values; NAME.goal for the goal), controls (1 while on; a count, a deflection), time "
                       "and pi. A channel of several components takes a table by component."},
    KeySpec{.key = "follow",
            .kind = follow,
            .section = "follow",
            .meaning = "The goal comes from a track: its name, or a table with lead, dead zone and offset."},
    KeySpec{
        .key = "realign", .kind = table, .section = "realign", .meaning = "After a pause it turns back to a heading."},
    KeySpec{.key = "keeps_width",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .meaning =
                "For the distance of [picture]: its goal is the distance at which this width fits across the picture, "
                "whatever the lens does. The subject keeps its size while its surroundings grow or shrink."},
    KeySpec{.key = "obstacles",
            .kind = table,
            .section = "obstacles",
            .meaning = "For the distance of [picture]: obstacles between what is looked at and the eye hold it in."},
    KeySpec{.key = "placed",
            .kind = flag,
            .fallback = "false",
            .meaning = "For the position of [picture]: its goal is where focus, distance, yaw, pitch and side put the "
                       "eye. Its own motion takes it there, and it looks at the focus."},
    KeySpec{.key = "runs_on",
            .kind = choice,
            .fallback = "\"game\"",
            .choices = "game|clock",
            .meaning = "game: its motion goes by game time, slower in slow motion. clock: by the clock's time, as fast "
                       "as ever; where it should be is still told by the game."},
    KeySpec{.key = "snap",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .meaning = "Cell of a grid to which the value is rounded, last of all; what the rounding takes away is the "
                       "trace's column NAME.remainder."},
    KeySpec{.key = "settle_band",
            .kind = band,
            .unit = UnitKind::percent,
            .bounds = positive,
            .fallback = "2",
            .meaning = "How near its end a move must stay to count as settled: in per cent of the move, or a text in "
                       "the channel's unit such as \"0.1 deg\"."},
};

inline constexpr std::array channel_asks{
    AskedKeys{.key = "snap", .says = "space = linear"},
    AskedKeys{.key = "realign", .says = "space = turn"},
};

inline constexpr std::array pose_keys{
    KeySpec{
        .key = "entering",
        .kind = moving,
        .names = NameKind::motion,
        .meaning =
            "Motion of this pose's channels while it acts, instead of their own; or a table of motions by channel."},
    KeySpec{.key = "leaving",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "Motion of this pose's channels when it ends and they go home."},
    KeySpec{.key = "mirrors",
            .kind = flag,
            .fallback = "true",
            .meaning = "Whether goals of a channel that a control has put on its other side are mirrored with it."},
};

inline constexpr std::array goal_keys{
    KeySpec{.key = "times", .kind = components, .bounds = {-1e12, 1e12}, .meaning = "The goal is home times this."},
    KeySpec{.key = "add", .kind = components, .unit = UnitKind::channel, .meaning = "The goal is home plus this."},
    KeySpec{.key = "track",
            .kind = name,
            .names = NameKind::track,
            .meaning = "The channel follows this track instead of its own, with its lead, dead zone and offset."},
};

inline constexpr std::array setting_keys{
    KeySpec{.key = "value", .kind = number, .required = true, .meaning = "The value unless a player changes it."},
    KeySpec{.key = "range",
            .kind = pair,
            .required = true,
            .meaning = "Lowest and highest value; `stasis check` tries both."},
    KeySpec{.key = "unit", .kind = text, .fallback = "\"\"", .meaning = "A label for the number."},
};

inline constexpr std::array want_keys{
    KeySpec{.key = "take", .kind = name, .names = NameKind::take, .meaning = "The take; without it, every take."},
    KeySpec{.key = "measure",
            .kind = measure,
            .meaning =
                "A channel and its measure, such as fov.settling_time: the largest over the channel's moves, or the "
                "smallest for at_least. Or a shake and its measure, such as log_hit.quiet_after or log_hit.side.peak."},
    KeySpec{.key = "at_most", .kind = number, .meaning = "The measure must be at most this, in its unit."},
    KeySpec{.key = "at_least", .kind = number, .meaning = "The measure must be at least this."},
    KeySpec{.key = "near", .kind = number, .meaning = "The measure must be this, up to `within` more or less."},
    KeySpec{.key = "within",
            .kind = number,
            .bounds = {0.0, unbounded},
            .meaning = "How far from near, or from the baseline, it may be."},
    KeySpec{
        .key = "baseline",
        .kind = file,
        .meaning =
            "A trace that was kept beside the feel, with which the take is compared. `stasis check --keep` writes it."},
    KeySpec{.key = "column",
            .kind = text,
            .meaning =
                "With baseline: compare only this column, such as fov.value, or all of one channel, such as fov."},
};

inline constexpr std::array silence_keys{
    KeySpec{
        .key = "warning", .kind = text, .required = true, .meaning = "The warning's code, as `stasis check` shows it."},
    KeySpec{.key = "about",
            .kind = text,
            .fallback = "\"\"",
            .meaning = "Only warnings about this; without it, all of that code."},
    KeySpec{.key = "reason", .kind = text, .required = true, .meaning = "Why it is no mistake."},
};

} // namespace stasis::keys
