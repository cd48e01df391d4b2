#include "core/feel/key_table.hpp"

#include <algorithm>
#include <array>

#include "core/feel/keys/document_keys.hpp"
#include "core/feel/keys/motion_keys.hpp"
#include "core/feel/keys/obstacle_keys.hpp"
#include "core/feel/keys/scene_keys.hpp"
#include "core/feel/keys/sequence_keys.hpp"
#include "core/feel/keys/shake_keys.hpp"
#include "core/feel/keys/take_keys.hpp"
#include "core/feel/keys/track_keys.hpp"
#include "core/text.hpp"

namespace stasis {
namespace {

using namespace keys;

constexpr std::array sections{
    SectionSpec{"feel", "the document",
                "A TOML document. Unknown keys are errors. A plain number is in the key's own unit; a text may carry "
                "another, such as \"110 ms\".",
                feel_keys},
    SectionSpec{"picture", "[picture]", "What is seen.", picture_keys},
    SectionSpec{"picture.lens", "picture.lens", "The field of view of a perspective view.", lens_keys},
    SectionSpec{"picture.height", "picture.height", "The visible height of a flat view.", height_keys},
    SectionSpec{"picture.width", "picture.width", "The visible width of a flat view.", width_keys},
    SectionSpec{"channel", "[channel.NAME]", "One value that changes over time, of 1 to 3 components.", channel_keys,
                "", SectionSpec::OtherKeys::none, "", channel_asks},
    SectionSpec{"motion.cut", "[motion.NAME] kind = \"cut\"", "The value is the goal, one frame later.", cut_keys},
    SectionSpec{"motion.glide", "[motion.NAME] kind = \"glide\"",
                "The gap shrinks by the same factor in equal times: fast at first, then slower and slower; it never "
                "quite arrives.",
                glide_keys, "half_life | time_constant | rate | settling_time | per_frame + at_fps"},
    SectionSpec{"motion.spring", "[motion.NAME] kind = \"spring\"",
                "A damped oscillator, stepped by its exact solution at any frame rate.", spring_keys,
                "frequency + damping_ratio | stiffness + damping | settling_time + overshoot"},
    SectionSpec{"motion.ease", "[motion.NAME] kind = \"ease\"", "A move of fixed duration along a curve.", ease_keys,
                "", SectionSpec::OtherKeys::none, "", ease_asks},
    SectionSpec{"motion.pace", "[motion.NAME] kind = \"pace\"",
                "Arrives as soon as a top speed and a top acceleration allow.", pace_keys},
    SectionSpec{"motion.delay", "[motion.NAME] kind = \"delay\"", "The goal, some time later.", delay_keys},
    SectionSpec{"motion.per_frame", "[motion.NAME] kind = \"per_frame\"",
                "A per-frame rule, replayed as it is written.", frame_rule_keys, "", SectionSpec::OtherKeys::none, "",
                frame_rule_asks},
    SectionSpec{"motion.stages", "[motion.NAME] kind = \"stages\"", "Motions in a row.", stages_keys},
    SectionSpec{"curve", "[curve.NAME]", "A curve of one's own.", curve_keys, "shape | points"},
    SectionSpec{"pose", "[pose.NAME]",
                "Each other key is a channel, or one component of it (\"focus.y\"), each value its goal while the pose "
                "acts: a number in the channel's unit, a list for a channel of several components, or { times = .. } "
                "or { add = .. }, of home.",
                pose_keys, "", SectionSpec::OtherKeys::channels},
    SectionSpec{"pose.goal", "pose.NAME.CHANNEL", "A goal relative to the channel's home.", goal_keys,
                "times | add | track"},
    SectionSpec{"track.recorded", "[track.NAME] kind = \"recorded\"", "Recorded motion of a subject.", recorded_keys},
    SectionSpec{"track.columns", "track.NAME.columns", "Which column of the file is what.", column_keys},
    SectionSpec{"track.line", "[track.NAME] kind = \"line\"", "A subject that goes straight on.", line_keys},
    SectionSpec{"track.circle", "[track.NAME] kind = \"circle\"", "A subject that goes round.", circle_keys},
    SectionSpec{"track.eight", "[track.NAME] kind = \"eight\"", "A subject that turns both ways.", eight_keys},
    SectionSpec{"track.steps", "[track.NAME] kind = \"steps\"", "A subject that jumps.", steps_keys},
    SectionSpec{"track.stop_and_go", "[track.NAME] kind = \"stop_and_go\"", "A subject that goes and stands by turns.",
                stop_and_go_keys},
    SectionSpec{"follow", "channel.NAME.follow",
                "The goal comes from a track, by blend, lead, dead zone and offset, in that order; the channel's "
                "motion does the rest. The name of a track alone follows it plainly.",
                follow_keys},
    SectionSpec{
        "realign", "channel.NAME.realign",
        "After a pause an angle of the space turn goes back to a heading, by the channel's motion; a touch of stick or "
        "pointer interrupts it.",
        realign_keys, "", SectionSpec::OtherKeys::none, "", realign_asks},
    SectionSpec{"profile", "[profile.NAME]",
                "Goals of several channels read from one driving channel, through a smooth curve each.", profile_keys},
    SectionSpec{"profile.knot", "profile.NAME.knots[]",
                "Each other key is a channel, or one component of it, each value what it has there.", profile_knot_keys,
                "", SectionSpec::OtherKeys::channels},
    SectionSpec{"obstacle.plane", "[obstacle.NAME] kind = \"plane\"", "Everything behind a plane: a floor, a cliff.",
                plane_keys},
    SectionSpec{"obstacle.box", "[obstacle.NAME] kind = \"box\"", "A box, which may be turned.", box_keys},
    SectionSpec{"obstacle.sphere", "[obstacle.NAME] kind = \"sphere\"", "A ball.", sphere_keys},
    SectionSpec{"obstacle.wall", "[obstacle.NAME] kind = \"wall\"", "Upright walls along a line, seen from above.",
                wall_keys},
    SectionSpec{"obstacle.recorded", "[obstacle.NAME] kind = \"recorded\"",
                "A clear distance that is known from elsewhere.", clearance_keys},
    SectionSpec{"obstacles", "channel.NAME.obstacles",
                "A ball is moved from what is looked at back to the eye, as far as there is room: that limits the "
                "goal. The channel's motion does the rest, so fast in and slow out is { rising = .., falling = .. }.",
                held_keys},
    SectionSpec{"follow.lead", "channel.NAME.follow.lead", "How far ahead of the subject to look.", lead_keys,
                "seconds | distance", SectionSpec::OtherKeys::none, "", lead_asks},
    SectionSpec{"follow.dead_zone", "channel.NAME.follow.dead_zone",
                "While the subject is in it, the goal stays; the goal moves by as much as the subject leaves it.",
                dead_zone_keys},
    SectionSpec{"control.hold", "[control.NAME] kind = \"hold\"", "A button that holds a pose.", hold_keys},
    SectionSpec{"control.toggle", "[control.NAME] kind = \"toggle\"", "A button that switches a pose on and off.",
                toggle_keys},
    SectionSpec{"control.cycle", "[control.NAME] kind = \"cycle\"",
                "A button that goes through poses, or changes sides.", cycle_keys, "poses | mirror"},
    SectionSpec{
        "control.clicks", "[control.NAME] kind = \"clicks\"",
        "A wheel, or a button pressed again and again. Rungs are whole steps from the resting value; both ends of "
        "the range are rungs, and clicks never wind up past them.",
        clicks_keys},
    SectionSpec{"control.pointer", "[control.NAME] kind = \"pointer\"", "A pointer's motion in counts.", pointer_keys},
    SectionSpec{"control.stick", "[control.NAME] kind = \"stick\"", "A stick, or two keys that act as one.",
                stick_keys},
    SectionSpec{"control.sequence", "[control.NAME] kind = \"sequence\"", "A button that begins a sequence.",
                starter_keys},
    SectionSpec{"sequence", "[sequence.NAME]",
                "A view led through stops, one after the other. While it runs its channels go where it leads, whatever "
                "is pressed. It starts by a cue (start), a control of kind \"sequence\" or a switch (starts).",
                sequence_keys},
    SectionSpec{"sequence.stop",
                "sequence.NAME.stops[]",
                "A place. Each key beside these is a channel or one component of it (\"focus.y\"), each value its goal "
                "as in a pose. The view flies through a stop that has no curve, motion or cut.",
                sequence_stop_keys,
                {},
                SectionSpec::OtherKeys::channels},
    SectionSpec{"switch", "[switch.NAME]",
                "A pose that goes on and off by itself. It has two thresholds, so that a value that trembles at one "
                "does not switch it back and forth.",
                switch_keys, "enter_below + leave_above | enter_above + leave_below"},
    SectionSpec{"group", "[group.NAME]", "Controls that oppose or outrank each other; decided channel by channel.",
                group_keys},
    SectionSpec{"shake", "[shake.NAME]",
                "A disturbance that is added after motions and limits; nothing else reads it. Its wave runs on the "
                "take's time, so "
                "that it is the same at any frame rate; hits start it (take.NAME.cues[] hit), or it is always there.",
                shake_keys},
    SectionSpec{
        "shake.on",
        "shake.NAME.on",
        "Each key is a channel, or one component of it, each value how far it is shaken at strength 1, in its unit.",
        {},
        "",
        SectionSpec::OtherKeys::channels},
    SectionSpec{"shake.falloff", "shake.NAME.falloff", "How a hit's strength falls with distance.", falloff_keys},
    SectionSpec{"shake.wave.noise", "shake.NAME.wave kind = \"noise\"", "Smooth noise.", noise_keys},
    SectionSpec{"shake.wave.sines", "shake.NAME.wave kind = \"sines\"", "Sines.", sines_keys},
    SectionSpec{"shake.wave.ring", "shake.NAME.wave kind = \"ring\"", "A kicked spring.", ring_keys},
    SectionSpec{"shake.wave.jitter", "shake.NAME.wave kind = \"jitter\"", "Held random values.", jitter_keys},
    SectionSpec{"shake.wave.stride", "shake.NAME.wave kind = \"stride\"", "Steps of a track.", stride_keys},
    SectionSpec{"shake.wave.every_frame", "shake.NAME.wave kind = \"every_frame\"", "A common mistake.",
                every_frame_keys},
    SectionSpec{"shake.decay.half_life", "shake.NAME.decay kind = \"half_life\"", "By half-lives.", half_life_keys},
    SectionSpec{"shake.decay.linear", "shake.NAME.decay kind = \"linear\"", "Evenly.", linear_keys},
    SectionSpec{"shake.decay.power", "shake.NAME.decay kind = \"power\"", "By a power.", power_keys},
    SectionSpec{"shake.decay.eased", "shake.NAME.decay kind = \"eased\"", "Along a curve.", eased_keys},
    SectionSpec{"shake.decay.per_frame", "shake.NAME.decay kind = \"per_frame\"", "A common mistake.", per_frame_keys,
                "factor | amount"},
    SectionSpec{"take", "[take.NAME]", "One rehearsal.", take_keys},
    SectionSpec{"take.clock", "take.NAME.clock", "The clock of a take.", clock_keys, "", SectionSpec::OtherKeys::none,
                "", clock_asks},
    SectionSpec{"take.clock.random_stalls", "take.NAME.clock.random_stalls",
                "Stalls that come by chance; the clock's seed decides.", random_stalls_keys},
    SectionSpec{
        "take.cue", "take.NAME.cues[]", "One timed input.", cue_keys,
        "press | release | cancel | click | pointer | stick | lock | unlock | goal | follow | hit | "
        "start | skip | game_speed",
        SectionSpec::OtherKeys::none,
        "Each cue does one thing; write two: { at = 0.5, press = \"NAME\" }, { at = 1.5, release = \"NAME\" }."},
    SectionSpec{"take.cue.goal",
                "take.NAME.cues[].goal",
                "Each key is a channel, or one component of it, each value its new home.",
                {},
                "",
                SectionSpec::OtherKeys::channels},
    SectionSpec{"take.cue.follow",
                "take.NAME.cues[].follow",
                "Each key is a channel that follows, each value the track that it follows from then on.",
                {},
                "",
                SectionSpec::OtherKeys::tracks},
    SectionSpec{"take.random", "take.NAME.random", "Presses at random times, each held for a random time.",
                random_keys},
    SectionSpec{"setting", "[setting.NAME]", "A number that a player may change.", setting_keys},
    SectionSpec{"variant",
                "[variant.NAME]",
                "Each key is the path of a value, such as \"motion.soft.frequency\", each value what stands there "
                "instead.",
                {},
                "",
                SectionSpec::OtherKeys::paths},
    SectionSpec{"want", "[[want]]", "A bound on a measure.", want_keys, "at_most | at_least | near | baseline"},
    SectionSpec{"silence", "[[silence]]", "A warning that is no mistake here.", silence_keys},
};

} // namespace

std::span<const SectionSpec> all_sections() noexcept { return sections; }

const SectionSpec* find_section(std::string_view id) noexcept {
  for (const SectionSpec& section : sections)
    if (section.id == id) return &section;
  return nullptr;
}

const KeySpec* find_key(const SectionSpec& section, std::string_view key) noexcept {
  for (const KeySpec& spec : section.keys)
    if (spec.key == key) return &spec;
  return nullptr;
}

std::vector<std::string_view> keys_in(std::string_view sum) {
  std::vector<std::string_view> keys;
  if (sum.empty()) return keys;
  for (const std::string_view key : split(sum, '+')) keys.push_back(trimmed(key));
  return keys;
}

std::vector<ExcludedKey> excluded_by(const SectionSpec& section, const AskedKeys& asked) {
  const auto keys_with = [](const AskedKeys& one) {
    std::vector<std::string_view> keys = keys_in(one.needs);
    for (const std::string_view key : keys_in(one.allows)) keys.push_back(key);
    return keys;
  };
  const std::vector<std::string_view> own = keys_with(asked);
  std::vector<ExcludedKey> excluded;
  for (const AskedKeys& other : section.asks) {
    if (other.key != asked.key || other.value == asked.value) continue;
    for (const std::string_view key : keys_with(other))
      if (std::find(own.begin(), own.end(), key) == own.end()) excluded.push_back({key, other.value});
  }
  return excluded;
}

std::string_view name_kind_in_words(NameKind kind) noexcept {
  constexpr std::array<std::string_view, 15> words{"",       "channel", "motion",  "pose",     "control",
                                                   "take",   "curve",   "setting", "variant",  "group",
                                                   "switch", "track",   "shake",   "obstacle", "sequence"};
  return words[static_cast<std::size_t>(kind)];
}

} // namespace stasis
