import path from 'node:path';
import { randomStream } from '../../src/core';
import { dust, fadedDyes } from './carriers';
import { encodeFrames, interlacedMpeg2 } from './encode';
import { addGrain } from './faults';
import { loadPlate, look, place, type Raster } from './raster';
import { Truth } from './truth';

const FRAMES = 150;
const SIZE = { width: 720, height: 480 };

function* frames(harbour: Raster, boat: Raster, truth: Truth): Generator<Raster> {
  const random = randomStream(161);
  for (let n = 0; n < FRAMES; n++) {
    const t = n / 24;
    const weave = { x: (random() - 0.5) * 1.1, y: (random() - 0.5) * 1.5 };
    const view = { x: 1500 - 60 * t + weave.x, y: 440 + weave.y, height: 600 + 10 * t };
    const picture = look(harbour, view, SIZE.width, SIZE.height, 4 / 3);
    place(picture, boat, 520 - 66 * t + weave.x, 440 + 5 * Math.sin(t * 2.2) + weave.y, 270, 9 / 8, true);
    truth.take(picture);
    // Yellow and cyan went first; what is left is brown and rose.
    fadedDyes(picture, [0.62, 0.95, 0.6], [246, 226, 206]);
    addGrain(picture, 16_000 + 3 * n, 8, 4, 0.9);
    dust(picture, 1600 + n, 3, [250, 240, 230], [30, 22, 20]);
    yield picture;
  }
}

/** A 16 mm colour film, transferred at 24 frames a second to tape's 29.97 with its pulldown. */
export async function makeFilm16(plates: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const harbour = await loadPlate(path.join(plates, 'harbour.png')),
    boat = await loadPlate(path.join(plates, 'boat.png'), 0.6);
  await encodeFrames(
    frames(harbour, boat, truth),
    SIZE,
    '24000/1001',
    [],
    [
      ...interlacedMpeg2({
        ...{ rate: '4200k', most: '8000k', keyEvery: 15, pixelAspect: '8/9', colour: 'smpte170m', transfer: 'smpte170m' },
        filters: 'telecine=first_field=top:pattern=23',
      }),
      ...['-bf', '2', '-f', 'vob', output],
    ],
  );
  await truth.write(truths, output, '24000/1001', '8/9');
}
