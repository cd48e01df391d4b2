// The way of a sequence, worked out from where its channels are when it begins. Source: docs/maths.md, section 13.
#pragma once

#include <array>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/motion/led.hpp"
#include "core/take/led_component.hpp"

namespace stasis {

/// Where a component is when a sequence begins: what it would do if it were left alone.
struct LedStart {
  LedWay::Moving going_on; ///< in the channel's space
  double base = 0.0;       ///< in the unit: what `times` and `add` are of
};
using ReadLedStart = std::function<LedStart(ComponentRef)>;

/// Worked out once, and not changed while it is gone.
struct SequenceCourse {
  struct OfChannel {
    std::size_t channel = 0;
    std::array<std::shared_ptr<const LedWay>, most_components> way; ///< null: the component is not led
  };
  std::vector<OfChannel> channels;
  std::vector<double> arrives, leaves; ///< s, by stop
  std::optional<std::size_t> along;    ///< the channel along which ways are measured
  /// What could not all be had: which of the things asked for was given up, in words.
  std::vector<std::string> given_up;

  double total() const noexcept { return leaves.back(); }
  std::vector<double> cuts; ///< s: when anything jumps, ascending
  /// True if anything jumps after the one time and not after the other, whichever is the later.
  bool cuts_between(double a, double b) const noexcept;
};

/// \param scene its clock tells when the sequence begins. \param part which part of it is gone.
SequenceCourse course_of(const CourseScene& scene, const Sequence& sequence, const ReadLedStart& start,
                         const SequencePart& part = {});
/// The same from rest, as a sequence that begins before anything is pressed; its subjects are where they are when the
/// take's first cue begins it, else at the take's beginning.
SequenceCourse course_at_rest(const Feel& feel, const Take* take, const Sequence& sequence);

/// One pass over the course, or part of one: from where to where in its own time, and when on the clock.
struct CoursePass {
  double from = 0.0, to = 0.0; ///< s of the course; from > to on the way back
  double begins = 0.0;         ///< s on the clock since the sequence began
};
/// The passes that are gone by `elapsed` seconds on the clock; the last one as far as it has come. At most `most`.
std::vector<CoursePass> passes_of(const LedTime& time, double elapsed, std::size_t most);

/// How the course is gone along. \param part whose stops are those of the sequence.
LedTime time_of(const Sequence& sequence, const SequenceCourse& course, const SequencePart& part = {});

/// The channel along which the sequence's way is measured, `time` seconds into its course: place and rates, in its
/// unit.
struct AlongInstant {
  Components place{}, velocity{}, acceleration{}, jerk{};
};
AlongInstant along_at(const Feel& feel, const SequenceCourse& course, double time, Side side = Side::at);

/// From one stop to the next.
struct SequenceLeg {
  std::size_t from = 0, to = 0;   ///< stops counted from 1; 0: where the view was
  double start = 0.0;             ///< s from the sequence's beginning
  double duration = 0.0;          ///< s
  double length = 0.0;            ///< of the way along, in its unit
  double top_speed = 0.0;         ///< along it, unit/s
  double top_jerk = 0.0;          ///< unit/s3: infinite where a curve stands upright
  double speed_jump = 0.0;        ///< unit/s: of the velocity along it, where it comes to its stop
  double acceleration_jump = 0.0; ///< unit/s2: likewise
};

/// The legs of a pass, in the order in which they are gone, with their times on the clock since the sequence began.
std::vector<SequenceLeg> legs_of(const Feel& feel, const SequenceCourse& course, const CoursePass& pass, double pace);

} // namespace stasis
