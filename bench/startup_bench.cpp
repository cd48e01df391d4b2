// Whole runs of the program, from start to end, each in turn with a program that does nothing.
#include <algorithm>
#include <chrono>
#include <fcntl.h>
#include <filesystem>
#include <spawn.h>
#include <string>
#include <sys/wait.h>
#include <unistd.h>
#include <vector>

#include <benchmark/benchmark.h>

namespace {

using Words = std::vector<std::string>;

/// Seconds from start to end of a program; its output goes nowhere. Negative: it failed.
double seconds_of(const Words& words, const posix_spawn_file_actions_t& silent) {
  std::vector<char*> arguments;
  for (const std::string& word : words) arguments.push_back(const_cast<char*>(word.c_str()));
  arguments.push_back(nullptr);
  const auto start = std::chrono::steady_clock::now();
  pid_t child = 0;
  int status = 1;
  if (posix_spawn(&child, arguments[0], &silent, nullptr, arguments.data(), environ) != 0) return -1;
  if (waitpid(child, &status, 0) != child || status != 0) return -1;
  return std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count();
}

double median(std::vector<double> values) {
  const auto middle = values.begin() + static_cast<std::ptrdiff_t>(values.size() / 2);
  std::nth_element(values.begin(), middle, values.end());
  return *middle;
}

/// The program with these words, and the empty program, in turn; `times_empty` is the ratio of the medians.
void start(benchmark::State& state, Words words) {
  posix_spawn_file_actions_t silent;
  posix_spawn_file_actions_init(&silent);
  posix_spawn_file_actions_addopen(&silent, STDOUT_FILENO, "/dev/null", O_WRONLY, 0);
  words.insert(words.begin(), STASIS_PROGRAM);
  std::vector<double> ours, empty;
  for (auto _ : state) {
    empty.push_back(seconds_of({STASIS_EMPTY_PROGRAM}, silent));
    ours.push_back(seconds_of(words, silent));
    if (std::min(empty.back(), ours.back()) < 0) {
      state.SkipWithError("a program failed");
      break;
    }
    state.SetIterationTime(ours.back());
  }
  if (!ours.empty()) state.counters["times_empty"] = median(ours) / median(empty);
  posix_spawn_file_actions_destroy(&silent);
}

Words run_of(const char* feel) {
  const auto folder = std::filesystem::temp_directory_path() / "stasis-startup-bench";
  return {"run", std::string(STASIS_DEMO) + "/" + feel, "-o", folder.string(), "--figure", "none"};
}

constexpr int starts = 400;
BENCHMARK_CAPTURE(start, help, Words{"--help"})->UseManualTime()->Iterations(starts);
BENCHMARK_CAPTURE(start, first_feel, run_of("first.toml"))->UseManualTime()->Iterations(starts);
BENCHMARK_CAPTURE(start, whole_demo_feel, run_of("otter.toml"))->UseManualTime()->Iterations(starts);

} // namespace
