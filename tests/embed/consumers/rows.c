/* Plays feels under the hands that stand in files, and writes every channel's values. usage: rows LIST
 * A line of LIST: feel, hands, rows to write, frames a second, frames. A line of hands: frame, what, name, number. */
#include <stasis.h>
#include <stdio.h>
#include <string.h>

static void act(stasis_session *s, const char *what, const char *name, double number) {
  int control = stasis_find(s, STASIS_CONTROL, name);
  if (strcmp(what, "press") == 0) stasis_press(s, control, 0);
  if (strcmp(what, "release") == 0) stasis_release(s, control, 0);
  if (strcmp(what, "cancel") == 0) stasis_cancel(s, control);
  if (strcmp(what, "click") == 0) stasis_click(s, control, (int)number);
  if (strcmp(what, "stick") == 0) stasis_stick(s, control, number);
  if (strcmp(what, "pointer") == 0) stasis_pointer(s, control, number);
  if (strcmp(what, "hit") == 0) stasis_hit(s, stasis_find(s, STASIS_SHAKE, name), number);
}

static int play(const char *feel, FILE *hands, FILE *rows, double fps, long frames) {
  stasis_session *s = stasis_open_file(feel, NULL, NULL, fps, NULL);
  char what[32], name[64];
  double number;
  long due, frame;
  int more, channel, component;
  if (s == NULL) return 0;
  more = fscanf(hands, "%ld %31s %63s %lf", &due, what, name, &number) == 4;
  for (frame = 0; frame < frames; ++frame) {
    for (; more && due <= frame; more = fscanf(hands, "%ld %31s %63s %lf", &due, what, name, &number) == 4)
      act(s, what, name, number);
    stasis_advance(s, 0.0);
    for (channel = 0; channel < stasis_count(s, STASIS_CHANNEL); ++channel)
      for (component = 0; component < stasis_components(s, channel); ++component)
        fprintf(rows, "%.17g ", stasis_value(s, channel, component));
    fprintf(rows, "\n");
  }
  stasis_close(s);
  return 1;
}

int main(int count, char **words) {
  char feel[512], hands_path[512], rows_path[512];
  double fps;
  long frames;
  FILE *list = count > 1 ? fopen(words[1], "r") : NULL;
  if (list == NULL) return 2;
  while (fscanf(list, "%511s %511s %511s %lf %ld", feel, hands_path, rows_path, &fps, &frames) == 5) {
    FILE *hands = fopen(hands_path, "r"), *rows = fopen(rows_path, "w");
    if (hands == NULL || rows == NULL || !play(feel, hands, rows, fps, frames)) return 2;
    fclose(hands);
    fclose(rows);
  }
  fclose(list);
  return 0;
}
