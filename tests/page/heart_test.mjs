// The WebAssembly module: the numbers of the program, on the demo's feels under random hands.
import assert from 'node:assert/strict';
import { execFileSync } from 'node:child_process';
import { mkdtempSync, readFileSync, readdirSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { test } from 'node:test';
import { gzipSync } from 'node:zlib';
import { Stasis, StasisFault } from '../../src/embed/stasis.mjs';

const program = process.env.STASIS_PROGRAM, demo = join(process.env.STASIS_SOURCE, 'demo');
const heart = await Stasis.load(readFileSync(process.env.STASIS_WASM));
const read = (name) => readFileSync(join(demo, name), 'utf8');
const files = { 'swim.csv': read('swim.csv'), 'lean.csv': read('lean.csv') };
const open = (name) => heart.open({ text: read(name), name, files });

/** Numbers from 0 to 1, the same on each run. */
function random(seed) {
  return () => {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0;
    return seed / 2 ** 32;
  };
}

/** Hands for so many frames: each a dt and what is done, as `stasis step` reads it. */
function someHands(about, seed, frames) {
  const next = random(seed), down = new Set(), hands = [];
  for (let frame = 0; frame < frames; ++frame) {
    const inputs = [];
    about.controls.forEach((control, c) => {
      if (next() > 0.06) return;
      if (control.moved_by === 'press') {
        const button = control.buttons[0] ?? control.name;
        inputs.push(down.has(c) ? { release: button } : { press: button });
        if (!down.delete(c)) down.add(c);
      } else if (control.moved_by === 'click') inputs.push({ click: control.name, count: next() < 0.5 ? 1 : -1 });
      else if (control.moved_by === 'pointer') inputs.push({ pointer: control.name, counts: Math.round(40 * next() - 20) });
      else if (control.moved_by === 'stick') inputs.push({ stick: control.name, value: 2 * next() - 1 });
    });
    about.shakes.forEach((name) => { if (next() < 0.02) inputs.push({ hit: name, strength: 1 }); });
    hands.push({ dt: 0.004 + 0.03 * next(), inputs });
  }
  return hands;
}

function give(session, input) {
  const [kind] = Object.keys(input), name = input[kind];
  const control = kind === 'hit' ? session.find('shake', name) : session.find('control', name);
  if (kind === 'click') session.click(control, input.count);
  else if (kind === 'pointer') session.pointer(control, input.counts);
  else if (kind === 'stick') session.stick(control, input.value);
  else if (kind === 'hit') session.hit(control, input.strength);
  else if (kind === 'press') session.press(control);
  else session.release(control);
}

const near = (a, b) => a === b || (a === null && Number.isNaN(b)) || Math.abs(a - b) <= 1e-12 * Math.max(1, Math.abs(a));

/** The same hands through `stasis step` and through the module: every value of every frame. */
function agree(name, file, session, seed, frames) {
  const about = session.describe(), hands = someHands(about, seed, frames);
  // A control with buttons of its own goes by their names in `stasis step`; here its first button is the control.
  const lines = execFileSync(program, ['step', file], { input: hands.map((one) => JSON.stringify(one)).join('\n') + '\n', encoding: 'utf8', maxBuffer: 1 << 28 })
    .trim().split('\n').map((line) => JSON.parse(line));
  assert.equal(lines.length, hands.length);
  hands.forEach((one, frame) => {
    for (const input of one.inputs) {
      const pressed = input.press ?? input.release, byButton = pressed && about.controls.find((control) => control.buttons[0] === pressed);
      give(session, byButton ? { [input.press ? 'press' : 'release']: byButton.name } : input);
    }
    session.advance(one.dt);
    const line = lines[frame];
    assert.equal(line.error, undefined);
    about.channels.forEach((channel, c) => {
      for (let i = 0; i < channel.components; ++i)
        for (const [key, value] of [['goal', session.goalOf(c, i)], ['smooth', session.smooth(c, i)], ['value', session.value(c, i)], ['velocity', session.velocity(c, i)]]) {
          const told = line.channels[channel.name][key], expected = channel.components === 1 ? told : told[i];
          assert.ok(near(expected, value), `${name}, frame ${frame}, ${channel.name}[${i}].${key}: ${value} for ${expected}`);
        }
    });
    const eye = session.eye();
    assert.equal(eye === null, line.eye === null);
    eye?.forEach((part, k) => assert.ok(near(line.eye[k], part), `${name}, frame ${frame}, eye ${k}`));
  });
  session.close();
}

for (const name of ['otter.toml', 'first.toml', 'swim.toml', 'orbit.toml', 'bridge.toml', 'weir.toml', 'frames.toml'])
  test(`${name}: the values of the program`, () => agree(name, join(demo, name), open(name), 7 + name.length, 300));

test('it is small enough to be sent', () => {
  const bytes = readFileSync(process.env.STASIS_WASM);
  assert.ok(bytes.length <= 2e6, `${bytes.length} bytes`);
  assert.ok(gzipSync(bytes, { level: 9 }).length <= 650e3, `${gzipSync(bytes, { level: 9 }).length} bytes packed`);
});

test('300 random feels: the values of the program', () => {
  const folder = mkdtempSync(join(tmpdir(), 'stasis-random-'));
  execFileSync(process.env.STASIS_WRITE_FEELS, [folder, '300', '4100']);
  let played = 0;
  for (const file of readdirSync(folder).sort()) {
    const text = readFileSync(join(folder, file), 'utf8');
    let session;
    try { session = heart.open({ text, name: file }); } catch { continue; } // a stick has met a motion that it cannot move
    agree(file, join(folder, file), session, played++, 90);
  }
  assert.ok(played > 150, `${played}`);
  rmSync(folder, { recursive: true });
});

test('faults have places, and a change keeps its comments', () => {
  assert.throws(() => heart.open({ text: 'feel = 1\n[channel.a]\nrset = 1\n', name: 'x.toml' }), (fault) => {
    assert.ok(fault instanceof StasisFault);
    assert.equal(fault.faults[0].file, 'x.toml');
    assert.equal(fault.faults[0].line, 3);
    assert.match(fault.message, /x\.toml:3:1/);
    return true;
  });
  const session = open('otter.toml'), text = session.text;
  assert.equal(text, read('otter.toml'));
  const number = session.listNumbers().find((one) => one.path === 'motion.soft.frequency');
  session.set(number.path, number.value * 2);
  assert.equal(session.text.length > 0, true);
  assert.equal(session.text.replace(/frequency = [\d.]+/, ''), text.replace(/frequency = [\d.]+/, ''));
  assert.throws(() => session.set('motion.soft.frequency', -1), StasisFault);
  session.close();
});

test('hands that were recorded are a take that gives the same rows', () => {
  const session = open('otter.toml'), about = session.describe(), folder = mkdtempSync(join(tmpdir(), 'stasis-heart-'));
  session.record(true);
  const shown = [];
  for (const one of someHands(about, 99, 200)) {
    one.inputs.filter((input) => !('press' in input || 'release' in input) || about.controls.some((c) => c.name === (input.press ?? input.release)))
      .forEach((input) => give(session, input));
    session.advance(one.dt);
    shown.push(about.channels.map((_, c) => session.value(c)));
  }
  assert.ok(session.measures().moves.length > 0);
  const take = session.recordedTake('hands', 'hands.csv'), [, name] = take.match(/^\[take\.(\w+)\]/);
  assert.notEqual(name, 'hands'); // the feel has one of that name
  for (const [file, text] of Object.entries({ ...files, 'hands.csv': session.recordedClock(), 'feel.toml': session.text + '\n' + take }))
    writeFileSync(join(folder, file), text);
  execFileSync(program, ['run', 'feel.toml', '--take', name, '--figure', 'none', '-o', 'out'], { cwd: folder });
  const [trace] = readdirSync(join(folder, 'out')).filter((file) => file.endsWith('.csv'));
  const [head, ...rows] = readFileSync(join(folder, 'out', trace), 'utf8').split('\n').filter((line) => line && !line.startsWith('#'))
    .map((line) => line.split(','));
  assert.equal(rows.length, shown.length);
  about.channels.forEach((channel, c) => {
    const column = head.indexOf(channel.name + '.value' + (channel.components > 1 ? '.x' : ''));
    assert.ok(column > 0, channel.name);
    rows.forEach((row, frame) => assert.ok(near(Number(row[column]), shown[frame][c]), `frame ${frame}, ${channel.name}`));
  });
  session.close();
  rmSync(folder, { recursive: true });
});
