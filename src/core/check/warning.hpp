// The one registry of warnings: what can look wrong with a feel, why that matters, what to do about it.
#pragma once

#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/measure/take_measures.hpp"

namespace stasis {

struct WarningKind {
  std::string_view code; ///< stable; what [[silence]] names
  std::string_view why;
  std::string_view remedy;
};

/// Every kind of warning, in the order in which they are listed everywhere.
std::span<const WarningKind> warning_kinds() noexcept;

struct Warning {
  std::string code;
  std::string about;            ///< a channel, pose, motion, ...
  std::string take;             ///< where it was seen; empty where it concerns the feel itself
  std::string message;          ///< what was found, with its numbers
  std::string silenced_because; ///< not empty: the feel silences it, for this reason
};

/// What looks wrong with the feel itself.
std::vector<Warning> warnings_of_feel(const Feel& feel);
/// What looks wrong with a finished take.
std::vector<Warning> warnings_of_take(const Feel& feel, const Take& take, const TakeMeasures& measures);

/// What looks wrong with its controls and handovers; a part of warnings_of_feel().
void warn_of_controls(const Feel& feel, std::vector<Warning>& out);
/// Presses of what no press works.
void warn_of_controls(const Feel& feel, const Take& take, std::vector<Warning>& out);
/// In switch_warnings.cpp.
void warn_of_switches(const Feel& feel, std::vector<Warning>& out);
void warn_of_switches(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out);
/// In sequence_warnings.cpp.
void warn_of_sequences(const Feel& feel, std::vector<Warning>& out);
/// Recordings of subjects, in track_warnings.cpp.
void warn_of_tracks(const Feel& feel, std::vector<Warning>& out);

/// What looks wrong with per-frame rules; a part of warnings_of_feel().
void warn_of_frames(const Feel& feel, std::vector<Warning>& out);

/// What looks wrong with what it follows and with its grids; parts of warnings_of_feel() and warnings_of_take().
void warn_of_following(const Feel& feel, std::vector<Warning>& out);
void warn_of_following(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out);

/// What the camera as a whole does beyond what [picture] says is comfortable; part of warnings_of_take().
void warn_of_camera(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out);

/// What looks wrong where obstacles hold a view in; likewise.
void warn_of_room(const Feel& feel, std::vector<Warning>& out);
void warn_of_room(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out);

/// What looks wrong with shakes; parts of warnings_of_feel() and warnings_of_take().
void warn_of_shakes(const Feel& feel, std::vector<Warning>& out);
void warn_of_shakes(const Feel& feel, const Take& take, const TakeMeasures& measures, std::vector<Warning>& out);

/// The codes of all warnings.
std::vector<std::string_view> warning_codes();
/// Marks the warnings that the feel silences.
void apply_silences(const Feel& feel, std::vector<Warning>& warnings);

/// A start kick beyond this, on a motion that is meant to be smooth, is warned of.
inline constexpr double most_smooth_kick = 0.5;

} // namespace stasis
