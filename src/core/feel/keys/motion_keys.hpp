// Motions and curves. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

inline constexpr std::string_view motion_kinds = "cut|glide|spring|ease|pace|delay|stages|per_frame";

inline constexpr std::array cut_keys{
    KeySpec{.key = "kind", .kind = choice, .required = true, .choices = motion_kinds, .meaning = "The rule: a jump."},
};

inline constexpr std::array glide_keys{
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

inline constexpr std::array spring_keys{
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
            .meaning = "Pull per unit of gap; with mass 1 it is the square of the angular frequency."},
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

inline constexpr std::array ease_keys{
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
            .meaning = "Each time the value returns to where it began; its goal switches back at the turn. The way "
                       "home is made once."},
    KeySpec{
        .key = "handover",
        .kind = choice,
        .fallback = "\"restart\"",
        .choices = "restart|pro_rata|carry|finish_first",
        .meaning =
            "What a new goal does to a move under way: restart takes the full duration again from where the value is; "
            "pro_rata the share of it that is left to go; carry lets value and speed go on; finish_first finishes, "
            "then "
            "takes up the last request."},
    KeySpec{.key = "brake_at_least",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {1e-6, 1e6},
            .meaning = "With carry: a move that comes in fast is shortened to no less than this, a quarter of the "
                       "duration if not given; faster still, it overshoots."},
};

inline constexpr std::array ease_asks{
    AskedKeys{.key = "brake_at_least", .says = "handover = carry"},
};

inline constexpr std::array pace_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: arrives as soon as a largest speed and a largest acceleration allow; a channel of "
                       "several components moves straight."},
    KeySpec{.key = "speed",
            .kind = number,
            .bounds = {1e-9, 1e12},
            .required = true,
            .meaning = "Largest speed: channel units a second; doublings a second in the spaces ratio and zoom."},
    KeySpec{.key = "acceleration",
            .kind = number,
            .bounds = {1e-9, 1e15},
            .meaning =
                "Largest acceleration: the unit of the speed, each second. Left out: it is at full speed at once."},
};

inline constexpr std::array delay_keys{
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

inline constexpr std::array frame_rule_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = motion_kinds,
            .meaning = "The rule: what a program does on each frame, replayed as it stands; another feel at another "
                       "frame rate. `stasis rates` shows the damage and gives the exact equivalent."},
    KeySpec{
        .key = "rule",
        .kind = choice,
        .required = true,
        .choices = "fraction|product|amount|spring_step",
        .meaning =
            "What is done on each frame: a fixed fraction of the gap is closed; rate x frame time of it; the "
            "value goes a fixed way towards its goal; a spring makes one Euler step. Each takes its own numbers only."},
    KeySpec{.key = "fraction",
            .kind = number,
            .bounds = {0.0, 10.0, true, false},
            .meaning = "Share of the gap that is closed on each frame."},
    KeySpec{.key = "rate",
            .kind = number,
            .unit = UnitKind::rate,
            .bounds = sensible_rate,
            .meaning = "With product: this times the frame's time is the share of the gap that is closed."},
    KeySpec{.key = "clamp",
            .kind = flag,
            .fallback = "false",
            .meaning = "With product: that share is never more than 1, so a slow frame does not overshoot the goal."},
    KeySpec{.key = "amount",
            .kind = number,
            .bounds = {1e-12, 1e12},
            .meaning = "How far it goes on each frame, in channel units, and no farther than the goal; doublings a "
                       "frame in the spaces ratio and zoom. A channel of several components moves straight."},
    KeySpec{.key = "stiffness",
            .kind = number,
            .bounds = {0.0, 1e12, true, false},
            .meaning = "With spring_step: its pull per unit of gap, with mass 1."},
    KeySpec{.key = "damping",
            .kind = number,
            .bounds = {0.0, 1e12},
            .meaning = "With spring_step: its drag per unit of speed."},
    KeySpec{.key = "method",
            .kind = choice,
            .fallback = "\"semi_implicit\"",
            .choices = "semi_implicit|explicit",
            .meaning =
                "With spring_step: whether the new speed moves the value (semi_implicit), or the old one (explicit)."},
    KeySpec{.key = "at_fps",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1, 100000},
            .required = true,
            .meaning = "The frame rate at which it was tuned."},
};

inline constexpr std::array frame_rule_asks{
    AskedKeys{.key = "rule", .value = "fraction", .needs = "fraction"},
    AskedKeys{.key = "rule", .value = "product", .needs = "rate", .allows = "clamp"},
    AskedKeys{.key = "rule", .value = "amount", .needs = "amount"},
    AskedKeys{.key = "rule", .value = "spring_step", .needs = "stiffness + damping", .allows = "method"},
};

inline constexpr std::array stages_keys{
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

inline constexpr std::array curve_keys{
    KeySpec{.key = "shape", .kind = curve, .meaning = "A curve as an ease takes it."},
    KeySpec{.key = "points",
            .kind = points,
            .meaning = "Pairs [time, value] with ascending times, or a CSV file of two columns. The first time is the "
                       "start of a move, the last its end; value 0 is where it began, 1 its goal. Smooth, and monotone "
                       "wherever the points are."},
};

} // namespace stasis::keys
