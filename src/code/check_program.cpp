#include "code/check_program.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <iterator>
#include <set>

#include <fmt/format.h>

#include "code/read_program.hpp"
#include "code/sampled_tracks.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"

namespace stasis::code {
namespace {

/// What a take does to one value.
struct Played {
  ComponentRef component;
  std::vector<double> values;         ///< by frame
  std::vector<double> goals, runs_to; ///< its wish as each frame begins, and where that runs to
  bool has_corners = false;           ///< the goal turned a corner inside a frame, or was capped
};

class PlayedSink final : public BlockSink {
public:
  explicit PlayedSink(const Feel& feel) {
    for (std::size_t c = 0; c < feel.channels.size(); ++c)
      for (std::size_t i = 0; i < feel.channels[c].components; ++i) all.push_back({{c, i}, {}, {}, {}});
  }

  void begin(const Scene&) override {}
  void consume(const Block& block) override {
    for (std::size_t i = 0; i < eye.size(); ++i) eye[i].insert(eye[i].end(), block.eye[i].begin(), block.eye[i].end());
    for (Played& one : all) {
      const ChannelBlock& channel = block.channels[one.component.channel];
      const ComponentBlock& column = channel.component[one.component.component];
      const auto rows = static_cast<std::size_t>(block.count);
      one.values.insert(one.values.end(), column.value.begin(), column.value.begin() + block.count);
      for (std::size_t row = 0; row < rows; ++row) {
        one.goals.push_back(column.moves() ? column.wishes[row] : column.wish);
        one.runs_to.push_back(column.moves() ? column.wishes[row + 1] : column.wish);
      }
      one.has_corners = one.has_corners || !column.knots.empty() || !channel.ceilings.empty() || !channel.axes.empty();
    }
  }
  void end() override {}

  std::vector<Played> all;
  std::array<std::vector<double>, most_components> eye; ///< by frame
};

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
  CueText(const Feel& feel, const Lowered& lowered) : feel_(feel), lowered_(lowered), down_(feel.controls.size()) {}

  std::string of(const Cue& cue) {
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
      return fmt::format("hit(s, SHAKE_{}, {});", large(feel_.shakes[cue.shake].name), literal(cue.amount));
    case CueAction::pointer:
      return fmt::format("pointer(s, CONTROL_{}, {});", large(feel_.controls[cue.control].name), literal(cue.amount));
    case CueAction::stick:
      return fmt::format("stick(s, CONTROL_{}, {});", large(feel_.controls[cue.control].name), literal(cue.amount));
    case CueAction::lock:
    case CueAction::unlock:
    case CueAction::follow:
    case CueAction::start:
    case CueAction::skip: break;
    }
    return {};
  }

private:
  std::string on_control(const char* what, const Cue& cue) const {
    return fmt::format("{}(s, CONTROL_{});", what, large(feel_.controls[cue.control].name));
  }

  const Feel& feel_;
  const Lowered& lowered_;
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

/// True if a value is worked out by the source code alone, from what it is given at each frame.
bool is_comparable(const Lowered& lowered, const Feel& feel, const Played& one) {
  if (std::find(lowered.unlike.begin(), lowered.unlike.end(), one.component) != lowered.unlike.end()) return false;
  if (!is_given(lowered, one.component)) return true;
  // Its home is known only where no pose stands before it.
  const bool is_posed = std::any_of(feel.poses.begin(), feel.poses.end(), [&](const Pose& pose) {
    return std::any_of(pose.goals.begin(), pose.goals.end(),
                       [&](const PoseGoal& goal) { return goal.channel == one.component.channel; });
  });
  return !one.has_corners && !is_posed;
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

/// What is done to the state as each frame begins.
std::string cues_text(const Lowered& lowered, const SampledTake& take, const std::vector<const Played*>& given) {
  const Scene scene = take.scene();
  const Feel& feel = *scene.feel;
  std::string cues =
      "open act apply_cues(changing State s, whole frame) {\n" + tracks_text(lowered, take) + given_text(feel, given);
  CueText text(feel, lowered);
  for (const Cue& cue : scene.take->cues) {
    const std::int64_t frame = due_frame(scene.clock, cue.at);
    const std::string what = text.of(cue);
    if (what.empty() || frame >= scene.clock.frames) continue;
    const double at = scene.clock.drawn == nullptr ? cue.at : scene.clock.time(frame);
    cues += fmt::format("if (frame == {}) {{ s.input_time = {}; {} }}\n", frame, literal(at), what);
  }
  return cues + "}\n";
}

} // namespace

std::string fault_of_take(const Feel& feel, const Take& take) {
  const auto uses = [&](CueAction action) {
    return std::any_of(take.cues.begin(), take.cues.end(), [&](const Cue& cue) { return cue.action == action; });
  };
  if (uses(CueAction::lock)) return "it locks a control";
  if (uses(CueAction::follow)) return "it makes a value follow another track";
  if (take.tick.order == Tick::Order::on_tick && take.tick.rate > 0.0) return "its camera is stepped on a tick";
  for (const Cue& cue : take.cues)
    if (cue.action == CueAction::hit && (!cue.direction.empty() || (cue.place && feel.shakes[cue.shake].falloff)))
      return "a hit has a direction or a place";
  return {};
}

Check check_of(const Lowered& lowered, const Scene& played) {
  const SampledTake take = sampled_take(played, lowered.tracks);
  const Scene scene = take.scene();
  const Feel& feel = *scene.feel;
  PlayedSink sink(feel);
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  std::vector<const Played*> compared, given;
  for (const Played& one : sink.all) {
    if (is_given(lowered, one.component)) given.push_back(&one);
    if (is_comparable(lowered, feel, one)) compared.push_back(&one);
  }
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
  const std::string cues = cues_text(lowered, take, given);
  std::string arrays =
      array("CHECK_TIME", times) + array("CHECK_STEP", steps) + array("CHECK_SIZE", sizes) + array("CHECK_ROWS", rows);
  arrays += track_arrays(lowered, take);
  if (!given.empty())
    arrays += array("CHECK_GOAL", rows_of(
                                      given, check.rows, [](const Played& one) -> const auto& { return one.goals; }))
              + array("CHECK_GOAL_AFTER",
                      rows_of(
                          given, check.rows, [](const Played& one) -> const auto& { return one.runs_to; }));
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
