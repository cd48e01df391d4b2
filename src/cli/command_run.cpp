// `stasis run`: play a feel's takes; write trace, measures and figure; say what happened.
#include "cli/call.hpp"
#include "cli/load_feel.hpp"
#include "cli/run_takes.hpp"

namespace stasis::cli {
namespace {

constexpr const char* run_example = R"(Worked example:
  stasis run otter.toml --take approach --set motion.soft.frequency=2.5

plays the take `approach` with a quicker spring, prints a line for each move
(where from, where to, how long, how far beyond), and writes
  stasis-out/approach.trace.csv      one row a frame
  stasis-out/approach.measures.json  every number, with units and notes
  stasis-out/approach.png            value, goal and speed over time
A pipe:  stasis run - -o - < otter.toml | head -3)";

} // namespace

Exit run_run(const Arguments& arguments, Streams streams) {
  Call call("stasis run", "What a feel does in a take: trace CSV, measures, figure.", run_example);
  FeelCall feel;
  RunOptions options;
  declare_feel_call(call, feel);
  call.option("-o,--out", options.out,
              "Folder for the files; - for one trace on standard output, none for no file at all");
  call.choice("--figure", options.figure, {"svg", "png", "text", "none"}, "What is drawn; text: on the terminal");
  call.repeated("--only", options.only, "Tell and draw only this channel; the measures file has all");
  call.flag("--picture-scale", options.picture_scale, "Draw the field of view as picture scale and its rate as well");
  call.flag("--json", options.json, "Print the measures as JSON, one line a take");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  const auto loaded = load_feels(feel, streams.err);
  if (!loaded) return loaded.error();
  return run_takes(*loaded, options, streams);
}

} // namespace stasis::cli
