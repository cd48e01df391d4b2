// Stasis in JavaScript: stasis.h as classes, on its WebAssembly module. Needs nothing else; types: stasis.d.mts.

const noSuchCall = 52; // what WASI answers where a system does not offer something

/** A feel is broken, or a call asks for what there is not. `faults` has file, line, column, key, code, message, fix. */
export class StasisFault extends Error {
  constructor(text, faults) {
    super(text);
    this.name = 'StasisFault';
    this.faults = faults;
  }
}

const kinds = ['channel', 'control', 'shake', 'track', 'pose', 'switch', 'take', 'variant', 'setting', 'sequence'];

export class Stasis {
  /** From the bytes of stasis.wasm. The module reads no file, no clock and no network. */
  static async load(bytes) {
    const module = await WebAssembly.compile(bytes);
    const imports = {};
    for (const { module: from, name } of WebAssembly.Module.imports(module))
      (imports[from] ??= {})[name] = name === 'proc_exit' ? (status) => { throw new Error(`the heart has stopped: ${status}`); } : () => noSuchCall;
    const { exports } = await WebAssembly.instantiate(module, imports);
    exports._initialize?.();
    return new Stasis(exports);
  }

  constructor(exports) {
    this.calls = exports;
    this.encoder = new TextEncoder();
    this.decoder = new TextDecoder();
    this.numbers = exports.malloc(8 * 8); // where eight numbers are handed over
    this.faultPlace = exports.malloc(8);
    this.lookAgain();
  }

  /** Memory that has grown is seen anew. */
  lookAgain() {
    if (this.bytes?.buffer === this.calls.memory.buffer) return;
    this.bytes = new Uint8Array(this.calls.memory.buffer);
    this.view = new DataView(this.calls.memory.buffer);
  }

  get version() { return this.textAt(this.calls.stasis_version()); }

  /** The words of feel that tune() takes. */
  words() { return JSON.parse(this.taken(this.calls.stasis_words())); }

  textAt(at) {
    if (at === 0) return null;
    this.lookAgain();
    return this.decoder.decode(this.bytes.subarray(at, this.bytes.indexOf(0, at)));
  }

  /** A text that the module has made for us. */
  taken(at) {
    const text = this.textAt(at);
    this.calls.stasis_free(at);
    return text;
  }

  /** Calls `use` with the place of a text, null being none, and its length in bytes. */
  withText(text, use) {
    if (text === null || text === undefined) return use(0, 0);
    const bytes = this.encoder.encode(text), at = this.calls.malloc(bytes.length + 1);
    this.lookAgain();
    this.bytes.set(bytes, at);
    this.bytes[at + bytes.length] = 0;
    try { return use(at, bytes.length); } finally { this.calls.free(at); }
  }

  /** What stands at the place of a list of faults, which is given back. */
  faultAt(place) {
    this.lookAgain();
    const list = this.view.getUint32(place, true), faults = [];
    if (list === 0) return new StasisFault('the call asks for what there is not', []);
    const one = this.calls.malloc(28);
    for (let i = 0; i < this.calls.stasis_fault_count(list); ++i) {
      this.calls.stasis_fault_at(one, list, i);
      this.lookAgain();
      const text = (offset) => this.textAt(this.view.getUint32(one + offset, true));
      faults.push({ code: text(0), file: text(4), line: this.view.getInt32(one + 8, true), column: this.view.getInt32(one + 12, true),
        key: text(16), message: text(20), fix: text(24) });
    }
    this.calls.free(one);
    const words = this.taken(this.calls.stasis_faults_text(list));
    this.calls.stasis_faults_free(list);
    return new StasisFault(words, faults);
  }

  /**
   * A feel under way, before its first frame.
   * @param {{text: string, name?: string, files?: Object<string, string>, variant?: string, take?: string, fps?: number, tick?: number}} source
   */
  open({ text, name = 'feel', files = {}, variant = null, take = null, fps = 0, tick = 0 }) {
    const places = [], put = (value) => {
      if (value === null) return [0, 0];
      const bytes = this.encoder.encode(value), at = this.calls.malloc(bytes.length + 1);
      places.push(at);
      this.lookAgain();
      this.bytes.set(bytes, at);
      this.bytes[at + bytes.length] = 0;
      return [at, bytes.length];
    };
    const given = Object.entries(files), list = this.calls.malloc(12 * given.length + 1), source = this.calls.malloc(48);
    places.push(list, source);
    given.forEach(([key, value], i) => {
      const [keyAt] = put(key), [at, length] = put(value);
      [keyAt, at, length].forEach((word, k) => this.view.setUint32(list + 12 * i + 4 * k, word, true));
    });
    const [nameAt] = put(name), [textAt, length] = put(text), [variantAt] = put(variant), [takeAt] = put(take);
    this.lookAgain();
    [nameAt, textAt, length, list, given.length, variantAt, takeAt].forEach((word, k) => this.view.setUint32(source + 4 * k, word, true));
    this.view.setFloat64(source + 32, fps, true);
    this.view.setFloat64(source + 40, tick, true);
    const session = this.calls.stasis_open(source, this.faultPlace);
    places.forEach((at) => this.calls.free(at));
    if (session === 0) throw this.faultAt(this.faultPlace);
    return new Session(this, session);
  }
}

/** One feel under way: see stasis.h, whose functions these are. Indices count from 0 in the order of the feel. */
export class Session {
  constructor(stasis, handle) {
    this.stasis = stasis;
    this.calls = stasis.calls;
    this.handle = handle;
  }
  close() {
    this.calls.stasis_close(this.handle);
    this.handle = 0;
  }

  find(kind, name) { return this.stasis.withText(name, (at) => this.calls.stasis_find(this.handle, kinds.indexOf(kind), at)); }
  describe() { return JSON.parse(this.stasis.taken(this.calls.stasis_describe(this.handle))); }
  listCurves() { return JSON.parse(this.stasis.taken(this.calls.stasis_curves(this.handle))); }
  listNumbers() { return JSON.parse(this.stasis.taken(this.calls.stasis_numbers(this.handle))); }
  explain(channel) { return this.stasis.taken(this.calls.stasis_explain(this.handle, channel)); }

  press(control, button = 0) { this.calls.stasis_press(this.handle, control, button); }
  release(control, button = 0) { this.calls.stasis_release(this.handle, control, button); }
  cancel(control) { this.calls.stasis_cancel(this.handle, control); }
  click(control, count) { this.calls.stasis_click(this.handle, control, count); }
  pointer(control, counts) { this.calls.stasis_pointer(this.handle, control, counts); }
  stick(control, deflection) { this.calls.stasis_stick(this.handle, control, deflection); }
  lock(control, locked) { this.calls.stasis_lock(this.handle, control, locked ? 1 : 0); }
  hit(shake, strength = 1) { this.calls.stasis_hit(this.handle, shake, strength); }
  start(sequence) { this.calls.stasis_start(this.handle, sequence); }
  skip(sequence) { this.calls.stasis_skip(this.handle, sequence); }
  gameSpeed(speed, over = 0) { this.calls.stasis_game_speed(this.handle, speed, over); }
  goal(channel, component, value) { this.calls.stasis_goal(this.handle, channel, component, value); }
  follow(channel, track) { this.calls.stasis_follow(this.handle, channel, track); }
  place(track, x, y = 0, z = 0) { this.calls.stasis_place(this.handle, track, x, y, z); }

  advance(dt) { this.calls.stasis_advance(this.handle, dt); }
  get frame() { return Number(this.calls.stasis_frame(this.handle)); }
  get time() { return this.calls.stasis_time(this.handle); }
  get gameTime() { return this.calls.stasis_game_time(this.handle); }
  value(channel, component = 0) { return this.calls.stasis_value(this.handle, channel, component); }
  smooth(channel, component = 0) { return this.calls.stasis_smooth(this.handle, channel, component); }
  goalOf(channel, component = 0) { return this.calls.stasis_goal_of(this.handle, channel, component); }
  velocity(channel, component = 0) { return this.calls.stasis_velocity(this.handle, channel, component); }
  isDown(control) { return this.calls.stasis_is_down(this.handle, control) !== 0; }
  state(control) { return this.calls.stasis_state(this.handle, control); }
  isIn(which) { return this.calls.stasis_is_in(this.handle, which) !== 0; }
  isRunning(sequence) { return this.calls.stasis_is_running(this.handle, sequence) !== 0; }
  strength(shake) { return this.calls.stasis_strength(this.handle, shake); }
  handed(call, count, ...more) {
    const place = this.stasis.numbers;
    if (call(this.handle, ...more, place) === 0) return null;
    this.stasis.lookAgain();
    return Array.from({ length: count }, (_, i) => this.stasis.view.getFloat64(place + 8 * i, true));
  }
  /** Place and turn (x, y, z, w); null where the picture places no eye in space. */
  eye() { return this.handed(this.calls.stasis_eye, 7); }
  camera() { return this.handed(this.calls.stasis_camera, 8); }
  subject(track) { return this.handed(this.calls.stasis_subject, 3, track); }
  notes() { return (this.stasis.taken(this.calls.stasis_notes(this.handle)) ?? '').split('\n').filter(Boolean); }

  /** All of it at this frame: restore() leads back, forget() gives its memory back. */
  save() {
    const moment = this.calls.stasis_save(this.handle);
    return { restore: () => this.calls.stasis_restore(this.handle, moment) !== 0, forget: () => this.calls.stasis_moment_free(moment) };
  }

  changed(done) { if (done === 0) throw this.stasis.faultAt(this.stasis.faultPlace); }
  get text() { return this.stasis.taken(this.calls.stasis_text(this.handle)); }
  reload(text) {
    this.stasis.withText(text, (at, length) => this.changed(this.calls.stasis_reload(this.handle, at, length, this.stasis.faultPlace)));
  }
  set(path, value) {
    this.stasis.withText(path, (pathAt) => this.stasis.withText(String(value), (at) =>
      this.changed(this.calls.stasis_set(this.handle, pathAt, at, this.stasis.faultPlace))));
  }
  tune(name, word, amount = 1) {
    this.stasis.withText(name, (nameAt) => this.stasis.withText(word, (at) =>
      this.changed(this.calls.stasis_tune(this.handle, nameAt, at, amount, this.stasis.faultPlace))));
  }
  useVariant(name) { this.stasis.withText(name, (at) => this.changed(this.calls.stasis_use_variant(this.handle, at, this.stasis.faultPlace))); }

  record(keep) { this.calls.stasis_record(this.handle, keep ? 1 : 0); }
  recordedTake(name, clock = null) {
    return this.stasis.withText(name, (at) => this.stasis.withText(clock, (clockAt) => this.stasis.taken(this.calls.stasis_recorded_take(this.handle, at, clockAt))));
  }
  recordedClock() { return this.stasis.taken(this.calls.stasis_recorded_clock(this.handle)); }
  recordedTrack(track) { return this.stasis.taken(this.calls.stasis_recorded_track(this.handle, track)); }
  lastMoves() { return JSON.parse(this.stasis.taken(this.calls.stasis_last_moves(this.handle)) ?? '[]'); }
  measures() { return JSON.parse(this.stasis.taken(this.calls.stasis_measures(this.handle)) ?? 'null'); }
}
