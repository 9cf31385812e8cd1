import { describe, expect, it } from 'vitest';
import type { Silvering } from './find';
import { readingOf, silveringWords, isSilvered } from './measure';

/** A raster of 100 x 50 that is veiled where it is said. */
function silvered(where: (x: number, y: number) => boolean, strength = 100): Silvering {
  const [width, height] = [100, 50];
  const plane = (value: (x: number, y: number) => number): Uint8Array =>
    Uint8Array.from({ length: width * height }, (_, i) => value(i % width, Math.floor(i / width)));
  const empty = plane(() => 128);
  return { width, height, odds: plane((x, y) => (where(x, y) ? 220 : 20)), strength: plane(() => strength), colour: [empty, empty, empty] };
}

const words = (where: (x: number, y: number) => boolean): string => silveringWords(readingOf(silvered(where)));

describe('silvering, told', () => {
  it('as a share, and by the edges it lies along', () => {
    expect(readingOf(silvered((x) => x < 10))).toEqual({ share: 10, edges: ['left'] });
    expect(words((x) => x < 10)).toBe('along the left edge');
    expect(words((x, y) => x < 10 || y > 45)).toBe('along the left and lower edges');
    expect(words((x, y) => x < 5 || y > 45 || x > 94)).toBe('along the left, right and lower edges');
    expect(words(() => true)).toBe('along all edges');
    expect(words((x, y) => x > 40 && x < 60 && y > 10 && y < 40)).toBe('inside the picture');
    // A print on a card.
    expect(words((x, y) => x > 5 && x < 10 && y > 3 && y < 46)).toBe('along the left edge');
  });

  it('not at all where it is too weak to show, or next to nothing', () => {
    expect(readingOf(silvered((x) => x < 10, 10)).share).toBe(0);
    expect(isSilvered(readingOf(silvered((x) => x < 10)))).toBe(true);
    expect(isSilvered(readingOf(silvered((x, y) => x < 2 && y < 5)))).toBe(false);
  });
});
