// `stasis new`: a commented feel to start from.
#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/embedded.hpp"
#include "io/files.hpp"

namespace stasis::cli {

Exit run_new(const Arguments& arguments, Streams streams) {
  Call call("stasis new", "Start a commented feel: one channel, one spring, one button, one take.",
            "Worked example:\n  stasis new lamp.toml && stasis run lamp.toml\n\nThe feel says every line in words; "
            "edit a number "
            "and run it again.\nA file that exists is never replaced.");
  std::string file;
  call.positional("file", file, "Where to write it, or - for standard output", true);
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (file == "-") {
    streams.out.write(embedded_starter());
    return Exit::fine;
  }
  if (io::file_exists(file)) {
    print_error(fmt::format("{} exists already; choose another name.", file), streams.err);
    return Exit::bad_file;
  }
  if (auto done = io::write_file(file, embedded_starter(), false); !done) {
    print_error(done.error().message + ".", streams.err);
    return Exit::bad_file;
  }
  streams.out.line(fmt::format("wrote {}\nnext: stasis run {}", file, file));
  return Exit::fine;
}

} // namespace stasis::cli
