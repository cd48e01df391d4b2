// The page that is played: two versions under the same hands, numbers that change while they run.
const rates = [
  ["the screen's", 0], ['15', 15], ['24', 24], ['30', 30], ['60', 60], ['120', 120], ['240', 240], ['60, trembling', 60, 0.4], ['60, with stalls', 60, 0, true],
  ['60, tick of 20', 60, 0, false, 20], ['60, tick of 50', 60, 0, false, 50],
];
/** How fast the game goes beside the clock; hands, and what `runs_on = "clock"`, go as ever. */
const speeds = [['at full speed', 1], ['at half speed', 0.5], ['at a quarter', 0.25], ['at a tenth', 0.1], ['standing still', 0]];
const tabs = ['numbers', 'curves', 'text', 'hands'];
const saved = '(as saved)', present = 'as it is now';
const state = { shown: 'a', rate: rates[0], owed: 0, next: 0, sliders: 0, log: [], replay: null, place: [0, 0, 0] };
let heart, lives = {}, bindings, rows, curveRows, writing, savedFile, blind, chartRows = [];

const files = data.files;
let original = data.text; // as saved
const active = () => (state.shown === 'both' ? [lives.a, lives.b] : [lives[state.blind ?? state.shown]]);
const both = () => [lives.a, lives.b];

/** What hands do is done to both versions, and kept with the frame at which it acts. */
function act(does) {
  if (state.replay) return;
  state.log.push({ frame: lives.a.dts.length, does });
  for (const live of both()) does(live.session);
}

function sourceOf(version) {
  const chosen = byId('version_' + version).value;
  return { text: chosen === saved ? original : writing.text, name: data.name, files, take: byId('take').value || null, tick: state.rate[4] ?? 0,
    variant: chosen === saved || chosen === present ? null : chosen };
}

function openBoth() {
  for (const version of ['a', 'b']) {
    const source = sourceOf(version);
    if (lives[version]) lives[version].open(source); else lives[version] = new Live(heart, source);
  }
  state.log = [];
  state.replay = null;
  state.owed = 0;
  byId('game').value = speeds[0][0];
  const walked = lives.a.run.followers[0];
  const stood = walked ? lives.a.session.subject(walked.track) : null;
  state.place = stood ?? [0, 0, 0];
  state.walks = false;
  chartRows = [];
}

/** A text for every version that shows what is being written. */
function takeText(text) {
  for (const version of ['a', 'b']) {
    const chosen = byId('version_' + version).value;
    if (chosen !== saved) lives[version].change(text);
  }
  state.sliders = 0; // numbers are to be read again
}

function showText(fault = null) {
  const editor = byId('toml');
  if (document.activeElement !== editor && fault === null) editor.value = writing.text;
  editor.classList.toggle('wrong', fault !== null);
  byId('faults').textContent = fault ?? '';
  byId('undo').disabled = writing.past.length === 0;
  byId('redo').disabled = writing.future.length === 0;
}

const changeNumber = (path, value) => changeBy((live) => live.session.set(path, value));

/** Changes the version that is written on, and every other one that shows the same text. */
function changeBy(change) {
  const live = byId('version_a').value === saved ? lives.b : lives.a;
  try {
    change(live);
    const text = live.session.text;
    live.afterChange();
    writing.text = text;
    for (const other of both()) if (other !== live && byId('version_' + (other === lives.a ? 'a' : 'b')).value !== saved) other.change(text);
    showText();
  } catch (fault) {
    if (!(fault instanceof StasisFault)) throw fault;
    byId('faults').textContent = fault.message;
    byId('words').textContent = fault.message;
    state.said = performance.now();
  }
  state.sliders = 0;
}

/** Words as buttons: each a stated change of stated measures, solved by the heart. */
function buildWords() {
  const target = element('select'), about = lives.a.about, all = heart.words();
  target.setAttribute('aria-label', 'Channel or shake that the words are for');
  fill(target, [...about.channels.map((channel) => channel.name), ...about.shakes], about.channels[0]?.name ?? '');
  const buttons = element('span');
  const build = () => buttons.replaceChildren(...all.filter((one) => (one.of === 'shake') === about.shakes.includes(target.value)).map((one) => {
    const button = element('button', '', one.word);
    button.type = 'button';
    button.title = one.effect;
    button.addEventListener('click', () => { writing.mark(); changeBy((live) => live.session.tune(target.value, one.word)); });
    return button;
  }));
  buttons.style.display = 'contents';
  target.addEventListener('change', build);
  build();
  byId('tune').replaceChildren(target, buttons);
}

/** Frames as long as the limiter makes them, out of the time that has passed. */
function framesFor(passed) {
  const [, fps, jitter, stalls] = state.rate;
  if (fps === 0) return passed > 0 ? [Math.min(passed, 0.25)] : []; // a clock's times ascend
  state.owed += Math.min(passed, 0.5);
  const frames = [];
  while (frames.length < 120) {
    if (state.next <= 0) state.next = (1 + (jitter ?? 0) * (2 * Math.random() - 1)) / fps + (stalls && Math.random() < 0.01 ? 0.15 : 0);
    if (state.owed < state.next) break;
    state.owed -= state.next;
    frames.push(state.next);
    state.next = 0;
  }
  return frames;
}

/** The subject goes where the keys say, seen from the camera; from then on it is led by them. */
function walk(dt) {
  const follower = lives.a.run.followers[0], way = bindings.walk();
  if (!follower || (!state.walks && way[0] === 0 && way[1] === 0)) return;
  // It sets off from where it is, wherever its own track has brought it.
  if (!state.walks) state.place = lives.a.session.subject(follower.track) ?? state.place;
  state.walks = true;
  const speed = 3 * lives.a.run.scene_step, flat = lives.a.run.tracks[follower.track].place.length === 2;
  const camera = lives[state.shown === 'b' ? 'b' : 'a'].session.camera();
  let right = [1, 0], back = [0, 1];
  if (camera && !flat) {
    const [, , , x, y, z, w] = camera, across = [1 - 2 * (y * y + z * z), 2 * (x * z - y * w)], length = Math.hypot(...across) || 1;
    right = across.map((part) => part / length);
    back = [-right[1], right[0]];
  }
  const step = [0, 1].map((k) => (right[k] * way[0] + back[k] * way[1]) * speed * dt);
  state.place[0] += step[0];
  state.place[flat ? 1 : 2] += flat ? -step[1] : step[1];
  const place = state.place.slice();
  act((session) => session.place(follower.track, ...place));
}

function frame(dt) {
  if (state.replay) {
    for (; state.replay.next < state.replay.log.length && state.replay.log[state.replay.next].frame <= lives.a.dts.length; ++state.replay.next)
      for (const live of both()) state.replay.log[state.replay.next].does(live.session);
  } else {
    walk(dt);
  }
  for (const live of both()) live.advance(dt);
}

function goOn(now) {
  const passed = Math.max(0, (now - (state.last ?? now)) / 1000);
  state.last = now;
  const began = performance.now();
  bindings.poll();
  if (state.replay) {
    state.owed += Math.min(passed, 0.5);
    while (state.replay && state.owed >= (state.replay.dts[lives.a.dts.length] ?? Infinity)) {
      const dt = state.replay.dts[lives.a.dts.length];
      state.owed -= dt;
      frame(dt);
    }
    if (state.replay && lives.a.dts.length >= state.replay.dts.length) { state.log = state.replay.log; state.replay = null; }
  } else {
    for (const dt of framesFor(passed)) frame(dt);
  }
  draw();
  if (--state.sliders <= 0) refresh();
  (state.costs ??= []).push(performance.now() - began);
  if (state.costs.length > 2000) state.costs.shift();
  requestAnimationFrame(goOn);
}

function draw() {
  const shown = active(), width = byId('stage').clientWidth, gap = 8, each = (width - gap * (shown.length - 1)) / shown.length;
  const rest = byId('inputs').offsetHeight + byId('last_moves').offsetHeight + chartRows.length * 78 + 92;
  const height = Math.max(180, Math.min(window.innerHeight - rest, Math.round(width * 0.62)));
  for (const [version, colourName] of [['a', 'a'], ['b', 'b']]) {
    const figure = byId('view_' + version), live = lives[version];
    figure.hidden = !shown.includes(live);
    figure.lastChild.hidden = Boolean(state.blind);
    if (!figure.hidden) drawScene(figure.firstChild, live.run, live.run.end, each - 2, height, state.blind ? palette.ink : palette[colourName]);
  }
  const order = state.shown === 'b' ? [lives.b, lives.a] : [lives.a, lives.b];
  const colours = order.map((live) => (live === lives.a ? palette.a : palette.b));
  pickCharts();
  const chartWidth = byId('live_charts').clientWidth;
  drawPlans(shown, each);
  chartRows.forEach(({ chart, name, component }) => chart.draw(state.blind ? [lives[state.blind]] : order, state.blind ? [palette.ink] : colours, name, component, chartWidth, 74));
  showInputs();
}

/** The plan stands in a corner of the picture, where something is followed. */
function drawPlans(shown, each) {
  const size = Math.round(Math.min(180, each * 0.3));
  for (const version of ['a', 'b']) {
    const live = lives[version], canvas = byId('plan_' + version);
    canvas.hidden = !shown.includes(live) || !drawLivePlan(canvas, live, size, size, state.blind ? palette.ink : palette[version]);
  }
}

/** The charts show what has moved last; a row stays until something else moves that has none. */
function pickCharts() {
  const { run } = lives.a, most = window.innerHeight > 760 ? 3 : 2;
  if (chartRows.length === 0) {
    byId('live_charts').replaceChildren();
    const first = run.channels.flatMap((channel) => channel.value.map((_, component) => ({ name: channel.name, component })));
    for (const one of first.slice(0, most)) chartRows.push({ ...one, moved: 0, chart: new LiveChart(byId('live_charts')) });
  }
  for (const channel of run.channels) channel.value.forEach((values, component) => {
    const last = values.length - 1;
    if (last < 1 || Math.abs(values[last] - values[last - 1]) <= 1e-4 * Math.max(1e-9, Math.abs(channel.high[component] - channel.low[component]) || 1)) return;
    const row = chartRows.find((one) => one.name === channel.name && one.component === component);
    if (row) { row.moved = run.end; return; }
    const oldest = chartRows.reduce((a, b) => (b.moved < a.moved ? b : a));
    if (run.end - oldest.moved > 2) Object.assign(oldest, { name: channel.name, component, moved: run.end });
  });
}

function buildInputs() {
  byId('inputs').replaceChildren(...bindings.inputs.map((input) => {
    const box = element('div', 'input'), button = element('button', 'act'), key = element('button', 'key');
    button.type = key.type = 'button';
    button.append(element('b', '', input.name), element('span', 'state'));
    if (input.kind === 'pointer') {
      key.textContent = bindings.pointers.indexOf(input) === 1 ? 'mouse \u2195' : 'mouse \u2194';
      key.disabled = true;
    }
    key.title = `Another key for ${input.name}`;
    key.setAttribute('aria-label', `Key for ${input.name}`);
    button.addEventListener('pointerdown', (event) => { event.preventDefault(); button.setPointerCapture(event.pointerId); bindings.begin(input, 'touch'); });
    const isHeld = () => bindings.down.get(input.name) === 'touch';
    button.addEventListener('pointerup', () => { if (isHeld()) bindings.end(input); });
    button.addEventListener('pointercancel', () => { if (isHeld()) bindings.giveUp(input); });
    button.addEventListener('keydown', (event) => { if (event.code === 'Enter' && !event.repeat) bindings.begin(input, 'enter'); });
    button.addEventListener('keyup', (event) => { if (event.code === 'Enter') bindings.end(input); });
    key.addEventListener('click', () => { key.classList.add('asks'); key.textContent = 'press a key'; state.asks = { input, key }; });
    box.append(button, key);
    Object.assign(input, { box, key, stateText: button.lastChild });
    return box;
  }), ...(lives.a.run.followers.length > 0 ? [walkHint()] : []));
}
function walkHint() {
  const hint = element('div', 'input');
  hint.append(element('span', 'act', `walk ${lives.a.run.tracks[lives.a.run.followers[0].track].name}`), element('span', 'key', 'w a s d'));
  return hint;
}

function showInputs() {
  const session = active()[0].session, shows = ['toggle', 'cycle'];
  for (const input of bindings.inputs) {
    const isHit = input.kind === 'hit', held = isHit ? session.strength(input.shake) > 0.02 : input.kind === 'press' ? session.isDown(input.control) && (bindings.down.has(input.name) || state.replay) : bindings.down.has(input.name);
    input.box.classList.toggle('down', Boolean(held));
    if (input.kind === 'pointer' || state.asks?.input === input) continue;
    const name = keyName(bindings.keys.get(input.name) ?? '') + (input.kind === 'click' && bindings.wheel.includes(input) ? ' or wheel' : '');
    if (input.key.textContent !== name) input.key.textContent = name || '\u2013';
    const value = isHit ? session.strength(input.shake) : input.kind === 'press' && !session.isDown(input.control) ? session.state(input.control) : 0;
    const text = value !== 0 ? shown(value, isHit ? 10 : 1000) : '';
    if (input.stateText.textContent !== text) input.stateText.textContent = text;
  }
}

/** What need not be told on every frame. */
function refresh() {
  state.sliders = 12;
  const live = byId('version_a').value === saved ? lives.b : lives.a;
  if (writing.text !== state.listed) {
    state.numbers = live.session.listNumbers();
    state.listed = writing.text;
  }
  if (!byId('curves').hidden && writing.text !== state.bent) {
    curveRows.show(live.session.listCurves());
    state.bent = writing.text;
  }
  if (writing.text === original) rows.saved(state.numbers);
  rows.show(state.numbers, byId('filter').value);
  tellChanges();
  const moved = chartRows.length > 0 ? chartRows.reduce((a, b) => (b.moved > a.moved ? b : a)).name : null;
  const channel = moved === null ? -1 : live.session.find('channel', moved);
  const about = `${channel} ${writing.text}`;
  if (channel >= 0 && about !== state.explained && performance.now() - (state.said ?? -Infinity) > 3000) {
    byId('words').textContent = live.session.explain(channel);
    state.explained = about;
  }
  const lasts = lives.a.session.time;
  byId('recorded').textContent = `${shown(lasts, 100)} s, ${lives.a.dts.length} frames`;
  if (!byId('hands').hidden) {
    if (document.activeElement !== byId('recorded_take')) byId('recorded_take').value = recordedTake();
    measureRecorded();
  }
  tellMoves();
}

/** What was turned, and where it is kept. */
function tellChanges() {
  const changes = rows.changes(state.numbers), isSaved = writing.text === original;
  byId('changed').hidden = changes === '' || isSaved;
  byId('changes').textContent = changes;
  byId('tab_text').classList.toggle('unsaved', !isSaved);
}

/** Every move of what was recorded, as `stasis run` measures it; of a long one only once the hands rest a while. */
function measureRecorded() {
  const frames = lives.a.dts.length, now = performance.now(), { costs = 0, at = 0, of } = state.measured ?? {};
  if (frames === of || now - at < Math.max(500, 40 * costs)) return;
  const moves = lives.a.session.measures()?.moves ?? [];
  state.measured = { of: frames, at: now, costs: performance.now() - now };
  const cells = ({ start, channel, from, to, settling_time, retargeted, overshoot, cause }) => [`${shown(start, 100)} s`, channel,
    settling_time !== null ? `${brief(settling_time)} s` : retargeted ? 'retargeted' : '\u2013', overshoot === null ? '\u2013' : `${brief(overshoot)} %`, cause, `${brief(from)} \u2192 ${brief(to)}`];
  const body = moves.slice(-200).reverse().map((move) => {
    const row = element('tr');
    row.append(...cells(move).map((cell) => element('td', '', cell)));
    return row;
  });
  byId('recorded_moves').tBodies[0].replaceChildren(...body);
  byId('recorded_moves').hidden = moves.length === 0;
}

function recordedTake() { return lives.a.session.recordedTake('hands', byId('exact').checked ? 'hands.csv' : null) ?? ''; }

/** The last move of each chart's channel, in numbers. */
function tellMoves() {
  if (performance.now() - (state.told ?? 0) < 300) return;
  state.told = performance.now();
  const count = active().length;
  const told = active().map((live) => {
    const shows = chartRows.map((row) => row.name), lasts = live.session.lastMoves().filter((move) => shows.includes(move.channel)).sort((one, other) => other.start - one.start);
    if (lasts.length === 0) return null;
    return lasts.map((last) => {
      const settled = last.settling_time === null ? 'not settled' : `settled after ${brief(last.settling_time)} s`;
      return `${last.channel} ${settled}, overshoot ${brief(last.overshoot)} %, start kick ${brief(last.start_kick)}`;
    }).slice(0, count > 1 ? 1 : 2).join(';  ');
  });
  const text = told.every((one) => one === null) ? 'Press a key or one of these, turn the wheel: the last move is measured here.'
    : told.map((one, k) => (told.length > 1 ? 'AB'[k] + ' \u2013 ' : '') + (one ?? 'no move yet')).join('\n');
  const place = byId('last_moves');
  if (place.textContent !== text) { place.textContent = text; place.style.whiteSpace = 'pre-line'; }
}

function show(what) {
  state.shown = what;
  for (const [id, one] of [['show_a', 'a'], ['show_b', 'b'], ['show_both', 'both']]) byId(id).setAttribute('aria-pressed', String(what === one));
}

function tab(name) {
  for (const one of tabs) {
    byId(one).hidden = one !== name;
    byId('tab_' + one).setAttribute('aria-selected', String(one === name));
  }
  if (name === 'text') byId('toml').value = byId('toml').classList.contains('wrong') ? byId('toml').value : writing.text;
  state.sliders = 0;
}

function buildStage() {
  for (const version of ['a', 'b']) {
    const figure = element('figure'), caption = element('figcaption', version, version.toUpperCase());
    figure.id = 'view_' + version;
    const plan = element('canvas', 'plan');
    plan.id = 'plan_' + version;
    plan.title = 'From above: the subject, what follows it, the eye';
    figure.append(element('canvas'), plan, caption);
    byId('stage').append(figure);
  }
}

function fill(select, options, chosen) {
  select.replaceChildren(...options.map((text) => { const option = element('option', '', text); option.value = text; return option; }));
  select.value = chosen;
}

function step(which) {
  if (which === 'undo') writing.undo(); else writing.redo();
  byId('toml').blur();
  showText();
}

function listenToBench() {
  for (const id of ['a', 'b', 'both']) byId('show_' + id).addEventListener('click', () => show(id));
  for (const name of tabs) byId('tab_' + name).addEventListener('click', () => tab(name));
  for (const id of ['take', 'version_a', 'version_b']) byId(id).addEventListener('change', () => { openBoth(); bindings.learn(lives.a.about); buildInputs(); byId('stage').focus(); });
  byId('game').addEventListener('change', () => {
    const [, speed] = speeds.find((one) => one[0] === byId('game').value);
    act((session) => session.gameSpeed(speed, 0.2));
    byId('stage').focus();
  });
  byId('rate').addEventListener('change', () => {
    const before = state.rate[4];
    state.rate = rates.find((one) => one[0] === byId('rate').value);
    state.owed = state.next = 0;
    if (state.rate[4] !== before) openBoth(); // how the subject goes is settled before the first frame
    byId('stage').focus();
  });
  byId('filter').addEventListener('input', () => { state.sliders = 0; });
  byId('keep').addEventListener('click', () => {
    tab('text');
    byId('kept').textContent = byId('changes').textContent;
  });
  byId('undo').addEventListener('click', () => step('undo'));
  byId('redo').addEventListener('click', () => step('redo'));
  let marked = 0;
  byId('toml').addEventListener('input', () => {
    if (performance.now() - marked > 1000) writing.mark();
    marked = performance.now();
    showText(writing.put(byId('toml').value));
  });
  byId('copy_text').addEventListener('click', () => copy(writing.text, byId('toml')).then(() => { byId('kept').textContent = 'copied'; }));
  byId('save_text').hidden = !SavedFile.isPossible;
  byId('save_text').addEventListener('click', async () => {
    byId('kept').textContent = await savedFile.save(writing.text);
    if (savedFile.handle) byId('save_text').textContent = 'Save';
  });
  byId('keep_text').addEventListener('click', () => { download(data.name, writing.text); byId('kept').textContent = 'downloaded'; });
  byId('copy_take').addEventListener('click', () => { byId('recorded_take').value = recordedTake(); copy(recordedTake(), byId('recorded_take')); });
  byId('exact').addEventListener('change', () => { byId('recorded_take').value = recordedTake(); });
  byId('keep_clock').addEventListener('click', () => download('hands.csv', lives.a.session.recordedClock() ?? ''));
  byId('keep_tracks').hidden = lives.a.run.followers.length === 0;
  byId('keep_tracks').addEventListener('click', () => {
    const follower = lives.a.run.followers[0], way = follower ? lives.a.session.recordedTrack(follower.track) : null;
    if (way) download(`${lives.a.run.tracks[follower.track].name}.csv`, way);
  });
  byId('start_over').addEventListener('click', () => { openBoth(); byId('stage').focus(); });
  byId('again').addEventListener('click', () => {
    const replay = { log: state.log, dts: lives.a.dts, next: 0 };
    openBoth();
    state.replay = replay;
  });
}

/** The file has been saved: B goes on with it, and so does A unless something was changed here since. */
function takeSaved(text) {
  if (text === original) return;
  const untouched = writing.text === original;
  original = text;
  try {
    for (const version of ['a', 'b']) if (byId('version_' + version).value === saved) lives[version].change(text);
    if (untouched) { writing.mark(); writing.put(text); }
    showText();
    byId('kept').textContent = untouched ? '' : 'The file was saved again: B shows it; A keeps what you changed here.';
  } catch (fault) {
    if (!(fault instanceof StasisFault)) throw fault;
    byId('words').textContent = fault.message;
  }
  state.sliders = 0;
}

async function begin() {
  heart = await Stasis.load(await unpacked(byId('heart').textContent.trim()));
  writing = new Writing(original, takeText);
  savedFile = new SavedFile(data.name, original);
  buildStage();
  const probe = heart.open({ text: original, name: data.name, files });
  const { takes, variants, tracks } = probe.describe();
  probe.close();
  fill(byId('take'), takes, takes[0] ?? '');
  byId('take').parentElement.hidden = takes.length < 2;
  fill(byId('game'), speeds.map(([name]) => name), speeds[0][0]);
  fill(byId('rate'), rates.filter((one) => one[4] === undefined || tracks.length > 0).map(([name]) => name), rates[0][0]);
  fill(byId('version_a'), [present, ...variants, saved], present);
  fill(byId('version_b'), [present, ...variants, saved], saved);
  openBoth();
  bindings = new Bindings(lives.a.about, act);
  rows = new NumberRows(byId('sliders'), changeNumber, () => writing.mark());
  curveRows = new CurveRows(byId('curves'), changeNumber, () => writing.mark());
  blind = new Blind(byId('blind'), (version) => { state.blind = version; if (version === null) show('a'); else show('a'); });
  buildInputs();
  buildWords();
  listenToHands(byId('stage'), bindings, state, step);
  listenToBench();
  show('a');
  tab('numbers');
  showText();
  window.matchMedia('(prefers-color-scheme: dark)').addEventListener('change', readPalette);
  byId('stage').focus();
  // For whoever looks in from outside: tests, and the curious.
  window.stasisHands = { state, lives, writing, get bindings() { return bindings; } };
  if (data.saved_in) {
    window.stasisSaved = takeSaved;
    lookAgain();
  }
  requestAnimationFrame(goOn);
}

begin().catch((fault) => {
  byId('last_moves').textContent = fault instanceof StasisFault ? fault.message : `This browser cannot play it: ${fault.message}`;
  byId('last_moves').className = 'bad';
});
