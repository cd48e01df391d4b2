// What is said in numbers: five tiles, the measures, wants and warnings.
const mainMeasures = ['settling_time', 'rise_time', 'overshoot', 'peak_speed', 'start_kick', 'delay_time', 'lag_distance', 'lag_time', 'framing_error', 'nearest', 'judder_subject_pixels', 'edge_distance_pixels', 'screen_speed', 'coasting_time',
  'top_speed', 'top_speed_jump', 'top_turn_speed', 'top_eye_speed', 'most_roll'];
let allMeasures = false;

const unitOf = (run, channel, measure) => {
  const units = run.measures.units;
  if (/_at(\.[xyz])?$/.test(measure)) return 's';
  const unit = units[channel + '.' + measure] || units[measure] || units[channel] || '';
  return unit === '1' ? '' : unit;
};
const words = (measure) => measure.replaceAll('_', ' ');
const versionName = (run) => data.versions[run.version];

function tile(value, meaning, className) {
  const made = element('div', 'tile');
  made.append(element('b', className, value), element('span', '', meaning));
  made.lastChild.title = meaning;
  return made;
}

function wantsTile(run, letter) {
  const held = run.wants.filter((want) => want.holds).length;
  const who = letter ? letter + ' ' + versionName(run) : versionName(run);
  if (!run.wants.length) return tile('no wants', 'in ' + who, '');
  return tile(held + ' of ' + run.wants.length, 'wants hold in ' + who, held === run.wants.length ? 'good' : 'bad');
}

/** The channel whose measure differs most between two runs by `apart`; null if none has it in both. */
function widest(a, b, measure, apart) {
  let found = null;
  for (const name of Object.keys(a.measures.channels)) {
    const x = a.measures.channels[name][measure], y = b.measures.channels[name] && b.measures.channels[name][measure];
    if (typeof x !== 'number' || typeof y !== 'number') continue;
    if (!found || apart(x, y) > apart(found.x, found.y)) found = { name, x, y };
  }
  return found;
}
const difference = (x, y) => Math.abs(y - x);
const ratio = (x, y) => Math.max(x, y) / Math.max(1e-12, Math.min(x, y));
function largestOf(run, measure) {
  let found = null;
  for (const [name, measures] of Object.entries(run.measures.channels))
    if (typeof measures[measure] === 'number' && (!found || measures[measure] > found.value)) found = { name, value: measures[measure] };
  return found;
}

/** The distance that obstacles hold in, if any does. */
const heldOf = (run) => Object.keys(run.measures.follow).find((name) => run.measures.follow[name].held_time > 0);

/** How two runs keep up with what they follow: the larger number first, and whose it is. */
function followingTiles(a, b) {
  const follower = planOf(a), name = a.channels[follower.channel].name, x = a.measures.follow[name], y = b.measures.follow[name];
  const against = (measure, what) => {
    const unit = unitOf(a, name, measure);
    if (typeof x[measure] !== 'number' || typeof y[measure] !== 'number') return tile('\u2013', what);
    return tile(brief(x[measure]) + ' \u2192 ' + brief(y[measure]) + ' ' + unit, what + ', A \u2192 B');
  };
  const held = heldOf(a), through = held && b.measures.follow[held]
    ? tile(brief(a.measures.follow[held].penetration) + ' \u2192 ' + brief(b.measures.follow[held].penetration) + ' ' + unitOf(a, held, 'penetration'), 'through an obstacle, A \u2192 B')
    : against('top_speed', 'top speed of ' + name);
  return [against('lag_distance', name + ' lags by at most'), against('framing_error', 'subject off the middle at most'), through];
}

function comparingTiles(a, b) {
  const settling = widest(a, b, 'settling_time', difference), over = widest(a, b, 'overshoot', difference);
  const speed = widest(a, b, 'peak_speed', ratio);
  const same = (found, size) => !found || size(found.x, found.y) < 1e-6;
  return [
    same(settling, difference) ? tile('the same', 'time to settle') : tile(brief(difference(settling.x, settling.y)) + ' s',
      (settling.y < settling.x ? 'sooner' : 'later') + ' settled in B (' + settling.name + ')'),
    same(over, difference) ? tile('the same', 'overshoot') : tile(brief(difference(over.x, over.y)) + ' points',
      (over.y < over.x ? 'less' : 'more') + ' overshoot in B (' + over.name + ')'),
    !speed || ratio(speed.x, speed.y) < 1.005 ? tile('as lively', 'A and B, by their peak speeds') : tile(brief(ratio(speed.x, speed.y)) + ' times',
      'the peak speed in ' + (speed.y > speed.x ? 'B' : 'A') + ' (' + speed.name + ')'),
  ];
}
function singleTiles(run) {
  if (planOf(run)) {
    const name = run.channels[planOf(run).channel].name, follow = run.measures.follow[name];
    const one = (measure, what) => tile(brief(follow[measure]) + ' ' + unitOf(run, name, measure), what);
    const held = heldOf(run), through = held
      ? tile(brief(run.measures.follow[held].penetration) + ' ' + unitOf(run, held, 'penetration'), 'through an obstacle at most (' + held + ')')
      : one('top_speed', 'top speed of ' + name);
    return [one('lag_distance', name + ' lags by at most'), one('framing_error', 'subject off the middle at most'), through];
  }
  const settling = largestOf(run, 'settling_time'), over = largestOf(run, 'overshoot'), speed = largestOf(run, 'peak_speed');
  return [
    settling ? tile(brief(settling.value) + ' s', 'longest to settle (' + settling.name + ')') : tile('\u2013', 'nothing settles'),
    over ? tile(brief(over.value) + ' %', 'largest overshoot (' + over.name + ')') : tile('\u2013', 'no overshoot'),
    speed ? tile(brief(speed.value) + ' ' + unitOf(run, speed.name, 'peak_speed'), 'peak speed (' + speed.name + ')') : tile('\u2013', 'nothing moves'),
  ];
}

function showTiles(runs) {
  const tiles = [wantsTile(runs[0], runs[1] ? 'A' : '')];
  if (runs[1]) tiles.push(wantsTile(runs[1], 'B'), ...(planOf(runs[0]) && planOf(runs[1]) ? followingTiles : comparingTiles)(runs[0], runs[1]));
  else {
    const open = runs[0].warnings.filter((warning) => !warning.silenced).length;
    tiles.push(...singleTiles(runs[0]), tile(String(open), open === 1 ? 'warning, see below' : 'warnings' + (open ? ', see below' : ''), open ? 'bad' : 'good'));
  }
  byId('tiles').replaceChildren(...tiles);
}

function table(headings) {
  const made = element('table', 'list'), row = made.createTHead().insertRow();
  for (const [text, numeric] of headings) row.append(element('th', numeric ? 'number' : '', text));
  made.createTBody();
  return made;
}
function addRow(made, cells, className) {
  const row = made.tBodies[0].insertRow();
  if (className) row.className = className;
  for (const [text, cellClass] of cells) row.append(element('td', cellClass || '', text));
  return row;
}

/** How far B is from A; nothing that anyone would see is "same". */
function apartCell(values, said) {
  if (!values.every((value) => typeof value === 'number')) return ['\u2013', 'number muted'];
  const apart = values[1] - values[0];
  return Math.abs(apart) <= 1e-4 * Math.max(...values.map(Math.abs)) ? ['same', 'number muted'] : [said(apart), 'number'];
}

function verdictCell(want) {
  return want ? [(want.holds ? '\u25cf holds' : '\u2715 fails') + ', ' + want.bound, want.holds ? 'good' : 'bad'] : [''];
}

/** A shake that is felt: how hard, how long, and what it does to each component. */
function addShake(made, runs, name) {
  const two = runs.length > 1, layers = runs.map((run) => run.measures.layers[name]);
  if (!layers.some((layer) => layer && layer.peak_amplitude > 0)) return;
  addRow(made, [['shake ' + name]], 'group').cells[0].colSpan = two ? 6 : 3;
  const add = (label, pick, unit) => {
    const values = layers.map((layer) => layer && pick(layer));
    const said = (value) => brief(value) + (value === null || value === undefined ? '' : unit);
    addRow(made, [[label], [said(values[0]), 'number'], ...(two ? [[said(values[1]), 'number'], apartCell(values, said)] : []), [''], ...(two ? [['']] : [])]);
  };
  add('strength at most', (layer) => layer.peak_amplitude, '');
  add('half-life', (layer) => layer.half_life, ' s');
  add('quiet after', (layer) => layer.quiet_after, ' s');
  for (const component of Object.keys(layers.find(Boolean).on)) {
    const unit = runs[0].measures.units[component.split('.')[0]], suffix = unit && unit !== '1' ? ' ' + unit : '';
    add(component + ', peak', (layer) => layer.on[component] && layer.on[component].peak, suffix);
    if (allMeasures) add(component + ', main frequency', (layer) => layer.on[component] && layer.on[component].main_frequency, ' Hz');
  }
}

/** The measures of a channel, or of the camera as a whole; `measuresOf` finds them in a run. */
function addMeasures(made, runs, name, measuresOf) {
  const two = runs.length > 1;
  const wanted = (run, measure) => run.wants.find((want) => want.measure === name + '.' + measure);
  const value = (run, measure) => (measuresOf(run) || {})[measure];
  // Of the main ones those that happened; a want of one that did not is told all the same.
  const keys = Object.keys(measuresOf(runs[0])).filter((measure) => allMeasures || wanted(runs[0], measure) ||
    (mainMeasures.includes(measure) && runs.some((run) => typeof value(run, measure) === 'number')));
  if (!keys.length) return;
  addRow(made, [[name]], 'group').cells[0].colSpan = two ? 6 : 3;
  for (const measure of keys) {
    const values = runs.map((run) => value(run, measure));
    const unit = unitOf(runs[0], name, measure);
    const said = (number) => brief(number) + (number === null || number === undefined || !unit ? '' : ' ' + unit);
    addRow(made, [[words(measure)], [said(values[0]), 'number'], ...(two ? [[said(values[1]), 'number'], apartCell(values, said)] : []),
      ...runs.map((run) => verdictCell(wanted(run, measure)))]);
  }
}

function showMeasures(runs) {
  const two = runs.length > 1;
  const made = table([['measure'], [two ? 'A ' + versionName(runs[0]) : versionName(runs[0]), true],
    ...(two ? [['B ' + versionName(runs[1]), true], ['B \u2212 A', true]] : []), [two ? 'want, A' : 'want'], ...(two ? [['want, B']] : [])]);
  for (const name of Object.keys(runs[0].measures.channels)) {
    const moved = runs.some((run) => run.measures.channels[name] && run.measures.channels[name].travelled > 0);
    if (moved || allMeasures) addMeasures(made, runs, name, (run) => run.measures.channels[name]);
  }
  if (runs[0].measures.camera.top_turn_speed !== undefined) addMeasures(made, runs, 'camera', (run) => run.measures.camera);
  for (const name of Object.keys(runs[0].measures.layers)) addShake(made, runs, name);
  const more = element('button', '', allMeasures ? 'Show the main measures' : 'Show all measures');
  more.type = 'button';
  more.addEventListener('click', () => { allMeasures = !allMeasures; showMeasures(runs); });
  byId('measures').replaceChildren(made, more);
}

function showWants(runs) {
  const made = table([['version'], ['want'], ['bound'], ['found', true], ['']]);
  for (const run of runs)
    for (const want of run.wants)
      addRow(made, [[versionName(run)], [want.measure], [want.bound],
        [want.value === null ? 'did not happen' : brief(want.value) + (want.unit ? ' ' + want.unit : ''), 'number'],
        [want.holds ? '\u25cf holds' : '\u2715 fails', want.holds ? 'good' : 'bad']]);
  const found = table([['version'], ['warning'], ['about'], ['what was found']]);
  for (const run of runs)
    for (const warning of run.warnings)
      addRow(found, [[versionName(run)], [warning.code], [warning.about],
        [warning.message + (warning.silenced ? ' (silenced: ' + warning.silenced + ')' : ''), warning.silenced ? 'muted' : '']]);
  const parts = [];
  parts.push(made.tBodies[0].rows.length ? made : element('p', 'muted', 'The feel wants nothing of this take.'));
  parts.push(found.tBodies[0].rows.length ? found : element('p', 'muted', 'No warnings.'));
  for (const run of runs)
    for (const note of run.measures.notes) parts.push(element('p', 'muted', (runs.length > 1 ? versionName(run) + ': ' : '') + note));
  byId('wants').replaceChildren(...parts);
}
