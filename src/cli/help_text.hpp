// A command's help as it prints it: the one list of its options, for completion and manual pages.
#pragma once

#include <string>
#include <vector>

#include "cli/command.hpp"

namespace stasis::cli {

std::string help_of(const Command& command, const Output& like);

struct HelpOption {
  std::vector<std::string> names; ///< "-o", "--out"
  bool takes_value = false;
};
std::vector<HelpOption> options_in(const std::string& help);

/// A manual page in man's own language. Null: of the program itself.
std::string manual_page(const Command* command, const Output& like);

} // namespace stasis::cli
