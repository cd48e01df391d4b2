// What each channel of a feel does, in words and numbers: from its goal to its output.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/feel/feel.hpp"
#include "core/motion/response.hpp"

namespace stasis {

/// What a step of size 1 from rest does under a motion; times in seconds.
struct StepAccount {
  std::optional<double> to_50, to_90, to_98, settling_time, overshoot, start_kick;
  std::optional<double> peak_acceleration; ///< of the way, 1/s2
  std::string why_not_played;              ///< empty where it was

  bool takes_no_time() const { return to_98 == 0.0; }
};

struct MotionAccount {
  std::string name;
  std::string when;     ///< "rising", "x", "entering listen", ...; empty where it always holds
  std::string sentence; ///< what it is and how it feels
  std::vector<EquivalentForm> forms;
  StepAccount step;
  std::optional<double> lag;    ///< s behind a goal that moves steadily
  std::optional<double> at_fps; ///< of a per-frame rule: the rate at which all this holds
  std::vector<Sway> sways;      ///< empty for motions that are not linear
};

struct PoseAccount {
  std::string pose;
  std::string sentence;
  std::optional<double> picture_scale; ///< against rest, of the lens
};

struct ChannelAccount {
  std::string channel;
  std::string heading; ///< unit, rest, range, space
  std::vector<MotionAccount> motions;
  std::vector<PoseAccount> poses;
  std::string follow;   ///< what it follows and how; empty if nothing
  std::string profile;  ///< what it is read from; empty if nothing
  std::string realign;  ///< what it turns back to; empty if nothing
  std::string room;     ///< what holds it in, or where it is put; empty if nothing
  std::string snap;     ///< the grid of its output; empty without one
  std::string time;     ///< by which it runs; empty where it is game time
  std::string at_range; ///< what happens at the range
};

/// The account of one motion on its own. \param in_doublings in a logarithmic space: what is per second is given in
/// doublings
MotionAccount account_of(const std::string& name, const Motion& motion, bool in_doublings = false);
ChannelAccount account_of(const Feel& feel, std::size_t channel);

/// The frequencies at which a sway is tried, Hz.
inline constexpr double sway_frequencies[] = {0.5, 1.0, 2.0, 4.0, 8.0};

/// What a channel follows, in the order in which it is worked out; and its grid. Empty where there is none.
std::string follow_in_words(const Feel& feel, const Channel& channel);
std::string snap_in_words(const Feel& feel, const Channel& channel);

/// The profiles that a channel is read from, and the heading that it turns back to. Empty where there is none.
std::string profile_in_words(const Feel& feel, std::size_t channel);
std::string realign_in_words(const Feel& feel, const Channel& channel);
/// What obstacles hold the channel in, or where it is put as the eye; empty if neither.
std::string room_in_words(const Feel& feel, const Channel& channel);
/// How a distance keeps the subject's size; empty if it does not.
std::string kept_width_in_words(const Channel& channel);

/// A shake in words: how hard, how fast it rattles, until when it is half and until it is gone, what several hits make.
std::string shake_in_words(const Feel& feel, const Shake& shake);

} // namespace stasis
