import path from 'node:path';
import { randomStream } from '../../src/core';
import { addGrain, filmFaults, luma } from './faults';
import { encodeFrames } from './encode';
import { loadPlate, look, place, type Raster } from './raster';
import { Truth } from './truth';

const FRAMES = 90;
const SIZE = { width: 720, height: 540 };

function* frames(harbour: Raster, boat: Raster, truth: Truth): Generator<Raster> {
  const random = randomStream(77);
  for (let n = 0; n < FRAMES; n++) {
    const weave = { x: (random() - 0.5) * 2.4, y: (random() - 0.5) * 3.2 };
    const picture = look(harbour, { x: 1560 - 2.6 * n + weave.x, y: 470 + weave.y, height: 560 }, SIZE.width, SIZE.height, 4 / 3);
    place(picture, boat, 620 - 4.4 * n + weave.x, 470 + 4 * Math.sin(n * 0.16) + weave.y, 250, 1, true);
    for (let i = 0; i < picture.data.length; i += 4) picture.data.fill(luma(picture.data, i), i, i + 3);
    truth.take(picture);
    filmFaults(picture, 5, n);
    addGrain(picture, 70_000 + 3 * n, 9, 0, 1);
    for (let i = 0; i < picture.data.length; i += 4) picture.data[i + 1] = picture.data[i + 2] = picture.data[i];
    yield picture;
  }
}

/** A monochrome cine film, scanned at 18 frames a second, silent. */
export async function makeFilm(plates: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const harbour = await loadPlate(path.join(plates, 'harbour.png')),
    boat = await loadPlate(path.join(plates, 'boat.png'), 0.6);
  await encodeFrames(
    frames(harbour, boat, truth),
    SIZE,
    '18',
    [],
    [
      '-c:v',
      'libx264',
      '-preset',
      'slow',
      '-b:v',
      '5200k',
      '-pix_fmt',
      'yuv420p',
      '-vf',
      'scale=out_color_matrix=bt709:out_range=tv',
      '-colorspace',
      'bt709',
      '-color_primaries',
      'bt709',
      '-color_trc',
      'bt709',
      '-movflags',
      '+faststart',
      output,
    ],
  );
  await truth.write(truths, output, '18', '1');
}
