// What gives channels their home: formulas, subjects that are followed, the seat of an eye, headings. Rules:
// docs/design.md, section 3.
#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/take/follower.hpp"
#include "core/take/formula_values.hpp"
#include "core/take/realigner.hpp"

namespace stasis {

class SameNames;

/// An instant at which sources are asked: a frame, or one between two.
struct SourceInstant {
  double time = 0.0;           ///< s
  double seen = 0.0;           ///< s: of the subjects that the camera then sees
  const ReadComponent& smooth; ///< values after motion
  const ReadComponent& goal;
};

/// What has moved a channel by hand since the frame before, and what is held.
struct Touches {
  bool held = false;  ///< a stick is deflected
  bool moved = false; ///< a pointer has moved
};

/// The sources of all channels; they put what they give into the bases of `controls`.
class GoalSources {
public:
  /// All of them outlive it. \param readers by track of the feel, entered by the caller.
  GoalSources(const Feel& feel, const Take& take, std::vector<TrackReader>& readers, Controls& controls);
  GoalSources(const GoalSources&) = default;
  GoalSources& operator=(const GoalSources&) = delete;

  /// Goes on as the sources of the channel of the same name did when the feel was changed.
  void go_on_from(const GoalSources& old, const SameNames& same);

  /// Before a take begins. \returns false if the channel starts at its own rest.
  bool start(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  /// At a block's first frame, after its cues and before anything is read. \returns true if a view begins to turn back.
  bool look_at_touches(std::size_t channel, double time, const Touches& touches);
  /// At a block's first frame: what jumps there has jumped. \param notes told once of each formula that gives no
  /// number.
  void begin(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  /// At the block's first frame again, when all goals have been read. \param by_hand its base is moved by a stick or
  /// pointer.
  void stay(std::size_t channel, const SourceInstant& instant, bool by_hand, std::vector<std::string>& notes);
  /// At a later instant of the block, not before the last one.
  void go_on(std::size_t channel, const SourceInstant& instant, bool by_hand, std::vector<std::string>& notes);
  /// The same at a corner between two frames, see corners().
  void go_on_to_corner(std::size_t channel, const SourceInstant& instant);
  /// What the last instant gave, put into the bases again; or what it gave before the dead zone.
  void put_aim(std::size_t channel, bool before_zone = false);

  /// Instants strictly between two times, of the subjects seen, at which what it gives turns a corner.
  void corners(std::size_t channel, double from, double to, std::vector<double>& out) const;
  /// When something begins by itself, if nothing is touched; s, never if nothing does.
  double begins_at(std::size_t channel) const noexcept;
  /// True if it follows something in this block: a channel may do so only while a pose gives it a track.
  bool is_following(std::size_t channel) const noexcept;
  /// Which track it follows, counted from 1; 0: none, or none that is there.
  std::size_t track(std::size_t channel) const noexcept;
  /// True if a goal is made from what its own channel does, so that each frame is read by itself.
  bool feeds_back() const noexcept;
  /// The axes in which a channel's motions work at an instant.
  Axes damping_axes(std::size_t channel, const SourceInstant& instant) const;

private:
  struct Sources {
    std::optional<Follower> follower;
    std::optional<Realigner> realigner;
    std::optional<Components> own_base; ///< of a channel that follows only in poses, while it does
    FollowAim aim{};                    ///< at the last instant
  };

  void put_formulas(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  void put_seat(const SourceInstant& instant, std::size_t channel);
  void put_heading(std::size_t channel, double seen);
  bool takes_track(std::size_t channel, bool follows);

  const Feel& feel_;
  const Take& take_;
  std::vector<TrackReader>& readers_;
  Controls& controls_;
  FormulaValues formulas_;
  std::vector<Sources> channels_;
};

} // namespace stasis
