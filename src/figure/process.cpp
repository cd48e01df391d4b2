#include "figure/process.hpp"

#include <array>
#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <poll.h>
#include <spawn.h>
#include <sys/wait.h>
#include <unistd.h>

#include <fmt/format.h>

extern char** environ;

namespace stasis::figure {
namespace {

/// Both ends of a pipe, closed at the end.
struct Pipe {
  int read_end = -1, write_end = -1;
  Pipe() {
    std::array<int, 2> ends{-1, -1};
    if (::pipe2(ends.data(), O_CLOEXEC) == 0) read_end = ends[0], write_end = ends[1];
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

std::vector<std::string> child_environment() {
  std::vector<std::string> all;
  for (char** entry = environ; *entry != nullptr; ++entry)
    if (std::strncmp(*entry, "LC_", 3) != 0 && std::strncmp(*entry, "LANG", 4) != 0) all.emplace_back(*entry);
  all.emplace_back("LC_ALL=C.UTF-8");
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

tl::expected<std::string, ProcessError> run_process(const std::vector<std::string>& arguments, std::string_view input) {
  Pipe in, out, err;
  std::vector<std::string> words = arguments, environment = child_environment();
  std::vector<char*> argv = pointers_to(words), envp = pointers_to(environment);
  posix_spawn_file_actions_t actions;
  posix_spawn_file_actions_init(&actions);
  posix_spawn_file_actions_adddup2(&actions, in.read_end, STDIN_FILENO);
  posix_spawn_file_actions_adddup2(&actions, out.write_end, STDOUT_FILENO);
  posix_spawn_file_actions_adddup2(&actions, err.write_end, STDERR_FILENO);
  posix_spawnattr_t attributes;
  posix_spawnattr_init(&attributes);
  sigset_t restored; // the child must not inherit that we ignore closed pipes
  sigemptyset(&restored);
  sigaddset(&restored, SIGPIPE);
  posix_spawnattr_setsigdefault(&attributes, &restored);
  posix_spawnattr_setflags(&attributes, POSIX_SPAWN_SETSIGDEF);
  pid_t child = 0;
  const int failed = ::posix_spawnp(&child, argv[0], &actions, &attributes, argv.data(), envp.data());
  posix_spawn_file_actions_destroy(&actions);
  posix_spawnattr_destroy(&attributes);
  if (failed != 0)
    return tl::unexpected(
        ProcessError{fmt::format("could not start {}: {}", arguments[0], std::strerror(failed)), failed == ENOENT});
  Pipe::close_end(in.read_end);
  Pipe::close_end(out.write_end);
  Pipe::close_end(err.write_end);
  std::string output, complaint;
  exchange(in, out, err, input, output, complaint);
  int status = 0;
  while (::waitpid(child, &status, 0) < 0 && errno == EINTR) {
  }
  if (WIFEXITED(status) && WEXITSTATUS(status) == 0) return output;
  return tl::unexpected(
      ProcessError{fmt::format("{} failed: {}", arguments[0], complaint.substr(0, complaint.find('\n', 1)))});
}

} // namespace stasis::figure
