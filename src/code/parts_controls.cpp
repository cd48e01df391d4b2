#include "code/parts.hpp"

namespace stasis::code {

std::string_view controls_part() noexcept {
  return R"(
/// True if the pose that a control has put into force names a value.
flag wants(State s, whole place, whole c) {
  return !is_suppressed(s, s.contender[place]) && names(s.contender_pose[place], c);
}
/// Where a value is at home, on the side on which it has been put.
real home_of(State s, whole c) {
  if (any_mirrors() && s.flipped[c] >= 0) { return 2.0 * centre_of(s.flipped[c]) - s.home[c]; }
  return s.home[c];
}
/// Where a pose puts a value.
real goal_in_pose(State s, whole pose, whole c) {
  if (!any_mirrors() || s.flipped[c] < 0) { return pose_goal(pose, c, s.home[c]); }
  if (!is_mirrored(pose)) { return pose_goal(pose, c, home_of(s, c)); }
  return 2.0 * centre_of(s.flipped[c]) - pose_goal(pose, c, s.home[c]);
}
/// What a group of controls wants, of which at least one wants something.
act decide_in_group(changing State s, whole c, whole group) {
  whole count = 0;
  whole first = -1;
  whole last = -1;
  whole best = -1;
  whole best_rank = 1000000;
  for k = 0 below s.contenders {
    if (wants(s, k, c) && group_of(s.contender[k]) == group) {
      if (first < 0) { first = k; }
      last = k;
      count = count + 1;
      whole rank = rank_of(s.contender[k]);
      if (rank < best_rank) {
        best_rank = rank;
        best = k;
      }
    }
  }
  whole policy = policy_of(group);
  whole chosen = last;
  if (policy == POLICY_FIRST) { chosen = first; }
  if (policy == POLICY_RANKED) { chosen = best; }
  if (policy == POLICY_NEITHER && count > 1) {
    s.wish = home_of(s, c);
    s.owner = -1;
    return;
  }
  s.owner = s.contender_pose[chosen];
  if (policy == POLICY_SUM && count > 1) {
    real home = in_space(c, home_of(s, c));
    real sum = home;
    for k = 0 below s.contenders {
      if (wants(s, k, c) && group_of(s.contender[k]) == group) {
        sum = sum + (in_space(c, goal_in_pose(s, s.contender_pose[k], c)) - home);
      }
    }
    s.wish = out_of_space(c, sum);
    return;
  }
  s.wish = goal_in_pose(s, s.owner, c);
}
/// Where a value should go (s.wish), and by which pose (s.owner; -1 is home): the pose that came last wins.
act decide(changing State s, whole c) {
  s.owner = -1;
  for back = 0 below s.contenders {
    whole place = s.contenders - 1 - back;
    if (wants(s, place, c)) {
      if (any_groups() && group_of(s.contender[place]) >= 0) {
        whole group = group_of(s.contender[place]);
        decide_in_group(s, c, group);
        return;
      }
      s.owner = s.contender_pose[place];
      s.wish = goal_in_pose(s, s.owner, c);
      return;
    }
  }
  s.wish = home_of(s, c);
}
/// A new home, within the range.
act set_home(changing State s, whole c, real value) { s.home[c] = held(value, lowest(c), highest(c)); }
/// Takes the pose of a control out of force.
act leave(changing State s, whole control) {
  whole kept = 0;
  for k = 0 below s.contenders {
    if (s.contender[k] != control) {
      s.contender[kept] = s.contender[k];
      s.contender_pose[kept] = s.contender_pose[k];
      kept = kept + 1;
    }
  }
  s.contenders = kept;
}
/// Puts the pose of a control into force: it came last.
act enter(changing State s, whole control, whole pose) {
  leave(s, control);
  s.contender[s.contenders] = control;
  s.contender_pose[s.contenders] = pose;
  s.contenders = s.contenders + 1;
}
/// The goals of a pose become the home.
act keep_pose(changing State s, whole pose) {
  for c = 0 below VALUES {
    if (names(pose, c)) { set_home(s, c, pose_goal(pose, c, s.home[c])); }
  }
}
/// The other side of a centre.
act flip(changing State s, whole control, whole c) {
  if (s.flipped[c] < 0) { s.flipped[c] = control; } else { s.flipped[c] = -1; }
}

/// How many steps of a wheel a value lies from rest. `kind`: 0 steps by an amount, 1 by a factor, 2 by picture scale.
real rungs_to(whole c, whole kind, real step, real value) {
  if (kind == 0) { return (value - rest_of(c)) / step; }
  real size = abs(log(step));
  if (kind == 1) { return log(value / rest_of(c)) / size; }
  return (zoom_of(value * radians_of(c)) - zoom_of(rest_of(c) * radians_of(c))) / size;
}
whole rungs_up(real place) { return whole(ceil(min(1.0e6, place) - 1.0e-9 * max(1.0, abs(place)))); }
whole highest_rung(whole c, whole kind, real step) {
  if (highest(c) == UNBOUNDED) { return 1000000; }
  return rungs_up(rungs_to(c, kind, step, highest(c)));
}
whole lowest_rung(whole c, whole kind, real step) {
  if (lowest(c) == -UNBOUNDED) { return -1000000; }
  if (kind == 1 && lowest(c) <= 0.0) { return -1000000; }
  return -rungs_up(-rungs_to(c, kind, step, lowest(c)));
}
/// The value of a rung; the ends of the range are the last ones.
real value_of_rung(whole c, whole kind, real step, whole rung) {
  if (rung >= highest_rung(c, kind, step)) { return highest(c); }
  if (rung <= lowest_rung(c, kind, step)) { return lowest(c); }
  if (rung == 0) { return rest_of(c); }
  if (kind == 0) { return held(rest_of(c) + real(rung) * step, lowest(c), highest(c)); }
  real times = pow(max(step, 1.0 / step), real(rung));
  if (kind == 1) { return held(rest_of(c) * times, lowest(c), highest(c)); }
  real size = tan(0.5 * rest_of(c) * radians_of(c)) * times;
  return held(2.0 * atan(size) / radians_of(c), lowest(c), highest(c));
}
/// The rung at or next below a value.
whole rung_at(whole c, whole kind, real step, real value) {
  if (value >= highest(c)) { return highest_rung(c, kind, step); }
  if (value <= lowest(c)) { return lowest_rung(c, kind, step); }
  real place = held(rungs_to(c, kind, step, value), -1.0e6, 1.0e6);
  return whole(place + 1.0e-9 * max(1.0, abs(place)));
}
/// The rung to which clicks lead; from between two rungs the first click leads to the next.
whole rung_after(whole c, whole kind, real step, real value, whole clicks) {
  whole start = rung_at(c, kind, step, value);
  if (clicks < 0 && value < highest(c) && value > lowest(c)) {
    real here = value_of_rung(c, kind, step, start);
    real next = value_of_rung(c, kind, step, start + 1);
    if (abs(here - value) > 1.0e-9 * abs(next - here)) { start = start + 1; }
  }
  whole reached = start + clicks;
  whole top = highest_rung(c, kind, step);
  whole bottom = lowest_rung(c, kind, step);
  return most(bottom, least(top, reached));
}
/// Clicks move a home up or down its rungs; two quick ones the same way run to the end.
act climb(changing State s, whole control, whole c, whole kind, real step, real double_within, whole count,
          flag by_hand) {
  whole way = choose(count < 0, -1, 1);
  flag doubled = by_hand && s.has_click[control] && double_within > 0.0 && way == s.last_way[control]
                 && s.input_time - s.last_click[control] <= double_within + 1.0e-9;
  s.has_click[control] = by_hand && !doubled;
  s.last_click[control] = s.input_time;
  s.last_way[control] = way;
  whole rung = rung_after(c, kind, step, s.home[c], count);
  if (doubled && way > 0) { rung = highest_rung(c, kind, step); }
  if (doubled && way < 0) { rung = lowest_rung(c, kind, step); }
  set_home(s, c, value_of_rung(c, kind, step, rung));
}
)";
}

} // namespace stasis::code
