#include "core/take/room_keeper.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

namespace stasis {

// many: what is there and what is seen, when and what is wished, who moves and what comes out
std::string RoomKeeper::look(const ReadComponent& present, double seen, std::int64_t frame, double wish,
                             ChannelMover& mover, ChannelBlock& out) {
  const Room before = std::exchange(now_, ray_.at(present, seen));
  mover.put_ceiling(now_.limit);
  if (channel_.obstacles->never_through) mover.hold_back(now_.hit, frame);
  const bool held_before = std::exchange(holds_, now_.limit < wish);
  out.obstacle = now_.obstacle == Room::nothing ? std::nullopt : std::optional(now_.obstacle);
  const bool same = now_.limit == end_limit_
                    || (std::isfinite(end_limit_)
                        && std::fabs(now_.limit - end_limit_) <= 1e-9 * std::max(1.0, std::fabs(end_limit_)));
  if (frame == 0 || same || (!holds_ && !held_before)) return {};
  if (holds_) return "meet " + feel_.obstacles[now_.obstacle].name;
  return before.obstacle == Room::nothing ? std::string() : "clear " + feel_.obstacles[before.obstacle].name;
}

// many: what is there, what is seen, and when
void RoomKeeper::fill(const ReadRow& read, const SeenAt& seen, const Clock& clock, std::int64_t first,
                      const ChannelMover& mover, ChannelBlock& out) {
  const std::vector<double>& wishes = out.component[0].wishes;
  out.hits = {now_.hit};
  out.ceilings = {now_.limit};
  for (std::size_t r = 1; r < wishes.size(); ++r) {
    const std::int64_t frame = first + static_cast<std::int64_t>(r) - 1;
    const double from = seen(frame), to = seen(frame + 1);
    const Room end = ray_.at(read(r, 0.0), to);
    const auto allowed = [&](double share) {
      const double limit = ray_.at(read(r - 1, share), from + (to - from) * share).limit;
      return mover.allowed(0, std::min(wishes[r - 1] + (wishes[r] - wishes[r - 1]) * share, limit));
    };
    const bool leaps = leaps_between(allowed, mover.allowed(0, std::min(wishes[r - 1], out.ceilings.back())),
                                     mover.allowed(0, std::min(wishes[r], end.limit)));
    const GoalSegment wish{wishes[r - 1], wishes[r]},
        limit{out.ceilings.back(), leaps ? out.ceilings.back() : end.limit};
    // Where nothing is in the way any more, or not yet, the goal runs from or to what is wished.
    const GoalSegment cap{std::isfinite(limit.start) ? limit.start : wish.start,
                          std::isfinite(limit.end) ? limit.end : wish.end};
    for (const double share : corners_of_cap(wish, cap, channel_.range[0]))
      out.component[0].knots.push_back({r - 1, share * clock.dt(frame), cap.start + (cap.end - cap.start) * share});
    out.hits.push_back(end.hit);
    out.ceilings.push_back(limit.end);
  }
  end_limit_ = out.ceilings.back();
}

void RoomKeeper::hold_back(ChannelMover& mover, std::int64_t next_frame, ChannelBlock& out) const {
  if (channel_.obstacles->never_through) mover.hold_back(out.hits.back(), next_frame, &out);
}

} // namespace stasis
