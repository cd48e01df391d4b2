// A feel's motions and shakes as functions of time, in a shader that headless Chromium runs, against the rows of a take.
import assert from "node:assert/strict";
import { execFileSync } from "node:child_process";
import { cpSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { after, test } from "node:test";

const program = process.env.STASIS_PROGRAM, source = process.env.STASIS_SOURCE;
const folder = mkdtempSync(join(tmpdir(), "stasis-glsl-"));
after(() => rmSync(folder, { recursive: true }));
cpSync(join(source, "demo"), folder, { recursive: true });
const stasis = (...words) => execFileSync(program, words, { cwd: folder, encoding: "utf8" });

/** What GLSL expressions of `t` give at the times, each a list; the shader's own complaint if it is none. */
function drawn(glsl, expressions, times) {
  const page = `<body><script>
const times = ${JSON.stringify(times)}, expressions = ${JSON.stringify(expressions)};
const gl = document.createElement("canvas").getContext("webgl2");
gl.getExtension("EXT_color_buffer_float");
const texture = gl.createTexture();
gl.bindTexture(gl.TEXTURE_2D, texture);
gl.texStorage2D(gl.TEXTURE_2D, 1, gl.RGBA32F, times.length, 1);
gl.bindFramebuffer(gl.FRAMEBUFFER, gl.createFramebuffer());
gl.framebufferTexture2D(gl.FRAMEBUFFER, gl.COLOR_ATTACHMENT0, gl.TEXTURE_2D, texture, 0);
gl.viewport(0, 0, times.length, 1);
const at = gl.createTexture();
gl.bindTexture(gl.TEXTURE_2D, at);
gl.texImage2D(gl.TEXTURE_2D, 0, gl.R32F, times.length, 1, 0, gl.RED, gl.FLOAT, new Float32Array(times));
for (const how of [gl.TEXTURE_MIN_FILTER, gl.TEXTURE_MAG_FILTER]) gl.texParameteri(gl.TEXTURE_2D, how, gl.NEAREST);
const shader = (kind, text) => {
  const one = gl.createShader(kind);
  gl.shaderSource(one, text);
  gl.compileShader(one);
  if (!gl.getShaderParameter(one, gl.COMPILE_STATUS)) throw new Error(gl.getShaderInfoLog(one));
  return one;
};
const answers = [];
try {
  for (const expression of expressions) {
    const made = gl.createProgram();
    gl.attachShader(made, shader(gl.VERTEX_SHADER, "#version 300 es\\nvoid main() { gl_Position = vec4(vec2(gl_VertexID & 1, gl_VertexID >> 1) * 4.0 - 1.0, 0.0, 1.0); }"));
    gl.attachShader(made, shader(gl.FRAGMENT_SHADER, "#version 300 es\\n" + ${JSON.stringify(glsl)} +
      "\\nuniform sampler2D times; out vec4 colour; void main() { float t = texelFetch(times, ivec2(gl_FragCoord.xy), 0).r; colour = vec4(" + expression + "); }"));
    gl.linkProgram(made);
    if (!gl.getProgramParameter(made, gl.LINK_STATUS)) throw new Error(gl.getProgramInfoLog(made));
    gl.useProgram(made);
    gl.drawArrays(gl.TRIANGLES, 0, 3);
    const pixels = new Float32Array(4 * times.length);
    gl.readPixels(0, 0, times.length, 1, gl.RGBA, gl.FLOAT, pixels);
    answers.push(times.map((_, k) => pixels[4 * k]));
  }
  document.body.textContent = JSON.stringify(answers);
} catch (fault) { document.body.textContent = JSON.stringify(String(fault)); }
</script>`;
  writeFileSync(join(folder, "shader.html"), page);
  const dom = execFileSync("chromium", ["--headless", "--no-sandbox", "--use-angle=swiftshader", "--enable-unsafe-swiftshader",
    "--dump-dom", `file://${join(folder, "shader.html")}`], { encoding: "utf8", stdio: ["ignore", "pipe", "ignore"], timeout: 60000 });
  const answers = JSON.parse(dom.match(/<body>([^]*?)<\/body>/)[1].trim());
  assert.equal(typeof answers, "object", answers);
  return answers;
}

function trace(path) {
  const [head, ...lines] = readFileSync(join(folder, path), "utf8").trim().split("\n");
  const names = head.split(",");
  return lines.map((line) => Object.fromEntries(line.split(",").map((cell, k) => [names[k], Number(cell)])));
}

const motions = {
  soft: `kind = "spring"\nfrequency = 1.7\ndamping_ratio = 0.45`,
  stiff: `kind = "spring"\nfrequency = 1.1\ndamping_ratio = 1.8`,
  even: `kind = "spring"\nfrequency = 2\ndamping_ratio = 1`,
  lazy: `kind = "glide"\nhalf_life = 0.15`,
  eased: `kind = "ease"\nduration = 0.7\ncurve = "cubic-bezier(0.3, 0.1, 0.2, 1.2)"`,
  late: `kind = "ease"\nduration = 0.4\ndelay = 0.2\ncurve = "out elastic"`,
  twice: `kind = "ease"\nduration = 0.3\ncurve = "in-out sine"\nrepeat = 2\nthere_and_back = true`,
  stepped: `kind = "ease"\nduration = 0.6\ncurve = "linear(0, 0.4 25%, 1 75%, 0.9 75%, 1)"`,
  bounced: `kind = "ease"\nduration = 0.9\ncurve = "out bounce"`,
  walked: `kind = "pace"\nspeed = 1.5\nacceleration = 6`,
  marched: `kind = "pace"\nspeed = 1.25`,
};

test("motions are those of a take", () => {
  const names = Object.keys(motions);
  const feel = names.map((name) => `[motion.${name}]\n${motions[name]}\n[channel.c_${name}]\nrest = 0\nmotion = "${name}"\n`).join("")
    + `[pose.p]\n${names.map((name) => `c_${name} = 1\n`).join("")}[control.k]\nkind = "hold"\npose = "p"\n`
    + `[take.t]\nlength = 2\nclock = { fps = 64 }\ncues = [{ at = 0.25, press = "k" }]\n`;
  writeFileSync(join(folder, "m.toml"), feel);
  stasis("run", "m.toml", "-o", "o", "--figure", "none");
  const rows = trace("o/t.trace.csv"), times = rows.map((row) => row.time - 0.25);
  const calls = names.map((name) => (name === "walked" || name === "marched" ? `f_${name}(t, 1.0)` : `f_${name}(t)`));
  const answers = drawn(stasis("export", "m.toml", "code", "--language", "glsl", "--prefix", "f", "-o", "-"), calls, times);
  names.forEach((name, n) => rows.forEach((row, k) => {
    assert.ok(Math.abs(answers[n][k] - row[`c_${name}.value`]) < 1e-4, `${name} at ${times[k]}: ${answers[n][k]}, ${row[`c_${name}.value`]}`);
  }));
});

test("shakes are those of a take", () => {
  const waves = { noise: `{ kind = "noise", frequency = 6, octaves = 2 }`, sines: `{ kind = "sines", frequency = 5 }`,
    jitter: `{ kind = "jitter", rate = 20 }`, ring: `{ kind = "ring", frequency = 4, damping_ratio = 0.2 }` };
  const names = Object.keys(waves);
  const feel = names.map((name) => `[channel.c_${name}]\nunit = "deg"\nrest = 0\n[shake.${name}]\non = { c_${name} = 1 }\nwave = ${waves[name]}\n`
    + (name === "ring" ? "" : `decay = { kind = "half_life", half_life = 0.3 }\n`)).join("")
    + `[take.t]\nlength = 2\nclock = { fps = 64 }\ncues = [${names.map((name) => `{ at = 0.25, hit = "${name}" }`).join(", ")}]\n`;
  writeFileSync(join(folder, "s.toml"), feel);
  stasis("run", "s.toml", "-o", "o", "--force", "--figure", "none");
  const rows = trace("o/t.trace.csv").filter((row) => row.time > 0.26), times = rows.map((row) => row.time);
  const answers = drawn(stasis("export", "s.toml", "code", "--language", "glsl", "--prefix", "f", "-o", "-"),
    names.map((name) => `f_${name}_c_${name}(t - 0.25, t)`), times);
  names.forEach((name, n) => rows.forEach((row, k) => {
    assert.ok(Math.abs(answers[n][k] - row[`c_${name}.value`]) < 1e-4, `${name} at ${times[k]}: ${answers[n][k]}, ${row[`c_${name}.value`]}`);
  }));
});

test("every feel of the demo is a shader", () => {
  const feels = [...readdirSync(folder), ...readdirSync(join(folder, "recipes")).map((name) => `recipes/${name}`)].filter((name) => name.endsWith(".toml"));
  let shaders = 0;
  for (const feel of feels) {
    let glsl = "";
    try { glsl = stasis("export", feel, "code", "--language", "glsl", "--prefix", "f", "-o", "-"); } catch { continue; } // has no motion
    if (++shaders <= 6) drawn(glsl, ["0.0"], [0]);
  }
  assert.ok(shaders > 15, `${shaders}`);
});

test("what a shader cannot have is refused", () => {
  for (const words of [["--with-check"], ["--motions"]])
    assert.throws(() => stasis("export", "first.toml", "code", "--language", "glsl", ...words, "-o", "-"), /status: 2|Command failed/);
});
