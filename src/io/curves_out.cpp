#include "io/curves_out.hpp"

#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::io {
namespace {

/// A cell in quotes, since names of curves hold commas.
std::string quoted_cell(const std::string& text) {
  std::string out = "\"";
  for (const char c : text) {
    if (c == '"') out += '"';
    out += c;
  }
  return out + '"';
}

} // namespace

std::string curves_csv(const std::vector<KnownCurve>& curves, int samples) {
  std::string out = "time";
  for (const KnownCurve& one : curves) {
    const std::string name = printable(one.name, 10'000);
    out += "," + quoted_cell(name + ".value") + "," + quoted_cell(name + ".speed");
  }
  out += '\n';
  for (int i = 0; i < samples; ++i) {
    const double t = static_cast<double>(i) / (samples - 1);
    out += shortest(t);
    for (const KnownCurve& one : curves) {
      const CurvePoint p = evaluate(one.curve, t);
      const double speed = i + 1 == samples ? evaluate(one.curve, t, Side::before).slope : p.slope;
      out += "," + shortest(p.value) + "," + (std::isfinite(speed) ? shortest(speed) : "");
    }
    out += '\n';
  }
  return out;
}

std::string curves_json(const std::vector<KnownCurve>& curves, std::string_view version) {
  JsonWriter json;
  json.begin_object().key("stasis").text(version).key("curves").begin_array();
  for (const KnownCurve& one : curves) {
    const CurveFacts& f = one.facts;
    json.begin_object().key("curve").text(printable(one.name, 10'000)).key("words").text(in_words(f));
    json.key("half_time_share").number(f.half_time_share).key("fastest_speed").number(f.fastest_speed);
    json.key("fastest_at").number(f.fastest_at).key("start_speed").number(f.start_speed);
    json.key("end_speed").number(f.end_speed).key("overshoot").number(f.overshoot);
    json.key("overshoot_at").number(f.overshoot > 0.0 ? std::optional(f.overshoot_at) : std::nullopt);
    json.key("undershoot").number(f.undershoot).key("start_value").number(f.start_value);
    json.key("end_value").number(f.end_value).key("jumps").integer(f.jumps).key("corners").integer(f.corners);
    json.key("turns").integer(f.turns).key("steady").flag(f.is_steady).key("symmetric").flag(f.is_symmetric);
    json.end_object();
  }
  json.end_array().key("units").begin_object();
  json.key("fastest_speed").text("times the mean speed").key("half_time_share").text("share of the way");
  json.key("fastest_at").text("share of the time").key("overshoot").text("share of the way").end_object().end_object();
  return json.take();
}

} // namespace stasis::io
