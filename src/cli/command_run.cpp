// `stasis run`: play a feel's takes; write trace, measures and figure; say what happened.
#include <chrono>

#include <CLI/CLI.hpp>
#include <fmt/format.h>

#include "cli/command.hpp"
#include "cli/load_feel.hpp"
#include "cli/run_takes.hpp"

namespace stasis {
namespace {

constexpr const char* example = R"(Worked example:
  stasis run otter.toml --take approach --set motion.soft.frequency=2.5

plays the take `approach` with a quicker spring, prints a line for each move
(where from, where to, how long, how far beyond), and writes
  stasis-out/approach.trace.csv      one row a frame
  stasis-out/approach.measures.json  every number, with units and notes
  stasis-out/approach.png            value, goal and speed over time
A pipe:  stasis run - -o - < otter.toml | head -3)";

}  // namespace

Exit run_run(const Arguments& arguments, Streams streams) {
  CLI::App app("What a feel does in a take: trace CSV, measures, figure.", "stasis run");
  FeelCall call;
  RunOptions options;
  app.add_option("feel", call.file, "The feel, or - for standard input")->required();
  app.add_option("--set", call.set, "Override a value for this call: path=value (may be repeated)")->type_size(1)->allow_extra_args(false);
  app.add_option("--take", call.takes, "Only this take (may be repeated)")->allow_extra_args(false);
  app.add_option("--fps", call.fps, "Frames a second, instead of each take's own");
  app.add_option("-o,--out", options.out, "Folder for the files, or - for one trace on standard output")->capture_default_str();
  app.add_option("--figure", options.figure, "svg, png or none")->check(CLI::IsMember({"svg", "png", "none"}))->capture_default_str();
  app.add_option("--only", options.only, "Draw only this channel (may be repeated)")->allow_extra_args(false);
  app.add_flag("--json", options.json, "Print the measures as JSON, one line a take");
  app.add_flag("--force", options.force, "Replace files that Stasis did not write");
  app.footer(example);
  if (const auto ended = parse_call(app, arguments, streams)) return *ended;
  const auto loaded = load_feel(call, streams.err);
  if (!loaded) return loaded.error();
  return run_takes(*loaded, options, streams);
}

}  // namespace stasis
