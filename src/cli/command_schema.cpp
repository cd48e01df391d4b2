// `stasis schema`: the JSON Schema of a feel, and the reference page, both from the key table.
#include "cli/call.hpp"
#include "io/schema.hpp"

namespace stasis {

Exit run_schema(const Arguments& arguments, Streams streams) {
  Call call(
      "stasis schema", "The JSON Schema of a feel, from the same table that checks it.",
      "Worked example:\n  stasis schema > feel.schema.json\n\nEditors that check TOML against a JSON Schema then know "
      "every key, its unit and its range.");
  bool reference = false;
  call.flag("--reference", reference, "The reference page in Markdown instead");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  streams.out.write(reference ? feel_reference() : feel_schema());
  return Exit::fine;
}

} // namespace stasis
