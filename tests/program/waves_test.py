#!/usr/bin/env python3
"""Waves of shakes, worked out again from docs/maths.md, section 5, alone. usage: waves_test.py PROGRAM

Whoever rebuilds them from that page must get what the program shakes: smooth noise with octaves, sines and jitter, on
channels of one and two components, within 1e-12.
"""
import csv
import io
import math
import pathlib
import subprocess
import sys
import tempfile

ALL_BITS = (1 << 64) - 1
GOLDEN = 0x9E3779B97F4A7C15


def mixed(z):
    z = ((z ^ (z >> 30)) * 0xBF58476D1CE4E5B9) & ALL_BITS
    z = ((z ^ (z >> 27)) * 0x94D049BB133111EB) & ALL_BITS
    return z ^ (z >> 31)


def signed_share(stream, place):
    b = (stream + place * GOLDEN) & ALL_BITS
    b = ((b ^ (b >> 32)) * 0xD6E8FEB86659FD93) & ALL_BITS
    return (b - (1 << 64) if b >> 63 else b) * 2.0**-63


def unit_share(stream, place):
    return 0.5 + 0.5 * signed_share(stream, place)


def stream_of(seed, shake, channel, component):
    s = mixed((seed + GOLDEN) & ALL_BITS)
    for name in (shake, channel):
        for byte in name.encode():
            s = mixed(s ^ byte)
        s = mixed(s ^ 0x100)
    return mixed(s ^ (component + 0x200))


def lattice(stream, x):
    n = math.floor(x)
    u = x - n
    fade = u**3 * (u * (6 * u - 15) + 10)
    return signed_share(stream, n) * u * (1 - fade) + signed_share(stream, n + 1) * (u - 1) * fade


def unit_noise(stream, x):
    return (lattice(stream, x) + lattice(stream ^ ALL_BITS, x + 0.5)) / 0.6035


def noise(stream, frequency, octaves, t):
    gains = [2.0**-k for k in range(octaves)]
    centroid = sum(gains) / sum(gain**2 for gain in gains)
    x = frequency * t / (0.5344909674 * centroid) + 1000 * unit_share(stream, -1)
    return sum(gain * unit_noise((stream + k * GOLDEN) & ALL_BITS, x * 2**k) for k, gain in enumerate(gains)) / sum(gains)


def sines(stream, frequency, place, t):
    ratios = [0.6180339887, 0.8660254038, 1.1180339887, 1.3247179572]
    spreads = [0.8566748838545029, 0.7338918566271260, 0.6287067210378087, 0.5385972572236101]
    rates = [q * (1 + 0.08 * ((d * place) % 1 - 0.5)) for q, d in zip(ratios, spreads)]
    scale = frequency / (sum(rates) / 4)
    return sum(math.sin(2 * math.pi * (r * scale * t + unit_share(stream, k))) for k, r in enumerate(rates)) / 4


def jitter(stream, rate, t):
    return signed_share(stream, math.floor(rate * t + 1e-9))


WAVES = {
    "rattle": ('{ kind = "noise", frequency = 3, octaves = 3 }', lambda stream, place, t: noise(stream, 3, 3, t)),
    "sway": ('{ kind = "sines", frequency = 2 }', lambda stream, place, t: sines(stream, 2, place, t)),
    "tick": ('{ kind = "jitter", rate = 7 }', lambda stream, place, t: jitter(stream, 7, t)),
}
COLUMNS = {"side.value": ("side", 0), "focus.value.x": ("focus", 0), "focus.value.y": ("focus", 1)}


def farthest_off(program, name, seed):
    wave, formula = WAVES[name]
    feel = f"""[channel.side]
rest = 0
[channel.focus]
rest = [0, 0]
[shake.{name}]
on = {{ side = 1, focus = [1, 1] }}
wave = {wave}
always = true
level = 1
seed = {seed}
[take.still]
length = 2
"""
    with tempfile.TemporaryDirectory() as folder:
        path = pathlib.Path(folder) / "shaken.toml"
        path.write_text(feel)
        told = subprocess.run([program, "run", path, "-o", "-", "--figure", "none"], capture_output=True, text=True, check=True)
    off, rows = 0.0, list(csv.DictReader(io.StringIO(told.stdout)))
    for row in rows:
        for place, (column, (channel, component)) in enumerate(COLUMNS.items()):
            expected = formula(stream_of(seed, name, channel, component), place, float(row["time"]))
            off = max(off, abs(float(row[column]) - expected))
    assert len(rows) == 121, len(rows)
    return off


def main():
    wrong = 0
    for name in WAVES:
        for seed in (1, 9, 4242):
            off = farthest_off(sys.argv[1], name, seed)
            if not off < 1e-12:
                print(f"{name}, seed {seed}: off by {off}")
                wrong += 1
    return 1 if wrong else 0


if __name__ == "__main__":
    sys.exit(main())
