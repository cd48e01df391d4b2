#include "core/measure/measure_registry.hpp"

#include <array>

#include <fmt/format.h>

namespace stasis {
namespace {

using enum MeasureUnit;
using enum Better;
using Of = MeasureOf;
using Value = std::optional<double>;

template<auto Member> Value of_follow(const ChannelSummary& summary, std::size_t) { return summary.follow.*Member; }
/// Of a peak of the channel's way: how large; nothing where it does not apply.
template<auto Member> Value peak_of(const ChannelSummary& summary, std::size_t) {
  const auto& peak = summary.path.*Member;
  return peak ? Value(peak->value) : std::nullopt;
}
/// When that was, s.
template<auto Member> Value time_of(const ChannelSummary& summary, std::size_t) {
  const auto& peak = summary.path.*Member;
  return peak && peak->value > 0.0 ? Value(peak->at) : std::nullopt;
}
template<auto Member> Value of_shake(const ShakeSummary& shake) { return shake.*Member; }
template<auto Member> Value of_part(const ShakePart& part) { return part.*Member; }

} // namespace

std::span<const MoveMeasure> move_measures() noexcept {
  static constexpr std::array all{
      MoveMeasure{{"delay_time", seconds, "", smaller, Of::move, "Time to the first 50 % of the way."},
                  &Move::delay_time},
      MoveMeasure{
          {"rise_time", seconds, "", smaller, Of::move, "Time from the first 10 % to the first 90 % of the way."},
          &Move::rise_time},
      MoveMeasure{{"peak_time", seconds, "", neither, Of::move,
                   "When the value was farthest beyond its goal; null if it never overshot."},
                  &Move::peak_time},
      MoveMeasure{{"overshoot", per_cent, "", smaller, Of::move,
                   "Largest distance beyond the goal, as a share of the move; 0 if it never overshot."},
                  &Move::overshoot},
      MoveMeasure{{"settling_time", seconds, "", smaller, Of::move,
                   "When it was last outside the settle band: 2 % of the move, or the channel's `settle_band`."},
                  &Move::settling_time},
      MoveMeasure{{"peak_speed", channel_per_second, "", smaller, Of::move,
                   "Largest speed, in the channel's unit even if the motion works in another space."},
                  &Move::peak_speed},
      MoveMeasure{{"peak_acceleration", channel_per_second2, "", smaller, Of::move,
                   "Largest acceleration; jumps of velocity are left out. Null, with a note, if a curve bends without "
                   "bound (`ease-in` starts like that)."},
                  &Move::peak_acceleration},
      MoveMeasure{{"jolt", channel_per_second, "", smaller, Of::move,
                   "Largest jump of velocity that the motion itself makes: at the start of a glide, at the end of a "
                   "linear ease."},
                  &Move::jolt},
      MoveMeasure{{"start_kick", plain, "", smaller, Of::move,
                   "Jump of the speed at the start, times the settling time, divided by the length of the move: what "
                   "the motion adds, or takes away from a move that it interrupts. A spring has 0, from rest or turned "
                   "round half-way; a glide from rest has ln 50 = 3.91."},
                  &Move::start_kick},
      MoveMeasure{{"remaining", channel, "", smaller, Of::move,
                   "Distance from the goal when the next goal came or the take ended."},
                  &Move::remaining},
      MoveMeasure{{"sideways", in_space, "", smaller, Of::move_of_several,
                   "Largest distance from the straight line to the goal, in the channel's space: in `ratio` and `zoom` "
                   "a natural logarithm, unit 1."},
                  &Move::sideways},
  };
  return all;
}

// long: a table
std::span<const ChannelMeasure> whole_measures() noexcept {
  using F = FollowSummary;
  static constexpr std::array all{
      ChannelMeasure{{"time_at_limit", seconds, "", smaller, Of::channel,
                      "How long the range held the value back, by more than 1e-8 of its width."},
                     [](const ChannelSummary& s, std::size_t) { return s.time_at_limit; }},
      ChannelMeasure{{"end_value", channel, "", neither, Of::component, "The value at the take's last frame."},
                     [](const ChannelSummary& s, std::size_t component) { return Value(s.end_value[component]); }},
      ChannelMeasure{{"lowest_value", channel, "", neither, Of::component,
                      "The lowest value, inside frames too. An angle counts on over whole turns."},
                     [](const ChannelSummary& s, std::size_t i) { return Value(s.path.lowest[i].value); },
                     [](const ChannelSummary& s, std::size_t i) { return Value(s.path.lowest[i].at); }},
      ChannelMeasure{
          {"highest_value", channel, "", neither, Of::component, "The highest value, measured in the same way."},
          [](const ChannelSummary& s, std::size_t i) { return Value(s.path.highest[i].value); },
          [](const ChannelSummary& s, std::size_t i) { return Value(s.path.highest[i].at); }},
      ChannelMeasure{{"top_speed", channel_per_second, "", smaller, Of::channel,
                      "Largest speed, whatever set the goal. Jumps of the value have no speed. If a curve stands "
                      "upright, the largest speed on a frame."},
                     [](const ChannelSummary& s, std::size_t) { return Value(s.path.top_speed.value); },
                     [](const ChannelSummary& s, std::size_t) {
                       return s.path.top_speed.value > 0.0 ? Value(s.path.top_speed.at) : std::nullopt;
                     }},
      ChannelMeasure{{"top_acceleration", channel_per_second2, "", smaller, Of::channel,
                      "Largest acceleration between jumps of the speed. Null for what goes frame by frame only."},
                     peak_of<&PathSummary::top_acceleration>,
                     time_of<&PathSummary::top_acceleration>},
      ChannelMeasure{
          {"top_jerk", channel_per_second3, "", smaller, Of::channel,
           "Largest rate of change of the acceleration, between its jumps. Null for what goes frame by frame only."},
          peak_of<&PathSummary::top_jerk>,
          time_of<&PathSummary::top_jerk>},
      ChannelMeasure{{"top_speed_jump", channel_per_second, "", smaller, Of::channel,
                      "Largest jump of the speed at one instant: when a motion starts, ends, meets the range, or is "
                      "interrupted by one that does not go on with its speed. 0: it never jumps."},
                     peak_of<&PathSummary::top_speed_jump>,
                     time_of<&PathSummary::top_speed_jump>},
      ChannelMeasure{{"top_acceleration_jump", channel_per_second2, "", smaller, Of::channel,
                      "Largest jump of the acceleration at one instant."},
                     peak_of<&PathSummary::top_acceleration_jump>,
                     time_of<&PathSummary::top_acceleration_jump>},
      ChannelMeasure{{"travelled", channel, "", neither, Of::channel,
                      "Length of the whole way, there and back, jumps of the value included."},
                     [](const ChannelSummary& s, std::size_t) { return Value(s.path.travelled); }},
      ChannelMeasure{{"moving_time", seconds, "", neither, Of::channel,
                      "How long it moved. It moves while it would need less than 100 s from the lowest to the highest "
                      "value until then."},
                     [](const ChannelSummary& s, std::size_t) { return Value(s.path.moving_time); }},
      ChannelMeasure{{"reversals", plain, "", smaller, Of::component,
                      "How often it turned back. A turn counts when the way back is a thousandth of the distance "
                      "between the lowest and the highest value until then."},
                     [](const ChannelSummary& s, std::size_t i) { return Value(s.path.reversals[i]); }},
      ChannelMeasure{{"coasting_time", seconds, "", smaller, Of::pushed,
                      "Longest time from when the stick or the pointer is let go until 98 % of the way to rest is "
                      "done; straight between frames. A coast that another input interrupts does not count."},
                     [](const ChannelSummary& s, std::size_t) { return s.coast.time; }},
      ChannelMeasure{{"coasting_distance", channel, "", smaller, Of::pushed,
                      "Longest distance that it goes on after the stick or the pointer is let go."},
                     [](const ChannelSummary& s, std::size_t) { return s.coast.distance; }},
      ChannelMeasure{
          {"flips", plain, "", smaller, Of::watched, "How often the switches that look at it went on or off."},
          [](const ChannelSummary& s, std::size_t) { return s.flips; }},
      ChannelMeasure{
          {"lag_distance", channel, "", smaller, Of::trailing, "Largest distance from the goal: how far it lags."},
          of_follow<&F::lag_distance>},
      ChannelMeasure{
          {"lag_distance_mean", channel, "", smaller, Of::trailing, "Mean distance from the goal over the take."},
          of_follow<&F::lag_distance_mean>},
      ChannelMeasure{{"lag_distance_steady", channel, "", smaller, Of::trailing,
                      "Distance from the goal at the end of the longest stretch in which the goal goes at one speed "
                      "(to 1e-6) for at least half a second and the gap has come to rest; null if there is none."},
                     of_follow<&F::lag_distance_steady>},
      ChannelMeasure{{"lag_time", seconds, "", smaller, Of::trailing,
                      "Largest gap along the goal's way, divided by the goal's speed, while the goal goes at an eighth "
                      "of its top speed or more. The speed of a goal on a held tick is that from tick to tick."},
                     of_follow<&F::lag_time>},
      ChannelMeasure{
          {"lag_time_mean", seconds, "", smaller, Of::trailing, "Mean of `lag_time`, weighted by the goal's speed."},
          of_follow<&F::lag_time_mean>},
      ChannelMeasure{{"lag_time_steady", seconds, "", smaller, Of::trailing,
                      "The lag in time where `lag_distance_steady` is taken."},
                     of_follow<&F::lag_time_steady>},
      ChannelMeasure{{"catch_up_time", seconds, "", smaller, Of::trailing,
                      "Longest time from a jump of the goal, such as to another track, until its gap is closed to 2 %, "
                      "while the goal goes on. Jumps that another one interrupts do not count. Null if the take ends "
                      "before the last gap is closed."},
                     of_follow<&F::catch_up_time>},
      ChannelMeasure{{"wish_distance", channel, "", smaller, Of::following,
                      "Largest distance from the wish (the goal before the dead zone)."},
                     of_follow<&F::wish_distance>},
      ChannelMeasure{{"wish_distance_mean", channel, "", smaller, Of::following, "Mean of that distance."},
                     of_follow<&F::wish_distance_mean>},
      ChannelMeasure{{"framing_error", per_cent, "", smaller, Of::following,
                      "How far the subject is from the picture's middle at most, in per cent of half its width or half "
                      "its height, whichever is more; 100 is the edge."},
                     of_follow<&F::framing_error>},
      ChannelMeasure{{"framing_error_mean", per_cent, "", smaller, Of::following,
                      "Mean of `framing_error` while the subject is in front of the eye."},
                     of_follow<&F::framing_error_mean>},
      ChannelMeasure{{"time_outside_zone", seconds, "", smaller, Of::following,
                      "How long the wish was outside the dead zone around the channel's value."},
                     of_follow<&F::time_outside_zone>},
      ChannelMeasure{{"screen_speed", plain, "px/s", smaller, Of::following,
                      "How fast the subject goes across the picture at most, from frame to frame. Cuts have no speed."},
                     of_follow<&F::screen_speed>},
      ChannelMeasure{{"edge_distance_pixels", plain, "px", larger, Of::following,
                      "Smallest distance of the subject's outline (`radius` or `box`) from the nearest edge of the "
                      "picture; negative beyond the edge."},
                     of_follow<&F::edge_distance_pixels>},
      ChannelMeasure{{"edge_distance", channel, "", larger, Of::following,
                      "`edge_distance_pixels` as a length at the subject's own depth."},
                     of_follow<&F::edge_distance>},
      ChannelMeasure{{"middle_distance", channel, "", smaller, Of::following,
                      "Largest distance of the subject from the picture's middle, at its own depth."},
                     of_follow<&F::middle_distance>},
      ChannelMeasure{
          {"time_outside_picture", seconds, "", smaller, Of::following, "How long the subject was out of the picture."},
          of_follow<&F::time_outside_picture>},
      ChannelMeasure{
          {"nearest", channel, "", neither, Of::following,
           "Smallest distance from the eye to the subject's surface (`radius` or `box`); negative inside it."},
          of_follow<&F::nearest>},
      ChannelMeasure{{"inside_time", seconds, "", smaller, Of::following, "How long the eye was inside the subject."},
                     of_follow<&F::inside_time>},
      ChannelMeasure{
          {"inside_frames", plain, "frames", smaller, Of::following, "Frames on which the eye was inside the subject."},
          of_follow<&F::inside_frames>},
      ChannelMeasure{{"judder_subject", channel, "", smaller, Of::following,
                      "Unevenness of the subject against the channel: twice the RMS of how far each frame is from the "
                      "straight line between its neighbours."},
                     of_follow<&F::judder_subject>},
      ChannelMeasure{
          {"judder_subject_pixels", plain, "px", smaller, Of::following, "`judder_subject` in pixels of the picture."},
          of_follow<&F::judder_subject_pixels>},
      ChannelMeasure{
          {"judder_picture", channel, "", smaller, Of::following, "Unevenness of the channel against steady travel."},
          of_follow<&F::judder_picture>},
      ChannelMeasure{
          {"judder_picture_pixels", plain, "px", smaller, Of::following, "`judder_picture` in pixels of the picture."},
          of_follow<&F::judder_picture_pixels>},
      ChannelMeasure{
          {"judder_track", channel, "", smaller, Of::following,
           "Unevenness of the subject as it is drawn, against steady travel: what a steady camera would see. For a "
           "held tick of f Hz at F frames a second and speed v it is (v/f) sqrt(2 min(p, 1 - p)), p = frac(f/F)."},
          of_follow<&F::judder_track>},
      ChannelMeasure{
          {"judder_track_pixels", plain, "px", smaller, Of::following, "`judder_track` in pixels of the picture."},
          of_follow<&F::judder_track_pixels>},
      ChannelMeasure{{"size_error", per_cent, "", smaller, Of::keeping_size,
                      "Largest difference between the subject's size in the picture and the one that should be kept."},
                     of_follow<&F::size_error>},
      ChannelMeasure{{"corner_cut", channel, "", smaller, Of::placed,
                      "How much nearer the eye comes to what it looks at than the place where it is put, at most."},
                     of_follow<&F::corner_cut>},
      ChannelMeasure{
          {"penetration", channel, "", smaller, Of::held_in_or_placed,
           "How far the view was beyond the place where its ray touches an obstacle, at most; 0 if it never was (less "
           "than 1e-12 does not count). `penetration_at` and `penetration_of` in the file say when, and through what."},
          of_follow<&F::penetration>},
      ChannelMeasure{{"penetration_time", seconds, "", smaller, Of::held_in_or_placed,
                      "How long the view was beyond an obstacle."},
                     of_follow<&F::penetration_time>},
      ChannelMeasure{{"penetration_frames", plain, "frames", smaller, Of::held_in_or_placed,
                      "Frames on which the view was beyond an obstacle."},
                     of_follow<&F::penetration_frames>},
      ChannelMeasure{
          {"held_time", seconds, "", neither, Of::held_in, "How long an obstacle held it in, short of its wish."},
          of_follow<&F::held_time>},
      ChannelMeasure{{"time_below_range", seconds, "", smaller, Of::held_in,
                      "How long an obstacle left less room than the range allows (the range wins)."},
                     of_follow<&F::time_below_range>},
      ChannelMeasure{{"let_out_speed", channel_per_second, "", smaller, Of::held_in,
                      "Largest outward speed while an obstacle holds it, and until it is back at its wish."},
                     of_follow<&F::let_out_speed>},
      ChannelMeasure{{"let_out_time", seconds, "", smaller, Of::held_in,
                      "Longest time from when an obstacle lets it go until it has settled at its wish (`settle_band`); "
                      "straight between frames."},
                     of_follow<&F::let_out_time>},
      ChannelMeasure{{"advised_half_life", seconds, "", neither, Of::held_in,
                      "The half-life of a glide inward that keeps it out of every obstacle for sure; see below."},
                     of_follow<&F::advised_half_life>},
      ChannelMeasure{{"unseen_clicks", plain, "clicks", smaller, Of::held_in,
                      "Clicks that showed nothing, because an obstacle held the view."},
                     of_follow<&F::unseen_clicks>},
      ChannelMeasure{{"remainder", channel, "", smaller, Of::on_grid,
                      "Largest remainder that the snap leaves: half a cell at most."},
                     of_follow<&F::remainder>},
      ChannelMeasure{{"remainder_pixels", plain, "px", smaller, Of::on_grid,
                      "`remainder` in pixels of the screen: how far the picture is shifted."},
                     of_follow<&F::remainder_pixels>},
      ChannelMeasure{{"judder_snapped_pixels", plain, "px", smaller, Of::on_grid,
                      "Unevenness of the snapped value on the screen."},
                     of_follow<&F::judder_snapped_pixels>},
      ChannelMeasure{{"judder_smooth_pixels", plain, "px", smaller, Of::on_grid,
                      "Its unevenness with the picture shifted by the remainder."},
                     of_follow<&F::judder_smooth_pixels>},
  };
  return all;
}

std::span<const CameraMeasure> camera_measures() noexcept {
  static constexpr std::array all{
      CameraMeasure{
          {"top_turn_speed", plain, "deg/s", smaller, Of::camera,
           "How fast the view turns at most, from frame to frame: yaw, pitch and roll, with poses, what it follows and "
           "shakes, all together. Cuts and jumps of shakes have no speed. Null without an eye in space."},
          &CameraSummary::top_turn_speed},
      CameraMeasure{{"top_turn_acceleration", plain, "deg/s2", smaller, Of::camera,
                     "Largest change of the turn speed, as a vector, from one frame to the next, divided by the time "
                     "between them."},
                    &CameraSummary::top_turn_acceleration},
      CameraMeasure{{"top_eye_speed", channel_per_second, "", smaller, Of::camera,
                     "How fast the eye goes at most, from frame to frame, shakes included; in the unit of places."},
                    &CameraSummary::top_eye_speed},
      CameraMeasure{{"most_roll", plain, "deg", smaller, Of::camera,
                     "How far the picture leans at most on a frame, everything together. Not measured while it looks "
                     "straight up or down."},
                    &CameraSummary::most_roll},
  };
  return all;
}

std::span<const ShakeMeasure> shake_measures() noexcept {
  static constexpr std::array all{
      ShakeMeasure{{"hits", plain, "", neither, Of::shake, "How many hits were felt."},
                   [](const ShakeSummary& s) { return Value(static_cast<double>(s.hits)); }},
      ShakeMeasure{{"peak_amplitude", plain, "", smaller, Of::shake, "The largest strength, 1 being one full hit."},
                   of_shake<&ShakeSummary::peak_amplitude>},
      ShakeMeasure{{"half_life", seconds, "", smaller, Of::shake,
                    "Half-life of the envelope, by its rule: as given, or T/2 (linear), T (1 - 2^(-1/p)) (power), ln 2 "
                    "/ (z w) (ring)."},
                   of_shake<&ShakeSummary::half_life>},
      ShakeMeasure{{"quiet_after", seconds, "", smaller, Of::shake,
                    "From the last hit until the strength of all hits together is under `quiet_below` (2 % of a full "
                    "hit) for good."},
                   of_shake<&ShakeSummary::quiet_after>},
      ShakeMeasure{
          {"left_at_cut", per_cent, "", smaller, Of::shake, "Strength that is left when `stop_after` cuts it off."},
          of_shake<&ShakeSummary::left_at_cut>},
      ShakeMeasure{
          {"folded", per_cent, "", smaller, Of::shake, "Share of the steady wave's power above half the frame rate."},
          of_shake<&ShakeSummary::folded>},
  };
  return all;
}

std::span<const PartMeasure> part_measures() noexcept {
  static constexpr std::array all{
      PartMeasure{{"peak", channel, "", smaller, Of::shaken_component, "Largest shake."}, of_part<&ShakePart::peak>},
      PartMeasure{{"rms", channel, "", smaller, Of::shaken_component,
                   "Root mean square over the time in which it is felt; gaps between hits are left out."},
                  of_part<&ShakePart::rms>},
      PartMeasure{{"main_frequency", plain, "Hz", neither, Of::shaken_component, "Centroid of its power spectrum."},
                  of_part<&ShakePart::main_frequency>},
      PartMeasure{{"bandwidth", plain, "Hz", neither, Of::shaken_component,
                   "Root mean square distance of its power from the main frequency."},
                  of_part<&ShakePart::bandwidth>},
      PartMeasure{
          {"speed_rms", channel_per_second, "", smaller, Of::shaken_component,
           "Root mean square of its speed; for an angle, how fast the picture turns. The jump of a hit without an "
           "attack is not a speed. `jitter`, which only jumps, has no speed, no main frequency and no bandwidth."},
          of_part<&ShakePart::speed_rms>},
      PartMeasure{{"above_3hz", per_cent, "", smaller, Of::shaken_component,
                   "Share of its power above 3 Hz: shaking that blurs."},
                  of_part<&ShakePart::above_3hz>},
      PartMeasure{{"between_0_1_and_0_5hz", per_cent, "", smaller, Of::shaken_component,
                   "Share of its power from 0.1 to 0.5 Hz: swaying that makes people ill."},
                  of_part<&ShakePart::between_0_1_and_0_5hz>},
      PartMeasure{{"margin_pixels", plain, "px", smaller, Of::shaken_component,
                   "Flat views: how far the picture is shifted at most, and so how much must be drawn beyond its "
                   "edges."},
                  of_part<&ShakePart::margin_pixels>},
  };
  return all;
}

namespace {

std::string_view unit_in_table(const Measure& measure) noexcept {
  switch (measure.unit) {
  case seconds: return "s";
  case per_cent: return "%";
  case plain: return measure.unit_word.empty() ? "1" : measure.unit_word;
  case channel: return "unit";
  case channel_per_second: return "unit/s";
  case channel_per_second2: return "unit/s\u00b2";
  case channel_per_second3: return "unit/s\u00b3";
  case in_space: return "unit, or 1";
  }
  return "";
}

std::string_view better_in_table(Better better) noexcept {
  switch (better) {
  case smaller: return "smaller";
  case larger: return "larger";
  case neither: return "";
  }
  return "";
}

template<class Kind> void add_rows(std::string& out, std::span<const Kind> measures) {
  for (const Measure& measure : measures)
    out += fmt::format("| `{}` | {} | {} | {} | {} |\n", measure.name, in_words(measure.of), unit_in_table(measure),
                       better_in_table(measure.better), measure.meaning);
}

} // namespace

Better better_side(const Want& wanted) noexcept {
  const std::string_view name = wanted.measure;
  const auto in = [](const auto& measures, std::string_view one) -> std::optional<Better> {
    for (const auto& measure : measures)
      if (measure.name == one) return measure.better;
    return std::nullopt;
  };
  std::optional<Better> found;
  if (wanted.is_of_camera)
    found = in(camera_measures(), name);
  else if (wanted.shake)
    found = name.find('.') == std::string_view::npos ? in(shake_measures(), name)
                                                     : in(part_measures(), name.substr(name.rfind('.') + 1));
  else {
    const std::string_view own = name.substr(0, name.find('.'));
    found = in(move_measures(), own);
    if (!found) found = in(whole_measures(), own);
  }
  return found.value_or(Better::neither);
}

std::string measure_table() {
  std::string out = "| measure | of | unit | better | meaning |\n|---|---|---|---|---|\n";
  add_rows(out, move_measures());
  add_rows(out, whole_measures());
  add_rows(out, camera_measures());
  add_rows(out, shake_measures());
  add_rows(out, part_measures());
  return out;
}

} // namespace stasis
