// The timeline under the player: which inputs were held, and how much each version moves, A above the line, B below.

/** How much a run moves at each row: the speeds of all components, each as a share of `scale`, added up. */
function activity(run, scales) {
  const total = new Float64Array(run.times.length);
  run.channels.forEach((channel, c) => channel.value.forEach((values, i) => {
    const scale = scales[c] && scales[c][i];
    if (!scale) return;
    for (let row = 1; row < values.length; ++row)
      total[row] += Math.abs(values[row] - values[row - 1]) / (run.times[row] - run.times[row - 1]) / scale;
  }));
  return total;
}

/** How far each component goes over all runs of a take, so that versions are drawn on one scale. */
function travelOf(runs) {
  return runs[0].channels.map((channel, c) => channel.value.map((_, i) => {
    const [low, high] = bounds(...runs.filter((run) => run.channels[c] && run.channels[c].value[i])
      .map((run) => run.channels[c].value[i]));
    return high - low > 1e-9 * Math.max(1, Math.abs(high)) ? high - low : 0;
  }));
}

function drawStrip(canvas, shown, width) {
  const height = 52, middle = shown.length > 1 ? 33 : 50, context = sized(canvas, width, height);
  context.clearRect(0, 0, width, height);
  const end = Math.max(...shown.map((run) => run.end)) || 1;
  const x = (time) => time / end * width;
  drawHolds(context, shown[0], x, end);
  const scales = travelOf(shown);
  const profiles = shown.map((run) => activity(run, scales));
  const most = Math.max(1e-9, ...profiles.map((profile) => bounds(profile)[1]));
  shown.forEach((run, k) => {
    const way = k === 0 ? -1 : 1, room = k === 0 ? middle - 15 : height - middle - 1;
    context.beginPath();
    context.moveTo(x(run.times[0]), middle);
    run.times.forEach((time, row) => context.lineTo(x(time), middle + way * room * Math.sqrt(profiles[k][row] / most)));
    context.lineTo(x(run.end), middle);
    context.fillStyle = k === 0 ? palette.a : palette.b;
    context.fill();
  });
  context.fillStyle = palette.axis;
  context.fillRect(0, middle, width, 1);
}

function drawHolds(context, run, x, end) {
  context.font = '700 10px Inter, sans-serif';
  context.textBaseline = 'middle';
  const lanes = [];
  for (const input of run.measures.inputs) {
    const from = x(input.from), to = Math.max(from + 3, x(input.to === null ? end : input.to));
    let lane = lanes.findIndex((used) => used <= from);
    if (lane < 0) lane = lanes.length;
    lanes[lane] = to;
    if (lane > 1) continue;
    context.fillStyle = palette.hold;
    context.fillRect(from, lane * 0, to - from, lane === 0 ? 13 : 4);
    if (lane === 0 && context.measureText(input.control).width + 8 < to - from) {
      context.fillStyle = palette.paper;
      context.fillText(input.control, from + 4, 7);
    }
  }
}
