// Results of checks as JUnit XML, which build machines read.
#pragma once

#include <string>
#include <vector>

namespace stasis::io {

struct CheckedCase {
  std::string suite; ///< the take, with the variant or setting that it was played with
  std::string name;
  bool holds = true;
  std::string message; ///< what was found
};

/// One test suite for each suite, in the order of the cases.
std::string junit_xml(const std::string& feel, const std::vector<CheckedCase>& cases);

} // namespace stasis::io
