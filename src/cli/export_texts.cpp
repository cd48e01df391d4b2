#include "cli/export_texts.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/motion_json.hpp"
#include "cli/move_table.hpp"
#include "cli/version.hpp"
#include "core/explain/explain.hpp"
#include "core/export/css_easing.hpp"
#include "core/feel/document_changes.hpp"
#include "core/take/player.hpp"
#include "core/take/trace_columns.hpp"
#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// A text that cannot end the comment in which it stands.
std::string in_comment(const std::string& text) {
  std::string out = printable(text, 2000);
  for (std::size_t at = out.find("*/"); at != std::string::npos; at = out.find("*/", at)) out.replace(at, 2, "* /");
  return out;
}

/// A name of small letters, digits, underscores and hyphens.
std::string property_name(const std::string& name) {
  std::string out;
  for (const char c : name) out += (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '_' ? c : '-';
  return out;
}

std::string how_made(const Motion& motion, const CssEasing& css) {
  std::string said;
  if (!css.is_exact)
    said += fmt::format(" {} stops, within {} % of the way.", css.stops, concise(100.0 * css.deviation, 3));
  if (css.is_cut)
    said += fmt::format(" It has no end of its own: it is cut after {} s, as near to its goal as that.",
                        concise(css.duration, 6));
  if (const Ease* ease = ease_of(motion)) {
    if (ease->repeat > 1) said += fmt::format(" Made {} times: animation-iteration-count.", ease->repeat);
    if (ease->there_and_back) said += " There and back: animation-direction: alternate.";
  }
  return said;
}

} // namespace

std::string css_text(const LoadedFeel& loaded, double tolerance, std::vector<std::string>& left_out) {
  std::string text = fmt::format("/* Motions of \"{}\", written by stasis export {}: transition: transform\n"
                                 "   var(--NAME-duration) var(--NAME-easing) var(--NAME-delay, 0s). */\n:root {{\n",
                                 in_comment(loaded.name), version);
  for (const NamedMotion& named : loaded.feel.motions) {
    if (std::holds_alternative<Cut>(named.motion)) continue; // takes no time, so that nothing is to be said
    const CssEasing css = css_easing(named.motion, tolerance);
    if (!css.fault.empty()) {
      left_out.push_back(fmt::format("{} is left out: {}", named.name, css.fault));
      text += fmt::format("  /* {} is left out: {}. */\n", named.name, css.fault);
      continue;
    }
    const MotionAccount account = account_of(named.name, named.motion);
    const std::string name = property_name(named.name);
    text += wrapped(
        fmt::format("/* {}: {}.{} */", named.name, in_comment(account.sentence), how_made(named.motion, css)), "  ");
    text += fmt::format("  --{}-duration: {}s;\n", name, shortest(css.duration));
    if (css.delay > 0.0) text += fmt::format("  --{}-delay: {}s;\n", name, shortest(css.delay));
    text += fmt::format("  --{}-easing: {};\n", name, css.easing);
  }
  return text + "}\n";
}

std::vector<ChannelKeys> keys_of(const Scene& scene, double share, const std::vector<std::string>& only) {
  TakeCurvesSink sink;
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  std::vector<ChannelKeys> all;
  for (TakeCurve& curve : sink.take()) {
    const Channel& channel = scene.feel->channels[curve.channel];
    if (!is_wanted(only, channel.name)) continue;
    ChannelKeys one{std::move(curve), {}, 0.0, channel.unit};
    one.tolerance = share * one.curve.way();
    one.keys = fewest_keys(one.curve.samples, one.tolerance);
    all.push_back(std::move(one));
  }
  return all;
}

std::string keys_csv(const std::vector<ChannelKeys>& all) {
  std::string text = "channel,time,value,slope_in,slope_out\n";
  for (const ChannelKeys& one : all)
    for (const std::size_t key : one.keys) {
      const SlopedSample& at = one.curve.samples[key];
      text += fmt::format("{},{},{},{},{}\n", one.curve.name, shortest(at.time), shortest(at.value),
                          shortest(at.slope_in), shortest(at.slope_out));
    }
  return text;
}

std::string keys_json(const LoadedFeel& loaded, const Scene& scene, const std::vector<ChannelKeys>& all) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(loaded.name, 10'000)).key("variant");
  loaded.variant.empty() ? json.null() : json.text(loaded.variant);
  json.key("take").text(scene.take->name).key("fps").number(scene.clock.fps);
  json.key("frames").integer(scene.clock.frames).key("interpolation").text("cubic Hermite");
  json.key("channels").begin_array();
  for (const ChannelKeys& one : all) {
    json.begin_object().key("channel").text(one.curve.name).key("unit").text(printable(one.unit, 40));
    json.key("tolerance").number(one.tolerance).key("slopes").text(one.curve.own_slopes ? "own" : "differences");
    json.key("keys").begin_array();
    for (const std::size_t key : one.keys) {
      const SlopedSample& at = one.curve.samples[key];
      json.begin_object().key("time").number(at.time).key("value").number(at.value);
      json.key("slope_in").number(at.slope_in).key("slope_out").number(at.slope_out).end_object();
    }
    json.end_array().end_object();
  }
  return json.end_array().end_object().take();
}

namespace {

/// Writes the rows of a table while the take is played.
class TableSink final : public BlockSink {
public:
  TableSink(std::vector<std::size_t> columns, std::vector<std::string> names, TableForm form)
      : chosen_(std::move(columns)), names_(std::move(names)), form_(form) {}

  void begin(const Scene& scene) override { scene_ = scene; }
  void consume(const Block& block) override {
    trace_columns(scene_, block, columns_);
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) add_row(block, row);
  }
  void end() override {}

  std::string text;

private:
  void add_row(const Block& block, std::size_t row) {
    const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
    const double time = scene_.clock.drawn_time(frame);
    if (form_ == TableForm::json_lines) {
      io::JsonWriter json;
      json.begin_object().key("frame").integer(frame).key("time").number(time);
      for (std::size_t c = 0; c < chosen_.size(); ++c) json.key(names_[c]).number(columns_[chosen_[c]].at(row));
      text += json.end_object().take() + "\n";
      return;
    }
    const bool is_c = form_ == TableForm::c_array;
    text += is_c ? fmt::format("{}    {{{}", frame == 0 ? "" : ",\n", in_c(time))
                 : fmt::format("{},{}", frame, shortest(time));
    for (const std::size_t column : chosen_) {
      const double number = columns_[column].at(row);
      if (is_c)
        text += ", " + in_c(number);
      else
        text += std::isfinite(number) ? "," + shortest(number) : ",";
    }
    text += is_c ? "}" : "\n";
  }
  /// A double as C writes it; NaN, which has no literal, as a quotient.
  static std::string in_c(double number) {
    if (!std::isfinite(number)) return "0.0 / 0.0";
    std::string literal = shortest(number);
    return literal.find_first_of(".e") == std::string::npos ? literal + ".0" : literal;
  }

  std::vector<std::size_t> chosen_;
  std::vector<std::string> names_;
  TableForm form_;
  Scene scene_;
  std::vector<ColumnView> columns_;
};

} // namespace

std::string table_text(const LoadedFeel& loaded, const Scene& scene, const std::vector<std::string>& columns,
                       TableForm form) {
  constexpr std::size_t columns_before = 3; // frame, time, dt
  const auto header = trace_header(scene);
  std::vector<std::size_t> chosen;
  for (const std::string& name : columns)
    chosen.push_back(static_cast<std::size_t>(std::find(header.begin(), header.end(), name) - header.begin())
                     - columns_before);
  TableSink sink(std::move(chosen), columns, form);
  BlockSink* const sinks[] = {&sink};
  play(scene, sinks);
  const std::string heads = fmt::format("{}", fmt::join(columns, form == TableForm::csv ? "," : ", "));
  switch (form) {
  case TableForm::csv: return "frame,time," + heads + "\n" + sink.text;
  case TableForm::json_lines: return std::move(sink.text);
  case TableForm::c_array:
    return fmt::format("/* Take {} of \"{}\" at {} frames a second, written by stasis export {}.\n"
                       "   Columns: time, {}. */\n"
                       "enum {{ {}_rows = {}, {}_columns = {} }};\n"
                       "static const double {}[{}][{}] = {{\n{}\n}};\n",
                       scene.take->name, in_comment(loaded.name), shortest(scene.clock.fps), version, heads,
                       scene.take->name, scene.clock.frames, scene.take->name, columns.size() + 1, scene.take->name,
                       scene.clock.frames, columns.size() + 1, sink.text);
  }
  return {};
}

std::string numbers_json(const LoadedFeel& loaded, const Node& document) {
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(loaded.name, 10'000)).key("variant");
  loaded.variant.empty() ? json.null() : json.text(loaded.variant);
  json.key("channels").begin_array();
  for (std::size_t c = 0; c < loaded.feel.channels.size(); ++c) {
    const Channel& channel = loaded.feel.channels[c];
    const ChannelAccount account = account_of(loaded.feel, c);
    json.begin_object().key("channel").text(channel.name).key("unit").text(printable(channel.unit, 40));
    json.key("components").integer(static_cast<long long>(channel.components)).key("rest").begin_array();
    for (std::size_t i = 0; i < channel.components; ++i) json.number(channel.rest[i]);
    json.end_array().key("range").begin_array();
    for (std::size_t i = 0; i < channel.components; ++i)
      json.begin_array().number(channel.range[i].low).number(channel.range[i].high).end_array();
    json.end_array().key("space").text(name_of(channel.space.space)).key("words").text(account.heading);
    json.key("motions").begin_array();
    for (const MotionAccount& motion : account.motions) write_motion(json, motion);
    json.end_array().end_object();
  }
  json.end_array().key("values").begin_array();
  for (const ValueChange& value : value_changes(Node{}, document)) {
    json.begin_object().key("path").text(value.path).key("value");
    const auto number = read_number(value.after);
    if (number)
      json.number(*number);
    else
      json.text(value.after.size() >= 2 && value.after.front() == '"' ? value.after.substr(1, value.after.size() - 2)
                                                                      : value.after);
    json.end_object();
  }
  return json.end_array().end_object().take();
}

} // namespace stasis::cli
