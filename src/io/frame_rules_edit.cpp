#include "io/frame_rules_edit.hpp"

#include <algorithm>
#include <optional>

#include <fmt/format.h>

#include "core/feel/compose.hpp"
#include "core/feel/frame_rules.hpp"
#include "core/motion/equivalent.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"
#include "io/variant_overrides.hpp"

namespace stasis::io {
namespace {

/// The keys of a rule, each as it is named in the equivalent: what sets how quick it is keeps its line.
std::vector<KeyChange> changes_of(const PerFrame& rule, const Motion& to) {
  std::vector<KeyChange> changes;
  const auto put = [&](const char* key, const char* now, std::string value) {
    changes.push_back({key, now, std::move(value)});
  };
  const auto take_out = [&](const char* key) { changes.push_back({key, "", ""}); };
  put("kind", "kind", fmt::format("\"{}\"", kind_of(to)));
  const std::string_view name = name_of(rule.rule);
  const char* const quickness = name == "fraction" ? "fraction" : name == "product" ? "rate" : "amount";
  if (const auto* glide = std::get_if<Glide>(&to))
    put(quickness, "half_life", shortest(rate_of_half_life(1.0) / glide->rate));
  else if (const auto* pace = std::get_if<Pace>(&to))
    put(quickness, "speed", shortest(pace->speed));
  else if (const auto* spring = std::get_if<Spring>(&to)) {
    put("stiffness", "frequency", shortest(natural_frequency_hz(spring->angular_frequency)));
    put("damping", "damping_ratio", shortest(spring->damping_ratio));
  } else
    take_out(quickness);
  for (const char* key : {"rule", "clamp", "method", "at_fps"}) take_out(key);
  return changes;
}

/// The rule at a path as a variant has it; nothing where that is no whole rule any more.
std::optional<PerFrame> rule_of_variant(std::string_view text, const std::string& variant, const std::string& path) {
  auto document = read_toml(text, 0);
  if (!document || !apply_variant(*document, variant) || !resolve_settings(*document)) return std::nullopt;
  for (const FrameRuleAt& one : frame_rules_in(*document))
    if (one.path == path) return one.rule;
  return std::nullopt;
}

/// One edit of the text: which table, which keys.
struct TableChange {
  std::string table;
  std::vector<KeyChange> changes;
  std::string said;
};

/// How a variant's own numbers of a rule are written once the rule is its equivalent: each under the equivalent's name.
/// The error is why the rule must stay as it is.
tl::expected<std::vector<TableChange>, std::string> changes_of_variants(std::string_view text, const FrameRuleAt& rule,
                                                                        const Motion& equivalent,
                                                                        const std::vector<Override>& overrides) {
  std::vector<TableChange> all;
  std::vector<std::string> variants;
  for (const Override& one : overrides)
    if (std::find(variants.begin(), variants.end(), one.variant) == variants.end()) variants.push_back(one.variant);
  for (const std::string& variant : variants) {
    const auto own_rule = rule_of_variant(text, variant, rule.path);
    const auto own = own_rule ? equivalent_of(*own_rule) : std::nullopt;
    if (!own || kind_of(own->motion) != kind_of(equivalent))
      return tl::unexpected(fmt::format("the variant {} makes another rule of it", variant));
    std::vector<KeyChange> wanted; // those that carry a number over
    for (KeyChange& one : changes_of(*own_rule, own->motion))
      if (!one.new_key.empty() && one.key != "kind") wanted.push_back(std::move(one));
    std::vector<const Override*> free;
    for (const Override& one : overrides)
      if (one.variant == variant) free.push_back(&one);
    if (wanted.size() > free.size())
      return tl::unexpected(fmt::format("the variant {} changes one of its numbers, and both of the equivalent's would "
                                        "be others",
                                        variant));
    for (std::size_t k = 0; k < free.size(); ++k) {
      TableChange change{free[k]->table, {{free[k]->key, "", ""}}, {}};
      if (k < wanted.size()) {
        const std::string key = wanted[k].new_key;
        change.changes.front().new_key = free[k]->renamed(key);
        change.changes.front().value = wanted[k].value;
        change.said = fmt::format("variant.{}: {}.{} = {}", variant, rule.path, key, wanted[k].value);
      }
      all.push_back(std::move(change));
    }
  }
  return all;
}

} // namespace

Result<FrameRulesEdit> replace_frame_rules(std::string_view text) {
  auto document = read_toml(text, 0);
  if (!document) return tl::unexpected(document.error());
  if (auto used = resolve_settings(*document); !used) return tl::unexpected(used.error());
  FrameRulesEdit edit{std::string(text), {}, 0};
  for (const FrameRuleAt& one : frame_rules_in(*document)) {
    const auto equivalent = equivalent_of(one.rule);
    if (!equivalent) {
      edit.said.push_back(fmt::format("{} stays: {}", one.path, why_no_equivalent(one.rule)));
      continue;
    }
    const auto of_variants = changes_of_variants(text, one, equivalent->motion, overrides_of(*document, one.path));
    if (!of_variants) {
      edit.said.push_back(fmt::format("{} stays: {}", one.path, of_variants.error()));
      continue;
    }
    auto changed = change_keys(edit.text, one.path, changes_of(one.rule, equivalent->motion));
    for (const TableChange& change : *of_variants)
      if (changed) changed = change_keys(*changed, change.table, change.changes);
    if (!changed) return tl::unexpected(changed.error());
    edit.text = std::move(*changed);
    edit.said.push_back(
        fmt::format("{}: {{ {} }}{}", one.path, equivalent->text, equivalent->is_exact ? "" : ", the same poles"));
    for (const TableChange& change : *of_variants)
      if (!change.said.empty()) edit.said.push_back(change.said);
    ++edit.replaced;
  }
  return edit;
}

} // namespace stasis::io
