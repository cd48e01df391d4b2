// A comparison of one take as text and as JSON.
#pragma once

#include <string>
#include <vector>

#include "core/measure/comparison.hpp"

namespace stasis::cli {

struct CompareReport {
  const std::vector<Contender>* contenders = nullptr;
  const std::vector<SharedChannel>* channels = nullptr;
  std::string title;
  std::vector<std::string> only{}; ///< channels by name, which `channels` are; empty: all, and the camera as a whole
};

/// Measures side by side with the change from the first in per cent, the best of each row marked; what a designer
/// would notice.
std::string compare_text(const CompareReport& report);
std::string compare_json(const CompareReport& report);

} // namespace stasis::cli
