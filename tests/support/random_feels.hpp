// Feels made at random, as text: for properties that must hold for any feel.
#pragma once

#include <cstdint>
#include <random>
#include <string>
#include <vector>

namespace stasis::test {

/// What a random feel may hold.
struct FeelKinds {
  bool tracks = true; ///< channels that follow
  bool shakes = true;
  bool controls = true; ///< others than holds: toggles, cycles, clicks
  bool rules_of_frames = false;
  bool switches = false;
  bool sticks = false; ///< and formulas: goals that are curved between frames
  bool sequences = false;
};

/// A feel of random channels, motions, poses and controls, with one take.
struct RandomFeel {
  std::string text;              ///< without a clock
  double length = 0.0;           ///< s
  std::vector<double> cue_times; ///< s, ascending, each once: instants that must be frames
};

class FeelMaker {
public:
  explicit FeelMaker(std::uint64_t seed, FeelKinds kinds = {}) : random_(seed), kinds_(kinds) {}

  RandomFeel make();

  /// A motion as a table in one line, for a channel in a space.
  std::string motion(bool may_wait);
  std::string curve();

private:
  double between(double low, double high);
  double round_number(); ///< a time as people type it
  double time();
  bool once_in(unsigned n) { return random_() % n == 0; }
  template<class T, std::size_t N> T one_of(const T (&all)[N]) { return all[random_() % N]; }

  std::string glide();
  std::string spring();
  std::string ease();
  std::string pace();
  std::string stages();
  std::string per_frame();

  struct MadeChannel {
    std::string name, space;
    std::size_t components = 1;
    double rest = 0.0, low = 0.0, high = 0.0;
    bool follows = false;
  };
  void add_channel(std::size_t index);
  std::string value_for(const MadeChannel& channel);
  void add_poses();
  void add_sequence();
  std::string start_and_skip(const std::vector<double>& times);
  void add_controls();
  void add_switch();
  void add_shake();
  void add_track();
  std::string cues();

  std::mt19937_64 random_;
  FeelKinds kinds_;
  std::string text_;
  std::vector<MadeChannel> channels_;
  std::vector<std::string> poses_, holds_, presses_, clicks_, sticks_, pointers_, shakes_;
  RandomFeel made_;
};

} // namespace stasis::test
