// What each control of a feel does, and who decides where several want the same.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/feel.hpp"

namespace stasis {

struct ControlAccount {
  std::size_t control = 0;
  std::string sentence;
  std::optional<int> clicks_end_to_end; ///< of clicks
  std::optional<int> strokes_end_to_end;
};
std::vector<ControlAccount> accounts_of_controls(const Feel& feel);

/// When a switch comes and goes, in words.
std::string account_of_switch(const Feel& feel, const Switch& one);

/// Which of several controls decides a channel that more than one of them can send somewhere.
struct ContestAccount {
  std::size_t channel = 0;
  std::string sentence;
};
std::vector<ContestAccount> accounts_of_contests(const Feel& feel);

} // namespace stasis
