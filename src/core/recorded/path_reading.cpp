#include "core/recorded/path_reading.hpp"

#include <algorithm>
#include <cmath>

#include "core/root.hpp"

namespace stasis {
namespace {

Components values_of(const PathNode& node) noexcept {
  return {node.state[0].value, node.state[1].value, node.state[2].value};
}
Components rates_of(const PathNode& node) noexcept {
  return {node.state[0].rate, node.state[1].rate, node.state[2].rate};
}
Components pushes_of(const PathNode& node) noexcept {
  return {node.state[0].push, node.state[1].push, node.state[2].push};
}

Components jerks_of(const PathNode& node) noexcept {
  return {node.state[0].jerk, node.state[1].jerk, node.state[2].jerk};
}

PathNode node_between(const PathNode& a, const PathNode& b, double time) noexcept {
  PathNode out{time, {}};
  for (std::size_t c = 0; c < most_components; ++c) out.state[c] = between(a, b, c, time);
  return out;
}

/// Calls visit(a, b) for each stretch between two nodes that lies within two times, cut at them.
template<class Visit> void for_each_stretch(const CapturedPath& path, double from, double to, Visit visit) {
  for (const PathSection& section : path) {
    if (section.back().time < from || section.front().time > to) continue;
    auto next = std::lower_bound(section.begin(), section.end(), from,
                                 [](const PathNode& node, double time) { return node.time < time; });
    if (next == section.begin()) ++next;
    for (; next < section.end() && (next - 1)->time < to; ++next) {
      const PathNode &a = *(next - 1), &b = *next;
      if (b.time <= from) continue;
      visit(a.time < from ? node_between(a, b, from) : a, b.time > to ? node_between(a, b, to) : b);
    }
  }
}

/// Calls visit(before, after) for each break within two times, the first of them included.
template<class Visit> void for_each_break(const CapturedPath& path, double from, double to, Visit visit) {
  for (std::size_t s = 1; s < path.size(); ++s)
    if (const double at = path[s].front().time; at >= from && at < to) visit(path[s - 1].back(), path[s].front());
}

/// One move along its way, in the space of its channel.
class MoveReader {
public:
  MoveReader(const Channel& channel, const CapturedPath& path, const PlannedMove& plan)
      : channel_(channel), path_(path), plan_(plan) {
    from_ = in_space(plan.from);
    way_ = plus(in_space(plan.to), from_, -1.0);
    length_ = length_of(way_);
  }

  Move run() {
    move_.start = plan_.start;
    move_.end = plan_.end;
    move_.from = plan_.from;
    move_.to = plan_.to;
    move_.cause = plan_.cause;
    move_.retargeted = plan_.retargeted;
    read_speeds();
    if (plan_.has_goal && length_ > 0.0) {
      read_shares();
      read_settling();
    }
    if (move_.settling_time && *move_.settling_time == 0.0 && length_ > 0.0) {
      // What is there at once has no speed.
      move_.peak_speed = move_.peak_speed_time = move_.peak_acceleration = move_.jolt = std::nullopt;
    } else if (move_.settling_time && length_ > 0.0)
      move_.start_kick = start_jump_ * *move_.settling_time / length_of(plus(plan_.to, plan_.from, -1.0));
    return std::move(move_);
  }

private:
  Components in_space(const Components& value) const noexcept {
    Components out{};
    for (std::size_t c = 0; c < channel_.components; ++c) out[c] = to_space(channel_.space, value[c]);
    return out;
  }
  Components gone(const PathNode& node) const noexcept { return plus(in_space(values_of(node)), from_, -1.0); }
  double share(const PathNode& node) const noexcept { return dot(gone(node), way_) / (length_ * length_); }
  /// How fast the share grows, except for a factor > 0.
  double growth(const PathNode& node) const noexcept {
    double sum = 0.0;
    for (std::size_t c = 0; c < channel_.components; ++c)
      sum += way_[c] * node.state[c].rate / stretch(channel_.space, node.state[c].value);
    return sum;
  }
  double off(const PathNode& node) const noexcept { return length_of(plus(gone(node), way_, -1.0)); }

  void read_speeds() {
    double speed = 0.0, push = 0.0, jolt = 0.0;
    const auto see = [&](const PathNode& node) {
      if (const double now = length_of(rates_of(node)); now > speed) {
        speed = now;
        move_.peak_speed_time = node.time - plan_.start;
        move_.peak_velocity = node.state[0].rate;
      }
      push = std::max(push, length_of(pushes_of(node)));
    };
    for_each_stretch(path_, plan_.start, plan_.end, [&](const PathNode& a, const PathNode& b) {
      see(a);
      see(b);
      const double before = dot(rates_of(a), pushes_of(a)), after = dot(rates_of(b), pushes_of(b));
      if (before > 0.0 && after < 0.0) {
        const auto slope = [&](double time) {
          const PathNode node = node_between(a, b, time);
          return dot(rates_of(node), pushes_of(node));
        };
        see(node_between(a, b, bracketed_root(slope, a.time, b.time, before, after)));
      }
    });
    for_each_break(path_, plan_.start, plan_.end, [&](const PathNode& a, const PathNode& b) {
      const double jump = length_of(plus(rates_of(b), rates_of(a), -1.0));
      jolt = std::max(jolt, jump);
      if (a.time == plan_.start) start_jump_ = jump;
    });
    move_.peak_speed = speed;
    move_.peak_acceleration = push;
    move_.jolt = jolt;
  }

  void read_shares() {
    double most = -1e300, most_at = 0.0, aside = 0.0;
    std::optional<double> tenth, half, most_way;
    const auto reach = [&](std::optional<double>& at, double level, const PathNode& a, const PathNode& b) {
      if (at || share(b) < level) return;
      if (share(a) >= level) {
        at = a.time - plan_.start;
        return;
      }
      at = bracketed_root([&](double t) { return share(node_between(a, b, t)) - level; }, a.time, b.time,
                          share(a) - level, share(b) - level)
           - plan_.start;
    };
    const auto see = [&](const PathNode& node) {
      const double now = share(node);
      if (now > most) {
        most = now;
        most_at = node.time;
        move_.peak_value = values_of(node);
      }
      aside = std::max(aside, length_of(plus(gone(node), way_, -now)));
    };
    constexpr double first = 0.1, middle = 0.5, last = 0.9;
    for_each_stretch(path_, plan_.start, plan_.end, [&](const PathNode& a, const PathNode& b) {
      see(a);
      if (growth(a) > 0.0 && growth(b) < 0.0)
        see(node_between(a, b,
                         bracketed_root([&](double t) { return growth(node_between(a, b, t)); }, a.time, b.time,
                                        growth(a), growth(b))));
      see(b);
      reach(tenth, first, a, b);
      reach(half, middle, a, b);
      reach(most_way, last, a, b);
      move_.remaining = length_of(plus(values_of(b), plan_.to, -1.0));
    });
    move_.delay_time = half;
    if (tenth && most_way) move_.rise_time = *most_way - *tenth;
    move_.rise_from_time = tenth;
    constexpr double hair = 1e-6, per_cent = 100.0;
    move_.overshoot = most > 1.0 + hair ? per_cent * (most - 1.0) : 0.0;
    if (most > 1.0 + hair) move_.peak_time = most_at - plan_.start;
    if (channel_.components > 1) move_.sideways = aside;
  }

  /// The last instant outside the band.
  void read_settling() {
    constexpr double per_cent = 0.01;
    const double band = channel_.settle_band.absolute
                            ? channel_.settle_band.size / (length_of(plus(plan_.to, plan_.from, -1.0)) / length_)
                            : per_cent * channel_.settle_band.size * length_;
    double last = plan_.start;
    bool inside = false;
    for_each_stretch(path_, plan_.start, plan_.end, [&](const PathNode& a, const PathNode& b) {
      const double at_a = off(a) - band, at_b = off(b) - band;
      inside = at_b <= 0.0;
      if (!inside)
        last = b.time;
      else if (at_a > 0.0)
        last = bracketed_root([&](double t) { return off(node_between(a, b, t)) - band; }, a.time, b.time, at_a, at_b);
    });
    if (!inside) return;
    move_.settling_time = last - plan_.start;
    const Components value = value_at(path_, last);
    move_.settled_value = value;
  }

  const Channel& channel_;
  const CapturedPath& path_;
  const PlannedMove& plan_;
  Components from_{}, way_{};
  double length_ = 0.0, start_jump_ = 0.0;
  Move move_;
};

/// The whole way.
class WayReader {
public:
  WayReader(const Channel& channel, double least) : components_(channel.components), least_(least) {}

  PathSummary run(const CapturedPath& path) {
    const PathNode& first = path.front().front();
    for (std::size_t c = 0; c < components_; ++c)
      sums_.lowest[c] = sums_.highest[c] = {first.state[c].value, first.time};
    last_ = values_of(first);
    turned_at_ = last_;
    sums_.top_speed = {0.0, first.time};
    sums_.top_acceleration = sums_.top_jerk = sums_.top_speed_jump = sums_.top_acceleration_jump =
        Peak{0.0, first.time};
    for (std::size_t s = 0; s < path.size(); ++s) {
      if (s > 0) note_break(path[s - 1].back(), path[s].front());
      for (std::size_t k = 1; k < path[s].size(); ++k) follow(path[s][k - 1], path[s][k]);
    }
    return sums_;
  }

private:
  void note_break(const PathNode& a, const PathNode& b) {
    keep_peak(sums_.top_speed_jump, length_of(plus(rates_of(b), rates_of(a), -1.0)), a.time);
    keep_peak(sums_.top_acceleration_jump, length_of(plus(pushes_of(b), pushes_of(a), -1.0)), a.time);
    step_to(b);
  }

  void follow(const PathNode& a, const PathNode& b) {
    // Where a component turns is a place of its own.
    std::vector<double> turns;
    for (std::size_t c = 0; c < components_; ++c)
      if (opposite(a.state[c].rate, b.state[c].rate))
        turns.push_back(bracketed_root([&](double t) { return between(a, b, c, t).rate; }, a.time, b.time,
                                       a.state[c].rate, b.state[c].rate));
    std::sort(turns.begin(), turns.end());
    for (const double turn : turns) step_to(node_between(a, b, turn));
    step_to(b);
    see_speeds(a, b);
    add_moving_time(a, b);
  }

  void step_to(const PathNode& node) {
    const Components value = values_of(node);
    sums_.travelled += length_of(plus(value, last_, -1.0));
    for (std::size_t c = 0; c < components_; ++c) {
      if (value[c] < sums_.lowest[c].value) sums_.lowest[c] = {value[c], node.time};
      if (value[c] > sums_.highest[c].value) sums_.highest[c] = {value[c], node.time};
      note_turn(c, value[c]);
    }
    last_ = value;
  }

  void note_turn(std::size_t c, double value) {
    constexpr double thousandth = 1e-3;
    const double needed = std::max(least_, thousandth * (sums_.highest[c].value - sums_.lowest[c].value));
    const double gone = value - turned_at_[c];
    if (gone == 0.0) return;
    const int sign = gone > 0.0 ? 1 : -1;
    if (direction_[c] == sign) {
      turned_at_[c] = value;
      return;
    }
    if (std::fabs(gone) < needed) return;
    if (direction_[c] != 0) sums_.reversals[c] += 1.0;
    direction_[c] = sign;
    turned_at_[c] = value;
  }

  void see_speeds(const PathNode& a, const PathNode& b) {
    for (const PathNode* node : {&a, &b}) {
      keep_peak(sums_.top_speed, length_of(rates_of(*node)), node->time);
      keep_peak(sums_.top_acceleration, length_of(pushes_of(*node)), node->time);
      keep_peak(sums_.top_jerk, length_of(jerks_of(*node)), node->time);
    }
    const double before = dot(rates_of(a), pushes_of(a)), after = dot(rates_of(b), pushes_of(b));
    if (before > 0.0 && after < 0.0) {
      const auto slope = [&](double time) {
        const PathNode node = node_between(a, b, time);
        return dot(rates_of(node), pushes_of(node));
      };
      const PathNode node = node_between(a, b, bracketed_root(slope, a.time, b.time, before, after));
      keep_peak(sums_.top_speed, length_of(rates_of(node)), node.time);
    }
  }

  void add_moving_time(const PathNode& a, const PathNode& b) {
    constexpr double hundredth = 0.01;
    double distance = 0.0;
    for (std::size_t c = 0; c < components_; ++c)
      distance = std::hypot(distance, sums_.highest[c].value - sums_.lowest[c].value);
    const double least = hundredth * distance;
    const auto over = [&](double time) { return length_of(rates_of(node_between(a, b, time))) - least; };
    const double at_a = length_of(rates_of(a)) - least, at_b = length_of(rates_of(b)) - least;
    if (at_a > 0.0 && at_b > 0.0)
      sums_.moving_time += b.time - a.time;
    else if (opposite(at_a, at_b)) {
      const double root = bracketed_root(over, a.time, b.time, at_a, at_b);
      sums_.moving_time += at_a > 0.0 ? root - a.time : b.time - root;
    }
  }

  std::size_t components_;
  double least_;
  PathSummary sums_;
  Components last_{}, turned_at_{};
  std::array<int, most_components> direction_{};
};

} // namespace

TakeMeasures read_path(const Channel& channel, const CapturedPath& path, const std::vector<PlannedMove>& moves,
                       double least) {
  TakeMeasures out;
  ChannelSummary summary;
  summary.time_at_limit.reset(); // a recording tells no range
  summary.end_value = values_of(path.back().back());
  summary.path = WayReader(channel, least).run(path);
  out.channels.push_back(std::move(summary));
  for (const PlannedMove& plan : moves) out.moves.push_back(MoveReader(channel, path, plan).run());
  return out;
}

} // namespace stasis
