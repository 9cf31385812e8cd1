import fc from 'fast-check';
import sharp from 'sharp';
import { describe, expect, it } from 'vitest';
import { normalStream } from '../core/picture/random';
import { drawn, exactBytes, predictedBytes, type Sample, type Samples, TILE, tilesOf, weightsOf } from './predictedSize';

/** A picture that is plain at the left and full of detail at the right. */
function unevenPicture(width: number, height: number): Samples {
  const normal = normalStream(9);
  const data = new Uint8Array(3 * width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const busy = Math.max(0, x / width - 0.3);
      const v = 120 + 60 * Math.sin(x / 90) * Math.cos(y / 70) + 50 * busy * normal();
      data.fill(Math.min(255, Math.max(0, v)), 3 * (y * width + x), 3 * (y * width + x) + 3);
    }
  return { data, width, height, channels: 3 };
}

async function partOf({ data, width, height, channels }: Samples, left: number, top: number, w: number, h: number): Promise<Samples> {
  const part = await sharp(data, { raw: { width, height, channels } }).extract({ left, top, width: w, height: h }).raw().toBuffer();
  return { data: new Uint8Array(part), width: w, height: h, channels: 3 };
}

describe('the tiles of a picture', () => {
  it('cover it, each pixel once', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 2000 }), fc.integer({ min: 1, max: 2000 }), (width, height) => {
        const tiles = tilesOf({ width, height });
        expect(tiles.reduce((sum, tile) => sum + tile.width * tile.height, 0)).toBe(width * height);
        for (const { x, y, width: w, height: h } of tiles)
          expect(w > 0 && h > 0 && w <= TILE && h <= TILE && x + w <= width && y + h <= height).toBe(true);
      }),
    );
  });

  it('are drawn as often as they weigh', () => {
    fc.assert(
      fc.property(
        fc.array(fc.double({ min: 0.01, max: 9, noNaN: true }), { minLength: 1, maxLength: 60 }),
        fc.integer({ min: 1, max: 40 }),
        (weights, count) => {
          const times = drawn(weights, count);
          expect([...times.values()].reduce((sum, n) => sum + n, 0)).toBe(count);
          const all = weights.reduce((sum, w) => sum + w, 0);
          for (const [n, often] of times) expect(Math.abs(often - (count * weights[n]) / all)).toBeLessThanOrEqual(1 + 1e-9);
        },
      ),
    );
  });
});

describe('the size of a copy', () => {
  const whole = unevenPicture(1300, 900);

  it.each(['jpeg', 'webp'] as const)('as %s is told from some of its tiles', async (kind) => {
    const { data, info } = await sharp(whole.data, { raw: { width: whole.width, height: whole.height, channels: 3 } })
      .resize(325, 225)
      .raw()
      .toBuffer({ resolveWithObject: true });
    const weights = await weightsOf({ data: new Uint8Array(data), width: info.width, height: info.height, channels: 3 }, whole);
    const all = tilesOf(whole);
    const tiles: Sample['tiles'] = [];
    for (const [number, times] of drawn(weights, 10)) {
      const { x, y, width, height } = all[number];
      tiles.push({ number, times, samples: await partOf(whole, x, y, width, height) });
    }
    expect(tiles.length).toBeLessThan(all.length);
    const told = await predictedBytes({ weights, tiles }, kind, 90);
    const exact = await exactBytes(whole, kind, 90);
    expect(told / exact).toBeGreaterThan(0.88);
    expect(told / exact).toBeLessThan(1.12);
  });
});
