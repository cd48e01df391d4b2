// The plan: seen from above (a flat view: in its plane), what is followed, what follows, and where it wants to be.

/** The channel that the plan is about: the picture's focus or position if it follows a place, else the first that does. */
function planOf(run) {
  const of = (index) => run.followers.find((follower) => follower.channel === index);
  return of(run.picture.focus) || of(run.picture.position) || run.followers[0] || null;
}

const flatPlan = (run, follower) => run.channels[follower.channel].value.length === 2;

/** Everything that the plan shows, once for each run: paths as lists of [right, down]. */
function planPaths(run) {
  if (run.planPaths) return run.planPaths;
  const follower = planOf(run), flat = flatPlan(run, follower), down = flat ? 1 : 2, sign = flat ? -1 : 1;
  const rows = run.frames.map((_, row) => row);
  const path = (columns) => rows.map((row) => [columns[0][row], sign * columns[down][row]]);
  const channel = run.channels[follower.channel], track = run.tracks[follower.track];
  const paths = { follower, flat, down, sign, value: path(channel.value), goal: path(channel.goal), subject: path(track.place) };
  if (!flat && run.picture.distance !== null) paths.eye = run.times.map((time) => { const { eye } = cameraAt(run, time); return [eye[0], eye[2]]; });
  let low = [Infinity, Infinity], high = [-Infinity, -Infinity];
  for (const points of [paths.value, paths.subject, paths.eye || []]) for (const point of points) for (const k of [0, 1]) {
    low[k] = Math.min(low[k], point[k]);
    high[k] = Math.max(high[k], point[k]);
  }
  return run.planPaths = Object.assign(paths, { low, high });
}

function strokePath(context, points, from, to, place) {
  context.beginPath();
  let last = null;
  for (let row = from; row <= to; ++row) {
    const [x, y] = place(points[row]);
    if (last && row < to && Math.abs(x - last[0]) < 0.7 && Math.abs(y - last[1]) < 0.7) continue;
    if (last) context.lineTo(x, y); else context.moveTo(x, y);
    last = [x, y];
  }
  context.stroke();
}

function drawPlanGrid(context, paths, scale, place, width, height) {
  const step = [1, 2, 5, 10].map((x) => x * 10 ** Math.floor(Math.log10(34 / scale))).find((x) => x * scale >= 34);
  const [left, top] = place.back([0, 0]), [right, bottom] = place.back([width, height]);
  context.strokeStyle = palette.hairline;
  context.lineWidth = 1;
  context.beginPath();
  for (let x = Math.ceil(left / step) * step; x <= right; x += step) { const at = place([x, 0])[0]; line(context, [at, 0, at, height]); }
  for (let y = Math.ceil(top / step) * step; y <= bottom; y += step) { const at = place([0, y])[1]; line(context, [0, at, width, at]); }
  context.stroke();
  context.strokeStyle = palette.ink;
  context.lineWidth = 3;
  context.beginPath();
  line(context, [8, height - 8, 8 + step * scale, height - 8]);
  context.stroke();
  return step;
}

/** What stands there. */
function drawObstacles(context, run, place) {
  context.font = '11px Inter, sans-serif';
  context.textAlign = 'center';
  context.textBaseline = 'middle';
  context.lineWidth = 1;
  context.strokeStyle = palette.axis;
  const named = []; // where names stand: one that would lie on another is left out
  for (const obstacle of run.obstacles) {
    context.fillStyle = palette.wall;
    context.lineWidth = obstacle.line ? 3 : 1;
    for (const piece of obstacle.pieces) {
      context.beginPath();
      piece.forEach((point, k) => (k === 0 ? context.moveTo(...place(point)) : context.lineTo(...place(point))));
      if (!obstacle.line) { context.closePath(); context.fill(); }
      context.stroke();
    }
    const points = obstacle.pieces[0], middle = [0, 1].map((k) => points.reduce((all, point) => all + point[k], 0) / points.length);
    const [x, y] = place(middle), half = context.measureText(obstacle.name).width / 2 + 2;
    if (named.some((other) => Math.abs(other.x - x) < other.half + half && Math.abs(other.y - y) < 12)) continue;
    named.push({ x, y, half, name: obstacle.name });
  }
  context.fillStyle = palette.muted;
  named.forEach(({ x, y, name }) => context.fillText(name, x, y));
  context.textAlign = 'left';
}

/** What the camera sees at a time: the angle of its lens from the eye, or the frame of a flat view. */
function drawSight(context, run, paths, time, place) {
  context.strokeStyle = palette.faint;
  context.lineWidth = 1;
  context.beginPath();
  if (paths.flat) {
    const height = role(run, 'view_height', time, null), aspect = run.picture.width / run.picture.height;
    const middle = [0, 1].map((k) => valueAt(run, paths.follower.channel, k, time));
    if (height !== null) {
      const a = place([middle[0] - height * aspect / 2, -middle[1] - height / 2]), b = place([middle[0] + height * aspect / 2, -middle[1] + height / 2]);
      context.rect(a[0], a[1], b[0] - a[0], b[1] - a[1]);
    }
  } else if (paths.eye) {
    const camera = cameraAt(run, time), across = camera.half * run.picture.width / run.picture.height;
    const eye = place([camera.eye[0], camera.eye[2]]);
    for (const side of [-across, across]) {
      const ray = sum(camera.forward, camera.right, side), reach = 60 / Math.hypot(ray[0], ray[2]);
      line(context, [eye[0], eye[1], eye[0] + ray[0] * reach, eye[1] + ray[2] * reach]);
    }
  }
  context.stroke();
}

function drawZone(context, paths, goal, place, scale) {
  const zone = paths.follower.zone, offset = paths.follower.offset;
  if (!zone.length) return;
  const at = place([goal[0] - offset[0], goal[1] - paths.sign * offset[paths.down]]), w = zone[0] * scale, h = zone[paths.down] * scale;
  context.setLineDash([4, 4]);
  context.strokeStyle = palette.ink;
  context.lineWidth = 1;
  context.strokeRect(at[0] - w / 2, at[1] - h / 2, w, h);
  context.setLineDash([]);
}

function spot(context, at, radius, colour) {
  context.beginPath();
  context.arc(at[0], at[1], radius, 0, 2 * Math.PI);
  context.fillStyle = colour;
  context.fill();
}

/** Draws a run's plan at a time: the way so far heavy, the way to come light, a line from where it is to its goal. */
function drawPlan(canvas, run, time, width, height, strong) {
  const context = sized(canvas, width, height), paths = planPaths(run), margin = 16;
  context.fillStyle = palette.paper;
  context.fillRect(0, 0, width, height);
  const scale = Math.min((width - 2 * margin) / Math.max(1e-9, paths.high[0] - paths.low[0]), (height - 2 * margin) / Math.max(1e-9, paths.high[1] - paths.low[1]), 1e6);
  const middle = [0, 1].map((k) => (paths.low[k] + paths.high[k]) / 2);
  const place = (point) => [width / 2 + (point[0] - middle[0]) * scale, height / 2 + (point[1] - middle[1]) * scale];
  place.back = (pixel) => [(pixel[0] - width / 2) / scale + middle[0], (pixel[1] - height / 2) / scale + middle[1]];
  const step = drawPlanGrid(context, paths, scale, place, width, height);
  if (!paths.flat) drawObstacles(context, run, place);
  const row = rowAt(run, time), last = paths.value.length - 1;
  context.lineJoin = 'round';
  context.strokeStyle = palette.muted;
  context.lineWidth = 1;
  strokePath(context, paths.subject, 0, last, place);
  context.strokeStyle = palette.axis;
  strokePath(context, paths.value, row, last, place);
  drawSight(context, run, paths, time, place);
  context.strokeStyle = strong;
  context.lineWidth = 2.6;
  strokePath(context, paths.value, 0, row, place);
  drawZone(context, paths, paths.goal[row], place, scale);
  const value = place([valueAt(run, paths.follower.channel, 0, time), paths.sign * valueAt(run, paths.follower.channel, paths.down, time)]);
  const goal = place(paths.goal[row]);
  context.lineWidth = 1.6;
  context.beginPath();
  line(context, [value[0], value[1], goal[0], goal[1]]);
  context.stroke();
  spot(context, goal, 2.5, strong);
  spot(context, place(paths.subject[row]), 5, palette.ink);
  spot(context, value, 5, strong);
  if (paths.eye) spot(context, place(paths.eye[row]), 4, palette.muted);
  context.font = '12px Inter, sans-serif';
  context.fillStyle = palette.muted;
  context.textBaseline = 'bottom';
  context.fillText(step + ' ' + run.channels[paths.follower.channel].unit.slice(0, 8), 12 + step * scale, height - 2);
}
