#include "core/measure/sequence_meter.hpp"

#include <algorithm>

#include "core/measure/camera_meter.hpp"

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
  if (block.eye[0].empty()) return;
  has_eye_ = true;
  for (std::size_t row = 0; row < static_cast<std::size_t>(block.count); ++row) {
    const double time = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
    const std::array<double, 5> look{time, block.eye[3][row], block.eye[4][row], block.eye[5][row], block.eye[6][row]};
    if (last_look_ && time > (*last_look_)[0]) {
      const auto& was = *last_look_;
      const double dt = time - was[0], middle = 0.5 * (time + was[0]);
      const double speed = turn_angle({was[1], was[2], was[3], was[4]}, {look[1], look[2], look[3], look[4]}) / dt;
      for (Run& run : runs_) {
        constexpr std::size_t most_turns = 100'000;
        if (run.turns.size() < most_turns)
          run.turns.push_back({middle, speed});
        else if (run.turns.back().speed < speed)
          run.turns.back() = {middle, speed};
      }
    }
    last_look_ = look;
    if (jumps[row] != 0) last_look_.reset();
  }
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

} // namespace stasis
