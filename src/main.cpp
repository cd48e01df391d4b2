#include <csignal>
#include <cstring>
#include <exception>
#include <new>
#include <string>
#include <unistd.h>

#include "cli/command.hpp"
#include "cli/table.hpp"
#include "io/files.hpp"

int main(int count, char** words) {
  std::signal(SIGPIPE, SIG_IGN); // a closed pipe is noticed at the write, and ends quietly
  std::signal(SIGXFSZ, SIG_IGN); // so is a limit on the size of files, and told
  stasis::io::remove_half_written_on_signals();
  stasis::cli::Output out(STDOUT_FILENO), err(STDERR_FILENO);
  out.fold_at(stasis::cli::fold_width(STDOUT_FILENO));
  err.fold_at(stasis::cli::fold_width(STDERR_FILENO));
  out.colour(stasis::cli::is_for_colours(STDOUT_FILENO));
  err.colour(stasis::cli::is_for_colours(STDERR_FILENO));
  try {
    const stasis::cli::Arguments arguments(words + 1, words + (count > 0 ? count : 1));
    const stasis::cli::Exit status = stasis::cli::run_program(arguments, {out, err});
    out.flush();
    if (out.error() == 0) return static_cast<int>(status);
    stasis::cli::print_error(std::string("could not write to standard output: ") + std::strerror(out.error()) + ".",
                             err);
    return static_cast<int>(stasis::cli::Exit::bad_file);
  } catch (const std::bad_alloc&) {
    stasis::cli::print_error("there is not enough memory for this; a shorter take or a smaller recording needs less.",
                             err);
    return static_cast<int>(stasis::cli::Exit::bad_file);
  } catch (const std::exception& fault) {
    stasis::cli::print_error(std::string("an error in Stasis itself: ") + fault.what() + ". Please report it.", err);
    return static_cast<int>(stasis::cli::Exit::fault);
  }
}
