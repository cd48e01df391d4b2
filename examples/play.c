/* The demo's otter camera in a C program: two seconds at 60 frames a second, the listening pose held from 0.5 s to 1.25 s.
 * Prints time and field of view, a row a frame.
 *
 * Build:  cc play.c $(pkg-config --cflags --libs stasis) -o play
 * Run:    ./play otter.toml */
#include <stasis.h>
#include <stdio.h>

static int complain(stasis_faults *faults) {
  char *words = stasis_faults_text(faults); /* file, line, column, what to do */
  fprintf(stderr, "%s\n", words != NULL ? words : "out of memory");
  stasis_free(words);
  stasis_faults_free(faults);
  return 2;
}

int main(int count, char **words) {
  stasis_faults *faults = NULL;
  stasis_session *camera = stasis_open_file(count > 1 ? words[1] : "otter.toml", NULL, NULL, 60.0, &faults);
  int fov, listen, frame;
  if (camera == NULL) return complain(faults);
  fov = stasis_find(camera, STASIS_CHANNEL, "fov");
  listen = stasis_find(camera, STASIS_CONTROL, "listen");
  printf("time,fov\n");
  for (frame = 0; frame <= 120; ++frame) {
    if (frame == 30) stasis_press(camera, listen, 0);
    if (frame == 75) stasis_release(camera, listen, 0);
    stasis_advance(camera, 0.0); /* frames of 1/60 s were asked for */
    printf("%.17g,%.17g\n", stasis_time(camera), stasis_value(camera, fov, 0));
  }
  stasis_close(camera);
  return 0;
}
