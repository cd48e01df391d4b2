// Every curve of the feel, bent by its handles.

const thousandths = (value) => Math.round(1000 * value) / 1000;

/** A curve as it is written into the feel, by its handles. */
const curveText = {
  bezier: ([[x1, y1], [x2, y2]]) => `cubic-bezier(${[x1, y1, x2, y2].map(thousandths).join(', ')})`,
  stops: (stops) => `linear(${stops.map(([time, way]) => `${thousandths(way)} ${thousandths(100 * time)}%`).join(', ')})`,
  points: (points) => `[${points.map((point) => `[${point.map(thousandths).join(', ')}]`).join(', ')}]`,
};

/** A part of a picture. */
function drawn(tag, attributes) {
  const part = document.createElementNS('http://www.w3.org/2000/svg', tag);
  for (const [name, value] of Object.entries(attributes)) part.setAttribute(name, value);
  return part;
}

const perCent = (share) => `${Math.round(1000 * share) / 10} %`;

const leastApart = 0.005; // of the time, between points
const wide = 240, high = 150, edge = 14; // of a picture, in its own units

class CurveRows {
  /** @param change called with a path and what is written there; @param begin called before a drag. */
  constructor(holder, change, begin) {
    this.holder = holder;
    this.change = change;
    this.begin = begin;
    this.rows = new Map();
    this.first = new Map(); // by path: the curve as it was when the page was opened
  }

  /** Shows what stands in the feel; the picture that a hand is on keeps its scale. */
  show(curves) {
    const shape = curves.map((curve) => `${curve.path} ${curve.handles} ${curve.handle.length}`).join('\n');
    if (shape !== this.shape) this.build(curves);
    this.shape = shape;
    for (const curve of curves) {
      if (!this.first.has(curve.path)) this.first.set(curve.path, curve.shown);
      this.update(curve);
    }
  }

  build(curves) {
    const held = document.activeElement?.dataset?.handle;
    this.rows.clear();
    const pieces = curves.map((curve) => {
      const box = element('figure', 'curve'), picture = drawn('svg', { viewBox: `0 0 ${wide} ${high}`, role: 'group' }), text = element('figcaption');
      picture.setAttribute('aria-label', curve.path);
      const path = element('b', '', curve.path), words = element('code');
      text.append(path, ' ', words);
      box.append(picture, text);
      this.rows.set(curve.path, { box, picture, words });
      picture.addEventListener('dblclick', (event) => this.add(curve.path, event));
      return box;
    });
    if (pieces.length === 0) pieces.push(element('p', 'muted', 'This feel has no curve. Eased moves have one: kind = "ease".'));
    else pieces.push(element('p', 'muted', 'Drag a handle, or move it with the arrow keys. A double click adds a point where there are some; Delete removes one.'));
    this.holder.replaceChildren(...pieces);
    if (held) this.holder.querySelector(`[data-handle="${CSS.escape(held)}"]`)?.focus();
  }

  update(curve) {
    const row = this.rows.get(curve.path);
    if (!row.dragged) {
      const reached = [...curve.shown, ...curve.handle.map(([, way]) => way)];
      row.low = Math.min(-0.15, ...reached.map((way) => way - 0.1));
      row.top = Math.max(1.15, ...reached.map((way) => way + 0.1));
    }
    row.curve = curve;
    const held = row.handles?.indexOf(document.activeElement) ?? -1;
    const place = curve.handle[held];
    row.words.textContent = (curve.text || `${curve.handle.length} points`) + (place ? `, handle ${held + 1} at ${perCent(place[0])} of the time, ${perCent(place[1])} of the way` : '');
    row.box.title = curve.handles === 'bezier' && !curve.is_exact ? 'A shape: it becomes a cubic-bezier when a handle is moved.' : '';
    const at = ([time, way]) => [edge + time * (wide - 2 * edge), edge + ((row.top - way) / (row.top - row.low)) * (high - 2 * edge)];
    const line = (places) => places.map((place) => at(place).map((number) => number.toFixed(1)).join(',')).join(' ');
    const pieces = [drawn('polyline', { class: 'frame', points: line([[0, 1], [1, 1]]) }), drawn('polyline', { class: 'frame', points: line([[0, 0], [1, 0]]) })];
    if (curve.handles === 'bezier') for (const [end, handle] of [[[0, 0], curve.handle[0]], [[1, 1], curve.handle[1]]]) pieces.push(drawn('polyline', { class: 'arm', points: line([end, handle]) }));
    const first = this.first.get(curve.path);
    if (first.some((way, k) => way !== curve.shown[k])) pieces.push(drawn('polyline', { class: 'was', points: line(first.map((way, k) => [k / (first.length - 1), way])) }));
    for (const [label, way, below] of [['goal', 1, -3], ['start', 0, 10]]) {
      const [x, y] = at([0, way]), text = drawn('text', { x: x + 10, y: y + below });
      text.textContent = label;
      pieces.push(text);
    }
    pieces.push(drawn('polyline', { class: 'way', points: line(curve.shown.map((way, k) => [k / (curve.shown.length - 1), way])) }));
    if (!row.handles || row.handles.length !== curve.handle.length) {
      row.handles = curve.handle.map((_, k) => this.handle(curve.path, k));
    }
    row.handles.forEach((circle, k) => {
      const [x, y] = at(curve.handle[k]);
      circle.setAttribute('cx', x.toFixed(1));
      circle.setAttribute('cy', y.toFixed(1));
      circle.setAttribute('aria-valuetext', `${shown(curve.handle[k][0], 1000)} of the time, ${shown(curve.handle[k][1], 1000)} of the way`);
    });
    // What is held must stay in the page: the browser takes a pointer from what is taken out.
    row.lines?.remove();
    row.lines = drawn('g', {});
    row.lines.append(...pieces);
    row.picture.prepend(row.lines);
    for (const circle of row.handles) if (circle.parentNode !== row.picture) row.picture.append(circle);
  }

  handle(path, k) {
    const circle = drawn('circle', { r: 6, tabindex: 0, role: 'slider', 'aria-valuenow': 0, 'aria-label': `${path}, handle ${k + 1}`, 'data-handle': `${path} ${k}` });
    const row = this.rows.get(path);
    circle.addEventListener('pointerdown', (event) => {
      event.preventDefault();
      circle.focus();
      circle.setPointerCapture(event.pointerId);
      row.dragged = k;
      this.begin();
    });
    circle.addEventListener('pointermove', (event) => { if (row.dragged === k) this.move(path, k, this.placeOf(row, event)); });
    for (const end of ['pointerup', 'pointercancel']) circle.addEventListener(end, () => { row.dragged = undefined; });
    circle.addEventListener('keydown', (event) => {
      const step = event.shiftKey ? 0.05 : 0.01, ways = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] };
      if (event.code === 'Delete' && row.curve.handles !== 'bezier' && k > 0 && k < row.curve.handle.length - 1) {
        this.begin();
        this.write(path, row.curve.handles, row.curve.handle.filter((_, index) => index !== k));
      } else if (ways[event.code]) {
        this.begin();
        this.move(path, k, row.curve.handle[k].map((number, axis) => number + ways[event.code][axis]));
      } else return;
      event.preventDefault();
      event.stopPropagation();
    });
    return circle;
  }

  placeOf(row, event) {
    const box = row.picture.getBoundingClientRect();
    const x = ((event.clientX - box.left) / box.width) * wide, y = ((event.clientY - box.top) / box.height) * high;
    return [(x - edge) / (wide - 2 * edge), row.top - ((y - edge) / (high - 2 * edge)) * (row.top - row.low)];
  }

  /** A handle at another place, as far as the curve allows: a time between those of its neighbours; ends stay. */
  move(path, k, [time, way]) {
    const { curve } = this.rows.get(path), last = curve.handle.length - 1, places = curve.handle.map((place) => [...place]);
    const isPoint = curve.handles !== 'bezier';
    if (isPoint && (k === 0 || k === last)) return;
    const apart = curve.handles === 'points' ? leastApart : 0;
    const low = isPoint ? places[k - 1][0] + apart : 0, top = isPoint ? places[k + 1][0] - apart : 1;
    places[k] = [Math.min(Math.max(time, low), top), Math.min(Math.max(way, -3), 4)];
    this.write(path, curve.handles, places);
  }

  /** A point more, where the double click was. */
  add(path, event) {
    const row = this.rows.get(path), { curve } = row;
    if (curve.handles !== 'points' && curve.handles !== 'stops') return;
    const place = this.placeOf(row, event), index = curve.handle.findIndex(([time]) => time > place[0]);
    if (index <= 0 || place[0] - curve.handle[index - 1][0] < leastApart || curve.handle[index][0] - place[0] < leastApart) return;
    this.begin();
    this.write(path, curve.handles, [...curve.handle.slice(0, index), place, ...curve.handle.slice(index)]);
  }

  write(path, handles, places) {
    const row = this.rows.get(path);
    row.curve = { ...row.curve, handle: places }; // the next key may come before the feel is read again
    this.change(path, curveText[handles](places));
  }
}
