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
  std::vector<std::string> measures; ///< as typed: what is measured
  /// Both ends of every setting too, but of those whose value is at one of these paths.
  bool with_setting_ends = false;
  std::vector<std::string> free_paths{};
};

/// Declares --set, --variant, --take, --fps and --allow-outside as commands have them that try values.
void declare_trial_call(Call& call, FeelCall& feel, std::string& fps);

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

/// Opens the feel and checks every measure, or explains on `err` why not. No path may be free and overridden too.
tl::expected<OpenedTrials, Exit> open_trials(const TrialCall& call, Output& err);
/// True if every case knows the measure; explained on `err` where one does not.
bool knows_measure(const OpenedTrials& opened, const std::string& measure, Output& err);
/// Measures other things from now on, each known to every case, or explains on `err` why not.
bool ask_for(OpenedTrials& opened, std::vector<std::string> measures, Output& err);
/// True if a value may stand at a path; explained on `err`, with the option's name, where it may not.
bool is_possible(const OpenedTrials& opened, const char* option, const std::string& path, const Node& value,
                 Output& err);

/// A value of a document as it is written: 1.6, "soft", true.
std::string value_in_words(const Node& value);

} // namespace stasis::cli
