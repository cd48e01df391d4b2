#include "cli/estimate_text.hpp"

#include <algorithm>
#include <cmath>

#include <fmt/format.h>

#include "core/text.hpp"

namespace stasis::cli {
namespace {

/// An interval that says nothing: without end, or about a number that may as well be a thousandth or a thousand of it.
bool is_open(const Estimate& number) {
  constexpr double anything = 1e3;
  return !std::isfinite(number.low) || !std::isfinite(number.high)
         || (number.low > 0.0 && number.low * anything < number.value && number.high > anything * number.value);
}

} // namespace

std::string number_unit(const Estimate& number, const std::string& unit) {
  if (number.unit == "per_second") return unit + "/s";
  if (number.unit == "per_second2") return unit + "/s2";
  if (number.unit == "unit") return unit;
  return number.unit;
}

int digits_for(const Estimate& number) {
  const double width = std::min(number.high - number.value, number.value - number.low);
  if (!(width > 0.0) || !(std::fabs(number.value) > 0.0)) return 6;
  return std::clamp(static_cast<int>(std::ceil(std::log10(std::fabs(number.value) / width))) + 2, 3, 9);
}

std::string with_interval(const Estimate& number, const std::string& unit) {
  const int digits = digits_for(number);
  const std::string own = unit.empty() ? "" : " " + unit;
  constexpr double unseen = 1e-8;
  if (number.high - number.low <= unseen * std::fabs(number.value)) return concise(number.value, digits) + own;
  if (is_open(number)) return readable(number.value, digits) + own + " (open)";
  return fmt::format("{}{} ({} to {})", readable(number.value, digits), own, readable(number.low, digits),
                     readable(number.high, digits));
}

std::string in_unit(double value, const std::string& unit) { return amount_in(value, printable(unit, 20)); }

std::string numbers_text(const std::vector<Estimate>& numbers, const std::string& unit, bool with_intervals) {
  std::string text;
  for (const Estimate& number : numbers) {
    const std::string own = number_unit(number, unit);
    text += fmt::format("{}{} {}", text.empty() ? "" : ", ", number.name,
                        with_intervals ? with_interval(number, own) : amount_in(number.value, own));
  }
  return text;
}

void write_estimate(io::JsonWriter& json, const Estimate& number) {
  json.begin_object().key("value").number(number.value).key("low").number(number.low);
  json.key("high").number(number.high).end_object();
}

} // namespace stasis::cli
