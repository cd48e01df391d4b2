// The page of `stasis hands` in a headless browser: what hands do there is what the program makes of it.
import assert from 'node:assert/strict';
import { execFileSync, spawn } from 'node:child_process';
import { cpSync, readFileSync, readdirSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { before, test } from 'node:test';
import { folder, open, path, program, source, stasis } from './browser.mjs';

before(() => cpSync(join(source, 'demo'), folder, { recursive: true }));

/** Opens the page of a feel, once it plays. */
async function play(feel, options = {}) {
  const name = feel.replace('.toml', '.html');
  stasis('hands', feel, '-o', name);
  const page = await open(name, options);
  await page.waitForFunction(() => window.stasisHands);
  return page;
}
const frames = (page, count) => page.evaluate((n) => new Promise((done) => {
  const until = window.stasisHands.lives.a.session.frame + n;
  const look = () => (window.stasisHands.lives.a.session.frame >= until ? done() : requestAnimationFrame(look));
  look();
}), count);
const session = (page, what, version = 'a') => page.evaluate(([code, v]) => new Function('session', `return ${code}`)(window.stasisHands.lives[v].session), [what, version]);
const text = (page) => session(page, 'session.text');

/** What the page shows of every channel over time, against `stasis run` of the take that it has recorded. */
async function agrees(page, feel) {
  const { take, clock, shown, names } = await page.evaluate(() => {
    const { session, run, about } = window.stasisHands.lives.a, channels = run.channels.slice(0, about.channels.length);
    const rows = run.times.map((time, row) => [time, ...channels.flatMap((channel) => channel.value.map((values) => values[row]))]);
    return { take: session.recordedTake('by_hand', 'clock.csv'), clock: session.recordedClock(), shown: rows,
      names: channels.flatMap((channel) => channel.value.map((_, i) => channel.name + '.value' + (channel.value.length > 1 ? '.' + 'xyz'[i] : ''))) };
  });
  writeFileSync(path('clock.csv'), clock);
  writeFileSync(path('played.toml'), (await text(page)) + '\n' + take);
  stasis('check', 'played.toml', '--take', 'by_hand');
  stasis('run', 'played.toml', '--take', 'by_hand', '--figure', 'none', '-o', 'played', '--force');
  const [trace] = readdirSync(path('played')).filter((file) => file.endsWith('.csv'));
  const [head, ...rows] = readFileSync(join(path('played'), trace), 'utf8').split('\n').filter(Boolean).map((line) => line.split(','));
  const columns = names.map((name) => head.indexOf(name)), byTime = new Map(rows.map((row) => [Number(row[1]), row]));
  for (const [time, ...values] of shown) {
    const row = byTime.get(time);
    assert.ok(row, `no row at ${time}`);
    values.forEach((value, k) => assert.ok(Math.abs(Number(row[columns[k]]) - value) <= 1e-12 * Math.max(1, Math.abs(value)), `${names[k]} at ${time}: ${value} for ${row[columns[k]]}`));
  }
  rmSync(path('played'), { recursive: true });
}

test('keys, wheel and touch make the rows that the program makes of the recorded take', async () => {
  const page = await play('otter.toml');
  await page.keyboard.down('Space');
  await frames(page, 20);
  assert.equal(await session(page, 'session.isDown(session.find("control", "listen"))'), true);
  await page.keyboard.press('KeyQ');
  await page.keyboard.up('Space');
  await page.mouse.move(300, 300);
  await page.mouse.wheel(0, -200);
  await frames(page, 10);
  const dive = page.locator('.input', { hasText: 'dive' }).locator('.act');
  await dive.dispatchEvent('pointerdown', { pointerId: 1 });
  await frames(page, 12);
  assert.match(await page.locator('.input', { hasText: 'dive' }).getAttribute('class'), /down/);
  await dive.dispatchEvent('pointerup', { pointerId: 1 });
  await page.keyboard.press('Digit1');
  await frames(page, 30);
  await agrees(page, 'otter.toml');
  cpSync(path('played.toml'), path('other.toml'));
  stasis('set', 'other.toml', 'motion.soft.damping_ratio=0.4');
  const compared = JSON.parse(stasis('compare', 'played.toml', 'other.toml', '--take', 'by_hand', '--json', '--figure', 'none'));
  assert.ok(JSON.stringify(compared).includes('by_hand'), 'two feels are compared under the recorded hands');
  assert.doesNotMatch(await session(page, 'session.recordedTake("alone")'), /at = \d+\.\d{5}/, 'on a clock that trembles no more than tenths of milliseconds are told');
  assert.deepEqual(page.said, []);
  await page.close();
});

/** Fingers on the page's screen, by the browser's own events; each { id, x, y }. */
async function fingersOf(page) {
  const session = await page.context().newCDPSession(page);
  const tell = (type) => (...touchPoints) => session.send('Input.dispatchTouchEvent', { type, touchPoints });
  return { start: tell('touchStart'), move: tell('touchMove'), end: tell('touchEnd'), cancel: tell('touchCancel') };
}
const middleOf = async (page, place, id) => {
  const box = await place.boundingBox();
  return { id, x: box.x + box.width / 2, y: box.y + box.height / 2 };
};
const isDown = (page, name) => session(page, `session.isDown(session.find("control", "${name}"))`);

test('two fingers hold two things at once, on a screen as wide as a phone', async () => {
  const page = await play('otter.toml', { viewport: { width: 390, height: 844 }, hasTouch: true, isMobile: true });
  const fingers = await fingersOf(page), button = (name) => page.locator('.input', { hasText: name }).locator('.act');
  await button('listen').scrollIntoViewIfNeeded();
  const first = await middleOf(page, button('listen'), 1), second = await middleOf(page, button('dive'), 2);
  await fingers.start(first);
  await frames(page, 8);
  assert.deepEqual([await isDown(page, 'listen'), await isDown(page, 'dive')], [true, false]);
  await fingers.start(first, second);
  await frames(page, 5);
  assert.deepEqual([await isDown(page, 'listen'), await isDown(page, 'dive')], [true, true]);
  await fingers.move(first);
  await frames(page, 5);
  assert.equal(await isDown(page, 'listen'), true, 'the first finger stays');
  await fingers.end();
  await frames(page, 5);
  assert.equal(await isDown(page, 'listen'), false);
  assert.match(await session(page, 'session.recordedTake("x")'), /press = "listen"[\s\S]*release = "listen"/);
  await fingers.start(first);
  await frames(page, 4);
  await fingers.cancel();
  await frames(page, 4);
  assert.match(await session(page, 'session.recordedTake("x")'), /cancel = "listen"/, 'a gesture of the system takes the finger away');
  await agrees(page, 'otter.toml');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('a pointer is locked by a click and moves by its counts; a finger that is drawn over the picture does the same', async () => {
  stasis('new', 'mouse.toml', '--recipe', 'mouse');
  const page = await play('mouse.toml', { hasTouch: true });
  const counts = async () => [...(await session(page, 'session.recordedTake("x")')).matchAll(/pointer = "look", counts = (-?[0-9.]+)/g)].reduce((all, [, n]) => all + Number(n), 0);
  const stage = page.locator('#stage'), { x, y } = await middleOf(page, stage, 1);
  await page.mouse.move(x - 60, y);
  await page.mouse.move(x, y);
  await frames(page, 3);
  assert.equal(await counts(), 0, 'nothing before it is locked');
  await page.mouse.click(x, y);
  await page.waitForFunction(() => document.pointerLockElement === document.getElementById('stage'));
  await page.mouse.move(x + 70, y + 5);
  await frames(page, 3);
  await page.mouse.move(x + 30, y - 5);
  await frames(page, 3);
  assert.equal(await counts(), 30);
  await page.evaluate(() => document.exitPointerLock());
  await page.waitForFunction(() => document.pointerLockElement === null);
  await page.mouse.move(x + 90, y);
  await frames(page, 3);
  assert.equal(await counts(), 30, 'nothing once it is unlocked');
  const fingers = await fingersOf(page);
  await fingers.start({ id: 1, x, y });
  await fingers.move({ id: 1, x: x + 40, y });
  await frames(page, 3);
  await fingers.move({ id: 1, x: x + 25, y });
  await fingers.end();
  await frames(page, 30);
  assert.equal(await counts(), 55);
  await agrees(page, 'mouse.toml');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('what stands around, and the tick of the subject, are part of the recorded take, and its moves are measured', async () => {
  const bridge = await play('bridge.toml');
  await bridge.locator('#take').selectOption('open');
  await frames(bridge, 60);
  assert.match(await session(bridge, 'session.recordedTake("x")'), /obstacles = \[\]/);
  await agrees(bridge, 'bridge.toml');
  await bridge.close();

  const page = await play('swim.toml');
  await page.locator('#rate').selectOption('60, tick of 20');
  await page.keyboard.down('Space');
  await frames(page, 60);
  await page.keyboard.up('Space');
  await frames(page, 60);
  const stood = await page.evaluate(() => {
    const { run } = window.stasisHands.lives.a, places = run.tracks[run.followers[0].track].place;
    return run.times.slice(1).map((_, k) => places.every((column) => column[k + 1] === column[k]));
  });
  const still = stood.filter(Boolean).length / stood.length;
  assert.ok(Math.abs(still - 2 / 3) < 0.05, `it stands in two frames of three: ${still}`);
  assert.match(await session(page, 'session.recordedTake("x", "clock.csv")'), /recorded = "clock.csv", tick = 20 }/);
  await page.locator('#tab_hands').click();
  await page.waitForFunction(() => document.querySelectorAll('#recorded_moves tbody tr').length >= 2, null, { timeout: 4000 });
  await page.locator('#rate').evaluate((select) => { window.stasisHands.state.rate = ['', 1e-3]; }); // no more frames
  await page.waitForTimeout(700);
  await agrees(page, 'swim.toml');
  writeFileSync(path('measured.toml'), (await text(page)) + '\n' + (await session(page, 'session.recordedTake("by_hand", "clock.csv")')));
  stasis('run', 'measured.toml', '--take', 'by_hand', '--figure', 'none', '-o', 'measured', '--force');
  const { moves } = JSON.parse(readFileSync(path('measured/by_hand.measures.json'), 'utf8'));
  const told = await page.locator('#recorded_moves tbody tr').evaluateAll((rows) => rows.map((row) => [...row.cells].map((cell) => cell.textContent)));
  assert.equal(told.length, moves.length);
  const settled = (move) => (move.settling_time !== null ? `${Number(move.settling_time.toPrecision(3))}` : move.retargeted ? 'retargeted' : '\u2013');
  moves.reverse().forEach((move, k) => {
    assert.equal(told[k][1], move.channel);
    assert.equal(String(Number.parseFloat(told[k][2]) || told[k][2]), String(Number.parseFloat(settled(move)) || settled(move)), `${k}`);
  });
  assert.deepEqual(page.said, []);
  await page.close();
});

test('a game that is slowed by hand makes the rows of the recorded take, and goes as ever when it is opened again', async () => {
  const page = await play('otter.toml');
  await page.keyboard.down('Space');
  await frames(page, 6);
  await page.locator('#game').selectOption('at a quarter');
  await page.keyboard.down('Space');
  await frames(page, 25);
  const lasts = (count) => page.evaluate((n) => { const { session } = window.stasisHands.lives.a; return [session.time, session.gameTime]; }, count);
  const before = await lasts();
  await frames(page, 20);
  const after = await lasts();
  assert.ok(Math.abs((after[1] - before[1]) / (after[0] - before[0]) - 0.25) < 1e-9, `${before} ${after}`);
  await page.locator('#game').selectOption('at full speed');
  await frames(page, 30);
  assert.match(await session(page, 'session.recordedTake("x")'), /game_speed = 0.25, over = 0.2/);
  await agrees(page, 'otter.toml');
  await page.locator('#game').selectOption('standing still');
  await page.locator('#take').selectOption({ index: 1 });
  assert.equal(await page.locator('#game').inputValue(), 'at full speed');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('what moves is explained, and its last move measured, at once', async () => {
  const page = await play('otter.toml');
  await page.keyboard.down('Space');
  await page.waitForFunction(() => /by soft, a spring of 1.6 Hz/.test(document.getElementById('words').textContent), null, { timeout: 2500 });
  await page.waitForFunction(() => /fov settled after 0.595 s, overshoot 4.60 %/.test(document.getElementById('last_moves').textContent), null, { timeout: 4000 });
  await page.close();
});

test('what is held is cancelled when the window loses its focus', async () => {
  const page = await play('otter.toml');
  await page.keyboard.down('Space');
  await frames(page, 3);
  await page.evaluate(() => window.dispatchEvent(new Event('blur')));
  await frames(page, 3);
  assert.equal(await session(page, 'session.isDown(session.find("control", "listen"))'), false);
  assert.match(await session(page, 'session.recordedTake("x")'), /cancel = "listen"/);
  await page.close();
});

test('a game pad moves sticks and presses, and keys as a stick are opposed', async () => {
  writeFileSync(path('stick.toml'), `feel = 1
[channel.yaw]
unit = "deg"
rest = 0
range = [-180, 180]
motion = { kind = "glide", half_life = 0.05 }
[control.turn]
kind = "stick"
channel = "yaw"
gain = 90
[take.t]
length = 1
`);
  // A stub of the browser's interface: no pad can be plugged in here.
  const page = await play('stick.toml', { prepare: () => { window.pad = { axes: [0, 0], buttons: [] }; navigator.getGamepads = () => [window.pad]; } });
  await page.evaluate(() => { window.pad.axes[0] = 0.5; });
  await frames(page, 10);
  assert.ok(await session(page, 'session.value(0)') > 1);
  await page.evaluate(() => { window.pad.axes[0] = 0; });
  await page.keyboard.down('ArrowRight');
  await page.keyboard.down('ArrowLeft');
  await frames(page, 3);
  assert.equal(await session(page, 'session.state(0)'), 0);
  await page.keyboard.up('ArrowLeft');
  await frames(page, 3);
  assert.equal(await session(page, 'session.state(0)'), 1);
  await page.keyboard.up('ArrowRight');
  await frames(page, 5);
  await agrees(page, 'stick.toml');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('the first minute, as the guide tells it', async () => {
  const page = await play('otter.toml'), says = (id) => page.locator('#' + id).innerText();
  const damping = page.locator('input[type="range"][aria-label="motion.soft.damping_ratio"]');
  await page.waitForFunction(() => document.documentElement.scrollHeight === 800, null, { timeout: 4000 }); // all of it is seen at once
  assert.match(await says('last_moves'), /Press a key or one of these/);
  await page.keyboard.down('Space');
  await frames(page, 60);
  await page.keyboard.up('Space');
  await page.waitForFunction(() => /fov settled after 0.595 s, overshoot 4.60 %/.test(document.getElementById('last_moves').textContent), null, { timeout: 4000 });
  assert.equal(await page.locator('#changed').isVisible(), false);
  const track = await damping.boundingBox(), knob = () => damping.evaluate((input) => Number(input.value));
  const before = await knob();
  await page.mouse.click(track.x + 0.15 * track.width, track.y + track.height / 2);
  await page.waitForFunction(() => !document.getElementById('changed').hidden);
  const turned = await knob();
  assert.ok(turned < before && turned > 0, `${turned} of ${before}`);
  assert.match(await says('changed'), /motion.soft.damping_ratio 0.7 \u2192 0\.\d+\. Keep it/);
  assert.match(await page.locator('.number.changed').innerText(), /damping_ratio\s*was 0.7/);
  await page.locator('#stage').focus();
  await page.keyboard.down('Space');
  await page.waitForFunction(() => /overshoot [3-9]\d\.\d %/.test(document.getElementById('last_moves').textContent), null, { timeout: 8000 });
  await page.keyboard.up('Space');
  assert.equal(await knob(), turned, 'the knob stays where it was left');
  await page.locator('#show_both').click();
  assert.equal(await page.locator('#stage figure:visible').count(), 2);
  await page.locator('#keep').click();
  assert.equal(await page.locator('#toml').isVisible(), true);
  assert.match(await says('kept'), /damping_ratio 0.7 \u2192/);
  assert.match(await page.locator('#toml').inputValue(), /damping_ratio = 0\.\d+/);
  await page.locator('#undo').click();
  await page.waitForFunction(() => document.getElementById('changed').hidden);
  assert.equal(await text(page), readFileSync(path('otter.toml'), 'utf8'));
  assert.deepEqual(page.said, []);
  await page.close();
});

test('a slider acts on the next frame, writes what `set` writes, and can be undone', async () => {
  const page = await play('otter.toml'), path_ = 'motion.soft.frequency';
  const original = readFileSync(path('otter.toml'), 'utf8');
  const slider = page.locator(`input[type="range"][aria-label="${path_}"]`);
  await page.keyboard.down('Space');
  await frames(page, 5);
  await slider.dispatchEvent('pointerdown');
  await slider.evaluate((input) => { input.value = 700; input.dispatchEvent(new Event('input')); });
  const changed = await text(page), [, value] = changed.match(/frequency = ([\d.]+)/);
  cpSync(path('otter.toml'), path('set.toml'));
  stasis('set', 'set.toml', `${path_}=${value}`);
  assert.equal(changed, readFileSync(path('set.toml'), 'utf8'));
  assert.notEqual(changed, original);
  assert.equal(await page.locator('#toml').inputValue(), changed);
  assert.equal(await session(page, 'session.isDown(session.find("control", "listen"))'), true); // the hand is still on it
  const [a, b] = [await session(page, 'session.text'), await session(page, 'session.text', 'b')];
  assert.equal(b, original); // B is as saved
  assert.notEqual(a, b);
  await page.locator('#undo').click();
  assert.equal(await text(page), original);
  await page.locator('#redo').click();
  assert.equal(await text(page), changed);
  assert.deepEqual(page.said, []);
  await page.close();
});

test('curves are bent by their handles, and written as `set` writes them', async () => {
  const feel = `title = "bent"
[channel.a]
rest = 0
motion = { kind = "ease", duration = 0.6, curve = "in-out sine" } # bent by hand
[channel.b]
rest = 0
motion = { kind = "ease", duration = 0.6, curve = "lean" }
[curve.lean]
points = [[0, 0], [2, 0.9], [4, 1]] # three
[pose.on]
a = 1
b = 1
[control.go]
kind = "hold"
pose = "on"
[take.t]
length = 2
cues = [{ at = 0.2, press = "go" }]
`;
  writeFileSync(path('bent.toml'), feel);
  const page = await play('bent.toml');
  await page.locator('#tab_curves').click();
  const handles = page.locator('.curve circle');
  await handles.nth(4).waitFor();
  const drag = async (handle, dx, dy) => {
    const box = await handle.boundingBox(), x = box.x + box.width / 2, y = box.y + box.height / 2;
    await page.mouse.move(x, y);
    await page.mouse.down();
    await page.mouse.move(x + dx / 2, y + dy / 2);
    await page.mouse.move(x + dx, y + dy);
    await page.mouse.up();
  };
  const [, other] = await page.evaluate(() => window.stasisHands.lives.a.session.listCurves()[0].handle);
  await drag(handles.nth(0), 40, 12);
  const bent = (await text(page)).match(/curve = "(cubic-bezier\([^"]*\))"/)[1];
  const [x1, y1, x2, y2] = bent.match(/-?[\d.]+/g).map(Number);
  assert.ok(x1 > 0.4 && x1 < 0.6 && y1 < 0 && y1 > -0.3, bent);
  assert.ok(Math.abs(x2 - other[0]) < 1e-3 && Math.abs(y2 - other[1]) < 1e-3, bent); // the other handle stays where the shape had it
  stasis('set', 'bent.toml', `channel.a.motion.curve=${bent}`);
  assert.equal(await text(page), readFileSync(path('bent.toml'), 'utf8'));
  // It moves by what was drawn, from the next press on.
  await page.locator('#stage').focus();
  await page.keyboard.down('Space');
  await frames(page, 30);
  await page.keyboard.up('Space');
  await agrees(page, 'bent.toml');
  // By keys; never past a neighbour; a point more, and one less.
  const middle = page.locator('circle[data-handle="curve.lean.points 1"]');
  await middle.focus();
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('Shift+ArrowDown');
  assert.match(await text(page), /points = \[\[0, 0\], \[0\.49, 0\.85\], \[1, 1\]\] # three/);
  for (let k = 0; k < 12; ++k) await page.keyboard.press('Shift+ArrowLeft');
  assert.match(await text(page), /\[\[0, 0\], \[0\.005, 0\.85\], \[1, 1\]\]/);
  const picture = await page.locator('svg[aria-label="curve.lean.points"]').boundingBox();
  await page.mouse.dblclick(picture.x + 0.6 * picture.width, picture.y + 0.3 * picture.height);
  await page.locator('circle[data-handle="curve.lean.points 3"]').waitFor();
  assert.equal((await text(page)).match(/points = (.*) #/)[1].split('],').length, 4);
  await page.locator('circle[data-handle="curve.lean.points 1"]').focus();
  await page.keyboard.press('Delete');
  assert.equal((await text(page)).match(/points = (.*) #/)[1].split('],').length, 3);
  // Every step can be taken back, to the text as it was.
  while (!(await page.locator('#undo').isDisabled())) await page.locator('#undo').click();
  assert.equal(await text(page), feel);
  assert.deepEqual(page.said, []);
  await page.close();
});

test('the text is saved into its file, and another text there is not replaced unasked', async () => {
  const page = await play('otter.toml');
  // The dialogue is the browser's; what it gives is stood in for.
  await page.evaluate((there) => {
    window.onDisk = there;
    window.showSaveFilePicker = async ({ suggestedName }) => ({
      name: suggestedName,
      getFile: async () => new Blob([window.onDisk]),
      createWritable: async () => ({ text: '', async write(more) { this.text += more; }, async close() { window.onDisk = this.text; } }),
    });
    document.getElementById('save_text').hidden = false;
  }, readFileSync(path('otter.toml'), 'utf8'));
  await page.locator('#tab_text').click();
  const onDisk = () => page.evaluate(() => window.onDisk), kept = () => page.locator('#kept').textContent();
  await page.locator('#toml').fill((await text(page)).replace('frequency = 1.6', 'frequency = 1.7'));
  await page.locator('#save_text').click();
  await page.waitForFunction(() => document.getElementById('kept').textContent !== '');
  assert.equal(await kept(), 'saved to otter.toml');
  assert.equal(await onDisk(), await text(page));
  // Somebody else has written into it since: one is asked, and may say no.
  await page.evaluate(() => { window.onDisk = 'of somebody else'; });
  await page.locator('#save_text').click();
  await page.waitForFunction(() => document.getElementById('kept').textContent === 'not saved');
  assert.equal(await onDisk(), 'of somebody else');
  assert.deepEqual(page.said, ['dialog']); // the page of a test says no to whatever it is asked
  await page.close();
});

test('a broken text is told as on the command line, and the last good one plays on', async () => {
  const page = await play('otter.toml'), broken = readFileSync(path('otter.toml'), 'utf8').replace('rest = 62', 'rset = 62');
  await page.locator('#tab_text').click();
  await page.locator('#toml').fill(broken);
  const before_ = await session(page, 'session.frame');
  await frames(page, 5);
  assert.ok(await session(page, 'session.frame') > before_);
  writeFileSync(path('otter_broken.toml'), broken);
  let told = '';
  try { execFileSync(program, ['run', 'otter_broken.toml'], { cwd: folder, stdio: 'pipe' }); } catch (ended) { told = ended.stderr.toString(); }
  assert.equal((await page.locator('#faults').textContent()).trim(), told.replaceAll('otter_broken.toml', 'otter.toml').trim());
  await page.locator('#toml').fill(broken.replace('rset = 62', 'rest = 61'));
  assert.equal(await page.locator('#faults').textContent(), '');
  await frames(page, 2);
  assert.match(await text(page), /rest = 61/);
  assert.deepEqual(page.said, []);
  await page.close();
});

test('the subject is walked, and what was walked is a recording', async () => {
  const page = await play('swim.toml');
  await page.keyboard.down('KeyW');
  await frames(page, 30);
  await page.keyboard.up('KeyW');
  await frames(page, 5);
  const way = await session(page, 'session.recordedTrack(0)');
  assert.match(way, /^time,x,y,z\n/);
  assert.ok(way.split('\n').length > 30);
  assert.deepEqual(page.said, []);
  await page.close();
});

test('a key can be another one, A and B are flipped, the limiter holds frames', async () => {
  const page = await play('first.toml');
  const key = page.locator('.input .key').first();
  await key.click();
  await page.keyboard.press('KeyP');
  await page.locator('#stage').focus();
  await page.keyboard.down('KeyP');
  await frames(page, 3);
  assert.equal(await session(page, 'session.isDown(0)'), true);
  await page.keyboard.up('KeyP');
  await page.locator('#show_both').click();
  await page.locator('#rate').selectOption('15');
  await frames(page, 4);
  assert.equal(await page.locator('#stage figure:visible').count(), 2);
  const dt = await page.evaluate(() => window.stasisHands.lives.a.dts.slice(-2));
  dt.forEach((one) => assert.ok(Math.abs(one - 1 / 15) < 1e-12, `${one}`));
  assert.deepEqual(page.said, []);
  await page.close();
});

test('hostile texts harm nothing', async () => {
  writeFileSync(path('hostile.toml'), `feel = 1
title = "</script><script>alert(1)</script><img src=x onerror=alert(2)> {{{heart}}} \u2028"
# </script><script>alert(3)</script> <!-- <script>
[channel.a]
rest = 0
range = [-1, 1]
unit = "<b>x"
motion = { kind = "glide", half_life = 0.1 }
[pose.p]
a = 1
[control.c]
kind = "hold"
pose = "p"
[take.t]
length = 1
`);
  const page = await play('hostile.toml');
  await page.keyboard.press('Space');
  await frames(page, 10);
  for (const tab of ['text', 'hands', 'numbers']) await page.locator('#tab_' + tab).click();
  assert.equal(await text(page), readFileSync(path('hostile.toml'), 'utf8'));
  assert.deepEqual(page.said, []);
  assert.ok(statSync(path('hostile.html')).size < 3e6);
  await page.close();
});

test('a watched page takes up what is saved, held keys still held', async () => {
  cpSync(path('first.toml'), path('watched.toml'));
  const watch = spawn(program, ['watch', '--runs', '3', 'hands', 'watched.toml', '-o', 'watched.html'], { cwd: folder });
  const ended = new Promise((done) => watch.on('exit', done));
  for (let tries = 0; tries < 100 && !readdirSync(folder).includes('watched.html.saved.js'); ++tries) await new Promise((done) => setTimeout(done, 50));
  const page = await open('watched.html', { expects: (url) => url.includes('watched.html.saved.js') });
  await page.waitForFunction(() => window.stasisHands);
  await page.keyboard.down('Space');
  await frames(page, 3);
  stasis('set', 'watched.toml', 'channel.fov.rest=61');
  await page.waitForFunction(() => /rest = 61/.test(window.stasisHands.lives.b.session.text), null, { timeout: 4000 });
  assert.match(await text(page), /rest = 61/); // nothing was changed here
  assert.equal(await session(page, 'session.isDown(0)'), true);
  const slider = page.locator('#sliders input[type="range"]').first();
  await slider.evaluate((input) => { input.value = 300; input.dispatchEvent(new Event('input')); });
  const mine = await text(page);
  stasis('set', 'watched.toml', 'channel.fov.rest=60');
  await page.waitForFunction(() => /rest = 60/.test(window.stasisHands.lives.b.session.text), null, { timeout: 4000 });
  assert.equal(await text(page), mine); // what was changed here is kept
  assert.deepEqual(page.said, []);
  await page.close();
  watch.kill();
  await ended;
});

test('the page of `stasis report` is played too', async () => {
  stasis('report', 'first.toml', '--figure', 'none', '-o', 'report.html');
  stasis('report', 'first.toml', '--figure', 'none', '--baked', '-o', 'baked.html');
  assert.ok(statSync(path('report.html')).size - statSync(path('baked.html')).size > 5e5);
  const page = await open('report.html', { expects: (url) => url === 'about:srcdoc' });
  await page.locator('#play_by_hand').click();
  const frame = await (await page.locator('iframe').elementHandle()).contentFrame();
  await frame.waitForFunction(() => window.stasisHands);
  await frame.locator('#stage').focus();
  await page.keyboard.down('Space');
  await frame.waitForFunction(() => window.stasisHands.lives.a.session.isDown(0));
  assert.deepEqual(page.said, []);
  await page.close();
});

test('a word of feel is a button, and the blind test says whether the difference was felt', async () => {
  const page = await play('otter.toml');
  await page.locator('#tune button', { hasText: 'snappier' }).click();
  const changed = await text(page);
  cpSync(path('otter.toml'), path('tuned.toml'));
  stasis('tune', 'tuned.toml', 'fov', 'snappier', '--write', '--figure', 'none');
  assert.equal(changed, readFileSync(path('tuned.toml'), 'utf8'));
  await page.locator('#tab_hands').click();
  await page.locator('#blind button', { hasText: 'Blind test' }).click();
  for (let trial = 0; trial < 12; ++trial) await page.locator('#blind button', { hasText: 'One was' }).click();
  assert.match(await page.locator('#blind').textContent(), /A was livelier \d+ times, B \d+ times/);
  assert.deepEqual(page.said, []);
  await page.close();
});
