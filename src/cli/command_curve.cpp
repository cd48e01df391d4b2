// `stasis curve`: curves as a sheet, as samples, in words.
#include <algorithm>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/version.hpp"
#include "core/curve/curve_facts.hpp"
#include "core/text.hpp"
#include "figure/curve_sheet.hpp"
#include "io/csv_reader.hpp"
#include "io/curves_out.hpp"
#include "io/files.hpp"

namespace stasis::cli {
namespace {

constexpr const char* curve_example =
    R"text(A curve is a CSS easing function, a shape with its direction, a family, or the name
of a [curve.NAME] of the feel given with --feel:
  ease-in-out   "cubic-bezier(0.3, 0, 0.1, 1)"   "linear(0, 0.8 30%, 1)"   "steps(4)"
  "in sine"   "out power 3"   "in-out back 1.7"   "out elastic"   "out bounce"
  family: css, in, out, in-out, or a shape alone such as power (its three directions)

Worked example:
  stasis curve "out power 3" "out back 1.7" ease-out

says in words how each starts, where it is fastest and how it ends, and writes
  stasis-out/curves.csv   value and speed at 201 times
  stasis-out/curves.png   a sheet: value above, speed below
A pipe:  stasis curve ease -o - | head -3)text";

struct CurveOptions {
  std::vector<std::string> curves, points;
  std::string feel, out = "stasis-out", figure = "png", samples = "201";
  bool json = false, force = false;
};

/// The texts of a family; nothing if `name` is not one.
std::vector<std::string> family(const std::string& name) {
  if (name == "css") return {"linear", "ease", "ease-in", "ease-out", "ease-in-out", "step-start", "step-end"};
  std::vector<std::string> texts;
  for (const ShapeWord& shape : shape_words())
    for (const Direction direction : {Direction::in, Direction::out, Direction::in_out})
      if (name == word_of(direction) || name == shape.word)
        texts.push_back(fmt::format("{} {}", word_of(direction), shape.word));
  return texts;
}

bool add_curve(std::vector<KnownCurve>& curves, const std::string& text, const Feel* feel, Output& err) {
  if (feel != nullptr)
    for (const NamedCurve& named : feel->curves)
      if (named.name == text) {
        curves.push_back({text, named.curve, facts_of(named.curve)});
        return true;
      }
  const auto members = family(text);
  for (const std::string& member : members) {
    const Curve curve = *parse_curve(member);
    curves.push_back({member, curve, facts_of(curve)});
  }
  if (!members.empty()) return true;
  const auto curve = parse_curve(text);
  if (!curve) {
    print_error(fmt::format("\"{}\" is not a curve: {}.", printable(text, 80), curve.error()), err);
    return false;
  }
  curves.push_back({std::string(trimmed(text)), *curve, facts_of(*curve)});
  return true;
}

std::optional<Exit> add_points(std::vector<KnownCurve>& curves, const std::string& path, Output& err) {
  constexpr std::size_t most_bytes = std::size_t{64} << 20;
  auto text = io::read_file(path, most_bytes);
  if (!text) {
    print_error(text.error().message + ".", err);
    return Exit::bad_file;
  }
  const std::vector<Source> sources{{path, *text}};
  const auto table = io::read_number_table(sources[0].text, 0);
  if (!table) {
    print_problems(table.error(), sources, err);
    return Exit::bad_input;
  }
  std::vector<CurveKnot> knots;
  for (std::size_t r = 0; r < table->rows.size(); ++r) {
    const auto& row = table->rows[r];
    if (row.size() != 2 || (r > 0 && !(row[0] > knots.back().time))) {
      print_error(
          fmt::format("{}:{}: expected two columns, time and value, with ascending times.", path, table->lines[r]),
          err);
      return Exit::bad_input;
    }
    knots.push_back({row[0], row[1]});
  }
  if (knots.size() < 2) {
    print_error(fmt::format("{}: a curve needs two points or more, found {}.", path, knots.size()), err);
    return Exit::bad_input;
  }
  const Curve curve = through_times(std::move(knots));
  curves.push_back({path, curve, facts_of(curve)});
  return std::nullopt;
}

Exit report(const std::vector<KnownCurve>& curves, const CurveOptions& options, int samples, Streams streams) {
  const std::string csv = io::curves_csv(curves, samples);
  if (options.out == "-") {
    streams.out.exactly(csv);
    return Exit::fine;
  }
  std::vector<std::string> written;
  io::FileResult<void> done = io::make_folder(options.out);
  const std::string stem = options.out + "/curves";
  if (done) done = io::write_file(stem + ".csv", csv, options.force);
  if (done) written.push_back(stem + ".csv");
  if (options.figure != "none") warn_without_font(streams.err);
  const auto sheets =
      figure::curve_sheets(curves, curves.size() == 1 ? curves[0].name : fmt::format("{} curves", curves.size()));
  for (std::size_t page = 0; page < sheets.size() && done; ++page)
    done = draw_figure(sheets[page], page == 0 ? stem : fmt::format("{}-{}", stem, page + 1), options.figure,
                       options.force, written);
  if (options.json)
    streams.out.exact_line(io::curves_json(curves, version));
  else
    for (const KnownCurve& one : curves)
      streams.out.line(fmt::format("{}\n  {}", printable(one.name, 120), in_words(one.facts)));
  for (const std::string& path : written) (options.json ? streams.err : streams.out).wrote(path);
  if (done) return Exit::fine;
  print_error(done.error().message + ".", streams.err);
  return Exit::bad_file;
}

} // namespace

Exit run_curve(const Arguments& arguments, Streams streams) {
  Call call("stasis curve", "Easing curves as a sheet of value and speed, as samples, and in words.", curve_example);
  CurveOptions options;
  call.positionals("curve", options.curves, "The curves");
  call.repeated("--points", options.points, "A curve through the points of this CSV file: time, value");
  call.option("--feel", options.feel, "A feel whose curves may be named");
  call.option("--samples", options.samples, "Rows of the CSV");
  call.option("-o,--out", options.out, "Folder for the files, or - for the CSV on standard output");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn");
  call.flag("--json", options.json, "Describe the curves as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  const auto samples = read_number(options.samples);
  if (!samples || *samples != static_cast<int>(*samples) || *samples < 2 || *samples > 1'000'000) {
    print_error(fmt::format("--samples: expected a whole number from 2 to 1000000, found \"{}\".",
                            printable(options.samples, 40)),
                streams.err);
    return Exit::bad_input;
  }
  std::vector<LoadedFeel> feels;
  if (!options.feel.empty()) {
    FeelCall feel_call;
    feel_call.file = options.feel;
    auto source = FeelSource::open(feel_call, streams.err);
    if (!source) return source.error();
    auto feel = source->version("", {}, streams.err);
    if (!feel) return feel.error();
    feels.push_back(std::move(*feel));
  }
  std::vector<KnownCurve> curves;
  for (const std::string& text : options.curves)
    if (!add_curve(curves, text, feels.empty() ? nullptr : &feels.front().feel, streams.err)) return Exit::bad_input;
  for (const std::string& path : options.points)
    if (const auto ended = add_points(curves, path, streams.err)) return *ended;
  if (curves.empty()) {
    print_error(
        "no curve was given. `stasis curve --help` shows what one looks like; `stasis curve in` draws a family.",
        streams.err);
    return Exit::bad_input;
  }
  return report(curves, options, static_cast<int>(*samples), streams);
}

} // namespace stasis::cli
