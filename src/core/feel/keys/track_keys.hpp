// Tracks and following. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

inline constexpr std::string_view track_kinds = "recorded|line|circle|eight|steps|stop_and_go";
constexpr KeySpec track_kind(std::string_view meaning) {
  return {.key = "kind", .kind = choice, .required = true, .choices = track_kinds, .meaning = meaning};
}
inline constexpr KeySpec track_from_time{.key = "begins_at",
                                         .kind = number,
                                         .unit = UnitKind::time,
                                         .bounds = {-1e6, 1e6},
                                         .fallback = "0",
                                         .meaning = "When in a take the track's own time 0 lies."};
inline constexpr KeySpec track_unit{.key = "unit",
                                    .kind = text,
                                    .fallback = "\"\"",
                                    .meaning = "Unit of its places; that of the channels that follow."};
inline constexpr KeySpec track_radius{.key = "radius",
                                      .kind = number,
                                      .unit = UnitKind::channel,
                                      .bounds = {0.0, 1e9},
                                      .fallback = "0",
                                      .meaning = "Size of the subject about its place: what counts as inside it."};
inline constexpr KeySpec track_box{.key = "box",
                                   .kind = components,
                                   .unit = UnitKind::channel,
                                   .bounds = {0.0, 1e9},
                                   .meaning = "Width, height and depth of the subject instead of a radius; it turns "
                                              "with the way the subject looks."};
inline constexpr KeySpec track_in{
    .key = "in",
    .kind = choice,
    .fallback = "\"world\"",
    .choices = "world|about_subject|about_camera",
    .meaning = "What its places are measured from. about_subject: they lie in the picture, in half widths and half "
               "heights about the subject that is followed with it (a pointer). about_camera: the same about the "
               "channel itself; what it does then comes back as its goal one frame later."};

inline constexpr std::array recorded_keys{
    track_kind("Rows of a CSV file; straight between them."),
    KeySpec{.key = "file",
            .kind = file,
            .required = true,
            .meaning = "A CSV file beside the feel: a header, then a row for each instant."},
    KeySpec{.key = "columns",
            .kind = table,
            .section = "track.columns",
            .meaning = "Which column of the file is what. Without it the columns must have these names."},
    KeySpec{.key = "rate",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1e-3, 1e6},
            .meaning = "Rows a second, where there is no column of times."},
    KeySpec{.key = "time_unit",
            .kind = choice,
            .fallback = "\"s\"",
            .choices = "s|ms",
            .meaning = "Unit of the column of times."},
    KeySpec{.key = "scale",
            .kind = number,
            .bounds = {-1e9, 1e9},
            .fallback = "1",
            .meaning = "The file's places and velocities are multiplied by this."},
    KeySpec{.key = "repair",
            .kind = texts,
            .meaning = "Faults that are mended instead of refused: \"unsorted\" rows are sorted, the last of several "
                       "rows with a \"repeated\" time counts, \"gaps\" are bridged by a straight line."},
    KeySpec{
        .key = "longest_gap",
        .kind = number,
        .unit = UnitKind::time,
        .bounds = sensible_time,
        .meaning =
            "Longest time allowed between two rows. Without it: ten times the usual one, if there are twenty rows."},
    KeySpec{.key = "cut_beyond",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .meaning =
                "If the subject goes farther than this from one row to the next, that is a jump and not motion."},
    KeySpec{.key = "lost",
            .kind = choice,
            .fallback = "\"hold\"",
            .choices = "hold|base|error",
            .meaning = "What happens before its first row and after its last: hold keeps that row; base sends what "
                       "follows home; error refuses a take that the track does not cover."},
    track_in,
    track_from_time,
    track_unit,
    track_radius,
    track_box,
};

inline constexpr std::array column_keys{
    KeySpec{.key = "time", .kind = text, .meaning = "Times, ascending."},
    KeySpec{.key = "x",
            .kind = text,
            .meaning =
                "Column of the place's first component: right. A \"-\" before the column's name changes its sign."},
    KeySpec{.key = "y", .kind = text, .meaning = "Column of its second component: up."},
    KeySpec{.key = "z",
            .kind = text,
            .meaning = "Column of its third component: towards the viewer, so south if x is east."},
    KeySpec{.key = "heading",
            .kind = text,
            .meaning =
                "Which way the subject looks, deg: 0 along -z and left positive; in a flat view 0 to the right."},
    KeySpec{.key = "throttle", .kind = text, .meaning = "How hard it is driven, -1 to 1."},
    KeySpec{.key = "velocity_x",
            .kind = text,
            .meaning = "Column of the velocity's first component, as recorded, instead of from the last two rows."},
    KeySpec{.key = "velocity_y", .kind = text, .meaning = "Column of the velocity's second component: up."},
    KeySpec{
        .key = "velocity_z", .kind = text, .meaning = "Column of the velocity's third component: towards the viewer."},
};

inline constexpr KeySpec path_start{.key = "from",
                                    .kind = components,
                                    .unit = UnitKind::channel,
                                    .required = true,
                                    .meaning = "Where it is at its time 0; as many numbers as it has components."};
inline constexpr KeySpec path_velocity{
    .key = "velocity", .kind = components, .required = true, .meaning = "Units a second along each axis."};
inline constexpr KeySpec path_centre{
    .key = "centre",
    .kind = components,
    .unit = UnitKind::channel,
    .required = true,
    .meaning = "The middle, two or three numbers; three lie on the ground, two in a flat view."};

inline constexpr std::array line_keys{track_kind("Straight on at one speed."),
                                      path_start,
                                      path_velocity,
                                      track_in,
                                      track_from_time,
                                      track_unit,
                                      track_radius,
                                      track_box};
inline constexpr std::array circle_keys{
    track_kind("Round a circle, from its right end on, anticlockwise seen from above."),
    path_centre,
    KeySpec{.key = "diameter",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .required = true,
            .meaning = "From one side of the circle to the other."},
    KeySpec{.key = "speed",
            .kind = number,
            .bounds = {-1e9, 1e9},
            .required = true,
            .meaning = "Units a second along it; negative turns right."},
    track_in,
    track_from_time,
    track_unit,
    track_radius,
    track_box,
};
inline constexpr std::array eight_keys{
    track_kind("A figure of eight, from its crossing on."),
    path_centre,
    KeySpec{.key = "width",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .required = true,
            .meaning = "From end to end along x."},
    KeySpec{.key = "height",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .required = true,
            .meaning = "Across, along the other axis."},
    KeySpec{.key = "lap",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .required = true,
            .meaning = "Time for one round."},
    track_in,
    track_from_time,
    track_unit,
    track_radius,
    track_box,
};
inline constexpr std::array steps_keys{
    track_kind("From place to place in jumps; it stays at the last."),
    KeySpec{.key = "places",
            .kind = places,
            .unit = UnitKind::channel,
            .required = true,
            .meaning = "The places, each a list of numbers."},
    KeySpec{.key = "every",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .required = true,
            .meaning = "How long it stays at each."},
    track_in,
    track_from_time,
    track_unit,
    track_radius,
    track_box,
};
inline constexpr std::array stop_and_go_keys{
    track_kind("Goes straight on and stands still by turns."),
    path_start,
    path_velocity,
    KeySpec{.key = "go",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .required = true,
            .meaning = "How long it goes each time."},
    KeySpec{.key = "stop",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .required = true,
            .meaning = "How long it stands each time."},
    track_in,
    track_from_time,
    track_unit,
    track_radius,
    track_box,
};

inline constexpr std::array follow_keys{
    KeySpec{.key = "track",
            .kind = text,
            .required = true,
            .names = NameKind::track,
            .meaning = "The track; for a channel of one component, one component of it, such as \"otter.x\"."},
    KeySpec{.key = "second",
            .kind = name,
            .names = NameKind::track,
            .meaning = "Another track, such as a pointer, that draws the goal to itself."},
    KeySpec{.key = "weight",
            .kind = weight,
            .bounds = {0.0, 1.0},
            .fallback = "0",
            .meaning =
                "How far the goal goes from the track to the second, 0 to 1: a number, or the name of a channel."},
    KeySpec{.key = "lead", .kind = table, .section = "follow.lead", .meaning = "How far ahead of the subject to look."},
    KeySpec{.key = "dead_zone",
            .kind = table,
            .section = "follow.dead_zone",
            .meaning = "How far the subject may stray before the goal follows."},
    KeySpec{.key = "offset",
            .kind = components,
            .unit = UnitKind::channel,
            .meaning = "Added to the goal: right, up, back."},
    KeySpec{.key = "offset_in",
            .kind = choice,
            .fallback = "\"world\"",
            .choices = "world|heading|subject|view",
            .meaning = "The axes of the offset: fixed; turned with the way the subject travels; with the way it looks; "
                       "with the camera."},
    KeySpec{.key = "damping_in",
            .kind = choice,
            .fallback = "\"world\"",
            .choices = "world|heading|subject|view",
            .meaning = "The axes in which the channel's motions work, component by component: quick along the way and "
                       "slow across it, say."},
    KeySpec{.key = "keep", .kind = texts, .meaning = "Components (\"y\") that do not follow and stay at home."},
    KeySpec{.key = "start",
            .kind = choice,
            .fallback = "\"goal\"",
            .choices = "goal|rest",
            .meaning = "Where a take begins: at the goal, with its lead, or at rest."},
};

inline constexpr std::array lead_keys{
    KeySpec{.key = "by",
            .kind = choice,
            .required = true,
            .choices = "velocity|forward_speed|throttle",
            .meaning = "velocity: ahead where it goes. forward_speed: only by what it goes where it looks, so that "
                       "slipping sideways leads nowhere. throttle: by how hard it is driven, where it looks."},
    KeySpec{.key = "seconds",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {-1e3, 1e3},
            .meaning = "How far ahead in time; with velocity and forward_speed."},
    KeySpec{.key = "distance",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {-1e9, 1e9},
            .meaning = "How far at full throttle."},
    KeySpec{.key = "longest",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .meaning = "A longer lead is cut to this length."},
    KeySpec{.key = "motion",
            .kind = motion,
            .names = NameKind::motion,
            .meaning = "The lead's own motion: a cut, a glide, a spring, or stages of them."},
    KeySpec{.key = "stick",
            .kind = name,
            .names = NameKind::control,
            .meaning = "A stick whose deflection is the throttle, instead of the track's column."},
};

inline constexpr std::array lead_asks{
    AskedKeys{.key = "by", .value = "velocity|forward_speed", .needs = "seconds"},
    AskedKeys{.key = "by", .value = "throttle", .needs = "distance"},
};

inline constexpr std::array dead_zone_keys{
    KeySpec{
        .key = "size",
        .kind = components,
        .unit = UnitKind::channel,
        .bounds = {0.0, 1e9},
        .required = true,
        .meaning =
            "Whole width, height (and depth): one number for all axes, or one each; 0 where there is none "
            "on an axis. With in = \"picture\" or \"margin\" two shares of the picture's width and height, or pixels "
            "(\"200 px\")."},
    KeySpec{.key = "times",
            .kind = weight,
            .bounds = {0.0, 1e6},
            .fallback = "1",
            .meaning = "The zone is this many times as large: a number, or the name of a channel, which a profile may "
                       "drive."},
    KeySpec{.key = "shape",
            .kind = choice,
            .fallback = "\"box\"",
            .choices = "box|ellipse",
            .meaning = "An ellipse inside the box, or the box itself."},
    KeySpec{.key = "in",
            .kind = choice,
            .fallback = "\"units\"",
            .choices = "units|picture|margin",
            .meaning = "units of the channel; shares of the picture; or how near to the picture's edges, as shares, "
                       "the subject may come."},
};

} // namespace stasis::keys
