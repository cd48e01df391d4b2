// `stasis schema`: the JSON Schema of a feel, and the reference page, both from the key table.
#include <CLI/CLI.hpp>

#include "cli/command.hpp"
#include "io/schema.hpp"

namespace stasis {

Exit run_schema(const Arguments& arguments, Streams streams) {
  CLI::App app("The JSON Schema of a feel, from the same table that checks it.", "stasis schema");
  bool reference = false;
  app.add_flag("--reference", reference, "The reference page in Markdown instead");
  app.footer("Worked example:\n  stasis schema > feel.schema.json\n\nEditors that check TOML against a JSON Schema then know every key, its unit and its range.");
  if (const auto ended = parse_call(app, arguments, streams)) return *ended;
  streams.out.write(reference ? feel_reference() : feel_schema());
  return Exit::fine;
}

}  // namespace stasis
