#include "cli/search_program.hpp"

#include <array>
#include <cerrno>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <sys/prctl.h>
#include <sys/wait.h>
#include <unistd.h>

#include <fmt/format.h>

#include "figure/process.hpp"

namespace stasis::cli {
namespace {

constexpr const char* program_name = "stasis-search";

std::string numbers_on_a_line(const std::vector<double>& numbers) {
  std::string line;
  for (const double number : numbers) line += fmt::format("{} ", number);
  return line + "\n";
}

} // namespace

tl::expected<std::unique_ptr<SearchProgram>, std::string> SearchProgram::start() {
  std::array<int, 2> in{-1, -1}, out{-1, -1};
  if (::pipe2(in.data(), O_CLOEXEC) != 0)
    return tl::unexpected(fmt::format("could not start {}: {}", program_name, std::strerror(errno)));
  if (::pipe2(out.data(), O_CLOEXEC) != 0) {
    const int why = errno;
    ::close(in[0]);
    ::close(in[1]);
    return tl::unexpected(fmt::format("could not start {}: {}", program_name, std::strerror(why)));
  }
  std::unique_ptr<SearchProgram> program(new SearchProgram);
  std::string path = figure::helper_program(program_name);
  std::array<char*, 2> words{path.data(), nullptr};
  const pid_t parent = ::getpid();
  const pid_t child = ::fork();
  if (child == 0) {
    ::prctl(PR_SET_PDEATHSIG, SIGKILL);
    ::signal(SIGPIPE, SIG_DFL);
    if (::getppid() == parent && ::dup2(in[0], STDIN_FILENO) >= 0 && ::dup2(out[1], STDOUT_FILENO) >= 0)
      ::execvp(words[0], words.data());
    ::_exit(127);
  }
  const int why = errno;
  ::close(in[0]);
  ::close(out[1]);
  program->to_ = in[1];
  program->from_ = out[0];
  program->child_ = child;
  if (child < 0) return tl::unexpected(fmt::format("could not start {}: {}", program_name, std::strerror(why)));
  // A first small question tells whether it is there at all.
  bool answered = false;
  const bool ran = program->minimise({Method::local, 1, 1e-3, {0.5}, 0.1}, [&](const std::vector<double>&) {
    answered = true;
    return std::optional(0.0);
  });
  if (!ran || !answered)
    return tl::unexpected(fmt::format("could not start {}, which is installed beside stasis", program_name));
  return program;
}

SearchProgram::~SearchProgram() {
  if (to_ >= 0) ::close(to_);
  if (from_ >= 0) ::close(from_);
  if (child_ > 0)
    while (::waitpid(child_, nullptr, 0) < 0 && errno == EINTR) {
    }
}

bool SearchProgram::send(const std::string& line) {
  std::size_t sent = 0;
  while (sent < line.size()) {
    const ssize_t now = ::write(to_, line.data() + sent, line.size() - sent);
    if (now < 0 && errno != EINTR) return false;
    if (now > 0) sent += static_cast<std::size_t>(now);
  }
  return true;
}

bool SearchProgram::receive(std::string& line) {
  for (;;) {
    if (const auto end = buffer_.find('\n'); end != std::string::npos) {
      line = buffer_.substr(0, end);
      buffer_.erase(0, end + 1);
      return true;
    }
    std::array<char, 4096> chunk;
    const ssize_t got = ::read(from_, chunk.data(), chunk.size());
    if (got == 0 || (got < 0 && errno != EINTR)) return false;
    if (got > 0) buffer_.append(chunk.data(), static_cast<std::size_t>(got));
  }
}

bool SearchProgram::minimise(const Call& call, const Function& function) {
  const std::size_t n = call.start.size();
  if (!send(fmt::format("minimise {} {} {} {}\n", call.method == Method::cloud ? "cloud" : "local", n, call.steps,
                        call.precision)
            + numbers_on_a_line(std::vector<double>(n, 0.0)) + numbers_on_a_line(std::vector<double>(n, 1.0))
            + numbers_on_a_line(call.start) + numbers_on_a_line(std::vector<double>(n, call.first_step))))
    return false;
  std::string line;
  while (receive(line)) {
    if (line.starts_with("end")) return true;
    std::vector<double> x;
    const char* at = line.c_str() + 1;
    for (std::size_t k = 0; k < n; ++k) {
      char* next = nullptr;
      x.push_back(std::strtod(at, &next));
      at = next;
    }
    const auto value = function(x);
    if (!send(value ? fmt::format("{}\n", *value) : std::string("enough\n"))) return false;
  }
  return false;
}

} // namespace stasis::cli
