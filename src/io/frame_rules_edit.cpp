#include "io/frame_rules_edit.hpp"

#include <fmt/format.h>

#include "core/feel/compose.hpp"
#include "core/feel/frame_rules.hpp"
#include "core/motion/equivalent.hpp"
#include "core/text.hpp"
#include "core/units.hpp"
#include "io/toml_edit.hpp"
#include "io/toml_reader.hpp"

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
    auto changed = change_keys(edit.text, one.path, changes_of(one.rule, equivalent->motion));
    if (!changed) return tl::unexpected(changed.error());
    edit.text = std::move(*changed);
    edit.said.push_back(
        fmt::format("{}: {{ {} }}{}", one.path, equivalent->text, equivalent->is_exact ? "" : ", the same poles"));
    ++edit.replaced;
  }
  return edit;
}

} // namespace stasis::io
