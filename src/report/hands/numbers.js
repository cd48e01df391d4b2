// Every number of the feel as a slider in its natural scale.

/** A number as it is written into the feel: short, and near enough. */
function written(number, value) {
  const digits = number.by === 'factor' ? 3 : Math.max(3, Math.ceil(Math.log10(Math.abs(value) / Math.max(number.to - number.from, 1e-12)) + 3));
  const text = String(Number(value.toPrecision(Math.min(12, Math.max(1, digits)))));
  return number.has_unit ? `${text} ${number.unit}` : text;
}

const short = (value) => String(Number(value.toPrecision(6)));

/** What is turned most comes first: motions, settings, shakes, goals; ranges come last. */
const order = ['motion', 'setting', 'shake', 'pose', 'control', 'switch', 'channel'];
const rankOf = ({ path }) => (/\.range(\[|$)/.test(path) ? order.length + 1 : (order.indexOf(path.split('.')[0]) + order.length + 1) % (order.length + 1));
const byUse = (a, b) => rankOf(a) - rankOf(b);

class NumberRows {
  /** @param change called with a path and what is written there; @param begin called before a drag. */
  constructor(holder, change, begin) {
    this.holder = holder;
    this.change = change;
    this.begin = begin;
    this.rows = new Map();
    this.first = new Map();
  }

  /** Shows what stands in the feel; rows that stay keep the hand that is on them. */
  show(numbers, filter) {
    const words = filter.toLowerCase().split(/\s+/).filter(Boolean);
    const wanted = numbers.filter((number) => words.every((word) => number.path.toLowerCase().includes(word))).sort(byUse);
    const shape = wanted.map((number) => number.path).join('\n');
    for (const number of numbers) if (!this.first.has(number.path)) this.first.set(number.path, number.value);
    if (shape !== this.shape) this.build(wanted);
    this.shape = shape;
    for (const number of wanted) this.update(number);
  }

  /** What stands in the file now is what later changes are told against. */
  saved(numbers) { for (const { path, value } of numbers) this.first.set(path, value); }

  /** What is not as it was when the page was opened, in words; empty if all is. */
  changes(numbers) {
    const changed = numbers.filter(({ path, value }) => this.first.has(path) && this.first.get(path) !== value);
    const told = changed.slice(0, 2).map(({ path, value }) => `${path} ${short(this.first.get(path))} \u2192 ${short(value)}`);
    return told.join(', ') + (changed.length > told.length ? ` and ${changed.length - told.length} more` : '');
  }

  build(numbers) {
    this.rows.clear();
    const pieces = [];
    let group = null;
    for (const number of numbers) {
      const parts = number.path.split('.'), head = parts.slice(0, 2).join('.');
      if (head !== group) pieces.push(element('h3', '', head));
      group = head;
      const row = element('label', 'number'), name = element('span', '', parts.slice(2).join('.') || head), slider = element('input'), text = element('input');
      row.title = `${number.path}: ${number.meaning}`;
      slider.type = 'range';
      slider.min = 0;
      slider.max = 1000;
      slider.setAttribute('aria-label', number.path);
      text.type = 'text';
      text.inputMode = 'decimal';
      text.setAttribute('aria-label', number.path + ', value');
      const was = element('span', 'was');
      name.append(was);
      row.append(name, slider, text, element('span', 'unit', number.unit));
      pieces.push(row);
      const entry = { row, slider, text, was, number };
      this.rows.set(number.path, entry);
      slider.addEventListener('pointerdown', () => this.begin());
      slider.addEventListener('input', () => this.change(entry.number.path, written(entry.number, this.valueAt(entry, slider.value / 1000))));
      slider.addEventListener('dblclick', () => { this.begin(); this.change(number.path, written(number, this.first.get(number.path))); });
      text.addEventListener('change', () => { this.begin(); this.change(number.path, number.has_unit && /^[-+.\deE]+$/.test(text.value.trim()) ? `${text.value.trim()} ${number.unit}` : text.value.trim()); });
    }
    if (pieces.length === 0) pieces.push(element('p', 'muted', 'No number of that name.'));
    this.holder.replaceChildren(...pieces);
  }

  /** The scale of a slider stays while it is dragged, and grows where a value lies beyond it. */
  update(number) {
    const entry = this.rows.get(number.path), { slider, text, row } = entry;
    if (entry.from === undefined || number.value < entry.from || number.value > entry.to) { entry.from = number.from; entry.to = number.to; }
    entry.number = number;
    const share = this.shareOf(entry, number.value);
    if (document.activeElement !== slider || !this.held) slider.value = Math.round(1000 * share);
    if (document.activeElement !== text) text.value = short(number.value);
    const first = this.first.get(number.path), isChanged = number.value !== first;
    row.classList.toggle('changed', isChanged);
    entry.was.textContent = isChanged ? `was ${short(first)}` : '';
  }

  shareOf({ number, from, to }, value) {
    if (!(to > from)) return 0;
    if (number.by === 'factor' && from > 0) return Math.log(value / from) / Math.log(to / from);
    return (value - from) / (to - from);
  }
  valueAt({ number, from, to }, share) {
    if (number.by === 'factor' && from > 0) return from * (to / from) ** share;
    return from + (to - from) * share;
  }
}
