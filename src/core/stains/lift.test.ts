import { describe, expect, it } from 'vitest';
import type { Hole } from '../fill/hole';
import { dilated } from '../fill/hole';
import { fromRgb } from '../picture/matrix';
import { randomStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import { movedBorder } from './border';
import { BESIDE, liftStains, PAINTED, STAINED } from './lift';

const WIDTH = 200,
  HEIGHT = 150;
const info = streamInfo({
  ...{ width: WIDTH, height: HEIGHT, frames: 1, chromaShiftX: 0, chromaShiftY: 0 },
  colour: { matrix: 'bt601', range: 'full', transfer: 'srgb', primaries: 'bt709' },
});
const all = Array.from({ length: WIDTH * HEIGHT }, (_, i) => i);

/** An uneven shape about the middle, so many pixels wider. */
const blot = (wider = 0): Uint8Array =>
  Uint8Array.from(all, (i) => {
    const x = (i % WIDTH) - 95,
      y = Math.floor(i / WIDTH) - 70;
    return Number(Math.hypot(x, 1.3 * y) < 38 + wider + 5 * Math.sin(3 * Math.atan2(y, x)));
  });

/** Cloth with folds and a weave of its own, in colours of 255. */
function cloth(): number[][] {
  const random = randomStream(5);
  return all.map((i) => {
    const x = i % WIDTH,
      y = Math.floor(i / WIDTH);
    const light = 1 + 0.3 * Math.sin(x / 17 + y / 29) + 0.12 * Math.sin(1.3 * x) * Math.cos(1.1 * y) + 0.05 * (random() - 0.5);
    return [150 * light, 125 * light, 95 * light];
  });
}

const holeOf = (colours: number[][], missing: Uint8Array): Hole => ({
  ...{ width: WIDTH, height: HEIGHT, missing },
  planes: fromRgb(new Uint8Array(colours.flat().map(Math.round)), 3, info).planes.map((plane) => plane.data),
});

/** A window with a stain: the cloth through `stain`, found by so many pixels too wide. */
function stained(
  stain: (colour: number[], i: number) => number[],
  misplaced = 0,
): { hole: Hole; veiled: Uint8Array; truth: Hole; inside: Uint8Array } {
  const inside = blot(),
    found = blot(misplaced);
  const beside = dilated(found, WIDTH, HEIGHT, 8);
  const veiled = found.map((v, i) => (v ? STAINED : beside[i] ? BESIDE : 0));
  const colours = cloth();
  const missing = veiled.map((v) => Number(v > 0));
  return {
    inside,
    veiled,
    truth: holeOf(colours, missing),
    hole: holeOf(
      colours.map((c, i) => (inside[i] ? stain(c, i) : c)),
      missing,
    ),
  };
}

/** How far luma is off the truth where it is stained and not left to be filled, in codes of 255. */
const off = (made: Hole, truth: Hole, inside: Uint8Array): number => {
  const places = all.filter((i) => inside[i] && !made.missing[i]);
  return Math.sqrt(places.reduce((sum, i) => sum + (made.planes[0][i] - truth.planes[0][i]) ** 2, 0) / places.length) / 256;
};
const share = (mask: Uint8Array, of: Uint8Array): number => all.filter((i) => of[i] && mask[i]).length / all.filter((i) => of[i]).length;

describe('a stain that the picture shows through', () => {
  const tea = ([r, g, b]: number[]): number[] => [0.8 * r, 0.62 * g, 0.4 * b];

  it.each([0, 4, -4])(
    'is lifted where it was found %i px too wide or, below nought, too narrow, and nothing else is changed',
    (misplaced) => {
      const { hole, veiled, truth, inside } = stained(tea, misplaced);
      const made = liftStains(hole, veiled, info);
      expect(off(made, truth, inside)).toBeLessThan(0.3 * off({ ...hole, missing: made.missing }, truth, inside));
      // A line along its border is left to be filled.
      expect(share(made.missing, inside)).toBeLessThan(0.25);
      for (const i of all) if (!veiled[i]) expect(made.planes.map((p) => p[i])).toEqual(hole.planes.map((p) => p[i]));
    },
  );

  it('is lifted more where it is stronger, if what it lies on is even', () => {
    const inside = blot();
    const paper = all.map((i) => [200, 190, 170].map((v) => v + 4 * Math.sin(1.3 * (i % WIDTH))));
    const stronger = (colour: number[], i: number): number[] => colour.map((v) => v * (0.85 - 0.003 * (i % WIDTH)));
    const veiled = inside.map((v) => (v ? STAINED : 0));
    const hole = holeOf(
      paper.map((c, i) => (inside[i] ? stronger(c, i) : c)),
      inside,
    );
    const made = liftStains(hole, veiled, info);
    expect(off(made, holeOf(paper, inside), inside)).toBeLessThan(7);
  });

  it('is lifted as far as it was found where that ends at something darker', () => {
    const { hole, veiled, truth, inside } = stained(tea);
    const left = (i: number): boolean => i % WIDTH < 110;
    const dark = ({ planes, ...rest }: Hole): Hole => ({
      ...rest,
      planes: planes.map((plane, p) => (p > 0 ? plane : plane.map((v, i) => (left(i) ? v : v >> 2)))),
    });
    const part = veiled.map((v, i) => (left(i) ? v : i % WIDTH < 118 && v ? BESIDE : 0));
    const found = inside.map((v, i) => Number(v && left(i)));
    const before = { ...dark(hole), missing: part.map((v) => Number(v > 0)) };
    const made = liftStains(before, part, info);
    expect(off(made, truth, found)).toBeLessThan(0.3 * off({ ...before, missing: made.missing }, truth, found));
  });

  it('is lifted where it was painted over, roughly', () => {
    const inside = blot();
    const painted = Uint8Array.from(all, (i) => Number(Math.hypot((i % WIDTH) - 95, Math.floor(i / WIDTH) - 70) < 52));
    const colours = cloth();
    const hole = holeOf(
      colours.map((c, i) => (inside[i] ? tea(c) : c)),
      painted,
    );
    const made = liftStains(
      hole,
      painted.map((v) => (v ? PAINTED : 0)),
      info,
    );
    expect(off(made, holeOf(colours, painted), inside)).toBeLessThan(
      0.5 * off({ ...hole, missing: made.missing }, holeOf(colours, painted), inside),
    );
  });

  it('gives back the colour too', () => {
    const { hole, veiled, truth, inside } = stained(tea);
    const made = liftStains(hole, veiled, info);
    const blue = (of: Hole): number => all.filter((i) => inside[i]).reduce((sum, i) => sum + of.planes[1][i], 0) / share(inside, inside);
    expect(Math.abs(blue(made) - blue(truth))).toBeLessThan(0.2 * Math.abs(blue(hole) - blue(truth)));
  });

  it('may have bleached', () => {
    const { hole, veiled, truth, inside } = stained((colour) => colour.map((v) => 255 - 0.6 * (255 - v)));
    const made = liftStains(hole, veiled, info);
    expect(off(made, truth, inside)).toBeLessThan(0.3 * off({ ...hole, missing: made.missing }, truth, inside));
  });

  it('is lifted on a picture of grey', () => {
    const { hole, veiled, truth, inside } = stained((colour) => colour.map((v) => 0.55 * v));
    const grey = (of: Hole): Hole => ({ ...of, planes: of.planes.slice(0, 1) });
    const made = liftStains(grey(hole), veiled, info);
    expect(made.planes).toHaveLength(1);
    expect(off(made, truth, inside)).toBeLessThan(0.2 * off({ ...hole, missing: made.missing }, truth, inside));
  });

  it('leaves what else is damaged to be filled', () => {
    const { hole, veiled } = stained(tea);
    const speck = 70 * WIDTH + 95;
    veiled[speck] = 0;
    expect(liftStains(hole, veiled, info).missing[speck]).toBe(1);
  });

  it('stays where all that is seen is stained', () => {
    const { hole } = stained((colour) => colour.map((v) => 0.5 * v));
    const everywhere = new Uint8Array(WIDTH * HEIGHT).fill(STAINED);
    const made = liftStains({ ...hole, missing: new Uint8Array(WIDTH * HEIGHT).fill(1) }, everywhere, info);
    expect(made.missing.includes(1)).toBe(false);
    expect(made.planes).toEqual(hole.planes);
  });
});

describe('a stain that hides the picture', () => {
  it('is left to be filled: paint, and what took nearly all of the light', () => {
    for (const paint of [(): number[] => [90, 90, 96], ([r, g, b]: number[]): number[] => [0.05 * r, 0.05 * g, 0.05 * b]]) {
      const { hole, veiled, inside } = stained(paint);
      expect(share(liftStains(hole, veiled, info).missing, inside)).toBeGreaterThan(0.95);
    }
  });
});

describe('the border of a stain', () => {
  it.each([6, -6])('is moved from %i px off to where light changes along all of it', (misplaced) => {
    const { hole, inside } = stained((colour) => colour.map((v) => 0.6 * v));
    const grey = Float32Array.from(hole.planes[0], (v) => v / 257);
    const { inside: moved } = movedBorder({ width: WIDTH, height: HEIGHT, colours: [grey] }, blot(misplaced));
    const wrong = (mask: Uint8Array): number => all.filter((i) => mask[i] !== inside[i]).length;
    expect(wrong(moved)).toBeLessThan(0.35 * wrong(blot(misplaced)));
  });
});
