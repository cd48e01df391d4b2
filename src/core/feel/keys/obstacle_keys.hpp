// Obstacles, and what they hold in. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

constexpr KeySpec obstacle_kind(std::string_view meaning) {
  return {
      .key = "kind", .kind = choice, .required = true, .choices = "plane|box|sphere|wall|recorded", .meaning = meaning};
}

inline constexpr std::array plane_keys{
    obstacle_kind("Everything behind a plane."),
    KeySpec{.key = "at", .kind = components, .required = true, .meaning = "Any place on it."},
    KeySpec{.key = "normal",
            .kind = components,
            .fallback = "[0, 1, 0]",
            .meaning = "Which way its surface faces, of any length: [0, 1, 0] is a floor."},
};

inline constexpr std::array box_keys{
    obstacle_kind("A box."),
    KeySpec{.key = "centre", .kind = components, .required = true, .meaning = "Its middle."},
    KeySpec{.key = "size",
            .kind = components,
            .bounds = positive,
            .required = true,
            .meaning = "Width, height and depth; one number makes a cube."},
    KeySpec{.key = "turn",
            .kind = components,
            .unit = UnitKind::angle,
            .fallback = "0",
            .meaning = "Its heading, positive to the left; or [yaw, pitch, roll], as a camera is turned."},
};

inline constexpr std::array sphere_keys{
    obstacle_kind("A ball."),
    KeySpec{.key = "centre", .kind = components, .required = true, .meaning = "Its middle."},
    KeySpec{.key = "diameter", .kind = number, .bounds = positive, .required = true, .meaning = "Its size."},
};

inline constexpr std::array wall_keys{
    obstacle_kind("Upright walls without thickness."),
    KeySpec{.key = "points",
            .kind = places,
            .required = true,
            .meaning = "Two at least, [x, z] each, seen from above.",
            .at_least = 2},
    KeySpec{.key = "closed", .kind = flag, .fallback = "false", .meaning = "The last point is joined to the first."},
    KeySpec{.key = "bottom",
            .kind = number,
            .meaning = "Height of its lower edge; without it, the wall goes down without end."},
    KeySpec{
        .key = "top", .kind = number, .meaning = "Height of its upper edge; without it, the wall goes up without end."},
};

inline constexpr std::array clearance_keys{
    obstacle_kind("How far back there is room, over time."),
    KeySpec{.key = "track",
            .kind = name,
            .required = true,
            .names = NameKind::track,
            .meaning = "A track of one number, the clear distance. With lost = \"base\", nothing is in the way before "
                       "its first row and after its last."},
};

inline constexpr std::array held_keys{
    KeySpec{.key = "thickness",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {0.0, 1e9},
            .fallback = "0",
            .meaning = "Diameter of the ball that is moved towards the eye: the eye's own size."},
    KeySpec{.key = "stand_off",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {0.0, 1e9},
            .fallback = "0",
            .meaning = "How far from the surface the goal stays, at a right angle to it. A motion may lag by this much "
                       "without going through."},
    KeySpec{.key = "never_through",
            .kind = flag,
            .fallback = "false",
            .meaning = "After the motion, the value itself is held at the surface; it loses its outward speed there."},
    KeySpec{.key = "only", .kind = texts, .meaning = "Names of the obstacles that count. Without it, all do."},
};

} // namespace stasis::keys
