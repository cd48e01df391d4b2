// Every number and every curve that stands in a feel: what may be turned while it is played.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/feel/document.hpp"
#include "core/feel/key_table.hpp"

namespace stasis {

struct FeelNumber {
  std::string path; ///< "motion.soft.frequency", "pose.near.focus[1]"
  double value = 0.0;
  std::string unit;            ///< as written, or the key's own; empty where it has none or the channel declares none
  bool has_unit = false;       ///< it is written as a text with its unit, "110 ms"
  Bounds bounds{};             ///< in that unit
  bool by_factor = false;      ///< equal steps are equal factors: times, frequencies, rates
  double from = 0.0, to = 0.0; ///< within which it makes sense to try: allowed, and about the value
  std::string_view meaning;
};

/// In the order of the text. Those that a setting gives, and those of takes, wants, variants and the picture, are left
/// out. \param document as it was read, before settings are put in.
std::vector<FeelNumber> feel_numbers(const Node& document);

/// Where the text of a curve stands, or may: an eased move without one has the curve that it takes by itself.
struct CurveText {
  std::string path; ///< "motion.swing.curve", "curve.lean.shape"
  std::string text; ///< as it is written
};

/// The same of curves that are given by a text; those that a setting, a take or a variant has are left out.
std::vector<CurveText> curve_texts(const Node& document);

} // namespace stasis
