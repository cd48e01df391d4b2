/* How the two programs of this folder are played and timed: 40 frames long each of three controls is down, then up. */
#ifndef CAMERA_INCLUDED
#define CAMERA_INCLUDED

#include <stdio.h>
#include <time.h>

enum { FRAMES = 2000000, HELD = 40, CONTROLS = 3 };
#define STEP (1.0 / 60.0)

static double seconds(void) {
  struct timespec now;
  clock_gettime(CLOCK_MONOTONIC, &now);
  return (double)now.tv_sec + 1e-9 * (double)now.tv_nsec;
}

/* Prints ns a frame; what the values add up to keeps them from being left out. */
static int tell(double begun, double sum) {
  printf("%.17g %.17g\n", (seconds() - begun) / FRAMES * 1e9, sum);
  return 0;
}

#endif
