// Which key, wheel, pointer or stick of a pad moves which control; and what hands do, as inputs of the session.

const spareKeys = ['KeyE', 'KeyQ', 'KeyF', 'KeyR', 'KeyC', 'KeyV', 'KeyX', 'KeyZ', 'KeyT', 'KeyG', 'KeyB', 'KeyY', 'KeyH', 'KeyN', 'KeyU', 'KeyJ', 'KeyM', 'KeyI', 'KeyK', 'KeyO', 'KeyL', 'KeyP'];
const walkKeys = { KeyW: [0, -1], KeyS: [0, 1], KeyA: [-1, 0], KeyD: [1, 0] };
const signs = { ArrowLeft: '\u2190', ArrowRight: '\u2192', ArrowUp: '\u2191', ArrowDown: '\u2193', Equal: '=', Minus: '\u2212', Comma: ',', Period: '.' };
const keyName = (code) => signs[code] ?? code.replace(/^Key|^Digit/, '').toLowerCase();
const storeKey = 'stasis.hands.keys';

/** Everything that a hand can do to a feel, each as { name, kind, control, button }. */
function inputsOf(about) {
  const inputs = [];
  about.controls.forEach((control, c) => {
    const add = (name, kind, more = {}) => inputs.push({ name, kind, control: c, button: 0, moves: control.moves, ...more });
    if (control.moved_by === 'press' && control.buttons.length > 0) control.buttons.forEach((button, b) => add(button, 'press', { button: b }));
    else if (control.moved_by === 'press') add(control.name, 'press');
    else if (control.moved_by === 'click') { add(control.name + ' up', 'click', { count: 1 }); add(control.name + ' down', 'click', { count: -1 }); }
    else if (control.moved_by === 'pointer') add(control.name, 'pointer');
    else if (control.moved_by === 'stick') { add(control.name + ' \u2212', 'stick', { value: -1 }); add(control.name + ' +', 'stick', { value: 1 }); }
  });
  about.shakes.forEach((name, s) => inputs.push({ name, kind: 'hit', shake: s }));
  return inputs;
}

/** A key for each input that takes one: its own letter if that is free, arrows for sticks, digits for hits. */
function usualKeys(inputs) {
  const taken = new Set(Object.keys(walkKeys)), keys = new Map();
  const give = (input, wished) => {
    const code = wished.concat(spareKeys).find((one) => !taken.has(one));
    if (code === undefined) return;
    taken.add(code);
    keys.set(input.name, code);
  };
  const arrows = [['ArrowLeft', 'ArrowRight'], ['ArrowDown', 'ArrowUp'], ['Comma', 'Period']];
  let sticks = 0, hits = 0, presses = 0;
  for (const input of inputs) {
    if (input.kind === 'stick') give(input, (arrows[sticks >> 1] ?? []).slice(sticks & 1, (sticks & 1) + 1)), ++sticks;
    else if (input.kind === 'hit') give(input, ['Digit' + ++hits]);
    else if (input.kind === 'press') give(input, [presses++ === 0 ? 'Space' : '', 'Key' + input.name[0].toUpperCase()].filter((code) => /^Space$|^Key[A-Z]$/.test(code)));
    else if (input.kind === 'click') give(input, input.count > 0 ? ['Equal'] : ['Minus']);
  }
  return keys;
}

class Bindings {
  /** @param act called with what is done: (session) => void; it is done to every version alike. */
  constructor(about, act) {
    this.act = act;
    this.down = new Map(); // name of an input -> what holds it
    this.walking = new Set();
    this.touched = { x: 0, y: 0 };
    this.learn(about);
  }

  learn(about) {
    this.about = about;
    this.inputs = inputsOf(about);
    this.keys = usualKeys(this.inputs);
    try {
      for (const [name, code] of Object.entries(JSON.parse(localStorage.getItem(storeKey) ?? '{}')))
        if (this.keys.has(name)) this.rebind(name, code, false);
    } catch { /* a page from disk may have nowhere to keep them */ }
    this.wheel = this.inputs.filter((input) => input.kind === 'click').slice(0, 2);
    this.pointers = this.inputs.filter((input) => input.kind === 'pointer');
    this.axes = about.controls.map((control, c) => ({ control, c })).filter(({ control }) => control.moved_by === 'stick');
    this.padButtons = this.inputs.filter((input) => input.kind === 'press' || input.kind === 'hit');
  }

  rebind(name, code, keep = true) {
    for (const [other, held] of this.keys) if (held === code && other !== name) this.keys.set(other, this.keys.get(name));
    this.keys.set(name, code);
    if (!keep) return;
    try { localStorage.setItem(storeKey, JSON.stringify(Object.fromEntries(this.keys))); } catch { /* as above */ }
  }

  begin(input, by) {
    if (this.down.has(input.name)) return;
    this.down.set(input.name, by);
    if (input.kind === 'press') this.act((session) => session.press(input.control, input.button));
    else if (input.kind === 'click') this.act((session) => session.click(input.control, input.count));
    else if (input.kind === 'hit') this.act((session) => session.hit(input.shake, 1));
    else if (input.kind === 'stick') this.pushStick(input.control);
  }
  end(input) {
    if (!this.down.delete(input.name)) return;
    if (input.kind === 'press') this.act((session) => session.release(input.control, input.button));
    else if (input.kind === 'stick') this.pushStick(input.control);
  }
  /** Two keys that act as one stick: opposed, they make nothing. */
  pushStick(control) {
    const value = this.inputs.filter((one) => one.kind === 'stick' && one.control === control && this.down.has(one.name)).reduce((all, one) => all + one.value, 0);
    this.act((session) => session.stick(control, value));
  }

  key(code, isDown) {
    if (walkKeys[code]) { if (isDown) this.walking.add(code); else this.walking.delete(code); return true; }
    const input = this.inputs.find((one) => this.keys.get(one.name) === code);
    if (!input) return false;
    if (isDown) this.begin(input, 'key'); else this.end(input);
    return true;
  }
  turnWheel(clicks) {
    const input = this.wheel[clicks > 0 ? 0 : 1];
    if (input) this.act((session) => session.click(input.control, clicks > 0 ? Math.ceil(clicks) : Math.floor(clicks)));
  }
  movePointer(right, down) {
    if (this.pointers[0] && right !== 0) this.act((session) => session.pointer(this.pointers[0].control, right));
    if (this.pointers[1] && down !== 0) this.act((session) => session.pointer(this.pointers[1].control, down));
  }
  /** What was begun is taken from the hand, which has not let go: nothing is done that letting go would do. */
  giveUp(input) {
    if (!this.down.delete(input.name)) return;
    if (input.kind === 'press') this.act((session) => session.cancel(input.control));
    else if (input.kind === 'stick') this.pushStick(input.control);
  }
  /** The window lost its focus, or a menu opened. */
  cancel() {
    for (const input of this.inputs) this.giveUp(input);
    this.down.clear();
    this.walking.clear();
  }

  /** Looks at a game pad, if one is there: its sticks and its buttons. */
  poll() {
    const pad = navigator.getGamepads?.().find(Boolean);
    if (!pad) return;
    this.axes.forEach(({ c }, k) => {
      const raw = pad.axes[k] ?? 0, value = Math.abs(raw) < 0.02 ? 0 : Math.max(-1, Math.min(1, raw));
      if (this.padAxes?.[k] === value) return;
      (this.padAxes ??= [])[k] = value;
      this.act((session) => session.stick(c, value));
    });
    this.padButtons.forEach((input, k) => {
      const pressed = pad.buttons[k]?.pressed ?? false, held = this.down.get(input.name) === 'pad';
      if (pressed && !held) this.begin(input, 'pad');
      if (!pressed && held) this.end(input);
    });
  }

  /** Which way the subject is walked: right and back, of length 1 at most. */
  walk() {
    const way = [...this.walking].reduce((all, code) => [all[0] + walkKeys[code][0], all[1] + walkKeys[code][1]], [0, 0]);
    const length = Math.hypot(...way);
    return length > 1 ? way.map((part) => part / length) : way;
  }
}
