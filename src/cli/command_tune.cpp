// `stasis tune`: a word of feel as a change of numbers.
#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "cli/draw.hpp"
#include "cli/load_feel.hpp"
#include "cli/readings.hpp"
#include "cli/rewrite_feel.hpp"
#include "cli/table.hpp"
#include "cli/version.hpp"
#include "core/explain/explain.hpp"
#include "core/measure/comparison.hpp"
#include "core/measure/shake_measures.hpp"
#include "core/search/feel_words.hpp"
#include "core/text.hpp"
#include "figure/compare_figure.hpp"
#include "io/json_writer.hpp"
#include "io/scratch_shelf.hpp"

namespace stasis::cli {
namespace {

constexpr const char* tune_example = R"(Worked examples:
  stasis tune otter.toml fov snappier            shows what would change, and what that does
  stasis tune otter.toml fov snappier 0.5        half of it; -1 is the opposite
  stasis tune otter.toml fov no wobble --write   also writes it into the feel, and keeps comments
  stasis tune otter.toml log_hit punchier        a shake has words of its own
  stasis tune swim.toml distance softer start --change-kind    a glide becomes two in a row
  stasis tune --words                            every word, and what it does)";

struct TuneOptions {
  FeelCall feel;
  std::vector<std::string> words;
  std::string out = "stasis-out", figure = "png", call;
  bool list = false, write = false, json = false, force = false, change_kind = false;
};

/// One measure of a motion or a shake, before and after.
struct TunedMeasure {
  std::string about, measure, unit;
  std::optional<double> before, after;
};

std::string word_list() {
  TextTable table({"word", "of", "what it does"}, {false, false, false});
  for (const FeelWord& word : feel_words())
    table.add(
        {std::string(word.word), word.of == FeelWord::Of::shake ? "a shake" : "a channel", std::string(word.effect)});
  return table.text();
}

class Tune {
public:
  Tune(const TuneOptions& options, Streams streams) : options_(options), streams_(streams) {}

  Exit run() {
    if (const Exit read = read_words(); read != Exit::fine) return read;
    auto source = FeelSource::open(options_.feel, streams_.err);
    if (!source) return source.error();
    auto document = source->document_of("", "", streams_.err);
    auto before = source->version("", {}, streams_.err);
    if (!document || !before) return Exit::bad_input;
    if (const Exit known = find_target(before->feel); known != Exit::fine) return known;
    auto outcome = changes_by_word(*document, name_, *word_, amount_, options_.change_kind ? &before->feel : nullptr);
    if (!outcome) {
      const auto other = changes_by_word(*document, name_, *word_, amount_, &before->feel);
      return refuse(outcome.error() + (other ? ". `--change-kind` changes it" : ""), Exit::does_not_hold);
    }
    outcome_ = std::move(*outcome);
    std::vector<std::string> sets;
    for (const ValueChange& change : outcome_.changes) // another kind drops the keys of the one before by itself
      if (!change.after.empty()) sets.push_back(change.path + "=" + change.after);
    auto after = source->version("", sets, streams_.err);
    if (!after) return after.error();
    measure(*document, before->feel, after->feel);
    print(before->name);
    if (options_.figure != "none")
      if (const auto drawn = draw(*before, *after); !drawn) return failed(drawn.error(), streams_.err);
    return options_.write ? write() : Exit::fine;
  }

private:
  Exit refuse(const std::string& message, Exit status = Exit::bad_input) const {
    print_error(message + ".", streams_.err);
    return status;
  }

  /// "fov", "no wobble", 2.
  Exit read_words() {
    std::vector<std::string> words = options_.words;
    if (words.size() < 2)
      return refuse("expected a channel or a shake, then a word: stasis tune FEEL fov snappier. `stasis tune --words` "
                    "lists the words");
    name_ = words.front();
    words.erase(words.begin());
    if (const auto amount = words.size() > 1 ? read_number(words.back()) : std::nullopt) {
      amount_ = *amount;
      has_amount_ = true;
      words.pop_back();
    }
    std::string all;
    for (const std::string& one : words) all += (all.empty() ? "" : " ") + one;
    word_ = feel_word(all);
    std::vector<std::string_view> known;
    for (const FeelWord& one : feel_words()) known.push_back(one.word);
    const std::size_t last = all.rfind(' ');
    if (word_ == nullptr && last != std::string::npos && feel_word(all.substr(0, last)) != nullptr)
      return refuse(fmt::format("an amount is a number from -20 to 20, and \"{}\" is not one",
                                printable(all.substr(last + 1), 60)));
    if (word_ == nullptr)
      return refuse(fmt::format("there is no word \"{}\".{} Known: {}", printable(all, 60), did_you_mean(all, known),
                                listed(known)));
    if (has_amount_ && !word_->has_amount)
      return refuse(fmt::format("\"{}\" is done or not; it takes no amount", word_->word));
    if (std::fabs(amount_) > 20.0) return refuse("an amount goes from -20 to 20");
    return Exit::fine;
  }

  Exit find_target(const Feel& feel) {
    const auto has = [&](const auto& all) {
      return std::any_of(all.begin(), all.end(), [&](const auto& one) { return one.name == name_; });
    };
    const bool of_shake = word_->of == FeelWord::Of::shake, is_channel = has(feel.channels),
               is_shake = has(feel.shakes);
    std::vector<std::string_view> known;
    if (of_shake)
      for (const Shake& one : feel.shakes) known.push_back(one.name);
    else
      for (const Channel& one : feel.channels) known.push_back(one.name);
    if (of_shake ? is_shake : is_channel) return Exit::fine;
    if (is_shake || is_channel)
      return refuse(fmt::format("\"{}\" is a word for {}, and {} is a {}", word_->word,
                                of_shake ? "shakes" : "channels", name_, is_shake ? "shake" : "channel"));
    if (known.empty())
      return refuse(fmt::format("the feel has no {} at all, so none named \"{}\"", of_shake ? "shake" : "channel",
                                printable(name_, 60)));
    return refuse(fmt::format("the feel has no {} named \"{}\".{}{}", of_shake ? "shake" : "channel",
                              printable(name_, 60), did_you_mean(name_, known),
                              known.empty() ? "" : fmt::format(" Known: {}", listed(known))));
  }

  void add(const std::string& about, const char* name, const char* unit, const std::optional<double>& before,
           const std::optional<double>& after) {
    if (before || after) measures_.push_back({about, name, unit, before, after});
  }

  void measure(const Node& document, const Feel& before, const Feel& after) {
    if (word_->of == FeelWord::Of::shake) return measure_shake(before, after);
    const auto was = account_of(before, channel_of(before)), now = account_of(after, channel_of(after));
    for (std::size_t m = 0; m < std::min(was.motions.size(), now.motions.size()); ++m) {
      const MotionAccount &a = was.motions[m], &b = now.motions[m];
      const bool is_in_pose = a.when.starts_with("entering") || a.when.starts_with("leaving");
      if (is_in_pose) continue; // motions of poses are their own
      const std::string about = a.name + (a.when.empty() ? "" : ", " + a.when);
      add(about, "half of a step after", "s", a.step.to_50, b.step.to_50);
      add(about, "90 % after", "s", a.step.to_90, b.step.to_90);
      add(about, "settled after", "s", a.step.settling_time, b.step.settling_time);
      add(about, "overshoot", "%", a.step.overshoot, b.step.overshoot);
      add(about, "start kick", "", a.step.start_kick, b.step.start_kick);
      if (word_->of_acceleration)
        add(about, "peak acceleration, of the way", "/s2", a.step.peak_acceleration, b.step.peak_acceleration);
      add(about, "lag behind what moves", "s", a.lag, b.lag);
    }
    for (const std::string& path : motion_paths(document, name_))
      for (const Channel& other : before.channels) {
        if (other.name == name_ || !path.starts_with("motion.")) continue;
        const auto theirs = motion_paths(document, other.name);
        if (std::find(theirs.begin(), theirs.end(), path) != theirs.end())
          shared_.push_back(fmt::format("{} moves {} as well", path.substr(7), other.name));
      }
  }

  std::size_t channel_of(const Feel& feel) const {
    for (std::size_t c = 0; c < feel.channels.size(); ++c)
      if (feel.channels[c].name == name_) return c;
    return 0;
  }

  void measure_shake(const Feel& before, const Feel& after) {
    const auto found = [&](const Feel& feel) -> const Shake& {
      return *std::find_if(feel.shakes.begin(), feel.shakes.end(), [&](const Shake& s) { return s.name == name_; });
    };
    const Shake &was = found(before), &now = found(after);
    for (std::size_t t = 0; t < std::min(was.targets.size(), now.targets.size()); ++t) {
      const Channel& channel = before.channels[was.targets[t].component.channel];
      measures_.push_back({component_name(channel, was.targets[t].component.component), "at full strength",
                           channel.unit, was.targets[t].amplitude, now.targets[t].amplitude});
    }
    const auto half_life = [](const Shake& shake) {
      const auto* ring = std::get_if<RingWave>(&shake.wave);
      return ring != nullptr ? std::optional(ring_half_life(*ring)) : half_life_of(shake.decay, shake.decay.at_fps);
    };
    add(name_, "half-life", "s", half_life(was), half_life(now));
    const auto frequency = [](const Shake& shake) {
      const auto spectrum = spectrum_of(shake.wave);
      return spectrum ? std::optional(spectrum->centroid) : std::nullopt;
    };
    add(name_, "main frequency", "Hz", frequency(was), frequency(now));
  }

  void print(const std::string& title) const {
    if (options_.json) {
      streams_.out.exact_line(json(title));
      return;
    }
    streams_.out.line(fmt::format("{}: {} {}{}: {}", printable(title, 80), name_, word_->word,
                                  has_amount_ ? fmt::format(", {} times over", concise(amount_)) : "", word_->effect));
    TextTable changes({"value", "now", "then"}, {false, true, true});
    for (const ValueChange& change : outcome_.changes)
      changes.add({change.path, change.before.empty() ? "\u2013" : change.before,
                   change.after.empty() ? "taken out" : change.after});
    streams_.out.write(changes.text());
    TextTable table({"", "", "now", "then"}, {false, false, true, true});
    const auto text = [](const std::optional<double>& value, const std::string& unit) {
      if (!value) return std::string("\u2013");
      return readable(*value) + (unit.empty() ? "" : " " + printable(unit, 16));
    };
    for (const TunedMeasure& one : measures_)
      table.add({one.about, one.measure, text(one.before, one.unit), text(one.after, one.unit)});
    if (!measures_.empty()) streams_.out.write(table.text());
    for (const std::string& one : shared_) streams_.out.line("  note: " + one);
    if (!outcome_.exception.empty()) streams_.out.line("  note: " + outcome_.exception);
    if (!options_.write) streams_.out.line("  nothing written: --write puts it into the feel");
  }

  std::string json(const std::string& title) const {
    io::JsonWriter json;
    json.begin_object().key("stasis").text(version).key("feel").text(printable(title, 10'000));
    json.key("about").text(name_).key("word").text(word_->word).key("amount").number(amount_);
    json.key("effect").text(word_->effect).key("changes");
    write_value_changes(json, outcome_.changes);
    json.key("measures").begin_array();
    for (const TunedMeasure& one : measures_)
      json.begin_object()
          .key("about")
          .text(one.about)
          .key("measure")
          .text(one.measure)
          .key("unit")
          .text(one.unit)
          .key("before")
          .number(one.before)
          .key("after")
          .number(one.after)
          .end_object();
    json.end_array().key("notes").begin_array();
    for (const std::string& one : shared_) json.text(one);
    if (!outcome_.exception.empty()) json.text(outcome_.exception);
    return json.end_array().end_object().take();
  }

  io::FileResult<void> draw(const LoadedFeel& before, const LoadedFeel& after) const {
    std::vector<NamedFigure> figures;
    for (const std::size_t index : before.takes) {
      const Take& take = before.feel.takes[index];
      const std::vector<Contender> contenders{
          play_contender("now", before.feel, take, io::scratch_shelf()),
          play_contender(std::string(word_->word), after.feel, after.feel.takes[index], io::scratch_shelf())};
      auto channels = shared_channels(contenders);
      if (word_->of != FeelWord::Of::shake)
        std::erase_if(channels, [&](const SharedChannel& one) { return one.name != name_; });
      if (channels.empty()) continue;
      figures.push_back({"tune." + take.name, figure::compare_figure({&contenders, &channels, before.name, {}})});
    }
    return draw_into({options_.out, options_.figure, options_.force}, figures,
                     options_.json ? streams_.err : streams_.out, streams_.err);
  }

  Exit write() const {
    std::vector<WrittenValue> values;
    for (const ValueChange& change : outcome_.changes) values.push_back({change.path, change.after});
    return write_values({options_.feel.file, options_.feel.allow_outside, options_.call}, values,
                        options_.json ? streams_.err : streams_.out, streams_.err);
  }

  const TuneOptions& options_;
  Streams streams_;
  std::string name_;
  const FeelWord* word_ = nullptr;
  double amount_ = 1.0;
  bool has_amount_ = false;
  WordOutcome outcome_;
  std::vector<TunedMeasure> measures_;
  std::vector<std::string> shared_;
};

} // namespace

Exit run_tune(const Arguments& arguments, Streams streams) {
  Call call("stasis tune", "A word of feel, such as snappier or heavier, as a change of numbers.", tune_example);
  TuneOptions options;
  options.call = typed("stasis tune", arguments);
  call.positional("feel", options.feel.file, "The feel, or - for standard input", false);
  call.positionals("channel word", options.words, "A channel or a shake, a word, and how much of it (1 if not given)");
  call.flag("--words", options.list, "List the words, and what each does");
  call.flag("--write", options.write, "Write the change into the feel, and keep its comments");
  call.flag("--change-kind", options.change_kind, "If a motion's kind cannot do it, change it to one that can");
  call.repeated("--take", options.feel.takes, "Draw only this take");
  call.flag("--allow-outside", options.feel.allow_outside, "Files that the feel names may lie outside its folder");
  call.folder(options.out, "Folder for the figures");
  call.choice("--figure", options.figure, {"svg", "png", "none"}, "What is drawn: before and after, over each other");
  call.flag("--json", options.json, "Print the change as JSON");
  call.flag("--force", options.force, "Replace files that Stasis did not write");
  if (const auto ended = call.parse(arguments, streams)) return *ended;
  if (options.list) {
    if (!options.feel.file.empty()) {
      print_error("--words lists the words for every feel; leave out what else is asked for.", streams.err);
      return Exit::bad_input;
    }
    streams.out.write(word_list());
    return Exit::fine;
  }
  if (options.feel.file.empty()) {
    print_error("no feel was given. `stasis tune --help` shows what it takes.", streams.err);
    return Exit::bad_input;
  }
  if (options.write && options.feel.file == "-") {
    print_error("--write changes a file; standard input is not a file.", streams.err);
    return Exit::bad_input;
  }
  return Tune(options, streams).run();
}

} // namespace stasis::cli
