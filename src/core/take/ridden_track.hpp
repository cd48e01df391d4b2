// A value that goes where a subject goes, as a sequence leads it. Rules: docs/design.md, section 3.
#pragma once

#include <memory>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/motion/led.hpp"

namespace stasis {

/// When in a take a sequence is at a time of its own.
struct CourseClock {
  double begins = 0.0;     ///< s of the take, at the sequence's time 0
  double per_second = 1.0; ///< s of the take in one of the sequence's; negative where it is gone back
  double of(double course) const noexcept { return begins + per_second * course; }
  bool operator==(const CourseClock&) const = default;
};

/// Where a subject is, as the value of one component of a channel.
class RiddenTrack final : public OuterWay {
public:
  /// \param base in the unit: what stands for a subject that is lost and gives the channel home.
  RiddenTrack(const Track& track, const Tick& tick, const CourseClock& clock, const Channel& channel,
              std::size_t component, double base);

  /// From now on it is told so many whole turns round that it is there, at a time of the sequence, by the short way.
  void lift(double time, double from);

  Instant at(double time, Side side) const override;
  double next_break(double time) const override;
  double smooth_stretch(double time) const override;
  /// True if it goes straight in the channel's space between its breaks.
  bool is_straight() const noexcept;

private:
  Track track_;
  Tick tick_;
  CourseClock clock_;
  SpaceMap space_;
  std::size_t component_;
  ComponentRange range_;
  double base_, lift_ = 0.0;
};

/// A value that eases to where a subject goes, and goes on with it: as an eased move whose goal moves.
class EasedRide final : public OuterWay {
public:
  /// \param begin s of the sequence; \param from value and speed then.
  EasedRide(std::shared_ptr<const RiddenTrack> ride, const Ease& ease, double begin, const Instant& from);

  Instant at(double time, Side side) const override;
  double next_break(double time) const override;
  double smooth_stretch(double time) const override;

private:
  std::shared_ptr<const RiddenTrack> ride_;
  Ease ease_;
  EaseRun run_;
  double begin_;
};

/// A value that goes after a subject by a motion: exact steps from corner to corner of its way, each made when it is
/// first asked for. Of the steps one in so many is kept, so that an hour takes some megabytes; one thread asks at a
/// time.
class TrackChase final : public OuterWay {
public:
  /// \param state at `begin`, s of the sequence; the motion's move has begun.
  TrackChase(std::shared_ptr<const Motion> motion, std::shared_ptr<const RiddenTrack> goal, MoverState state,
             double begin);

  Instant at(double time, Side side) const override;
  double next_break(double time) const override;
  double smooth_stretch(double time) const override;
  double heading_at(double time, Side side) const override { return goal_->at(time, side).value; }

private:
  struct Kept {
    double time;
    MoverState state;
  };
  struct Piece {
    double begin;
    FramePiece piece;
  };
  double next_corner(double time) const;
  void step_from(std::size_t kept) const;
  const Piece& piece_at(double time, Side side) const;

  std::shared_ptr<const Motion> motion_;
  std::shared_ptr<const RiddenTrack> goal_;
  double begin_;
  mutable std::vector<Kept> kept_;    ///< where a run of steps begins, ascending; the last one's are not made yet
  mutable std::vector<Piece> pieces_; ///< the steps of one run
  mutable std::size_t run_ = 0;       ///< which
  mutable StepMemory memory_;
};

} // namespace stasis
