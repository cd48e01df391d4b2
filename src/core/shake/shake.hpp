// A disturbance that is put on after everything else and never fed back.
#pragma once

#include <cstddef>
#include <cstdint>
#include <limits>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/clock.hpp"
#include "core/component_ref.hpp"
#include "core/shake/envelope.hpp"
#include "core/shake/wave.hpp"

namespace stasis {

/// How several hits that are still felt make one strength.
enum class Stacking : std::uint8_t {
  largest,  ///< the strongest now
  sum,      ///< all added up, `cap` at most
  root_sum, ///< the root of the sum of squares, `cap` at most
  latest,   ///< the accident: the last hit wipes the others out
};
std::string_view name_of(Stacking stacking) noexcept;

struct ShakeTarget {
  ComponentRef component;
  double amplitude = 0.0; ///< in the channel's unit, at strength 1
};

struct NamedStrength {
  std::string name;
  double strength = 1.0;
};

struct Falloff {
  double near = 0.0, far = 1.0; ///< distance from the hit to the eye: all of it, nothing of it
};

struct Shake {
  std::string name;
  std::vector<ShakeTarget> targets;
  Wave wave;
  Decay decay;
  Stacking stacking = Stacking::largest;
  double cap = std::numeric_limits<double>::infinity();
  std::uint64_t seed = 1;
  bool in_view = false; ///< places are along the camera's axes
  bool always = false;  ///< felt without a hit, at `level`
  double level = 1.0;
  std::optional<ComponentRef> level_channel; ///< instead
  std::vector<NamedStrength> strengths;
  std::optional<Falloff> falloff;
  std::optional<double> share_stated; ///< the amplitudes were stated as this share of the limit: an rms, a typical peak
  double quiet_below = 0.02;          ///< share of full strength under which it counts as gone
  bool muted = false;                 ///< left out in this call
  RunsOn runs_on = RunsOn::game;      ///< the time by which it goes and dies away
};

} // namespace stasis
