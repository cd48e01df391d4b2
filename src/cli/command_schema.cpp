// `stasis schema`: the JSON Schema of a feel, and the reference page, both from the key table.
#include "cli/call.hpp"
#include "core/measure/measure_registry.hpp"
#include "io/schema.hpp"

namespace stasis::cli {

Exit run_schema(const Arguments& arguments, Streams streams) {
  Call call(
      "stasis schema", "The JSON Schema of a feel, from the same table that checks it.",
      "Worked example:\n  stasis schema > feel.schema.json\n\nEditors that check TOML against a JSON Schema then know "
      "every key, its unit and its range.");
  bool reference = false;
  call.flag("--reference", reference, "The reference page in Markdown instead");
  bool measures = false;
  call.flag("--measures", measures, "The table of all measures in Markdown instead: unit, which is better, meaning");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (reference && measures) {
    print_error("--reference and --measures are two pages; ask for one of them.", streams.err);
    return Exit::bad_input;
  }
  streams.out.write(reference ? io::feel_reference() : measures ? measure_table() : io::feel_schema());
  return Exit::fine;
}

} // namespace stasis::cli
