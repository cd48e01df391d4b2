// `stasis export`: the tuned feel as curves, keys, tables and numbers for other programs.
#include <algorithm>
#include <array>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/export_code.hpp"
#include "cli/export_frames.hpp"
#include "cli/export_texts.hpp"
#include "cli/run_takes.hpp"
#include "cli/version.hpp"
#include "core/export/camera_path.hpp"
#include "core/take/player.hpp"
#include "core/take/trace_columns.hpp"
#include "core/text.hpp"
#include "io/gltf_scene.hpp"

namespace stasis::cli {
namespace {

constexpr const char* export_example = R"text(What it writes, into the folder of -o:
  css      NAME.css: custom properties, an easing function and a duration for each motion, with
           the fewest stops of linear() that stay within the tolerance
  keys     TAKE.keys.csv (or .json): each channel as keys on its own path, the fewest whose cubic
           Hermite pieces stay within the tolerance: time, value, slope in, slope out
  table    TAKE.table.csv (or .jsonl, .h): a row a frame, the columns of --column
  gltf     TAKE.gltf (or .glb): a scene of glTF 2.0, the camera animated at every frame (with
           --tolerance by few keys: STEP, LINEAR or CUBICSPLINE, whichever needs least), what it
           follows and goes round as plain bodies
  code     PREFIX.c (.cpp, .cs, .mjs, .lua, .py, .rs, .glsl): the feel as one file of source code that
           needs nothing else: press, release, click, hit, advance(dt), a function for each value;
           with --with-check a second file that plays a take by it and compares
  numbers  NAME.numbers.json: every number by its path, every motion in every equivalent form

The tolerance is a share of the way: 0.001 is a thousandth of a motion's step, or of how far a
channel goes in the take.

Worked examples:
  stasis export otter.toml css
  stasis export otter.toml keys --take approach --tolerance 0.002 --form json
  stasis export otter.toml table --take approach --fps 30 --column fov.value --form c -o -
  stasis export first.toml code --language c --with-check)text";

struct ExportOptions {
  FeelCall feel;
  std::string what, tolerance, form, out = "stasis-out";
  std::string language, precision, prefix;
  bool with_check = false, motions_alone = false;
  std::vector<std::string> only, columns;
  bool force = false;
};

constexpr std::array<std::string_view, 7> export_kinds{"css", "keys", "table", "gltf", "frames", "code", "numbers"};

class Export {
public:
  Export(const ExportOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (std::find(export_kinds.begin(), export_kinds.end(), options_.what) == export_kinds.end())
      return refuse(fmt::format("there is nothing called \"{}\" to export.{} Known: {}", printable(options_.what, 40),
                                did_you_mean(options_.what, {export_kinds.begin(), export_kinds.end()}),
                                listed({export_kinds.begin(), export_kinds.end()})));
    const bool is_keys = options_.what == "keys", is_table = options_.what == "table";
    if (!options_.columns.empty() && !is_table) return refuse("--column goes with table only");
    if (!options_.only.empty() && !is_keys) return refuse("--only goes with keys only");
    if (const std::string fault = form_fault(); !fault.empty()) return refuse(fault);
    if (const std::string fault = code_fault(); !fault.empty()) return refuse(fault);
    if (!options_.tolerance.empty() && options_.what != "css" && options_.what != "gltf" && !is_keys)
      return refuse("--tolerance goes with css, keys and gltf only");
    const auto tolerance = number_option("--tolerance", options_.tolerance.empty() ? "0.001" : options_.tolerance, 1e-6,
                                         0.2, false, streams_.err);
    if (!tolerance) return tolerance.error();
    tolerance_ = *tolerance;
    auto source = FeelSource::open(options_.feel, streams_.err);
    if (!source) return source.error();
    const auto versions = source->chosen(options_.feel.variants);
    versions_ = versions.size();
    for (const std::string& name : versions) {
      const auto loaded = source->version(name, {}, streams_.err);
      if (!loaded) return loaded.error();
      const auto document = source->document_of(name, options_.feel.fps, streams_.err);
      if (!document) return document.error();
      if (const Exit ended = write(*loaded, *document); ended != Exit::fine) return ended;
    }
    if (options_.out != "-" || texts_.empty()) return finish();
    if (texts_.size() > 1) return refuse(too_many_for_output(texts_.size()));
    const Written& only = texts_.front();
    if (only.path.ends_with(".png") || only.path.ends_with(".glb"))
      streams_.out.bytes(only.text);
    else
      streams_.out.exactly(only.text);
    return Exit::fine;
  }

private:
  struct Written {
    std::string path, text;
  };

  Exit refuse(const std::string& message) const {
    print_error(message + ".", streams_.err);
    return Exit::bad_input;
  }

  static std::string too_many_for_output(std::size_t count) {
    return fmt::format("-o - writes one text, but {} would be written; name one --take and one --variant", count);
  }

  /// Why the form that was asked for is not one that is written; empty if it is one.
  std::string form_fault() const {
    const auto is_one_of = [&](std::initializer_list<std::string_view> forms) {
      return options_.form.empty() || std::find(forms.begin(), forms.end(), options_.form) != forms.end();
    };
    if (options_.what == "keys") return is_one_of({"csv", "json"}) ? "" : "keys are written as csv or json";
    if (options_.what == "table")
      return is_one_of({"csv", "jsonl", "c"}) ? "" : "a table is written as csv, jsonl (a JSON object a line) or c";
    if (options_.what == "gltf") return is_one_of({"gltf", "glb"}) ? "" : "a scene is written as gltf or glb";
    if (options_.what == "frames")
      return is_one_of({"apng", "png"}) ? "" : "frames are written as apng (one picture that moves) or png (numbered)";
    return options_.form.empty() ? "" : "--form goes with keys, table, gltf and frames only";
  }

  std::string code_fault() const {
    if (options_.what != "code") {
      if (!options_.language.empty()) return "--language goes with code only";
      if (!options_.precision.empty()) return "--precision goes with code only";
      if (!options_.prefix.empty()) return "--prefix goes with code only";
      if (options_.motions_alone) return "--motions goes with code only";
      return options_.with_check ? "--with-check goes with code only" : "";
    }
    if (options_.language.empty())
      return fmt::format("code needs --language, one of: {}", fmt::join(code_languages(), ", "));
    if (!options_.precision.empty() && !has_short_numbers(options_.language))
      return fmt::format("--precision: {} has only one precision; leave it out", options_.language);
    if (options_.motions_alone && options_.with_check)
      return "--with-check plays a take, and --motions has none: leave one of them out";
    if (!options_.prefix.empty() && options_.prefix != code::identifier(options_.prefix))
      return "--prefix is made of small letters, digits and underscores, a letter first";
    if (code::is_kept_name(options_.prefix))
      return fmt::format("--prefix {0}: {0} is a keyword in a language; choose another, such as {0}_feel",
                         options_.prefix);
    return "";
  }

  Exit write(const LoadedFeel& loaded, const Node& document) {
    const std::string version = loaded.variant.empty() ? "" : "." + loaded.variant;
    const std::string stem = options_.out + "/" + stem_of(options_.feel.file) + version;
    if (options_.what == "css") {
      std::vector<std::string> left_out;
      texts_.push_back({stem + ".css", css_text(loaded, tolerance_, left_out)});
      for (const std::string& line : left_out) notes_.push_back(line);
      return Exit::fine;
    }
    if (options_.what == "numbers") {
      texts_.push_back({stem + ".numbers.json", numbers_json(loaded, document) + "\n"});
      return Exit::fine;
    }
    if (options_.what == "code") return write_code(loaded);
    if (!known_channels(loaded.feel, options_.only, streams_.err)) return Exit::bad_input;
    // Said before any work is done.
    if (const std::size_t count = versions_ * loaded.takes.size(); options_.out == "-" && count > 1)
      return refuse(too_many_for_output(count));
    if (loaded.takes.empty()) return refuse("the feel has no take, and keys, tables, scenes and frames are of takes");
    for (const std::size_t index : loaded.takes) {
      const Take& take = loaded.feel.takes[index];
      const Scene scene{&loaded.feel, &take, clock_of(take)};
      const std::string of_take = options_.out + "/" + take.name + version;
      const Exit ended = options_.what == "keys"    ? write_keys(loaded, scene, of_take)
                         : options_.what == "table" ? write_table(loaded, scene, of_take)
                         : options_.what == "gltf"  ? write_scene(loaded, scene, of_take)
                                                    : write_frames(loaded, scene, of_take);
      if (ended != Exit::fine) return ended;
    }
    return Exit::fine;
  }

  static constexpr std::size_t most_frames_for_keys = 50'000;
  static std::string too_long_for_keys(const Scene& scene) {
    return fmt::format(
        "take {} has {} frames, and the fewest keys are looked for among {} at most; shorten it, or give "
        "a lower --fps",
        scene.take->name, scene.clock.frames, most_frames_for_keys);
  }

  Exit write_keys(const LoadedFeel& loaded, const Scene& scene, const std::string& stem) {
    if (scene.clock.frames > static_cast<std::int64_t>(most_frames_for_keys)) return refuse(too_long_for_keys(scene));
    const auto keys = keys_of(scene, tolerance_, options_.only);
    for (const ChannelKeys& one : keys)
      notes_.push_back(fmt::format("{}, {}: {} keys for {} frames, within {}{}", scene.take->name, one.curve.name,
                                   one.keys.size(), one.curve.samples.size(), readable(one.tolerance),
                                   one.unit.empty() ? "" : " " + printable(one.unit, 20)));
    if (options_.form == "json")
      texts_.push_back({stem + ".keys.json", keys_json(loaded, scene, keys) + "\n"});
    else
      texts_.push_back({stem + ".keys.csv", keys_csv(keys)});
    return Exit::fine;
  }

  Exit write_table(const LoadedFeel& loaded, const Scene& scene, const std::string& stem) {
    const auto header = trace_header(scene);
    constexpr std::size_t columns_before = 3; // frame, time, dt
    const std::vector<std::string_view> known(header.begin() + columns_before, header.end());
    std::vector<std::string> columns = options_.columns;
    for (const std::string& name : columns)
      if (std::find(known.begin(), known.end(), name) == known.end())
        return refuse(fmt::format("--column: the take has no column \"{}\".{} Known: {}", printable(name, 60),
                                  did_you_mean(name, known), listed(known)));
    if (columns.empty())
      for (const std::string_view name : known)
        if (name.find(".value") != std::string_view::npos) columns.emplace_back(name);
    const bool is_c = options_.form == "c", is_lines = options_.form == "jsonl";
    texts_.push_back({stem
                          + (is_c       ? ".h"
                             : is_lines ? ".table.jsonl"
                                        : ".table.csv"),
                      table_text(loaded, scene, columns,
                                 is_c       ? TableForm::c_array
                                 : is_lines ? TableForm::json_lines
                                            : TableForm::csv)});
    return Exit::fine;
  }

  Exit write_code(const LoadedFeel& loaded) {
    CodeCall call{options_.language, options_.prefix, options_.with_check, options_.motions_alone,
                  options_.precision == "single"};
    if (call.prefix.empty()) call.prefix = code::identifier(stem_of(options_.feel.file));
    if (code::is_kept_name(call.prefix)) call.prefix += "_feel";
    if (!loaded.variant.empty()) call.prefix += "_" + code::identifier(loaded.variant); // each version has its own file
    const bool to_output = options_.out == "-";
    if (to_output && call.with_check) return refuse("-o - writes one file: leave --with-check out, or name a folder");
    const auto files = code_files(loaded, call);
    if (!files) return refuse(files.error());
    for (const CodeFile& file : files->files)
      if (!to_output || &file == &files->files.front()) // what stands beside it goes without
        texts_.push_back({options_.out + "/" + file.name, file.text});
    notes_.insert(notes_.end(), files->notes.begin(), files->notes.end());
    return Exit::fine;
  }

  Exit write_scene(const LoadedFeel& loaded, const Scene& scene, const std::string& stem) {
    if (!has_eye_columns(loaded.feel))
      return refuse("the feel's [picture] places no eye in space, so there is no camera to animate");
    CameraPathSink sink;
    BlockSink* const sinks[] = {&sink};
    play(scene, sinks);
    const CameraPath path = sink.take();
    if (path.field.empty())
      notes_.push_back("the picture has no lens: the scene's is 60 deg high");
    else
      notes_.push_back(
          "the field of view is animated by the extension KHR_animation_pointer; what does not know it shows "
          "that of the first frame");
    std::optional<io::KeyTolerance> tolerance;
    if (!options_.tolerance.empty()) {
      if (path.times.size() > most_frames_for_keys) return refuse(too_long_for_keys(scene));
      tolerance = io::KeyTolerance{tolerance_};
    }
    const io::GltfScene made =
        io::gltf_scene(scene, path, loaded.name, fmt::format("stasis export {}", version), tolerance);
    if (tolerance)
      notes_.push_back(fmt::format("{}: {} keys in all, instead of {} for each thing that moves", scene.take->name,
                                   made.keys, path.times.size()));
    const bool is_binary = options_.form == "glb";
    texts_.push_back({stem + (is_binary ? ".glb" : ".gltf"), is_binary ? io::as_glb(made) : io::as_gltf(made)});
    return Exit::fine;
  }

  Exit write_frames(const LoadedFeel& loaded, const Scene& scene, const std::string& stem) {
    FramesCall call;
    // A take at a rate that was asked for is shown frame by frame.
    if (!options_.feel.fps.empty() && scene.clock.is_steady()) call.rate = scene.clock.fps;
    call.is_animated = options_.form != "png";
    auto files = frame_files(loaded, scene, call, notes_, streams_.err);
    if (!files) return files.error().refused ? refuse(files.error().message) : failed(files.error(), streams_.err);
    for (PictureFile& file : *files) texts_.push_back({stem + file.name, std::move(file.bytes)});
    if (!call.is_animated && options_.out != "-") folders_.push_back(stem + ".frames");
    return Exit::fine;
  }

  Exit finish() {
    // Of several files none is written where one of them is somebody else's.
    for (const Written& one : texts_)
      if (!options_.force && io::file_exists(one.path) && !io::is_own_output(one.path))
        return failed(io::write_file(one.path, one.text, false).error(), streams_.err);
    for (const std::string& folder : folders_)
      if (auto made = io::make_folder(folder); !made) return failed(made.error(), streams_.err);
    if (auto made = io::make_folder(options_.out); !made) return failed(made.error(), streams_.err);
    for (std::size_t k = 0; k < notes_.size(); ++k)
      if (std::find(notes_.begin(), notes_.begin() + static_cast<std::ptrdiff_t>(k), notes_[k])
          == notes_.begin() + static_cast<std::ptrdiff_t>(k))
        streams_.out.line("  " + notes_[k]); // each once, of however many takes
    std::string said;                        // of numbered pictures, their folder once
    for (const Written& one : texts_) {
      if (auto done = io::write_file(one.path, one.text, options_.force); !done)
        return failed(done.error(), streams_.err);
      const std::string folder = one.path.substr(0, one.path.rfind('/'));
      const bool is_numbered = std::find(folders_.begin(), folders_.end(), folder) != folders_.end();
      const std::string what = is_numbered ? folder + "/" : one.path;
      if (what != said) streams_.out.wrote(what);
      said = what;
    }
    return Exit::fine;
  }

  const ExportOptions& options_;
  Streams streams_;
  double tolerance_ = 0.0;
  std::vector<Written> texts_;
  std::size_t versions_ = 1; // that are written
  std::vector<std::string> notes_;
  std::vector<std::string> folders_; ///< of numbered pictures
};

} // namespace

Exit run_export(const Arguments& arguments, Streams streams) {
  Call call("stasis export", "Carry a feel on: easing functions, keys, tables, scenes, pictures, source code, numbers.",
            export_example);
  ExportOptions options;
  call.positional("feel", options.feel.file, "The feel, or - for standard input", true);
  call.positional("what", options.what, "css, keys, table, gltf, frames, code or numbers", true);
  call.option("--tolerance", options.tolerance,
              "How far css and keys may be off, as a share of the way; 0.001 if not given. For gltf: few keys "
              "instead of one a frame");
  call.choice("--form", options.form, {"csv", "json", "jsonl", "c", "gltf", "glb", "apng", "png"},
              "For keys: csv or json; for a table: csv, jsonl or c; for a scene: gltf or glb; for frames: apng or png");
  call.repeated("--column", options.columns, "For a table: this column of the trace; without it each channel's value");
  call.repeated("--only", options.only, "For keys: this channel");
  call.choice("--language", options.language, code_languages(), "For code: the language");
  call.choice("--precision", options.precision, {"double", "single"},
              "For code in c, cpp, csharp and rust: the precision of values; double if not given");
  call.option("--prefix", options.prefix,
              "For code: what the file's name and the names in it begin with; the feel's name if not given");
  call.flag("--motions", options.motions_alone, "For code: only the motions, each with a value of its own");
  call.flag("--with-check", options.with_check, "For code: a second file that plays --take by the first and compares");
  declare_feel_versions(call, options.feel);
  call.option("-o,--out", options.out, "Folder for the files; - for standard output");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  return Export(options, streams).run();
}

} // namespace stasis::cli
