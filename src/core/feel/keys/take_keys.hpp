// Controls and takes. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

inline constexpr std::array hold_keys{
    KeySpec{.key = "kind",
            .kind = choice,
            .required = true,
            .choices = "hold",
            .meaning = "The pose is in force while the control is down; release and cancel both lead home."},
    KeySpec{.key = "pose", .kind = name, .required = true, .names = NameKind::pose, .meaning = "The pose."},
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
};

inline constexpr std::array clock_keys{
    KeySpec{.key = "fps",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {0.01, 100000},
            .fallback = "60",
            .meaning = "Frames a second, evenly spaced."},
};

inline constexpr std::array cue_keys{
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

} // namespace stasis::keys
