// From the words of a call to versions of a feel on which values can be tried.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "cli/load_feel.hpp"
#include "core/check/known_names.hpp"
#include "core/feel/measure_name.hpp"
#include "core/measure/measure_registry.hpp"
#include "core/search/trials.hpp"

namespace stasis::cli {

struct TrialCall {
  FeelCall feel;
  std::string fps;                   ///< as typed, several with commas between; empty for each take's own
  std::vector<std::string> measures; ///< as typed
  /// Both ends of every setting too, but of those whose value is at one of these paths.
  bool with_setting_ends = false;
  std::vector<std::string> free_paths{};
};

struct OpenedTrials {
  FeelSource source;
  Trials trials;
  Feel base; ///< of the first case, as it stands
  std::string title;
  std::vector<std::string> units; ///< of the measures

  /// The number that stands at a path of the first case now, a setting's included; nothing where there is none.
  std::optional<double> number_at(const std::string& path) const;
  /// The want of the feel that reads so: "fov.overshoot at most 10 %". Null if there is none.
  const Want* want_named(const std::string& words) const;
};

/// Opens the feel and checks every measure, or explains on `err` why not.
tl::expected<OpenedTrials, Exit> open_trials(const TrialCall& call, Output& err);

/// A want of a call, "fov.settling_time at_most 0.35", "fov.overshoot near 3 within 0.5": its measure, and its bound.
tl::expected<std::pair<std::string, Want>, std::string> parse_want(const std::string& text);

/// A value of a document as it is written: 1.6, "soft", true.
std::string value_in_words(const Node& value);

} // namespace stasis::cli
