import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { beforeAll, describe, expect, it } from 'vitest';
import { CAST } from './cast';
import { describingDetector, fullRangeDetector, type Rgb, viewOf } from './detectors';
import { SHEET } from './sheet';

const plate = (name: string): string => path.resolve(import.meta.dirname, '../plates', name);
const NAMES = Object.keys(CAST);

async function rgb(image: Sharp): Promise<Rgb> {
  const { data, info } = await image.removeAlpha().raw().toBuffer({ resolveWithObject: true });
  return { data: new Uint8Array(data), width: info.width, height: info.height };
}

/** One pose of all the cast, side by side. */
const row = (k: number): Promise<Rgb> =>
  rgb(sharp(plate('faces.png')).extract({ left: 0, top: k * SHEET.height, width: NAMES.length * SHEET.width, height: SHEET.height }));

const distance = (a: Float32Array, b: Float32Array): number => Math.hypot(...a.map((v, i) => v - b[i]));
const mean = (values: number[]): number => values.reduce((a, b) => a + b, 0) / values.length;

/** Made-up faces, judged by detectors that learned from photographs of real ones. */
describe('the cast', () => {
  /** Per pose and person: found by the first, described by the second. */
  const found: boolean[][] = [],
    described: (Float32Array | undefined)[][] = [];

  let first: Awaited<ReturnType<typeof fullRangeDetector>>;

  beforeAll(async () => {
    first = await fullRangeDetector();
    const second = await describingDetector();
    for (const k of SHEET.turns.keys()) {
      const picture = await row(k);
      const place = ({ x, width }: { x: number; width: number }): number => Math.floor((x + width / 2) / SHEET.width);
      const ones = (await first(viewOf(picture))).map(place);
      const twos = await second(picture);
      found.push(NAMES.map((_, n) => ones.includes(n)));
      described.push(NAMES.map((_, n) => twos.find((face) => place(face) === n)?.descriptor));
    }
  }, 300_000);

  it('is found by both detectors at the size of 70 pixels, nine times of ten', () => {
    const all = SHEET.turns.length * NAMES.length;
    expect(found.flat().filter(Boolean).length / all).toBeGreaterThanOrEqual(0.9);
    expect(described.flat().filter(Boolean).length / all).toBeGreaterThanOrEqual(0.9);
  });

  it('is known again: one person in two poses is nearer than two persons', () => {
    const same: number[] = [],
      other: number[] = [];
    let nearest = 0,
      judged = 0;
    const faces = described.flatMap((poses, k) => poses.flatMap((d, n) => (d ? [{ d, n, k }] : [])));
    for (const a of faces) {
      const rest = faces.filter((b) => b.k !== a.k).map((b) => ({ n: b.n, far: distance(a.d, b.d) }));
      for (const { n, far } of rest) (n === a.n ? same : other).push(far);
      nearest += Number(rest.reduce((x, y) => (y.far < x.far ? y : x)).n === a.n);
      judged++;
    }
    expect(mean(same)).toBeLessThan(mean(other) - 0.05);
    expect(nearest / judged).toBeGreaterThan(0.8);
  });

  it('is found by the first in the group, all eleven', async () => {
    const faces = await first(viewOf(await rgb(sharp(plate('group.png')))));
    expect(faces.filter(({ width }) => width > 60)).toHaveLength(11);
  }, 60_000);
});
