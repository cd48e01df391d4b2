// A feel that is played by hand: inputs as they come, frames as long as they turn out. Rules: docs/design.md,
// section 3.
#pragma once

#include <memory>
#include <optional>
#include <span>
#include <string>
#include <vector>

#include "core/take/block.hpp"

namespace stasis {

/// A feel under way, in the surroundings of one of its takes (tracks, obstacles, ticks); the take's own cues do not
/// act.
///
/// Each frame: give the inputs that have come, then advance(). They act at the frame to which that leads, as cues of a
/// take do, and the values are those of that frame: row for row what a take of the same cues on the same frames gives,
/// to the bit. What advances allocates nothing once every motion has been used.
class Session {
public:
  /// Frames as long as they turn out. \param feel, take outlive the session.
  Session(const Feel& feel, const Take& take);
  /// Frames of equal length: `fps` a second, > 0.
  Session(const Feel& feel, const Take& take, double fps);
  ~Session();
  Session(Session&&) noexcept;
  Session& operator=(Session&&) noexcept;

  /// The same moment under another feel: channels, controls, poses and shakes of the same names go on from where they
  /// are, by the new numbers from this frame on; a move that takes a set time is finished by its old ones. What is new
  /// begins at rest. \param feel, take outlive the session; inputs given since the frame are kept.
  Session changed(const Feel& feel, const Take& take) const;

  /// Inputs; indices are those of the feel. What has no effect leaves a note.
  void press(std::size_t control, std::size_t button = 0);
  void release(std::size_t control, std::size_t button = 0);
  void cancel(std::size_t control);
  void click(std::size_t control, int count);
  /// \param counts that a pointer has moved.
  void move_pointer(std::size_t control, double counts);
  /// \param deflection -1 to 1; it stays there.
  void push_stick(std::size_t control, double deflection);
  void lock(std::size_t control, bool locked);
  /// \param strength 1 is a full hit.
  void hit(std::size_t shake, double strength = 1.0);
  /// The home of a component, in the channel's unit.
  void put_home(ComponentRef component, double value);
  void follow(std::size_t channel, std::size_t track);
  /// From this frame on game time goes this many times as fast as the clock: what `runs_on = "clock"` excepts, goes on
  /// as ever. Frames of equal length cannot be slowed: nothing changes. \param speed >= 0; at 0 it all but stands.
  /// \param over s on the clock in which the speed changes, >= 0
  void change_game_speed(double speed, double over = 0.0);
  /// Any cue; its time is when it came, after the frame before. One that lies later acts at the next frame all the
  /// same.
  void give(Cue cue);

  /// On to the next frame, `dt` s later, >= 0. The first call begins the first frame, at time 0, whatever `dt` is.
  /// Frames of equal length are as long as they are, whatever `dt` is.
  void advance(double dt);
  /// The same to a time, s, not before that of the frame.
  void advance_to(double time);

  /// Number and time of the frame, s; -1 and 0 before the first. \note time() is that of the clock.
  std::int64_t frame() const noexcept;
  double time() const noexcept;
  double game_time() const noexcept;
  /// Game time at a time of the clock from this frame on, as game time goes now.
  double game_time_at(double time) const noexcept;
  /// In the channel's unit: where it is heading, where its motion has brought it, what is drawn.
  double goal(ComponentRef component) const;
  double smooth(ComponentRef component) const;
  double value(ComponentRef component) const;
  /// unit/s: with which it has come here, before what acts at this frame.
  double velocity(ComponentRef component) const;
  /// Place of the eye and its turn (x, y, z, w); nothing where the picture places no eye in space.
  std::optional<std::array<double, 7>> eye() const;
  bool is_down(std::size_t control) const;
  /// See Controls::state().
  double state(std::size_t control) const;
  /// Strength, 1 being one full hit; 0 where it is not felt.
  double strength(std::size_t shake) const;
  /// What is played, on the clock of the frames so far.
  const Scene& scene() const noexcept;
  /// The first instant of this frame, as a block of one row: goals, values, shakes, eye, tracks.
  const Block& now() const;
  /// The frame before with all its columns, of which what lies between its instant and this one is part; nothing
  /// before the second frame.
  const Block* frame_before() const noexcept;
  /// Notes on inputs that had no effect, since this was last asked.
  std::vector<std::string> take_notes();

  /// All of it, to go back to.
  class Saved;
  std::shared_ptr<const Saved> save() const;
  /// \param saved by this very session.
  void restore(const Saved& saved);

private:
  class Inside;
  explicit Session(std::unique_ptr<Inside> inside);
  std::unique_ptr<Inside> inside_;
};

} // namespace stasis
