import { describe, expect, it } from 'vitest';
import type { Region } from '../picture/picture';
import { streamInfo } from '../testing/pictures';
import type { FoundFaults } from '../treatments/treatment';
import { foundFaults, paintFaults } from './faults';
import type { Node } from './node';

/** A node that finds one fault at each place, and says of which picture it made no use there. */
function nodeWith(places: [number, number][], unused?: (part: Region) => string[]): Node {
  const stream = streamInfo({ width: 5000, height: 3000, frames: 1 });
  const found = (_: number, part: Region): Promise<FoundFaults> => {
    const mask = new Uint8Array(part.width * part.height);
    const here = places.filter(([x, y]) => x >= part.x && x < part.x + part.width && y >= part.y && y < part.y + part.height);
    for (const [x, y] of here) mask[(y - part.y) * part.width + x - part.x] = 1;
    const share = here.length / mask.length;
    return Promise.resolve({
      region: part,
      mask,
      counts: [{ name: 'Specks', count: here.length }],
      share,
      ...(unused && { unused: unused(part) }),
    });
  };
  return { stream, found } as unknown as Node;
}

describe('faults of a large part', () => {
  const places: [number, number][] = [
    [10, 10],
    [2047, 40],
    [2048, 41],
    [4900, 2900],
  ];

  it('are found tile by tile, each once, and where they are', async () => {
    const tiles: number[] = [];
    const all = await foundFaults(nodeWith(places), 0, undefined, () => void tiles.push(1));
    expect(tiles).toHaveLength(6);
    expect(all?.counts).toEqual([{ name: 'Specks', count: 4 }]);
    expect(all?.share).toBeCloseTo(4 / (5000 * 3000), 12);
    expect(places.map(([x, y]) => all?.mask[y * 5000 + x])).toEqual([1, 1, 1, 1]);
    expect(all?.mask.reduce((sum, v) => sum + v, 0)).toBe(4);
  });

  it('of a part lie in it', async () => {
    const region = { x: 2000, y: 0, width: 100, height: 100 };
    const part = await foundFaults(nodeWith(places), 0, region);
    expect(part?.counts[0].count).toBe(2);
    expect(part?.mask[40 * 100 + 47]).toBe(1);
  });

  it('name each picture that was not used once', async () => {
    const unused = ({ x }: Region): string[] => (x === 0 ? ['one'] : ['one', 'two']);
    expect((await foundFaults(nodeWith([], unused), 0))?.unused).toEqual(['one', 'two']);
    expect((await foundFaults(nodeWith([]), 0))?.unused).toBeUndefined();
  });

  it('are not told by what finds none', async () => {
    expect(await foundFaults({ stream: streamInfo() } as unknown as Node, 0)).toBeUndefined();
  });
});

describe('tinting', () => {
  const region = { x: 0, y: 0, width: 9, height: 1 };
  const mask = Uint8Array.of(0, 0, 0, 0, 1, 0, 0, 0, 0);
  const tinted = (reduced: number): number[] => {
    const pixels = new Uint8Array(36).fill(100);
    paintFaults(pixels, { region, mask, counts: [], share: 0 }, reduced);
    return Array.from({ length: 9 }, (_, n) => n).filter((n) => pixels[4 * n] !== 100);
  };

  it('shows a fault where it is, and broader where the picture is shown small', () => {
    expect(tinted(1)).toEqual([4]);
    expect(tinted(4)).toEqual([2, 3, 4, 5, 6]);
  });
});
