// Results of checks as JUnit XML, which build machines read.
#pragma once

#include <string>
#include <vector>

namespace stasis::io {

struct CheckedCase {
  std::string suite; ///< the take, with the variant or setting that it was played with
  std::string name;
  bool holds = true;
  std::string message;    ///< what was found
  double seconds = 0.0;   ///< of the take that was played for it
  bool is_broken = false; ///< it could not be tried at all: `message` says why
};

/// One test suite for each suite, in the order of the cases, with totals. Times are those of the takes, so that the
/// same feel gives the same bytes.
std::string junit_xml(const std::string& feel, const std::vector<CheckedCase>& cases);

} // namespace stasis::io
