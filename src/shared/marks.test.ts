import { describe, expect, it } from 'vitest';
import { readStroke } from './marks';

const mark = { id: 'a', use: 'colour', on: true, points: [{ x: 1, y: 2 }], size: 9, softness: 0, colour: '#000011112222' };

describe('a mark from elsewhere', () => {
  it('keeps what it is, and nothing else', () => {
    expect(readStroke({ ...mark, frame: 12, more: 1 })).toEqual({ mark: { ...mark, frame: 12 } });
    expect(readStroke(mark)).toEqual({ mark });
  });

  it.each([
    ['a frame before the first', { frame: -1 }, 'frame'],
    ['a frame between two', { frame: 1.5 }, 'frame'],
    ['a frame of what stands still', { use: 'heal', colour: undefined, frame: 3 }, 'frame'],
    ['a colour of what has none', { use: 'neutral' }, 'only what had a colour'],
    ['no colour where there is one', { colour: undefined }, 'says which'],
    ['a use there is not', { use: 'paint' }, 'is for one of'],
    ['no place', { points: [] }, 'points'],
  ])('is refused with %s', (_, change, words) => {
    const read = readStroke({ ...mark, ...change });
    expect('problem' in read && read.problem).toContain(words);
  });
});
