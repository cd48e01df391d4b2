// The instants at which a take is compared on several clocks, one after another: docs/measures.md.
#pragma once

#include <memory>
#include <optional>
#include <utility>
#include <vector>

#include "core/clock.hpp"
#include "core/frame_times.hpp"

namespace stasis {

/// Instants closer than this are one, s: frames of several clocks that meet.
inline constexpr double one_instant = 1e-12;

/// The times of a clock's frames.
class FramesOfClock final : public TimeMaker {
public:
  FramesOfClock(Clock clock, RunsOn which) : clock_(std::move(clock)), which_(which) {}
  std::optional<double> next() override;
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<FramesOfClock>(*this); }

private:
  Clock clock_;
  RunsOn which_;
  std::int64_t frame_ = 0;
};

/// 0, then every `step` before `end`.
class EvenTimes final : public TimeMaker {
public:
  EvenTimes(double step, double end) : step_(step), end_(end) {}
  std::optional<double> next() override;
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<EvenTimes>(*this); }

private:
  double step_, end_, at_ = 0.0;
};

/// Times that are there, ascending.
class GivenTimes final : public TimeMaker {
public:
  explicit GivenTimes(std::vector<double> times)
      : times_(std::make_shared<const std::vector<double>>(std::move(times))) {}
  std::optional<double> next() override;
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<GivenTimes>(*this); }

private:
  std::shared_ptr<const std::vector<double>> times_;
  std::size_t next_ = 0;
};

/// What several makers give, in order; of instants that are one, the first.
class MergedTimes final : public TimeMaker {
public:
  void add(const TimeMaker& maker);
  std::optional<double> next() override;
  std::unique_ptr<TimeMaker> copy() const override;

private:
  struct Stream {
    std::unique_ptr<TimeMaker> maker;
    double next = 0.0;
  };
  std::vector<Stream> streams_; // those that have one more
  std::optional<double> last_;
};

/// Times, steps between them no longer than `finest`, and one more that is not drawn: as far on as the last two lie
/// apart.
class SteppedTimes final : public TimeMaker {
public:
  SteppedTimes(const TimeMaker& times, double finest) : times_(times.copy()), finest_(finest) {}
  SteppedTimes(const SteppedTimes& other);
  std::optional<double> next() override;
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<SteppedTimes>(*this); }

private:
  void begin_span();

  std::unique_ptr<TimeMaker> times_;
  double finest_;
  std::optional<double> from_, to_; // the present span; without an end: there are no more
  double before_ = 0.0;             // the length of the span before
  int part_ = 0, parts_ = 1;
  bool has_begun_ = false;
};

/// For each time of a clock's frames and between them, the time on the clock at which it is drawn: that of its frame,
/// or where the clock goes its own way between frames, its own.
class DrawnTimes final : public TimeMaker {
public:
  DrawnTimes(const TimeMaker& times, Clock clock, bool goes_between)
      : times_(times.copy()), clock_(std::move(clock)), goes_between_(goes_between) {}
  DrawnTimes(const DrawnTimes& other)
      : TimeMaker(), times_(other.times_->copy()), clock_(other.clock_), goes_between_(other.goes_between_),
        frame_(other.frame_) {}
  std::optional<double> next() override;
  std::unique_ptr<TimeMaker> copy() const override { return std::make_unique<DrawnTimes>(*this); }

private:
  std::unique_ptr<TimeMaker> times_;
  Clock clock_;
  bool goes_between_;
  std::int64_t frame_ = 0;
};

} // namespace stasis
