#include "core/measure/lag_meter.hpp"

#include <algorithm>
#include <cmath>
#include <utility>

#include "core/feel/goal_source.hpp"
#include "core/measure/limit_watch.hpp"
#include "core/measure/peak_meter.hpp"

namespace stasis {
namespace {

/// Speeds that differ by less than this share are one speed.
constexpr double same_speed = 1e-6;
/// The gap of a steady stretch has settled if it changes by less than this share of the speed.
constexpr double settled_gap = 1e-4;
/// Shortest steady stretch, s; frames that come to it except for a rounding do.
constexpr double least_steady = 0.5 - 1e-9;
/// A lag in time is only told where the goal goes faster than its top speed over 2 to this power.
constexpr int octaves_of_note = 3;
/// A jump has been caught up with once its gap is as small a share of what it was, or is smaller than the other share
/// and shrinks at no more than the last share of the goal's speed.
constexpr double closed = 0.02, well_on = 0.5, hardly = 0.01;

/// How far Hermite's rules may differ, as a share of the largest gap: what the better one is off is less than a
/// hundredth of that.
constexpr double fineness = 1e-7;

/// A function at one instant, and its first two derivatives.
struct Jet {
  double value, rate, push;
};

/// The integral of a function from one instant to another, by Hermite's rules on both ends: where that of the fifth
/// degree differs from that of the third, halves are taken. Source: docs/maths.md, section 8.
// many: both ends of a stretch, each with what is there; how finely
template<class Function>
double integral(Function function, double from, const Jet& a, double to, const Jet& b, double fine, int depth = 0) {
  const double h = to - from;
  const double third = 0.5 * h * (a.value + b.value) + h * h / 12.0 * (a.rate - b.rate);
  const double fifth =
      0.5 * h * (a.value + b.value) + h * h / 10.0 * (a.rate - b.rate) + h * h * h / 120.0 * (a.push + b.push);
  // Over a valley that may be all but a corner the two may agree by chance.
  constexpr double corner = 1e-4;
  const bool is_valley = a.rate < 0.0 && b.rate > 0.0;
  if (std::fabs(fifth - third) <= fine * h * (is_valley ? corner : 1.0)) return fifth;
  constexpr int deepest = 40;
  if (depth == deepest) return 0.5 * h * (a.value + b.value);
  const double middle = 0.5 * (from + to);
  const Jet m = function(middle);
  return integral(function, from, a, middle, m, fine, depth + 1)
         + integral(function, middle, m, to, b, fine, depth + 1);
}

} // namespace

LagMeter::LagMeter(const Scene& scene, std::size_t channel)
    : scene_(scene), channel_(scene.feel->channels[channel]), index_(channel),
      reads_(formula_reads(*scene.feel, channel)), has_limits_(LimitWatch(channel_).has_limits()) {}

LagMeter::Length LagMeter::length(const Components& v, const Components& rate, const Components& push) noexcept {
  const double size = length_of(v);
  if (size == 0.0) return {0.0, length_of(rate), 0.0};
  const double along = dot(v, rate) / size;
  return {size, along, (dot(rate, rate) + dot(v, push) - along * along) / size};
}

LagMeter::Point LagMeter::point(const Piece& piece, const ChannelFrame& frame, double u, Side side) const {
  Point out;
  const ChannelInstant now = frame.at(u, side);
  const double share = (u - piece.from) / (piece.to - piece.from), per_second = 1.0 / (piece.to - piece.from);
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (!trails_goal(channel_, i)) continue;
    const Smooth value = output_in_unit(channel_, i, now[i]);
    const double run = piece.goal_end[i] - piece.goal[i], slope = run * per_second;
    const SpaceRates goal = rates_at(channel_.space, piece.goal[i] + run * share);
    out.gap[i] = goal.value - value.value;
    out.gap_rate[i] = goal.first * slope - value.rate;
    out.gap_push[i] = goal.second * slope * slope - value.push;
    const double wish = piece.wish[i] + (piece.wish_end[i] - piece.wish[i]) * share;
    out.off[i] =
        (channel_.space.space == Space::turn ? short_way(channel_.space, value.value, wish) : wish) - value.value;
    out.off_rate[i] = (piece.wish_end[i] - piece.wish[i]) * per_second - value.rate;
    out.off_push[i] = -value.push;
  }
  return out;
}

/// Which way the goal goes in a piece, and how fast: a goal that is held from tick to tick goes as far as ticks go.
void LagMeter::set_speed(Piece& piece, const Components& goal_change, double ticks) {
  const double distance = length_of(goal_change);
  const Tick& tick = scene_.take->tick;
  const bool is_held = channel_.follow && tick.rate > 0.0 && !tick.blends;
  if (!is_held) {
    last_speed_ = distance / (piece.to - piece.from);
  } else if (ticks > 0.0) {
    last_speed_ = distance * tick.rate / ticks;
  }
  if (distance > 0.0) last_way_ = scaled(goal_change, 1.0 / distance);
  piece.way = last_way_;
  piece.speed = last_speed_;
}

/// Goal and wish of a frame, straight from corner to corner.
std::vector<LagMeter::Piece> LagMeter::pieces_of(const Block& block, std::size_t row, double dt) {
  const ChannelBlock& columns = block.channels[index_];
  struct Corner {
    double at;
    Components goal{}, wish{};
  };
  std::vector<Corner> nodes{{0.0}, {dt}};
  for (std::size_t i = 0; i < channel_.components; ++i)
    for (const ComponentBlock::Knot& knot : columns.component[i].knots)
      if (knot.row == row && std::none_of(nodes.begin(), nodes.end(), [&](const Corner& n) { return n.at == knot.at; }))
        nodes.push_back({knot.at});
  std::sort(nodes.begin(), nodes.end(), [](const Corner& a, const Corner& b) { return a.at < b.at; });
  for (std::size_t i = 0; i < channel_.components; ++i) {
    if (!trails_goal(channel_, i)) continue;
    const ComponentBlock& column = columns.component[i];
    const auto wish_at = [&](std::size_t r) {
      return !column.free_wishes.empty() ? column.free_wishes[r]
             : !column.wishes.empty()    ? column.wishes[r]
                                         : column.wish;
    };
    const auto goal_at = [&](std::size_t r) { return column.moves() ? column.goal_states[r] : column.goal_state; };
    double at = 0.0, goal = goal_at(row), wish = wish_at(row);
    auto node = nodes.begin();
    const auto run_to = [&](double next_at, double next_goal, double next_wish) {
      for (; node != nodes.end() && node->at <= next_at; ++node) {
        const double share = next_at > at ? (node->at - at) / (next_at - at) : 1.0;
        node->goal[i] = goal + (next_goal - goal) * share;
        node->wish[i] = wish + (next_wish - wish) * share;
      }
      at = next_at;
      goal = next_goal;
      wish = next_wish;
    };
    for (const ComponentBlock::Knot& knot : column.knots) {
      if (knot.row != row) continue;
      const double free =
          column.free_wishes.empty() ? knot.wish : wish_at(row) + (wish_at(row + 1) - wish_at(row)) * (knot.at / dt);
      run_to(knot.at, knot.goal_state, free);
    }
    run_to(dt, goal_at(row + 1), wish_at(row + 1));
  }
  const Tick& tick = scene_.take->tick;
  const double late = tick.order == Tick::Order::camera_first ? dt : 0.0;
  const double ticks = tick.rate > 0.0 ? tick.latest(std::max(0.0, frame_time_ + dt - late))
                                             - tick.latest(std::max(0.0, frame_time_ - late))
                                       : 0.0;
  std::vector<Piece> out;
  for (std::size_t k = 1; k < nodes.size(); ++k) {
    Piece piece{
        nodes[k - 1].at, nodes[k].at, nodes[k - 1].goal, nodes[k].goal, nodes[k - 1].wish, nodes[k].wish, {}, 0.0};
    if (!(piece.to > piece.from)) continue;
    Components change{};
    for (std::size_t i = 0; i < channel_.components; ++i)
      if (trails_goal(channel_, i))
        change[i] = from_space(channel_.space, piece.goal_end[i]) - from_space(channel_.space, piece.goal[i]);
    set_speed(piece, change, ticks);
    out.push_back(piece);
  }
  return out;
}

void LagMeter::follow(const Block& block, std::size_t row, const ChannelFrame& frame) {
  frame_time_ = scene_.clock.time(block.first + static_cast<std::int64_t>(row));
  const std::vector<Piece> pieces = pieces_of(block, row, frame.dt);
  has_seen_ = true;
  if (pieces.empty()) return;
  const bool jumps = row == 0 && block.channels[index_].moved && jumps_from(pieces.front());
  goal_before_ = pieces.back().goal_end;
  if (jumps) {
    jump_gap_ = length_of(point(pieces.front(), frame, 0.0, Side::at).gap);
    jump_at_ = frame_time_;
  }
  const bool steps = !channel_.follow && goal_steps(block, row, frame.dt);
  if (!steps) {
    for (const Piece& piece : pieces) follow_piece(piece, frame);
    return;
  }
  jump_gap_ = length_of(point(pieces.back(), frame, pieces.back().to, Side::before).gap);
  jump_at_ = frame_time_;
}

/// True if a piece does not go on where the goal was, seen on the axes that follow: what jumps may be another one.
bool LagMeter::jumps_from(const Piece& piece) const {
  constexpr double rounding = 1e-9;
  if (!goal_before_) return true;
  bool any_other = false;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const double before = (*goal_before_)[i], now = piece.goal[i];
    if (!trails_goal(channel_, i))
      any_other = true;
    else if (std::fabs(now - before) > rounding * std::max(1.0, std::fabs(now)))
      return true;
  }
  return !any_other;
}

/// True if a goal that the formula reads jumps at the block's first frame, and its channel with it.
bool LagMeter::reads_what_cuts(const Block& block) const {
  return std::any_of(reads_.begin(), reads_.end(), [&](ComponentRef read) {
    const ChannelBlock& columns = block.channels[read.channel];
    const Motion& motion = scene_.feel->motions[columns.component[read.component].motion].motion;
    return columns.moved && std::holds_alternative<Cut>(motion);
  });
}

/// True if a goal that is worked out goes elsewhere within a frame: a formula sees a frame later that what it reads has
/// jumped. It runs on before and after at speeds that are much less. Where a block ends the speed after it is not yet
/// known; what the formula reads tells then.
bool LagMeter::goal_steps(const Block& block, std::size_t row, double dt) {
  const double before = std::exchange(goal_speed_, 0.0);
  double after = 0.0, size = 0.0;
  bool is_last = false;
  for (std::size_t i = 0; i < channel_.components; ++i) {
    const ComponentBlock& column = block.channels[index_].component[i];
    if (!trails_goal(channel_, i) || !column.moves()) continue;
    const auto& goals = column.goal_states;
    goal_speed_ = std::hypot(goal_speed_, (goals[row + 1] - goals[row]) / dt);
    is_last = is_last || row + 2 == goals.size();
    if (row + 2 < goals.size()) after = std::hypot(after, (goals[row + 2] - goals[row + 1]) / dt);
    size = std::max({size, std::fabs(goals[row]), std::fabs(goals[row + 1])});
  }
  constexpr double much = 8.0, rounding = 1e-9;
  if (is_last && !(row == 0 && reads_what_cuts(block))) return false;
  return goal_speed_ * dt > rounding * size && goal_speed_ > much * std::max(before, after);
}

void LagMeter::follow_piece(const Piece& piece, const ChannelFrame& frame) {
  std::vector<double> cuts;
  for_each_stretch(frame, piece.from, piece.to, [&](double from, double to, bool) {
    // Where the range begins or ends to hold it, its speed leaps.
    cuts.clear();
    if (!has_limits_) return follow_smooth(piece, frame, from, to);
    const ChannelInstant a = frame.at(from), b = frame.at(to, Side::before);
    for (std::size_t i = 0; i < channel_.components; ++i) {
      const ComponentRange limits = limits_in_space(channel_, i);
      for (const double limit : {limits.low, limits.high})
        if (std::isfinite(limit)) add_crossings(frame, i, from, a[i], to, b[i], limit, cuts);
    }
    std::sort(cuts.begin(), cuts.end());
    for (const double cut : cuts) {
      if (cut > from && cut < to) follow_smooth(piece, frame, from, cut);
      if (cut > from && cut < to) from = cut;
    }
    follow_smooth(piece, frame, from, to);
  });
}

/// The first instant of a stretch at which a jump counts as caught up with, if there is one.
// many: both ends of a stretch of a frame, each with what is there
std::optional<double> LagMeter::caught_up(const Piece& piece, const ChannelFrame& frame, double from, const Point& a,
                                          double to, const Point& b) const {
  const auto gap_at = [&](double u) { return length_of(point_within(piece, frame, u, from, to).gap); };
  const double level = closed * jump_gap_;
  // Above 0 once the gap hardly shrinks.
  const auto stays = [&](const Point& p) { return dot(p.gap, p.gap_rate) + hardly * piece.speed * length_of(p.gap); };
  const auto is_over = [&](const Point& p) {
    const double gap = length_of(p.gap);
    return gap <= level || (stays(p) >= 0.0 && gap < well_on * jump_gap_);
  };
  if (is_over(a)) return from;
  double end = to;
  bool over = is_over(b);
  const double falls = stays(a), rises = stays(b);
  if (falls < 0.0 && rises > 0.0) {
    const double turn = bracketed_root([&](double u) { return stays(point_within(piece, frame, u, from, to)); }, from,
                                       to, falls, rises);
    if (gap_at(turn) < well_on * jump_gap_) {
      end = turn;
      over = true;
    }
  }
  const double there = gap_at(end);
  if (there < level)
    return bracketed_root([&](double u) { return gap_at(u) - level; }, from, end, length_of(a.gap) - level,
                          there - level);
  return over ? std::optional(end) : std::nullopt;
}

void LagMeter::follow_smooth(const Piece& piece, const ChannelFrame& frame, double from, double to) {
  if (!(to > from)) return;
  Point a = point_within(piece, frame, from, from, to);
  const Point b = point(piece, frame, to, Side::before);
  if (jump_gap_ > 0.0) {
    // A gap that swings may come near twice in a stretch: it is looked at in smaller parts.
    constexpr int parts = 16;
    std::optional<double> over;
    Point near = a;
    for (int part = 0; part < parts && !over; ++part) {
      const double begin = from + (to - from) * part / parts;
      const double end = part + 1 == parts ? to : from + (to - from) * (part + 1) / parts;
      const Point far = part + 1 == parts ? b : point(piece, frame, end, Side::before);
      over = caught_up(piece, frame, begin, near, end, far);
      near = far;
    }
    steady_speed_ = -1.0;
    steady_ = {};
    if (!over) return;
    jump_gap_ = 0.0;
    keep_largest(sums_.catch_up_time, frame_time_ + *over - jump_at_);
    from = *over;
    if (!(to > from)) return;
    a = point_within(piece, frame, from, from, to);
  }
  time_ += to - from;
  note_gap(piece, frame, from, a, to, b);
  note_lag_time(piece, frame, from, a, to, b);
  note_steadiness(piece, to - from, b);
}

// many: both ends of a stretch of a frame, each with what is there
void LagMeter::note_gap(const Piece& piece, const ChannelFrame& frame, double from, const Point& a, double to,
                        const Point& b) {
  const auto note = [&](const Components Point::*vector, const Components Point::*rate, const Components Point::*push,
                        std::optional<double>& largest, double& sum, double* worst_at) {
    const auto length_at = [&](const Point& p) { return length(p.*vector, p.*rate, p.*push); };
    const auto at = [&](double u) { return point_within(piece, frame, u, from, to); };
    const auto look = [&](double u, double size) {
      if (worst_at != nullptr && (!largest || size > *largest * (1.0 + 1e-9))) *worst_at = frame_time_ + u;
      keep_largest(largest, size);
    };
    look(from, length_of(a.*vector));
    look(to, length_of(b.*vector));
    const auto slope_of = [&](const Point& p) {
      return Slope{dot(p.*vector, p.*rate), dot(p.*rate, p.*rate) + dot(p.*vector, p.*push)};
    };
    for_each_maximum([&](double u) { return slope_of(at(u)); }, from, slope_of(a), to, slope_of(b), false,
                     [&](double u) { look(u, length_of(at(u).*vector)); });
    const auto jet_of = [&](const Point& p) {
      const Length size = length_at(p);
      return Jet{size.value, size.rate, size.push};
    };
    // So fine that what is left does not show; a gap of one component turns at its own zero.
    const double fine = fineness * std::max(*largest, 1e-30);
    const auto part = [&](double low, const Jet& at_low, double high, const Jet& at_high) {
      return integral([&](double u) { return jet_of(at(u)); }, low, at_low, high, at_high, fine);
    };
    const Components &first = a.*vector, &last = b.*vector;
    const bool is_single = first[1] == 0.0 && first[2] == 0.0 && last[1] == 0.0 && last[2] == 0.0;
    if (!is_single || !opposite(first[0], last[0])) {
      sum += part(from, jet_of(a), to, jet_of(b));
      return;
    }
    const double zero = bracketed_root([&](double u) { return (at(u).*vector)[0]; }, from, to, first[0], last[0]);
    const Jet there = jet_of(at(zero));
    const double speed = std::fabs(there.rate);
    sum += part(from, jet_of(a), zero, {0.0, -speed, there.push}) + part(zero, {0.0, speed, there.push}, to, jet_of(b));
  };
  note(&Point::gap, &Point::gap_rate, &Point::gap_push, sums_.lag_distance, gap_sum_, &sums_.worst_lag_at);
  if (!channel_.follow) return; // what is wished for is the goal
  note(&Point::off, &Point::off_rate, &Point::off_push, sums_.wish_distance, off_sum_, nullptr);
}

// many: both ends of a stretch of a frame, each with what is there
void LagMeter::note_lag_time(const Piece& piece, const ChannelFrame& frame, double from, const Point& a, double to,
                             const Point& b) {
  if (!(piece.speed > 0.0)) return;
  const auto jet_of = [&](const Point& p) {
    return Jet{dot(p.gap, piece.way), dot(p.gap_rate, piece.way), dot(p.gap_push, piece.way)};
  };
  const auto at = [&](double u) { return jet_of(point_within(piece, frame, u, from, to)); };
  const Jet first = jet_of(a), last = jet_of(b);
  double most = std::max(first.value, last.value);
  for_each_sign_change([&](double u) { return at(u).rate; }, [&](double u) { return at(u).push; }, from,
                       Slope{first.rate, first.push}, to, Slope{last.rate, last.push},
                       [&](double u) { most = std::max(most, at(u).value); });
  Octave& octave = octaves_.try_emplace(std::ilogb(piece.speed), Octave{-unbounded}).first->second;
  octave.worst = std::max(octave.worst, most / piece.speed);
  octave.way += piece.speed * (to - from);
  octave.along += integral(at, from, first, to, last, fineness * std::max(*sums_.lag_distance, 1e-30));
}

void LagMeter::note_steadiness(const Piece& piece, double seconds, const Point& end) {
  const bool goes_on = piece.speed > 0.0 && std::fabs(piece.speed - steady_speed_) <= same_speed * piece.speed;
  if (!goes_on) steady_ = {};
  const Length gap = length(end.gap, end.gap_rate, end.gap_push);
  steady_.seconds += seconds;
  steady_.distance = gap.value;
  steady_.time = piece.speed > 0.0 ? dot(end.gap, piece.way) / piece.speed : 0.0;
  steady_.settled = std::fabs(gap.rate) <= settled_gap * piece.speed || gap.value <= 1e-12 * piece.speed;
  steady_speed_ = piece.speed;
  // Lengths that differ by a rounding are one length: the later stretch does not win by that.
  constexpr double longer = 1.0 + 1e-9;
  if (piece.speed > 0.0 && steady_.seconds > longest_steady_.seconds * longer) longest_steady_ = steady_;
}

LagSummary LagMeter::finish() const {
  LagSummary out = sums_;
  if (jump_gap_ > 0.0) out.catch_up_time.reset();
  if (time_ > 0.0) {
    out.lag_distance_mean = gap_sum_ / time_;
    if (channel_.follow) out.wish_distance_mean = off_sum_ / time_;
  }
  // The mean is of where the worst is looked for, so that it is never worse than that.
  double along = 0.0, way = 0.0;
  if (!octaves_.empty()) {
    const int top = octaves_.rbegin()->first;
    for (const auto& [number, octave] : octaves_) {
      if (number < top - octaves_of_note) continue;
      keep_largest(out.lag_time, octave.worst);
      along += octave.along;
      way += octave.way;
    }
  }
  if (way > 0.0) out.lag_time_mean = along / way;
  if (longest_steady_.settled && longest_steady_.seconds >= least_steady) {
    out.lag_distance_steady = longest_steady_.distance;
    out.lag_time_steady = longest_steady_.time;
  }
  return out;
}

} // namespace stasis
