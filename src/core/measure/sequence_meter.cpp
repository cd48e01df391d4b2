#include "core/measure/sequence_meter.hpp"

#include <algorithm>

namespace stasis {
namespace {

bool is_same_run(const SequenceMark& a, const SequenceMark& b) noexcept {
  return a.sequence == b.sequence && a.course == b.course && a.frame == b.frame;
}

} // namespace

SequenceMeter::SequenceMeter(const Scene& scene) : scene_(scene), out_(scene.feel->sequences.size()) {}

void SequenceMeter::consume(const Block& block, std::span<const std::uint8_t> jumps) {
  const double now = scene_.clock.time(block.first);
  const double end = scene_.clock.time(block.first + block.count - 1);
  for (const Run& run : runs_) {
    const bool goes_on = std::any_of(block.sequences.begin(), block.sequences.end(),
                                     [&](const SequenceMark& mark) { return is_same_run(mark, run.mark); });
    if (!goes_on) close(run, now);
  }
  std::erase_if(runs_, [&](const Run& run) {
    return std::none_of(block.sequences.begin(), block.sequences.end(),
                        [&](const SequenceMark& mark) { return is_same_run(mark, run.mark); });
  });
  for (const SequenceMark& mark : block.sequences) {
    const auto known =
        std::find_if(runs_.begin(), runs_.end(), [&](const Run& run) { return is_same_run(mark, run.mark); });
    if (known != runs_.end()) continue;
    runs_.push_back({mark, {}, end});
    ++out_[mark.sequence].starts;
  }
  for (Run& run : runs_) run.last_time = end;
  note_turns(block, jumps);
}

void SequenceMeter::note_turns(const Block& block, std::span<const std::uint8_t> jumps) {
  has_eye_ = has_eye_ || !block.eye[0].empty();
  turn_speeds_.read(scene_.clock, block, jumps, [&](double from, double to, double speed) {
    for (Run& run : runs_) {
      constexpr std::size_t most_turns = 100'000;
      if (run.turns.size() < most_turns)
        run.turns.push_back({0.5 * (from + to), speed});
      else if (run.turns.back().speed < speed)
        run.turns.back() = {0.5 * (from + to), speed};
    }
  });
}

void SequenceMeter::close(const Run& run, double until) {
  const double begin = scene_.clock.time(run.mark.frame);
  const double elapsed = std::min(until - begin, run.mark.time.total());
  SequenceSummary& out = out_[run.mark.sequence];
  if (until - begin < run.mark.time.total() - instant_slack) ++out.skips;
  constexpr std::size_t most_passes = 1000;
  for (const CoursePass& pass : passes_of(run.mark.time, elapsed, most_passes))
    for (SequenceLeg leg : legs_of(*scene_.feel, *run.mark.course, pass, run.mark.time.pace)) {
      leg.start += begin;
      std::optional<double> turning;
      for (const Turn& turn : run.turns)
        if (turn.time >= leg.start && turn.time <= leg.start + leg.duration)
          turning = std::max(turning.value_or(0.0), turn.speed);
      if (has_eye_ && !turning) turning = 0.0;
      out.legs.push_back({leg, turning});
    }
}

std::vector<SequenceSummary> SequenceMeter::finish() {
  for (const Run& run : runs_) {
    close(run, run.last_time);
    // The take has ended it, nobody has skipped it.
    const double elapsed = run.last_time - scene_.clock.time(run.mark.frame);
    if (elapsed < run.mark.time.total() - instant_slack) --out_[run.mark.sequence].skips;
  }
  runs_.clear();
  return std::move(out_);
}

void note_cuts(const Clock& clock, const Block& block, std::span<std::uint8_t> jumps) {
  constexpr double rounding = 1e-9; // s
  for (const SequenceMark& mark : block.sequences) {
    const std::vector<double>& cuts = mark.course->cuts;
    if (cuts.empty()) continue;
    const double begins = clock.time(mark.frame);
    for (std::size_t row = 0; row < jumps.size(); ++row) {
      const std::int64_t frame = block.first + static_cast<std::int64_t>(row);
      const LedPlace from = place_at(mark.time, clock.time(frame) - begins, false);
      const LedPlace to = place_at(mark.time, clock.time(frame + 1) - begins, true);
      // A cut on a row is seen there, unless the sequence begins with it; gone back, it is seen a row before.
      const double side = from.rate < 0.0 ? -rounding : rounding;
      const double low = std::min(from.at, to.at) + (frame == mark.frame ? -rounding : side);
      const double high = std::max(from.at, to.at) + side;
      if (std::any_of(cuts.begin(), cuts.end(), [&](double cut) { return cut > low && cut <= high; })) jumps[row] = 1;
    }
  }
}

} // namespace stasis
