// Shakes. Part of the key table: included by key_table.cpp only.
#pragma once

#include <array>

#include "core/feel/keys/key_bounds.hpp"

namespace stasis::keys {

using enum ValueKind;

inline constexpr std::array shake_keys{
    KeySpec{.key = "on",
            .kind = table,
            .required = true,
            .section = "shake.on",
            .meaning = "What it shakes, and how far at strength 1."},
    KeySpec{.key = "amounts",
            .kind = choice,
            .fallback = "\"limit\"",
            .choices = "limit|rms|typical_peak",
            .meaning = "What the numbers of `on` say: the limit that it never passes; its root mean square; or its "
                       "typical peak, how far it goes on average where it turns round."},
    KeySpec{.key = "wave",
            .kind = table,
            .required = true,
            .section = "shake.wave.",
            .meaning = "How it goes back and forth."},
    KeySpec{.key = "decay",
            .kind = table,
            .section = "shake.decay.",
            .meaning = "How it dies away after a hit. A ring has its own; a shake that is always there needs none."},
    KeySpec{.key = "stack",
            .kind = choice,
            .fallback = "\"largest\"",
            .choices = "largest|sum|root_sum|latest",
            .meaning = "What several hits make together: the strongest at each instant; all added up; the root of the "
                       "sum of squares; or only the last, so that a small hit wipes out a big one: a common mistake, "
                       "here to be replayed. The default of a ring is sum: its kicks add up as those of one spring do; "
                       "with largest it jumps when one hit takes over from another."},
    KeySpec{.key = "cap",
            .kind = number,
            .bounds = positive,
            .meaning = "The most that hits add up to; 1 is one full hit."},
    KeySpec{.key = "seed",
            .kind = integer,
            .bounds = {0, 4294967295.0},
            .fallback = "1",
            .meaning = "The same seed shakes the same way, at any frame rate."},
    KeySpec{.key = "frame",
            .kind = choice,
            .fallback = "\"world\"",
            .choices = "world|view",
            .meaning = "The axes along which it shakes places: fixed, or the camera's own right, up and back."},
    KeySpec{.key = "always", .kind = flag, .fallback = "false", .meaning = "It shakes without a hit, at `level`."},
    KeySpec{.key = "level",
            .kind = weight,
            .bounds = {0.0, 1e6},
            .fallback = "1",
            .meaning = "How strong it is when always there: a number, or the name of a channel."},
    KeySpec{.key = "strengths",
            .kind = numbers_by_name,
            .meaning = "Names for strengths of hits: { ripple = 0.3, log = 1 }."},
    KeySpec{.key = "falloff",
            .kind = table,
            .section = "shake.falloff",
            .meaning = "How a hit's strength falls with the distance from its place to the eye."},
    KeySpec{.key = "quiet_below",
            .kind = number,
            .unit = UnitKind::percent,
            .bounds = {0.1, 100},
            .fallback = "2",
            .meaning = "Per cent of full strength under which it counts as gone."},
    KeySpec{.key = "runs_on",
            .kind = choice,
            .fallback = "\"game\"",
            .choices = "game|clock",
            .meaning = "game: it goes and dies away by game time, slower in slow motion. clock: by the clock's time, "
                       "as fast as ever."},
    KeySpec{.key = "muted",
            .kind = flag,
            .fallback = "false",
            .meaning = "Left out, as by --without: to see the feel with and without it."},
};

inline constexpr std::array falloff_keys{
    KeySpec{.key = "near",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = {0.0, 1e9},
            .required = true,
            .meaning = "Up to this distance a hit is felt at full strength."},
    KeySpec{.key = "far",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .required = true,
            .meaning = "From this distance on a hit is not felt; in between it falls evenly."},
};

inline constexpr std::string_view wave_kinds = "noise|sines|ring|jitter|stride|every_frame";
constexpr KeySpec wave_kind(std::string_view meaning) {
  return {.key = "kind", .kind = choice, .required = true, .choices = wave_kinds, .meaning = meaning};
}
inline constexpr KeySpec wave_frequency{.key = "frequency",
                                        .kind = number,
                                        .unit = UnitKind::frequency,
                                        .bounds = {1e-3, 1e4},
                                        .required = true,
                                        .meaning = "How fast it rattles: the centroid of its power spectrum."};

inline constexpr std::array noise_keys{
    wave_kind("Smooth noise."),
    wave_frequency,
    KeySpec{.key = "octaves",
            .kind = integer,
            .bounds = {1, 8},
            .fallback = "1",
            .meaning = "Layers of noise, each twice as fast and half as strong: more are rougher."},
};
inline constexpr std::array sines_keys{wave_kind("Four sines that never come together again."), wave_frequency};
inline constexpr std::array ring_keys{
    wave_kind("A spring kicked by each hit, in its direction; it dies away by itself."),
    KeySpec{.key = "frequency",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1e-3, 1e4},
            .required = true,
            .meaning = "Undamped."},
    KeySpec{.key = "damping_ratio",
            .kind = number,
            .bounds = share,
            .required = true,
            .meaning = "Ratio of the damping to that of a spring that just does not overshoot, between 0 and 1: how "
                       "soon it is over."},
};
inline constexpr std::array jitter_keys{
    wave_kind("A new value so many times a second, held in between."),
    KeySpec{.key = "rate",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1e-3, 1e4},
            .required = true,
            .meaning = "Values a second, whatever the frame rate."},
};
inline constexpr std::array stride_keys{
    wave_kind("Swings with the way that a track goes: steps, waves under a boat."),
    KeySpec{.key = "track",
            .kind = name,
            .required = true,
            .names = NameKind::track,
            .meaning = "The track whose way it goes by."},
    KeySpec{.key = "length",
            .kind = number,
            .unit = UnitKind::channel,
            .bounds = positive,
            .required = true,
            .meaning = "How far the track goes for one whole swing."},
    KeySpec{.key = "phase",
            .kind = number,
            .bounds = {0.0, 1.0},
            .meaning = "Where in its swing it begins, in turns: 0 goes up from the middle, 0.25 begins at the top, "
                       "0.5 goes down. Without it the seed decides, for each component by itself."},
};
inline constexpr std::array every_frame_keys{wave_kind("A new random value on each frame, harsh and different at each "
                                                       "frame rate: a common mistake, here to be replayed.")};

inline constexpr std::string_view decay_kinds = "half_life|linear|power|eased|per_frame";
constexpr KeySpec decay_kind(std::string_view meaning) {
  return {.key = "kind", .kind = choice, .required = true, .choices = decay_kinds, .meaning = meaning};
}
inline constexpr KeySpec decay_duration{.key = "duration",
                                        .kind = number,
                                        .unit = UnitKind::time,
                                        .bounds = sensible_time,
                                        .required = true,
                                        .meaning = "Time from full strength to nothing."};
inline constexpr KeySpec decay_attack{.key = "attack",
                                      .kind = number,
                                      .unit = UnitKind::time,
                                      .bounds = {0, 3600},
                                      .fallback = "0",
                                      .meaning = "Time in which it rises evenly from nothing to full strength."};
inline constexpr KeySpec decay_hold{.key = "hold",
                                    .kind = number,
                                    .unit = UnitKind::time,
                                    .bounds = {0, 3600},
                                    .fallback = "0",
                                    .meaning = "Time at full strength after that."};
inline constexpr KeySpec decay_stop{.key = "stop_after",
                                    .kind = number,
                                    .unit = UnitKind::time,
                                    .bounds = sensible_time,
                                    .meaning = "How long after the hit it is cut off, whatever is left."};
inline constexpr KeySpec decay_until{.key = "until",
                                     .kind = number,
                                     .bounds = share,
                                     .fallback = "0.001",
                                     .meaning = "Share of full strength at which it is over."};

inline constexpr std::array half_life_keys{decay_kind("Half as strong after each half-life."),
                                           KeySpec{.key = "half_life",
                                                   .kind = number,
                                                   .unit = UnitKind::time,
                                                   .bounds = sensible_time,
                                                   .required = true,
                                                   .meaning = "After this time half is left."},
                                           decay_until,
                                           decay_attack,
                                           decay_hold,
                                           decay_stop};
inline constexpr std::array linear_keys{decay_kind("Falls evenly to nothing."), decay_duration, decay_attack,
                                        decay_hold, decay_stop};
inline constexpr std::array power_keys{decay_kind("Falls to nothing, faster at first."),
                                       decay_duration,
                                       KeySpec{.key = "exponent",
                                               .kind = number,
                                               .bounds = {0.1, 20},
                                               .fallback = "2",
                                               .meaning = "1 is linear; more falls faster at first."},
                                       decay_attack,
                                       decay_hold,
                                       decay_stop};
inline constexpr std::array eased_keys{
    decay_kind("Falls to nothing along a curve."),
    decay_duration,
    KeySpec{.key = "curve",
            .kind = curve,
            .required = true,
            .meaning = "An easing function; it goes from full strength to nothing as the curve goes from 0 to 1."},
    decay_attack,
    decay_hold,
    decay_stop};
inline constexpr std::array per_frame_keys{
    decay_kind("A factor on each frame, or an amount less, which lasts twice as long at half the frame rate: a common "
               "mistake, here to be replayed."),
    KeySpec{.key = "factor", .kind = number, .bounds = share, .meaning = "Share that is left after each frame."},
    KeySpec{.key = "amount",
            .kind = number,
            .bounds = {1e-9, 1},
            .meaning = "Instead of factor: what each frame takes away, as a share of full strength."},
    KeySpec{.key = "runs_below_zero",
            .kind = flag,
            .fallback = "false",
            .meaning = "With amount: nothing stops it at zero, so it shakes harder and harder from there on. A common "
                       "mistake, here to be replayed."},
    KeySpec{.key = "at_fps",
            .kind = number,
            .unit = UnitKind::frequency,
            .bounds = {1, 100000},
            .required = true,
            .meaning = "The frame rate at which that was tuned."},
    decay_until,
    decay_attack,
    decay_hold,
    decay_stop};

} // namespace stasis::keys
