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
            .meaning = "The places, in order. A first stop without a time is reached at once."},
    KeySpec{.key = "along",
            .kind = name,
            .names = NameKind::channel,
            .meaning = "The channel along which lengths and speeds are measured. Default: the camera's position if a "
                       "stop names it, else the first channel with several components, else the first channel."},
    KeySpec{.key = "steady",
            .kind = flag,
            .fallback = "false",
            .meaning = "true: flights go at one speed along the way. The first and the last time of a flight hold; the "
                       "times between follow from the speed."},
    KeySpec{.key = "overshoot",
            .kind = flag,
            .fallback = "true",
            .meaning = "false: a flight never swings beyond the stops on either side, and turns only at a stop."},
    KeySpec{.key = "ease_in",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "How long a steady flight takes to reach its speed. Default: 1 s, or a quarter of a shorter "
                       "flight. A flight by times starts softly unless this is 0. 0: it starts at full speed."},
    KeySpec{
        .key = "ease_out",
        .kind = number,
        .unit = UnitKind::time,
        .bounds = {0.0, longest_take},
        .meaning =
            "How long a steady flight takes to lose its speed, with the same default. 0: it arrives at full speed."},
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
            .meaning = "2 plays it twice as fast as its times say."},
    KeySpec{.key = "repeat",
            .kind = integer,
            .bounds = {0, 100000},
            .fallback = "1",
            .meaning = "How often it is played; 0: until it is skipped. Each time starts at the first stop. If the "
                       "last stop equals the first, a flight goes on without a halt, unless it has an ease_in or an "
                       "ease_out. One pass lasts at least 5 ms. Not allowed if a stop names a track."},
    KeySpec{.key = "there_and_back",
            .kind = flag,
            .fallback = "false",
            .meaning = "true: each time it also goes back the way it came. Not where a stop names a track."},
    KeySpec{.key = "backward",
            .kind = flag,
            .fallback = "false",
            .meaning = "true: it starts at the last stop and goes back to the first."},
    KeySpec{.key = "on_end",
            .kind = choice,
            .fallback = "\"return\"",
            .choices = "return|stay",
            .meaning = "return gives the channels back to the play; stay first makes the last goals their home."},
    KeySpec{.key = "leaving",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "The motion of its channels when they are given back, instead of their own; or a table of "
                       "motions by channel. Springs, and eases with handover = \"carry\", keep the speed."},
    KeySpec{.key = "skipped_by", .kind = texts, .meaning = "Controls that end it when they are pressed."},
};

inline constexpr std::array sequence_stop_keys{
    KeySpec{.key = "at",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "When it is reached, from the start of the sequence."},
    KeySpec{.key = "after",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .meaning = "When it is reached, after the stop before is left."},
    KeySpec{.key = "speed",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {1e-9, 1e9},
            .meaning = "How fast the view comes here along the way, in units of the channel `along` a second: the "
                       "average, or throughout if the sequence is steady."},
    KeySpec{.key = "curve",
            .kind = curve,
            .names = NameKind::curve,
            .meaning = "The view eases here along this curve from the stop before, and halts."},
    KeySpec{.key = "motion",
            .kind = moving,
            .names = NameKind::motion,
            .meaning = "The view comes here by this motion, or by motions by channel. A motion that has not arrived "
                       "when the next stop begins goes on from where it is."},
    KeySpec{.key = "cut", .kind = flag, .fallback = "false", .meaning = "true: the view jumps here at its time."},
    KeySpec{.key = "hold",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, longest_take},
            .fallback = "0",
            .meaning = "How long the view stays here. A flight halts at such a stop."},
};

inline constexpr std::array starter_keys{
    control_kind("A press begins the sequence; a press while it runs skips it."),
    KeySpec{.key = "sequence", .kind = name, .required = true, .names = NameKind::sequence, .meaning = "The sequence."},
    buttons_key,
    unless_key,
};

} // namespace stasis::keys
