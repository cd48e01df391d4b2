// Controls and takes. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

inline constexpr std::string_view control_kinds = "hold|toggle|cycle|clicks|pointer|stick|sequence";
/// The key that says which kind of control it is; what it means differs by kind.
constexpr KeySpec control_kind(std::string_view meaning) {
  return {.key = "kind", .kind = choice, .required = true, .choices = control_kinds, .meaning = meaning};
}
inline constexpr KeySpec buttons_key{
    .key = "buttons",
    .kind = texts,
    .meaning = "Buttons by which cues press it; it is down until the last of them is up. Without it, its own name is."};
inline constexpr KeySpec unless_key{
    .key = "unless", .kind = name, .names = NameKind::control, .meaning = "It has no effect while that control is on."};
inline constexpr KeySpec invert_key{
    .key = "invert", .kind = flag, .fallback = "false", .meaning = "The other way round."};

inline constexpr std::array hold_keys{
    control_kind("The pose is in force while the control is down; release and cancel both lead home."),
    KeySpec{.key = "pose", .kind = name, .required = true, .names = NameKind::pose, .meaning = "The pose."},
    KeySpec{.key = "on_release",
            .kind = choice,
            .fallback = "\"return\"",
            .choices = "return|stay",
            .meaning = "return leads home; stay leaves the pose's goals behind as the new home."},
    buttons_key,
    unless_key,
};

inline constexpr std::array toggle_keys{
    control_kind("The pose is in force from one press to the next."),
    KeySpec{.key = "pose", .kind = name, .required = true, .names = NameKind::pose, .meaning = "The pose."},
    buttons_key,
    unless_key,
};

inline constexpr std::array cycle_keys{
    control_kind("Each press takes the next pose, or the other side."),
    KeySpec{.key = "poses",
            .kind = texts,
            .meaning =
                "The poses in turn; \"home\" among them stands for none. Before the first press none is in force."},
    KeySpec{.key = "mirror",
            .kind = text,
            .meaning = "The channel, or one component of it such as \"focus.x\", whose home each press puts on the "
                       "other side of the centre."},
    KeySpec{.key = "centre",
            .kind = number,
            .unit = UnitKind::channel,
            .fallback = "0",
            .meaning = "What it is mirrored about."},
    KeySpec{.key = "side",
            .kind = choice,
            .fallback = "\"stored\"",
            .choices = "stored|what_is_there|opposite_of_now",
            .meaning =
                "How a press finds the other side. stored: from a side that is kept, so that each press counts. "
                "what_is_there mirrors the value as it is, on its way or not, and opposite_of_now looks where it "
                "is: two common accidents, here to be replayed."},
    buttons_key,
    unless_key,
};

inline constexpr std::array clicks_keys{
    control_kind("Each click moves the channel's home one rung up, or down for a negative count."),
    KeySpec{.key = "channel",
            .kind = text,
            .required = true,
            .meaning = "The channel, or one component of it such as \"focus.y\"."},
    KeySpec{.key = "step",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {1e-9, 1e9},
            .required = true,
            .meaning = "What one click changes: units, or a factor other than 1."},
    KeySpec{.key = "by",
            .kind = choice,
            .choices = "amount|factor|picture_scale",
            .meaning = "Whether the step is an amount, a factor of the value, or a factor of how large things stand in "
                       "the picture (fields of view). Without it: as the channel's space has it (ratio: factor, zoom: "
                       "picture_scale, else amount)."},
    KeySpec{.key = "clicks_per_stroke",
            .kind = integer,
            .bounds = {1, 1000},
            .fallback = "1",
            .meaning = "How many clicks a finger makes in one stroke, to count strokes from end to end."},
    KeySpec{.key = "double_within",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0, 60},
            .fallback = "0",
            .meaning = "Two click cues one way this close run to the end of the range; 0: never."},
    KeySpec{.key = "repeat_every",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.001, 3600},
            .meaning = "While it is held down, a click again after each such time."},
    KeySpec{.key = "clicks_from",
            .kind = choice,
            .fallback = "\"goal\"",
            .choices = "goal|view",
            .meaning =
                "From where a click counts while an obstacle holds the view in: from the goal beyond it, so that "
                "clicks may show nothing, or from where the view is held."},
    KeySpec{.key = "every_frame",
            .kind = flag,
            .fallback = "false",
            .meaning = "While it is held down, a click on each frame: a common accident, here to be replayed."},
    KeySpec{.key = "repeats_double",
            .kind = flag,
            .fallback = "false",
            .meaning = "Repeats while it is held count as the second of two clicks, so that holding it may run to the "
                       "end: a common accident, here to be replayed."},
    KeySpec{.key = "start",
            .kind = number,
            .unit = UnitKind::channel,
            .meaning = "Where in its range the channel's home begins; at rest if not given."},
    invert_key,
    buttons_key,
    unless_key,
};

inline constexpr std::array pointer_keys{
    control_kind("The channel's home moves by the gain for each count."),
    KeySpec{.key = "channel",
            .kind = text,
            .required = true,
            .meaning = "The channel, or one component of it such as \"look.x\"."},
    KeySpec{.key = "gain",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {1e-12, 1e12},
            .required = true,
            .meaning = "Channel units a count."},
    KeySpec{.key = "top_speed",
            .kind = number,
            .bounds = {1e-9, 1e12},
            .meaning = "Channel units a second: the home follows the counts no faster than this."},
    KeySpec{.key = "runs_on",
            .kind = choice,
            .fallback = "\"game\"",
            .choices = "game|clock",
            .meaning = "game: the top speed is per second of game time. clock: per second of the clock."},
    KeySpec{.key = "times_frame_time",
            .kind = flag,
            .fallback = "false",
            .meaning = "Counts are multiplied by the frame's time: a common accident, here to be replayed."},
    invert_key,
    unless_key,
};

inline constexpr std::array stick_keys{
    control_kind("The channel's home moves while it is deflected."),
    KeySpec{.key = "channel",
            .kind = text,
            .required = true,
            .meaning = "The channel, or one component of it such as \"look.x\"."},
    KeySpec{.key = "gain",
            .kind = weight,
            .bounds = {1e-9, 1e9},
            .fallback = "1",
            .meaning =
                "Speed at full deflection: channel units a second; doublings a second in the spaces ratio and zoom. Or "
                "the name of a channel whose value it is, read on each frame: a pan that is faster from far away."},
    KeySpec{.key = "position",
            .kind = choice,
            .fallback = "\"rate\"",
            .choices = "rate|absolute",
            .meaning = "rate: a deflection is a speed. absolute: it is a place, home in the middle and the ends of the "
                       "range at 1 and -1."},
    KeySpec{.key = "runs_on",
            .kind = choice,
            .fallback = "\"game\"",
            .choices = "game|clock",
            .meaning = "game: it moves the home by game time, slower in slow motion. clock: by the clock's time, as "
                       "fast as ever."},
    KeySpec{.key = "spin_up",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0, 3600},
            .fallback = "0",
            .meaning = "From rest to full speed."},
    KeySpec{.key = "spin_down",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0, 3600},
            .fallback = "0",
            .meaning = "From full speed to rest."},
    KeySpec{.key = "dead_band",
            .kind = number,
            .bounds = {0, 0.99},
            .fallback = "0",
            .meaning = "Deflections up to this do nothing; from there it starts evenly."},
    KeySpec{.key = "outer_dead_band",
            .kind = number,
            .bounds = {0, 0.99},
            .fallback = "0",
            .meaning = "So close before the stop it is deflected in full: worn sticks do not reach 1."},
    KeySpec{.key = "exponent",
            .kind = number,
            .bounds = {0.1, 10},
            .fallback = "1",
            .meaning =
                "Between the dead bands the share of the way is taken to this power: 1 is even, 2 is finer about "
                "the middle."},
    invert_key,
    unless_key,
};

inline constexpr std::array switch_keys{
    KeySpec{.key = "on",
            .kind = text,
            .required = true,
            .meaning = "The channel, or one component of it, whose smoothed value is looked at on each frame."},
    KeySpec{.key = "pose", .kind = name, .names = NameKind::pose, .meaning = "The pose that comes into force."},
    KeySpec{.key = "starts",
            .kind = name,
            .names = NameKind::sequence,
            .meaning = "Instead of a pose: the sequence that begins where the threshold is passed."},
    KeySpec{.key = "enter_below",
            .kind = number,
            .unit = UnitKind::channel,
            .meaning = "It comes into force below this, and goes above leave_above."},
    KeySpec{.key = "leave_above",
            .kind = number,
            .unit = UnitKind::channel,
            .meaning = "It goes above this; beyond enter_below."},
    KeySpec{.key = "enter_above",
            .kind = number,
            .unit = UnitKind::channel,
            .meaning = "It comes into force above this, and goes below leave_below."},
    KeySpec{.key = "leave_below",
            .kind = number,
            .unit = UnitKind::channel,
            .meaning = "It goes below this; below enter_above."},
    KeySpec{.key = "keep",
            .kind = texts,
            .meaning =
                "Channels that take no new place when it is entered or left: their home becomes where they are."},
};

inline constexpr std::array group_keys{
    KeySpec{.key = "controls", .kind = texts, .required = true, .meaning = "The controls, the first ranking highest."},
    KeySpec{.key = "policy",
            .kind = choice,
            .required = true,
            .choices = "latest|first|neither|sum|ranked",
            .meaning = "Who decides a channel that several of them want: the one that came last; the one that came "
                       "first; none, if there are several; all, their distances from home added up in the channel's "
                       "space; the one listed first."},
};

inline constexpr std::array take_keys{
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
    KeySpec{.key = "recorded",
            .kind = file,
            .meaning =
                "A CSV file of recorded input beside the feel: a column time, in seconds, and one column for each "
                "control or button: 1 while a button is down, a stick's deflection, the clicks or counts since "
                "the row before. What comes after the take's end is left out."},
    KeySpec{.key = "tracks",
            .kind = texts_by_name,
            .meaning = "Other tracks in this take: { otter = \"drill\" } plays drill wherever otter is followed."},
    KeySpec{.key = "obstacles",
            .kind = texts,
            .meaning = "Names of the obstacles that stand in this take; [] clears them all away. Without it, all do."},
    KeySpec{.key = "random", .kind = table, .section = "take.random", .meaning = "Random presses beside the cues."},
};

inline constexpr std::array clock_keys{
    KeySpec{.key = "fps",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {0.01, 100000},
            .fallback = "60",
            .meaning = "Frames a second; evenly spaced, unless they are disturbed."},
    KeySpec{.key = "jitter",
            .kind = number,
            .bounds = {0.0, 0.95},
            .fallback = "0",
            .meaning = "Share of a frame's time within which each frame comes early or late, half of it each way."},
    KeySpec{.key = "seed",
            .kind = integer,
            .bounds = {0, 4294967295.0},
            .fallback = "1",
            .meaning = "The same seed gives the same jitter."},
    KeySpec{.key = "stalls",
            .kind = places,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning =
                "Frames that take longer: pairs of a time and a length; the first frame at or after the time begins "
                "so much late, and those after it with it."},
    KeySpec{.key = "random_stalls",
            .kind = table,
            .section = "take.clock.random_stalls",
            .meaning = "Stalls that come by chance, beside those."},
    KeySpec{.key = "recorded",
            .kind = file,
            .meaning = "A CSV file of frame times beside the feel: a column time, when each frame began, or else a "
                       "column dt, how long each took, in seconds. Instead of fps."},
    KeySpec{.key = "time_unit",
            .kind = choice,
            .fallback = "\"s\"",
            .choices = "s|ms",
            .meaning = "Unit of the recorded times."},
    KeySpec{.key = "longest_frame",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = sensible_time,
            .meaning =
                "Game time goes on by no more than this from frame to frame, as programs hold it; cues go by the "
                "clock all the same."},
    KeySpec{.key = "tick",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {0.01, 100000},
            .meaning = "Tracks advance at this fixed rate, whatever the frames do."},
    KeySpec{.key = "between",
            .kind = choice,
            .fallback = "\"hold\"",
            .choices = "hold|blend",
            .meaning = "With tick: a frame reads the latest tick, or lies between the last two, one tick late."},
    KeySpec{.key = "order",
            .kind = choice,
            .fallback = "\"camera_last\"",
            .choices = "camera_last|camera_first|on_tick",
            .meaning =
                "Whether the camera reads the subject of its own frame or that of the frame before; or is itself "
                "stepped once a tick, after the subject, and drawn as `between` says."},
};

inline constexpr std::array clock_asks{
    AskedKeys{.key = "between", .needs = "tick"},
    AskedKeys{.key = "order", .value = "on_tick", .needs = "tick"},
};

inline constexpr std::array random_stalls_keys{
    KeySpec{.key = "rate",
            .kind = number,
            .unit = UnitKind::rate,
            .bounds = {1e-6, 1000},
            .required = true,
            .meaning = "Stalls a second, on average."},
    KeySpec{.key = "shortest",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, 3600.0},
            .fallback = "0",
            .meaning = "The shortest of them."},
    KeySpec{.key = "longest",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, 3600.0},
            .required = true,
            .meaning = "The longest of them; lengths in between are equally likely."},
};

inline constexpr std::array cue_keys{
    KeySpec{.key = "at",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .required = true,
            .meaning = "When, from the start of the take."},
    KeySpec{.key = "press", .kind = text, .meaning = "The control, or the button, goes down."},
    KeySpec{.key = "release", .kind = text, .meaning = "The control, or the button, comes up."},
    KeySpec{.key = "cancel",
            .kind = text,
            .meaning = "The press is taken away, as when a menu opens; acts as a release of all buttons."},
    KeySpec{.key = "click", .kind = text, .meaning = "Clicks of a wheel, `count` of them."},
    KeySpec{.key = "count",
            .kind = integer,
            .bounds = {-10000, 10000},
            .fallback = "1",
            .meaning = "Of a click: how many at once; positive ones raise the value."},
    KeySpec{.key = "pointer", .kind = text, .meaning = "Counts of a pointer, `counts` of them."},
    KeySpec{.key = "counts",
            .kind = number,
            .bounds = {-1e9, 1e9},
            .meaning = "Of a pointer: how many counts it has moved since the frame before."},
    KeySpec{.key = "stick", .kind = text, .meaning = "A stick is put to `value` and stays there."},
    KeySpec{.key = "value", .kind = number, .bounds = {-1, 1}, .meaning = "Of a stick: its deflection, -1 to 1."},
    KeySpec{.key = "lock",
            .kind = text,
            .meaning = "The control stops having an effect; what is held is let go, what comes is ignored."},
    KeySpec{.key = "unlock", .kind = text, .meaning = "The control has an effect again."},
    KeySpec{.key = "goal", .kind = table, .section = "take.cue.goal", .meaning = "Homes of channels, set directly."},
    KeySpec{.key = "follow",
            .kind = table,
            .section = "take.cue.follow",
            .meaning = "Other tracks to follow from here on."},
    KeySpec{.key = "hit", .kind = name, .names = NameKind::shake, .meaning = "A hit that starts a shake."},
    KeySpec{
        .key = "game_speed",
        .kind = number,
        .bounds = {0.0, 100.0},
        .meaning =
            "From here on game time goes so many times as fast as the clock: 0.25 is slow motion, 0 stands "
            "still (a hundred-thousandth of its speed), 1 is as usual. Cues come by the clock; all else goes by game "
            "time, except for what runs_on = \"clock\"."},
    KeySpec{.key = "over",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .fallback = "0",
            .meaning = "Of a game_speed: how long it takes to change, by the clock."},
    KeySpec{.key = "start", .kind = name, .names = NameKind::sequence, .meaning = "A sequence begins."},
    KeySpec{.key = "skip", .kind = name, .names = NameKind::sequence, .meaning = "A sequence ends, wherever it is."},
    KeySpec{.key = "from", .kind = integer, .bounds = {1, 1000}, .meaning = "Of a start: the stop at which it begins."},
    KeySpec{.key = "to", .kind = integer, .bounds = {1, 1000}, .meaning = "Of a start: the stop at which it ends."},
    KeySpec{.key = "pace",
            .kind = number,
            .bounds = {0.01, 100.0},
            .meaning = "Of a start: instead of the sequence's own pace."},
    KeySpec{.key = "backward", .kind = flag, .meaning = "Of a start: instead of the sequence's own way round."},
    KeySpec{.key = "strength",
            .kind = strength,
            .bounds = {0.0, 1e6},
            .fallback = "1",
            .meaning = "Of a hit: a number, 1 in full, or one of the shake's named strengths."},
    KeySpec{.key = "place",
            .kind = components,
            .unit = UnitKind::channel,
            .meaning = "Of a hit: where it strikes, for a shake with a falloff."},
    KeySpec{.key = "direction",
            .kind = components,
            .meaning =
                "Of a hit that starts a ring: which way it kicks; as many numbers as what it shakes has components."},
    KeySpec{.key = "for",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "Of a press: released so long after; of a stick: let go so long after."},
    KeySpec{.key = "every",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {1e-6, longest_take},
            .meaning = "The cue again after each such time, `times` in all."},
    KeySpec{.key = "times",
            .kind = integer,
            .bounds = {1, 100000},
            .fallback = "1",
            .meaning = "How often a cue with `every` comes."},
};

inline constexpr std::array random_keys{
    KeySpec{.key = "presses", .kind = integer, .bounds = {1, 100000}, .required = true, .meaning = "How many."},
    KeySpec{.key = "of", .kind = texts, .required = true, .meaning = "The controls or buttons that are pressed."},
    KeySpec{.key = "from",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .fallback = "0",
            .meaning = "The first instant at which one may go down."},
    KeySpec{.key = "to",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .required = true,
            .meaning = "The last instant at which all are up again."},
    KeySpec{.key = "longest",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {1e-3, 3600},
            .fallback = "0.5",
            .meaning = "The longest that one is held."},
    KeySpec{.key = "seed",
            .kind = integer,
            .bounds = {0, 4294967295.0},
            .fallback = "1",
            .meaning = "The same seed gives the same presses."},
};

} // namespace stasis::keys
