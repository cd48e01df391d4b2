#include "cli/step_input.hpp"

#include <algorithm>
#include <cmath>
#include <limits>

#include <fmt/format.h>
#include <nlohmann/json.hpp>

#include "core/text.hpp"

namespace stasis::cli {
namespace {

using Json = nlohmann::json;

/// Reads inputs until one is wrong.
class InputReader {
public:
  explicit InputReader(const Feel& feel) : feel_(feel) {}

  void line(const Json& line) {
    if (!line.is_object()) return fail("a line is an object, such as {\"dt\": 0.0167, \"inputs\": []}");
    for (const auto& [key, value] : line.items()) {
      if (key == "dt") {
        read.dt = number(value, "dt", 0.0, embed::PlayedFeel::longest_frame);
      } else if (key == "inputs") {
        if (!value.is_array()) return fail("\"inputs\" is a list");
        for (const Json& one : value) input(one);
      } else {
        return fail(fmt::format("\"{}\" is not known here; known: dt, inputs", printable(key, 40)));
      }
    }
  }

  StepInput read;
  std::string fault;

private:
  void fail(std::string what) {
    if (fault.empty()) fault = std::move(what);
  }

  double number(const Json& value, std::string_view what, double low, double high) {
    const double given = value.is_number() ? value.get<double>() : std::numeric_limits<double>::quiet_NaN();
    if (given >= low && given <= high) return given;
    fail(fmt::format("\"{}\" is a number from {} to {}", what, shortest(low), shortest(high)));
    return 0.0;
  }

  /// The place of a name among parts of the feel.
  template<class Part> std::size_t named(const Json& value, std::string_view what, const std::vector<Part>& parts) {
    const std::string name = value.is_string() ? value.get<std::string>() : std::string();
    for (std::size_t i = 0; i < parts.size(); ++i)
      if (parts[i].name == name) return i;
    std::vector<std::string_view> known;
    for (const Part& part : parts) known.push_back(part.name);
    fail(fmt::format("the feel has no {} \"{}\".{}{}", what, printable(name, 60), did_you_mean(name, known),
                     known.empty() ? "" : fmt::format(" Known: {}", listed(known))));
    return 0;
  }

  /// A control, or a button of one.
  void put_button(const Json& value, Cue& cue) {
    const std::string name = value.is_string() ? value.get<std::string>() : std::string();
    for (std::size_t c = 0; c < feel_.controls.size(); ++c) {
      const auto& buttons = feel_.controls[c].buttons;
      const auto button = std::find(buttons.begin(), buttons.end(), name);
      if (button == buttons.end()) continue;
      cue.control = c;
      cue.button = static_cast<std::size_t>(button - buttons.begin());
      return;
    }
    cue.control = named(value, "control", feel_.controls);
  }

  void put_control(const Json& value, Cue& cue, CueAction moved_by) {
    cue.control = named(value, "control", feel_.controls);
    if (!fault.empty()) return;
    const CueAction own = facts_of(feel_.controls[cue.control]).moved_by;
    if (own != moved_by)
      fail(fmt::format("{} is moved by \"{}\", not by \"{}\"", feel_.controls[cue.control].name, name_of(own),
                       name_of(moved_by)));
  }

  void input(const Json& one) {
    if (!one.is_object() || one.empty()) return fail("an input is an object, such as {\"press\": \"listen\"}");
    Cue cue;
    cue.at = std::numeric_limits<double>::infinity();
    const auto amount = [&](const char* key, double otherwise, double most) {
      return one.contains(key) ? number(one[key], key, -most, most) : otherwise;
    };
    for (const CueAction action :
         {CueAction::press, CueAction::release, CueAction::cancel, CueAction::lock, CueAction::unlock})
      if (one.contains(name_of(action))) {
        cue.action = action;
        put_button(one[name_of(action)], cue);
        return give(one, cue, {name_of(action)});
      }
    if (one.contains("click")) {
      cue.action = CueAction::click;
      put_control(one["click"], cue, CueAction::click);
      cue.amount = amount("count", 1.0, 10'000.0);
      if (cue.amount != std::round(cue.amount)) return fail("\"count\" is a whole number");
      return give(one, cue, {"click", "count"});
    }
    if (one.contains("pointer")) {
      cue.action = CueAction::pointer;
      put_control(one["pointer"], cue, CueAction::pointer);
      cue.amount = amount("counts", 0.0, 1e9);
      return give(one, cue, {"pointer", "counts"});
    }
    if (one.contains("stick")) {
      cue.action = CueAction::stick;
      put_control(one["stick"], cue, CueAction::stick);
      cue.amount = amount("value", 0.0, 1.0);
      return give(one, cue, {"stick", "value"});
    }
    if (one.contains("hit")) {
      cue.action = CueAction::hit;
      cue.shake = named(one["hit"], "shake", feel_.shakes);
      cue.amount = one.contains("strength") ? number(one["strength"], "strength", 0.0, 1e6) : 1.0;
      return give(one, cue, {"hit", "strength"});
    }
    for (const CueAction action : {CueAction::start, CueAction::skip})
      if (one.contains(name_of(action))) {
        cue.action = action;
        cue.sequence = named(one[name_of(action)], "sequence", feel_.sequences);
        return give(one, cue, {name_of(action)});
      }
    if (one.contains("game_speed")) return game_speed(one);
    if (one.contains("goal")) return goals(one["goal"]);
    if (one.contains("follow")) return tracks(one["follow"]);
    if (one.contains("place")) return places(one["place"]);
    if (one.contains("set")) return values(one["set"]);
    fail(fmt::format(
        "\"{}\" is not an input; known: press, release, cancel, lock, unlock, click, pointer, stick, hit, start, "
        "skip, game_speed, goal, follow, place, set",
        printable(one.begin().key(), 40)));
  }

  void give(const Json& one, Cue& cue, const std::vector<std::string_view>& known) {
    for (const auto& entry : one.items())
      if (std::find(known.begin(), known.end(), entry.key()) == known.end())
        return fail(fmt::format("\"{}\" does not go with \"{}\"", printable(entry.key(), 40), known.front()));
    read.cues.push_back(std::move(cue));
  }

  void game_speed(const Json& one) {
    const double speed = number(one["game_speed"], "game_speed", 0.0, 100.0);
    const double over = one.contains("over") ? number(one["over"], "over", 0.0, 86'400.0) : 0.0;
    for (const auto& entry : one.items())
      if (entry.key() != "game_speed" && entry.key() != "over")
        return fail(fmt::format("\"{}\" does not go with \"game_speed\"", printable(entry.key(), 40)));
    read.speeds.push_back({0.0, speed, over});
  }

  /// One number, or a list of as many as there are components.
  std::vector<double> components(const Json& value, std::string_view what, std::size_t count) {
    std::vector<double> numbers;
    if (value.is_array())
      for (const Json& one : value) numbers.push_back(number(one, what, -1e9, 1e9));
    else
      numbers.push_back(number(value, what, -1e9, 1e9));
    if (numbers.size() != count) fail(fmt::format("{} has {} components, not {}", what, count, numbers.size()));
    numbers.resize(count, 0.0);
    return numbers;
  }

  void goals(const Json& table) {
    if (!table.is_object()) return fail("\"goal\" is an object: {\"goal\": {\"fov\": 60}}");
    for (const auto& [name, value] : table.items()) {
      const std::size_t channel = named(name, "channel", feel_.channels);
      if (!fault.empty()) return;
      const auto numbers = components(value, name, feel_.channels[channel].components);
      Cue cue;
      cue.at = std::numeric_limits<double>::infinity();
      cue.action = CueAction::goal;
      for (std::size_t i = 0; i < numbers.size(); ++i) {
        const auto [low, high] = feel_.channels[channel].range[i];
        if (!(numbers[i] >= low && numbers[i] <= high))
          return fail(fmt::format("{} lies outside the range of {}, {} to {}", shortest(numbers[i]), name,
                                  shortest(low), shortest(high)));
        cue.goals.push_back({{channel, i}, numbers[i]});
      }
      read.cues.push_back(std::move(cue));
    }
  }

  void tracks(const Json& table) {
    if (!table.is_object()) return fail("\"follow\" is an object: {\"follow\": {\"focus\": \"otter\"}}");
    for (const auto& [name, value] : table.items()) {
      Cue cue;
      cue.at = std::numeric_limits<double>::infinity();
      cue.action = CueAction::follow;
      const std::size_t channel = named(name, "channel", feel_.channels), track = named(value, "track", feel_.tracks);
      if (!fault.empty()) return;
      if (!feel_.channels[channel].follow) return fail(fmt::format("{} follows nothing", name));
      cue.tracks.push_back({channel, track});
      read.cues.push_back(std::move(cue));
    }
  }

  void places(const Json& table) {
    if (!table.is_object()) return fail("\"place\" is an object: {\"place\": {\"otter\": [0, 0, 1]}}");
    for (const auto& [name, value] : table.items()) {
      const std::size_t track = named(name, "track", feel_.tracks);
      if (!fault.empty()) return;
      const auto numbers = components(value, name, feel_.tracks[track].components);
      Components place{};
      std::copy(numbers.begin(), numbers.end(), place.begin());
      read.places.emplace_back(track, place);
    }
  }

  void values(const Json& table) {
    if (!table.is_object()) return fail("\"set\" is an object: {\"set\": {\"motion.soft.frequency\": 2}}");
    for (const auto& [path, value] : table.items())
      read.values.push_back({path, value.is_string() ? value.get<std::string>() : value.dump()});
  }

  const Feel& feel_;
};

} // namespace

tl::expected<StepInput, std::string> read_step_input(const Feel& feel, std::string_view line) {
  if (trimmed(line).empty()) return StepInput{};
  const Json json = Json::parse(line, nullptr, false);
  if (json.is_discarded()) return tl::unexpected(std::string("the line is not JSON"));
  InputReader reader(feel);
  reader.line(json);
  if (!reader.fault.empty()) return tl::unexpected(std::move(reader.fault));
  return std::move(reader.read);
}

} // namespace stasis::cli
