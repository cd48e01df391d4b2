// Views led through places. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"
#include "core/feel/keys/take_keys.hpp"

namespace stasis::keys {

inline constexpr std::array sequence_keys{
    KeySpec{.key = "stops",
            .kind = list,
            .required = true,
            .section = "sequence.stop",
            .meaning = "The places, in order. The first one without a time is there at once."},
    KeySpec{.key = "along",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel along whose way lengths and speeds are measured. Without it: the camera's "
                       "position, or else the first channel of several components, or else the first."},
    KeySpec{.key = "steady",
            .kind = flag,
            .fallback = "false",
            .meaning = "What is flown is flown at one speed along the way: the times of the first and last stop of "
                       "a flight hold, those between follow from the speed."},
    KeySpec{.key = "overshoot",
            .kind = flag,
            .fallback = "true",
            .meaning = "Whether a flight may swing out beyond the stops around it. false: each value stays between "
                       "those of the two stops around, and turns only at a stop."},
    KeySpec{.key = "ease_in",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "How long a steady flight takes to gather its speed: 1 s, or a quarter of a shorter flight. A "
                       "flight by times gathers it on the way to its first stop. 0: it sets off at full speed."},
    KeySpec{.key = "ease_out",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "The same at the end of a flight. 0: it comes in at full speed."},
    KeySpec{.key = "turns",
            .kind = choice,
            .fallback = "\"angles\"",
            .choices = "angles|together|even",
            .meaning =
                "How a flight turns: each of the picture's angles by itself; all together as one turn, the "
                "short way, its angular velocity continuous; or as one turn at an even speed from stop to stop."},
    KeySpec{.key = "pace",
            .kind = number,
            .bounds = {0.01, 100.0},
            .fallback = "1",
            .meaning = "2: twice as fast as the times say."},
    KeySpec{.key = "repeat",
            .kind = integer,
            .bounds = {0, 100000},
            .fallback = "1",
            .meaning = "How often it is gone through; 0: until it is skipped. Each time it begins at the first stop; "
                       "a flight whose last stop is its first goes on without a halt."},
    KeySpec{.key = "there_and_back",
            .kind = flag,
            .fallback = "false",
            .meaning = "Each time it goes back the way that it came."},
    KeySpec{.key = "backward",
            .kind = flag,
            .fallback = "false",
            .meaning = "It begins at the last stop and goes back to the first."},
    KeySpec{.key = "on_end",
            .kind = choice,
            .fallback = "\"return\"",
            .choices = "return|stay",
            .meaning = "return gives the channels back to whatever the play wants then; stay makes the last goals "
                       "their home first."},
    KeySpec{.key = "leaving",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "Motion of its channels when they are given back, instead of their own; or a table of motions "
                       "by channel. Springs, and eased moves that carry, go on from the speed that is there."},
    KeySpec{.key = "skipped_by", .kind = texts, .meaning = "Controls that end it when they are pressed."},
};

inline constexpr std::array sequence_stop_keys{
    KeySpec{.key = "at",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "When it is reached, from the sequence's beginning."},
    KeySpec{.key = "after",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "When it is reached, from leaving the stop before."},
    KeySpec{.key = "speed",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {1e-9, 1e9},
            .meaning = "How fast it is come to along the way, units of the channel `along` a second: on average, or "
                       "throughout where the flight is steady."},
    KeySpec{.key = "curve",
            .kind = curve,
            .names = NameKind::curve,
            .meaning = "It is come to along this curve from the stop before, and halted at."},
    KeySpec{.key = "motion",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "It is come to by this motion, or by motions by channel; one that has not arrived when the next "
                       "stop is headed for goes on from there."},
    KeySpec{.key = "cut", .kind = flag, .fallback = "false", .meaning = "true: it is there at once at its time."},
    KeySpec{.key = "hold",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .fallback = "0",
            .meaning = "How long the view stays. A flight halts there."},
};

inline constexpr std::array starter_keys{
    control_kind("A press begins the sequence; a press while it runs skips it."),
    KeySpec{.key = "sequence", .kind = name, .required = true, .names = NameKind::sequence, .meaning = "The sequence."},
    buttons_key,
    unless_key,
};

} // namespace stasis::keys
