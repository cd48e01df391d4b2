#include "cli/rates_report.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"

namespace stasis::cli {
namespace {

constexpr const char* nothing = "\u2013";

std::string with_unit(double value, const std::string& unit) {
  return readable(value) + (unit.empty() ? "" : " " + printable(unit, 16));
}

/// "12.1 % (2.90 deg)", "2.90 deg" where the channel makes no move, or a dash where it is rounding only.
std::string deviation_in_words(const RatesAccount& account, std::size_t channel, double size, bool with_size) {
  if (!account.is_noticeable(channel, size)) return "0";
  const std::string& unit = account.feel->channels[channel].unit;
  const auto share = account.share(channel, size);
  if (!share) return with_unit(size, unit);
  const std::string text = readable(*share) + " %";
  return with_size ? fmt::format("{} ({})", text, with_unit(size, unit)) : text;
}

bool ever_moves(const RatesAccount& account, std::size_t channel) {
  return account.largest_move[channel] > 0.0
         || std::any_of(account.plays.begin(), account.plays.end(), [&](const RatePlay& play) {
              return account.is_noticeable(channel, play.channels[channel].spread.size)
                     || play.measures.channels[channel].goal_ran;
            });
}

std::string overview(const RatesAccount& account) {
  std::vector<std::string> header{"channel"};
  std::vector<bool> right{false};
  for (const RatePlay& play : account.plays) {
    header.push_back(play.what.label);
    right.push_back(true);
  }
  TextTable table(header, right);
  std::vector<std::string_view> resting;
  for (std::size_t c = 0; c < account.feel->channels.size(); ++c) {
    if (!ever_moves(account, c)) {
      resting.push_back(account.feel->channels[c].name);
      continue;
    }
    std::vector<std::string> row{account.feel->channels[c].name};
    for (const RatePlay& play : account.plays)
      row.push_back(deviation_in_words(account, c, play.channels[c].spread.size, false));
    table.add(std::move(row));
  }
  std::string text = table.text();
  text += "  spread: farthest from the exact path at any frame, per cent of the channel's largest move\n";
  if (!resting.empty()) text += fmt::format("  at rest throughout: {}\n", listed(resting));
  return text;
}

std::string detail(const RatesAccount& account, std::size_t channel) {
  TextTable table(
      {account.feel->channels[channel].name, "settling", "overshoot", "spread", "at", "rule error", "input wait"},
      {false, true, true, true, true, true, true});
  for (const RatePlay& play : account.plays) {
    const ChannelAtRate& one = play.channels[channel];
    const bool differs = account.is_noticeable(channel, one.spread.size);
    table.add({play.what.label, one.settling_time ? readable(*one.settling_time) + " s" : nothing,
               one.overshoot ? readable(*one.overshoot) + " %" : nothing,
               deviation_in_words(account, channel, one.spread.size, true),
               differs ? concise(one.spread.at) + " s" : nothing,
               deviation_in_words(account, channel, one.rule_error.size, false),
               deviation_in_words(account, channel, one.input_wait.size, false)});
  }
  return table.text();
}

/// The sentence that a designer reads first.
std::string verdict(const RatesAccount& account) {
  const auto worst = account.worst_channel();
  if (!worst)
    return account.frame_shakes.empty()
               ? "  The same at every rate: no channel is off the exact path by more than rounding.\n"
               : "  The same at every rate except for shakes: no channel is off the exact path by more than "
                 "rounding.\n";
  const RatePlay& play = account.plays[account.worst_play(*worst)];
  const Deviation& off = account.judged_by(*worst, play);
  const std::string where =
      fmt::format("{}, {} at {}, {} s into the take", account.feel->channels[*worst].name,
                  deviation_in_words(account, *worst, off.size, true), play.what.label, concise(off.at));
  if (account.has_rule_error(*worst)) {
    const auto share = account.share(*worst, off.size);
    constexpr double unseen = 1.0; // per cent
    return fmt::format("  Worst by its own rule{}: {}.\n", share && *share < unseen ? ", though nobody sees it" : "",
                       where);
  }
  return fmt::format("  Every motion is exact at every rate. Inputs wait for the next frame; most of all {}.\n", where);
}

std::string ticks_in_words(const RatesAccount& account, const TickStudy& study) {
  const Channel& channel = account.feel->channels[study.channel];
  const std::string unit = printable(channel.unit, 16);
  std::string text =
      fmt::format("\n  {} on a tick of {} Hz, {} frames a second, by order and by what is drawn between ticks:\n",
                  channel.name, concise(study.tick_rate), concise(study.fps));
  TextTable table({"order", "subject jerks by", "picture jerks by", "late", "at full speed"},
                  {false, true, true, true, true});
  const auto both = [&](const std::optional<double>& size, const std::optional<double>& pixels) {
    if (!size) return std::string(nothing);
    const bool is_even = *size < 1e-9 * std::max(study.subject_speed, 1e-300);
    if (is_even) return std::string("0");
    return with_unit(*size, unit) + (pixels ? fmt::format(" ({} px)", readable(*pixels)) : "");
  };
  for (std::size_t k = 0; k < study.cases.size(); ++k) {
    const TickCase& one = study.cases[k];
    table.add({(k == study.best ? "* " : "  ") + one.label, both(one.subject, one.subject_pixels),
               both(one.picture, one.picture_pixels), readable(1e3 * one.late) + " ms",
               with_unit(one.late * study.subject_speed, unit)});
  }
  const TickCase& best = study.cases[study.best];
  return text + table.text()
         + fmt::format("  * the smoothest: {}; it costs {} ms of delay, {} at the subject's {}/s\n", best.label,
                       readable(1e3 * best.late), with_unit(best.late * study.subject_speed, unit),
                       with_unit(study.subject_speed, unit));
}

/// The channels that are told in detail: those that were asked for, else the worst.
std::vector<std::size_t> detailed(const RatesReport& report) {
  std::vector<std::size_t> out;
  const RatesAccount& account = *report.account;
  for (std::size_t c = 0; c < account.feel->channels.size(); ++c)
    if (std::find(report.only.begin(), report.only.end(), account.feel->channels[c].name) != report.only.end())
      out.push_back(c);
  if (out.empty())
    if (const auto worst = account.worst_channel()) out.push_back(*worst);
  return out;
}

void put_deviation(io::JsonWriter& json, const RatesAccount& account, std::size_t channel, const char* name,
                   const Deviation& deviation) {
  json.key(name).begin_object().key("size").number(deviation.size).key("share");
  json.number(account.share(channel, deviation.size)).key("at").number(deviation.at).end_object();
}

void put_play(io::JsonWriter& json, const RatesAccount& account, const RatePlay& play) {
  json.begin_object().key("clock").text(play.what.label).key("fps").number(play.what.fps);
  json.key("frames").integer(play.clock.frames).key("channels").begin_object();
  for (std::size_t c = 0; c < play.channels.size(); ++c) {
    const ChannelAtRate& one = play.channels[c];
    json.key(account.feel->channels[c].name).begin_object();
    put_deviation(json, account, c, "spread", one.spread);
    put_deviation(json, account, c, "rule_error", one.rule_error);
    put_deviation(json, account, c, "input_wait", one.input_wait);
    json.key("settling_time").number(one.settling_time).key("overshoot").number(one.overshoot).end_object();
  }
  json.end_object().end_object();
}

void put_replacement(io::JsonWriter& json, const Replacement& one) {
  json.begin_object().key("motion").text(one.motion).key("rule").text(name_of(one.rule.rule));
  json.key("at_fps").number(one.rule.at_fps).key("equivalent");
  one.equivalent ? json.text(one.equivalent->text) : json.null();
  json.key("exact_for_steps").flag(one.equivalent && one.residual.of_step <= 1e-9);
  json.key("step_residual").number(one.equivalent ? std::optional(one.residual.of_step) : std::nullopt);
  json.key("ramp_residual").number(one.equivalent ? std::optional(one.residual.of_ramp) : std::nullopt);
  json.key("behaviour").text(behaviour_in_words(one.rule.rule)).key("spans").begin_array();
  for (const BehaviourSpan& span : behaviours_of(one.rule.rule)) {
    constexpr const char* words[] = {"monotone", "overshooting", "diverging"};
    json.begin_object().key("from_fps").number(span.low_fps).key("to_fps").number(span.high_fps);
    json.key("behaviour").text(words[static_cast<std::size_t>(span.behaviour)]).end_object();
  }
  json.end_array().key("advice").text(advice_on(one)).end_object();
}

void put_study(io::JsonWriter& json, const Feel& feel, const TickStudy& study) {
  json.begin_object().key("channel").text(feel.channels[study.channel].name).key("tick").number(study.tick_rate);
  json.key("fps").number(study.fps).key("subject_speed").number(study.subject_speed).key("cases").begin_array();
  for (const TickCase& one : study.cases) {
    constexpr const char* orders[] = {"camera_last", "camera_first", "on_tick"};
    json.begin_object().key("order").text(orders[static_cast<std::size_t>(one.tick.order)]);
    json.key("between").text(one.tick.blends ? "blend" : "hold").key("judder_subject").number(one.subject);
    json.key("judder_subject_pixels").number(one.subject_pixels).key("judder_picture").number(one.picture);
    json.key("judder_picture_pixels").number(one.picture_pixels).key("late").number(one.late);
    json.key("late_distance").number(one.late * study.subject_speed).end_object();
  }
  json.end_array().key("best").integer(static_cast<long long>(study.best)).end_object();
}

} // namespace

std::string rates_text(const RatesReport& report) {
  const RatesAccount& account = *report.account;
  std::string out = fmt::format("{}, take {}: {} s on {} clocks, against the exact path\n", printable(report.title, 80),
                                account.take->name, concise(account.take->length), account.plays.size());
  out += overview(account) + verdict(account);
  for (const std::string& shake : account.frame_shakes) out += fmt::format("  Shake {}.\n", shake);
  for (const std::string& control : account.frame_controls) out += fmt::format("  Control {}.\n", control);
  for (const std::size_t c : detailed(report)) {
    out += "\n" + detail(account, c);
    if (!account.causes[c].empty())
      out += fmt::format("  Why {}: {}.\n", account.feel->channels[c].name, account.causes[c]);
  }
  for (std::size_t k = 0; k < account.replacements.size(); ++k)
    out += (k == 0 ? "\n" : "") + fmt::format("  {}.\n", advice_on(account.replacements[k]));
  if (!account.replacements.empty()) out += "  `stasis rates --write` puts these into the feel.\n";
  for (const TickStudy& study : *report.ticks) out += ticks_in_words(account, study);
  return out;
}

std::string rates_json(const RatesReport& report) {
  const RatesAccount& account = *report.account;
  const Feel& feel = *account.feel;
  io::JsonWriter json;
  json.begin_object().key("stasis").text(version).key("feel").text(printable(report.title, 10'000));
  json.key("take").text(account.take->name).key("rates").begin_array();
  for (const RatePlay& play : account.plays) put_play(json, account, play);
  json.end_array().key("largest_moves").begin_object();
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    json.key(feel.channels[c].name).number(account.largest_move[c]);
  json.end_object().key("worst");
  if (const auto worst = account.worst_channel()) {
    const RatePlay& play = account.plays[account.worst_play(*worst)];
    json.begin_object().key("channel").text(feel.channels[*worst].name).key("clock").text(play.what.label);
    put_deviation(json, account, *worst, "spread", play.channels[*worst].spread);
    json.end_object();
  } else {
    json.null();
  }
  json.key("causes").begin_object();
  for (std::size_t c = 0; c < feel.channels.size(); ++c)
    if (!account.causes[c].empty()) json.key(feel.channels[c].name).text(account.causes[c]);
  json.end_object().key("frame_shakes").begin_array();
  for (const std::string& shake : account.frame_shakes) json.text(shake);
  json.end_array().key("frame_controls").begin_array();
  for (const std::string& control : account.frame_controls) json.text(control);
  json.end_array().key("replacements").begin_array();
  for (const Replacement& one : account.replacements) put_replacement(json, one);
  json.end_array().key("ticks").begin_array();
  for (const TickStudy& study : *report.ticks) put_study(json, feel, study);
  json.end_array().key("units").begin_object().key("size").text("the channel's unit").key("share").text("%");
  json.key("at").text("s").key("settling_time").text("s").key("overshoot").text("%").key("late").text("s");
  return json.end_object().end_object().take();
}

} // namespace stasis::cli
