// A fuzz target without the fuzzer: over its corpus, then over slips of what is in it, for so many seconds, the same
// ones every time. usage: NAME SECONDS FOLDER...
#include <algorithm>
#include <chrono>
#include <csignal>
#include <cstdint>
#include <cstdio>
#include <cstdlib>
#include <filesystem>
#include <fstream>
#include <iterator>
#include <random>
#include <string>
#include <vector>

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size);

namespace {

/// What is being tried, for whoever looks at a crash.
std::string being_tried;

void show_and_end(int signal) {
  std::fprintf(stderr, "signal %d at:\n%s\n", signal, being_tried.c_str());
  std::_Exit(1);
}

void try_one(const std::string& text) {
  being_tried = text;
  LLVMFuzzerTestOneInput(reinterpret_cast<const std::uint8_t*>(text.data()), text.size());
}

std::string slipped(std::string text, const std::string& other, std::mt19937_64& random) {
  for (std::uint64_t slips = 1 + random() % 4; slips > 0 && !text.empty(); --slips) {
    const std::size_t at = random() % text.size();
    switch (random() % 4) {
    case 0: text[at] = static_cast<char>(random() % 256); break;
    case 1: text.erase(at, 1 + random() % 8); break;
    case 2: text.insert(at, 1, static_cast<char>(32 + random() % 95)); break;
    default:
      if (!other.empty()) text.insert(at, other.substr(random() % other.size(), 1 + random() % 16));
    }
  }
  return text;
}

} // namespace

int main(int count, char** words) {
  std::signal(SIGABRT, show_and_end);
  std::signal(SIGSEGV, show_and_end);
  if (count < 3) return std::fputs("usage: NAME SECONDS FOLDER...\n", stderr), 2;
  std::vector<std::string> corpus;
  for (int k = 2; k < count; ++k) {
    std::vector<std::filesystem::path> files;
    for (const auto& entry : std::filesystem::directory_iterator(words[k])) files.push_back(entry.path());
    std::sort(files.begin(), files.end());
    for (const auto& path : files) {
      std::ifstream file(path, std::ios::binary);
      corpus.emplace_back(std::istreambuf_iterator<char>(file), std::istreambuf_iterator<char>());
      try_one(corpus.back());
    }
  }
  if (corpus.empty()) return std::fputs("the corpus is empty\n", stderr), 2;
  std::mt19937_64 random(1);
  std::uint64_t tried = 0;
  const auto end = std::chrono::steady_clock::now() + std::chrono::duration<double>(std::atof(words[1]));
  for (; std::chrono::steady_clock::now() < end; ++tried)
    try_one(slipped(corpus[random() % corpus.size()], corpus[random() % corpus.size()], random));
  std::printf("%zu of the corpus, %llu slips\n", corpus.size(), static_cast<unsigned long long>(tried));
  return 0;
}
