#include "code/check_program.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <map>
#include <set>
#include <utility>

#include <fmt/format.h>

#include "code/lowering.hpp"
#include "code/played_take.hpp"
#include "code/read_program.hpp"
#include "code/sampled_tracks.hpp"
#include "core/feel/goal_source.hpp"
#include "core/take/drawn_frames.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

std::string array(std::string_view name, const std::vector<double>& values) {
  std::string text = fmt::format("constant real[{}] {} = {{", values.size(), name);
  for (std::size_t i = 0; i < values.size(); ++i) text += (i > 0 ? ", " : "") + literal(values[i]);
  return text + "};\n";
}

std::string large(const std::string& name) { return in_capitals(identifier(name)); }

/// What a cue does to the state; empty for what is not in the source code. Of several buttons the first that goes down
/// is a press, the last that comes up a release.
class CueText {
public:
  CueText(const Feel& feel, const Lowered& lowered, const std::map<std::pair<std::size_t, std::int64_t>, double>& felt)
      : feel_(feel), lowered_(lowered), felt_(felt), down_(feel.controls.size()) {}

  std::string of(const Cue& cue, std::int64_t frame) {
    switch (cue.action) {
    case CueAction::press: {
      std::set<std::size_t>& down = down_[cue.control];
      const bool again = !down.insert(cue.button).second;
      return again || down.size() == 1 ? on_control("press", cue) : std::string();
    }
    case CueAction::release:
    case CueAction::cancel: {
      std::set<std::size_t>& down = down_[cue.control];
      if (cue.action == CueAction::cancel)
        down.clear();
      else
        down.erase(cue.button);
      return down.empty() ? on_control(name_of(cue.action), cue) : std::string();
    }
    case CueAction::click:
      return fmt::format("click(s, CONTROL_{}, {});", large(feel_.controls[cue.control].name),
                         static_cast<int>(cue.amount));
    case CueAction::goal: {
      std::string said;
      for (const CueGoal& goal : cue.goals)
        said += fmt::format("goal(s, VALUE_{}, {}); ", in_capitals(component_identifier(feel_, goal.target)),
                            literal(goal.value));
      return said;
    }
    case CueAction::hit:
      if (std::find(lowered_.shakes.begin(), lowered_.shakes.end(), cue.shake) == lowered_.shakes.end()) return {};
      if (!cue.direction.empty()) return along(cue, frame);
      return fmt::format("hit(s, SHAKE_{}, {});", large(feel_.shakes[cue.shake].name),
                         literal(strength_of(cue, frame)));
    case CueAction::pointer:
      return fmt::format("pointer(s, CONTROL_{}, {});", large(feel_.controls[cue.control].name), literal(cue.amount));
    case CueAction::stick:
      return fmt::format("stick(s, CONTROL_{}, {});", large(feel_.controls[cue.control].name), literal(cue.amount));
    case CueAction::lock: down_[cue.control].clear(); return on_control("lock_control", cue);
    case CueAction::unlock: // a program that locks nothing has no call for it
      return locks(feel_) ? on_control("unlock_control", cue) : std::string();
    case CueAction::follow: {
      std::string said;
      for (const CueTrack& one : cue.tracks)
        if (std::find(lowered_.tracks.begin(), lowered_.tracks.end(), one.track) != lowered_.tracks.end())
          said += fmt::format("follow_track(s, VALUE_{}, TRACK_{}); ",
                              in_capitals(component_identifier(feel_, {one.channel, 0})),
                              large(feel_.tracks[one.track].name));
      return said;
    }
    case CueAction::start:
    case CueAction::skip: break;
    }
    return {};
  }

private:
  std::string along(const Cue& cue, std::int64_t frame) const {
    const auto part = [&](std::size_t i) { return literal(i < cue.direction.size() ? cue.direction[i] : 0.0); };
    return fmt::format("hit_along(s, SHAKE_{}, {}, {}, {}, {});", large(feel_.shakes[cue.shake].name),
                       literal(strength_of(cue, frame)), part(0), part(1), part(2));
  }
  /// Of a hit at a place what is left of it where the eye is: the program is told that.
  double strength_of(const Cue& cue, std::int64_t frame) const {
    if (!cue.place || !feel_.shakes[cue.shake].falloff) return cue.amount;
    const auto found = felt_.find({cue.shake, frame});
    return found == felt_.end() ? 0.0 : found->second;
  }
  std::string on_control(const char* what, const Cue& cue) const {
    return fmt::format("{}(s, CONTROL_{});", what, large(feel_.controls[cue.control].name));
  }

  const Feel& feel_;
  const Lowered& lowered_;
  const std::map<std::pair<std::size_t, std::int64_t>, double>& felt_;
  std::vector<std::set<std::size_t>> down_;
};

/// How large a value's differences may be called small: the way it goes, or its range.
double size_of(const Feel& feel, const Played& one) {
  double way = 0.0, largest = 0.0;
  for (std::size_t at = 0; at < one.values.size(); ++at) {
    if (at > 0) way += std::fabs(one.values[at] - one.values[at - 1]);
    largest = std::max(largest, std::fabs(one.values[at]));
  }
  const auto [low, high] = feel.channels[one.component.channel].range[one.component.component];
  if (std::isfinite(high - low)) way = std::max(way, high - low);
  const SpaceMap& space = feel.channels[one.component.channel].space;
  if (space.space == Space::turn) way = std::max(way, space.units_per_turn);
  return std::max(way, way > 0.0 ? largest * 1e-3 : std::max(largest, 1.0));
}

bool is_given(const Lowered& lowered, ComponentRef one) {
  return std::find(lowered.given.begin(), lowered.given.end(), one.channel) != lowered.given.end();
}

/// True if a value is held out of what a ray meets, whatever its motion.
bool is_held_out(const Feel& feel, const Played& one) {
  const auto& obstacles = feel.channels[one.component.channel].obstacles;
  return obstacles && obstacles->never_through;
}

/// True if what a ray meets leaps inside a frame while the goal's room does not: it is told as the next one begins.
bool leaps_inside(const Played& one, std::size_t frame) {
  const Room &from = one.rooms[frame], &to = one.room_ends[frame];
  return to.limit == from.limit && to.hit != from.hit;
}

/// True if a value is held out of what a ray meets, and that leaps inside a frame: the take lets it go, or puts it
/// back, in that frame, the source code in the one that follows.
bool is_held_late(const Feel& feel, const Played& one) {
  if (!is_held_out(feel, one)) return false;
  for (std::size_t frame = 0; frame < one.rooms.size(); ++frame)
    if (leaps_inside(one, frame)) return true;
  return false;
}

/// True if a value is worked out by the source code alone, from what it is given at each frame.
bool is_known(const Lowered& lowered, const Feel& feel, const Played& one) {
  if (is_held_late(feel, one)) return false;
  if (!is_given(lowered, one.component)) return true;
  // Its home is known only where no pose stands before it.
  const bool is_posed = std::any_of(feel.poses.begin(), feel.poses.end(), [&](const Pose& pose) {
    return std::any_of(pose.goals.begin(), pose.goals.end(),
                       [&](const PoseGoal& goal) { return goal.channel == one.component.channel; });
  });
  return !one.has_corners && !is_posed;
}

/// True if a value is held out of what a ray meets and that leaps: the program is told of it a frame later, when it
/// puts the value back, and what reads the value sees it then.
bool is_put_back_late(const Feel& feel, const Played& one) {
  if (!is_held_out(feel, one)) return false;
  for (std::size_t frame = 1; frame < one.rooms.size(); ++frame)
    if (one.rooms[frame].hit != one.room_ends[frame - 1].hit) return true;
  return false;
}

/// The values that the source code works out as the take has them: all that are known, and whose homes come from none
/// that is not.
std::vector<const Played*> compared_of(const Lowered& lowered, const Feel& feel, const PlayedSink& played) {
  std::vector<bool> differs(feel.channels.size());
  for (const Played& one : played.all)
    if (!is_known(lowered, feel, one) || is_put_back_late(feel, one)) differs[one.component.channel] = true;
  const auto reads_one = [&](std::size_t channel) {
    const auto sources = goal_sources(feel, channel);
    return std::any_of(sources.begin(), sources.end(), [&](const GoalSource& source) {
      return std::any_of(source.reads.begin(), source.reads.end(), [&](std::size_t read) { return differs[read]; });
    });
  };
  std::vector<bool> follows_on(feel.channels.size());
  for (const std::size_t channel : channel_order(feel)) {
    const bool is_given = std::find(lowered.given.begin(), lowered.given.end(), channel) != lowered.given.end();
    if (!is_given && !differs[channel] && reads_one(channel)) differs[channel] = follows_on[channel] = true;
  }
  // What shakes a value and is not in the program is seen in that value alone: others read it without.
  const auto is_unlike = [&](const Played& one) {
    return std::find(lowered.unlike.begin(), lowered.unlike.end(), one.component) != lowered.unlike.end();
  };
  std::vector<const Played*> compared;
  for (const Played& one : played.all)
    if (!follows_on[one.component.channel] && !is_unlike(one) && is_known(lowered, feel, one)) compared.push_back(&one);
  return compared;
}

/// What is compared: a function of the source code with what the take has.
struct Column {
  std::string name, function;
  const std::vector<double>* values;
  double size;
};

/// The eye, where all that it is worked out from is compared as well.
void add_eye(const Feel& feel, const PlayedSink& played, const std::vector<const Played*>& compared,
             std::vector<Column>& columns) {
  const std::vector<std::size_t> channels = channels_of_eye(feel);
  if (channels.empty() || played.eye[0].empty()) return;
  double size = 1.0;
  for (const std::size_t channel : channels)
    for (std::size_t i = 0; i < feel.channels[channel].components; ++i) {
      const auto found = std::find_if(compared.begin(), compared.end(), [&](const Played* one) {
        return one->component == ComponentRef{channel, i};
      });
      if (found == compared.end()) return;
      size = std::max(size, size_of(feel, **found));
    }
  for (std::size_t i = 0; i < most_components; ++i) {
    const std::string axis(1, "xyz"[i]);
    columns.push_back({"eye." + axis, "eye_" + axis, &played.eye[i], size});
  }
}

/// Columns of numbers, frame after frame.
template<class Of> std::vector<double> rows_of(const std::vector<const Played*>& columns, std::size_t rows, Of of) {
  std::vector<double> all;
  for (std::size_t row = 0; row < rows; ++row)
    for (const Played* one : columns) all.push_back(of(*one)[row]);
  return all;
}

/// The goals that others give, handed on as each frame begins.
std::string given_text(const Feel& feel, const std::vector<const Played*>& given) {
  std::string text;
  for (std::size_t g = 0; g < given.size(); ++g) {
    const std::string value = "VALUE_" + in_capitals(component_identifier(feel, given[g]->component));
    const std::string at = fmt::format("frame * {} + {}", given.size(), g);
    text +=
        fmt::format("if (frame == 0) {{ place_at(s, {0}, {1}); }} if (frame == 0 || CHECK_GOAL[{2}] != "
                    "CHECK_GOAL_AFTER[{2} - {3}]) {{ goal(s, {0}, CHECK_GOAL[{2}]); }} if (CHECK_GOAL_AFTER[{2}] != "
                    "CHECK_GOAL[{2}]) {{ follow(s, {0}, CHECK_GOAL_AFTER[{2}]); }}\n",
                    value, literal(given[g]->values.front()), at, given.size());
  }
  return text;
}

/// Values that a sequence has: where it has them as each frame ends, and when it gives them back.
std::string led_text(const Feel& feel, const Played& one) {
  const std::string name = in_capitals(component_identifier(feel, one.component)), value = "VALUE_" + name;
  std::string text;
  for (std::size_t frame = 1; frame < one.led.size(); ++frame) {
    const LedFrame& before = one.led[frame - 1];
    if (before.sequence == LedFrame::by_none || one.led[frame].sequence == before.sequence) continue;
    const std::string stays =
        before.stays_at ? fmt::format("goal(s, {}, {}); ", value, literal(*before.stays_at)) : std::string();
    text += fmt::format("if (frame == {}) {{ {}give_back(s, {}, SEQUENCE_{}); }}\n", frame, stays, value,
                        large(feel.sequences[before.sequence].name));
  }
  return text
         + fmt::format("if (CHECK_LED_{0}[frame * 3] > 0.0) {{ lead(s, {1}, CHECK_LED_{0}[frame * 3 + 1], "
                       "CHECK_LED_{0}[frame * 3 + 2]); }}\n",
                       name, value);
}
std::string led_array(const Feel& feel, const Played& one) {
  std::vector<double> numbers;
  for (std::size_t frame = 0; frame < one.led.size(); ++frame) {
    numbers.push_back(one.led[frame].sequence != LedFrame::by_none ? 1.0 : 0.0);
    numbers.push_back(one.led[frame].value);
    numbers.push_back(one.led[frame].speed);
  }
  return array("CHECK_LED_" + in_capitals(component_identifier(feel, one.component)), numbers);
}
bool is_led(const Played& one) {
  return std::any_of(one.led.begin(), one.led.end(),
                     [](const LedFrame& frame) { return frame.sequence != LedFrame::by_none; });
}

/// How far a ray came, and its slant, that leave such room.
struct RayTold {
  double came = unbounded, slant = 1.0;
  bool operator==(const RayTold&) const = default;
};
RayTold ray_told(const Room& room, double stand_off) {
  if (!std::isfinite(room.hit) || !(room.hit > room.limit)) return {room.hit, 1.0};
  constexpr double least_slant = 0.1;
  const double slant = stand_off / (room.hit - room.limit);
  // Where one obstacle is nearest and another leaves less room, a ray that meets that one head on says as much.
  return slant < least_slant ? RayTold{room.limit + stand_off, 1.0} : RayTold{room.hit, slant};
}

/// Values that obstacles hold in: how far the rays come as each frame ends, and where they leap.
std::string room_text(const Feel& feel, const Played& one) {
  const std::string name = in_capitals(component_identifier(feel, one.component));
  return fmt::format("if (CHECK_ROOM_{0}[frame * 5] > 0.0) {{ limit_at(s, VALUE_{0}, CHECK_ROOM_{0}[frame * 5 + 1], "
                     "CHECK_ROOM_{0}[frame * 5 + 2]); }}\nlimit(s, VALUE_{0}, CHECK_ROOM_{0}[frame * 5 + 3], "
                     "CHECK_ROOM_{0}[frame * 5 + 4]);\n",
                     name);
}
std::string room_array(const Feel& feel, const Played& one) {
  const double stand_off = feel.channels[one.component.channel].obstacles->stand_off;
  std::vector<double> numbers;
  RayTold last;
  for (std::size_t frame = 0; frame < one.rooms.size(); ++frame) {
    const RayTold begins = ray_told(one.rooms[frame], stand_off);
    const RayTold ends = leaps_inside(one, frame) ? begins : ray_told(one.room_ends[frame], stand_off);
    for (const double number : {begins == last ? 0.0 : 1.0, begins.came, begins.slant, ends.came, ends.slant})
      numbers.push_back(number);
    last = ends;
  }
  return array("CHECK_ROOM_" + in_capitals(component_identifier(feel, one.component)), numbers);
}

/// The numbers that subjects have at frames: where each will be as the frame ends, which way it looks, how hard it is
/// driven.
std::string track_arrays(const Lowered& lowered, const SampledTake& take) {
  std::string text;
  for (const SampledTrack& one : take.tracks) {
    const std::string name = large(take.feel.tracks[one.track].name);
    std::vector<double> places, facing, throttle;
    for (std::size_t frame = 0; frame + 1 < one.place.size(); ++frame) {
      for (const double part : one.before_cut[frame + 1]) places.push_back(part);
      facing.push_back(one.facing[frame + 1]);
      throttle.push_back(one.throttle[frame + 1]);
    }
    text += array("CHECK_WAY_OF_" + name, places);
    if (lowered.reads_facing && one.has_facing) text += array("CHECK_FACING_OF_" + name, facing);
    if (lowered.reads_throttle) text += array("CHECK_THROTTLE_OF_" + name, throttle);
  }
  return text;
}

/// Subjects, told of as each frame begins.
std::string tracks_text(const Lowered& lowered, const SampledTake& take) {
  std::string text;
  for (const SampledTrack& one : take.tracks) {
    const std::string name = large(take.feel.tracks[one.track].name);
    for (std::size_t frame = 0; frame + 1 < one.place.size(); ++frame) {
      if (frame > 0 && !one.is_cut[frame]) continue;
      const Components& at = one.place[frame];
      const std::string put = fmt::format("track_at(s, TRACK_{}, {}, {}, {}, {});", name, literal(at[0]),
                                          literal(at[1]), literal(at[2]), literal(one.travel[frame]));
      std::string told;
      if (frame == 0 && lowered.reads_facing && one.has_facing)
        told += fmt::format("face(s, TRACK_{}, {}); ", name, literal(one.facing[frame]));
      if (frame == 0 && lowered.reads_throttle)
        told += fmt::format("throttle(s, TRACK_{}, {}); ", name, literal(one.throttle[frame]));
      text += fmt::format("if (frame == {}) {{ {}{} }}\n", frame, told, put);
    }
    text += fmt::format("track(s, TRACK_{0}, CHECK_WAY_OF_{0}[frame * 3], CHECK_WAY_OF_{0}[frame * 3 + 1], "
                        "CHECK_WAY_OF_{0}[frame * 3 + 2]);\n",
                        name);
    if (lowered.reads_facing && one.has_facing)
      text += fmt::format("face(s, TRACK_{0}, CHECK_FACING_OF_{0}[frame]);\n", name);
    if (lowered.reads_throttle) text += fmt::format("throttle(s, TRACK_{0}, CHECK_THROTTLE_OF_{0}[frame]);\n", name);
  }
  return text;
}

/// True if the game goes at another speed than the clock, and the feel minds.
bool is_told_the_clock(const Scene& scene) { return scene.clock.drawn != nullptr && has_clock(*scene.feel); }

/// What is done to the state as each frame begins.
std::string cues_text(const Lowered& lowered, const SampledTake& take, const PlayedSink& played,
                      const std::vector<const Played*>& given) {
  const Scene scene = take.scene();
  const Feel& feel = *scene.feel;
  const std::string begins = "open act apply_cues(changing State s, whole frame) {\n";
  std::string cues = begins + tracks_text(lowered, take) + given_text(feel, given);
  CueText text(feel, lowered, played.felt);
  for (const Cue& cue : scene.take->cues) {
    const std::int64_t frame = due_frame(scene.clock, cue.at);
    const std::string what = text.of(cue, frame);
    if (what.empty() || frame >= scene.clock.frames) continue;
    cues += fmt::format("if (frame == {}) {{ s.input_time = {}; {} }}\n", frame, literal(cue.at), what);
  }
  if (is_told_the_clock(scene)) cues += "clock_goes(s, CHECK_CLOCK_STEP[frame]);\n";
  for (const Played& one : played.all) {
    if (!one.rooms.empty()) cues += room_text(feel, one);
    if (is_led(one)) cues += led_text(feel, one);
  }
  // Both are read, whatever a take has: a language may warn of what is not.
  if (cues == begins) cues += "if (frame < 0) { s.time = real(frame); }\n";
  return cues + "}\n";
}

/// What is told to the program frame by frame, as numbers.
std::string told_arrays(const Lowered& lowered, const SampledTake& take, const PlayedSink& played,
                        const std::vector<const Played*>& given) {
  const Scene scene = take.scene();
  std::string text = track_arrays(lowered, take);
  if (is_told_the_clock(scene)) {
    std::vector<double> steps;
    for (std::int64_t frame = 0; frame < scene.clock.frames; ++frame) steps.push_back(scene.clock.drawn_dt(frame));
    text += array("CHECK_CLOCK_STEP", steps);
  }
  for (const Played& one : played.all) {
    if (!one.rooms.empty()) text += room_array(*scene.feel, one);
    if (is_led(one)) text += led_array(*scene.feel, one);
  }
  if (given.empty()) return text;
  const auto rows = static_cast<std::size_t>(scene.clock.frames);
  const auto goals = [](const Played& one) -> const auto& { return one.goals; };
  const auto runs_to = [](const Played& one) -> const auto& { return one.runs_to; };
  return text + array("CHECK_GOAL", rows_of(given, rows, goals))
         + array("CHECK_GOAL_AFTER", rows_of(given, rows, runs_to));
}

/// What becomes no number first, and when; empty where everything is one.
std::string first_without_number(const std::vector<Column>& columns, const Clock& clock) {
  for (std::int64_t row = 0; row < clock.frames; ++row)
    for (const Column& column : columns)
      if (!std::isfinite((*column.values)[static_cast<std::size_t>(row)]))
        return fmt::format("{} at {} s", column.name, concise(clock.time(row)));
  return {};
}

} // namespace

Scene checked_frames(const Scene& scene) {
  return scene.take->tick.order == Tick::Order::on_tick ? DrawnFrames(scene, {}).tick_scene() : scene;
}

Check check_of(const Lowered& lowered, const Scene& played) {
  const SampledTake take = sampled_take(checked_frames(played), lowered.tracks);
  const Scene scene = take.scene();
  const Feel& feel = *scene.feel;
  PlayedSink sink(feel, scene.clock);
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  const std::vector<const Played*> compared = compared_of(lowered, feel, sink);
  std::vector<const Played*> given;
  for (const Played& one : sink.all)
    if (is_given(lowered, one.component)) given.push_back(&one);
  std::vector<Column> columns;
  for (const Played* one : compared)
    columns.push_back({component_name(feel.channels[one->component.channel], one->component.component),
                       "value_of_" + component_identifier(feel, one->component), &one->values, size_of(feel, *one)});
  add_eye(feel, sink, compared, columns);
  Check check;
  check.head = "time";
  check.columns = columns.size();
  check.rows = static_cast<std::size_t>(scene.clock.frames);
  if (columns.empty()) return check;
  check.no_number = first_without_number(columns, scene.clock);
  if (!check.no_number.empty()) return check;
  std::string value_of = "open real check_value(State s, whole column) {\n";
  std::vector<double> sizes, times, steps, rows;
  for (std::size_t c = 0; c < columns.size(); ++c) {
    value_of += fmt::format("if (column == {}) {{ return {}(s); }}\n", c, columns[c].function);
    check.head += "," + columns[c].name;
    sizes.push_back(columns[c].size);
  }
  for (std::size_t row = 0; row < check.rows; ++row)
    for (const Column& column : columns) rows.push_back((*column.values)[row]);
  for (std::int64_t frame = 0; frame < scene.clock.frames; ++frame) {
    times.push_back(scene.clock.time(frame));
    steps.push_back(scene.clock.dt(frame));
  }
  const std::string cues = cues_text(lowered, take, sink, given);
  std::string arrays =
      array("CHECK_TIME", times) + array("CHECK_STEP", steps) + array("CHECK_SIZE", sizes) + array("CHECK_ROWS", rows);
  arrays += told_arrays(lowered, take, sink, given);
  // The main program of each language reads these.
  const std::string kept = "open real check_numbers(whole k) { return CHECK_TIME[k] + CHECK_STEP[k] + CHECK_SIZE[k] + "
                           "CHECK_ROWS[k]; }\n";
  const Program own = read_program(lowered.text);
  check.program = read_program(lowered.text + arrays + cues + value_of + "return 0.0; }\n" + kept);
  std::erase_if(check.program.functions,
                [&](const Function& one) { return one.name == "check_numbers" || own.function(one.name) != nullptr; });
  std::erase_if(check.program.constants, [&](const Constant& one) {
    return std::any_of(own.constants.begin(), own.constants.end(),
                       [&](const Constant& other) { return other.name == one.name; });
  });
  check.program.records.clear();
  for (Function& one : check.program.functions) one.is_open = false;
  return check;
}

} // namespace stasis::code
