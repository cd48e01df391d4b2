// What `stasis solve` says of what it found: in words, and as JSON.
#pragma once

#include <string>
#include <vector>

#include "core/search/solve.hpp"

namespace stasis::cli {

struct SolveReport {
  const SolveAnswer* answer = nullptr;
  std::vector<FreeValue> free;                ///< names among them
  std::vector<std::string> names;             ///< by free value: the name that was chosen; empty of a number
  std::vector<std::optional<double>> present; ///< by free value
  std::vector<std::string> present_names;     ///< by free value: what stands there now, in words
  std::vector<TrialCase> const* cases = nullptr;
  std::vector<std::string> measures, units; ///< what is preferred is made of
  std::string title, prefers;
  int tries = 0;

  /// The answer's number of a free value; meaningless for names.
  double number(std::size_t value) const;
  double number(const SolveAlternative& alternative, std::size_t value) const;
};

std::string solve_text(const SolveReport& report);
std::string solve_json(const SolveReport& report);

} // namespace stasis::cli
