// Values tried on every take, clock and variant that a call asks for: what is measured, and which wants hold.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/search/variations.hpp"

namespace stasis {

/// A version of a feel on which values are tried.
struct TrialCase {
  std::string variant; ///< empty: the feel itself
  Variations variations;
  std::vector<std::string> takes;
};

/// What was found on one take of one case.
struct TrialRow {
  std::size_t trial_case = 0; ///< index into the cases
  std::string take;
  double fps = 0.0;
  std::vector<std::optional<double>> measures; ///< in the order in which they were asked for
};

/// How one want fared on one take of one case.
struct TrialWant {
  std::size_t trial_case = 0;
  std::string take;
  std::string measure, bound; ///< "fov.settling_time", "at most 0.6 s"
  std::string unit;
  WantRule rule = WantRule::at_most;
  double limit = 0.0, within = 0.0;
  std::optional<double> value;
  bool holds = false;
};

struct TrialOutcome {
  std::vector<TrialRow> rows;
  std::vector<TrialWant> wants;
};

/// May be asked from several threads at once.
class Trials {
public:
  /// \param measures as "CHANNEL.MEASURE", each known to every case.
  Trials(std::vector<TrialCase> cases, std::vector<std::string> measures);

  const std::vector<TrialCase>& cases() const noexcept { return cases_; }
  const std::vector<std::string>& measures() const noexcept { return measures_; }
  /// Measures these from now on.
  void measure(std::vector<std::string> measures) { measures_ = std::move(measures); }
  /// Wants beside those of the feel, as a call gives them: of every take unless they name one.
  void add_want(Want want, std::string measure) { more_wants_.push_back({std::move(want), std::move(measure)}); }

  /// Plays every take of every case with these values; the problems of the first feel that cannot be read.
  Result<TrialOutcome> with(const std::vector<Assignment>& values) const;

private:
  struct NamedWant {
    Want want;
    std::string measure;
  };
  void play(std::size_t trial_case, const Feel& feel, TrialOutcome& out) const;

  std::vector<TrialCase> cases_;
  std::vector<std::string> measures_;
  std::vector<NamedWant> more_wants_;
};

} // namespace stasis
