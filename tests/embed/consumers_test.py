"""Programs of others, built and run from the installed files only: C, C++, Python, JavaScript, by pkg-config and by CMake.

Each prints the otter's field of view under the same hands; the rows are those of `stasis step`.
usage: consumers_test.py BUILD-FOLDER SOURCE-FOLDER
"""
import gzip
import json
import os
import pathlib
import subprocess
import sys
import tempfile

build, source = map(pathlib.Path, sys.argv[1:3])
folder = tempfile.TemporaryDirectory(prefix="stasis-consumers-")
root = pathlib.Path(folder.name)
prefix = root / "usr"


def run(*words, cwd=root, **environment):
    ended = subprocess.run([str(word) for word in words], cwd=cwd, env={**os.environ, **environment}, capture_output=True, text=True)
    if ended.returncode != 0:
        sys.exit(f"{' '.join(map(str, words))}: status {ended.returncode}\n{ended.stdout}{ended.stderr}")
    return ended.stdout


def rows(text):
    return [tuple(map(float, line.split(","))) for line in text.splitlines()[1:]]


run("cmake", "--install", build, "--prefix", prefix)
library = next(prefix.glob("lib*/**/libstasis.so.0")).parent
share = prefix / "share/stasis"
feel = share / "demo/otter.toml"
at_run_time = {"LD_LIBRARY_PATH": str(library)}

hands = "".join(
    '{"inputs":[{"press":"listen"}]}\n' if frame == 30 else '{"inputs":[{"release":"listen"}]}\n' if frame == 75 else "\n"
    for frame in range(121)
)
lines = subprocess.run([prefix / "bin/stasis", "step", feel, "--fps", "60"], input=hands, capture_output=True, text=True, check=True).stdout
expected = [(row["time"], row["channels"]["fov"]["value"]) for row in map(json.loads, lines.splitlines())]
assert len(expected) == 121

flags = [f"-I{prefix}/include", f"-L{library}", "-lstasis"]
pc = (library / "pkgconfig/stasis.pc").read_text()
assert "-lstasis" in pc and "Cflags: -I${includedir}" in pc
run("cc", "-std=c99", "-Wall", "-Wextra", "-Wpedantic", "-Werror", share / "examples/play.c", *flags, "-o", "play_c")
assert rows(run(root / "play_c", feel, **at_run_time)) == expected, "C"

# As an archive, which needs nothing of ours at run time.
archive = library / "libstasis.a"
run("cc", "-std=c99", share / "examples/play.c", f"-I{prefix}/include", archive, "-lpugixml", "-lstdc++", "-lm", "-o", "play_archive")
assert rows(run(root / "play_archive", feel)) == expected, "C, by the archive"
run("c++", "-std=c++20", f"-I{prefix}/include", f"-I{prefix}/include/stasis", share / "examples/play_core.cpp", f"-L{library}", "-l:libstasis.a", "-lpugixml", "-o", "play_core")
assert rows(run(root / "play_core", feel)) == expected, "C++, by the core's archive"
assert "stasis" not in run("ldd", root / "play_archive"), "the archive needs the shared library"

(root / "CMakeLists.txt").write_text(
    f"""cmake_minimum_required(VERSION 3.25)
project(Player LANGUAGES CXX)
find_package(Stasis 0.1 REQUIRED)
add_executable(player {share}/examples/play.cpp)
target_compile_features(player PRIVATE cxx_std_17)
target_link_libraries(player PRIVATE Stasis::stasis)
add_executable(heart {share}/examples/play_core.cpp)
target_link_libraries(heart PRIVATE Stasis::core)
"""
)
run("cmake", "-S", root, "-B", root / "player", f"-DCMAKE_PREFIX_PATH={prefix}")
run("cmake", "--build", root / "player")
changed = rows(run(root / "player/player", feel))
assert changed[:45] == expected[:45] and changed[60] != expected[60], "C++"

assert rows(run(root / "player/heart", feel)) == expected, "C++, by the core"

assert rows(run(sys.executable, share / "examples/play.py", feel, STASIS_LIBRARY=str(library / "libstasis.so.0"))) == expected, "Python"

script = rows(run("node", share / "examples/play.mjs", feel, STASIS_SHARE=str(share)))
worst = max(abs(a - b) for one, other in zip(script, expected) for a, b in zip(one, other))
assert len(script) == 121 and worst <= 1e-12 * 100, f"JavaScript: {worst}"

# Manual pages and completion go by the program's own list of commands.
commands = run(prefix / "bin/stasis", "complete", "1", "stasis", "").split()
manual = {path.name.removesuffix(".1.gz") for path in prefix.glob("share/man/man1/*.1.gz")}
assert manual == {"stasis", "stasis-search", "stasis-draw"} | {f"stasis-{command}" for command in commands}, manual
for path in prefix.glob("share/man/man1/*.1.gz"):
    page = gzip.decompress(path.read_bytes()).decode()
    assert page == ".so man1/stasis.1\n" or (page.startswith('.\\" Written by') and ".SH NAME" in page), path
asked = f"source {prefix}/share/bash-completion/completions/stasis; COMP_WORDS=(stasis tune {feel} fov snap); COMP_CWORD=4; _stasis; echo ${{COMPREPLY[@]}}"
assert run("bash", "-c", asked, PATH=f"{prefix}/bin:{os.environ['PATH']}").strip() == "snappier"
json.loads((share / "feel.schema.json").read_text())

# What faults a broken feel has is told with its place.
(root / "broken.toml").write_text("feel = 1\n[channel.fov]\nrset = 1\n")
told = subprocess.run([root / "play_c", root / "broken.toml"], env={**os.environ, **at_run_time}, capture_output=True, text=True)
assert told.returncode == 2 and "broken.toml:3:1" in told.stderr, told.stderr

# Nothing but the header's functions is shown; and all is taken away again.
shown = run("nm", "-D", "--defined-only", library / "libstasis.so.0")
others = [line for line in shown.splitlines() if line.split()[-1].split("@")[0][:7] != "stasis_"]
assert not others, others[:5]
run("cmake", "--build", build, "--target", "uninstall")
left = [path for path in prefix.rglob("*") if path.is_file()]
assert not left, left
