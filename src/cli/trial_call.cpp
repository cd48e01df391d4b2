#include "cli/trial_call.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/check/wants.hpp"
#include "core/feel/compose.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis::cli {
namespace {

/// The document with each of its settings at either end of its range.
std::vector<Node> setting_ends(const TrialCall& call, const Feel& feel, const Node& document) {
  std::vector<Node> out;
  if (!call.with_setting_ends) return out;
  for (const Setting& setting : feel.settings) {
    const std::string path = fmt::format("setting.{}.value", setting.name);
    if (std::find(call.free_paths.begin(), call.free_paths.end(), path) != call.free_paths.end()) continue;
    for (const double end : {setting.low, setting.high}) {
      Node ended = document;
      if (put_override(ended, path, number_node(end))) out.push_back(std::move(ended));
    }
  }
  return out;
}

} // namespace

std::string value_in_words(const Node& value) {
  if (const auto* text = value.text()) return fmt::format("\"{}\"", printable(*text, 60));
  if (const auto* real = std::get_if<double>(&value.value)) return shortest(*real);
  if (const auto* whole = std::get_if<std::int64_t>(&value.value)) return fmt::format("{}", *whole);
  if (const auto* flag = std::get_if<bool>(&value.value)) return *flag ? "true" : "false";
  return std::string(kind_in_words(value));
}

std::optional<double> OpenedTrials::number_at(const std::string& path) const {
  const Node* node = trials.cases().front().variations.at(path);
  if (node == nullptr) return std::nullopt;
  if (const Node* setting = node->find("setting"); setting != nullptr && setting->text() != nullptr)
    for (const Setting& one : base.settings)
      if (one.name == *setting->text()) return one.value;
  if (const auto* real = std::get_if<double>(&node->value)) return *real;
  if (const auto* whole = std::get_if<std::int64_t>(&node->value)) return static_cast<double>(*whole);
  if (node->text() == nullptr) return std::nullopt;
  // A text such as "40 ms" stands for a number in the key's own unit.
  const auto quantity = parse_quantity(*node->text());
  const std::string_view own = quantity ? own_unit(quantity->unit.kind) : std::string_view();
  const auto unit = own.empty() ? std::nullopt : find_unit(own);
  return quantity && unit ? std::optional(convert(quantity->value, quantity->unit, *unit)) : std::nullopt;
}

const Want* OpenedTrials::want_named(const std::string& words) const {
  for (const Want& want : base.wants) {
    const WantVerdict verdict = announced(want, base);
    if (fmt::format("{} {}", verdict.measure, verdict.bound) == words) return &want;
  }
  return nullptr;
}

void declare_trial_call(Call& call, FeelCall& feel, std::string& fps) {
  call.repeated("--set", feel.set, "Override a value for this call: path=value");
  call.repeated("--variant", feel.variants,
                "This variant instead of the base feel; base: the feel itself; all: it and every variant");
  call.repeated("--take", feel.takes, "Only this take");
  call.option("--fps", fps, "Frames a second instead of each take's own, several with commas between");
  call.flag("--allow-outside", feel.allow_outside, "Files that the feel names may lie outside its folder");
}

bool knows_measure(const OpenedTrials& opened, const std::string& measure, Output& err) {
  for (const TrialCase& one : opened.trials.cases()) {
    const auto feel = one.variations.with({});
    const auto found = feel ? measure_named(*feel, all_known_names, measure) : tl::unexpected(MeasureFault{});
    if (found) continue;
    print_error(fmt::format("{}: {}. {}", printable(measure, 80), found.error().message, found.error().hint), err);
    return false;
  }
  return true;
}

bool ask_for(OpenedTrials& opened, std::vector<std::string> measures, Output& err) {
  opened.units.clear();
  for (const std::string& measure : measures) {
    if (!knows_measure(opened, measure, err)) return false;
    opened.units.push_back(announced(*measure_named(opened.base, all_known_names, measure), opened.base).unit);
  }
  opened.trials.measure(std::move(measures));
  return true;
}

// many: what is opened, and what of which option would stand where
bool is_possible(const OpenedTrials& opened, const char* option, const std::string& path, const Node& value,
                 Output& err) {
  const auto feel = opened.trials.cases().front().variations.with({{path, value}});
  if (feel) return true;
  const Problem& first = feel.error().front();
  print_error(fmt::format("{}: {} = {} is not possible: {}.{}{}", option, path, value_in_words(value), first.message,
                          first.hint.empty() ? "" : " ", first.hint),
              err);
  return false;
}

namespace {

/// What of a call contradicts itself, in a sentence; empty if nothing does.
std::string contradiction_of(const TrialCall& call) {
  for (const std::string& set : call.feel.set)
    for (const std::string& path : call.free_paths)
      if (trimmed(std::string_view(set).substr(0, set.find('='))) == path)
        return fmt::format("{} cannot be free and --set too.", printable(path, 80));
  return {};
}

/// The rates of the option --fps, one empty text where it was not given; nothing where a part of it is empty.
std::optional<std::vector<std::string>> rates_of(const std::string& fps) {
  std::vector<std::string> rates;
  if (fps.empty()) return std::vector<std::string>{""};
  for (const std::string_view one : split(fps, ',')) rates.emplace_back(trimmed(one));
  const bool is_empty = std::any_of(rates.begin(), rates.end(), [](const std::string& one) { return one.empty(); });
  return is_empty ? std::nullopt : std::optional(rates);
}

} // namespace

tl::expected<OpenedTrials, Exit> open_trials(const TrialCall& call, Output& err) {
  if (const std::string fault = contradiction_of(call); !fault.empty()) {
    print_error(fault, err);
    return tl::unexpected(Exit::bad_input);
  }
  auto source = FeelSource::open(call.feel, err);
  if (!source) return tl::unexpected(source.error());
  const auto rates = rates_of(call.fps);
  if (!rates) {
    print_error(fmt::format("--fps: expected numbers with commas between, found \"{}\".", printable(call.fps, 60)),
                err);
    return tl::unexpected(Exit::bad_input);
  }
  std::vector<TrialCase> cases;
  std::optional<Feel> base;
  std::string title;
  for (const std::string& variant : source->chosen(call.feel.variants)) {
    // Read once as every command reads it, so that faults are told in the same words.
    const auto loaded = source->version(variant, {}, err);
    if (!loaded) return tl::unexpected(loaded.error());
    if (loaded->takes.empty()) {
      print_error("the feel has no take, so nothing can be played.", err);
      return tl::unexpected(Exit::bad_input);
    }
    std::vector<std::string> takes;
    for (const std::size_t take : loaded->takes) takes.push_back(loaded->feel.takes[take].name);
    for (const std::string& fps : *rates) {
      auto document = source->document_of(variant, fps, err);
      if (!document) return tl::unexpected(document.error());
      const auto ended = setting_ends(call, loaded->feel, *document);
      cases.push_back({variant, Variations(std::move(*document), all_known_names), takes});
      if (auto feel = cases.back().variations.with({}); !feel) {
        source->explain(feel.error(), err);
        return tl::unexpected(Exit::bad_input);
      } else if (!base) {
        base = std::move(*feel);
        title = loaded->name;
      }
      for (const Node& end : ended) cases.push_back({variant, Variations(end, all_known_names), takes});
    }
  }
  OpenedTrials opened{std::move(*source), Trials(std::move(cases), {}), std::move(*base), std::move(title), {}};
  if (!ask_for(opened, call.measures, err)) return tl::unexpected(Exit::bad_input);
  return opened;
}

} // namespace stasis::cli
