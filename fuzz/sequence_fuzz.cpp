// Bytes as a view led through stops: whatever the stops, times and manners of going are, every row is finite, and while
// the sequence runs it is in the same places at 30 and at 60 frames a second.
#include <algorithm>
#include <cmath>
#include <cstdint>
#include <cstdlib>
#include <string>
#include <vector>

#include <fmt/format.h>

#include "core/check/known_names.hpp"
#include "core/feel/read_feel.hpp"
#include "core/measure/take_measures.hpp"
#include "core/take/player.hpp"
#include "io/toml_reader.hpp"

namespace {

/// Choices, one after the other, as the bytes have them; zeros when they are used up.
class Choices {
public:
  Choices(const std::uint8_t* data, std::size_t size) : data_(data), left_(size) {}
  unsigned one_of(unsigned count) { return next() % count; }
  bool yes() { return one_of(2) == 1; }
  double between(double low, double high) { return low + (high - low) * next() / 255.0; }

private:
  std::uint8_t next() {
    if (left_ == 0) return 0;
    --left_;
    return *data_++;
  }

  const std::uint8_t* data_;
  std::size_t left_;
};

std::string a_motion(Choices& choose) {
  switch (choose.one_of(4)) {
  case 0: return fmt::format("{{ kind = \"glide\", half_life = {:.3f} }}", choose.between(0.02, 0.5));
  case 1:
    return fmt::format("{{ kind = \"spring\", frequency = {:.3f}, damping_ratio = {:.3f} }}", choose.between(0.5, 5),
                       choose.between(0.1, 2));
  case 2:
    return fmt::format("{{ kind = \"pace\", speed = {:.3f}, acceleration = {:.3f} }}", choose.between(0.5, 40),
                       choose.between(1, 200));
  default:
    return fmt::format("{{ kind = \"ease\", duration = {:.3f}, curve = \"ease-in-out\" }}", choose.between(0.05, 2));
  }
}

std::string a_stop(Choices& choose, int number) {
  std::string text = "{ ";
  switch (choose.one_of(number == 0 ? 4 : 3)) {
  case 0: text += fmt::format("after = {:.3f}, ", choose.between(0, 2)); break;
  case 1: text += fmt::format("at = {:.3f}, ", number + choose.between(0, 1)); break;
  case 2: text += fmt::format("speed = {:.3f}, ", choose.between(0.2, 20)); break;
  default: break; // a first stop without a time
  }
  switch (choose.one_of(5)) {
  case 0: text += "cut = true, "; break;
  case 1: text += "curve = \"in-out sine\", "; break;
  case 2: text += "motion = " + a_motion(choose) + ", "; break;
  default: break; // flown through
  }
  if (choose.one_of(4) == 0) text += fmt::format("hold = {:.3f}, ", choose.between(0, 0.6));
  text += fmt::format("place = [{:.2f}, {:.2f}, {:.2f}]", choose.between(-9, 9), choose.between(-9, 9),
                      choose.between(-9, 9));
  if (choose.yes()) text += fmt::format(", yaw = {:.1f}", choose.between(-400, 400));
  if (choose.yes()) text += fmt::format(", pitch = {:.1f}", choose.between(-80, 80));
  if (choose.yes()) text += fmt::format(", lens = {:.1f}", choose.between(25, 100));
  if (choose.yes()) text += fmt::format(", far = {{ times = {:.2f} }}", choose.between(0.3, 3));
  return text + " }, ";
}

std::string a_feel(Choices& choose) {
  std::string text = R"([picture]
position = "place"
yaw = "yaw"
pitch = "pitch"
lens = { channel = "lens", axis = "vertical" }
[channel.place]
unit = "m"
rest = [0, 1, 0]
[channel.yaw]
unit = "deg"
space = "turn"
rest = 10
[channel.pitch]
unit = "deg"
rest = -5
[channel.lens]
unit = "deg"
space = "zoom"
rest = 60
[channel.far]
unit = "m"
space = "ratio"
rest = 4
motion = )" + a_motion(choose)
                     + "\n[sequence.s]\nstops = [";
  const unsigned stops = 1 + choose.one_of(7);
  for (unsigned k = 0; k < stops; ++k) text += a_stop(choose, static_cast<int>(k));
  text += "]\n";
  if (choose.yes()) text += "steady = true\n";
  if (choose.yes()) text += "overshoot = false\n";
  if (choose.yes()) text += fmt::format("ease_in = {:.2f}\n", choose.between(0, 1));
  if (choose.yes()) text += fmt::format("ease_out = {:.2f}\n", choose.between(0, 1));
  const char* const turns[] = {"angles", "together", "even"};
  text += fmt::format("turns = \"{}\"\npace = {:.2f}\nrepeat = {}\n", turns[choose.one_of(3)], choose.between(0.3, 3),
                      1 + choose.one_of(3));
  if (choose.yes()) text += "there_and_back = true\n";
  if (choose.yes()) text += "backward = true\n";
  if (choose.yes()) text += "on_end = \"stay\"\n";
  text += "[take.t]\nlength = 6\ncues = [{ at = 0.2, start = \"s\" }";
  if (choose.yes()) text += fmt::format(", {{ at = {}, skip = \"s\" }}", (9 + choose.one_of(120)) / 30.0);
  if (choose.yes()) text += fmt::format(", {{ at = {}, start = \"s\" }}", (9 + choose.one_of(120)) / 30.0);
  return text + "]\n";
}

/// Values of every frame, and whether the sequence ran from it to the next.
class Values final : public stasis::BlockSink {
public:
  void begin(const stasis::Scene& scene) override { feel_ = scene.feel; }
  void consume(const stasis::Block& block) override {
    for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
      std::vector<double>& now = rows.emplace_back();
      for (std::size_t c = 0; c < feel_->channels.size(); ++c)
        for (std::size_t i = 0; i < feel_->channels[c].components; ++i)
          now.push_back(block.channels[c].component[i].smooth[row]);
      for (const double value : now)
        if (!std::isfinite(value)) std::abort();
      runs.push_back(!block.sequences.empty());
    }
  }
  void end() override {}

  std::vector<std::vector<double>> rows;
  std::vector<bool> runs;

private:
  const stasis::Feel* feel_ = nullptr;
};

Values played(const stasis::Feel& feel, double fps) {
  Values values;
  stasis::MeasureSink measures;
  stasis::BlockSink* const sinks[] = {&values, &measures};
  measures.take(stasis::play({&feel, &feel.takes[0], stasis::steady_clock(fps, feel.takes[0].length)}, sinks));
  return values;
}

} // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
  Choices choose(data, size);
  const std::string text = "feel = 1\n" + a_feel(choose);
  const auto document = stasis::io::read_toml(text, 0);
  if (!document) std::abort(); // it is ours
  const auto feel = stasis::read_feel(*document, stasis::all_known_names);
  if (!feel) return feel.error().empty() ? (std::abort(), 0) : 0;
  const Values slow = played(*feel, 30), quick = played(*feel, 60);
  // Until it ends for the first time: what comes then begins at a frame.
  for (std::size_t k = 0; k < slow.rows.size() && 2 * k < quick.rows.size(); ++k) {
    const bool has_begun = k > 6;
    if (has_begun && (!slow.runs[k] || !quick.runs[2 * k] || !quick.runs[2 * k - 1])) break;
    for (std::size_t c = 0; c < slow.rows[k].size(); ++c) {
      const double here = slow.rows[k][c], there = quick.rows[2 * k][c];
      if (std::fabs(here - there) > 1e-7 * std::max(1.0, std::fabs(there))) std::abort();
    }
  }
  return 0;
}
