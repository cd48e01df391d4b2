#include "embed/describe.hpp"

#include <algorithm>
#include <cmath>
#include <span>

#include <fmt/format.h>

#include "core/explain/explain.hpp"
#include "core/feel/feel_curves.hpp"
#include "core/feel/feel_numbers.hpp"
#include "core/feel/goal_source.hpp"
#include "core/feel/read_feel.hpp"
#include "core/search/feel_words.hpp"
#include "core/text.hpp"
#include "core/view/obstacle_faces.hpp"
#include "core/view/shown_camera.hpp"
#include "io/json_writer.hpp"
#include "io/problem_words.hpp"

namespace stasis::embed {
namespace {

/// How the subjects of a take advance, as more keys of its clock.
std::string tick_toml(const Tick& tick) {
  if (tick.rate <= 0.0) return "";
  // A camera that a take steps on the tick is stepped by hand on its own frames.
  return fmt::format(", tick = {}{}{}", shortest(tick.rate), tick.blends ? ", between = \"blend\"" : "",
                     tick.order == Tick::Order::camera_first ? ", order = \"camera_first\"" : "");
}

/// What stands in a take, and which tracks are played in it, where that is not all of them as they are.
std::string surroundings_toml(const Feel& feel, const Take& take) {
  std::string text, replaced;
  for (std::size_t t = 0; t < take.tracks.size(); ++t)
    if (take.tracks[t] != t)
      replaced += fmt::format("{}{} = \"{}\"", replaced.empty() ? "" : ", ", feel.tracks[t].name,
                              feel.tracks[take.tracks[t]].name);
  if (!replaced.empty()) text += fmt::format("tracks = {{ {} }}\n", replaced);
  if (!take.obstacles) return text;
  std::string standing;
  for (const std::size_t o : *take.obstacles)
    standing += fmt::format("{}\"{}\"", standing.empty() ? "" : ", ", feel.obstacles[o].name);
  return text + fmt::format("obstacles = [{}]\n", standing);
}

/// True if frames come so many a second, a whole number, except for a rounding.
bool is_steady(std::span<const double> times, double fps) {
  constexpr double rounding = 1e-9;
  for (std::size_t k = 0; k < times.size(); ++k)
    if (std::fabs(times[k] - static_cast<double>(k) / std::round(fps)) > rounding) return false;
  return true;
}

void write_numbers(io::JsonWriter& json, std::string_view key, std::span<const double> numbers) {
  json.key(key).begin_array();
  for (const double number : numbers) json.number(number);
  json.end_array();
}

void write_index(io::JsonWriter& json, std::string_view key, std::optional<std::size_t> index) {
  json.key(key);
  index ? json.integer(static_cast<long long>(*index)) : json.null();
}

void write_picture(io::JsonWriter& json, const Feel& feel) {
  const Picture& picture = feel.picture;
  json.key("picture").begin_object().key("width").integer(picture.width).key("height").integer(picture.height);
  write_index(json, "lens", picture.lens_channel);
  write_index(json, "view_height", picture.height_channel);
  write_index(json, "view_width", picture.width_channel);
  for (const PictureRole& role : picture_roles()) write_index(json, role.key, picture.*role.channel);
  json.end_object();
  json.key("scene_step").number(scene_step(feel));
}

void write_channels(io::JsonWriter& json, const Feel& feel) {
  json.key("channels").begin_array();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const Channel& channel = feel.channels[c];
    json.begin_object().key("name").text(channel.name).key("unit").text(channel.unit);
    json.key("space").text(name_of(channel.space.space)).key("led").flag(is_led(feel, c));
    json.key("components").integer(static_cast<long long>(channel.components));
    write_numbers(json, "rest", std::span(channel.rest).first(channel.components));
    Components low{}, high{};
    for (std::size_t i = 0; i < channel.components; ++i) {
      low[i] = channel.range[i].low;
      high[i] = channel.range[i].high;
    }
    write_numbers(json, "low", std::span(low).first(channel.components));
    write_numbers(json, "high", std::span(high).first(channel.components));
    json.key("motion").text(feel.motions[channel.motion[0].rising].name);
    write_index(json, "follows", channel.follow ? std::optional(channel.follow->track) : std::nullopt);
    json.end_object();
  }
  json.end_array();
}

void write_controls(io::JsonWriter& json, const Feel& feel) {
  json.key("controls").begin_array();
  for (const Control& control : feel.controls) {
    const ControlFacts facts = facts_of(control);
    json.begin_object().key("name").text(control.name).key("moved_by").text(name_of(facts.moved_by));
    json.key("holds").flag(facts.is_hold()).key("springs_back").flag(facts.held_by == HeldBy::state);
    json.key("buttons").begin_array();
    for (const std::string& button : control.buttons) json.text(button);
    json.end_array();
    const ComponentRef* target = target_of(control);
    json.key("moves");
    target != nullptr ? json.text(component_name(feel.channels[target->channel], target->component)) : json.null();
    json.end_object();
  }
  json.end_array();
}

void write_names(io::JsonWriter& json, std::string_view key, const auto& parts) {
  json.key(key).begin_array();
  for (const auto& part : parts) json.text(part.name);
  json.end_array();
}

void write_tracks(io::JsonWriter& json, const Feel& feel) {
  json.key("tracks").begin_array();
  for (const Track& track : feel.tracks) {
    json.begin_object().key("name").text(track.name).key("unit").text(track.unit);
    json.key("components").integer(static_cast<long long>(track.components)).key("radius").number(track.radius);
    json.key("in_world").flag(track.in == TrackPlace::world).end_object();
  }
  json.end_array();
}

void write_settings(io::JsonWriter& json, const Feel& feel) {
  json.key("settings").begin_array();
  for (const Setting& setting : feel.settings) {
    json.begin_object().key("name").text(setting.name).key("value").number(setting.value);
    json.key("low").number(setting.low).key("high").number(setting.high).key("unit").text(setting.unit).end_object();
  }
  json.end_array();
}

/// Obstacles as bodies in the camera's picture: corner after corner, or a middle and a radius.
void write_bodies(io::JsonWriter& json, const Feel& feel, const Take& take) {
  constexpr double steps_shown = 40.0; // of what has no end
  json.key("bodies").begin_array();
  for (const ObstacleFaces& one : obstacle_faces(feel, take, steps_shown * scene_step(feel))) {
    json.begin_object().key("name").text(one.name).key("faces").begin_array();
    for (const Face& face : one.faces) {
      json.begin_array();
      for (const Components& corner : face) {
        json.begin_array();
        for (const double number : corner) json.number(number);
        json.end_array();
      }
      json.end_array();
    }
    json.end_array();
    if (one.ball) {
      json.key("radius").number(one.ball->radius);
      write_numbers(json, "middle", one.ball->centre);
    }
    json.end_object();
  }
  json.end_array();
}

std::string sentences_of(const MotionAccount& motion) {
  std::string words =
      fmt::format("{}by {}, {}.", motion.when.empty() ? "" : motion.when + ": ", motion.name, motion.sentence);
  const StepAccount& step = motion.step;
  if (step.settling_time)
    words += fmt::format("\nA step is settled (2 %) after {} s; overshoot {} %.", readable(*step.settling_time),
                         readable(step.overshoot.value_or(0.0)));
  if (motion.lag) words += fmt::format("\nBehind a goal that moves steadily it is {} s late.", readable(*motion.lag));
  return words;
}

/// One cue as it stands in a take.
std::string cue_toml(const Feel& feel, const Cue& cue) {
  const auto place = [](double number) { return shortest(number); };
  const auto of_control = [&](std::string_view key) {
    const Control& control = feel.controls[cue.control];
    const std::string& name = cue.button < control.buttons.size() ? control.buttons[cue.button] : control.name;
    return fmt::format("{} = \"{}\"", key, name);
  };
  std::string words = fmt::format("{{ at = {}, ", place(cue.at));
  switch (cue.action) {
  case CueAction::press:
  case CueAction::release:
  case CueAction::cancel:
  case CueAction::lock:
  case CueAction::unlock: words += of_control(name_of(cue.action)); break;
  case CueAction::click: words += of_control("click") + fmt::format(", count = {}", place(cue.amount)); break;
  case CueAction::pointer: words += of_control("pointer") + fmt::format(", counts = {}", place(cue.amount)); break;
  case CueAction::stick: words += of_control("stick") + fmt::format(", value = {}", place(cue.amount)); break;
  case CueAction::hit:
    words += fmt::format("hit = \"{}\", strength = {}", feel.shakes[cue.shake].name, place(cue.amount));
    break;
  case CueAction::goal: {
    const CueGoal& goal = cue.goals.front();
    const Channel& channel = feel.channels[goal.target.channel];
    words += channel.components == 1
                 ? fmt::format("goal = {{ {} = {} }}", channel.name, place(goal.value))
                 : fmt::format("goal = {{ {} = {{ {} = {} }} }}", channel.name,
                               std::string_view("xyz").substr(goal.target.component, 1), place(goal.value));
    break;
  }
  case CueAction::follow:
    words += fmt::format("follow = {{ {} = \"{}\" }}", feel.channels[cue.tracks.front().channel].name,
                         feel.tracks[cue.tracks.front().track].name);
    break;
  case CueAction::start:
  case CueAction::skip:
    words += fmt::format("{} = \"{}\"", name_of(cue.action), feel.sequences[cue.sequence].name);
    break;
  }
  return words + " }";
}

/// The name, or the first of name_2, name_3, .. that no take of the feel has.
std::string free_take_name(const Feel& feel, const std::string& name) {
  const auto is_taken = [&](const std::string& wished) {
    return std::any_of(feel.takes.begin(), feel.takes.end(), [&](const Take& take) { return take.name == wished; });
  };
  std::string free = is_valid_name(name) ? name : "hands";
  for (int number = 2; is_taken(free); ++number)
    free = fmt::format("{}_{}", is_valid_name(name) ? name : "hands", number);
  return free;
}

} // namespace

std::string description_json(const PlayedFeel& played) {
  const Feel& feel = played.feel();
  io::JsonWriter json;
  json.begin_object().key("title").text(feel.title).key("name").text(played.source().name);
  json.key("variant").text(played.source().variant).key("take").text(played.around().name);
  write_picture(json, feel);
  write_channels(json, feel);
  write_controls(json, feel);
  write_names(json, "shakes", feel.shakes);
  write_names(json, "poses", feel.poses);
  write_names(json, "switches", feel.switches);
  write_names(json, "sequences", feel.sequences);
  write_names(json, "takes", feel.takes);
  json.key("variants").begin_array();
  for (const std::string& name : played.variants()) json.text(name);
  json.end_array();
  write_tracks(json, feel);
  write_settings(json, feel);
  write_bodies(json, feel, played.around());
  json.end_object();
  return json.take();
}

std::string numbers_json(const PlayedFeel& played) {
  io::JsonWriter json;
  json.begin_array();
  const auto document = played.document();
  for (const FeelNumber& number : document ? feel_numbers(*document) : std::vector<FeelNumber>()) {
    json.begin_object().key("path").text(number.path).key("value").number(number.value);
    json.key("unit").text(number.unit).key("has_unit").flag(number.has_unit);
    json.key("low").number(number.bounds.low).key("low_excluded").flag(number.bounds.low_excluded);
    json.key("high").number(number.bounds.high).key("high_excluded").flag(number.bounds.high_excluded);
    json.key("by").text(number.by_factor ? "factor" : "amount").key("from").number(number.from);
    json.key("to").number(number.to).key("meaning").text(number.meaning).end_object();
  }
  json.end_array();
  return json.take();
}

std::string curves_json(const PlayedFeel& played) {
  constexpr int looks = 64; // enough for a small picture
  io::JsonWriter json;
  json.begin_array();
  const auto document = played.document();
  for (const FeelCurve& one : document ? feel_curves(*document, played.feel()) : std::vector<FeelCurve>()) {
    json.begin_object().key("path").text(one.path).key("text").text(one.text);
    json.key("handles").text(name_of(one.handles)).key("is_exact").flag(one.is_exact).key("handle").begin_array();
    for (const auto& handle : one.handle) {
      json.begin_array();
      for (const double number : handle) json.number(number);
      json.end_array();
    }
    json.end_array();
    std::vector<double> shown;
    for (int i = 0; i <= looks; ++i) shown.push_back(evaluate(one.curve, static_cast<double>(i) / looks).value);
    write_numbers(json, "shown", shown);
    json.end_object();
  }
  json.end_array();
  return json.take();
}

std::string words_json() {
  io::JsonWriter json;
  json.begin_array();
  for (const FeelWord& word : feel_words()) {
    json.begin_object().key("word").text(word.word);
    json.key("of").text(word.of == FeelWord::Of::shake ? "shake" : "channel").key("effect").text(word.effect);
    json.end_object();
  }
  json.end_array();
  return json.take();
}

std::string channel_in_words(const Feel& feel, std::size_t channel) {
  const ChannelAccount account = account_of(feel, channel);
  std::string words = account.channel + ": " + account.heading;
  const auto add = [&](const std::string& text) {
    if (!text.empty()) words += "\n" + text;
  };
  for (const MotionAccount& motion : account.motions) add(sentences_of(motion));
  for (const PoseAccount& pose : account.poses) add(pose.sentence);
  for (const auto* text : {&account.follow, &account.profile, &account.realign, &account.room, &account.snap,
                           &account.time, &account.at_range})
    add(*text);
  return words;
}

std::string faults_in_words(const Faults& faults) {
  std::string words;
  for (const Problem& problem : faults.problems) {
    if (!words.empty()) words += "\n";
    words += io::problem_in_words(problem, faults.sources);
  }
  return words;
}

std::string take_toml(const PlayedFeel& played, const std::string& name, const std::string& clock) {
  Take take = played.recorded_take();
  const auto frames = static_cast<double>(played.times().size());
  const double usual = take.length > 0.0 ? (frames - 1.0) / take.length : 60.0;
  // On another clock than its own it does not come to the digit, and is easier to read without them.
  if (clock.empty() && played.source().fps <= 0.0 && !is_steady(played.times(), usual)) {
    constexpr double a_second = 1e4;
    const auto round_down = [&](double& at) { at = std::floor(at * a_second) / a_second; };
    for (GameSpeed& one : take.disturbance.speeds) round_down(one.at);
    for (Cue& cue : take.cues) round_down(cue.at);
    take.length = std::ceil(take.length * a_second) / a_second;
  }
  std::string text =
      fmt::format("[take.{}]\nlength = {}\n", free_take_name(played.feel(), name), shortest(take.length));
  const double fps = played.source().fps > 0.0 ? played.source().fps : std::max(1.0, std::round(usual));
  text += fmt::format("clock = {{ {}{} }}\n",
                      clock.empty() ? "fps = " + shortest(fps) : fmt::format("recorded = \"{}\"", clock),
                      tick_toml(take.tick));
  text += surroundings_toml(played.feel(), take);
  text += "cues = [\n";
  for (const GameSpeed& one : take.disturbance.speeds)
    text += fmt::format("  {{ at = {}, game_speed = {}, over = {} }},\n", shortest(one.at), shortest(one.speed),
                        shortest(one.over));
  for (const Cue& cue : take.cues) text += "  " + cue_toml(played.feel(), cue) + ",\n";
  return text + "]\n";
}

std::string clock_csv(const PlayedFeel& played) {
  std::string text = "time\n";
  for (const double time : played.times()) text += shortest(time) + "\n";
  return text;
}

std::string track_csv(const PlayedFeel& played, std::size_t track) {
  const LedWay& way = played.led_ways()[track];
  if (way.time.empty()) return {};
  const std::size_t components = played.feel().tracks[track].components;
  std::string text = "time";
  for (std::size_t i = 0; i < components; ++i) text += std::string(",") + "xyz"[i];
  text += "\n";
  for (std::size_t row = 0; row < way.time.size(); ++row) {
    text += shortest(way.time[row]);
    for (std::size_t i = 0; i < components; ++i) text += "," + shortest(way.place[i][row]);
    text += "\n";
  }
  return text;
}

} // namespace stasis::embed
