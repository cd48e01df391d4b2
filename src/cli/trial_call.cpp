#include "cli/trial_call.hpp"

#include <algorithm>

#include <fmt/format.h>

#include "core/check/wants.hpp"
#include "core/feel/compose.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis::cli {
namespace {

std::string unit_of_measure(const Feel& feel, const Want& want) { return announced(want, feel).unit; }

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

/// "fov.settling_time at_most 0.35", "fov.overshoot near 3 within 0.5".
tl::expected<std::pair<std::string, Want>, std::string> parse_want(const std::string& text) {
  constexpr const char* shape =
      "expected MEASURE at_most NUMBER, MEASURE at_least NUMBER or MEASURE near NUMBER within NUMBER";
  std::vector<std::string_view> words;
  for (const std::string_view word : split(text, ' '))
    if (!word.empty()) words.push_back(word);
  if (words.size() != 3 && words.size() != 5) return tl::unexpected(std::string(shape));
  Want want;
  const auto bound = read_number(words[2]);
  if (!bound) return tl::unexpected(std::string(shape));
  want.bound = *bound;
  if (words[1] == "at_most" && words.size() == 3) {
    want.rule = WantRule::at_most;
  } else if (words[1] == "at_least" && words.size() == 3) {
    want.rule = WantRule::at_least;
  } else if (words[1] == "near" && words.size() == 5 && words[3] == "within" && read_number(words[4])) {
    want.rule = WantRule::near;
    want.within = *read_number(words[4]);
  } else {
    return tl::unexpected(std::string(shape));
  }
  return std::pair(std::string(words[0]), want);
}

tl::expected<OpenedTrials, Exit> open_trials(const TrialCall& call, Output& err) {
  auto source = FeelSource::open(call.feel, err);
  if (!source) return tl::unexpected(source.error());
  std::vector<std::string> rates{""};
  if (!call.fps.empty()) {
    rates.clear();
    for (const std::string_view one : split(call.fps, ',')) rates.emplace_back(trimmed(one));
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
    for (const std::string& measure : call.measures)
      if (const auto found = measure_named(loaded->feel, all_known_names, measure); !found) {
        print_error(fmt::format("{}: {}. {}", printable(measure, 80), found.error().message, found.error().hint), err);
        return tl::unexpected(Exit::bad_input);
      }
    for (const std::string& fps : rates) {
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
  std::vector<std::string> units;
  for (const std::string& measure : call.measures)
    units.push_back(unit_of_measure(*base, *measure_named(*base, all_known_names, measure)));
  return OpenedTrials{std::move(*source), Trials(std::move(cases), call.measures), std::move(*base), std::move(title),
                      std::move(units)};
}

} // namespace stasis::cli
