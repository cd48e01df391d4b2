// What gives channels their home: formulas, subjects that are followed, the seat of an eye, headings. Rules:
// docs/design.md, section 3.
#pragma once

#include <array>
#include <optional>
#include <string>
#include <utility>
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

/// The sources of all channels, and the homes that they give. What a source gives stands until it gives something else,
/// or leaves the channel to its own base.
class GoalSources {
public:
  /// All of them outlive it. \param readers by track of the feel, entered by the caller.
  GoalSources(const Feel& feel, const Take& take, std::vector<TrackReader>& readers, const Controls& controls);
  GoalSources(const GoalSources&) = default;
  GoalSources& operator=(const GoalSources&) = delete;

  /// Goes on as the sources of the channel of the same name did when the feel was changed.
  void go_on_from(const GoalSources& old, const SameNames& same);

  /// The home that a source gives a component, as of the instant asked last; nothing where it has its own base.
  const std::optional<double>& given(ComponentRef component) const noexcept {
    return channels_[component.channel].given[component.component];
  }
  /// True if a source may ever do so.
  bool may_give(ComponentRef component) const noexcept;
  /// The base around which a component's wish lies: what a source gives, or else its own.
  double home(ComponentRef component) const noexcept {
    return given(component) ? *given(component) : controls_.own_base(component);
  }
  /// The same before a dead zone.
  double home_before_zone(ComponentRef component) const noexcept;
  /// The own base of a channel that follows only in poses, as it was before, once it follows no more; what was done to
  /// it meanwhile has no effect.
  std::optional<Components> take_own_base(std::size_t channel) noexcept {
    return channels_[channel].follows ? std::nullopt : std::exchange(channels_[channel].own_base, std::nullopt);
  }
  /// The home of a channel that turns back, while it turns and has somewhere to turn to; from then on it is its own.
  std::optional<double> heading(std::size_t channel, double seen) const;

  /// Before a take begins. \returns false if the channel starts at its own rest.
  bool start(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  /// At a block's first frame, after its cues and before anything is read. \returns true if a view begins to turn back.
  bool look_at_touches(std::size_t channel, double time, const Touches& touches);
  /// At a block's first frame: what jumps there has jumped. \param notes told once of each formula that gives no
  /// number.
  void begin(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  /// At the block's first frame again, when all goals have been read.
  void stay(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  /// At a later instant of the block, not before the last one.
  void go_on(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  /// The same at a corner between two frames, see corners().
  void go_on_to_corner(std::size_t channel, const SourceInstant& instant);

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
    bool follows = false;               ///< in this block
    std::optional<Components> own_base; ///< of a channel that follows only in poses: as it was when it began to
    FollowAim aim{};                    ///< at the last instant
    std::array<std::optional<double>, most_components> given{};
  };

  void put_formulas(std::size_t channel, const SourceInstant& instant, std::vector<std::string>& notes);
  void put_seat(const SourceInstant& instant, std::size_t channel);
  void put_aim(std::size_t channel);
  void stand_by(std::size_t channel);

  const Feel& feel_;
  const Take& take_;
  std::vector<TrackReader>& readers_;
  const Controls& controls_;
  FormulaValues formulas_;
  std::vector<Sources> channels_;
};

} // namespace stasis
