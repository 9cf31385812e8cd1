import { describe, expect, it } from 'vitest';
import type { Item } from '../../archive';
import { standingOut } from './standingOut';

/** A still of which so much is known. */
function still(id: string, measured: object = {}, findings: object[] = []): Item {
  const measurements = {
    grainLuma: 3 + Number(id.slice(1)) / 10,
    blur: 0.5,
    monochrome: false,
    dirt: { share: 0.1 },
    papers: [],
    ...measured,
  };
  const facts = { stream: { width: 1600, height: 1200 }, damage: [] };
  return { id, kind: 'still', facts, condition: { measurements, findings, sampled: [0] } } as unknown as Item;
}

const usual = Array.from({ length: 10 }, (_, n) => still(`i${n}`));

describe('what stands out in a collection', () => {
  it('is nothing where all are alike, or there are few', () => {
    expect(standingOut(usual)).toEqual([]);
    expect(standingOut([...usual.slice(0, 4), still('i90', { grainLuma: 30 })])).toEqual([]);
  });

  it('is what a few have and most have not', () => {
    const out = standingOut([
      ...usual,
      still('i10', { grainLuma: 19 }),
      still('i11', { papers: ['a', 'b', 'c'] }),
      still('i12', {}, [{ id: 'halftone' }]),
      still('i13', { monochrome: true, dirt: { share: 2 } }),
    ]);
    expect(out.map(({ words, items, of }) => [words, items, of])).toEqual([
      ['several prints on one scan', ['i11'], 14],
      ['a printing screen', ['i12'], 14],
      ['monochrome among colours', ['i13'], 14],
      ['grain far above the others', ['i10'], 14],
      ['more damage than on the others', ['i13'], 14],
    ]);
  });

  it('is not what half of them have', () => {
    const halves = [...usual, ...Array.from({ length: 10 }, (_, n) => still(`i${n + 10}`, { monochrome: true }))];
    expect(standingOut(halves)).toEqual([]);
  });
});
