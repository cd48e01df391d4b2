#include "support/program.hpp"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstdlib>
#include <fstream>
#include <limits>
#include <sstream>
#include <stdexcept>
#include <sys/wait.h>
#include <unistd.h>

#include <fmt/format.h>

namespace stasis::test {

TempDir::TempDir() {
  std::string name = (std::filesystem::temp_directory_path() / "stasis-test-XXXXXX").string();
  if (::mkdtemp(name.data()) == nullptr) throw std::runtime_error("no temporary folder");
  path_ = name;
}

TempDir::~TempDir() {
  std::error_code ignored;
  std::filesystem::permissions(path_, std::filesystem::perms::owner_all, ignored);
  std::filesystem::remove_all(path_, ignored);
}

void TempDir::write(const std::string& name, const std::string& text) const {
  std::filesystem::create_directories((path_ / name).parent_path());
  std::ofstream(path_ / name, std::ios::binary) << text;
}

std::string TempDir::read(const std::string& name) const {
  std::ifstream file(path_ / name, std::ios::binary);
  std::ostringstream text;
  text << file.rdbuf();
  return text.str();
}

std::vector<std::string> TempDir::files() const {
  std::vector<std::string> names;
  for (const auto& entry : std::filesystem::recursive_directory_iterator(path_))
    if (!entry.is_directory()) names.push_back(std::filesystem::relative(entry.path(), path_).string());
  std::sort(names.begin(), names.end());
  return names;
}

namespace {

Ended run_words(const TempDir& folder, std::vector<std::string> words, const std::string& input) {
  // Streams go through files: nothing can block, whatever the program reads or writes.
  const TempDir streams;
  streams.write("in", input);
  const pid_t child = ::fork();
  if (child == 0) {
    const bool ready = std::freopen((streams / "in").c_str(), "rb", stdin) != nullptr
                       && std::freopen((streams / "out").c_str(), "wb", stdout) != nullptr
                       && std::freopen((streams / "err").c_str(), "wb", stderr) != nullptr
                       && ::chdir(folder.path().c_str()) == 0;
    std::vector<char*> argv;
    for (std::string& word : words) argv.push_back(word.data());
    argv.push_back(nullptr);
    std::array<std::string, 3> environment{"PATH=/usr/local/bin:/usr/bin:/bin", "HOME=" + folder.path().string(),
                                           "LC_ALL=C"};
    std::array<char*, 4> envp{environment[0].data(), environment[1].data(), environment[2].data(), nullptr};
    if (ready) ::execve(argv[0], argv.data(), envp.data());
    ::_exit(127);
  }
  int status = 0;
  ::waitpid(child, &status, 0);
  return {WIFEXITED(status) ? WEXITSTATUS(status) : 128 + WTERMSIG(status), streams.read("out"), streams.read("err")};
}

} // namespace

Ended run_program(const TempDir& folder, const std::vector<std::string>& arguments, const std::string& input) {
  std::vector<std::string> words{STASIS_PROGRAM};
  words.insert(words.end(), arguments.begin(), arguments.end());
  return run_words(folder, std::move(words), input);
}

Ended run_in_shell(const TempDir& folder, const std::string& commands) {
  return run_words(folder, {"/bin/sh", "-c", commands, STASIS_PROGRAM}, "");
}

std::map<std::string, std::vector<double>> read_csv(const std::string& text) {
  std::istringstream lines(text);
  std::string line, cell;
  std::vector<std::string> header;
  std::getline(lines, line);
  for (std::istringstream cells(line); std::getline(cells, cell, ',');) header.push_back(cell);
  std::map<std::string, std::vector<double>> columns;
  while (std::getline(lines, line)) {
    std::istringstream cells(line + ",");
    for (const std::string& name : header) {
      std::getline(cells, cell, ',');
      columns[name].push_back(cell.empty() ? std::numeric_limits<double>::quiet_NaN() : std::stod(cell));
    }
  }
  return columns;
}

std::string held_feel(const std::string& motion, double length, double fps, const std::vector<double>& presses) {
  std::string cues;
  for (std::size_t k = 0; k < presses.size(); ++k)
    cues +=
        fmt::format("{}{{ at = {}, {} = \"c\" }}", k == 0 ? "" : ", ", presses[k], k % 2 == 0 ? "press" : "release");
  return fmt::format(
      "[channel.a]\nunit = \"m\"\nrest = 2\nmotion = {}\n[pose.on]\na = 12\n[control.c]\nkind = \"hold\"\n"
      "pose = \"on\"\n[take.t]\nlength = {}\nclock = {{ fps = {} }}\ncues = [{}]\n",
      motion, length, fps, cues);
}

} // namespace stasis::test
