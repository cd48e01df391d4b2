// `stasis step`: a feel played over a pipe, line by line.
#include <string>
#include <unistd.h>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/load_feel.hpp"
#include "cli/step_input.hpp"
#include "core/feel/key_table.hpp"
#include "embed/describe.hpp"
#include "embed/played_feel.hpp"
#include "io/feel_files.hpp"
#include "io/files.hpp"
#include "io/json_writer.hpp"
#include "io/line_reader.hpp"

namespace stasis::cli {
namespace {

constexpr const char* step_example =
    R"text(Each line on standard input is one frame and gets one line in answer. It is for programs that
cannot link the library. The first line begins the first frame, at time 0.

Worked example:
  printf '%s\n' '{}' '{"dt": 0.0167, "inputs": [{"press": "listen"}]}' '{"dt": 0.0167}' |
    stasis step otter.toml

  {"frame": 1, "time": 0.0167, "channels": {"fov": {"goal": .., "smooth": .., "value": ..,
   "velocity": ..}, ..}, "eye": [x, y, z, qx, qy, qz, qw], ..}

Inputs are written as the cues of a take: press, release, cancel, lock, unlock, click with count,
pointer with counts, stick with value, hit with strength, start, skip, game_speed with over, goal, follow. Beside those
{"place": {"otter": [0, 0, 1]}} says where a subject is at that frame, and
{"set": {"motion.soft.frequency": 2}} changes a value of the feel while it runs (not in the file).
A line that cannot be read is answered by {"error": ".."}; no frame passes.)text";

struct StepOptions {
  std::string file, variant, take, fps;
  std::vector<std::string> set;
  bool allow_outside = false;
};

void write_channels(io::JsonWriter& json, const Feel& feel, const Session& session) {
  json.key("channels").begin_object();
  for (std::size_t c = 0; c < feel.channels.size(); ++c) {
    const std::size_t components = feel.channels[c].components;
    json.key(feel.channels[c].name).begin_object();
    const auto write = [&](std::string_view key, auto number_of) {
      json.key(key);
      if (components == 1) {
        json.number(number_of(ComponentRef{c, 0}));
        return;
      }
      json.begin_array();
      for (std::size_t i = 0; i < components; ++i) json.number(number_of(ComponentRef{c, i}));
      json.end_array();
    };
    write("goal", [&](ComponentRef at) { return session.goal(at); });
    write("smooth", [&](ComponentRef at) { return session.smooth(at); });
    write("value", [&](ComponentRef at) { return session.value(at); });
    write("velocity", [&](ComponentRef at) { return session.velocity(at); });
    json.end_object();
  }
  json.end_object();
}

std::string answer(embed::PlayedFeel& played) {
  const Feel& feel = played.feel();
  const Session& session = played.session();
  io::JsonWriter json;
  json.begin_object().key("frame").integer(session.frame()).key("time").number(session.time());
  if (session.game_time() != session.time()) json.key("game_time").number(session.game_time());
  write_channels(json, feel, session);
  json.key("eye");
  if (const auto eye = session.eye()) {
    json.begin_array();
    for (const double number : *eye) json.number(number);
    json.end_array();
  } else {
    json.null();
  }
  json.key("controls").begin_object();
  for (std::size_t c = 0; c < feel.controls.size(); ++c) {
    json.key(feel.controls[c].name).begin_object().key("down").flag(session.is_down(c));
    json.key("state").number(session.state(c)).end_object();
  }
  json.end_object().key("shakes").begin_object();
  for (std::size_t s = 0; s < feel.shakes.size(); ++s) json.key(feel.shakes[s].name).number(session.strength(s));
  json.end_object().key("notes").begin_array();
  for (const std::string& note : played.take_notes()) json.text(note);
  json.end_array().end_object();
  return json.take();
}

std::string refusal(const std::string& why) {
  io::JsonWriter json;
  json.begin_object().key("error").text(why).end_object();
  return json.take();
}

/// One frame, or why there is none.
std::string step(embed::PlayedFeel& played, std::string_view line, double usual_dt) {
  auto input = read_step_input(played.feel(), line);
  if (!input) return refusal(input.error());
  if (!input->values.empty()) {
    if (const auto changed = played.change_values(input->values); !changed)
      return refusal(embed::faults_in_words(changed.error()));
    input = read_step_input(played.feel(), line); // by the changed feel's places
    if (!input) return refusal(input.error());
  }
  if (!input->speeds.empty() && played.source().fps > 0.0)
    return refusal("frames of equal length cannot be slowed: leave --fps out, and give each frame its dt");
  for (const GameSpeed& one : input->speeds) played.change_game_speed(one.speed, one.over);
  for (Cue& cue : input->cues) played.give(std::move(cue));
  for (const auto& [track, place] : input->places) played.place(track, place);
  played.advance(input->dt.value_or(usual_dt));
  return answer(played);
}

} // namespace

Exit run_step(const Arguments& arguments, Streams streams) {
  StepOptions options;
  Call call("stasis step", "Play a feel over a pipe, frame by frame: a line of inputs in, a line of values out.",
            step_example);
  call.positional("feel", options.file, "The feel", true);
  call.option("--take", options.take, "The take whose tracks and obstacles are used; its cues do not act");
  call.option("--variant", options.variant, "This variant instead of the base feel");
  call.option("--fps", options.fps, "Frames of this rate, whatever the lines say");
  call.flag("--allow-outside", options.allow_outside, "Files that the feel names may lie outside its folder");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (options.file == "-") {
    print_error("the lines come on standard input, so the feel cannot; name its file.", streams.err);
    return Exit::bad_input;
  }
  double fps = 0.0;
  if (!options.fps.empty()) {
    const auto given = number_option("--fps", options.fps, 1.0, 100'000.0, false, streams.err);
    if (!given) return given.error();
    fps = *given;
  }
  auto text = io::read_file(options.file, most_document_bytes);
  if (!text) {
    print_error(text.error().message + ".", streams.err);
    return text.error().refused ? Exit::bad_input : Exit::bad_file;
  }
  embed::FeelText feel{options.file, std::move(*text), options.variant, options.take, fps};
  auto played = embed::PlayedFeel::open(std::move(feel), io::disk_folder({options.file, options.allow_outside}));
  if (!played) {
    print_problems(played.error().problems, played.error().sources, streams.err);
    return io::is_about_reading(played.error().problems) ? Exit::bad_file : Exit::bad_input;
  }
  const double usual_dt = 1.0 / (fps > 0.0 ? fps : (*played)->around().fps);
  io::LineReader lines(STDIN_FILENO);
  while (const auto line = lines.next()) {
    streams.out.exact_line(step(**played, *line, usual_dt));
    streams.out.flush(); // whoever asks waits for it
    if (streams.out.error() != 0) return Exit::bad_file;
    if (streams.out.is_closed()) return Exit::fine; // nobody asks any more
  }
  if (!lines.was_too_long()) return Exit::fine;
  print_error(fmt::format("a line is longer than {} bytes; a line is one frame.", io::LineReader::longest),
              streams.err);
  return Exit::bad_input;
}

} // namespace stasis::cli
