/** Two more tapes: a camcorder's in a dim room, and an earlier one whose recorder sharpened its edges. */
import path from 'node:path';
import { randomStream } from '../../src/core';
import { each } from './carriers';
import { encodeFrames, interlacedMpeg2 } from './encode';
import { addGrain, tapeFaults } from './faults';
import { loadPlate, look, place, textRaster, weave, type Raster } from './raster';
import { Truth } from './truth';

/** Dropouts: short white or black streaks where the tape lost its coating. */
function dropouts(picture: Raster, random: () => number, count: number): void {
  for (let k = 0; k < count; k++) {
    const y = Math.floor(random() * picture.height),
      from = Math.floor(random() * picture.width),
      length = 10 + Math.floor(90 * random() ** 2);
    for (let x = from; x < Math.min(picture.width, from + length); x++) {
      const share = 0.9 * Math.min(1, (from + length - x) / 12);
      for (let c = 0; c < 3; c++)
        picture.data[(y * picture.width + x) * 4 + c] += (225 - picture.data[(y * picture.width + x) * 4 + c]) * share;
    }
  }
}

/** An edge enhancer along the lines: dark and bright outlines `reach` pixels wide. */
function sharpened({ width, height, data }: Raster, amount: number, reach: number): void {
  const line = new Float32Array(width);
  for (let y = 0; y < height; y++) {
    const at = y * width * 4;
    for (let x = 0; x < width; x++) line[x] = 0.299 * data[at + 4 * x] + 0.587 * data[at + 4 * x + 1] + 0.114 * data[at + 4 * x + 2];
    for (let x = 0; x < width; x++) {
      const beside = (line[Math.max(0, x - reach)] + line[Math.min(width - 1, x + reach)]) / 2;
      for (let c = 0; c < 3; c++) data[at + 4 * x + c] += amount * (line[x] - beside);
    }
  }
}

const sway = (t: number, k: number): number => 7 * Math.sin(t * 1.3 + k) + 5 * Math.sin(t * 4.1 + 2 * k) + 2 * Math.sin(t * 13 + k);

/** A camcorder by evening light, 480i: noise, late colour, dropouts, a burnt-in date. */
export async function makeCamcorder(plates: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const size = { width: 720, height: 480 },
    seconds = 5;
  const cousins = await loadPlate(path.join(plates, 'cousins.png'));
  const stamp = await textRaster('24.12.1987 18:42', 26, 'DejaVu Sans Mono');
  const random = randomStream(481);
  const moment = (f: number): Raster => {
    const t = (f * 1001) / 60000;
    const view = { x: 560 + 46 * t + sway(t, 0), y: 460 + sway(t, 2), height: 640 - 24 * t, turn: 0.008 * Math.sin(t * 1.6) };
    const picture = look(cousins, view, size.width, size.height, 4 / 3);
    // A lamp's warm light, too little of it.
    each(picture, (o) => {
      const gains = [0.56, 0.42, 0.28];
      for (let c = 0; c < 3; c++) picture.data[o + c] = 14 + picture.data[o + c] * gains[c];
    });
    place(picture, stamp, 500, 446, stamp.height, 9 / 8);
    truth.take(picture);
    tapeFaults(picture, 700 + f);
    addGrain(picture, 48_000 + 3 * f, 9, 12, 0.9);
    dropouts(picture, random, random() < 0.25 ? 3 : 0);
    return picture;
  };
  function* frames(): Generator<Raster> {
    for (let n = 0; n < Math.floor((seconds * 30000) / 1001); n++) yield weave(moment(2 * n), moment(2 * n + 1));
  }
  const sound = ['-f', 'lavfi', '-i', `anoisesrc=color=brown:amplitude=0.06:duration=${seconds}:seed=5`];
  await encodeFrames(frames(), size, '30000/1001', sound, [
    ...interlacedMpeg2({ rate: '5000k', most: '8500k', keyEvery: 15, pixelAspect: '8/9', colour: 'smpte170m', transfer: 'smpte170m' }),
    ...['-c:a', 'mp2', '-ac', '1', '-ar', '48000', '-b:a', '96k', '-shortest', '-f', 'mpeg', output],
  ]);
  await truth.write(truths, output, '60000/1001', '8/9');
}

/** A recorder's 576i with the bottom field first, whose edges it sharpened. */
export async function makeSharpTape(plates: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const size = { width: 720, height: 576 },
    seconds = 5;
  const lane = await loadPlate(path.join(plates, 'lane.png')),
    child = await loadPlate(path.join(plates, 'child.png'));
  const moment = (f: number): Raster => {
    const t = f / 50;
    const view = { x: 900 - 70 * t + 0.5 * sway(t, 1), y: 450 + 0.5 * sway(t, 3), height: 560 };
    const picture = look(lane, view, size.width, size.height, 4 / 3);
    place(picture, child, 620 - 110 * t, 500 + 5 * Math.abs(Math.sin(t * 6)), 250, 16 / 15, true);
    truth.take(picture);
    tapeFaults(picture, 1700 + f);
    sharpened(picture, 0.9, 3);
    addGrain(picture, 57_000 + 3 * f, 4, 4, 0.8);
    return picture;
  };
  function* frames(): Generator<Raster> {
    for (let n = 0; n < seconds * 25; n++) {
      const [lower, upper] = [moment(2 * n), moment(2 * n + 1)];
      yield weave(upper, lower);
    }
  }
  await encodeFrames(
    frames(),
    size,
    '25',
    [],
    [
      ...interlacedMpeg2({
        ...{ rate: '4600k', most: '8000k', keyEvery: 12, pixelAspect: '16/15', colour: 'bt470bg', transfer: 'gamma28' },
        bottomFirst: true,
      }),
      ...['-f', 'mpeg', output],
    ],
  );
  await truth.write(truths, output, '50', '16/15');
}
