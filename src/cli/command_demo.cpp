// `stasis demo`: unpack the demo feel and run the whole tour.
#include <algorithm>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/embedded.hpp"
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
  auto done = io::write_file(path, text, false);
  if (done) out.wrote(path);
  return done;
}

/// One station of the tour: the command as it would be typed, then what it says. Later stations are still visited when
/// one fails; the worst status is the tour's.
class Tour {
public:
  explicit Tour(Streams streams) : streams_(streams) {}

  void visit(const char* question, const std::string& name, Arguments arguments) {
    std::string line = "stasis " + name;
    for (const std::string& word : arguments)
      line += word.find(' ') == std::string::npos ? " " + word : " \"" + word + "\"";
    streams_.out.line(fmt::format("\n# {}\n$ {}", question, line));
    worst_ = std::max(worst_, find_command(name)->run(arguments, streams_));
  }
  Exit worst() const noexcept { return worst_; }

private:
  Streams streams_;
  Exit worst_ = Exit::fine;
};

Exit tour(const std::string& folder, const std::string& figure, Streams streams) {
  const std::string first = folder + "/first.toml", feel = folder + "/otter.toml", swim = folder + "/swim.toml",
                    frames = folder + "/frames.toml", orbit = folder + "/orbit.toml", bridge = folder + "/bridge.toml",
                    weir = folder + "/weir.toml", capture = folder + "/capture.csv", out = folder + "/stasis-out";
  Tour tour(streams);
  tour.visit("A first look: what does a feel do?", "run", {first, "-o", out, "--figure", figure});
  tour.visit("And one with everything in it?", "run", {feel, "-o", out, "--figure", figure});
  tour.visit("Why does the field of view move as it does?", "explain", {feel, "--only", "fov"});
  tour.visit("What would a heavier one be like?", "compare",
             {feel, "--variant", "heavy", "--only", "fov", "-o", out, "--figure", figure});
  tour.visit("Does it hold what is wanted of it?", "check", {feel});
  tour.visit("What does a word mean in numbers?", "tune", {feel, "fov", "snappier", "-o", out, "--figure", "none"});
  tour.visit("Which numbers would hold more than that?", "solve",
             {first, "--free", "channel.fov.motion.frequency=0.5:6", "--free",
              "channel.fov.motion.damping_ratio=0.3:1.5", "--want", "fov.settling_time at_most 0.4", "--want",
              "fov.overshoot at_most 2", "-o", out, "--figure", figure});
  tour.visit("And what would others do?", "sweep",
             {first, "--over", "channel.fov.motion.frequency=1:4:41", "--over",
              "channel.fov.motion.damping_ratio=0.3:1.3:41", "--measure", "fov.settling_time", "--measure",
              "fov.overshoot", "-o", out, "--figure", figure});
  tour.visit("What does being quick cost?", "tradeoff",
             {first, "--free", "channel.fov.motion.frequency=0.8:6", "--free",
              "channel.fov.motion.damping_ratio=0.3:1.5", "--between", "fov.settling_time", "fov.peak_acceleration",
              "-o", out, "--figure", figure});
  tour.visit("Can it be broken?", "stress", {feel, "--plays", "500", "-o", out, "--figure", "none"});
  tour.visit("What does it look like?", "report",
             {feel, "-o", out + "/report.html", "--figure", figure == "none" ? "none" : "svg"});
  tour.visit("How far does it lag behind what it follows?", "run",
             {swim, "--take", "swim", "-o", out, "--figure", figure});
  tour.visit("Which kind of look-ahead keeps calm?", "compare",
             {swim, "--take", "drill", "--variant", "base", "--variant", "raw", "--variant", "throttle", "--only",
              "focus", "-o", out, "--figure", figure});
  tour.visit("How does it go round what it looks at?", "run", {orbit, "-o", out, "--figure", figure});
  tour.visit("Does it go through walls?", "run", {bridge, "--take", "aside", "-o", out, "--figure", figure});
  tour.visit("How is a view led through places?", "run", {weir, "--take", "whole", "-o", out, "--figure", figure});
  tour.visit("Is it the same at every frame rate, and what would be?", "rates",
             {frames, "-o", out, "--figure", figure});
  tour.visit("How is a value kept?", "set", {feel, "motion.soft.frequency=1.8", "--dry-run"});
  tour.visit("What does a recording do?", "measure", {capture, "--unit", "deg", "-o", out, "--figure", figure});
  tour.visit("Which rule made what was recorded?", "match", {capture, "--unit", "deg", "-o", out, "--figure", figure});
  tour.visit("Through which stops was a view led?", "match",
             {out + "/whole.trace.csv", "--value", "focus,distance,yaw,tilt", "--stops", "--between", "0.52:7.8", "-o",
              out, "--figure", figure});
  tour.visit("How does it feel in the hand?", "hands", {feel, "-o", out + "/hands.html"});
  tour.visit("How is it carried on?", "export", {feel, "css", "-o", out});
  if (figure != "none")
    tour.visit("And as a picture that moves?", "export", {weir, "frames", "--take", "skipped", "-o", out});
  tour.visit("And as source code for a program of one's own?", "export", {feel, "code", "--language", "c", "-o", out});
  tour.visit("What curves are there to move along?", "curve",
             {"--feel", feel, "lean", "in-out sine", "out power 3", "out back", "out elastic", "out bounce", "-o", out,
              "--figure", figure});
  tour.visit("What is a tenth of the gap on each frame, in other words?", "convert",
             {"fraction", "0.1", "--at-fps", "60"});
  return tour.worst();
}

} // namespace

Exit run_demo(const Arguments& arguments, Streams streams) {
  Call call("stasis demo", "Unpack the demo feel, an otter at a weir, and run every command on it.",
            "Worked example:\n  stasis demo tour\n\nwrites tour/first.toml, tour/otter.toml, tour/swim.toml, "
            "tour/orbit.toml, "
            "tour/bridge.toml, tour/weir.toml, tour/frames.toml and tour/capture.csv, "
            "commented line by "
            "line, and what comes of them into tour/stasis-out.\nEdit a feel and run `stasis run tour/otter.toml` to "
            "see what changes.");
  std::string folder = "stasis-demo", figure = "png";
  call.positional("folder", folder, "Where to unpack it", false);
  call.choice("--figure", figure, {"svg", "png", "none"}, "What is drawn");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (auto made = io::make_folder(folder); !made) {
    print_error(made.error().message + ".", streams.err);
    return Exit::bad_file;
  }
  streams.out.line("The demo feels: a first look at an otter at a weir, all of it, its swim, a view round it, walls "
                   "and obstacles in its way, a view led over the weir, and the camera that an older program had.");
  for (const EmbeddedFile& file : embedded_demo())
    if (auto done = unpack(folder + "/" + std::string(file.name), file.text, streams.out); !done) {
      print_error(done.error().message + ".", streams.err);
      return Exit::bad_file;
    }
  return tour(folder, figure, streams);
}

} // namespace stasis::cli
