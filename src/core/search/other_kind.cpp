#include "core/search/other_kind.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <numbers>

#include <fmt/format.h>

#include "core/curve/curve.hpp"
#include "core/motion/spring_design.hpp"
#include "core/text.hpp"
#include "core/units.hpp"

namespace stasis {
namespace {

constexpr std::array<std::string_view, 6> glide_keys{"half_life",     "time_constant", "rate",
                                                     "settling_time", "per_frame",     "at_fps"};

/// As it stands in the text, for people; nothing of a setting's number.
std::optional<std::string> as_written(const Node& node) {
  if (const auto* real = std::get_if<double>(&node.value)) return shortest(*real);
  if (const auto* whole = std::get_if<std::int64_t>(&node.value)) return std::to_string(*whole);
  if (const std::string* text = node.text()) return fmt::format("\"{}\"", *text);
  return std::nullopt;
}

/// A glide's table with another kind's keys in place of its own; nothing where one of those is a setting's.
std::vector<ValueChange> in_place_of_glide(const Node& table, const std::string& path, std::string_view kind,
                                           std::vector<ValueChange> keys) {
  std::vector<ValueChange> changes{{path + ".kind", "\"glide\"", fmt::format("\"{}\"", kind)}};
  for (ValueChange& one : keys) changes.push_back(std::move(one));
  for (const std::string_view key : glide_keys)
    if (const Node* node = table.find(key)) {
      const auto written = as_written(*node);
      if (!written) return {};
      const std::string at = fmt::format("{}.{}", path, key);
      const auto same =
          std::find_if(changes.begin(), changes.end(), [&](const ValueChange& one) { return one.path == at; });
      if (same != changes.end())
        same->before = *written; // a key of both kinds
      else
        changes.push_back({at, *written, ""});
    }
  return changes;
}

/// Two equal glides in a row are within 2 % when (1 + t) e^-t is, t = 5.834; one when e^-t is, t = 3.912.
constexpr double of_half_life = 3.9120230054281455 / 5.8339244917990580;

std::vector<ValueChange> softly(const Node& table, const std::string& path, const Glide& glide) {
  const std::string each = five_digits(std::numbers::ln2 / glide.rate * of_half_life);
  return in_place_of_glide(
      table, path, "stages",
      {{path + ".stages", "",
        fmt::format("[{{ kind = \"glide\", half_life = {0} }}, {{ kind = \"glide\", half_life = {0} }}]", each)}});
}

std::vector<ValueChange> livelier(const Node& table, const std::string& path, const Glide& glide, double share) {
  if (share <= 0.0 || share >= 0.99) return {};
  const double ratio = ratio_of_overshoot(share), rise = std::log(9.0) / glide.rate; // e^-rt falls from 0.9 to 0.1
  if (table.find("settling_time") != nullptr) { // a spring may be given by that too
    const double settling = settling_angle(ratio, default_settle_share) * rise / rise_angle(ratio);
    return in_place_of_glide(
        table, path, "spring",
        {{path + ".settling_time", "", five_digits(settling)}, {path + ".overshoot", "", five_digits(100.0 * share)}});
  }
  return in_place_of_glide(table, path, "spring",
                           {{path + ".frequency", "", five_digits(natural_frequency_hz(rise_angle(ratio) / rise))},
                            {path + ".damping_ratio", "", five_digits(ratio)}});
}

std::vector<ValueChange> softly(const Node& table, const std::string& path, const Ease& ease) {
  if (evaluate(ease.curve, 0.0).slope == 0.0) return {};
  const Node* curve = table.find("curve");
  const auto written = curve != nullptr ? as_written(*curve) : std::nullopt;
  if (!written) return {};
  return {{path + ".curve", *written, "\"ease-in-out\""}};
}

} // namespace

std::string five_digits(double value) { return shortest(read_number(fmt::format("{:.5g}", value)).value_or(value)); }

std::vector<ValueChange> other_kind(const Node& table, const std::string& path, const Motion& motion,
                                    const FeelWord& word, double amount) {
  const auto* glide = std::get_if<Glide>(&motion);
  const auto* ease = std::get_if<Ease>(&motion);
  if (word.soft_start) {
    if (glide != nullptr) return softly(table, path, *glide);
    if (ease != nullptr) return softly(table, path, *ease);
  }
  if (word.points != 0.0 && glide != nullptr) return livelier(table, path, *glide, word.points / 100.0 * amount);
  return {};
}

} // namespace stasis
