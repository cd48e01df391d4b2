// What the camera sees of a plain scene: a ground grid, posts, and the subject where everything is measured from.
// Axes as everywhere: right-handed, y up, yaw 0 looks along -z, positive yaw turns left, positive roll leans left.
const dot = (a, b) => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
const sum = (a, b, times = 1) => [a[0] + b[0] * times, a[1] + b[1] * times, a[2] + b[2] * times];

/** The value of the channel that plays a role in the picture, or a fallback. */
function role(run, key, time, fallback) {
  const index = run.picture[key];
  if (index === null || index === undefined) return fallback;
  const channel = run.channels[index];
  const values = channel.value.map((_, i) => valueAt(run, index, i, time));
  return values.length > 1 ? values : values[0];
}

/** True if the camera of a run is placed by something that the page can draw. */
const sees = (run) => ['lens', 'focus', 'distance', 'yaw', 'pitch', 'position'].some((key) => run.picture[key] !== null);

/** The camera at a time, as the program has worked it out: read straight between frames. */
function cameraAt(run, time) {
  const [x, y, z, i, j, k, w, half] = run.camera.map((column) => betweenRows(run, column, time));
  const length = Math.hypot(i, j, k, w), [a, b, c, d] = [i / length, j / length, k / length, w / length];
  const right = [1 - 2 * (b * b + c * c), 2 * (a * b + c * d), 2 * (a * c - b * d)];
  const up = [2 * (a * b - c * d), 1 - 2 * (a * a + c * c), 2 * (b * c + a * d)];
  const forward = [-2 * (a * c + b * d), -2 * (b * c - a * d), -(1 - 2 * (a * a + b * b))];
  const focus = role(run, 'focus', time, [0, 0.35 * run.scene_step, 0]);
  return { eye: [x, y, z], forward, right, up, focus, half: Math.max(half, 1e-6), unit: run.scene_step };
}

/** A point in camera axes: right, up, ahead. */
function seen(camera, point) {
  const ray = sum(point, camera.eye, -1);
  return [dot(ray, camera.right), dot(ray, camera.up), dot(ray, camera.forward)];
}

/** Both ends of a line on the canvas, cut off behind the eye; nothing if it is all behind. */
function projected(camera, from, to, width, height) {
  const near = 0.02 * camera.unit;
  let a = seen(camera, from), b = seen(camera, to);
  if (a[2] < near && b[2] < near) return null;
  if (a[2] < near) a = cut(b, a, near);
  if (b[2] < near) b = cut(a, b, near);
  const scale = height / 2 / camera.half;
  return [width / 2 + a[0] / a[2] * scale, height / 2 - a[1] / a[2] * scale,
    width / 2 + b[0] / b[2] * scale, height / 2 - b[1] / b[2] * scale, scale / Math.min(a[2], b[2])];
}
function cut(inside, outside, near) {
  const share = (inside[2] - near) / (inside[2] - outside[2]);
  return [inside[0] + (outside[0] - inside[0]) * share, inside[1] + (outside[1] - inside[1]) * share, near];
}

/** Posts of three heights on a square pattern, about where the eye is; none where everything is measured from. */
function postsAbout(camera) {
  const posts = [], apart = 4, middle = [0, 2].map((k) => Math.round(camera.eye[k] / camera.unit / apart) * apart);
  for (let x = middle[0] - 16; x <= middle[0] + 16; x += apart)
    for (let z = middle[1] - 16; z <= middle[1] + 16; z += apart)
      if (x !== 0 || z !== 0) posts.push({ x, z, height: 0.8 + 0.5 * ((Math.abs(x * 7 + z * 3) / 4) % 3) });
  return posts;
}

function line(context, ends) {
  if (!ends) return;
  context.moveTo(ends[0], ends[1]);
  context.lineTo(ends[2], ends[3]);
}

function drawGround(context, camera, width, height) {
  context.beginPath();
  const reach = 20 * camera.unit, step = 2 * camera.unit;
  const [x, z] = [0, 2].map((k) => Math.round(camera.eye[k] / step) * step);
  for (let at = -reach; at <= reach + step / 2; at += step) {
    line(context, projected(camera, [x + at, 0, z - reach], [x + at, 0, z + reach], width, height));
    line(context, projected(camera, [x - reach, 0, z + at], [x + reach, 0, z + at], width, height));
  }
  context.strokeStyle = palette.hairline;
  context.lineWidth = 1.4;
  context.stroke();
  // The horizon: two far points level with the eye.
  const ahead = [camera.forward[0], 0, camera.forward[2]];
  const far = sum(camera.eye, ahead, 1e4 * camera.unit);
  const level = [-ahead[2], 0, ahead[0]];
  context.beginPath();
  line(context, projected(camera, sum(far, level, -3e4 * camera.unit), sum(far, level, 3e4 * camera.unit), width, height));
  context.strokeStyle = palette.axis;
  context.lineWidth = 1;
  context.stroke();
}

/** Each post's tip leaves a streak as long as it travelled in a twentieth of a second: speed that can be seen standing. */
function drawPosts(context, camera, before, width, height, strong) {
  for (const post of postsAbout(camera)) {
    const foot = [post.x * camera.unit, 0, post.z * camera.unit];
    const tip = [foot[0], post.height * camera.unit, foot[2]];
    const ends = projected(camera, foot, tip, width, height);
    if (!ends) continue;
    context.beginPath();
    line(context, ends);
    context.strokeStyle = palette.post;
    context.lineWidth = Math.max(1, Math.min(7, 0.06 * camera.unit * ends[4]));
    context.stroke();
    const old = projected(before, tip, tip, width, height);
    const now = projected(camera, tip, tip, width, height);
    if (!old || !now || Math.hypot(old[0] - now[0], old[1] - now[1]) < 1) continue;
    context.beginPath();
    context.moveTo(old[0], old[1]);
    context.lineTo(now[0], now[1]);
    context.strokeStyle = strong;
    context.lineWidth = 2;
    context.stroke();
  }
}

/** The subject: a figure with a nose, standing at `at`, facing -z. */
function drawSubject(context, camera, at, width, height, strong) {
  const u = camera.unit;
  const ring = (radius, y, points) => {
    context.beginPath();
    for (let i = 0; i < points; ++i) {
      const corner = (k) => sum(at, [Math.sin(2 * Math.PI * k / points) * radius * u, y * u, -Math.cos(2 * Math.PI * k / points) * radius * u]);
      line(context, projected(camera, corner(i), corner(i + 1), width, height));
    }
    context.stroke();
  };
  context.strokeStyle = palette.ink;
  context.lineWidth = 1.2;
  ring(0.4, 0, 20);
  context.beginPath();
  line(context, projected(camera, sum(at, [0, 0, -0.4 * u]), sum(at, [0, 0, -0.8 * u]), width, height));
  context.stroke();
  const body = projected(camera, at, sum(at, [0, 0.35 * u, 0]), width, height);
  if (!body) return;
  context.lineCap = 'round';
  context.lineWidth = Math.max(2, Math.min(60, 0.2 * u * body[4]));
  context.beginPath();
  line(context, body);
  context.stroke();
  context.lineCap = 'butt';
  const mark = projected(camera, camera.focus, camera.focus, width, height);
  if (!mark) return;
  context.strokeStyle = strong;
  context.lineWidth = 1.6;
  context.beginPath();
  context.arc(mark[0], mark[1], 6, 0, 2 * Math.PI);
  context.moveTo(mark[0] - 10, mark[1]);
  context.lineTo(mark[0] + 10, mark[1]);
  context.moveTo(mark[0], mark[1] - 10);
  context.lineTo(mark[0], mark[1] + 10);
  context.stroke();
}

/** A face whose corners are in camera axes, cut off behind the eye. */
function cutFace(points, near) {
  const kept = [];
  points.forEach((point, k) => {
    const next = points[(k + 1) % points.length];
    if (point[2] >= near) kept.push(point);
    if ((point[2] >= near) !== (next[2] >= near)) kept.push(point[2] >= near ? cut(point, next, near) : cut(next, point, near));
  });
  return kept;
}

/** The circle in which the eye's rays touch a ball, in camera axes; nothing from inside it. */
function rimOf(camera, { middle, radius }) {
  const to = seen(camera, middle), distance = Math.hypot(...to), share = 1 - (radius / distance) ** 2, corners = 60;
  if (!(share > 0)) return [];
  const level = Math.hypot(to[0], to[2]) || 1, u = [to[2] / level, 0, -to[0] / level];
  const v = [to[1] * u[2], to[2] * u[0] - to[0] * u[2], -to[1] * u[0]].map((part) => part / distance);
  return [...Array(corners).keys()].map((k) => {
    const angle = 2 * Math.PI * k / corners, far = radius * Math.sqrt(share);
    return sum(sum(to.map((part) => part * share), u, far * Math.cos(angle)), v, far * Math.sin(angle));
  });
}

/** What stands there, as pieces to be drawn from far to near: each with how far ahead its middle is. */
function bodyPieces(context, run, camera, width, height) {
  const scale = height / 2 / camera.half;
  const inFront = (body) => (body.middle ? [rimOf(camera, body)] : body.faces.map((face) => face.map((corner) => seen(camera, corner))));
  const faces = run.bodies.flatMap(inFront).map((points) => cutFace(points, 0.02 * camera.unit)).filter((face) => face.length > 2);
  return faces.map((face) => ({ ahead: face.reduce((all, point) => all + point[2], 0) / face.length, draw() {
    context.beginPath();
    face.forEach(([x, y, z], k) => context[k === 0 ? 'moveTo' : 'lineTo'](width / 2 + x / z * scale, height / 2 - y / z * scale));
    context.closePath();
    context.fillStyle = palette.wall;
    context.globalAlpha = 0.55;
    context.fill();
    context.globalAlpha = 1;
    context.strokeStyle = palette.muted;
    context.lineWidth = 1;
    context.stroke();
  } }));
}

/** A flat view: a grid of one step of the scene about the picture's centre. */
function drawFlat(context, run, time, width, height) {
  const visible = role(run, 'view_height', time, 10), centre = role(run, 'position', time, null) || role(run, 'focus', time, [0, 0]), at = subjectAt(run, time);
  const rest = run.picture.view_height === null ? 10 : run.channels[run.picture.view_height].rest[0];
  const step = 10 ** Math.floor(Math.log10(Math.abs(rest) || 1)), scale = height / visible;
  const roll = role(run, 'roll', time, 0), reach = Math.hypot(width, height) / 2 / scale;
  context.save();
  context.translate(width / 2, height / 2);
  context.rotate(roll);
  const first = (middle) => Math.ceil((middle - reach) / step) * step;
  context.beginPath();
  if (reach / step < 400) {
    for (let x = first(centre[0]); x <= centre[0] + reach; x += step) line(context, [(x - centre[0]) * scale, -reach * scale, (x - centre[0]) * scale, reach * scale]);
    for (let y = first(centre[1]); y <= centre[1] + reach; y += step) line(context, [-reach * scale, (centre[1] - y) * scale, reach * scale, (centre[1] - y) * scale]);
  }
  context.strokeStyle = palette.axis;
  context.lineWidth = 1;
  context.stroke();
  context.fillStyle = palette.ink;
  context.beginPath();
  context.arc((at[0] - centre[0]) * scale, (centre[1] - at[1]) * scale, Math.max(3, Math.min(12, step * scale / 6)), 0, 2 * Math.PI);
  context.fill();
  context.restore();
}

/** Where nothing places a camera: each component as a mark on a rail, its goal as a tick. */
function drawRails(context, run, time, width, height, strong) {
  const rows = [];
  run.channels.forEach((channel, c) => channel.value.forEach((values, i) => rows.push({ channel, c, i, values })));
  const fitting = rows.slice(0, Math.max(1, Math.floor((height - 12) / 24)));
  const pitch = Math.min(56, (height - 12) / fitting.length);
  context.textBaseline = 'middle';
  fitting.forEach(({ channel, c, i, values }, k) => {
    const y = 6 + pitch * (k + 0.5), left = 110, right = width - 16;
    const goals = channel.goal[i];
    const low = bounds(values, goals)[0], high = bounds(values, goals)[1];
    const x = (value) => left + (high > low ? (value - low) / (high - low) : 0.5) * (right - left);
    context.font = '12px Inter, sans-serif';
    context.fillStyle = palette.muted;
    context.fillText(componentName(channel, i).slice(0, 14), 8, y);
    context.strokeStyle = palette.hairline;
    context.lineWidth = 2;
    context.beginPath();
    line(context, [left, y, right, y]);
    context.stroke();
    context.strokeStyle = palette.muted;
    const goal = x(goals[rowAt(run, time)]);
    context.beginPath();
    line(context, [goal, y - 9, goal, y + 9]);
    context.stroke();
    context.beginPath();
    context.arc(x(valueAt(run, c, i, time)), y, isMoving(run, channel.name, time) ? 8 : 5, 0, 2 * Math.PI);
    context.fillStyle = strong;
    context.fill();
  });
}
function bounds(...lists) {
  let low = Infinity, high = -Infinity;
  for (const list of lists) for (const value of list) { if (value < low) low = value; if (value > high) high = value; }
  return [low, high];
}

/** Where the subject is: on its track, or where everything is measured from. */
function subjectAt(run, time) {
  const follower = planOf(run);
  if (!follower) return [0, 0, 0];
  const { place } = run.tracks[follower.track], row = rowAt(run, time);
  return [place[0][row], place[1] ? place[1][row] : 0, place[2] ? place[2][row] : 0];
}

/** Draws a run's picture at a time into a canvas of so many pixels. */
function drawScene(canvas, run, time, width, height, strong) {
  const context = sized(canvas, width, height);
  context.fillStyle = palette.paper;
  context.fillRect(0, 0, width, height);
  if (run.picture.view_height !== null) return drawFlat(context, run, time, width, height);
  if (!sees(run)) return drawRails(context, run, time, width, height, strong);
  const camera = cameraAt(run, time), before = cameraAt(run, Math.max(0, time - 0.05));
  drawGround(context, camera, width, height);
  drawPosts(context, camera, before, width, height, strong);
  const at = subjectAt(run, time), pieces = bodyPieces(context, run, camera, width, height);
  pieces.push({ ahead: seen(camera, at)[2], draw: () => drawSubject(context, camera, at, width, height, strong) });
  pieces.sort((one, other) => other.ahead - one.ahead).forEach((piece) => piece.draw());
}
