"""As rows.c, by the wrapper of ctypes."""

import sys

import stasis

for line in open(sys.argv[1]):
    feel, hands_path, rows_path, fps, frames = line.split()
    hands = [words.split() for words in open(hands_path)]
    camera = stasis.Session(feel, fps=float(fps))
    shape = camera.channels()
    with open(rows_path, "w") as rows:
        for frame in range(int(frames)):
            while hands and int(hands[0][0]) <= frame:
                _, what, name, number = hands.pop(0)
                if what in ("press", "release", "cancel"):
                    getattr(camera, what)(name)
                else:
                    getattr(camera, what)(name, int(float(number)) if what == "click" else float(number))
            camera.advance(0.0)
            print(*(repr(camera.value(name, i)) for name, components in shape for i in range(components)), file=rows)
    camera.close()
