// When a view turns back to a heading by itself, and to which. Rules: docs/design.md, section 3.
#pragma once

#include <optional>

#include "core/feel/feel.hpp"
#include "core/unbounded.hpp"

namespace stasis {

class Realigner {
public:
  Realigner(const Feel& feel, std::size_t channel);

  /// Goes on as the one of the channel of the same name was when the feel was changed.
  void go_on_from(const Realigner& old) noexcept {
    last_touch_ = old.last_touch_;
    held_ = old.held_;
    turning_ = old.turning_;
  }

  /// At a frame, after its cues. \param held a stick is deflected; \param moved a pointer has moved.
  void look(double time, bool held, bool moved) noexcept;
  /// True if nobody has touched anything for long enough.
  bool is_turning() const noexcept { return turning_; }
  /// When the view will begin to turn if nothing is touched, s; never if it does already, or a stick is held.
  double begins_at() const noexcept { return turning_ || held_ ? never : last_touch_ + realign_.wait; }
  /// Where to turn, in the channel's unit; nothing while the subject is too slow, or not there.
  std::optional<double> heading(const TrackPoint& subject) const noexcept;

  const Realign& rule() const noexcept { return realign_; }

private:
  const Realign& realign_;
  double units_per_degree_;
  std::size_t track_components_;
  double last_touch_ = 0.0; // a take begins untouched
  bool held_ = false, turning_ = false;
};

} // namespace stasis
