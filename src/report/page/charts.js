// One chart for each component that moves: light while it rests, heavy while it moves, a diamond where it has settled.
const charts = [];
let hoverTime = null;

/** Values with gaps wherever the channel rests. */
function whileMoving(run, channel, values) {
  const spans = movingSpans(run, channel.name);
  return values.map((value, row) => spans.some((span) => span.from <= run.times[row] && run.times[row] <= span.to) ? value : null);
}

/** Several runs on one axis of time: the times of all, and each column with what the run has there (or a gap). */
function joinedTimes(runs) {
  const times = [...new Set(runs.flatMap((run) => run.times))].sort((a, b) => a - b);
  const spread = (run, column) => {
    if (times.length === run.times.length) return column;
    const at = new Map(run.times.map((time, row) => [time, row]));
    return times.map((time) => at.has(time) ? column[at.get(time)] : undefined);
  };
  return { times, spread };
}

function niceSplits(low, high, most) {
  const raw = (high - low) / most, size = 10 ** Math.floor(Math.log10(raw));
  const step = [1, 2, 2.5, 5, 10].map((k) => k * size).find((s) => s >= raw * (1 - 1e-9));
  const splits = [];
  for (let k = Math.ceil(low / step - 1e-9); k * step <= high + 1e-9 * step; ++k) splits.push(k * step);
  return splits;
}

function drawHoldWash(u, run) {
  const { ctx, bbox } = u;
  ctx.save();
  ctx.fillStyle = palette.wash;
  for (const input of run.measures.inputs) {
    if (!run.holds.includes(input.control)) continue;
    const from = u.valToPos(input.from, 'x', true), to = u.valToPos(input.to === null ? run.end : input.to, 'x', true);
    ctx.fillRect(from, bbox.top, to - from, bbox.height);
  }
  ctx.restore();
}

function drawDiamonds(u, run, index, component, stroke) {
  const { ctx } = u, scale = window.devicePixelRatio || 1, size = 4.5 * scale;
  ctx.save();
  ctx.lineWidth = 1.6 * scale;
  ctx.strokeStyle = stroke;
  ctx.fillStyle = palette.paper;
  for (const span of movingSpans(run, run.channels[index].name)) {
    if (!span.settled) continue;
    const x = u.valToPos(span.to, 'x', true), y = u.valToPos(valueAt(run, index, component, span.to), 'y', true);
    ctx.beginPath();
    ctx.moveTo(x, y - size);
    ctx.lineTo(x + size, y);
    ctx.lineTo(x, y + size);
    ctx.lineTo(x - size, y);
    ctx.closePath();
    ctx.fill();
    ctx.stroke();
  }
  ctx.restore();
}

class Chart {
  /** @param runs one or two runs; @param indices the channel's place in each; @param seek called with a time. */
  constructor(runs, indices, component, seek) {
    this.runs = runs;
    this.indices = indices;
    this.component = component;
    const channel = runs[0].channels[indices[0]];
    this.columns = runs.map((run, k) => run.channels[indices[k]].value[component]);
    const goals = runs.map((run, k) => run.channels[indices[k]].goal[component]);
    [this.low, this.high] = bounds(...this.columns, ...goals);
    this.box = element('div', 'chart');
    this.box.dataset.component = componentName(channel, component);
    const name = element('div', 'name');
    const title = element('span');
    title.append(element('b', '', componentName(channel, component)), ' ' + channel.unit);
    title.title = componentName(channel, component);
    this.read = element('span', 'read');
    name.append(title, this.read);
    this.holder = element('div');
    this.box.append(name, this.holder);
    this.head = element('div', 'head');
    this.goals = goals;
    this.unit = channel.unit;
    this.seek = seek;
  }

  build(width, sync) {
    const { times, spread } = joinedTimes(this.runs);
    const pad = (this.high - this.low) * 0.08 || Math.abs(this.high) * 0.05 || 1;
    const range = [this.low - pad, this.high + pad];
    const series = [{}], columns = [times];
    const add = (k, column, options) => {
      columns.push(spread(this.runs[k], column));
      series.push({ pxAlign: 0, points: { show: false }, spanGaps: false, ...options });
    };
    this.runs.forEach((run, k) => {
      const stroke = k === 0 ? palette.a : palette.b, channel = run.channels[this.indices[k]];
      add(k, this.goals[k], { stroke: stroke + '80', width: 1, paths: uPlot.paths.stepped({ align: 1 }) });
      add(k, this.columns[k], { stroke, width: 1.2 });
      add(k, whileMoving(run, channel, this.columns[k]), { stroke, width: 2.6 });
    });
    const font = '12px Inter, sans-serif';
    this.plot = new uPlot({
      width, height: this.height, padding: [6, 10, 0, 0], legend: { show: false }, series,
      cursor: { y: false, points: { show: false }, drag: { x: false, y: false, setScale: false }, sync: { key: sync.key } },
      scales: { x: { time: false, range: [0, times[times.length - 1] || 1] }, y: { range } },
      axes: [
        { stroke: palette.muted, font, size: 24, gap: 4, grid: { show: false }, ticks: { show: false },
          splits: (u) => niceSplits(0, u.scales.x.max, 9), values: (u, all) => all.map((v) => String(Number(v.toPrecision(6)))) },
        { stroke: palette.muted, font, size: 48, gap: 6, ticks: { show: false }, grid: { stroke: palette.hairline, width: 1 },
          splits: () => niceSplits(range[0], range[1], 5), values: (u, all) => all.map((v) => minus(String(Number(v.toPrecision(6))))) },
      ],
      hooks: {
        drawClear: [(u) => drawHoldWash(u, this.runs[0])],
        // A new chart knows its scales only once it has been drawn.
        draw: [() => this.placeHead(), (u) => this.runs.forEach((run, k) => drawDiamonds(u, run, this.indices[k], this.component, k === 0 ? palette.a : palette.b))],
        setCursor: [(u) => hover(u)],
      },
    }, columns, this.holder);
    this.plot.over.append(this.head);
    this.plot.over.addEventListener('click', (event) => {
      const left = event.clientX - this.plot.over.getBoundingClientRect().left;
      this.seek(this.plot.posToVal(left, 'x'));
    });
  }

  /** Puts the playhead at a time and tells the values there, or where the pointer is. */
  show(time) {
    this.time = time;
    this.placeHead();
    const at = hoverTime === null ? time : hoverTime;
    const span = this.high - this.low;
    this.read.replaceChildren(element('span', 'muted', at.toFixed(2) + ' s '));
    this.runs.forEach((run, k) => {
      const value = valueAt(run, this.indices[k], this.component, Math.min(at, run.end));
      const text = element('b', k === 0 ? 'a' : 'b', (this.runs.length > 1 ? 'AB'[k] + ' ' : '') + shown(value, span));
      text.dataset.value = value;
      this.read.append(text, ' ');
    });
    this.read.append(element('span', 'muted', this.unit.slice(0, 16)));
  }

  placeHead() {
    const left = this.plot ? this.plot.valToPos(this.time || 0, 'x') : NaN;
    if (Number.isFinite(left)) this.head.style.left = left + 'px';
  }

  destroy() {
    this.plot.destroy();
    this.box.remove();
  }
}

let onHover = () => {};
function hover(u) {
  // A crosshair carried over from another chart has no event of its own there; its place counts all the same.
  const left = u.cursor.left;
  const time = left === undefined || left < 0 ? null : u.data[0][u.cursor.idx];
  if (time === undefined || time === hoverTime) return;
  hoverTime = time;
  onHover();
}

/** Builds the charts of what moves in the chosen runs. \returns the names of what never moves. */
function buildCharts(holder, runs, seek) {
  for (const chart of charts.splice(0)) chart.destroy();
  hoverTime = null;
  const resting = [];
  runs[0].channels.forEach((channel, c) => {
    const indices = runs.map((run) => run.channels.findIndex((other) => other.name === channel.name));
    if (indices.some((index, k) => index < 0 || runs[k].channels[index].value.length !== channel.value.length)) return;
    channel.value.forEach((_, i) => {
      const chart = new Chart(runs, indices, i, seek);
      if (chart.low === chart.high) resting.push(componentName(channel, i)); else charts.push(chart);
    });
  });
  const columns = window.innerWidth > 900 ? 2 : 1;
  const width = Math.floor((holder.clientWidth - 24 * (columns - 1)) / columns);
  charts.forEach((chart) => {
    chart.height = 136;
    holder.append(chart.box);
    chart.build(width, { key: 'stasis' });
  });
  return resting;
}
