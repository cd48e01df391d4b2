// `stasis demo`: unpack the demo feel and run the whole tour.
#include <algorithm>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/draw.hpp"
#include "cli/embedded.hpp"
#include "cli/rewrite_feel.hpp"
#include "io/files.hpp"

namespace stasis::cli {
namespace {

/// Writes a demo file unless the same text is there already; an edited one is left as it is, and said so.
io::FileResult<void> unpack(const std::string& path, std::string_view text, Output& out) {
  constexpr std::size_t largest = std::size_t{1} << 26;
  if (io::file_exists(path)) {
    const auto present = io::read_file(path, largest);
    if (!present) return tl::unexpected(present.error());
    if (*present != text) out.line(fmt::format("  kept  {} (you have edited it)", path));
    return {};
  }
  return io::write_file(path, text, false);
}

/// What a station's command makes, and so which options it is given beside its own.
enum class Makes { text, files, figures };

/// One station of the tour: a question, the command that answers it, and which lines of the answer are told at once:
/// the first ones that begin with these texts.
struct Station {
  std::string_view question, command;
  Arguments arguments;
  std::vector<std::string_view> answers;
  Makes makes = Makes::figures;
};

struct Chapter {
  std::string_view title;
  std::vector<Station> stations;
};

/// What every station adds to its command.
struct Place {
  std::string out, figure;
};

/// The line of the text, without its margin, that begins with this; empty if none does.
std::string_view line_beginning(std::string_view text, std::string_view beginning) {
  while (!text.empty()) {
    std::string_view line = text.substr(0, text.find('\n'));
    text.remove_prefix(std::min(line.size() + 1, text.size()));
    line.remove_prefix(std::min(line.find_first_not_of(' '), line.size()));
    if (line.starts_with(beginning)) return line;
  }
  return {};
}

/// A line of a table by itself: its columns are two blanks apart.
std::string closed_up(std::string_view line) {
  std::string closed;
  for (const char c : line)
    if (c != ' ' || !closed.ends_with("  ")) closed += c;
  return closed;
}

/// The tour in the order of the work. Later stations are still visited when one fails; the worst status is the tour's.
class Tour {
public:
  Tour(Place place, Streams streams) : place_(std::move(place)), streams_(streams) {}

  void visit(const Chapter& chapter) {
    streams_.out.line(fmt::format("\n# {}", chapter.title));
    for (const Station& station : chapter.stations) visit(station);
  }
  Exit worst() const noexcept { return worst_; }
  /// Every command with its whole answer.
  const std::string& story() const noexcept { return story_; }

private:
  void visit(const Station& station) {
    streams_.out.line(std::string(station.question));
    streams_.out.exact_line("  $ " + typed("stasis " + std::string(station.command), station.arguments));
    Arguments all = station.arguments;
    if (station.makes != Makes::text) all.insert(all.end(), {"-o", place_.out});
    if (station.makes == Makes::figures) all.insert(all.end(), {"--figure", place_.figure});
    std::string answer;
    {
      Output kept(answer, streams_.out);
      worst_ = std::max(worst_, find_command(station.command)->run(all, {kept, streams_.err}));
    }
    for (const std::string_view beginning : station.answers)
      if (const std::string_view line = line_beginning(answer, beginning); !line.empty())
        streams_.out.line("    " + (station.answers.size() == 1 ? closed_up(line) : std::string(line)));
    story_ +=
        fmt::format("# {}\n$ {}\n{}\n", station.question, typed("stasis " + std::string(station.command), all), answer);
  }

  Place place_;
  Streams streams_;
  std::string story_;
  Exit worst_ = Exit::fine;
};

/// The demo's files, as the tour's commands name them.
struct Files {
  std::string first, otter, swim, frames, orbit, bridge, weir, capture;
};

Files files_in(const std::string& folder) {
  return {folder + "/first.toml", folder + "/otter.toml",  folder + "/swim.toml", folder + "/frames.toml",
          folder + "/orbit.toml", folder + "/bridge.toml", folder + "/weir.toml", folder + "/capture.csv"};
}

Chapter looking(const Files& at) {
  return {
      "Look",
      {{"What does a feel do?", "run", {at.first}, {"channel", "fov      0.5"}},
       {"And one with everything in it?", "run", {at.otter}, {"the camera as a whole turns", "shake log_hit: 3 hits"}},
       {"Why does the field of view move as it does?",
        "explain",
        {at.otter, "--only", "fov"},
        {"pose listen:"},
        Makes::text},
       {"How far does it lag behind what it follows?", "run", {at.swim, "--take", "swim"}, {"focus follows otter"}},
       {"How does it go round what it looks at?", "run", {at.orbit}, {"eye goes"}},
       {"Does it go through walls?", "run", {at.bridge, "--take", "aside"}, {"radius is held in"}},
       {"How is a view led through places?", "run", {at.weir, "--take", "whole"}, {"leg ", "1 to 2", "2 to 3"}},
       {"What curves are there to move along?",
        "curve",
        {"--feel", at.otter, "lean", "in-out sine", "out power 3", "out back", "out elastic", "out bounce"},
        {"Starts with a kick, 4.70"}}}};
}

Chapter trying(const Files& at, const Place& place) {
  return {"Compare, and try to break it",
          {{"What would a heavier one be like?",
            "compare",
            {at.otter, "--variant", "heavy", "--only", "fov"},
            {"channel", "fov      settling_time", "fov      peak_speed"}},
           {"Which kind of look-ahead keeps calm?",
            "compare",
            {at.swim, "--take", "drill", "--variant", "base", "--variant", "raw", "--variant", "throttle", "--only",
             "focus"},
            {"raw against base"}},
           {"Does it hold what is wanted of it?", "check", {at.otter}, {"9 of 9"}, Makes::text},
           {"Can it be broken?",
            "stress",
            {at.otter, "--plays", "500", "-o", place.out, "--figure", "none"},
            {"\u25cf"},
            Makes::text},
           {"Is it the same at every frame rate, and what would be?",
            "rates",
            {at.frames},
            {"channel", "fov", "Worst by its own rule"}},
           {"What does it look like on one page?",
            "report",
            {at.otter, "-o", place.out + "/report.html", "--figure", place.figure == "none" ? "none" : "svg"},
            {"approach, base", "wrote"},
            Makes::text}}};
}

Chapter searching(const Files& at) {
  const std::string frequency = "channel.fov.motion.frequency", ratio = "channel.fov.motion.damping_ratio";
  return {"Ask for what is wanted, and keep it",
          {{"What does a word mean in numbers?",
            "tune",
            {at.otter, "fov", "snappier"},
            {"motion.soft.frequency", "soft  settled after"},
            Makes::figures},
           {"Which numbers would hold more than that?",
            "solve",
            {at.first, "--free", frequency + "=0.5:6", "--free", ratio + "=0.3:1.5", "--want",
             "fov.settling_time at_most 0.4", "--want", "fov.overshoot at_most 2"},
            {"value", "channel.fov.motion.damping_ratio"}},
           {"And what would others do?",
            "sweep",
            {at.first, "--over", frequency + "=1:4:41", "--over", ratio + "=0.3:1.3:41", "--measure",
             "fov.settling_time", "--measure", "fov.overshoot"},
            {"best of those", "fov.settling_time at most"}},
           {"What does being quick cost?",
            "tradeoff",
            {at.first, "--free", frequency + "=0.8:6", "--free", ratio + "=0.3:1.5", "--between", "fov.settling_time",
             "fov.peak_acceleration"},
            {"now:"}},
           {"How is a value kept?",
            "set",
            {at.otter, "motion.soft.frequency=1.8", "--dry-run"},
            {"- frequency", "+ frequency"},
            Makes::text}}};
}

Chapter learning(const Files& at, const Place& place) {
  return {"Learn from what exists",
          {{"What does a recording do?", "measure", {at.capture, "--unit", "deg"}, {"overshoot", "settling_time"}},
           {"Which rule made what was recorded?", "match", {at.capture, "--unit", "deg"}, {"1  spring", "motion ="}},
           {"Which shake was it?",
            "match",
            {place.out + "/log.trace.csv", "--value", "fov", "--shake", "--between", "1.79:3", "--unit", "deg"},
            {"1  noise", "decay ="}},
           {"Through which stops was a view led?",
            "match",
            {place.out + "/whole.trace.csv", "--value", "distance,yaw,tilt", "--stops", "--between", "0.52:7.8"},
            {"[sequence.caught]", "{ after = 2.5"}},
           {"What is a tenth of the gap on each frame, in other words?",
            "convert",
            {"fraction", "0.1", "--at-fps", "60"},
            {"half_life"},
            Makes::text}}};
}

Chapter carrying(const Files& at, const Place& place) {
  Chapter chapter{
      "Play it by hand, and carry it on",
      {{"How does it feel in the hand?", "hands", {at.otter, "-o", place.out + "/hands.html"}, {"wrote"}, Makes::text},
       {"As a transition for a style sheet?", "export", {at.otter, "css"}, {"wrote"}, Makes::files},
       {"As source code for a program of one's own?",
        "export",
        {at.otter, "code", "--language", "c"},
        {"wrote"},
        Makes::files}}};
  if (place.figure != "none")
    chapter.stations.push_back({"And as a picture that moves?",
                                "export",
                                {at.weir, "frames", "--take", "skipped"},
                                {"skipped:"},
                                Makes::files});
  return chapter;
}

} // namespace

Exit run_demo(const Arguments& arguments, Streams streams) {
  Call call(
      "stasis demo", "Unpack the demo feels, an otter at a weir, and run every command on them.",
      "Worked example:\n  stasis demo tour\n\nwrites tour/first.toml, tour/otter.toml, tour/swim.toml, "
      "tour/orbit.toml, "
      "tour/bridge.toml, tour/weir.toml, tour/frames.toml and tour/capture.csv, commented line by line, and "
      "what comes of them into tour/stasis-out. Of every answer the most telling lines are shown; tour/stasis-out/"
      "tour.txt holds all of them.\nEdit a feel and run `stasis run tour/otter.toml` to see what changes.");
  std::string folder = "stasis-demo", figure = "png";
  call.positional("folder", folder, "Where to unpack it", false);
  call.choice("--figure", figure, {"svg", "png", "none"}, "What is drawn");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (auto made = io::make_folder(folder); !made) return failed(made.error(), streams.err);
  const Place place{folder + "/stasis-out", figure};
  if (auto made = io::make_folder(place.out); !made) return failed(made.error(), streams.err);
  for (const EmbeddedFile& file : embedded_demo())
    if (auto done = unpack(folder + "/" + std::string(file.name), file.text, streams.out); !done)
      return failed(done.error(), streams.err);
  streams.out.line(fmt::format("{} demo files are in {}: a camera behind an otter at a weir. A tour of every command:",
                               embedded_demo().size(), folder));

  const Files files = files_in(folder);
  Tour tour(place, streams);
  for (const Chapter& chapter :
       {looking(files), trying(files, place), searching(files), learning(files, place), carrying(files, place)})
    tour.visit(chapter);
  const std::string story = place.out + "/tour.txt";
  if (auto kept = io::write_file(story, tour.story(), true); !kept) return failed(kept.error(), streams.err);
  streams.out.line(fmt::format("\nFigures, tables, code and pages are in {}; every answer in full:", place.out));
  streams.out.wrote(story);
  return tour.worst();
}

} // namespace stasis::cli
