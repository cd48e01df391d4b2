/* The same channels as a tight program by hand: three controls, no shakes, no clicks, and the step always as long. */
#include <math.h>
#include <stdbool.h>

#include "camera.h"

typedef struct {
  double value, speed, goal;
} moved;
typedef struct {
  double value_by_value, value_by_speed, speed_by_value, speed_by_speed;
} step_of_spring;
typedef struct {
  double from, to, value, elapsed;
  bool runs;
} eased;

static step_of_spring spring_step(double w, double z) {
  const double q = sqrt(1.0 - z * z), decay = exp(-z * w * STEP), c = cos(w * q * STEP), s = sin(w * q * STEP);
  return (step_of_spring){decay * (c + z / q * s), decay * s / (w * q), -decay * w / q * s, decay * (c - z / q * s)};
}

static void spring(moved *m, const step_of_spring *step) {
  const double gap = m->value - m->goal;
  m->value = m->goal + step->value_by_value * gap + step->value_by_speed * m->speed;
  m->speed = step->speed_by_value * gap + step->speed_by_speed * m->speed;
}

/* Smooth through five points. */
static double lean(double u) {
  static const double time[5] = {0.0, 0.2, 0.45, 0.7, 1.0}, share[5] = {0.0, 0.06, 0.6, 0.93, 1.0};
  static const double slope[5] = {0.3, 0.9, 1.74, 0.7, 0.233};
  const int k = u < 0.2 ? 0 : u < 0.45 ? 1 : u < 0.7 ? 2 : 3;
  const double h = time[k + 1] - time[k], rise = share[k + 1] - share[k], t = (u - time[k]) / h;
  const double p = h * slope[k] + h * slope[k + 1] - 2.0 * rise, q = 3.0 * rise - 2.0 * h * slope[k] - h * slope[k + 1];
  return share[k] + t * (h * slope[k] + t * (q + t * p));
}

static void ease_to(eased *e, double goal) {
  if (goal == e->to) return;
  *e = (eased){e->value, goal, e->value, 0.0, true};
}

static void ease(eased *e, double duration) {
  if (!e->runs) return;
  e->elapsed += STEP;
  e->runs = e->elapsed < duration;
  e->value = e->runs ? e->from + (e->to - e->from) * lean(e->elapsed / duration) : e->to;
}

/* At most 120 a second, gained and lost at 480 a second each second. */
static void pace(moved *m) {
  const double gap = m->goal - m->value;
  if (gap == 0.0 && m->speed == 0.0) return;
  const double most = fmin(120.0, sqrt(2.0 * 480.0 * fabs(gap))), change = 480.0 * STEP;
  const double wish = (gap < 0.0 ? -most : most) - m->speed;
  const double speed = m->speed + fmax(-change, fmin(change, wish));
  const double next = m->value + 0.5 * (m->speed + speed) * STEP;
  const bool is_there = (m->goal - next) * gap <= 0.0;
  m->value = is_there ? m->goal : next;
  m->speed = is_there ? 0.0 : speed;
}

int main(void) {
  const double pi = acos(-1.0), half_life = 0.18;
  const step_of_spring soft = spring_step(2.0 * pi * 1.6, 0.7);
  const double drift = exp2(-STEP / half_life);
  moved fov = {log(tan(31.0 * pi / 180.0)), 0.0, 0.0}, up = {0.35, 0.0, 0.35}, yaw = {170.0, 0.0, 170.0};
  double away = log(4.0), away_goal = away, back = 0.0, back_goal = 0.0, sum = 0.0;
  eased side = {0.55, 0.55, 0.55, 0.0, false}, across = {0.0, 0.0, 0.0, 0.0, false};
  bool is_down[CONTROLS] = {false, false, false};
  const double begun = seconds();
  for (int k = 0; k < FRAMES; ++k) {
    if (k % HELD == 0) {
      is_down[k / HELD / 2 % CONTROLS] = k / HELD % 2 == 0;
      const bool listens = is_down[0], dives = is_down[1], glances = is_down[2];
      fov.goal = log(tan((dives ? 74.0 : listens ? 38.0 : 62.0) * pi / 360.0));
      away_goal = log(dives ? 2.2 : 4.0);
      ease_to(&side, listens ? 0.3 : 0.55);
      up.goal = dives ? -0.4 : 0.35;
      back_goal = dives ? -0.6 : 0.0;
      yaw.goal = glances ? 200.0 : 170.0;
    }
    spring(&fov, &soft);
    away = away_goal + (away - away_goal) * drift;
    ease(&side, 0.45);
    ease(&across, 0.45);
    spring(&up, &soft);
    back = back_goal + (back - back_goal) * drift;
    pace(&yaw);
    const double seen = fmax(30.0, fmin(95.0, 2.0 * atan(exp(fov.value)) * 180.0 / pi));
    const double distance = fmax(1.2, fmin(9.0, exp(away)));
    sum += seen + distance + side.value + across.value + up.value + back + yaw.value;
  }
  return tell(begun, sum);
}
