// A sequence as it goes when everything rests: what can be said of it before any take.
#pragma once

#include <optional>
#include <vector>

#include "core/measure/sequence_meter.hpp"

namespace stasis {

struct SequencePreview {
  SequenceCourse course;
  std::vector<LegSummary> legs; ///< of one pass forward, `start` from the sequence's beginning
  /// The eye passes what it looks at: how near, as a share of its usual distance; nothing without both.
  struct Passing {
    double time = 0.0, distance = 0.0, usual = 0.0; ///< s; in the unit of places
  };
  std::optional<Passing> nearest;
};
/// \param take whose tracks are played; null: the feel's own.
SequencePreview preview_of(const Feel& feel, const Take* take, const Sequence& sequence);

} // namespace stasis
