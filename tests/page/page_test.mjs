// The page of `stasis report` in a headless browser: what its controls change, what it shows, that it stays quiet.
// usage: node page_test.mjs PROGRAM SOURCE-FOLDER
import assert from 'node:assert/strict';
import { spawn } from 'node:child_process';
import { readFileSync, statSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { test } from 'node:test';
import { browser, folder, open, path, program, source, stasis } from './browser.mjs';

const time = (page) => page.evaluate(() => Number(document.getElementById('player').dataset.time));
const player = (page, key) => page.evaluate((k) => document.getElementById('player').dataset[k], key);
const scrub = (page, to) => page.evaluate((t) => {
  const input = document.getElementById('scrub');
  input.value = t;
  input.dispatchEvent(new Event('input'));
}, to);
const readouts = (page) => page.evaluate(() => Object.fromEntries([...document.querySelectorAll('.chart')].map((chart) =>
  [chart.dataset.component, [...chart.querySelectorAll('.read b')].map((b) => Number(b.dataset.value))])));
const picture = (page, index = 0) => page.evaluate((i) => document.querySelectorAll('.view canvas')[i].toDataURL(), index);

function traceOf(text) {
  const [header, ...rows] = text.trim().split('\n').map((line) => line.split(','));
  return rows.map((row) => Object.fromEntries(header.map((name, i) => [name, Number(row[i])])));
}

test('the player draws from the eye of the trace', async () => {
  stasis('report', join(source, 'demo/orbit.toml'), '-o', 'eye.html', '--figure', 'none');
  const page = await open('eye.html');
  const { runs } = await page.evaluate(() => JSON.parse(document.getElementById('data').textContent));
  const run = runs[0];
  const rows = traceOf(stasis('run', join(source, 'demo/orbit.toml'), '--take', run.take, '-o', '-'));
  let most = 0;
  for (const [row, frame] of run.frames.entries())
    ['x', 'y', 'z', 'qx', 'qy', 'qz', 'qw'].forEach((part, i) => {
      const column = run.camera[i], here = column.length === 1 ? column[0] : column[row];
      most = Math.max(most, Math.abs(here - rows[frame][`eye.${part}`]) / Math.max(1, Math.abs(here)));
    });
  assert.ok(run.frames.length > 100);
  assert.ok(most < 1e-4, `the eye is apart by ${most}`);
});

test('obstacles stand in the plan and in the picture', async () => {
  stasis('report', join(source, 'demo/bridge.toml'), '--take', 'aside', '--take', 'open', '-o', 'bridge.html', '--figure', 'none');
  const page = await open('bridge.html');
  await scrub(page, 3.2);
  // The share of a canvas that has one colour, give or take one.
  const share = (selector, colour) => page.evaluate(([name, wanted]) => {
    const canvas = document.querySelector(name);
    const { data } = canvas.getContext('2d').getImageData(0, 0, canvas.width, canvas.height);
    let count = 0;
    for (let k = 0; k < data.length; k += 4) if (wanted.every((part, i) => Math.abs(data[k + i] - part) <= 1)) ++count;
    return count / (data.length / 4);
  }, [selector, colour]);
  const wall = [0xC9, 0xD3, 0xD6], clear = wall.map((part) => 0.55 * part + 0.45 * 255);
  assert.ok(await share('canvas.plan', wall) > 0.03, 'walls cover little of the plan');
  assert.ok(await share('.view canvas', clear) > 0.03, 'bodies cover little of the picture');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('the demo page: quiet, small, the same each time', async () => {
  stasis('report', join(source, 'demo/otter.toml'), '-o', 'otter.html');
  const first = readFileSync(path('otter.html'));
  stasis('report', join(source, 'demo/otter.toml'), '-o', 'otter.html');
  assert.ok(first.equals(readFileSync(path('otter.html'))));
  assert.ok(statSync(path('otter.html')).size < 3e6);
  const page = await open('otter.html');
  assert.deepEqual(page.said, []);
  assert.equal(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth), true);
  await page.close();
});

test('shakes stand among the measures of their take', async () => {
  stasis('report', join(source, 'demo/otter.toml'), '--take', 'log', '--figure', 'none', '-o', 'log.html');
  const page = await open('log.html');
  assert.deepEqual(page.said, []);
  const text = await page.evaluate(() => document.getElementById('measures').textContent);
  assert.match(text, /shake log_hit/);
  assert.match(text, /half-life0.200 s/);
  await page.close();
});

test('a view that follows is seen from above', async () => {
  stasis('report', join(source, 'demo/swim.toml'), '--take', 'drill', '--variant', 'base', '--variant', 'raw', '--figure', 'none', '-o', 'swim.html');
  assert.ok(statSync(path('swim.html')).size < 2.2e6);
  stasis('run', join(source, 'demo/swim.toml'), '--take', 'drill', '--figure', 'none', '-o', 'out');
  const trace = traceOf(readFileSync(path('out/drill.trace.csv'), 'utf8'));
  const page = await open('swim.html');
  assert.deepEqual(page.said, []);
  const plan = () => page.evaluate(() => document.querySelectorAll('.view canvas.plan')[0].toDataURL());
  assert.equal(await page.evaluate(() => document.querySelectorAll('.view canvas.plan').length), 2);
  const first = await plan();
  await scrub(page, 311 / 60);
  assert.notEqual(await plan(), first);
  const read = await readouts(page);
  assert.equal(read['focus.x'][0], trace[311]['focus.value.x']);
  const tiles = await page.evaluate(() => document.getElementById('tiles').textContent);
  assert.match(tiles, /focus lags by at most/);
  assert.equal(await page.evaluate(() => document.documentElement.scrollWidth <= innerWidth), true);
  await page.close();
});

test('values read off the page are those of the trace', async () => {
  stasis('run', join(source, 'demo/otter.toml'), '--figure', 'none', '--variant', 'all', '-o', 'out');
  const traces = ['approach.trace.csv', 'approach.heavy.trace.csv'].map((name) => traceOf(readFileSync(path('out/' + name), 'utf8')));
  const page = await open('otter.html');
  for (const frame of [0, 31, 45, 230, 331, 540]) {
    await scrub(page, frame / 60);
    assert.equal(await player(page, 'frame'), String(frame));
    const read = await readouts(page);
    for (const [component, values] of Object.entries(read)) {
      const [channel, part] = component.split('.');
      traces.forEach((trace, k) => assert.equal(values[k], trace[frame][channel + '.value' + (part ? '.' + part : '')], component));
    }
  }
  await page.close();
});

/** Waits until something holds, on a machine that is busy too. */
async function eventually(holds, what) {
  for (let k = 0; k < 100; ++k, await new Promise((done) => setTimeout(done, 50))) if (await holds()) return;
  assert.fail(what);
}

test('buttons and keys each change what they should', async () => {
  const page = await open('otter.html');
  await page.click('#play');
  assert.equal(await player(page, 'playing'), 'true');
  await eventually(async () => await time(page) > 0.1, 'it plays');
  await page.keyboard.press(' ');
  assert.equal(await player(page, 'playing'), 'false');
  const stopped = await time(page);
  await page.waitForTimeout(100);
  assert.equal(await time(page), stopped);
  await scrub(page, 1);
  await page.click('#forth');
  assert.equal(await player(page, 'frame'), '61');
  await page.keyboard.press('ArrowLeft');
  await page.keyboard.press('ArrowLeft');
  assert.equal(await player(page, 'frame'), '59');
  await scrub(page, 1.005); // between frames 60 and 61
  await page.keyboard.press('ArrowLeft');
  assert.equal(await player(page, 'frame'), '60');
  await page.keyboard.press('End');
  assert.equal(await time(page), 9);
  await page.keyboard.press('Home');
  assert.equal(await time(page), 0);
  await page.keyboard.press('Shift+ArrowRight');
  assert.ok(Math.abs(await time(page) - 0.9) < 1e-9);
  await page.keyboard.press('l');
  assert.equal(await page.getAttribute('#loop', 'aria-pressed'), 'false');
  await scrub(page, 8.95);
  await page.click('#play');
  await eventually(async () => await player(page, 'playing') === 'false', 'it ends');
  assert.equal(await time(page), 9);
  await page.click('#loop');
  await scrub(page, 8.95);
  await page.click('#play');
  await eventually(async () => await time(page) < 1, 'it begins again');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('speed and real time', async () => {
  const page = await open('otter.html');
  const wayIn = async (speed) => {
    await scrub(page, 0);
    await page.keyboard.press(speed);
    return page.evaluate(() => new Promise((done) => {
      document.getElementById('play').click();
      let start = null;
      const look = (now) => {
        start ??= [now, Number(document.getElementById('player').dataset.time)];
        if (now - start[0] < 600) return requestAnimationFrame(look);
        const gone = Number(document.getElementById('player').dataset.time) - start[1];
        document.getElementById('play').click();
        done(gone / ((now - start[0]) / 1000));
      };
      requestAnimationFrame(look);
    }));
  };
  for (const [key, speed] of [['1', 0.25], ['2', 0.5], ['3', 1], ['4', 2]])
    assert.ok(Math.abs(await wayIn(key) / speed - 1) < 0.1, 'speed ' + speed);
  await page.close();
});

test('a take of ten seconds takes ten seconds', async () => {
  writeFileSync(path('ten.toml'), '[channel.a]\nrest = 0\nmotion = { kind = "glide", half_life = 0.2 }\n[pose.p]\na = 1\n'
    + '[control.p]\nkind = "hold"\npose = "p"\n[take.t]\nlength = 10\ncues = [ { at = 0.5, press = "p" } ]\n');
  stasis('report', 'ten.toml', '--figure', 'none', '-o', 'ten.html');
  const page = await open('ten.html');
  await page.keyboard.press('l');
  // By the stamps of the display's frames, however late those come: over at the first frame after ten seconds.
  const [before, after] = await page.evaluate(() => new Promise((done) => {
    document.getElementById('play').click();
    let first = null, last = null;
    const look = (now) => {
      first ??= now;
      if (document.getElementById('player').dataset.playing !== 'true')
        return done([(last - first) / 1000, (now - first) / 1000]);
      last = now;
      requestAnimationFrame(look);
    };
    requestAnimationFrame(look);
  }));
  assert.ok(before < 10 && after > 9.999, before + ' s, ' + after + ' s');
  await page.close();
});

test('versions are flipped, chosen and drawn apart', async () => {
  const page = await open('otter.html');
  await scrub(page, 0.75);
  assert.notEqual(await picture(page, 0), await picture(page, 1));
  const visible = () => page.evaluate(() => [...document.querySelectorAll('.view:not([hidden])')].map((view) => view.dataset.version));
  assert.deepEqual(await visible(), ['base', 'heavy']);
  await page.keyboard.press('f');
  assert.deepEqual(await visible(), ['base']);
  await page.keyboard.press('f');
  assert.deepEqual(await visible(), ['heavy']);
  await page.keyboard.press('s');
  assert.deepEqual(await visible(), ['base', 'heavy']);
  await page.selectOption('#version_b', { label: 'none' });
  assert.deepEqual(await visible(), ['base']);
  assert.equal((await readouts(page)).fov.length, 1);
  assert.deepEqual(page.said, []);
  await page.close();
});

test('another take brings its own charts, the playhead where the time is', async () => {
  const page = await open('otter.html');
  await page.selectOption('#take', 'hands');
  await scrub(page, 3.5);
  const shares = await page.evaluate(() => [...document.querySelectorAll('.chart')].map((chart) => {
    const over = chart.querySelector('.u-over').getBoundingClientRect(), head = chart.querySelector('.head').getBoundingClientRect();
    return (head.left + head.width / 2 - over.left) / over.width;
  }));
  assert.ok(shares.length > 0 && shares.every((share) => Math.abs(share - 0.5) < 0.01), String(shares));
  await page.evaluate(() => {
    const take = document.getElementById('take');
    take.value = 'approach';
    take.dispatchEvent(new Event('change'));
    document.getElementById('scrub').value = 4.5;
    document.getElementById('scrub').dispatchEvent(new Event('input'));
  });
  await page.waitForTimeout(100);
  assert.ok(await page.evaluate(() => parseFloat(document.querySelector('.chart .head').style.left) > 100));
  assert.equal(await player(page, 'frame'), '270');
  assert.deepEqual(page.said, []);
  await page.close();
});

test('hovering reads every chart at the pointer, a click goes there', async () => {
  const page = await open('otter.html');
  const box = await page.locator('.chart[data-component="fov"] .u-over').boundingBox();
  await page.mouse.move(box.x + box.width / 3, box.y + 20);
  const at = async () => page.evaluate(() => [...document.querySelectorAll('.read span:first-child')].map((span) => parseFloat(span.textContent)));
  assert.ok((await at()).every((t) => Math.abs(t - 3) < 0.02), String(await at()));
  assert.equal(await time(page), 0);
  await page.mouse.click(box.x + box.width / 3, box.y + 20);
  assert.ok(Math.abs(await time(page) - 3) < 0.02);
  await page.mouse.move(5, 5);
  await scrub(page, 1);
  assert.ok((await at()).every((t) => t === 1));
  await page.close();
});

test('a redraw is quick', async () => {
  const page = await open('otter.html');
  const slow = await page.evaluate(() => {
    const input = document.getElementById('scrub'), times = [];
    for (let i = 0; i < 200; ++i) {
      input.value = i * 0.043;
      const start = performance.now();
      input.dispatchEvent(new Event('input'));
      times.push(performance.now() - start);
    }
    return times.sort((a, b) => a - b)[100];
  });
  assert.ok(slow < 4, slow + ' ms');
  await page.close();
});

const nasty = '</script><img src=x onerror=alert(1)>"\'{{title}}\\\\ {%} \u202eright to left \u05e9\u05dc\u05d5\u05dd <!--';
test('names and titles are shown as text, whatever they are', async () => {
  const long = 'x'.repeat(10000), quoted = (text) => JSON.stringify(text);
  writeFileSync(path('nasty.toml'), `title = ${quoted(nasty + long)}\n[channel.a]\nrest = 0\nunit = "<b>m</b>"\n`
    + 'motion = { kind = "glide", half_life = 0.2 }\n[pose.p]\na = 1\n[control.p]\nkind = "hold"\npose = "p"\n'
    + '[take.t]\nlength = 2\ncues = [ { at = 0.1, press = "p" } ] # </script><script>alert(2)</script>\n'
    + `[variant.${'v'.repeat(60)}]\n"motion_of_a" = 1\n`.replace('"motion_of_a"', '"channel.a.rest"')
    + `[[silence]]\nwarning = "start_kick"\nreason = ${quoted(nasty)}\n`);
  stasis('report', 'nasty.toml', '-o', 'nasty.html');
  const page = await open('nasty.html');
  assert.deepEqual(page.said, []);
  const state = await page.evaluate(() => ({ title: document.querySelector('h1').textContent, images: document.images.length,
    bold: document.querySelectorAll('b b, td b').length, wide: document.documentElement.scrollWidth <= innerWidth,
    header: document.querySelector('header').offsetHeight, feel: document.querySelector('pre').textContent }));
  assert.ok(state.title.startsWith('</script><img src=x'));
  assert.equal(state.images, 0);
  assert.equal(state.bold, 0);
  assert.ok(state.wide);
  assert.ok(state.header < 120);
  assert.equal(state.feel, readFileSync(path('nasty.toml'), 'utf8'));
  await page.close();
});

test('a long take keeps its extremes and stays small', async () => {
  writeFileSync(path('long.toml'), '[channel.a]\nrest = 0\nmotion = { kind = "spring", frequency = 3, damping_ratio = 0.05 }\n'
    + '[pose.p]\na = 1\n[control.p]\nkind = "hold"\npose = "p"\n[take.t]\nlength = 600\nclock = { fps = 240 }\n'
    + 'cues = [ { at = 100, press = "p" }, { at = 300, release = "p" } ]\n');
  const measures = JSON.parse(stasis('run', 'long.toml', '--figure', 'none', '--json'));
  const rows = traceOf(readFileSync(path('stasis-out/t.trace.csv'), 'utf8')).map((row) => row['a.value']);
  stasis('report', 'long.toml', '--figure', 'none', '--baked', '-o', 'long.html');
  assert.ok(statSync(path('long.html')).size < 1.5e6);
  const page = await open('long.html');
  const data = await page.evaluate(() => JSON.parse(document.getElementById('data').textContent).runs[0]);
  const kept = data.channels[0].value[0];
  assert.equal(Math.max(...kept), rows.reduce((a, b) => Math.max(a, b)));
  assert.equal(Math.min(...kept), rows.reduce((a, b) => Math.min(a, b)));
  data.frames.forEach((frame, i) => assert.equal(kept[i], rows[frame]));
  assert.equal(measures.clock.frames, rows.length);
  await page.close();
});

test('flat views, plain channels and dark screens are drawn', async () => {
  writeFileSync(path('flat.toml'), '[picture]\nheight = { channel = "tall" }\nposition = "place"\nroll = "lean"\n[channel.tall]\nrest = 10\n'
    + 'motion = { kind = "glide", half_life = 0.2 }\n[channel.place]\nrest = [0, 0]\nmotion = { kind = "glide", half_life = 0.2 }\n'
    + '[channel.lean]\nrest = 0\nunit = "deg"\n[pose.p]\ntall = 5\nplace = [2, 1]\nlean = 10\n[control.p]\nkind = "hold"\npose = "p"\n'
    + '[take.t]\nlength = 2\ncues = [ { at = 0.5, press = "p" } ]\n');
  writeFileSync(path('plain.toml'), readFileSync(path('flat.toml'), 'utf8').replace(/\[picture\][^[]*/, ''));
  for (const name of ['flat', 'plain']) {
    stasis('report', name + '.toml', '--figure', 'none', '-o', name + '.html');
    const page = await open(name + '.html', { colorScheme: 'dark' });
    const still = await picture(page);
    await scrub(page, 0.7);
    assert.notEqual(await picture(page), still, name);
    assert.equal(await page.evaluate(() => getComputedStyle(document.body).backgroundColor), 'rgb(15, 26, 31)');
    assert.deepEqual(page.said, []);
    await page.close();
  }
});

test('an open page takes up what watch writes, at the same place', async () => {
  const feel = readFileSync(path('plain.toml'), 'utf8');
  writeFileSync(path('watched.toml'), feel);
  const watch = spawn(program, ['watch', '--runs', '2', 'report', 'watched.toml', '--figure', 'none', '-o', 'watched.html'], { cwd: folder });
  const ended = new Promise((done) => watch.on('exit', done));
  await new Promise((done) => watch.stdout.once('data', done));
  const page = await browser.newPage({ viewport: { width: 1280, height: 800 } });
  await page.goto('file://' + path('watched.html'));
  await scrub(page, 1.5);
  // On a busy machine loading takes longer than the time between two looks, and must not be begun again at each of them.
  let asked = 0;
  await page.route('**/watched.html', async (route) => {
    asked += 1;
    await new Promise((done) => setTimeout(done, 1500));
    await route.continue();
  });
  const reloaded = page.waitForEvent('load');
  writeFileSync(path('watched.toml'), feel.replace('length = 2', 'length = 3'));
  await reloaded;
  assert.equal(asked, 1);
  assert.equal(await time(page), 1.5);
  assert.equal(await page.getAttribute('#scrub', 'max'), '3');
  assert.equal(await ended, 0);
  await page.close();
});
