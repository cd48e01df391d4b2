#include "code/parts.hpp"

namespace stasis::code {

std::string_view numbers_part() noexcept {
  return R"(
real held(real value, real low, real high) {
  if (value < low) { return low; }
  if (value > high) { return high; }
  return value;
}
/// 0 in place of what is no number.
real finite(real value) {
  if (value - value == 0.0) { return value; }
  return 0.0;
}
/// What is a number, or else another one.
real number_or(real value, real other) {
  if (value - value == 0.0) { return value; }
  return other;
}
real no_number() { return UNBOUNDED - UNBOUNDED; }
real over(real a, real b) {
  if (b == 0.0) { return no_number(); }
  return a / b;
}
real root_of(real x) {
  if (x < 0.0) { return no_number(); }
  return sqrt(x);
}
real log_of(real x) {
  if (x <= 0.0) { return no_number(); }
  return log(x);
}
real exp_of(real x) {
  if (x > 709.0) { return UNBOUNDED; }
  return exp(x);
}
real power_of(real a, real b) {
  if (a < 0.0 && floor(b) != b) { return no_number(); }
  if (a == 0.0 && b < 0.0) { return UNBOUNDED; }
  if (a != 0.0 && b * log(abs(a)) > 709.0) { return UNBOUNDED; }
  return pow(a, b);
}
real part_of(real x, real low, real high) { return held(over(x - low, high - low), 0.0, 1.0); }
real with_sign_of(real size, real sign) {
  if (sign < 0.0) { return -size; }
  return size;
}
/// e^x - 1 to the last digits for small x too.
real exp_less_one(real x) {
  if (abs(x) < 1.0e-5) { return x + x * x / 2.0 + x * x * x / 6.0; }
  real grown = exp(x);
  if (abs(x) > 0.5) { return grown - 1.0; }
  return (grown - 1.0) * x / log(grown);
}
/// The logarithm of how large things look through a lens of this angle, turned round.
real zoom_of(real radians) { return log(tan(0.5 * radians)); }
real angle_of(real zoom) { return 2.0 * atan(exp(held(zoom, -700.0, 700.0))); }
/// A goal moved by whole turns to where it is near.
real short_way(real value, real goal, real turn) {
  return goal + floor(0.5 - (goal - value) / turn + 1.0e-12) * turn;
}
)";
}

std::string_view steps_part() noexcept {
  return R"(
/// (1 - e^-y) / y, 1 at 0.
real mean_decay(real y) {
  if (y == 0.0) { return 1.0; }
  return -exp_less_one(-y) / y;
}
/// The gap to the goal shrinks by one factor in equal times.
act glide(changing Mover m, real rate, real dt) {
  if (dt != m.step_dt || m.motion != m.step_motion) {
    m.step_dt = dt;
    m.step_motion = m.motion;
    m.kept = exp(-rate * dt);
  }
  real gap = (m.value - m.from_at) * m.kept;
  if (any_runs() && m.goal_moves) { gap = gap - (m.acting_at - m.from_at) * mean_decay(rate * dt); }
  m.value = m.acting_at + gap;
  m.speed = rate * (m.acting_at - m.value);
}

/// What one exact step of a damped spring does: w its angular frequency, z its damping ratio. It stays in m while the
/// steps are equally long.
act plan_spring(changing Mover m, real w, real z, real dt) {
  m.step_dt = dt;
  m.step_motion = m.motion;
  real a = w * dt;
  real reach = a;
  if (z > 1.0) { reach = a * (z + sqrt((z - 1.0) * (z + 1.0))); }
  if (reach < 1.0) {
    /// Short steps: a power series, whatever the damping.
    real before = 0.0;
    real term = 1.0;
    real share = 1.0;
    real first = 0.0;
    real second = 0.0;
    for n = 0 below 21 {
      real k = real(n);
      first = first + term * share;
      second = second + term * share / (k + 2.0);
      real next = -2.0 * z * a * term - a * a * before;
      before = term;
      term = next;
      share = share / (k + 2.0);
    }
    m.coast = a * first;
    m.toward = a * a * second;
    m.kept = 1.0 - m.toward;
    m.momentum = 1.0 - m.toward - 2.0 * z * m.coast;
  } else if (z < 1.0) {
    real q = sqrt((1.0 - z) * (1.0 + z));
    real decay = exp(-z * a);
    m.coast = decay * a;
    if (q * a >= 1.0e-8) { m.coast = decay * sin(q * a) / q; }
    m.kept = decay * cos(q * a) + z * m.coast;
    m.toward = 1.0 - m.kept;
    m.momentum = m.kept - 2.0 * z * m.coast;
  } else {
    /// Two rates that differ.
    real r = sqrt((z - 1.0) * (z + 1.0));
    real slow = a / (z + r);
    real quick = a * (z + r);
    real slow_mean = mean_decay(slow);
    real both = exp(-slow) * mean_decay(2.0 * r * a);
    m.coast = a * both;
    m.toward = slow * (slow_mean - both);
    m.kept = exp(-slow) + slow * both;
    m.momentum = exp(-quick) - slow * both;
  }
}
/// One exact step of a damped spring. `against_gap`: it resists the rate of the gap and not its own.
act spring(changing Mover m, real w, real z, flag against_gap, real dt) {
  if (dt <= 0.0) { return; }
  if (dt != m.step_dt || m.motion != m.step_motion) { plan_spring(m, w, z, dt); }
  real gap = m.from_at - m.value;
  real value = m.value + (m.toward * gap + m.coast / w * m.speed);
  if (m.toward >= 0.5 || (any_runs() && m.goal_moves)) { value = m.acting_at + (m.coast / w * m.speed - m.kept * gap); }
  real speed = m.momentum * m.speed + w * m.coast * gap;
  if (any_runs() && m.goal_moves) {
    real way = m.acting_at - m.from_at;
    if (against_gap) {
      value = value - m.coast / (w * dt) * way;
      speed = speed + (m.toward + 2.0 * z * m.coast) / dt * way;
    } else {
      value = value - (m.coast + 2.0 * z * m.toward) / (w * dt) * way;
      speed = speed + m.toward / dt * way;
    }
  }
  m.value = value;
  m.speed = speed;
}

/// At once, one frame later.
act cut(changing Mover m) {
  m.value = m.acting_at;
  m.speed = choose(any_runs(), m.goal_speed, 0.0);
}

/// A share of the gap on each frame, whatever its length: as it is, with what is wrong with it.
act fraction_of_gap(changing Mover m, real fraction, real dt) {
  real before = m.value;
  m.value = m.value + fraction * (m.acting_at - m.value);
  m.speed = choose(dt > 0.0, (m.value - before) / max(dt, 1.0e-300), 0.0);
}
/// Rate times frame time, used as a share of the gap.
act rate_times_frame(changing Mover m, real rate, flag capped, real dt) {
  real before = m.value;
  real share = rate * dt;
  if (capped && share >= 1.0) { m.value = m.acting_at; } else { m.value = m.value + share * (m.acting_at - m.value); }
  m.speed = choose(dt > 0.0, (m.value - before) / max(dt, 1.0e-300), 0.0);
}
/// A fixed way on each frame.
act amount_a_frame(changing Mover m, real amount, real dt) {
  real before = m.value;
  real gap = m.acting_at - m.value;
  if (abs(gap) <= amount) { m.value = m.acting_at; } else { m.value = m.value + with_sign_of(amount, gap); }
  m.speed = choose(dt > 0.0, (m.value - before) / max(dt, 1.0e-300), 0.0);
}
/// A spring advanced by one step of Euler's method on each frame.
act spring_a_frame(changing Mover m, real stiffness, real damping, flag speed_first, real dt) {
  real old = finite(m.speed);
  real speed = old + (stiffness * (m.acting_at - m.value) - damping * old) * dt;
  m.value = m.value + choose(speed_first, speed, old) * dt;
  m.speed = speed;
}
)";
}

} // namespace stasis::code
