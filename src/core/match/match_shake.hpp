// Which shake was recorded, with which numbers. Methods: docs/maths.md, section "Matching".
#pragma once

#include <optional>
#include <string>
#include <string_view>
#include <variant>
#include <vector>

#include "core/how_far.hpp"
#include "core/match/match_step.hpp"
#include "core/shake/wave.hpp"

namespace stasis {

/// A shake as it was recorded: times ascending, s; values in the unit of the recording.
struct RecordedShake {
  std::vector<double> times, values;
  std::optional<double> hit;  ///< s, where that is known
  std::optional<double> base; ///< about which it shakes, where that is known
};

/// The waves that are tried: the others go by frames, by ways, or hold their values.
using TriedWave = std::variant<RingWave, NoiseWave, SinesWave>;
/// "ring", "noise", "sines".
std::string_view kind_of(const TriedWave& wave) noexcept;

/// A wave that may be the one, with its decay.
struct MatchedShake {
  TriedWave wave;
  std::vector<Estimate> numbers; ///< amplitude, rms (but of a ring), frequency, damping_ratio of a ring, half_life
  Estimate hit_at, base_at;      ///< low == high where it was given
  bool fades = true;             ///< false where no dying away can be told
  double rms = 0.0;              ///< of what it leaves; of a random wave, which is told by its sizes alone, the noise
  double probability = 0.0;
  bool is_indistinct = false; ///< from the best
  /// By kept row: of a ring its path; of a random wave how far it goes at most, above its base and below.
  std::vector<double> path, above, below;

  /// The lines of a table [shake.NAME]: "on = { fov = 0.8 }", "wave = ..". \param what component it shakes, as a key
  std::vector<std::string> lines(const std::string& what) const;
};

/// Why a match says little.
enum class ShakeTrouble {
  none,
  few_swings,   ///< it hardly goes back and forth
  several_hits, ///< it does not die away as one hit does
};

struct ShakeMatch {
  RowCleaning cleaning;
  std::vector<std::size_t> kept; ///< rows that were looked at: of a long recording 2,000
  std::vector<MatchedShake> ranking;
  ShakeTrouble trouble = ShakeTrouble::none;
};

/// A hit that dies away, or what shakes all the time. \param how_far told of what is simulated.
/// \returns nothing where nothing shakes, or fewer than 12 rows are left.
std::optional<ShakeMatch> match_shake(const RecordedShake& recorded, const HowFar& how_far = {});

} // namespace stasis
