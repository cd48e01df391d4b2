// `stasis new`: a commented feel to start from, or one for a wish.
#include <algorithm>
#include <optional>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/embedded.hpp"
#include "cli/table.hpp"
#include "core/text.hpp"
#include "io/files.hpp"
#include "io/schema.hpp"

namespace stasis::cli {
namespace {

constexpr const char* new_example = R"text(Worked examples:
  stasis new lamp.toml                   one channel, one spring, one button, one take, every line in words
  stasis new --list                      small feels by wish: "lean left and right without getting stuck"
  stasis new my.toml --recipe lean       one of them
  stasis new zoom.toml --schema          for an editor that knows TOML: it completes and checks the feel as it is typed

A file that exists is never replaced.)text";

std::string name_of(const EmbeddedFile& recipe) { return std::string(recipe.name.substr(0, recipe.name.find('.'))); }

/// What a recipe is for: its first line, a comment.
std::string wish_of(const EmbeddedFile& recipe) {
  const std::string_view line = recipe.text.substr(0, recipe.text.find('\n'));
  return std::string(trimmed(line.substr(std::min<std::size_t>(1, line.size()))));
}

std::string recipe_table() {
  TextTable table({"recipe", "what for"}, {false, false});
  for (const EmbeddedFile& recipe : embedded_recipes()) table.add({name_of(recipe), wish_of(recipe)});
  return table.text();
}

struct NewOptions {
  std::string file, recipe;
  bool list = false, schema = false;
};

constexpr const char* schema_name = "feel.schema.json";

/// Beside the feel; one that says the same stays as it is. \returns what is wrong, if anything.
std::optional<std::string> write_schema(const std::string& feel) {
  const std::size_t slash = feel.rfind('/');
  const std::string path = (slash == std::string::npos ? "" : feel.substr(0, slash + 1)) + schema_name;
  const std::string text = io::feel_schema();
  if (!io::file_exists(path)) {
    if (auto done = io::write_file(path, text, false); !done) return done.error().message;
    return std::nullopt;
  }
  const auto there = io::read_file(path, 2 * text.size());
  if (there && *there == text) return std::nullopt;
  return fmt::format("{} is there already and says something else; `stasis schema` prints that of this version", path);
}

/// The text that is to be written, or why there is none.
tl::expected<std::string_view, std::string> text_for(const NewOptions& options) {
  if (options.recipe.empty()) return embedded_starter();
  std::vector<std::string> names;
  for (const EmbeddedFile& recipe : embedded_recipes()) {
    if (name_of(recipe) == options.recipe) return recipe.text;
    names.push_back(name_of(recipe));
  }
  const std::vector<std::string_view> known(names.begin(), names.end());
  return tl::unexpected(fmt::format("--recipe: there is no recipe \"{}\".{} `stasis new --list` lists them",
                                    printable(options.recipe, 40), did_you_mean(options.recipe, known)));
}

} // namespace

Exit run_new(const Arguments& arguments, Streams streams) {
  Call call("stasis new", "Start a feel: a commented one, or one for a wish.", new_example);
  NewOptions options;
  call.positional("file", options.file, "Where to write it, or - for standard output", false);
  call.option("--recipe", options.recipe, "This small feel instead of the commented one");
  call.flag("--list", options.list, "List the recipes, by wish");
  call.flag("--schema", options.schema,
            fmt::format("Begin with a line that names the schema of feels, and write the schema beside it ({})",
                        schema_name));
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  const auto refuse = [&](const std::string& why, Exit status) {
    print_error(why + ".", streams.err);
    return status;
  };
  if (options.list) {
    if (!options.file.empty() || !options.recipe.empty() || options.schema)
      return refuse("--list writes no feel; leave the file, --recipe and --schema out", Exit::bad_input);
    streams.out.write(recipe_table());
    return Exit::fine;
  }
  if (options.file.empty()) return refuse("name the file to write, such as my.toml, or give --list", Exit::bad_input);
  const auto found = text_for(options);
  if (!found) return refuse(found.error(), Exit::bad_input);
  const std::string text =
      (options.schema ? fmt::format("#:schema ./{}\n", schema_name) : std::string()) + std::string(*found);
  if (options.file == "-") {
    if (options.schema) return refuse("--schema writes a file beside the feel; name the feel's file", Exit::bad_input);
    streams.out.exactly(text);
    return Exit::fine;
  }
  if (io::file_exists(options.file))
    return refuse(fmt::format("{} exists already; choose another name", options.file), Exit::bad_file);
  if (options.schema)
    if (const auto wrong = write_schema(options.file)) return refuse(*wrong, Exit::bad_file);
  if (auto done = io::write_file(options.file, text, false); !done) return refuse(done.error().message, Exit::bad_file);
  streams.out.line(fmt::format("wrote {}\nnext: stasis run {}", options.file, options.file));
  return Exit::fine;
}

} // namespace stasis::cli
