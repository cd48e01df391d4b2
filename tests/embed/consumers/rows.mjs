// As rows.c, by the WebAssembly module.
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';

const share = process.env.STASIS_SHARE;
const { Stasis } = await import(join(share, 'stasis.mjs'));
const heart = await Stasis.load(readFileSync(join(share, 'stasis.wasm')));
const lines = (path) => readFileSync(path, 'utf8').split('\n').filter((line) => line !== '').map((line) => line.split(' '));
for (const [feel, handsPath, rowsPath, fps, frames] of lines(process.argv[2])) {
  const camera = heart.open({ text: readFileSync(feel, 'utf8'), name: feel, fps: Number(fps) });
  const hands = lines(handsPath), channels = camera.describe().channels, rows = [];
  for (let frame = 0; frame < Number(frames); ++frame) {
    while (hands.length > 0 && Number(hands[0][0]) <= frame) {
      const [, what, name, number] = hands.shift();
      const index = camera.find(what === 'hit' ? 'shake' : 'control', name);
      if (what === 'press' || what === 'release' || what === 'cancel') camera[what](index);
      else camera[what](index, Number(number));
    }
    camera.advance(0);
    rows.push(channels.flatMap((one, c) => Array.from({ length: one.components }, (_, i) => camera.value(c, i))).join(' '));
  }
  writeFileSync(rowsPath, rows.join('\n') + '\n');
  camera.close();
}
