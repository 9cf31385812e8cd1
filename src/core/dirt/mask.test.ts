import { describe, expect, it } from 'vitest';
import type { FoundDirt } from '../networks/dirt';
import { EVEN_ODDS, logOdds, ODDS_STEP } from '../networks/odds';
import { DIRT_KINDS } from './kinds';
import { countPieces, dirtMask, dirtMasks, dirtPieces, leastOdds, maskReach, type DirtRule } from './mask';

const SIZE = { width: 40, height: 30 };
const even = { specks: 50, hairs: 50, scratches: 50, folds: 50, cracks: 50, stains: 50 };
const RULE: DirtRule = { sure: 0.8, sensitivity: even, margin: 0 };

/** A square of one kind, at odds given as a probability; of a stain, the odds that it is damage of any kind too. */
interface Square {
  x: number;
  y: number;
  side: number;
  kind: number;
  probability: number;
  damaged?: number;
}

/** What is found where squares lie. */
function found(squares: Square[]): FoundDirt {
  const odds = new Uint8Array(SIZE.width * SIZE.height),
    kind = new Uint8Array(odds.length),
    stains = new Uint8Array(odds.length);
  for (const s of squares) {
    for (let y = s.y; y < s.y + s.side; y++) {
      for (let x = s.x; x < s.x + s.side; x++) {
        const i = y * SIZE.width + x;
        const stain = s.kind === DIRT_KINDS.indexOf('stains');
        const as = (probability: number): number => Math.round(EVEN_ODDS + ODDS_STEP * logOdds(probability));
        if (stain) stains[i] = as(s.probability);
        odds[i] = as(stain ? (s.damaged ?? 0.9) : s.probability);
        kind[i] = s.kind;
      }
    }
  }
  return { region: { x: 100, y: 50, ...SIZE }, odds, kind, stains };
}

const area = (mask: Uint8Array): number => mask.reduce((sum, v) => sum + v, 0);

describe('a mask of damage', () => {
  const one = found([
    { x: 5, y: 5, side: 3, kind: 0, probability: 0.9 },
    { x: 20, y: 5, side: 3, kind: 1, probability: 0.7 },
  ]);

  it('has what is likely enough', () => {
    expect(area(dirtMask(one, RULE))).toBe(9);
    expect(area(dirtMask(one, { ...RULE, sure: 0.6 }))).toBe(18);
    expect(area(dirtMask(one, { ...RULE, sure: 0.95 }))).toBe(0);
  });

  it('leaves a kind whose sensitivity is nought and takes more of one that is raised', () => {
    expect(area(dirtMask(one, { ...RULE, sensitivity: { ...even, specks: 0 } }))).toBe(0);
    expect(area(dirtMask(one, { ...RULE, sensitivity: { ...even, hairs: 70 } }))).toBe(18);
    expect(leastOdds({ ...RULE, sure: 0.5 })).toEqual(DIRT_KINDS.map(() => EVEN_ODDS));
  });

  it('tells stains from what else is damaged in them', () => {
    const stains = DIRT_KINDS.indexOf('stains');
    const both = found([{ x: 5, y: 5, side: 16, kind: stains, probability: 0.999 }]);
    const speck = 10 * SIZE.width + 10;
    both.odds[speck] = both.odds[speck + 1] = 255;
    both.kind[speck] = both.kind[speck + 1] = DIRT_KINDS.indexOf('specks');
    const { mask, stained } = dirtMasks(both, RULE);
    expect(area(mask)).toBe(256);
    expect(area(stained)).toBe(254);
    expect(stained[speck]).toBe(0);
    // The margin of the speck is not lifted with the stain, that of the stain is.
    expect(area(dirtMasks(both, { ...RULE, margin: 1 }).stained)).toBe(18 * 18 - 12);
  });

  it('takes less likely pixels with what they hang on, not alone', () => {
    const both = found([
      { x: 5, y: 5, side: 2, kind: 0, probability: 0.9 },
      { x: 7, y: 5, side: 2, kind: 0, probability: 0.75 },
      { x: 30, y: 20, side: 2, kind: 0, probability: 0.75 },
    ]);
    expect(area(dirtMask(both, RULE))).toBe(8);
  });

  it('follows what surely is damage to its rim, and what barely is not', () => {
    const rim = (probability: number): number =>
      area(
        dirtMask(
          found([
            { x: 5, y: 5, side: 2, kind: 0, probability },
            { x: 7, y: 5, side: 2, kind: 0, probability: 0.5 },
          ]),
          RULE,
        ),
      );
    expect(rim(0.99)).toBe(8);
    expect(rim(0.9)).toBe(4);
  });

  it('takes a stain as a whole where it is surer than it need be somewhere, and not at all where it is not', () => {
    const stain = (core: number, probability: number): number =>
      area(
        dirtMask(
          found([
            { x: 4, y: 4, side: 20, kind: 5, probability: 0.5 },
            { x: 6, y: 6, side: core, kind: 5, probability },
          ]),
          RULE,
        ),
      );
    expect(stain(4, 0.98)).toBe(400);
    expect(stain(4, 0.94)).toBe(0);
    expect(stain(3, 0.995)).toBe(0);
    // One network alone may take a jacket for a stain.
    const jacket = (damaged: number): FoundDirt => found([{ x: 4, y: 4, side: 20, kind: 5, probability: 0.999, damaged }]);
    expect(area(dirtMask(jacket(0.9), RULE))).toBe(400);
    expect(area(dirtMask(jacket(0.85), RULE))).toBe(0);
    // What only may be a stain, and lies apart from it, is none.
    const apart = found([
      { x: 4, y: 4, side: 20, kind: 5, probability: 0.5 },
      { x: 6, y: 6, side: 4, kind: 5, probability: 0.995 },
      { x: 26, y: 4, side: 6, kind: 5, probability: 0.5 },
    ]);
    expect(area(dirtMask(apart, RULE))).toBe(400);
    expect(maskReach({ ...RULE, sensitivity: { ...even, stains: 0 } })).toBeLessThan(maskReach(RULE));
  });

  it('passes over single pixels, and is wider by its margin', () => {
    expect(area(dirtMask(found([{ x: 9, y: 9, side: 1, kind: 0, probability: 0.99 }]), RULE))).toBe(0);
    expect(area(dirtMask(one, { ...RULE, margin: 2 }))).toBe(49);
  });
});

describe('pieces of damage', () => {
  it('hang together across corners, and are of the kind most of them has', () => {
    const f = found([
      { x: 2, y: 2, side: 4, kind: 2, probability: 0.9 },
      { x: 6, y: 6, side: 2, kind: 0, probability: 0.9 },
      { x: 20, y: 10, side: 3, kind: 4, probability: 0.9 },
    ]);
    const pieces = dirtPieces(dirtMasks(f, RULE), f);
    expect(pieces).toEqual([
      { kind: 'scratches', box: { x: 102, y: 52, width: 6, height: 6 }, pixels: 20 },
      { kind: 'cracks', box: { x: 120, y: 60, width: 3, height: 3 }, pixels: 9 },
    ]);
    expect(countPieces(pieces)).toMatchObject({ scratches: 1, cracks: 1, specks: 0 });
    expect(dirtPieces(dirtMasks(f, RULE), f, 10)).toHaveLength(1);
  });

  it('are of the kind they are mended as: what is filled is no stain, however much it looks like one', () => {
    const kindsOf = (f: FoundDirt, rule: DirtRule): string[] => dirtPieces(dirtMasks(f, rule), f).map(({ kind }) => kind);
    const without = { ...RULE, sensitivity: { ...even, stains: 0 } };
    const stain = found([{ x: 2, y: 2, side: 16, kind: 5, probability: 0.998 }]);
    expect(kindsOf(stain, RULE)).toEqual(['stains']);
    expect(kindsOf(stain, without)).toEqual([]);
    const scratched = found([
      { x: 2, y: 2, side: 8, kind: 5, probability: 0.998 },
      { x: 2, y: 2, side: 8, kind: 2, probability: 0.9 },
    ]);
    expect(kindsOf(scratched, RULE)).toEqual(['scratches']);
    expect(kindsOf(scratched, without)).toEqual(['scratches']);
  });

  it('that come round again are one', () => {
    const f = found([]);
    const mask = Uint8Array.from(f.odds, (_, i) => {
      const x = i % SIZE.width,
        y = Math.floor(i / SIZE.width);
      return y === 20 || (y > 10 && y < 20 && (x === 5 || x === 15 || x === 25)) ? 1 : 0;
    });
    expect(dirtPieces({ mask, stained: new Uint8Array(mask.length) }, f)).toHaveLength(1);
  });
});
