// The player: one time for everything; what is chosen; keys, buttons and the pointer.
const speeds = [['\u00bc', 0.25], ['\u00bd', 0.5], ['1', 1], ['2', 2]];
const state = { time: 0, playing: false, loop: true, speed: 1, take: data.runs[0].take, a: 0, b: -1, layout: 'both' };
const takes = [...new Set(data.runs.map((run) => run.take))];
if (data.versions.length > 1) state.b = 1;
let runs = [], views = [], stamp = null;

const endOf = () => Math.max(...runs.map((run) => run.end));
const frameTime = (frame) => runs[0].steady ? frame / runs[0].fps : runs[0].times[Math.max(0, Math.min(runs[0].times.length - 1, frame))];
const frameAt = (time) => runs[0].steady ? Math.floor(time * runs[0].fps + 1e-6) : rowAt(runs[0], time + 1e-6);

function makeView(run, letter) {
  const box = element('div', 'view');
  box.dataset.version = versionName(run);
  const title = element('h3', letter === 'B' ? 'b' : 'a', (runs.length > 1 ? letter + ' ' : '') + versionName(run));
  title.title = versionName(run);
  const canvas = element('canvas');
  canvas.setAttribute('role', 'img');
  canvas.setAttribute('aria-label', 'What the camera sees, version ' + versionName(run));
  const side = element('div', 'side'), inputs = element('div', 'inputs'), now = element('table', 'now');
  for (const control of run.controls) inputs.append(element('span', '', control));
  const cells = [];
  run.channels.forEach((channel, c) => channel.value.forEach((values, i) => {
    const row = now.insertRow(), name = row.insertCell(), value = row.insertCell(), [low, high] = bounds(values);
    name.textContent = componentName(channel, i);
    name.title = name.textContent;
    cells.push({ row, value, c, i, span: high - low, spans: movingSpans(run, channel.name), unit: channel.unit.slice(0, 16) });
  }));
  side.append(inputs, now);
  const plan = planOf(run) ? element('canvas', 'plan') : null;
  box.append(title, canvas);
  if (plan) {
    plan.setAttribute('role', 'img');
    plan.setAttribute('aria-label', 'The way from above, version ' + versionName(run));
    box.classList.add('planned');
    box.append(plan);
  }
  box.append(side);
  return { box, canvas, plan, inputs, cells, run, strong: letter === 'B' ? 'b' : 'a', letter };
}

/** Nothing is measured while playing: sizes are taken when the layout changes. */
function layOut() {
  const width = byId('views').clientWidth, height = 250;
  const room = views.length > 1 && state.layout === 'both' && window.innerWidth > 900 ? (width - 24) / 2 : width;
  for (const view of views) {
    const { width: w, height: h } = view.run.picture, aspect = sees(view.run) || view.run.picture.view_height !== null ? w / h : 1.6;
    view.width = Math.round(Math.min(height * aspect, room * (view.plan ? 0.36 : 0.72)));
    view.height = Math.round(Math.min(height, view.width / aspect));
    view.planWidth = Math.round(Math.min(height * 1.5, room * 0.36));
    view.box.hidden = views.length > 1 && state.layout !== 'both' && state.layout !== view.letter;
  }
}

function drawViews() {
  for (const view of views) {
    if (view.box.hidden) continue;
    const time = Math.min(state.time, view.run.end);
    drawScene(view.canvas, view.run, time, view.width, view.height, palette[view.strong]);
    if (view.plan) drawPlan(view.plan, view.run, time, view.planWidth, 250, palette[view.strong]);
    const down = inputsDown(view.run, time);
    for (const label of view.inputs.children) label.className = down.has(label.textContent) ? 'down' : '';
    for (const cell of view.cells) {
      const value = valueAt(view.run, cell.c, cell.i, time);
      cell.value.textContent = shown(value, cell.span) + ' ' + cell.unit;
      cell.value.dataset.value = value;
      cell.row.className = cell.spans.some((span) => span.from <= time && time < span.to) ? 'moving' : '';
    }
  }
}

function draw() {
  const end = endOf();
  drawViews();
  for (const chart of charts) chart.show(state.time);
  byId('head').style.left = 100 * (end > 0 ? state.time / end : 0) + '%';
  byId('scrub').value = state.time;
  const frame = frameAt(state.time), last = frameAt(end);
  byId('clock').replaceChildren(element('b', '', state.time.toFixed(2) + ' s'), ' frame ' + frame + ' of ' + last);
  byId('scrub').setAttribute('aria-valuetext', state.time.toFixed(2) + ' seconds');
  const player = byId('player').dataset;
  player.time = state.time;
  player.frame = frame;
}

function showButtons() {
  byId('play').textContent = state.playing ? 'Pause' : 'Play';
  byId('loop').setAttribute('aria-pressed', state.loop);
  byId('player').dataset.playing = state.playing;
  byId('player').dataset.layout = state.layout;
  [...byId('speeds').children].forEach((button, i) => button.setAttribute('aria-pressed', speeds[i][1] === state.speed));
  byId('flip').textContent = state.layout === 'both' ? 'Flip' : 'Flip: ' + state.layout;
  byId('flip').setAttribute('aria-pressed', state.layout !== 'both');
}

/** Takes up what is chosen: other runs, other charts, other tables. */
function choose() {
  runs = [runOf(state.take, state.a), state.b >= 0 && state.b !== state.a ? runOf(state.take, state.b) : undefined].filter(Boolean);
  if (runs.length < 2) state.layout = 'both';
  state.time = Math.min(state.time, endOf());
  views = runs.map((run, k) => makeView(run, 'AB'[k]));
  byId('views').replaceChildren(...views.map((view) => view.box));
  byId('flip').hidden = runs.length < 2;
  byId('scrub').max = endOf();
  const first = runs[0];
  byId('about').textContent = (runs[1] ? 'A ' + versionName(first) + ' against B ' + versionName(runs[1]) : versionName(first))
    + ' \u00b7 take ' + first.take + ' \u00b7 ' + first.length + ' s at ' + first.fps + ' fps'
    + (first.whole ? '' : ' \u00b7 frames between extremes left out');
  showTiles(runs);
  showMeasures(runs);
  showWants(runs);
  const resting = buildCharts(byId('charts'), runs, seek);
  byId('resting').textContent = resting.length ? 'At rest throughout: ' + resting.join(', ') : '';
  reshape();
}
function reshape() {
  layOut();
  drawStrip(byId('strip'), runs, byId('timeline').clientWidth);
  showButtons();
  draw();
}

function seek(time) {
  // A slider's text loses a digit of a frame's time; so near a frame, the frame is meant.
  const frame = frameTime(runs[0].steady ? Math.round(time * runs[0].fps) : rowAt(runs[0], time + 1e-6));
  state.time = Math.max(0, Math.min(endOf(), Math.abs(frame - time) < 1e-6 ? frame : time));
  draw();
}
function step(frames) {
  pause();
  const frame = frameAt(state.time), onFrame = Math.abs(frameTime(frame) - state.time) < 1e-6;
  seek(frameTime(frames < 0 && !onFrame ? frame + 1 + frames : frame + frames));
}
function pause() {
  state.playing = false;
  stamp = null;
  showButtons();
}
function play() {
  if (state.time >= endOf()) state.time = 0;
  state.playing = true;
  stamp = null;
  showButtons();
  requestAnimationFrame(tick);
}
const toggle = () => state.playing ? pause() : play();

/** Real time: the stamps of the display's frames, times the speed. */
function tick(now) {
  if (!state.playing) return;
  if (stamp !== null) {
    const end = endOf();
    let time = state.time + (now - stamp) / 1000 * state.speed;
    if (time >= end) {
      if (state.loop && end > 0) time %= end;
      else time = end;
    }
    state.time = time;
    draw();
    if (time >= end && !state.loop) return pause();
  }
  stamp = now;
  requestAnimationFrame(tick);
}

function setSpeed(speed) {
  state.speed = speed;
  showButtons();
}
function setLayout(layout) {
  if (runs.length < 2) return;
  state.layout = layout;
  reshape();
}
const flip = () => setLayout(state.layout === 'A' ? 'B' : 'A');

const keys = {
  ' ': toggle, l: () => { state.loop = !state.loop; showButtons(); }, f: flip, s: () => setLayout('both'),
  ArrowLeft: (event) => event.shiftKey ? seek(state.time - endOf() / 10) : step(-1),
  ArrowRight: (event) => event.shiftKey ? seek(state.time + endOf() / 10) : step(1),
  Home: () => seek(0), End: () => seek(endOf()),
};
speeds.forEach(([, speed], i) => { keys[String(i + 1)] = () => setSpeed(speed); });

document.addEventListener('keydown', (event) => {
  if (event.ctrlKey || event.metaKey || event.altKey || event.target.tagName === 'SELECT') return;
  const action = keys[event.key.length === 1 ? event.key.toLowerCase() : event.key];
  if (!action) return;
  event.preventDefault();
  action(event);
}, true);

function fill(select, names, chosen, onChange) {
  names.forEach(([name, value]) => {
    const option = element('option', '', name.length > 60 ? name.slice(0, 59) + '\u2026' : name);
    option.value = value;
    select.append(option);
  });
  select.value = chosen;
  select.addEventListener('change', () => onChange(select.value));
}

/** Watched: a picture beside the page changes its size when there is a newer page. */
function lookAgain(image, shown) {
  let count = 0, isLeaving = false;
  const looks = setInterval(() => {
    const picture = new Image();
    picture.onload = () => {
      if (isLeaving || picture.naturalWidth + 'x' + picture.naturalHeight === shown) return;
      // Once only: to ask again before the new page has come would begin its loading anew, without end where it is slow.
      isLeaving = true;
      clearInterval(looks);
      try { sessionStorage.setItem('stasis', JSON.stringify(state)); } catch { /* the page starts at 0 then */ }
      location.reload();
    };
    picture.src = encodeURIComponent(image) + '?' + ++count;
  }, 300);
}

function takeUpLastState() {
  try {
    const last = JSON.parse(sessionStorage.getItem('stasis'));
    sessionStorage.removeItem('stasis');
    if (!last || !takes.includes(last.take) || last.a >= data.versions.length || last.b >= data.versions.length) return;
    Object.assign(state, last, { playing: false });
    return last.playing;
  } catch { return false; }
}

const wasPlaying = takeUpLastState();
for (const [label, speed] of speeds) {
  const button = element('button', '', label + '\u00d7');
  button.type = 'button';
  button.addEventListener('click', () => setSpeed(speed));
  byId('speeds').append(button);
}
const versions = data.versions.map((name, i) => [name, i]);
fill(byId('take'), takes.map((name) => [name, name]), state.take, (name) => { state.take = name; choose(); });
fill(byId('version_a'), versions, state.a, (value) => { state.a = Number(value); choose(); });
fill(byId('version_b'), [['none', -1], ...versions], state.b, (value) => { state.b = Number(value); choose(); });
byId('version_a').parentNode.hidden = byId('version_b').parentNode.hidden = data.versions.length < 2;
byId('take').parentNode.hidden = takes.length < 2;
byId('play').addEventListener('click', toggle);
byId('back').addEventListener('click', () => step(-1));
byId('forth').addEventListener('click', () => step(1));
byId('loop').addEventListener('click', keys.l);
byId('flip').addEventListener('click', flip);
byId('scrub').addEventListener('input', (event) => { pause(); seek(Number(event.target.value)); });
onHover = () => { for (const chart of charts) chart.show(state.time); };
document.addEventListener('visibilitychange', () => { stamp = null; });
let width = window.innerWidth;
window.addEventListener('resize', () => { if (window.innerWidth !== width) { width = window.innerWidth; choose(); } });
for (const media of ['(prefers-color-scheme: dark)', 'print'])
  matchMedia(media).addEventListener('change', () => { readPalette(); choose(); });
document.fonts.ready.then(choose);
choose();
if (wasPlaying) play();
if (document.body.dataset.newest) lookAgain(document.body.dataset.newest, document.body.dataset.state);

// The page that is played by hand stands in this one as a text, and is opened where it is asked for.
byId('play_by_hand')?.addEventListener('click', () => {
  const frame = element('iframe');
  frame.title = 'Play it by hand';
  frame.srcdoc = JSON.parse(byId('hands_page').textContent);
  byId('hands_place').replaceChildren(frame);
  frame.focus();
});
