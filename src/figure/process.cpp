#include "figure/process.hpp"

#include <array>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <poll.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <fmt/format.h>

namespace stasis::figure {
namespace {

/// Both ends of a pipe, closed at the end.
struct Pipe {
  int read_end = -1, write_end = -1;
  int error = 0; ///< as errno says it; 0 where it is open
  Pipe() {
    std::array<int, 2> ends{-1, -1};
    if (::pipe2(ends.data(), O_CLOEXEC) == 0)
      read_end = ends[0], write_end = ends[1];
    else
      error = errno;
  }
  Pipe(const Pipe&) = delete;
  Pipe& operator=(const Pipe&) = delete;
  ~Pipe() {
    close_end(read_end);
    close_end(write_end);
  }
  static void close_end(int& end) noexcept {
    if (end >= 0) ::close(end);
    end = -1;
  }
};

/// What a helper program may know of ours: where programs and typefaces are. Whatever else is set there is set for
/// other programs, and may make these do something else.
std::vector<std::string> child_environment() {
  constexpr std::array<const char*, 8> passed{
      "PATH",           "HOME", "TMPDIR", "XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_CONFIG_HOME", "FONTCONFIG_FILE",
      "FONTCONFIG_PATH"};
  std::vector<std::string> all{"LC_ALL=C.UTF-8"};
  for (const char* name : passed)
    if (const char* value = std::getenv(name)) all.push_back(std::string(name) + "=" + value);
  return all;
}

std::vector<char*> pointers_to(std::vector<std::string>& words) {
  std::vector<char*> pointers;
  for (std::string& word : words) pointers.push_back(word.data());
  pointers.push_back(nullptr);
  return pointers;
}

/// Feeds and drains the child's pipes until it has closed its outputs.
// many: three pipes, and what goes through each
void exchange(Pipe& in, Pipe& out, Pipe& err, std::string_view input, std::string& output, std::string& complaint) {
  ::fcntl(in.write_end, F_SETFL, O_NONBLOCK);
  std::array<char, 1 << 16> chunk;
  while (out.read_end >= 0 || err.read_end >= 0) {
    std::array<pollfd, 3> watched{{{in.write_end, POLLOUT, 0}, {out.read_end, POLLIN, 0}, {err.read_end, POLLIN, 0}}};
    if (::poll(watched.data(), watched.size(), -1) < 0 && errno != EINTR) return;
    if (in.write_end >= 0 && watched[0].revents != 0) {
      const ssize_t written = ::write(in.write_end, input.data(), input.size());
      if (written > 0) input.remove_prefix(static_cast<std::size_t>(written));
      if (input.empty() || (written < 0 && errno != EAGAIN && errno != EINTR)) Pipe::close_end(in.write_end);
    }
    const auto drain = [&](int& end, short events, std::string& into) {
      if (end < 0 || events == 0) return;
      const ssize_t got = ::read(end, chunk.data(), chunk.size());
      if (got > 0) into.append(chunk.data(), static_cast<std::size_t>(got));
      if (got == 0 || (got < 0 && errno != EINTR)) Pipe::close_end(end);
    };
    drain(out.read_end, watched[1].revents, output);
    drain(err.read_end, watched[2].revents, complaint);
  }
}

} // namespace

namespace {

/// The program of `argv` with three pipes, in a child of ours that ends when we do. \returns its number; below 0, with
/// errno, where there is none. Only what is safe between fork and exec is done there.
// many: a program, its surroundings, and its pipes
pid_t start(const Pipe& in, const Pipe& out, const Pipe& err, char* const* argv, char* const* envp, Pipe& refusal) {
  const pid_t parent = ::getpid();
  const pid_t child = ::fork();
  if (child != 0) return child;
  ::prctl(PR_SET_PDEATHSIG, SIGKILL);
  ::signal(SIGPIPE, SIG_DFL); // the child must not inherit that we ignore closed pipes
  const bool wired = ::getppid() == parent && ::dup2(in.read_end, STDIN_FILENO) >= 0
                     && ::dup2(out.write_end, STDOUT_FILENO) >= 0 && ::dup2(err.write_end, STDERR_FILENO) >= 0;
  if (wired) ::execvpe(argv[0], argv, envp);
  const int why = errno;
  [[maybe_unused]] const ssize_t told = ::write(refusal.write_end, &why, sizeof why);
  ::_exit(127);
}

tl::unexpected<ProcessError> not_started(const std::string& program, int error) {
  return tl::unexpected(
      ProcessError{fmt::format("could not start {}: {}", program, std::strerror(error)), error == ENOENT});
}

} // namespace

std::string helper_program(const std::string& name) {
  std::error_code error;
  const auto own = std::filesystem::read_symlink("/proc/self/exe", error);
  const auto beside = own.parent_path() / name;
  return !error && std::filesystem::exists(beside, error) ? beside.string() : name;
}

tl::expected<std::string, ProcessError> run_process(const std::vector<std::string>& arguments, std::string_view input) {
  Pipe in, out, err, refusal;
  for (const Pipe* pipe : {&in, &out, &err, &refusal})
    if (pipe->read_end < 0) return not_started(arguments[0], pipe->error);
  std::vector<std::string> words = arguments, environment = child_environment();
  const std::vector<char*> argv = pointers_to(words), envp = pointers_to(environment);
  const pid_t child = start(in, out, err, argv.data(), envp.data(), refusal);
  if (child < 0) return not_started(arguments[0], errno);
  Pipe::close_end(refusal.write_end);
  Pipe::close_end(in.read_end);
  Pipe::close_end(out.write_end);
  Pipe::close_end(err.write_end);
  std::string output, complaint;
  exchange(in, out, err, input, output, complaint);
  int status = 0;
  while (::waitpid(child, &status, 0) < 0 && errno == EINTR) {
  }
  if (int why = 0; ::read(refusal.read_end, &why, sizeof why) == sizeof why) return not_started(arguments[0], why);
  if (WIFEXITED(status) && WEXITSTATUS(status) == 0) return output;
  return tl::unexpected(
      ProcessError{fmt::format("{} failed: {}", arguments[0], complaint.substr(0, complaint.find('\n', 1)))});
}

} // namespace stasis::figure
