// `stasis match`: which rule made a recorded move, with which numbers.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/estimate_text.hpp"
#include "cli/load_feel.hpp"
#include "cli/match_call.hpp"
#include "cli/match_follow_report.hpp"
#include "cli/match_json.hpp"
#include "cli/match_moves_report.hpp"
#include "cli/match_shake_report.hpp"
#include "cli/match_stops.hpp"
#include "cli/progress.hpp"
#include "cli/rewrite_feel.hpp"
#include "cli/table.hpp"
#include "core/text.hpp"
#include "figure/match_figure.hpp"

namespace stasis::cli {
namespace {

constexpr const char* match_example =
    R"text(A recording is a table with a column of times and one of values: what a capture,
an export or another program wrote. Every rule that Stasis has is tried on its
move: glide, spring, pace, each named curve, a free Bezier. It also finds when
the move set off, from where and to where, unless you say so. If you say when
its goal jumped, a delay before the move is found too. One rule is fitted to all
moves from rest to rest; if rising moves differ from falling ones, each kind has
its own numbers. If the goal moves by itself, as a subject does, it finds what
follows it: a glide or a spring, with a lead, with a dead zone, and how far it
lags. With --shake it finds the wave, how fast it rattles, how far it goes and
how it dies away. With --stops the path of several columns becomes a sequence
with the fewest stops.

Worked examples:
  stasis match capture.csv --value fov --unit deg
  stasis match capture.csv --value fov --unit deg --kinds spring --kinds glide
  stasis match capture.csv --value fov --unit deg --start 0.3
  stasis match capture.csv --value fov --write otter.toml:motion.caught
  stasis match chase.csv --value view.x,view.y --goal-from subject.csv:x,y
  stasis match knock.csv --value fov --shake --write otter.toml:shake.knock
  stasis match flight.csv --value focus,distance,yaw,tilt --stops --between 0.52:7.8 \
      --write weir.toml:sequence.caught

The true number lies within the interval about 95 times in 100; about 84 in 100
for a free Bezier, where one number can make up for another. Rules that this
recording cannot tell apart are marked.)text";

struct MatchOptions {
  MatchCall call;
  std::string write, out = "stasis-out", figure = "png", typed, within;
  bool json = false, force = false, stops = false;
};

std::string_view trouble_in_words(MatchTrouble trouble) noexcept {
  switch (trouble) {
  case MatchTrouble::none: return "";
  case MatchTrouble::jump:
    return "nearly all of the change lies between two rows: a cut, or a move too quick for these rows to tell";
  case MatchTrouble::no_move: return "no move stands out from the noise";
  case MatchTrouble::unfinished:
    return "the recording begins within the move, or ends before it does: the numbers say little. Take more of it, or "
           "give --start, --from and --goal";
  }
  return "";
}

/// What `work(how_far)` gives, its progress told meanwhile.
template<class Work> auto told(Output& err, const char* what, Work work) {
  Progress progress(err, what);
  return work(progress.how_far());
}

class Match {
public:
  Match(const MatchOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (const Exit fine = check_target(); fine != Exit::fine) return fine;
    auto opened = open_move(options_.call, streams_.err);
    if (!opened) return opened.error();
    opened_ = std::move(*opened);
    if (opened_.follow) return run_follow();
    if (opened_.shake) return run_shake();
    if (names_no_move())
      if (const auto several = told(streams_.err, "moves", [&](const HowFar& how_far) {
            return match_moves(opened_.moves, opened_.kinds, how_far);
          }))
        return run_moves(*several);
    auto match = told(streams_.err, "fits",
                      [&](const HowFar& how_far) { return match_step(opened_.moves, opened_.kinds, how_far); });
    if (!match) {
      print_error(fmt::format("there is no move to match in {}: it does not change, or fewer than 8 rows are left.",
                              opened_.column),
                  streams_.err);
      return Exit::does_not_hold;
    }
    match_ = std::move(*match);
    if (options_.json)
      streams_.out.exact_line(json());
    else
      print();
    if (options_.figure != "none")
      if (const auto drawn = draw(drawing()); !drawn) return failed(drawn.error(), streams_.err);
    if (!options_.write.empty() && !has_motion()) {
      print_error("nothing was written: no rule can be told from this recording.", streams_.err);
      return Exit::does_not_hold;
    }
    if (!options_.write.empty())
      if (const Exit written = write(motion(best())); written != Exit::fine) return written;
    return match_.is_explained ? Exit::fine : Exit::does_not_hold;
  }

private:
  /// Prints a report, as text or JSON, and draws it.
  template<class Report>
  Exit show(const Report& report, std::string (*in_json)(const Report&), std::string (*in_text)(const Report&),
            figure::MatchDrawing (*as_drawing)(const Report&)) const {
    if (options_.json)
      streams_.out.exact_line(in_json(report));
    else
      streams_.out.write(in_text(report));
    if (options_.figure != "none")
      if (const auto drawn = draw(as_drawing(report)); !drawn) return failed(drawn.error(), streams_.err);
    return Exit::fine;
  }

  /// True where the call says nothing of which move is meant.
  bool names_no_move() const {
    const MatchCall& call = options_.call;
    return call.start.empty() && call.from.empty() && call.goal.empty() && call.goal_from.empty()
           && call.table.between.empty();
  }

  /// Of several moves from rest to rest.
  Exit run_moves(const MovesMatch& match) {
    const MovesReport report{options_.call.table.recording, &opened_, &match};
    if (const Exit shown = show(report, moves_json, moves_text, moves_drawing); shown != Exit::fine) return shown;
    if (!options_.write.empty() && !match.rising.empty()) {
      print_error("nothing was written: the moves that rise differ from those that fall, which are two motions. "
                  "--between takes one of them.",
                  streams_.err);
      return Exit::does_not_hold;
    }
    if (!options_.write.empty())
      if (const Exit written = write(match.ranking.front().motion); written != Exit::fine) return written;
    return match.is_explained && (match.ranking.front().agrees || !match.rising.empty()) ? Exit::fine
                                                                                         : Exit::does_not_hold;
  }

  /// Of a goal that moves by itself.
  Exit run_follow() {
    const auto match =
        told(streams_.err, "rules", [&](const HowFar& how_far) { return match_follow(*opened_.follow, how_far); });
    if (!match) {
      print_error(fmt::format("nothing follows in {}: it or its goal does not move, or fewer than 12 rows are left.",
                              opened_.column),
                  streams_.err);
      return Exit::does_not_hold;
    }
    const FollowReport report{options_.call.table.recording, &opened_, &*match};
    if (const Exit shown = show(report, follow_json, follow_text, follow_drawing); shown != Exit::fine) return shown;
    if (!options_.write.empty())
      if (const Exit written = write(match->ranking.front().motion); written != Exit::fine) return written;
    return match->is_explained ? Exit::fine : Exit::does_not_hold;
  }

  Exit run_shake() {
    const auto match =
        told(streams_.err, "rounds", [&](const HowFar& how_far) { return match_shake(*opened_.shake, how_far); });
    if (!match) {
      print_error(fmt::format("nothing shakes in {}: it does not stand out from its noise, or fewer than 12 rows are "
                              "left.",
                              opened_.column),
                  streams_.err);
      return Exit::does_not_hold;
    }
    const ShakeReport report{options_.call.table.recording, &opened_, &*match};
    if (const Exit shown = show(report, shake_json, shake_text, shake_drawing); shown != Exit::fine) return shown;
    if (!options_.write.empty() && match->trouble == ShakeTrouble::few_swings) {
      print_error("nothing was written: no shake can be told from this recording.", streams_.err);
      return Exit::does_not_hold;
    }
    if (!options_.write.empty())
      if (const Exit written = write(report.motion(match->ranking.front())); written != Exit::fine) return written;
    return match->trouble == ShakeTrouble::none ? Exit::fine : Exit::does_not_hold;
  }

  /// False where no rule can be told at all.
  bool has_motion() const { return match_.trouble == MatchTrouble::none || match_.trouble == MatchTrouble::unfinished; }

  const MatchedRule& best() const { return match_.ranking.front(); }

  std::string motion(const MatchedRule& rule) const {
    int digits = 3;
    for (const Estimate& number : rule.numbers) digits = std::max(digits, digits_for(number));
    return rule.motion(digits);
  }

  std::string rule_name(const MatchedRule& rule) const {
    return rule.kind->name() + (rule.delay ? ", delayed" : "")
           + (opened_.moves.size() > 1 ? fmt::format(", {}", name_of(rule.space)) : "");
  }

  /// With intervals where the rule may be the one: of another they say nothing.
  std::string numbers(const MatchedRule& rule) const {
    return numbers_text(rule.numbers, opened_.unit, rule.is_indistinct);
  }

  std::string with_unit(double value) const { return in_unit(value, opened_.unit); }

  void print() const {
    Output& out = streams_.out;
    const RecordedMove& move = opened_.moves.front();
    out.line(fmt::format("{}: {}, {} rows from {} to {} s", printable(options_.call.table.recording, 200),
                         printable(opened_.column, 60), move.times.size(), concise(move.times.front(), 4),
                         concise(move.times.back(), 4)));
    for (const std::string& note : opened_.notes) out.line("  note: " + note);
    const RowCleaning& clean = match_.cleaning;
    if (match_.stride > 1) out.line(fmt::format("  note: each {}th row was fitted", match_.stride));
    out.line(fmt::format(
        "  noise about {}{}{}{}", with_unit(clean.noise),
        clean.digit > 0.0 ? fmt::format(", rounded to {}", shortest(clean.digit)) : "",
        clean.repeated > 0 ? fmt::format("; {} repeated row{} left out", clean.repeated, clean.repeated == 1 ? "" : "s")
                           : "",
        clean.outliers > 0 ? fmt::format("; {} outlier{} left out", clean.outliers, clean.outliers == 1 ? "" : "s")
                           : ""));
    TextTable table({"", "rule", "off by (rms)", "numbers, with 95 % intervals where it may be the one"},
                    {false, false, true, false});
    constexpr std::size_t most = 8;
    const std::size_t told = out.told_of(match_.ranking.size(), most);
    for (std::size_t k = 0; k < told; ++k) {
      const MatchedRule& rule = match_.ranking[k];
      table.add({k == 0 ? "1" : rule.is_indistinct ? "=" : "", rule_name(rule), with_unit(rule.rms), numbers(rule)});
    }
    out.write(table.text());
    if (match_.ranking.size() > told)
      out.line(fmt::format("  and {} more rules that are further off", match_.ranking.size() - told));
    say_start();
    say_verdict();
  }

  void say_start() const {
    const auto given = [](bool is_given) { return is_given ? ", as given" : ""; };
    const RecordedMove& move = opened_.moves.front();
    const std::string late = best().delay ? fmt::format(", {} s after its goal jumped", concise(*best().delay, 4)) : "";
    streams_.out.line(fmt::format("  it sets off at {}{}, from {}{}, to {}{}", with_interval(best().start_at, "s"),
                                  best().delay ? late : given(move.start.has_value()),
                                  with_interval(best().from_at, opened_.unit), given(move.from.has_value()),
                                  with_interval(best().goal_at, opened_.unit), given(move.goal.has_value())));
  }

  void say_verdict() const {
    Output& out = streams_.out;
    if (!best().same_path.empty()) out.line("  the same path: " + best().same_path);
    const auto equal = std::count_if(match_.ranking.begin(), match_.ranking.end(),
                                     [](const MatchedRule& rule) { return rule.is_indistinct; });
    if (equal > 1)
      out.line(
          fmt::format("  this recording cannot tell the {} rules marked 1 and = apart; a cleaner one could, or one at "
                      "more frames a second",
                      equal));
    if (const std::string_view said = trouble_in_words(match_.trouble); !said.empty())
      out.line(fmt::format("  {}", said));
    else if (!match_.is_explained)
      out.line(
          fmt::format("  none of them explains it: {} is left on average, the noise is about {}. Is it one move from "
                      "rest to rest? --between takes a part",
                      with_unit(best().rms), with_unit(match_.cleaning.noise)));
    if (!has_motion()) return;
    out.exact_line("  motion = " + motion(best()));
    if (best().space != Space::linear)
      out.line(fmt::format("  of a channel with space = \"{}\"", name_of(best().space)));
  }

  std::string json() const {
    MatchAnswer answer{.recording = options_.call.table.recording,
                       .column = opened_.column,
                       .rows = match_.kept.size(),
                       .cleaning = match_.cleaning};
    answer.is_explained = match_.is_explained;
    answer.trouble = trouble_in_words(match_.trouble);
    for (const MatchedRule& rule : match_.ranking) {
      answer.ranking.push_back({.kind = rule.kind->name(),
                                .space = std::string(name_of(rule.space)),
                                .numbers = rule.numbers,
                                .start = rule.start_at,
                                .from = rule.from_at,
                                .goal = rule.goal_at,
                                .rms = rule.rms,
                                .probability = rule.probability,
                                .same_path = rule.same_path,
                                .motion = motion(rule)});
      if (rule.is_indistinct) answer.indistinct.push_back(rule_name(rule));
    }
    answer.motion = has_motion() ? motion(best()) : "";
    answer.notes = opened_.notes;
    return match_json(answer);
  }

  figure::MatchDrawing drawing() const {
    figure::MatchDrawing drawing;
    drawing.title = fmt::format("{}: {}", opened_.column, rule_name(best()));
    drawing.subtitle = numbers(best());
    drawing.unit = opened_.unit;
    const RecordedMove& move = opened_.moves.front();
    for (const std::size_t k : match_.kept) {
      drawing.times.push_back(move.times[k]);
      drawing.values.push_back(move.values[k]);
    }
    for (std::size_t r = 0; r < std::min<std::size_t>(2, match_.ranking.size()); ++r) {
      figure::MatchLine line{rule_name(match_.ranking[r]), {}};
      for (const double time : drawing.times) line.values.push_back(match_.ranking[r].at(time));
      drawing.rules.push_back(std::move(line));
    }
    return drawing;
  }

  io::FileResult<void> draw(const figure::MatchDrawing& drawing) const {
    return draw_into({options_.out, options_.figure, options_.force},
                     {{"match." + stem_of(options_.call.table.recording), figure::match_figure(drawing)}},
                     options_.json ? streams_.err : streams_.out, streams_.err);
  }

  /// "FEEL:motion.NAME"
  Exit check_target() {
    if (options_.write.empty()) return Exit::fine;
    const char* const kind = options_.call.shake ? "shake" : "motion";
    target_ = new_table(options_.write, kind);
    if (!target_) {
      print_error(fmt::format("--write: expected FEEL:{}.NAME, such as otter.toml:{}.caught, found \"{}\".", kind, kind,
                              printable(options_.write, 80)),
                  streams_.err);
      return Exit::bad_input;
    }
    return Exit::fine;
  }

  /// Adds the motion to the feel, which has none of that name yet.
  Exit write(const std::string& table) const {
    std::string lines = fmt::format("[{}.{}]  # matched from {}\n", target_->kind, target_->name,
                                    printable(options_.call.table.recording, 200));
    // "{ kind = .., a = .. }" as lines.
    int depth = 0; // of brackets: what stands in them goes on
    for (std::size_t at = 2; at + 2 < table.size(); ++at) {
      const char c = table[at];
      if (c == '{' || c == '[' || c == '(') ++depth;
      if (c == '}' || c == ']' || c == ')') --depth;
      const bool ends_line = depth == 0 && c == ',';
      lines += ends_line ? '\n' : c;
      if (ends_line) ++at; // the blank
    }
    lines += '\n';
    return add_table(*target_, lines, options_.typed, options_.json ? streams_.err : streams_.out, streams_.err);
  }

  const MatchOptions& options_;
  Streams streams_;
  OpenedMove opened_;
  MoveMatch match_;
  std::optional<NewTable> target_;
};

} // namespace

Exit run_match(const Arguments& arguments, Streams streams) {
  Call call("stasis match", "Which rule made a recorded move, and with which numbers.", match_example);
  MatchOptions options;
  options.typed = typed("stasis match", arguments);
  declare_match_call(call, options.call);
  call.flag("--shake", options.call.shake, "Find the shake that was recorded: one hit, or one that is always there");
  call.flag("--stops", options.stops, "Find the fewest stops of a sequence that pass the path");
  call.option("--within", options.within, "With --stops: how far off the path may be, for all columns or each: A,B");
  call.option("--write", options.write, "Add it to a feel: FEEL:motion.NAME, or FEEL:sequence.NAME");
  call.folder(options.out, "Folder for the figure");
  call.choice("--figure", options.figure, {"svg", "png", "none"},
              "What is drawn: the recording and the two nearest rules");
  call.flag("--json", options.json, "Print as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (!options.stops && !options.within.empty()) {
    print_error("--within belongs to --stops.", streams.err);
    return Exit::bad_input;
  }
  if (options.stops && options.call.shake) {
    print_error("--shake and --stops do not go together: a shake has no stops.", streams.err);
    return Exit::bad_input;
  }
  if (options.stops)
    return run_match_stops({&options.call, options.within, options.write, options.out, options.figure, options.typed,
                            options.json, options.force},
                           streams);
  return Match(options, streams).run();
}

} // namespace stasis::cli
