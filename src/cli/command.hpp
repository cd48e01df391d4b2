// What every command shares: its entry in the list, its streams, its exit status, its way of parsing options.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "cli/output.hpp"
#include "core/problem.hpp"

namespace stasis::cli {

/// Exit status of the program; a contract: docs/design.md, section 4.
enum class Exit { fine = 0, does_not_hold = 1, bad_input = 2, bad_file = 3, fault = 4 };

struct Streams {
  Output& out;
  Output& err;
};

using Arguments = std::vector<std::string>;

struct Command {
  std::string_view name;
  std::string_view answers; ///< what it is for, one line
  Exit (*run)(const Arguments& arguments, Streams streams);
  bool can_be_watched = false;
  std::string_view when_watched{}; ///< an option that `watch` gives it beside its own
};

/// All commands in the order in which they are listed.
std::span<const Command> all_commands() noexcept;
/// Null if there is no such name.
const Command* find_command(std::string_view name) noexcept;

/// An option that goes with any command: how the program speaks.
struct Manner {
  std::string_view option;
  std::span<const std::string_view> words; ///< that may follow it; empty for one that stands alone
  std::string_view meaning;
};
std::span<const Manner> manners() noexcept;

/// The program: the arguments after its name.
Exit run_program(const Arguments& arguments, Streams streams);

/// Prints problems with the lines they are about, at most ten.
void print_problems(const Problems& problems, const std::vector<Source>& sources, Output& err);
/// "stasis: error: ..." as one paragraph.
void print_error(std::string_view message, Output& err);

} // namespace stasis::cli
