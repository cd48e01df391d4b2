// `stasis demo`: unpack the demo feel and run the whole tour.
#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/embedded.hpp"
#include "cli/run_takes.hpp"
#include "io/files.hpp"

namespace stasis {
namespace {

/// Writes a demo file unless the same text is there already; an edited one is left as it is, and said so.
FileResult<void> unpack(const std::string& path, std::string_view text, Output& out) {
  constexpr std::size_t largest = std::size_t{1} << 26;
  if (file_exists(path)) {
    const auto present = read_file(path, largest);
    if (!present) return tl::unexpected(present.error());
    if (*present != text) out.line(fmt::format("  kept  {} (you have edited it)", path));
    return {};
  }
  auto done = write_file(path, text, false);
  if (done) out.line("  wrote " + path);
  return done;
}

} // namespace

Exit run_demo(const Arguments& arguments, Streams streams) {
  Call call("stasis demo", "Unpack the demo feel, an otter at a weir, and run every command on it.",
            "Worked example:\n  stasis demo tour\n\nwrites tour/otter.toml, commented line by line, and what comes of "
            "it into "
            "tour/stasis-out.\nEdit the feel and run `stasis run tour/otter.toml` to see what changes.");
  std::string folder = "stasis-demo", figure = "png";
  call.positional("folder", folder, "Where to unpack it", false);
  call.choice("--figure", figure, {"svg", "png", "none"}, "What is drawn");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (auto made = make_folder(folder); !made) {
    print_error(made.error().message + ".", streams.err);
    return Exit::bad_file;
  }
  streams.out.line("The demo feel: an otter at a weir.");
  for (const EmbeddedFile& file : embedded_demo())
    if (auto done = unpack(folder + "/" + std::string(file.name), file.text, streams.out); !done) {
      print_error(done.error().message + ".", streams.err);
      return Exit::bad_file;
    }
  const std::string feel = fmt::format("{}/{}", folder, embedded_demo().front().name);
  RunOptions options;
  options.out = folder + "/stasis-out";
  options.figure = figure;
  streams.out.line(fmt::format("\n$ stasis run {} -o {}", feel, options.out));
  FeelCall feel_call;
  feel_call.file = feel;
  const auto loaded = load_feels(feel_call, streams.err);
  if (!loaded) return loaded.error();
  return run_takes(*loaded, options, streams);
}

} // namespace stasis
