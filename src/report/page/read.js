// The data of the page and how it is read: which rows, what a value is at a time, how numbers are written.
const data = JSON.parse(document.getElementById('data').textContent);
const byId = (id) => document.getElementById(id);

/** A new element with a class and a text; texts from the feel only ever go through here. */
function element(name, className, text) {
  const made = document.createElement(name);
  if (className) made.className = className;
  if (text !== undefined) made.textContent = text;
  return made;
}

/** Names are shown whole where there is room; nothing but the layout shortens them. */
const runOf = (take, version) => data.runs.find((run) => run.take === take && run.version === version);

for (const run of data.runs) {
  run.steady = !run.times;
  run.times = run.times || run.frames.map((frame) => frame / run.fps);
  run.end = run.times[run.times.length - 1];
  // A column that stands is written once.
  const whole = (column) => column.length === run.frames.length ? column : new Array(run.frames.length).fill(column[0]);
  for (const channel of run.channels) {
    channel.value = channel.value.map(whole);
    channel.goal = channel.goal.map(whole);
  }
  run.camera = run.camera.map(whole);
  for (const track of run.tracks) track.place = track.place.map(whole);
}

/** The last row of a run at or before a time. */
function rowAt(run, time) {
  if (run.whole && run.steady) {
    let row = Math.max(0, Math.min(run.times.length - 1, Math.floor(time * run.fps)));
    while (row + 1 < run.times.length && run.times[row + 1] <= time) ++row;
    while (row > 0 && run.times[row] > time) --row;
    return row;
  }
  let low = 0, high = run.times.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (run.times[middle] <= time) low = middle; else high = middle - 1;
  }
  return low;
}

/** A component's value at a time: that of the row, straight between two rows. */
const valueAt = (run, channel, component, time) => betweenRows(run, run.channels[channel].value[component], time);

function betweenRows(run, values, time) {
  const row = rowAt(run, time);
  if (row + 1 >= values.length || run.times[row] >= time) return values[row];
  const share = (time - run.times[row]) / (run.times[row + 1] - run.times[row]);
  return values[row] + (values[row + 1] - values[row]) * share;
}

/** Of a channel whose goal moves by itself: the stretches in which its values change. */
function runningSpans(run, channel) {
  const spans = [], seen = channel.value.map((values) => 2e-4 * (values.reduce((a, b) => Math.max(a, b)) - values.reduce((a, b) => Math.min(a, b))));
  for (let row = 1; row < run.times.length; ++row) {
    if (!channel.value.some((values, i) => Math.abs(values[row] - values[row - 1]) > seen[i])) continue;
    const last = spans[spans.length - 1];
    if (last && last.to >= run.times[row - 1]) last.to = run.times[row];
    else spans.push({ from: run.times[row - 1], to: run.times[row], settled: false });
  }
  return spans;
}

/** The stretches of time in which a channel moves: from each new goal until it has settled or the next goal comes. */
function movingSpans(run, name) {
  const channel = run.channels.find((one) => one.name === name);
  if (channel.led) return channel.spans = channel.spans || runningSpans(run, channel);
  const moves = run.measures.moves.filter((move) => move.channel === name);
  return moves.map((move, i) => {
    const next = i + 1 < moves.length ? moves[i + 1].start : run.end;
    const settled = typeof move.settling_time === 'number';
    const end = settled ? Math.min(move.start + move.settling_time, next) : next;
    return { from: move.start, to: end, settled: settled && end < next };
  });
}
const isMoving = (run, name, time) => movingSpans(run, name).some((span) => span.from <= time && time < span.to);

/** A click is an instant; its label stays lit for a moment. */
const litForClick = 0.12;

/** The names of the inputs that are down at a time. */
function inputsDown(run, time) {
  return new Set(run.measures.inputs.filter((input) => input.from <= time && (input.to === null || time < Math.max(input.to, input.from + (input.held === 0 ? litForClick : 0))))
    .map((input) => input.control));
}

const minus = (text) => text.replace(/^-/, '\u2212');

/** A number with so many digits that a thousandth of `span` can be seen. */
function shown(value, span) {
  if (!Number.isFinite(value)) return '\u2013';
  const size = span > 0 ? span : Math.abs(value) || 1;
  const decimals = Math.max(0, Math.min(6, 3 - Math.ceil(Math.log10(size))));
  const text = value.toFixed(decimals);
  return minus(Number(text) === 0 ? (0).toFixed(decimals) : text);
}

/** Three significant digits, for tables. */
function brief(value) {
  if (value === null || value === undefined) return '\u2013';
  if (Array.isArray(value)) return value.map(brief).join(', ');
  if (value === 0) return '0';
  const size = Math.floor(Math.log10(Math.abs(value)));
  if (size < -4 || size > 5) return minus(value.toExponential(2));
  return minus(value.toFixed(Math.max(0, 2 - size)));
}

const componentName = (channel, i) => channel.name + (channel.value.length > 1 ? '.' + 'xyz'[i] : '');
const colour = (name) => getComputedStyle(document.documentElement).getPropertyValue('--' + name).trim();
let palette = {};
function readPalette() {
  for (const name of ['paper', 'ink', 'muted', 'hairline', 'axis', 'faint', 'wash', 'hold', 'post', 'wall', 'a', 'b'])
    palette[name] = colour(name);
}
readPalette();

/** A canvas context of `width` x `height` CSS pixels, sharp on any screen. */
function sized(canvas, width, height, options) {
  const scale = window.devicePixelRatio || 1;
  const w = Math.round(width * scale), h = Math.round(height * scale);
  if (canvas.width !== w || canvas.height !== h) {
    canvas.width = w;
    canvas.height = h;
    canvas.style.width = width + 'px';
    canvas.style.height = height + 'px';
  }
  const context = canvas.getContext('2d', options);
  context.setTransform(scale, 0, 0, scale, 0, 0);
  return context;
}
