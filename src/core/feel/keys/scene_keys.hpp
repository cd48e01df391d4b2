// Around the subject: profiles, realignment. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

inline constexpr std::array profile_keys{
    KeySpec{.key = "driver",
            .kind = text,
            .required = true,
            .meaning = "The channel, or one component of it, whose smoothed value drives the others."},
    KeySpec{.key = "roundness",
            .kind = number,
            .bounds = {0.0, 1.0},
            .fallback = "1",
            .meaning = "0: straight from knot to knot; 1: smooth, and still never beyond the knots around."},
    KeySpec{.key = "knots",
            .kind = list,
            .required = true,
            .section = "profile.knot",
            .meaning = "Two at least, ascending in `at`. Beyond the first and the last their values hold.",
            .at_least = 2},
};

inline constexpr std::array profile_knot_keys{
    KeySpec{.key = "at",
            .kind = number,
            .unit = UnitKind::channel,
            .required = true,
            .meaning = "The driver's value, in its unit."},
};

inline constexpr std::array realign_keys{
    KeySpec{.key = "to",
            .kind = choice,
            .fallback = "\"travel\"",
            .choices = "travel|velocity|facing|heading",
            .meaning = "Where the view turns back to: the way that the subject travels (kept while it stands), the "
                       "direction of its velocity, the way that it faces, or a fixed heading."},
    KeySpec{.key = "track",
            .kind = name,
            .names = NameKind::track,
            .meaning = "The subject; needed unless the heading is fixed."},
    KeySpec{.key = "heading",
            .kind = number,
            .unit = UnitKind::channel,
            .fallback = "0",
            .meaning = "The fixed heading, or how far beside the subject's: 180 looks it in the face."},
    KeySpec{.key = "wait",
            .kind = number,
            .unit = UnitKind::time,
            .bounds = {0.0, 3600.0},
            .fallback = "1.5",
            .meaning = "How long nobody has touched stick or pointer before the view turns."},
    KeySpec{.key = "least_speed",
            .kind = number,
            .bounds = {0.0, 1e9},
            .fallback = "0",
            .meaning = "Below this speed of the subject, track units a second, the heading is held."},
};

inline constexpr std::array realign_asks{
    AskedKeys{.key = "to", .value = "travel|velocity|facing", .needs = "track"},
};

} // namespace stasis::keys
