// Scenes of glTF 2.0: valid by the format's own validator, and read back by a reader of its own the camera of the trace.
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { cpSync, mkdtempSync, readFileSync, rmSync } from "node:fs";
import { createRequire } from "node:module";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { after, test } from "node:test";

const program = process.env.STASIS_PROGRAM, source = process.env.STASIS_SOURCE;
const validator = createRequire(join(source, "package.json"))("gltf-validator");
const folder = mkdtempSync(join(tmpdir(), "stasis-gltf-"));
after(() => rmSync(folder, { recursive: true }));
cpSync(join(source, "demo"), folder, { recursive: true });
const stasis = (...words) => execFileSync(program, words, { cwd: folder, encoding: "utf8" });

/** The scene and its buffer, from either container. */
function read(path) {
  const bytes = readFileSync(join(folder, path));
  if (bytes.toString("latin1", 0, 4) !== "glTF") {
    const scene = JSON.parse(bytes.toString("utf8"));
    return { scene, buffer: Buffer.from(scene.buffers[0].uri.split(",")[1], "base64") };
  }
  assert.equal(bytes.readUInt32LE(8), bytes.length);
  const length = bytes.readUInt32LE(12);
  return { scene: JSON.parse(bytes.toString("utf8", 20, 20 + length)), buffer: bytes.subarray(20 + length + 8) };
}

/** Rows of an accessor. */
function rows({ scene, buffer }, index) {
  const accessor = scene.accessors[index], view = scene.bufferViews[accessor.bufferView];
  const width = { SCALAR: 1, VEC3: 3, VEC4: 4 }[accessor.type];
  return Array.from({ length: accessor.count }, (_, row) =>
    Array.from({ length: width }, (_, i) => buffer.readFloatLE((view.byteOffset ?? 0) + 4 * (row * width + i))));
}

function trace(path) {
  const [head, ...lines] = readFileSync(join(folder, path), "utf8").trim().split("\n");
  const names = head.split(",");
  return lines.map((line) => Object.fromEntries(line.split(",").map((cell, k) => [names[k], Number(cell)])));
}

const cases = [["otter.toml", "approach"], ["swim.toml", "swim"], ["orbit.toml", "round"], ["bridge.toml", "aside"]];

for (const [feel, take] of cases)
  for (const form of ["gltf", "glb"])
    test(`${feel}, ${take}, as ${form}`, async () => {
      stasis("export", feel, "gltf", "--take", take, "--form", form, "-o", "out");
      const path = `out/${take}.${form}`;
      const report = await validator.validateBytes(new Uint8Array(readFileSync(join(folder, path))));
      const messages = report.issues.messages.filter((m) => m.code !== "INCOMPLETE_EXTENSION_SUPPORT");
      assert.deepEqual(messages, [], JSON.stringify(messages));
      stasis("run", feel, "--take", take, "-o", "run", "--figure", "none");
      const frames = trace(`run/${take}.trace.csv`), file = read(path), { scene } = file;
      const animation = scene.animations[0];
      const channel = (want) => {
        const found = animation.channels.find((c) => want(c.target));
        const sampler = animation.samplers[found.sampler];
        assert.equal(sampler.interpolation, "LINEAR");
        return { times: rows(file, sampler.input), values: rows(file, sampler.output) };
      };
      const eye = scene.nodes.findIndex((n) => n.camera === 0);
      const place = channel((t) => t.node === eye && t.path === "translation");
      const turn = channel((t) => t.node === eye && t.path === "rotation");
      assert.equal(place.times.length, frames.length);
      const near = (a, b, what) => assert.ok(Math.abs(a - b) <= 1e-6 * Math.max(1, Math.abs(b)), `${what}: ${a}, ${b}`);
      frames.forEach((frame, k) => {
        near(place.times[k][0], frame.time, "time");
        ["x", "y", "z"].forEach((axis, i) => near(place.values[k][i], frame[`eye.${axis}`], `eye.${axis} at ${k}`));
        ["qx", "qy", "qz", "qw"].forEach((part, i) => near(turn.values[k][i], frame[`eye.${part}`], `${part} at ${k}`));
      });
      // The part that the validator cannot check: the pointer leads to a number, which begins as the animation does.
      const pointed = animation.channels.find((c) => c.target.path === "pointer");
      const pointer = pointed.target.extensions.KHR_animation_pointer.pointer;
      const there = pointer.split("/").slice(1).reduce((node, key) => node[key], scene);
      assert.equal(scene.extensionsUsed.includes("KHR_animation_pointer"), true);
      const field = channel((t) => t.path === "pointer");
      near(field.values[0][0], there, "yfov");
      if (feel === "otter.toml")
        frames.forEach((frame, k) => near(field.values[k][0], (frame["fov.value"] * Math.PI) / 180, `fov at ${k}`));
      // What is followed stands where the trace has it.
      scene.nodes.forEach((node, n) => {
        if (!(`track.${node.name}.x` in frames[0]) || n === eye) return;
        const track = channel((t) => t.node === n && t.path === "translation");
        frames.forEach((frame, k) => near(track.values[k][0], frame[`track.${node.name}.x`], `${node.name} at ${k}`));
      });
    });

/** What a sampler shows at a time, by appendix C of the standard. */
function shown(sampler, width, time, isTurn) {
  const { times, values, interpolation } = sampler, last = times.length - 1;
  const row = (k) => values[interpolation === "CUBICSPLINE" ? 3 * k + 1 : k];
  if (time <= times[0]) return row(0);
  if (time >= times[last]) return row(last);
  const next = times.findIndex((t) => t > time), k = next - 1, length = times[next] - times[k], u = (time - times[k]) / length;
  const a = row(k), b = row(next);
  if (interpolation === "STEP") return a;
  let out;
  if (interpolation === "CUBICSPLINE") {
    const leaving = values[3 * k + 2], coming = values[3 * next];
    out = a.map((_, i) => (2 * u ** 3 - 3 * u ** 2 + 1) * a[i] + length * (u ** 3 - 2 * u ** 2 + u) * leaving[i]
      + (-2 * u ** 3 + 3 * u ** 2) * b[i] + length * (u ** 3 - u ** 2) * coming[i]);
  } else if (isTurn) {
    const angle = Math.acos(Math.min(1, a.reduce((sum, x, i) => sum + x * b[i], 0)));
    if (angle < 1e-6) return a;
    out = a.map((_, i) => (Math.sin((1 - u) * angle) * a[i] + Math.sin(u * angle) * b[i]) / Math.sin(angle));
  } else out = a.map((_, i) => a[i] + u * (b[i] - a[i]));
  const size = isTurn ? Math.hypot(...out) : 1;
  return out.map((x) => x / size);
}

for (const [feel, take] of [...cases, ["weir.toml", "whole"]])
  test(`${feel}, ${take}, with few keys within a tolerance`, async () => {
    stasis("export", feel, "gltf", "--take", take, "--tolerance", "0.002", "-o", "few", "--form", "glb");
    stasis("export", feel, "gltf", "--take", take, "-o", "all", "--form", "glb");
    const path = `few/${take}.glb`, few = read(path), all = read(`all/${take}.glb`);
    const report = await validator.validateBytes(new Uint8Array(readFileSync(join(folder, path))));
    const messages = report.issues.messages.filter((m) => m.code !== "INCOMPLETE_EXTENSION_SUPPORT");
    assert.deepEqual(messages, [], JSON.stringify(messages));
    assert.ok(few.buffer.length < all.buffer.length);
    const samplers = (file) => file.scene.animations[0].channels.map((channel) => {
      const sampler = file.scene.animations[0].samplers[channel.sampler];
      return { interpolation: sampler.interpolation, times: rows(file, sampler.input).map((t) => t[0]),
        values: rows(file, sampler.output), isTurn: channel.target.path === "rotation" };
    });
    samplers(all).forEach((every, n) => {
      const one = samplers(few)[n], first = every.values[0];
      const apart = (a, b) => {
        const straight = Math.hypot(...a.map((x, i) => x - b[i]));
        return one.isTurn ? 4 * Math.asin(Math.min(1, Math.min(straight, Math.hypot(...a.map((x, i) => x + b[i]))) / 2)) : straight;
      };
      const reach = Math.max(...every.values.map((value) => apart(value, first)));
      every.times.forEach((time, k) => {
        const off = apart(shown(one, first.length, time, one.isTurn), every.values[k]);
        assert.ok(off <= 0.002 * reach + 2e-6 * Math.max(1, ...first.map(Math.abs)), `${n} at ${time}: ${off} of ${reach}`);
      });
    });
  });

test("both containers hold the same numbers", () => {
  const text = read("out/aside.gltf"), binary = read("out/aside.glb");
  assert.deepEqual(Buffer.compare(text.buffer, binary.buffer.subarray(0, text.buffer.length)), 0);
});
