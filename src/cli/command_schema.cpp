// `stasis schema`: the JSON Schema of a feel, and the reference page, both from the key table.
#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/help_text.hpp"
#include "cli/output_schema.hpp"
#include "core/explain/glossary.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/text.hpp"
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
  std::string output;
  call.flag("--measures", measures, "The table of all measures in Markdown instead: unit, which is better, meaning");
  call.option("--output", output,
              fmt::format("The JSON Schema of what a command prints with --json instead: {}",
                          listed(outputs_with_schema(), "or")));
  bool words = false;
  call.flag("--glossary", words, "The glossary in Markdown instead");
  std::string manual;
  call.option("--manual", manual, "The manual page of a command instead, or of stasis itself");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (static_cast<int>(words) + static_cast<int>(reference) + static_cast<int>(measures)
          + static_cast<int>(!output.empty()) + static_cast<int>(!manual.empty())
      > 1) {
    print_error(
        "--reference, --measures, --glossary, --output and --manual are pages of their own; ask for one of them.",
        streams.err);
    return Exit::bad_input;
  }
  if (!manual.empty()) {
    const Command* const command = find_command(manual);
    if (command == nullptr && manual != "stasis") {
      std::vector<std::string_view> names{"stasis"};
      for (const Command& one : all_commands()) names.push_back(one.name);
      print_error(
          fmt::format("--manual: there is no command \"{}\".{}", printable(manual, 40), did_you_mean(manual, names)),
          streams.err);
      return Exit::bad_input;
    }
    streams.out.exactly(manual_page(command, streams.out));
    return Exit::fine;
  }
  if (!output.empty()) {
    const auto schema = output_schema(output);
    if (schema) {
      streams.out.exactly(*schema);
      return Exit::fine;
    }
    const auto known = outputs_with_schema();
    print_error(fmt::format("--output: \"{}\" has no schema. {}", printable(output, 40), known_names(output, known)),
                streams.err);
    return Exit::bad_input;
  }
  if (words) {
    streams.out.exactly(glossary_page());
    return Exit::fine;
  }
  streams.out.exactly(reference ? io::feel_reference() : measures ? measure_table() : io::feel_schema());
  return Exit::fine;
}

} // namespace stasis::cli
