// `stasis rates`: is it the same at every frame rate, and why not.
#include <algorithm>
#include <filesystem>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/progress.hpp"
#include "cli/rates_report.hpp"
#include "cli/rewrite_feel.hpp"
#include "cli/run_takes.hpp"
#include "core/feel/key_table.hpp"
#include "core/text.hpp"
#include "figure/rates_figure.hpp"
#include "io/feel_files.hpp"
#include "io/frame_rules_edit.hpp"

namespace stasis::cli {
namespace {

constexpr const char* rates_example =
    R"text(Worked examples:
  stasis rates otter.toml --take approach

plays the take at 15, 30, 60 and 144 frames a second, with jitter and with stalls, and says how far each
channel is from the exact path: because of its motion (rule error), and because inputs wait for
the next frame (input wait). It names the worst channel, says why, and gives the replacement. Writes
rates.<take>.json and rates.<take>.png, and rates.<take>.ticks.png where subjects go by a tick.
  stasis rates otter.toml --at 24,50,120 --only side     other rates, one channel in detail
  stasis rates otter.toml --write                        every per-frame rule becomes its equivalent in the
                                                         feel itself; comments, order and blanks survive)text";

struct RatesOptions {
  FeelCall feel;
  std::string at = "15,30,60,144", out = "stasis-out", figure = "png";
  std::vector<std::string> only;
  bool json = false, force = false, write = false;
};

/// The rates of --at; nothing, with the fault explained on `err`, where one is none.
std::optional<std::vector<double>> rates_of(const std::string& text, Output& err) {
  constexpr double lowest = 1.0, highest = 10'000.0;
  constexpr std::size_t most = 12;
  std::vector<double> rates;
  for (const std::string_view word : split(text, ',')) {
    const auto rate = read_number(word);
    if (!rate || *rate < lowest || *rate > highest) {
      print_error(fmt::format("--at takes frames a second, {} to {}, with commas between; found \"{}\".", lowest,
                              highest, printable(word, 40)),
                  err);
      return std::nullopt;
    }
    if (std::find(rates.begin(), rates.end(), *rate) == rates.end()) rates.push_back(*rate);
  }
  std::sort(rates.begin(), rates.end());
  if (!rates.empty() && rates.size() <= most) return rates;
  print_error(fmt::format("--at takes 1 to {} rates, such as 15,30,60,144.", most), err);
  return std::nullopt;
}

io::FileResult<void> rate_take(const LoadedFeel& loaded, const Take& take, const RatesOptions& options,
                               const std::vector<double>& rates, Streams streams) {
  Progress progress(streams.err, "stretches of the take");
  figure::RatesSeries series;
  const RatesAccount account = play_rates(loaded.feel, take, usual_cases(take, rates), progress.how_far(), &series);
  progress.clear();
  const std::vector<TickStudy> ticks = study_ticks(loaded.feel, take);
  const std::string title = loaded.name + (loaded.variant.empty() ? "" : ", variant " + loaded.variant);
  const RatesReport report{&account, &ticks, title, options.only};
  const std::string json = rates_json(report);
  const std::string stem = options.out + "/rates." + take.name + (loaded.variant.empty() ? "" : "." + loaded.variant);
  std::vector<std::string> written;
  auto done = io::write_file(stem + ".json", json + "\n", options.force);
  if (done) written.push_back(stem + ".json");
  if (options.json)
    streams.out.exact_line(json);
  else
    streams.out.write(rates_text(report));
  if (done)
    done = draw_figure(figure::rates_figure({&account, &series, title, options.only}), stem, options.figure,
                       options.force, written);
  if (done && !ticks.empty())
    done = draw_figure(figure::ticks_figure({&loaded.feel, &take, &ticks, title}), stem + ".ticks", options.figure,
                       options.force, written);
  for (const std::string& path : written) (options.json ? streams.err : streams.out).wrote(path);
  return done;
}

/// Replaces every per-frame rule in a file's own text. \param is_feel  false of one that the feel includes, of which
/// what cannot be read alone is left alone. \returns whether anything was replaced.
tl::expected<bool, Exit> replace_in(const Rewriting& rewriting, bool is_feel, Streams streams) {
  bool is_written = false;
  const Exit ended = rewrite_feel(
      rewriting, streams.err, [&](const std::string& text) -> tl::expected<std::optional<std::string>, Exit> {
        const Exit is = is_feel ? validity_of(rewriting.file, text, rewriting.allow_outside, streams.err) : Exit::fine;
        if (is != Exit::fine) return tl::unexpected(is);
        auto edit = io::replace_frame_rules(text);
        if (!edit && !is_feel) {
          streams.out.line(fmt::format("  {} is left alone: {}", rewriting.file, edit.error().front().message));
          return std::nullopt;
        }
        if (!edit) {
          print_problems(edit.error(), {{rewriting.file, text}}, streams.err);
          return tl::unexpected(Exit::bad_input);
        }
        for (const std::string& line : edit->said) streams.out.line("  " + line);
        is_written = edit->replaced > 0;
        return is_written ? std::optional(std::move(edit->text)) : std::nullopt;
      });
  if (ended != Exit::fine) return tl::unexpected(ended);
  if (is_written) streams.out.wrote(rewriting.file);
  return is_written;
}

/// Replaces every per-frame rule in the feel and in what it includes.
Exit write_replacements(const Rewriting& rewriting, Streams streams) {
  if (rewriting.file == "-") {
    print_error("--write changes a file; standard input is not a file.", streams.err);
    return Exit::bad_input;
  }
  const auto in_feel = replace_in(rewriting, true, streams);
  if (!in_feel) return in_feel.error();
  bool is_written = *in_feel;
  for (const std::string& file : included_files(rewriting.file, rewriting.allow_outside)) {
    Rewriting included = rewriting;
    included.file = file;
    const auto in_file = replace_in(included, false, streams);
    if (!in_file) return in_file.error();
    is_written = is_written || *in_file;
  }
  if (!is_written) streams.out.line(fmt::format("  nothing to replace in {}", rewriting.file));
  return Exit::fine;
}

} // namespace

Exit run_rates(const Arguments& arguments, Streams streams) {
  Call call("stasis rates", "Whether the feel is the same at every frame rate: the worst channel, why, and the fix.",
            rates_example);
  RatesOptions options;
  declare_feel_call(call, options.feel);
  call.option("--at", options.at, "Frames a second, with commas between");
  call.folder(options.out, "Folder for the files");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn");
  call.repeated("--only", options.only, "Tell and draw this channel");
  call.flag("--json", options.json, "Print the account as JSON, one line a take");
  call.flag("--write", options.write,
            "Put the equivalent of every per-frame rule into the feel, and keep its comments");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  const auto rates = rates_of(options.at, streams.err);
  if (!rates) return Exit::bad_input;
  if (options.write) {
    // What chooses among takes and versions would have no effect: the rules of the whole file are replaced.
    const auto others = call.order_of({"--set", "--variant", "--take", "--fps", "--instant", "--without", "--at",
                                       "--out", "--figure", "--only", "--json", "--force"});
    if (!others.empty()) {
      print_error(
          fmt::format("--write replaces the rules of the whole file, so {} has no effect beside it.", others.front()),
          streams.err);
      return Exit::bad_input;
    }
    return write_replacements({options.feel.file, options.feel.allow_outside, typed("stasis rates", arguments)},
                              streams);
  }
  const auto feels = load_feels(options.feel, streams.err);
  if (!feels) return feels.error();
  for (const LoadedFeel& loaded : *feels)
    if (!known_channels(loaded.feel, options.only, streams.err)) return Exit::bad_input;
  if (auto made = io::make_folder(options.out); !made) return failed(made.error(), streams.err);
  if (options.figure != "none") warn_without_font(streams.err);
  for (const LoadedFeel& loaded : *feels)
    for (const std::size_t take : loaded.takes)
      if (const auto done = rate_take(loaded, loaded.feel.takes[take], options, *rates, streams); !done)
        return failed(done.error(), streams.err);
  return Exit::fine;
}

} // namespace stasis::cli
