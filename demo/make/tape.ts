import path from 'node:path';
import { addGrain, tapeFaults } from './faults';
import { encodeFrames, interlacedMpeg2 } from './encode';
import { loadPlate, look, place, textRaster, weave, type Raster } from './raster';
import { Truth } from './truth';

const SECONDS = 6;
const SIZE = { width: 720, height: 576 };

/** Shake of a hand: slow sway with a tremor on it. */
const sway = (t: number, k: number): number => 9 * Math.sin(t * 1.1 + k) + 4 * Math.sin(t * 3.7 + k * 2) + 1.6 * Math.sin(t * 11 + k * 5);

function moment(lane: Raster, child: Raster, stamp: Raster, t: number): Raster {
  const picture = look(
    lane,
    { x: 640 + 34 * t + sway(t, 0), y: 470 + sway(t, 1.7), height: 610 - 14 * t, turn: 0.006 * Math.sin(t * 1.9) },
    SIZE.width,
    SIZE.height,
    4 / 3,
  );
  place(picture, child, 130 + 74 * t, 520 - 3 * t + 4 * Math.abs(Math.sin(t * 7)), 250, 16 / 15);
  place(picture, stamp, 560, 548, stamp.height, 16 / 15);
  return picture;
}

function* frames(lane: Raster, child: Raster, stamp: Raster, truth: Truth): Generator<Raster> {
  for (let n = 0; n < SECONDS * 25; n++) {
    const [top, bottom] = [2 * n, 2 * n + 1].map((f) => {
      const picture = truth.take(moment(lane, child, stamp, f / 50));
      tapeFaults(picture, f);
      addGrain(picture, 40_000 + 3 * f, 6.5, 7, 0.8);
      return picture;
    });
    yield weave(top, bottom);
  }
}

/** A camcorder tape, captured: 576i at 25, hand-held, with the tape's own faults and one mono sound track. */
export async function makeTape(plates: string, output: string, truths: string): Promise<void> {
  const truth = new Truth();
  const lane = await loadPlate(path.join(plates, 'lane.png')),
    child = await loadPlate(path.join(plates, 'child.png'));
  const stamp = await textRaster('14. 7. 1991', 30, 'DejaVu Sans Mono');
  await encodeFrames(
    frames(lane, child, stamp, truth),
    SIZE,
    '25',
    [
      '-f',
      'lavfi',
      '-i',
      `anoisesrc=color=pink:amplitude=0.05:duration=${SECONDS}:seed=9`,
      '-f',
      'lavfi',
      '-i',
      `sine=frequency=50:duration=${SECONDS}`,
    ],
    [
      '-filter_complex',
      '[2:a]volume=0.05[h];[1:a][h]amix=inputs=2,aformat=channel_layouts=mono:sample_rates=48000[a]',
      '-map',
      '0:v',
      '-map',
      '[a]',
      ...interlacedMpeg2({ rate: '4300k', most: '8000k', keyEvery: 12, pixelAspect: '16/15', colour: 'bt470bg', transfer: 'gamma28' }),
      '-c:a',
      'mp2',
      '-b:a',
      '96k',
      '-f',
      'mpeg',
      output,
    ],
  );
  await truth.write(truths, output, '50', '16/15');
}
