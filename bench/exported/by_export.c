/* The otter's camera as `stasis export otter.toml code --language c` writes it. */
#include "otter.c"

#include "camera.h"

int main(void) {
  otter_state s;
  double sum = 0.0;
  otter_begin(&s);
  const double begun = seconds();
  for (int k = 0; k < FRAMES; ++k) {
    const int control = k / HELD / 2 % CONTROLS;
    if (k % HELD == 0) {
      if (k / HELD % 2 == 0)
        otter_press(&s, control);
      else
        otter_release(&s, control);
    }
    otter_advance(&s, STEP);
    sum += otter_value_of_fov(&s) + otter_value_of_distance(&s) + otter_value_of_side(&s) + otter_value_of_focus_x(&s)
           + otter_value_of_focus_y(&s) + otter_value_of_focus_z(&s) + otter_value_of_yaw(&s);
  }
  return tell(begun, sum);
}
