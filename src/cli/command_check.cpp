// `stasis check`: do the wants hold, does anything look wrong.
#include <algorithm>

#include <fmt/format.h>

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

constexpr const char* check_example = R"text(A want is a bound in the feel:
  [[want]]
  take = "approach"
  measure = "fov.settling_time"
  at_most = 0.6

Worked examples:
  stasis check otter.toml                         a table, and status 1 if a want does not hold
  stasis check otter.toml --variant all --junit checks.xml
  stasis check otter.toml --strict                a warning that is not silenced counts as well

Every want is tried once more at both ends of every [setting.NAME]. A warning that is meant to be
there is silenced in the feel, with a reason:
  [[silence]]
  warning = "start_kick"
  about = "distance"
  reason = "the dive should start with a tug")text";

struct CheckOptions {
  FeelCall feel;
  std::string junit;
  bool json = false, strict = false, force = false;
};

struct Checked {
  std::string where; ///< "approach", "approach, variant heavy", "approach, setting pull = 0.1"
  WantVerdict verdict;
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
    const auto source = FeelSource::open(options_.feel, streams_.err);
    if (!source) return source.error();
    for (const std::string& variant : source->chosen(options_.feel.variants)) {
      const auto base = source->version(variant, {}, streams_.err);
      if (!base) return base.error();
      name_ = base->name;
      const std::string suffix = variant.empty() ? "" : ", variant " + variant;
      play(*base, suffix, true);
      for (const Setting& setting : base->feel.settings)
        for (const double end : {setting.low, setting.high}) {
          const auto ended =
              source->version(variant, {fmt::format("setting.{}.value={}", setting.name, shortest(end))}, streams_.err);
          if (!ended) return ended.error();
          play(*ended, fmt::format("{}, setting {} = {}", suffix, setting.name, concise(end, 6)), false);
        }
    }
    return report();
  }

private:
  /// Plays the chosen takes and judges the wants; with `warn`, looks for what seems wrong as well.
  void play(const LoadedFeel& loaded, const std::string& suffix, bool warn) {
    std::vector<Warning> found = warn ? warnings_of_feel(loaded.feel) : std::vector<Warning>{};
    for (const std::size_t index : loaded.takes) {
      const Take& take = loaded.feel.takes[index];
      const Scene scene{&loaded.feel, &take, clock_of(take)};
      MeasureSink measuring;
      BlockSink* const sinks[] = {&measuring};
      const TakeMeasures measures = measuring.take(stasis::play(scene, sinks));
      for (const Want& want : loaded.feel.wants)
        if (want.every_take || want.take == index)
          checked_.push_back({take.name + suffix, judge(want, loaded.feel, measures)});
      if (!warn) continue;
      for (Warning& one : warnings_of_take(loaded.feel, take, measures)) found.push_back(std::move(one));
    }
    apply_silences(loaded.feel, found);
    for (Warning& one : found) {
      one.take += one.take.empty() ? (suffix.empty() ? "" : suffix.substr(2)) : suffix;
      const bool known = std::any_of(warnings_.begin(), warnings_.end(),
                                     [&](const Warning& w) { return w.code == one.code && w.message == one.message; });
      if (!known) warnings_.push_back(std::move(one));
    }
  }

  bool fails() const {
    const bool want_fails =
        std::any_of(checked_.begin(), checked_.end(), [](const Checked& c) { return !c.verdict.holds; });
    return want_fails || (options_.strict && open_warnings() > 0);
  }

  std::ptrdiff_t open_warnings() const {
    return std::count_if(warnings_.begin(), warnings_.end(),
                         [](const Warning& w) { return w.silenced_because.empty(); });
  }

  Exit report() {
    // Written first: what cannot be written is no result to be read above the reason.
    if (!options_.junit.empty())
      if (auto done = io::write_file(options_.junit, junit(), options_.force); !done) {
        print_error(done.error().message + ".", streams_.err);
        return Exit::bad_file;
      }
    options_.json ? streams_.out.line(json()) : print_text();
    if (!options_.junit.empty()) {
      (options_.json ? streams_.err : streams_.out).line("  wrote " + options_.junit);
    }
    return fails() ? Exit::does_not_hold : Exit::fine;
  }

  void print_text() {
    Output& out = streams_.out;
    out.line(printable(name_, 80));
    TextTable table({"want", "bound", "found", "", "take"}, {false, false, true, false, false});
    for (const Checked& one : checked_)
      table.add({one.verdict.measure, one.verdict.bound, value_text(one.verdict),
                 one.verdict.holds ? "\u25cf holds" : "\u2715 fails", one.where});
    if (!checked_.empty()) out.write(table.text());
    std::ptrdiff_t silenced = 0;
    for (const Warning& warning : warnings_) {
      if (!warning.silenced_because.empty()) {
        ++silenced;
        continue;
      }
      const auto kind = std::find_if(warning_kinds().begin(), warning_kinds().end(),
                                     [&](const WarningKind& k) { return k.code == warning.code; });
      out.line(fmt::format("  warning {}: {}{}. {} {}", warning.code, warning.message,
                           warning.take.empty() ? "" : " (" + warning.take + ")", kind->why, kind->remedy));
    }
    for (const Warning& warning : warnings_)
      if (!warning.silenced_because.empty())
        out.line(fmt::format("  silenced {}: {} (because: {})", warning.code, warning.message,
                             printable(warning.silenced_because, 120)));
    const auto failed =
        std::count_if(checked_.begin(), checked_.end(), [](const Checked& c) { return !c.verdict.holds; });
    out.line(fmt::format("  {} of {} wants hold, {} warning{}, {} silenced",
                         static_cast<std::ptrdiff_t>(checked_.size()) - failed, checked_.size(), open_warnings(),
                         open_warnings() == 1 ? "" : "s", silenced));
  }

  std::string json() const {
    io::JsonWriter json;
    json.begin_object()
        .key("stasis")
        .text(version)
        .key("feel")
        .text(printable(name_, 10'000))
        .key("holds")
        .flag(!fails());
    json.key("wants").begin_array();
    for (const Checked& one : checked_) {
      json.begin_object()
          .key("measure")
          .text(one.verdict.measure)
          .key("bound")
          .text(one.verdict.bound)
          .key("value")
          .number(one.verdict.value);
      json.key("unit")
          .text(one.verdict.unit)
          .key("holds")
          .flag(one.verdict.holds)
          .key("where")
          .text(one.where)
          .end_object();
    }
    json.end_array().key("warnings").begin_array();
    for (const Warning& w : warnings_) {
      json.begin_object()
          .key("code")
          .text(w.code)
          .key("about")
          .text(w.about)
          .key("where")
          .text(w.take)
          .key("message")
          .text(w.message);
      json.key("silenced_because");
      w.silenced_because.empty() ? json.null() : json.text(printable(w.silenced_because, 10'000));
      json.end_object();
    }
    json.end_array().end_object();
    return json.take();
  }

  std::string junit() const {
    std::vector<io::CheckedCase> cases;
    for (const Checked& one : checked_)
      cases.push_back({one.where, fmt::format("{} {}", one.verdict.measure, one.verdict.bound), one.verdict.holds,
                       fmt::format("found {}, wanted {}", value_text(one.verdict), one.verdict.bound)});
    for (const Warning& w : warnings_)
      cases.push_back({"warnings", fmt::format("{} {}", w.code, w.about),
                       !options_.strict || !w.silenced_because.empty(), w.message});
    return io::junit_xml(name_, cases);
  }

  const CheckOptions& options_;
  Streams streams_;
  std::string name_;
  std::vector<Checked> checked_;
  std::vector<Warning> warnings_;
};

} // namespace

Exit run_check(const Arguments& arguments, Streams streams) {
  Call call("stasis check",
            "Do the wants hold, does anything look wrong: a table, and an exit status for build machines.",
            check_example);
  CheckOptions options;
  bool list = false;
  call.positional("feel", options.feel.file, "The feel, or - for standard input", false);
  declare_feel_versions(call, options.feel);
  call.flag("--warnings", list, "List every warning there is, why it matters and what to do, as a page");
  call.option("--junit", options.junit, "Write the results to this file as JUnit XML");
  call.flag("--strict", options.strict, "A warning that is not silenced counts as a failure");
  call.flag("--json", options.json, "Print as JSON");
  call.flag("--force", options.force, "Replace a file that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (list) {
    streams.out.write(warnings_page());
    return Exit::fine;
  }
  if (options.feel.file.empty()) {
    print_error("no feel was given. `stasis check --help` shows what it takes.", streams.err);
    return Exit::bad_input;
  }
  return Check(options, streams).run();
}

} // namespace stasis::cli
