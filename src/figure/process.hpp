// Runs a helper program: text in, bytes out, no shell.
#pragma once

#include <string>
#include <string_view>
#include <vector>

#include <tl/expected.hpp>

namespace stasis::figure {

/// What went wrong with a helper program, as one sentence.
struct ProcessError {
  std::string message;
  bool not_installed = false;
};

/// Starts `arguments[0]` (looked up on PATH) with the other arguments, feeds it `input`, and waits for its end.
/// Its locale is C.UTF-8. \returns what it wrote to its standard output; an error if it could not be started or did
/// not end with status 0, with the first line that it complained.
tl::expected<std::string, ProcessError> run_process(const std::vector<std::string>& arguments, std::string_view input);

/// A program of our own that is installed beside this one: where it is; else its name, to be looked up on PATH.
std::string helper_program(const std::string& name);

} // namespace stasis::figure
