// The demo's otter camera in JavaScript, as play.c. Run: node play.mjs otter.toml
// stasis.mjs and stasis.wasm lie in share/stasis of the installation.
import { readFileSync } from 'node:fs';
import { dirname, join } from 'node:path';

const share = process.env.STASIS_SHARE ?? '/usr/local/share/stasis', feel = process.argv[2] ?? 'otter.toml';
const { Stasis } = await import(join(share, 'stasis.mjs'));
const heart = await Stasis.load(readFileSync(join(share, 'stasis.wasm')));
const read = (name) => readFileSync(join(dirname(feel), name), 'utf8');
const camera = heart.open({ text: readFileSync(feel, 'utf8'), name: feel, files: { 'lean.csv': read('lean.csv') }, fps: 60 });
const fov = camera.find('channel', 'fov'), listen = camera.find('control', 'listen');
console.log('time,fov');
for (let frame = 0; frame <= 120; ++frame) {
  if (frame === 30) camera.press(listen);
  if (frame === 75) camera.release(listen);
  camera.advance(0);
  console.log(`${camera.time},${camera.value(fov)}`);
}
