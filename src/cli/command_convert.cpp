// `stasis convert`: one smoothing, or one lens, in other words.
#include <array>
#include <cmath>

#include <fmt/format.h>

#include "cli/call.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/lens/lens.hpp"
#include "core/motion/smoothing.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr const char* convert_example = R"text(Forms of a smoothing:
  fraction          share of the gap that a program closes on each frame, at --at-fps
  product           rate that is multiplied by the frame time to give that share, at --at-fps
  rate  time_constant  half_life  time_to_90  time_to_95  time_to_98  time_to_99
  spring_frequency  spring_time (2/w)    of a critically damped spring
  ease_duration     of an eased move along --curve
Forms of a lens (angles in degrees, or with a unit):
  vertical  horizontal  diagonal         field of view of a picture of --aspect
  focal_length                           in mm, with --sensor-width

Worked examples:
  stasis convert fraction 0.1 --at-fps 60          what it is at 30 and 144 fps, as a half-life, as a spring
  stasis convert half_life "120 ms" --fps 50,60
  stasis convert vertical 62 --to 38 --distance 4   picture scale between the two, what is seen at 4 m)text";

struct ConvertOptions {
  std::string form, value;
  std::string fps = "30,60,144", at_fps = "60", curve = "ease-in-out";
  std::string aspect = "16:10", sensor_width = "36", to, distance, width;
  bool json = false;
};

/// A number typed for a kind of unit, with or without one; explained on `err` where it is not.
std::optional<double> typed_number(const std::string& text, UnitKind kind, std::string_view what, Output& err) {
  std::optional<double> value = read_number(text);
  if (!value)
    if (const auto quantity = parse_quantity(text); quantity && quantity->unit.kind == kind)
      value = convert(quantity->value, quantity->unit, *find_unit(own_unit(kind)));
  if (value) return value;
  print_error(fmt::format("{}: expected {}, found \"{}\".", what,
                          kind == UnitKind::none
                              ? "a number"
                              : fmt::format("{} such as 0.2 or \"0.2 {}\"", kind_in_words(kind), own_unit(kind)),
                          printable(text, 40)),
              err);
  return std::nullopt;
}

std::optional<double> positive(const std::string& text, UnitKind kind, std::string_view what, Output& err) {
  const auto value = typed_number(text, kind, what, err);
  if (!value || (*value > 0.0 && *value < 1e15)) return value;
  print_error(fmt::format("{}: expected a number above 0, found {}.", what, printable(text, 40)), err);
  return std::nullopt;
}

std::optional<std::vector<double>> frame_rates(const std::string& text, Output& err) {
  std::vector<double> rates;
  for (const std::string_view part : split(text, ',')) {
    const auto rate = positive(std::string(trimmed(part)), UnitKind::frequency, "--fps", err);
    if (!rate) return std::nullopt;
    rates.push_back(*rate);
  }
  if (!rates.empty()) return rates;
  print_error("--fps: expected frame rates such as 30,60,144.", err);
  return std::nullopt;
}

// --- Smoothings ---

std::string label_of(const Translation& t) {
  const SmoothingWord& word = smoothing_words()[static_cast<std::size_t>(t.to.form)];
  const bool per_frame = t.to.form == SmoothingForm::fraction || t.to.form == SmoothingForm::product;
  return per_frame ? fmt::format("{} at {} fps", word.word, concise(t.to.fps, 6)) : std::string(word.word);
}

std::string value_of(const Translation& t) {
  const auto unit = own_unit(smoothing_words()[static_cast<std::size_t>(t.to.form)].unit);
  return readable(t.to.value, 6) + (unit.empty() ? "" : " " + std::string(unit));
}

std::string smoothing_json(const Smoothing& from, const std::vector<Translation>& all, const std::string& note) {
  io::JsonWriter json;
  const SmoothingWord& word = smoothing_words()[static_cast<std::size_t>(from.form)];
  const auto write = [&](const Smoothing& one) {
    const SmoothingWord& form = smoothing_words()[static_cast<std::size_t>(one.form)];
    json.key("form").text(form.word).key("value").number(one.value).key("unit").text(own_unit(form.unit));
    const bool per_frame = one.form == SmoothingForm::fraction || one.form == SmoothingForm::product;
    json.key("fps").number(per_frame ? std::optional(one.fps) : std::nullopt);
  };
  json.begin_object().key("stasis").text(version).key("from").begin_object();
  write(from);
  json.key("meaning").text(word.meaning).end_object().key("equals").begin_array();
  for (const Translation& t : all) {
    json.begin_object();
    write(t.to);
    json.key("exact").flag(t.exact).key("sense").text(t.sense).end_object();
  }
  json.end_array().key("notes").begin_array();
  if (!note.empty()) json.text(note);
  json.end_array().end_object();
  return json.take();
}

Exit convert_smoothing(const ConvertOptions& options, const SmoothingWord& word, Streams streams) {
  const auto value = positive(options.value, word.unit, word.word, streams.err);
  const auto at_fps = positive(options.at_fps, UnitKind::frequency, "--at-fps", streams.err);
  const auto rates = frame_rates(options.fps, streams.err);
  if (!value || !at_fps || !rates) return Exit::bad_input;
  const auto curve = parse_curve(options.curve);
  if (!curve) {
    print_error(fmt::format("--curve: \"{}\" is not a curve: {}.", printable(options.curve, 80), curve.error()),
                streams.err);
    return Exit::bad_input;
  }
  const Smoothing from{word.form, *value, *at_fps};
  const std::string none = why_no_equivalent(from);
  const auto all = none.empty() ? translations_of(from, *rates, *curve) : std::vector<Translation>{};
  if (options.json) {
    streams.out.exact_line(smoothing_json(from, all, none));
    return none.empty() ? Exit::fine : Exit::does_not_hold;
  }
  streams.out.line(
      fmt::format("{}, {}:", label_of({from, true, ""}) + " = " + value_of({from, true, ""}), word.meaning));
  if (!none.empty()) {
    streams.out.line("  " + none + ".");
    return Exit::does_not_hold;
  }
  TextTable table({"in other words", "", "", "means"}, {false, true, false, false});
  for (const Translation& t : all)
    table.add({label_of(t), value_of(t), t.sense,
               std::string(smoothing_words()[static_cast<std::size_t>(t.to.form)].meaning)});
  streams.out.write(table.text());
  streams.out.line(fmt::format(
      "  The eased move is along {}. A nearest match agrees in that one time; its shape is another.", options.curve));
  return Exit::fine;
}

// --- Lenses ---

struct LensRow {
  std::string name, key;
  double value;
  std::string unit;
};

std::optional<double> aspect_of(const std::string& text, Output& err) {
  const char mark = text.find(':') != std::string::npos ? ':' : '/';
  auto parts = split(text, mark);
  if (text.ends_with(mark)) parts.emplace_back(); // "16:" has no height
  std::optional<double> aspect;
  if (parts.size() == 1) aspect = read_number(parts[0]);
  if (parts.size() == 2)
    if (const auto width = read_number(parts[0]), height = read_number(parts[1]); width && height && *height != 0.0)
      aspect = *width / *height;
  if (aspect && *aspect > 0.0 && *aspect < 1e6) return aspect;
  print_error(
      fmt::format("--aspect: expected width over height such as 16:9 or 1.6, found \"{}\".", printable(text, 40)), err);
  return std::nullopt;
}

std::optional<double> angle_of(const std::string& text, std::string_view what, Output& err) {
  const auto value = typed_number(text, UnitKind::angle, what, err);
  if (!value || (*value > 0.0 && *value < 180.0)) return value;
  print_error(
      fmt::format("{}: expected an angle between 0 and 180 deg, both excluded, found {}.", what, printable(text, 40)),
      err);
  return std::nullopt;
}

const std::vector<std::string> convert_options{"--at-fps",       "--fps", "--curve",    "--aspect",
                                               "--sensor-width", "--to",  "--distance", "--width"};
constexpr std::array<std::string_view, 4> lens_forms{"vertical", "horizontal", "diagonal", "focal_length"};

/// The vertical angle, radians, that the call names.
std::optional<double> vertical_of(const ConvertOptions& options, double aspect, double sensor, Output& err) {
  if (options.form == "focal_length") {
    std::optional<double> length = read_number(options.value);
    if (!length)
      if (const auto quantity = parse_quantity(options.value); quantity && quantity->unit.kind == UnitKind::length)
        length = convert(quantity->value, quantity->unit, *find_unit("mm"));
    if (length && *length > 0.0 && *length < 1e9)
      return vertical_of_horizontal(angle_of_focal_length(*length, sensor), aspect);
    print_error(fmt::format("focal_length: expected a length above 0 such as 35 or \"35 mm\", found \"{}\".",
                            printable(options.value, 40)),
                err);
    return std::nullopt;
  }
  const auto degrees_given = angle_of(options.value, options.form, err);
  if (!degrees_given) return std::nullopt;
  const double angle = radians(*degrees_given);
  if (options.form == "vertical") return angle;
  return options.form == "horizontal" ? vertical_of_horizontal(angle, aspect) : vertical_of_diagonal(angle, aspect);
}

std::vector<LensRow> lens_rows(double vertical, double aspect, double sensor) {
  const double horizontal = horizontal_of_vertical(vertical, aspect);
  return {{"vertical", "vertical", degrees(vertical), "deg"},
          {"horizontal", "horizontal", degrees(horizontal), "deg"},
          {"diagonal", "diagonal", degrees(diagonal_of_vertical(vertical, aspect)), "deg"},
          {fmt::format("focal length, sensor {} mm wide", concise(sensor, 6)), "focal_length",
           focal_length_of_angle(horizontal, sensor), "mm"}};
}

std::string lens_json(const ConvertOptions& options, double aspect, double sensor, const std::vector<LensRow>& rows) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("from").begin_object().key("form").text(options.form);
  const auto given =
      std::find_if(rows.begin(), rows.end(), [&](const LensRow& row) { return row.key == options.form; });
  json.key("value").number(given->value).key("unit").text(given->unit).key("aspect").number(aspect);
  json.key("sensor_width").number(sensor).end_object().key("equals").begin_array();
  for (const LensRow& row : rows) {
    json.begin_object().key("form").text(row.key).key("value").number(row.value).key("unit").text(row.unit);
    json.key("exact").flag(true).end_object();
  }
  json.end_array().end_object();
  return json.take();
}

Exit convert_lens(const ConvertOptions& options, Streams streams) {
  const auto aspect = aspect_of(options.aspect, streams.err);
  const auto sensor = positive(options.sensor_width, UnitKind::none, "--sensor-width", streams.err);
  if (!aspect || !sensor) return Exit::bad_input;
  const auto vertical = vertical_of(options, *aspect, *sensor, streams.err);
  if (!vertical) return Exit::bad_input;
  const double horizontal = horizontal_of_vertical(*vertical, *aspect);
  auto rows = lens_rows(*vertical, *aspect, *sensor);
  if (!options.to.empty()) {
    ConvertOptions other = options;
    other.value = options.to;
    const auto to = vertical_of(other, *aspect, *sensor, streams.err);
    if (!to) return Exit::bad_input;
    const double scale = picture_scale(*vertical, *to);
    rows.push_back(
        {fmt::format("picture scale from here to {} {}", options.form, options.to), "picture_scale", scale, ""});
    rows.push_back({"in doublings", "doublings", std::log2(scale), ""});
    rows.push_back({"distance that keeps the subject's width, times", "distance_factor", scale, ""});
  }
  if (!options.distance.empty()) {
    const auto distance = positive(options.distance, UnitKind::length, "--distance", streams.err);
    if (!distance) return Exit::bad_input;
    rows.push_back({fmt::format("visible height at {} m", concise(*distance, 6)), "visible_height",
                    extent_at(*vertical, *distance), "m"});
    rows.push_back({fmt::format("visible width at {} m", concise(*distance, 6)), "visible_width",
                    extent_at(horizontal, *distance), "m"});
  }
  if (!options.width.empty()) {
    const auto width = positive(options.width, UnitKind::length, "--width", streams.err);
    if (!width) return Exit::bad_input;
    rows.push_back({fmt::format("distance at which {} m fill the width", concise(*width, 6)), "distance_for_width",
                    distance_for(horizontal, *width), "m"});
  }
  if (options.json) {
    streams.out.exact_line(lens_json(options, *aspect, *sensor, rows));
    return Exit::fine;
  }
  streams.out.line(
      fmt::format("{} {} of a picture {} wide for its height:", options.form, options.value, concise(*aspect, 6)));
  TextTable table({"in other words", ""}, {false, true});
  for (const LensRow& row : rows)
    table.add({row.name, readable(row.value, 6) + (row.unit.empty() ? "" : " " + row.unit)});
  streams.out.write(table.text());
  return Exit::fine;
}

} // namespace

Exit run_convert(const Arguments& arguments, Streams streams) {
  Call call("stasis convert", "The same smoothing, or the same lens, in other words.", convert_example);
  ConvertOptions options;
  call.positional("form", options.form, "What is given: half_life, fraction, vertical, ...", true);
  call.positional("value", options.value, "Its value, with a unit if you like", true);
  call.option("--at-fps", options.at_fps, "Frame rate for which a fraction or product is given");
  call.option("--fps", options.fps, "Frame rates at which per-frame forms are shown");
  call.option("--curve", options.curve, "Curve of the eased move");
  call.option("--aspect", options.aspect, "Picture width over height");
  call.option("--sensor-width", options.sensor_width, "Width of the sensor for focal lengths, mm");
  call.option("--to", options.to, "A second value of the same lens form: picture scale between the two");
  call.option("--distance", options.distance, "Distance at which the visible height and width are shown, m");
  call.option("--width", options.width, "Show the distance at which this width, m, fills the picture");
  call.flag("--json", options.json, "Print as JSON");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  for (char& c : options.form)
    if (c == '-') c = '_';
  // What a form does not ask for would be left out silently.
  const auto only_with = [&](std::string_view what, const std::vector<std::string>& allowed) {
    for (const std::string& option : call.order_of(convert_options))
      if (std::find(allowed.begin(), allowed.end(), option) == allowed.end()) {
        print_error(fmt::format("{} says nothing about {}, which is {}.", option, options.form, what), streams.err);
        return false;
      }
    return true;
  };
  for (const SmoothingWord& word : smoothing_words())
    if (word.word == options.form) {
      const bool is_per_frame = options.form == "fraction" || options.form == "product";
      const bool fits = is_per_frame ? only_with("a smoothing", {"--at-fps", "--fps", "--curve"})
                                     : only_with("a smoothing that counts in time", {"--fps", "--curve"});
      return fits ? convert_smoothing(options, word, streams) : Exit::bad_input;
    }
  std::vector<std::string_view> known;
  for (const SmoothingWord& word : smoothing_words()) known.push_back(word.word);
  for (const std::string_view form : lens_forms) {
    if (form == options.form)
      return only_with("a lens", {"--aspect", "--sensor-width", "--to", "--distance", "--width"})
                 ? convert_lens(options, streams)
                 : Exit::bad_input;
    known.push_back(form);
  }
  print_error(fmt::format("there is no form \"{}\".{} Known: {}.", printable(options.form, 40),
                          did_you_mean(options.form, known), listed(known)),
              streams.err);
  return Exit::bad_input;
}

} // namespace stasis::cli
