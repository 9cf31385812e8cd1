import { describe, expect, it } from 'vitest';
import { newPlane, wholeRegion, type Picture } from '../picture/picture';
import { fromRgb } from '../picture/matrix';
import { TRANSFERS } from '../picture/light';
import { streamInfo, texturedPlane } from '../testing/pictures';
import { unevenAt, WHITE_STOPS } from '../tone/look';
import { measureFading } from './fading';

const { fromLight } = TRANSFERS.srgb;

/** A print of texture with a white border, or with none, each of its samples in stops changed. */
function print(change: (stops: number, c: number, u: number, v: number) => number, border = 14): Picture {
  const width = 240,
    height = 200;
  const samples = new Uint16Array(3 * width * height);
  for (let c = 0; c < 3; c++) {
    const texture = texturedPlane(width, height, 31 * c, 17 * c).data;
    for (let i = 0; i < width * height; i++) {
      const x = i % width,
        y = Math.floor(i / width);
      const paper = Math.min(x, y, width - 1 - x, height - 1 - y) < border;
      // A black without colour, as an open door is.
      const black = x > 100 && x < 130 && y > 80 && y < 110;
      const stops = paper ? WHITE_STOPS : black ? -7.6 : -0.6 - 4.5 * (1 - texture[i] / 65535);
      samples[3 * i + c] = 65535 * fromLight(Math.min(1, 2 ** change(stops, c, (2 * (x + 0.5)) / width - 1, (2 * (y + 0.5)) / height - 1)));
    }
  }
  const info = streamInfo({
    ...{ width, height, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
    colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
  });
  return fromRgb(samples, 3, info);
}

describe('the fading of a print', () => {
  it('is read by the white of its border', () => {
    const left = [0.9, 0.55, 0.75],
      base = [0.05, 0.2, 0.6];
    const found = measureFading(print((s, c) => left[c] * s - base[c]));
    found?.left.forEach((share, c) => expect(Math.abs(share - left[c])).toBeLessThan(0.08));
    found?.base.forEach((stops, c) => expect(stops).toBeCloseTo(base[c], 1));
  });

  it('of black and white is read likewise', () => {
    const colours = print((s) => 0.6 * s - 0.2);
    const found = measureFading({ info: { ...colours.info, planes: 1 }, region: colours.region, planes: [colours.planes[0]] });
    found?.left.forEach((share) => expect(Math.abs(share - 0.6)).toBeLessThan(0.12));
    expect(found).toBeDefined();
  });

  it('is none on a print in good state', () => {
    const found = measureFading(print((s) => s));
    expect(found?.left).toEqual([1, 1, 1]);
    found?.base.forEach((stops) => expect(Math.abs(stops)).toBeLessThan(0.02));
    expect(Math.abs(found?.uneven.across ?? 1)).toBeLessThan(0.02);
  });

  it('is not read where no border tells', () => {
    expect(measureFading(print((s) => s - 0.4, 0))).toBeUndefined();
    const sky: Picture = print((s) => s, 0);
    const plane = newPlane(240, 200);
    // Light and even at the top alone: a sky.
    sky.planes[0].data.forEach((v, i) => (plane.data[i] = i < 240 * 60 ? 60_000 : v));
    expect(measureFading({ ...sky, region: wholeRegion(sky.info), planes: [plane, ...sky.planes.slice(1)] })).toBeUndefined();
  });

  it('comes with how its light falls off', () => {
    const light = { across: -0.5, down: 0.3, corners: -0.4 };
    const found = measureFading(print((s, _, u, v) => s + unevenAt(light, u, v)));
    expect(found?.uneven.across).toBeCloseTo(0.5, 1);
    expect(found?.uneven.down).toBeCloseTo(-0.3, 1);
    expect(found?.uneven.corners).toBeCloseTo(0.4, 1);
  });
});
