#include "code/parts.hpp"

namespace stasis::code {

std::string_view curves_part() noexcept {
  return R"(
real sine_in(real t) {
  real half = sin(0.78539816339744828 * t);
  return 2.0 * half * half;
}
real sine_in_slope(real t) { return 1.5707963267948966 * sin(1.5707963267948966 * t); }
real power_in(real t, real p) {
  if (t == 0.0) { return 0.0; }
  return pow(t, p);
}
real power_in_slope(real t, real p) {
  if (t > 0.0) { return p * pow(t, p - 1.0); }
  if (p < 1.0) { return UNBOUNDED; }
  if (p > 1.0) { return 0.0; }
  return 1.0;
}
real exp_in(real t, real doublings) {
  real k = doublings * 0.69314718055994531;
  return exp_less_one(k * t) / exp_less_one(k);
}
real exp_in_slope(real t, real doublings) {
  real k = doublings * 0.69314718055994531;
  return k * exp(k * t) / exp_less_one(k);
}
real circle_in(real t) { return t * t / (1.0 + sqrt((1.0 - t) * (1.0 + t))); }
real circle_in_slope(real t) {
  real root = sqrt((1.0 - t) * (1.0 + t));
  if (root == 0.0) { return UNBOUNDED; }
  return t / root;
}
real back_in(real t, real s) { return t * t * ((s + 1.0) * t - s); }
real back_in_slope(real t, real s) { return t * (3.0 * (s + 1.0) * t - 2.0 * s); }
real elastic_out(real t, real swings) {
  if (t == 1.0) { return 1.0; }
  real left = exp(-6.9314718055994531);
  real share = 1.0 / (1.0 - left);
  real size = share * exp(-6.9314718055994531 * t) - share * left;
  return 1.0 - size * cos(6.2831853071795865 * swings * t);
}
real elastic_out_slope(real t, real swings) {
  real left = exp(-6.9314718055994531);
  real share = 1.0 / (1.0 - left);
  real fall = share * exp(-6.9314718055994531 * t);
  real size = choose(t == 1.0, 0.0, fall - share * left);
  real w = 6.2831853071795865 * swings;
  return 6.9314718055994531 * fall * cos(w * t) + size * w * sin(w * t);
}
/// Which of the four falls of a bounce: the middle of its parabola. `slack` decides on the border.
real bounce_centre(real t, real slack) {
  if (t <= 0.36363636363636365 + slack) { return 0.0; }
  if (t <= 0.72727272727272729 + slack) { return 0.54545454545454541; }
  if (t <= 0.90909090909090906 + slack) { return 0.81818181818181823; }
  return 0.95454545454545459;
}
real bounce_out(real t, real slack) {
  if (t == 1.0) { return 1.0; }
  real centre = bounce_centre(t, slack);
  real top = 0.0;
  if (centre > 0.9) { top = 0.984375; } else if (centre > 0.7) { top = 0.9375; } else if (centre > 0.5) { top = 0.75; }
  return 7.5625 * (t - centre) * (t - centre) + top;
}
real bounce_out_slope(real t, real slack) { return 15.125 * (t - bounce_centre(t, slack)); }

/// A coordinate of a cubic Bezier curve from 0 to 1, by its parameter.
real bezier(real first, real second, real p) {
  return ((((1.0 - 3.0 * (second - first)) * p + 3.0 * (second - 2.0 * first)) * p) + 3.0 * first) * p;
}
real bezier_slope(real first, real second, real p) {
  if (p == 1.0) { return 3.0 * (1.0 - second); }
  return (3.0 * (1.0 - 3.0 * (second - first)) * p + 6.0 * (second - 2.0 * first)) * p + 3.0 * first;
}
/// The parameter at which its time is t: Newton's method, kept inside a shrinking bracket.
real bezier_parameter(real x1, real x2, real t) {
  if (t <= 0.0) { return 0.0; }
  if (t >= 1.0) { return 1.0; }
  real low = 0.0;
  real high = 1.0;
  real guess = t;
  for n = 0 below 200 {
    if (high - low <= 1.0e-15) { return guess; }
    real error = bezier(x1, x2, guess) - t;
    if (error == 0.0) { return guess; }
    if (error > 0.0) { high = guess; } else { low = guess; }
    real slope = bezier_slope(x1, x2, guess);
    real next = low;
    if (slope > 0.0) { next = guess - error / slope; }
    if (!(next > low && next < high)) { next = 0.5 * (low + high); }
    if (abs(next - guess) < 2.5e-16) { return next; }
    guess = next;
  }
  return guess;
}
real bezier_at(real x1, real y1, real x2, real y2, real t) {
  if (t <= 0.0) { return 0.0; }
  if (t >= 1.0) { return 1.0; }
  return bezier(y1, y2, bezier_parameter(x1, x2, t));
}
real bezier_rate(real x1, real y1, real x2, real y2, real t) {
  real p = bezier_parameter(x1, x2, t);
  real run = bezier_slope(x1, x2, p);
  real rise = bezier_slope(y1, y2, p);
  if (run > 0.0) { return rise / run; }
  if (rise != 0.0) { return with_sign_of(UNBOUNDED, rise); }
  real run_bend = 6.0 * (1.0 - 3.0 * (x2 - x1)) * p + 6.0 * (x2 - 2.0 * x1);
  real rise_bend = 6.0 * (1.0 - 3.0 * (y2 - y1)) * p + 6.0 * (y2 - 2.0 * y1);
  if (run_bend != 0.0) { return rise_bend / run_bend; }
  return (1.0 - 3.0 * (y2 - y1)) / (1.0 - 3.0 * (x2 - x1));
}
/// Even steps. `extra`: how many more jumps than steps, `first`: 1 where the first comes at once.
real steps_at(real t, real count, real extra, real first) {
  real place = t * count;
  real nearest = floor(place + 0.5);
  if (abs(place - nearest) < 1.0e-12 * count) { place = nearest; }
  return held(floor(place) + first, 0.0, count + extra) / (count + extra);
}
/// A cubic between two knots, `h` apart, at a share u of the way.
real knots_at(real u, real h, real rise, real slope, real next_slope) {
  real p = h * slope + h * next_slope - 2.0 * rise;
  real q = 3.0 * rise - 2.0 * h * slope - h * next_slope;
  return u * (h * slope + u * (q + u * p));
}
real knots_rate(real u, real h, real rise, real slope, real next_slope) {
  real p = h * slope + h * next_slope - 2.0 * rise;
  real q = 3.0 * rise - 2.0 * h * slope - h * next_slope;
  return (h * slope + u * (2.0 * q + 3.0 * u * p)) / h;
}
)";
}

std::string_view moves_part() noexcept {
  return R"(
/// True if it rests at its goal; what a rounding leaves is rest.
flag rests(Mover m) {
  real size = max(1.0, abs(m.goal_at));
  return abs(m.value - m.goal_at) <= 4.0e-15 * size && abs(m.speed) <= 1.0e-13 * size;
}
/// True while a move is under way, or waits.
flag is_under_way(Mover m) { return (any_waits() && m.waiting > 0) || (m.runs && m.elapsed < m.total - 1.0e-9); }
/// Another motion takes over: value and speed go on, all else starts afresh.
act take_over(changing Mover m) {
  m.speed = finite(m.speed);
  m.runs = false;
  m.waiting = 0;
  for k = 0 below 6 {
    m.link[k] = m.value;
    m.link_speed[k] = 0.0;
  }
  whole last = links_of(m) - 1;
  if (last >= 0) { m.link_speed[last] = m.speed; }
}

/// The move takes over the speed with which the value comes.
act carry_speed(changing Mover m, real gap, real duration, real slope, real brake, real low, real high) {
  real v = finite(m.speed);
  if (abs(v) * duration <= 1.0e-6 * abs(gap)) { return; }
  m.at_once = true;
  flag steep = !(abs(slope) <= 5.0);
  real length = duration;
  if (gap != 0.0 && v * gap > 0.0) {
    if (v * length / gap > 3.0) {
      length = max(3.0 * gap / v, min(choose(brake > 0.0, brake, 0.25 * length), length));
      m.share = length / duration;
    }
    real r = v * length / gap;
    m.mix = choose(steep || r >= 3.0 * (1.0 - 1.0e-12), 1.0, r / 3.0);
    m.push = gap * r;
    if (m.mix < 1.0) { m.push = gap * (r - (1.0 - m.mix) * slope); }
    return;
  }
  m.plain = steep;
  m.push = v * length;
  if (!steep) { m.push = v * length - gap * slope; }
  real room = choose(v > 0.0, high - m.value, m.value - low);
  real excursion = 4.0 / 27.0 * abs(m.push);
  if (excursion > room) { m.push_width = max(1.0e-3, room / excursion); }
}

/// A move along a curve begins. `slope`: of the curve at its start; `low`, `high`: the range in the space.
act begin_ease(changing Mover m, real goal, real old_goal, real duration, real delay, whole legs, real slope,
               real brake, whole handover, real low, real high) {
  m.runs = true;
  m.elapsed = 0.0;
  m.origin = m.value;
  m.target = goal;
  m.made_once = m.once;
  m.share = 1.0;
  m.at_once = false;
  m.plain = false;
  m.mix = 0.0;
  m.push = 0.0;
  m.push_width = 1.0;
  real gap = goal - m.value;
  if (handover == PRO_RATA && gap != 0.0 && abs(gap) < abs(goal - old_goal)) {
    m.share = abs(gap) / abs(goal - old_goal);
  }
  if (handover == CARRY) { carry_speed(m, gap, duration, slope, brake, low, high); }
  m.total = choose(m.at_once, 0.0, delay) + duration * m.share * real(choose(m.once, 1, legs));
}

/// Where a time falls into the move: which of its ways, and how far into it. A sum may miss a border by a rounding.
act place_in_move(changing Mover m, real duration, real delay, whole legs) {
  real length = duration * m.share;
  real since = m.elapsed - choose(m.at_once, 0.0, delay);
  real count = real(choose(m.made_once, 1, legs));
  real nearest = floor(since / length + 0.5);
  if (abs(since - nearest * length) < 1.0e-12 * max(length, m.elapsed)) {
    m.leg = whole(min(nearest, count));
    m.within = 0.0;
  } else {
    m.leg = whole(min(floor(since / length), count));
    m.within = since - real(m.leg) * length;
  }
  m.within = m.within / length;
}

/// Puts the value where the move is. `value`, `slope`: of its curve at m.within; `last`: the value with which it ends.
act follow_curve(changing Mover m, real duration, whole legs, flag there_and_back, real value, real slope, real last) {
  whole count = choose(m.made_once, 1, legs);
  if (m.leg < 0) {
    m.value = m.origin;
    m.speed = 0.0;
    return;
  }
  whole leg = least(m.leg, count - 1);
  flag back = there_and_back && !m.made_once && leg % 2 == 1;
  real start = choose(back, m.acting_at, m.origin);
  real stop = choose(back, m.origin, m.acting_at);
  real stop_speed = choose(back || !any_runs(), 0.0, m.goal_speed);
  real start_speed = choose(back && any_runs(), m.goal_speed, 0.0);
  if (m.leg >= count) {
    m.value = choose(last == 1.0, stop, start + (stop - start) * last);
    m.speed = choose(last == 1.0, stop_speed, start_speed + (stop_speed - start_speed) * last);
    return;
  }
  real length = duration * m.share;
  real u = m.within;
  real y = u / m.push_width;
  real push = 0.0;
  real push_slope = 0.0;
  if (m.push != 0.0 && y < 1.0) {
    push = m.push * m.push_width * y * (1.0 - y) * (1.0 - y);
    push_slope = m.push * (1.0 - y) * (1.0 - 3.0 * y);
  }
  real gap = stop - start;
  real gap_speed = stop_speed - start_speed;
  if (gap == 0.0 && gap_speed == 0.0) {
    m.value = stop + push;
    m.speed = stop_speed + push_slope / length;
    return;
  }
  real mix = choose(m.plain, 1.0, m.mix);
  real p = mix * u * u * (3.0 - 2.0 * u);
  real rate = mix * 6.0 * u * (1.0 - u);
  if (mix < 1.0) {
    p = p + (1.0 - mix) * value;
    rate = rate + (1.0 - mix) * slope;
  }
  m.value = start + gap * p + push;
  m.speed = start_speed + (gap * rate + push_slope) / length;
  if (gap_speed != 0.0) { m.speed = m.speed + gap_speed * p; }
}

/// A way of `gap` in the least time (a move has two: along and across): at most so fast up and down, speeding up and braking by so much.
act plan_way(changing Mover m, whole w, real gap, real velocity, real up, real down, real acceleration) {
  m.gap[w] = gap;
  m.leg_speed[w] = velocity;
  for i = 0 below 3 {
    m.phase_time[3 * w + i] = 0.0;
    m.phase_push[3 * w + i] = 0.0;
  }
  if (acceleration == UNBOUNDED) {
    m.leg_speed[w] = 0.0;
    if (gap != 0.0) { m.leg_speed[w] = with_sign_of(choose(gap > 0.0, up, down), gap); }
    m.phase_time[3 * w + 1] = abs(gap) / choose(gap > 0.0, up, down);
  } else if (gap != 0.0 || velocity != 0.0) {
    real ahead = gap - velocity * abs(velocity) / (2.0 * acceleration);
    real way = 1.0;
    if (ahead < 0.0 || (ahead == 0.0 && gap < 0.0)) { way = -1.0; }
    real d = way * gap;
    real v = way * velocity;
    real top = choose(way > 0.0, up, down);
    real peak = sqrt(max(0.0, acceleration * d + 0.5 * v * v));
    real braking = top * top / (2.0 * acceleration);
    m.phase_push[3 * w + 2] = -way * acceleration;
    m.phase_push[3 * w] = way * acceleration;
    m.phase_time[3 * w + 2] = top / acceleration;
    if (v > top) {
      m.phase_time[3 * w] = (v - top) / acceleration;
      m.phase_push[3 * w] = -way * acceleration;
      m.phase_time[3 * w + 1] = max(0.0, d - (v * v - top * top) / (2.0 * acceleration) - braking) / top;
    } else if (peak <= top) {
      m.phase_time[3 * w] = max(0.0, peak - v) / acceleration;
      m.phase_time[3 * w + 2] = peak / acceleration;
    } else {
      m.phase_time[3 * w] = (top - v) / acceleration;
      m.phase_time[3 * w + 1] = max(0.0, d - (top * top - v * v) / (2.0 * acceleration) - braking) / top;
    }
  }
  m.way_total[w] = m.phase_time[3 * w] + m.phase_time[3 * w + 1] + m.phase_time[3 * w + 2];
}
flag is_way_over(Mover m, whole w, real t) { return t >= m.way_total[w] - 1.0e-12 * max(t, m.way_total[w]); }
/// Where the way is after t seconds, and how fast.
real way_at(Mover m, whole w, real t) {
  if (is_way_over(m, w, t)) { return m.gap[w]; }
  real slack = 1.0e-12 * max(t, m.way_total[w]);
  real left = m.way_total[w] - t;
  if (left <= m.phase_time[3 * w + 2] + slack) { return m.gap[w] + 0.5 * m.phase_push[3 * w + 2] * left * left; }
  real first = m.phase_time[3 * w];
  if (t < first - slack) { return t * (m.leg_speed[w] + 0.5 * m.phase_push[3 * w] * t); }
  return first * (m.leg_speed[w] + 0.5 * m.phase_push[3 * w] * first)
         + (t - first) * (m.leg_speed[w] + m.phase_push[3 * w] * first);
}
real way_speed_at(Mover m, whole w, real t) {
  if (is_way_over(m, w, t)) { return 0.0; }
  real slack = 1.0e-12 * max(t, m.way_total[w]);
  if (m.way_total[w] - t <= m.phase_time[3 * w + 2] + slack) { return -m.phase_push[3 * w + 2] * (m.way_total[w] - t); }
  if (t < m.phase_time[3 * w] - slack) { return m.leg_speed[w] + m.phase_push[3 * w] * t; }
  return m.leg_speed[w] + m.phase_push[3 * w] * m.phase_time[3 * w];
}
act set_out(changing Mover m, real goal) {
  m.runs = true;
  m.elapsed = 0.0;
  m.origin = m.value;
  m.target = goal;
}
/// A pace to a goal that stands begins.
act begin_pace(changing Mover m, real goal, real top_speed, real acceleration) {
  set_out(m, goal);
  m.axis[0] = 1.0;
  m.axis[1] = 0.0;
  plan_way(m, 0, goal - m.value, finite(m.speed), top_speed, top_speed, acceleration);
  plan_way(m, 1, 0.0, 0.0, top_speed, top_speed, acceleration);
  m.total = m.way_total[0];
}
/// A pace after a goal that runs: seen from the goal, what is allowed differs by its speed.
act chase(changing Mover m, real top_speed, real acceleration, real dt) {
  real slope = m.goal_speed;
  real velocity = finite(m.speed);
  m.runs = false;
  if (abs(slope) < top_speed) {
    real gap = m.from_at - m.value;
    if (acceleration == UNBOUNDED && abs(gap) <= 1.0e-13 * max(abs(m.from_at), abs(m.value))) { gap = 0.0; }
    plan_way(m, 0, gap, velocity - slope, top_speed - slope, top_speed + slope, acceleration);
    if (is_way_over(m, 0, dt)) {
      m.value = m.acting_at;
      m.speed = slope;
      return;
    }
    real value = m.value + slope * dt + way_at(m, 0, dt);
    m.speed = slope + way_speed_at(m, 0, dt);
    m.value = value;
    return;
  }
  /// It goes faster than the pace: after it at full speed.
  real fastest = with_sign_of(top_speed, slope);
  if (acceleration == UNBOUNDED) {
    m.value = m.value + fastest * dt;
    m.speed = fastest;
    return;
  }
  real gaining = abs(fastest - velocity) / acceleration;
  real push = with_sign_of(acceleration, fastest - velocity);
  if (dt < gaining) {
    m.value = m.value + dt * (velocity + 0.5 * push * dt);
    m.speed = velocity + push * dt;
  } else {
    m.value = m.value + gaining * (velocity + 0.5 * push * gaining) + (dt - gaining) * fastest;
    m.speed = fastest;
  }
}
act pace(changing Mover m, real top_speed, real acceleration, real dt) {
  if (any_runs() && m.goal_moves) {
    chase(m, top_speed, acceleration, dt);
    return;
  }
  if (!m.runs && (m.value != m.acting_at || m.speed != 0.0)) { begin_pace(m, m.acting_at, top_speed, acceleration); }
  if (!m.runs) { return; }
  m.elapsed = m.elapsed + dt;
  real t = m.elapsed;
  m.value = m.origin + m.axis[0] * way_at(m, 0, t) + m.axis[1] * way_at(m, 1, t);
  m.speed = m.axis[0] * way_speed_at(m, 0, t) + m.axis[1] * way_speed_at(m, 1, t);
  if (is_way_over(m, 0, t) && is_way_over(m, 1, t)) { m.value = m.acting_at; }
}
)";
}

} // namespace stasis::code
