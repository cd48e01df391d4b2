// The plan of the last seconds, seen from above (a flat view: in its plane): the subject, what follows it, the eye.

/** The places of a path as [right, down], from a time on. */
function livePath(times, columns, down, sign, from) {
  const path = [];
  for (let row = times.length - 1; row >= 0 && times[row] >= from; --row) path.push([columns[0][row], sign * columns[down][row]]);
  return path.reverse();
}

/** Draws it into a canvas of so many pixels; false where the feel follows no place. */
function drawLivePlan(canvas, live, width, height, strong) {
  const { run } = live, follower = run.followers[0], track = follower && run.tracks[follower.track];
  if (!track || track.place.length < 2) return false;
  const flat = track.place.length === 2, down = flat ? 1 : 2, sign = flat ? -1 : 1, from = run.end - 4;
  const subject = livePath(run.times, track.place, down, sign, from).filter(([x, y]) => Number.isFinite(x + y));
  const channel = run.channels[follower.channel], follows = channel.follows !== null && channel.value.length > 1;
  const view = follows ? livePath(run.times, channel.value, down, sign, from) : [];
  const eye = flat || run.picture.distance === null ? [] : livePath(run.times, run.camera, 2, 1, from);
  if (subject.length === 0) return false;
  const here = subject[subject.length - 1], last = (path) => path[path.length - 1];
  const reach = Math.max(2 * run.scene_step, ...[view, eye].filter((path) => path.length).map((path) => 1.25 * Math.hypot(last(path)[0] - here[0], last(path)[1] - here[1])),
    ...subject.map(([x, y]) => 0.7 * Math.hypot(x - here[0], y - here[1])));
  live.planReach = live.planReach ? live.planReach + (reach - live.planReach) * 0.05 : reach;
  const scale = Math.min(width, height) / 2 / live.planReach;
  const place = ([x, y]) => [width / 2 + (x - here[0]) * scale, height / 2 + (y - here[1]) * scale];
  const context = sized(canvas, width, height);
  context.fillStyle = palette.paper;
  context.fillRect(0, 0, width, height);
  for (const body of run.bodies) drawBodyFromAbove(context, body, place, scale);
  const stroke = (path, colour, thick) => {
    context.beginPath();
    path.map(place).forEach(([x, y], k) => (k ? context.lineTo(x, y) : context.moveTo(x, y)));
    context.strokeStyle = colour;
    context.lineWidth = thick;
    context.stroke();
  };
  stroke(subject, palette.muted, 1.2);
  stroke(view, strong, 2);
  const spot = (at, radius, colour) => {
    const [x, y] = place(at);
    context.beginPath();
    context.arc(x, y, radius, 0, 2 * Math.PI);
    context.fillStyle = colour;
    context.fill();
  };
  if (eye.length) {
    const looked = view.length ? last(view) : here;
    stroke([last(eye), looked], palette.axis, 1);
    spot(last(eye), 4, strong);
  }
  if (view.length) spot(last(view), 3, strong);
  spot(here, 5, palette.ink);
  return true;
}

function drawBodyFromAbove(context, body, place, scale) {
  context.beginPath();
  if (body.middle) {
    const [x, y] = place([body.middle[0], body.middle[2]]);
    context.arc(x, y, body.radius * scale, 0, 2 * Math.PI);
  }
  for (const face of body.faces) face.forEach(([x, , z], k) => (k ? context.lineTo(...place([x, z])) : context.moveTo(...place([x, z]))));
  context.fillStyle = palette.wall;
  context.fill();
}
