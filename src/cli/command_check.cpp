// `stasis check`: do the wants hold, does anything look wrong.
#include <algorithm>

#include <fmt/format.h>

#include "cli/baselines.hpp"
#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/check/wants.hpp"
#include "core/check/warning.hpp"
#include "core/take/player.hpp"
#include "core/text.hpp"
#include "io/json_writer.hpp"
#include "io/junit_xml.hpp"

namespace stasis::cli {
namespace {

constexpr const char* check_example = R"text(A want is a limit in the feel:
  [[want]]
  take = "approach"
  measure = "fov.settling_time"
  at_most = 0.6

Worked examples:
  stasis check otter.toml                         a table, and status 1 if a want does not hold
  stasis check otter.toml --variant all --junit checks.xml
  stasis check otter.toml --strict                a warning that is not silenced fails too
  stasis check feels/*.toml --junit checks.xml    several at once; the worst decides the status

A take may be compared with a trace of it that was kept, so that a build machine says which channel
differs, when and by how much. --keep writes traces that are not there yet. If one differs, it shows
where, and replaces it with --force:
  [[want]]
  take = "approach"
  baseline = "approach.trace.csv"
  within = 1e-6

Every want is tried at both ends of every [setting.NAME] as well. If a warning is no mistake in your
feel, silence it there, with a reason:
  [[silence]]
  warning = "start_kick"
  about = "distance"
  reason = "the dive should start with a tug")text";

struct CheckOptions {
  FeelCall feel;
  std::vector<std::string> files;
  std::string junit;
  bool json = false, strict = false, force = false, keep = false;
};

/// Where a want was tried.
struct Trial {
  std::string variant, setting; ///< empty: the feel itself; no setting at an end of its range
  double setting_value = 0.0;

  /// ", variant heavy, setting pull = 0.1"
  std::string suffix() const {
    return (variant.empty() ? "" : ", variant " + variant)
           + (setting.empty() ? "" : fmt::format(", setting {} = {}", setting, concise(setting_value, 6)));
  }
};

struct Checked {
  std::string take;
  double seconds; ///< of the take
  Trial trial;
  WantVerdict verdict;

  std::string where() const { return take + trial.suffix(); }
};

/// One feel of the call, and what became of it.
struct CheckedFeel {
  std::string file, name;
  std::string fault; ///< not empty: it could not be read, as was said on standard error
  std::vector<Checked> checked{};
  std::vector<BaselineVerdict> baselines{};
  std::vector<Warning> warnings{};

  std::ptrdiff_t open_warnings() const {
    return std::count_if(warnings.begin(), warnings.end(), [](const Warning& w) { return w.silenced_because.empty(); });
  }
  bool fails(bool strict) const {
    const bool want_fails =
        std::any_of(checked.begin(), checked.end(), [](const Checked& c) { return !c.verdict.holds; });
    const bool drifts =
        std::any_of(baselines.begin(), baselines.end(), [](const BaselineVerdict& b) { return !b.holds(); });
    return want_fails || drifts || (strict && open_warnings() > 0);
  }
};

std::string value_text(const WantVerdict& verdict) {
  if (!verdict.value) return "did not happen";
  return readable(*verdict.value, 4) + (verdict.unit.empty() ? "" : " " + printable(verdict.unit, 20));
}

std::string warnings_page() {
  std::string page =
      "# Warnings\n\nWritten by `stasis check --warnings` from the registry that also finds them; do not edit.\n\n"
      "What `stasis check` and `stasis explain` find suspicious. None of them stops anything unless `--strict` is "
      "given; one\n"
      "that is meant to be there is silenced in the feel, with a reason: `[[silence]] warning = \"CODE\"`, perhaps\n"
      "`about = \"NAME\"`, `reason = \"...\"`.\n\n| code | why | what to do |\n|---|---|---|\n";
  for (const WarningKind& kind : warning_kinds())
    page += fmt::format("| `{}` | {} | {} |\n", kind.code, kind.why, kind.remedy);
  return page;
}

class Check {
public:
  Check(const CheckOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    Exit worst = Exit::fine;
    for (const std::string& file : options_.files) {
      feels_.push_back({file, stem_of(file), {}});
      std::string said;
      Output err(said, streams_.err);
      const Exit read = try_feel(feels_.back(), err);
      err.flush();
      streams_.err.write(said);
      if (read != Exit::fine) feels_.back().fault = said.substr(0, said.find('\n'));
      worst = std::max({worst, read, feels_.back().fails(options_.strict) ? Exit::does_not_hold : Exit::fine});
    }
    return report(worst);
  }

private:
  /// Every version of one feel, as it is and with every setting at either end of its range.
  Exit try_feel(CheckedFeel& out, Output& err) const {
    FeelCall call = options_.feel;
    call.file = out.file;
    const auto source = FeelSource::open(call, err);
    if (!source) return source.error();
    for (const std::string& variant : source->chosen(call.variants)) {
      const auto base = source->version(variant, {}, err);
      if (!base) return base.error();
      out.name = base->name;
      play(*base, {variant, "", 0.0}, true, out);
      if (const Exit held = hold_to_baselines(*base, out, err); held != Exit::fine) return held;
      for (const Setting& setting : base->feel.settings)
        for (const double end : {setting.low, setting.high}) {
          const auto ended =
              source->version(variant, {fmt::format("setting.{}.value={}", setting.name, shortest(end))}, err);
          if (!ended) return ended.error();
          play(*ended, {variant, setting.name, end}, false, out);
        }
    }
    return Exit::fine;
  }

  /// Judges the baselines that were kept of this version; with --keep, writes them first where they may be written.
  Exit hold_to_baselines(const LoadedFeel& loaded, CheckedFeel& out, Output& err) const {
    for (const Baseline& baseline : loaded.feel.baselines) {
      if (std::find(loaded.takes.begin(), loaded.takes.end(), baseline.take) == loaded.takes.end()) continue;
      const BaselinePlace place{&loaded, &baseline, out.file, options_.feel.allow_outside};
      const auto variant = kept_variant(place);
      if (!variant) {
        print_error(fmt::format("{}: {}.", printable(out.file, 200), variant.error()), err);
        return Exit::bad_input;
      }
      BaselineVerdict verdict = judge_baseline(place);
      const bool is_of_this = *variant == loaded.variant;
      if (options_.keep
          && (!verdict.exists
              || (options_.force && !(is_of_this && verdict.drift.largest == 0.0 && verdict.holds())))) {
        if (auto kept = keep_baseline(place); !kept) return failed(kept.error(), err);
        verdict = judge_baseline(place);
        verdict.was_kept = true;
      } else if (!is_of_this && verdict.exists) {
        continue; // it is another version's
      }
      out.baselines.push_back(std::move(verdict));
    }
    return Exit::fine;
  }

  /// Plays the chosen takes and judges the wants; with `warn`, looks for what seems wrong as well.
  static void play(const LoadedFeel& loaded, const Trial& trial, bool warn, CheckedFeel& out) {
    std::vector<Warning> found = warn ? warnings_of_feel(loaded.feel) : std::vector<Warning>{};
    for (const std::size_t index : loaded.takes) {
      const Take& take = loaded.feel.takes[index];
      const Scene scene{&loaded.feel, &take, clock_of(take)};
      MeasureSink measuring;
      BlockSink* const sinks[] = {&measuring};
      const TakeMeasures measures = measuring.take(stasis::play(scene, sinks));
      for (const Want& want : loaded.feel.wants)
        if (want.every_take || want.take == index)
          out.checked.push_back({take.name, take.length, trial, judge(want, loaded.feel, measures)});
      if (!warn) continue;
      for (Warning& one : warnings_of_take(loaded.feel, take, measures)) found.push_back(std::move(one));
    }
    apply_silences(loaded.feel, found);
    const std::string suffix = trial.suffix();
    for (Warning& one : found) {
      one.take += one.take.empty() ? (suffix.empty() ? "" : suffix.substr(2)) : suffix;
      const bool known = std::any_of(out.warnings.begin(), out.warnings.end(),
                                     [&](const Warning& w) { return w.code == one.code && w.message == one.message; });
      if (!known) out.warnings.push_back(std::move(one));
    }
  }

  Exit report(Exit worst) {
    // Written first: what cannot be written is no result to be read above the reason.
    if (!options_.junit.empty())
      if (auto done = io::write_file(options_.junit, junit(), options_.force); !done) {
        print_error(done.error().message + ".", streams_.err);
        return Exit::bad_file;
      }
    for (const CheckedFeel& feel : feels_) {
      if (!feel.fault.empty()) continue;
      options_.json ? streams_.out.exact_line(json(feel)) : print_text(feel);
    }
    if (!options_.junit.empty()) (options_.json ? streams_.err : streams_.out).wrote(options_.junit);
    return worst;
  }

  void print_text(const CheckedFeel& feel) const {
    Output& out = streams_.out;
    out.line(printable(feel.name, 80));
    TextTable table({"want", "bound", "found", "", "take"}, {false, false, true, false, false});
    for (const Checked& one : feel.checked)
      table.add({one.verdict.measure, one.verdict.bound, value_text(one.verdict),
                 one.verdict.holds ? "\u25cf holds" : "\u2715 fails", one.where()});
    if (!feel.checked.empty()) out.write(table.text());
    for (const BaselineVerdict& one : feel.baselines)
      out.line(fmt::format("  baseline {}: {} {}, within {} of {}{}: {}{}", printable(one.file, 80),
                           one.holds() ? "\u25cf" : "\u2715", one.holds() ? "holds" : "fails", concise(one.within, 6),
                           one.take, one.variant.empty() ? "" : ", variant " + one.variant, one.said(),
                           one.was_kept                                  ? "; kept just now"
                           : options_.keep && one.exists && !one.holds() ? "; --force would replace it"
                                                                         : ""));
    if (options_.keep && feel.baselines.empty())
      out.line("  no want of these takes names a baseline, so there is nothing to keep");
    std::ptrdiff_t silenced = 0;
    for (const Warning& warning : feel.warnings) {
      if (!warning.silenced_because.empty()) {
        ++silenced;
        continue;
      }
      const auto kind = std::find_if(warning_kinds().begin(), warning_kinds().end(),
                                     [&](const WarningKind& k) { return k.code == warning.code; });
      out.line(fmt::format("  warning {}: {}{}. {} {}", warning.code, warning.message,
                           warning.take.empty() ? "" : " (" + warning.take + ")", kind->why, kind->remedy));
    }
    for (const Warning& warning : feel.warnings)
      if (!warning.silenced_because.empty())
        out.line(fmt::format("  silenced {}: {} (because: {})", warning.code, warning.message,
                             printable(warning.silenced_because, 120)));
    const auto failed =
        std::count_if(feel.checked.begin(), feel.checked.end(), [](const Checked& c) { return !c.verdict.holds; });
    const auto drifted = std::count_if(feel.baselines.begin(), feel.baselines.end(),
                                       [](const BaselineVerdict& b) { return !b.holds(); });
    const std::size_t wants = feel.checked.size() + feel.baselines.size();
    out.line(fmt::format("  {} of {} wants hold, {} warning{}, {} silenced",
                         static_cast<std::ptrdiff_t>(wants) - failed - drifted, wants, feel.open_warnings(),
                         feel.open_warnings() == 1 ? "" : "s", silenced));
  }

  std::string json(const CheckedFeel& feel) const {
    io::JsonWriter json;
    const auto write_text = [&](std::string_view key, std::string_view text) {
      json.key(key);
      text.empty() ? json.null() : json.text(printable(text, 10'000));
    };
    json.begin_object().key("stasis").text(version).key("feel").text(printable(feel.name, 10'000));
    json.key("holds").flag(!feel.fails(options_.strict)).key("wants").begin_array();
    for (const Checked& one : feel.checked) {
      const WantVerdict& verdict = one.verdict;
      json.begin_object().key("measure").text(verdict.measure).key("rule").text(name_of(verdict.rule));
      json.key("limit").number(verdict.limit).key("within").number(verdict.within).key("value").number(verdict.value);
      json.key("unit").text(verdict.unit).key("holds").flag(verdict.holds).key("take").text(one.take);
      write_text("variant", one.trial.variant);
      write_text("setting", one.trial.setting);
      json.key("setting_value");
      one.trial.setting.empty() ? json.null() : json.number(one.trial.setting_value);
      json.key("bound").text(verdict.bound).key("where").text(one.where()).end_object();
    }
    json.end_array().key("baselines").begin_array();
    for (const BaselineVerdict& one : feel.baselines) {
      json.begin_object().key("baseline").text(printable(one.file, 10'000)).key("take").text(one.take);
      write_text("variant", one.variant);
      json.key("within").number(one.within).key("holds").flag(one.holds()).key("kept_now").flag(one.was_kept);
      json.key("largest").number(one.exists ? std::optional(one.drift.largest) : std::nullopt);
      json.key("said").text(one.said()).key("strayed").begin_array();
      for (const StrayedColumn& column : one.drift.strayed) {
        json.begin_object().key("column").text(column.name).key("first_at").number(column.first_at);
        json.key("largest").number(column.largest).key("largest_at").number(column.largest_at).end_object();
      }
      json.end_array().end_object();
    }
    json.end_array().key("warnings").begin_array();
    for (const Warning& w : feel.warnings) {
      json.begin_object().key("code").text(w.code).key("about").text(w.about).key("where").text(w.take);
      json.key("message").text(w.message);
      write_text("silenced_because", w.silenced_because);
      json.end_object();
    }
    json.end_array().end_object();
    return json.take();
  }

  std::string junit() const {
    std::vector<io::CheckedCase> cases;
    const bool several = feels_.size() > 1;
    for (const CheckedFeel& feel : feels_) {
      const std::string head = several ? feel.name + ": " : "";
      if (!feel.fault.empty())
        cases.push_back({head + "reading", feel.file + " can be read", false, feel.fault, 0.0, true});
      for (const Checked& one : feel.checked)
        cases.push_back({head + one.where(), fmt::format("{} {}", one.verdict.measure, one.verdict.bound),
                         one.verdict.holds,
                         fmt::format("found {}, wanted {}", value_text(one.verdict), one.verdict.bound), one.seconds});
      for (const BaselineVerdict& one : feel.baselines)
        cases.push_back({head + one.take + (one.variant.empty() ? "" : ", variant " + one.variant),
                         fmt::format("{} within {}", printable(one.file, 200), concise(one.within, 6)), one.holds(),
                         one.said(), one.seconds});
      for (const Warning& w : feel.warnings)
        cases.push_back({head + "warnings", fmt::format("{} {}", w.code, w.about),
                         !options_.strict || !w.silenced_because.empty(), w.message});
    }
    return io::junit_xml(several ? "stasis check" : feels_.front().name, cases);
  }

  const CheckOptions& options_;
  Streams streams_;
  std::vector<CheckedFeel> feels_;
};

} // namespace

Exit run_check(const Arguments& arguments, Streams streams) {
  Call call("stasis check",
            "Whether the wants hold and whether anything looks wrong: a table, and an exit status for build machines.",
            check_example);
  CheckOptions options;
  bool list = false;
  call.positionals("feel", options.files, "The feels, or - for standard input");
  declare_feel_versions(call, options.feel);
  call.flag("--warnings", list, "List every warning there is, why it matters and what to do, as a page");
  call.option("--junit", options.junit, "Write the results to this file as JUnit XML");
  call.flag("--strict", options.strict, "A warning that is not silenced counts as a failure");
  call.flag("--keep", options.keep, "Write the baseline traces that wants name, if they are not there yet");
  call.flag("--json", options.json, "Print as JSON");
  call.flag("--force", options.force, "Replace a file that Stasis did not write; with --keep, baselines that differ");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (list) {
    streams.out.write(warnings_page());
    return Exit::fine;
  }
  if (options.files.empty()) {
    print_error("no feel was given. `stasis check --help` shows what it takes.", streams.err);
    return Exit::bad_input;
  }
  const FeelCall& feel = options.feel;
  if (options.keep && (!feel.set.empty() || !feel.fps.empty() || feel.instant || !feel.without.empty())) {
    print_error("--keep keeps traces of the feel as it stands, without --set, --fps, --instant and --without.",
                streams.err);
    return Exit::bad_input;
  }
  if (options.keep && (feel.variants.size() > 1 || (feel.variants.size() == 1 && feel.variants[0] == "all"))) {
    print_error("--keep keeps the traces of one version; name one --variant.", streams.err);
    return Exit::bad_input;
  }
  return Check(options, streams).run();
}

} // namespace stasis::cli
