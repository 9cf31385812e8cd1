import path from 'node:path';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { dilated } from '../fill/hole';
import { fromRgb } from '../picture/matrix';
import { wholeRegion } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import { BESIDE, STAINED } from '../stains/lift';
import { mendDamage } from './mend';

const plate = path.resolve(import.meta.dirname, '../testing/portrait.png');
const WIDTH = 900;
/** A place where four of the cells meet that are mended one by one. */
const CORNER = 256;

describe('a stain over several cells', () => {
  it('is lifted alike in all of them', async () => {
    const { data, info } = await sharp(plate).resize(WIDTH).removeAlpha().blur(1.4).raw().toBuffer({ resolveWithObject: true });
    const { height } = info;
    const stain = Uint8Array.from({ length: WIDTH * height }, (_, i) =>
      Number(Math.hypot(((i % WIDTH) - CORNER) / 120, (Math.floor(i / WIDTH) - CORNER) / 100) < 1),
    );
    const tea = [0.83, 0.72, 0.62];
    const stream = streamInfo({
      ...{ width: WIDTH, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
      colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
    });
    const whole = fromRgb(new Uint8Array(data), 3, stream);
    const print = fromRgb(new Uint8Array(data.map((v, n) => (stain[Math.floor(n / 3)] ? v * tea[n % 3] : v))), 3, stream);
    const beside = dilated(stain, WIDTH, height, 8);
    const veiled = stain.map((v, i) => (v ? STAINED : beside[i] ? BESIDE : 0));
    const region = wholeRegion(stream);
    const made = await mendDamage(print, { region, missing: beside, veiled }, region, { quality: 'fast', seeThrough: true });

    const lighter = [0, 1, 2, 3].map((quarter) => {
      const places = [...stain.keys()].filter(
        (i) => stain[i] && Number(i % WIDTH >= CORNER) === (quarter & 1) && Number(Math.floor(i / WIDTH) >= CORNER) === quarter >> 1,
      );
      return places.reduce((sum, i) => sum + made.planes[0].data[i] - whole.planes[0].data[i], 0) / places.length / 256;
    });
    expect(Math.max(...lighter.map(Math.abs))).toBeLessThan(1.5);
  });
});
