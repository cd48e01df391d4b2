/* The otter's camera in a program of three pages: plays three seconds and prints what the camera
   does. The camera comes from the demo feel, and nothing else is needed:

     stasis export otter.toml code --language c -o .
     cc main.c -o otter_view -lm && ./otter_view */
#include <stdio.h>

#include "otter.c"

int main(void) {
    otter_state camera = {0};
    otter_begin(&camera);
    printf("seconds   field of view   distance     eye x     eye y     eye z\n");
    for (int frame = 0; frame <= 180; ++frame) {
        /* What the player does. */
        if (frame == 30) otter_press(&camera, OTTER_CONTROL_LISTEN);
        if (frame == 90) otter_click(&camera, OTTER_CONTROL_WHEEL, 3);
        if (frame == 120) otter_release(&camera, OTTER_CONTROL_LISTEN);
        if (frame == 140) otter_hit(&camera, OTTER_SHAKE_LOG_HIT, 1.0);
        /* What the camera answers. */
        if (frame % 15 == 0)
            printf("%7.2f %11.3f deg %8.3f m %9.4f %9.4f %9.4f\n", camera.time,
                   otter_value_of_fov(&camera), otter_value_of_distance(&camera),
                   otter_eye_x(&camera), otter_eye_y(&camera), otter_eye_z(&camera));
        otter_advance(&camera, 1.0 / 60.0);
    }
    return 0;
}
