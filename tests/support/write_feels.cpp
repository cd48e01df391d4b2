// Writes random feels into a folder, one a file, each with a clock: what `scripts/same-as` has two builds play.
// usage: write_feels FOLDER COUNT SEED [inputs]   (inputs: feels with every kind of input at once)
#include <cstdio>
#include <cstdlib>
#include <fstream>
#include <string_view>

#include <fmt/format.h>

#include "support/random_feels.hpp"
#include "support/random_inputs.hpp"

namespace {

/// A clock of any kind: steady, trembling, or with a stall.
std::string clock_for(std::mt19937_64& random) {
  const double rates[] = {24, 30, 48, 60, 90, 144, 240};
  const double fps = rates[random() % 7];
  switch (random() % 3) {
  case 0: return fmt::format("clock = {{ fps = {} }}\n", fps);
  case 1: return fmt::format("clock = {{ fps = {}, jitter = 0.3, seed = {} }}\n", fps, random() % 1000);
  default: return fmt::format("clock = {{ fps = {}, stalls = [[0.6, 0.15], [1.3, 0.4]] }}\n", fps);
  }
}

} // namespace

int main(int count, char** arguments) {
  const bool has_inputs = count == 5 && std::string_view(arguments[4]) == "inputs";
  if (count != 4 && !has_inputs) {
    std::fputs("usage: write_feels FOLDER COUNT SEED [inputs]\n", stderr);
    return 2;
  }
  const std::string folder = arguments[1];
  const std::uint64_t feels = std::strtoull(arguments[2], nullptr, 10), seed = std::strtoull(arguments[3], nullptr, 10);
  for (std::uint64_t n = 0; n < feels; ++n) {
    std::mt19937_64 random(seed + n);
    const stasis::test::FeelKinds kinds{
        .rules_of_frames = random() % 4 == 0, .switches = random() % 3 == 0, .sticks = random() % 2 == 0};
    stasis::test::FeelMaker maker(seed + n, kinds);
    std::ofstream out(fmt::format("{}/f{}.toml", folder, n));
    out << "feel = 1\n"
        << (has_inputs ? stasis::test::feel_of_inputs(seed + n) : maker.make().text + clock_for(random));
    if (!out.flush()) {
      std::fputs("write_feels: could not write\n", stderr);
      return 3;
    }
  }
  return 0;
}
