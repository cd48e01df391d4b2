// A sequence told stop by stop.
#pragma once

#include <string>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/measure/sequence_preview.hpp"

namespace stasis {

struct StopAccount {
  std::size_t stop = 0;               ///< counted from 1
  double arrives = 0.0, leaves = 0.0; ///< s from the sequence's beginning
  std::string way;                    ///< how it is come to: "flown", "eased along in-out sine", ...
  std::string goals;                  ///< what it asks of its channels
  LegSummary leg;                     ///< that leads there
};

struct SequenceAccount {
  std::string sequence;
  std::string sentence;  ///< how often, at which pace, what happens at the end
  std::string along;     ///< the channel along which lengths are measured
  std::string unit;      ///< of those
  double duration = 0.0; ///< s, once through, at its pace
  std::vector<StopAccount> stops;
  std::vector<std::string> given_up;
};

/// As it goes from rest. \param take whose tracks are played; null: the feel's own.
SequenceAccount account_of_sequence(const Feel& feel, const Take* take, const Sequence& sequence);

} // namespace stasis
