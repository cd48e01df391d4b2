// How far long work has got, on a terminal.
#pragma once

#include <chrono>
#include <cstdint>
#include <string>

#include "cli/output.hpp"
#include "core/how_far.hpp"
#include "core/take/block.hpp"

namespace stasis::cli {

/// A line on standard error, if that is a terminal and the work takes more than a second: "1200 of 20000 plays, 12 s
/// left". It is taken away in the end, and rewritten ten times a second at most.
class Progress {
public:
  /// \param what is counted, such as "plays" \param total how many there are, if that is known yet
  Progress(Output& err, std::string what, std::uint64_t total = 0);
  ~Progress();
  Progress(const Progress&) = delete;
  Progress& operator=(const Progress&) = delete;

  void show(std::uint64_t done);
  /// For work that tells how far it is; not longer than this lasts.
  HowFar how_far() {
    return [this](std::size_t done, std::size_t total) {
      total_ = total;
      show(done);
    };
  }
  /// Takes the line away.
  void clear();

private:
  using Time = std::chrono::steady_clock;
  Output& err_;
  std::string what_;
  std::uint64_t total_;
  bool is_seen_; ///< by a terminal
  bool is_shown_ = false;
  Time::time_point began_ = Time::now(), shown_ = began_;
};

/// Tells how far the playing of a take has got.
class ProgressSink final : public BlockSink {
public:
  ProgressSink(Output& err, const Scene& scene)
      : progress_(err, "frames", static_cast<std::uint64_t>(scene.clock.frames)) {}
  void begin(const Scene&) override {}
  void consume(const Block& block) override { progress_.show(static_cast<std::uint64_t>(block.first + block.count)); }
  void end() override { progress_.clear(); }

private:
  Progress progress_;
};

} // namespace stasis::cli
