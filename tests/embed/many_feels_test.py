"""Programs of others on many feels: the rows of `stasis run`, to the bit from C, C++ and Python, within 1e-12 from JavaScript.

Built from the installed files only. usage: many_feels_test.py BUILD-FOLDER SOURCE-FOLDER [FEELS]
"""
import csv
import math
import os
import pathlib
import subprocess
import sys
import tempfile
import tomllib

build, source = map(pathlib.Path, sys.argv[1:3])
wanted = int(sys.argv[3]) if len(sys.argv) > 3 else 300
folder = tempfile.TemporaryDirectory(prefix="stasis-feels-")
root = pathlib.Path(folder.name)
prefix = root / "usr"


def run(*words, **environment):
    ended = subprocess.run([str(word) for word in words], cwd=root, env={**os.environ, **environment}, capture_output=True, text=True)
    if ended.returncode != 0:
        sys.exit(f"{' '.join(map(str, words))}: status {ended.returncode}\n{ended.stdout}{ended.stderr}")
    return ended.stdout


def hands_of(take, fps):
    """The take's cues by the frames at which they act, or None where a consumer has no call for one."""
    lines = []
    for cue in sorted(take.get("cues", []), key=lambda cue: cue["at"]):
        frame = max(0, math.ceil(cue["at"] * fps - 1e-7))
        for what, number in (("press", None), ("release", None), ("cancel", None), ("click", "count"), ("stick", "value"), ("pointer", "counts"), ("hit", "strength")):
            if what in cue:
                lines.append(f"{frame} {what} {cue[what]} {cue.get(number, 1) if number else 0}")
                break
        else:
            return None
        if "." in str(cue[what]):  # one of several buttons
            return None
    return lines


run("cmake", "--install", build, "--prefix", prefix)
library = next(prefix.glob("lib*/**/libstasis.so.0")).parent
share = prefix / "share/stasis"
(root / "made").mkdir()
run(build / "tests/write_feels", root / "made", 4 * wanted, 77)
lists, feels = {kind: [] for kind in ("c", "cpp", "py", "mjs")}, []
for path in sorted(root.glob("made/*.toml")):
    take = tomllib.loads(path.read_text())["take"]["t"]
    clock = take.get("clock", {})
    hands = hands_of(take, clock.get("fps", 60))
    if set(clock) - {"fps"} or hands is None or len(feels) == wanted:
        continue
    path.with_suffix(".hands").write_text("".join(line + "\n" for line in hands))
    # Some of the feels that are made have two owners of one value, and are refused.
    if subprocess.run([prefix / "bin/stasis", "run", path, "--figure", "none", "-o", root / "ran" / path.stem], capture_output=True).returncode == 2:
        continue
    with open(root / "ran" / path.stem / "t.trace.csv") as text:
        table = list(csv.reader(text))
    columns = [i for i, name in enumerate(table[0]) if name.endswith((".value", ".value.x", ".value.y", ".value.z")) and not name.startswith("control.")]
    feels.append((path.stem, [[float(row[i]) for i in columns] for row in table[1:]]))
    for kind, lines in lists.items():
        lines.append(f"{path} {path.with_suffix('.hands')} {root / (path.stem + '.' + kind)} {clock.get('fps', 60)} {len(table) - 1}\n")
assert len(feels) == wanted, f"only {len(feels)} feels go by a steady clock and by hands that all have"
for kind, lines in lists.items():
    (root / f"list.{kind}").write_text("".join(lines))

consumers = source / "tests/embed/consumers"
run("cc", "-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", consumers / "rows.c", f"-I{prefix}/include", f"-L{library}", "-lstasis", "-o", "rows_c")
run("c++", "-std=c++20", "-O1", consumers / "rows.cpp", f"-I{prefix}/include", f"-I{prefix}/include/stasis", f"-L{library}", "-l:libstasis.a", "-lpugixml", "-o", "rows_cpp")
run(root / "rows_c", root / "list.c", LD_LIBRARY_PATH=str(library))
run(root / "rows_cpp", root / "list.cpp")
run(sys.executable, consumers / "rows.py", root / "list.py", STASIS_LIBRARY=str(library / "libstasis.so.0"), PYTHONPATH=str(share / "examples"))
run("node", consumers / "rows.mjs", root / "list.mjs", STASIS_SHARE=str(share))
worst = 0.0
for name, expected in feels:
    ranges = [max(map(abs, column)) or 1.0 for column in zip(*expected)]
    for kind in lists:
        found = [[float(word) for word in line.split()] for line in (root / f"{name}.{kind}").read_text().splitlines()]
        assert len(found) == len(expected), f"{name}.{kind}: {len(found)} rows for {len(expected)}"
        if kind != "mjs":
            assert found == expected, f"{name}.{kind}: other rows than those of run, first at {next(k for k in range(len(found)) if found[k] != expected[k])}"
            continue
        apart = max(abs(a - b) / size for row, other in zip(found, expected) for a, b, size in zip(row, other, ranges))
        worst = max(worst, apart)
        assert apart <= 1e-12, f"{name}.mjs: by {apart}"
print(f"{len(feels)} feels in C, C++ and Python to the bit, in JavaScript within {worst:.2g}")
