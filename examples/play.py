"""The demo's otter camera in Python, as play.c. Run: python3 play.py otter.toml"""

import sys

import stasis

camera = stasis.Session(sys.argv[1] if len(sys.argv) > 1 else "otter.toml", fps=60)
print("time,fov")
for frame in range(121):
    if frame == 30:
        camera.press("listen")
    if frame == 75:
        camera.release("listen")
    camera.advance(0.0)
    print(f"{camera.time!r},{camera.value('fov')!r}")
camera.close()
