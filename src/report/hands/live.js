// One version of the feel under way: its session, and its last seconds in the shape that the scene is drawn from.

/** Seconds that are kept to be seen. */
const keptSeconds = 12;

const envelopeOf = (name) => ({ name: `strength of ${name}`, unit: 'of a full hit', space: 'linear', components: 1, rest: [0], low: [0], high: [1], follows: null });

class Live {
  /** @param source what the heart opens; see stasis.mjs. */
  constructor(heart, source) {
    this.heart = heart;
    this.open(source);
  }

  open(source) {
    this.session?.close();
    this.source = source;
    this.session = this.heart.open(source);
    this.session.record(true);
    this.dts = [];
    this.learn();
    this.advance(0);
  }

  /** What is in it, after it was opened or changed. */
  learn() {
    const about = this.session.describe();
    this.about = about;
    const columns = (count) => Array.from({ length: count }, () => []);
    this.run = {
      whole: false, steady: false, frames: [], times: [], end: 0, measures: { moves: [], inputs: [] },
      picture: about.picture, scene_step: about.scene_step, bodies: about.bodies, camera: columns(8),
      // The envelope of each shake is one more value to be seen, after the channels.
      channels: [...about.channels, ...about.shakes.map(envelopeOf)]
        .map((channel) => ({ ...channel, value: columns(channel.components), goal: columns(channel.components), spans: [], led: true })),
      tracks: about.tracks.map((track) => ({ name: track.name, place: columns(track.components) })),
      followers: about.channels.flatMap((channel, c) => channel.follows !== null && channel.components > 1
        ? [{ channel: c, track: channel.follows, offset: [], zone: [] }] : []),
    };
    if (this.run.followers.length === 0) {
      const world = about.tracks.findIndex((track) => track.in_world && track.components > 1);
      if (world >= 0) this.run.followers.push({ channel: 0, track: world, offset: [], zone: [] });
    }
  }

  advance(dt) {
    const { session, run } = this;
    if (session.frame >= 0) this.dts.push(dt);
    session.advance(dt);
    run.times.push(session.time);
    run.frames.push(session.frame);
    run.end = session.time;
    const { length } = this.about.channels;
    run.channels.forEach((channel, c) => channel.value.forEach((values, i) => {
      values.push(c < length ? session.value(c, i) : session.strength(c - length));
      channel.goal[i].push(c < length ? session.goalOf(c, i) : 0);
    }));
    run.tracks.forEach((track, t) => {
      const place = session.subject(t) ?? [NaN, NaN, NaN];
      track.place.forEach((column, i) => column.push(place[i]));
    });
    const camera = session.camera(), last = run.camera.map((column) => column[column.length - 1]);
    // A turn and its opposite are the same; the one beside the last is kept, so that it can be read in between.
    const flips = last[3] !== undefined && [3, 4, 5, 6].reduce((all, k) => all + last[k] * camera[k], 0) < 0;
    run.camera.forEach((column, k) => column.push(flips && k > 2 && k < 7 ? -camera[k] : camera[k]));
    this.forget();
  }

  /** What has gone out of sight is forgotten, much at a time. */
  forget() {
    const { run } = this;
    if (run.times.length < 600 || run.times[300] > run.end - keptSeconds) return;
    const cut = (column) => column.splice(0, 300);
    for (const column of [run.times, run.frames, ...run.camera]) cut(column);
    for (const channel of run.channels) [...channel.value, ...channel.goal].forEach(cut);
    for (const track of run.tracks) track.place.forEach(cut);
  }

  /** Goes on with another text; throws what is wrong with it. */
  change(text) {
    this.session.reload(text);
    this.afterChange();
  }
  set(path, value) {
    this.session.set(path, value);
    this.afterChange();
  }
  afterChange() {
    const shapeOf = ({ channels, shakes, tracks }) => JSON.stringify([channels.map((c) => [c.name, c.components]), shakes, tracks.map((t) => t.name)]);
    const { run } = this, about = this.session.describe();
    if (shapeOf(about) !== shapeOf(this.about)) {
      this.learn();
      this.advance(0);
      return;
    }
    this.about = about;
    Object.assign(run, { picture: about.picture, scene_step: about.scene_step, bodies: about.bodies });
  }
}

/** The values of some channels over the last seconds, two versions over each other. */
class LiveChart {
  constructor(holder) {
    this.box = element('div', 'live');
    this.label = element('p');
    this.canvas = element('canvas');
    this.box.append(this.canvas, this.label);
    holder.append(this.box);
  }

  /** @param lives one or two, of which the first is drawn heavier; @param name of the channel. */
  draw(lives, colours, name, component, width, height) {
    // Drawn beside the page's own painting, not within it: half the time of a frame without a graphics processor.
    const context = sized(this.canvas, width, height, { desynchronized: true }), end = lives[0].run.end, from = end - keptSeconds;
    context.clearRect(0, 0, width, height);
    const lines = lives.map((live) => {
      const channel = live.run.channels.find((one) => one.name === name);
      return channel && component < channel.value.length ? { times: live.run.times, value: channel.value[component], goal: channel.goal[component], channel } : null;
    });
    let low = Infinity, high = -Infinity;
    for (const line of lines.filter(Boolean))
      for (let k = line.times.length - 1; k >= 0 && line.times[k] >= from; --k) {
        low = Math.min(low, line.value[k], line.goal[k]);
        high = Math.max(high, line.value[k], line.goal[k]);
      }
    if (!(high > low)) { const size = Math.abs(low) * 0.05 || 1; low -= size; high += size; }
    const x = (time) => (time - from) / keptSeconds * width, y = (value) => height - 6 - (value - low) / (high - low) * (height - 22);
    context.strokeStyle = palette.hairline;
    context.lineWidth = 1;
    context.beginPath();
    line(context, [0, height - 0.5, width, height - 0.5]);
    for (let second = Math.ceil(from); second <= end; ++second) line(context, [x(second), height - 5, x(second), height]);
    context.stroke();
    // The first lies on top: where both are the same, it is the one that is seen.
    lines.map((one, k) => [one, k]).reverse().forEach(([one, k]) => {
      if (!one) return;
      this.stroke(context, one.times, one.goal, from, x, y, colours[k] + '70', 1, true);
      this.stroke(context, one.times, one.value, from, x, y, colours[k], k === 0 ? 2.2 : 1.6);
    });
    const first = lines[0];
    if (!first) return;
    const value = first.value[first.value.length - 1];
    const text = `${componentName(first.channel, component)} ${shown(value, high - low)} ${first.channel.unit}`;
    if (this.label.textContent !== text) this.label.textContent = text;
  }

  /** @param steps a goal jumps, a value goes on. */
  stroke(context, times, values, from, x, y, colour, width, steps = false) {
    context.beginPath();
    let begun = false, lastX = -1, lastY = 0;
    // To stroke a line in hundreds of short pieces costs more than all the rest of a frame: what stands is one piece, and what
    // goes nearly straight is one for some pixels.
    const isStraight = (k, at) => {
      if (k + 1 >= times.length) return false;
      const here = y(values[k]) - lastY, next = y(values[k + 1]) - lastY, share = (at - lastX) / (x(times[k + 1]) - lastX);
      if (Math.abs(here) < 0.05 && Math.abs(next) < 0.05) return true;
      return !steps && at - lastX < 8 && Math.abs(here - next * share) < 0.08;
    };
    for (let k = Math.max(0, times.length - 1 - 60 * keptSeconds * 5); k < times.length; ++k) {
      if (times[k] < from) continue;
      const at = x(times[k]);
      if (begun && ((at - lastX < 0.4 && k + 1 < times.length) || isStraight(k, at))) continue;
      if (begun && steps) context.lineTo(at, y(values[k - 1]));
      if (begun) context.lineTo(at, y(values[k])); else context.moveTo(at, y(values[k]));
      begun = true;
      lastX = at;
      lastY = y(values[k]);
    }
    context.strokeStyle = colour;
    context.lineWidth = width;
    context.stroke();
  }
}
