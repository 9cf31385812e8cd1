import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { normalStream } from '../picture/random';
import { groupFaces, type GroupFace, type PairAnswer } from './group';
import { centredFaces, likeness, CROWD } from './likeness';

const unit = (values: Float32Array): Float32Array => {
  const length = Math.hypot(...values);
  return values.map((v) => v / length);
};

/** A descriptor: what all faces have in common, what somebody's have of their own, and how far this picture is off that. */
function descriptor(mean: Float32Array, person: number, off: number, id: string): Float32Array {
  const scale = 0.5 / Math.sqrt(mean.length);
  const own = normalStream(1000 * person + 7),
    wander = normalStream([...id].reduce((sum, c) => 17 * sum + c.charCodeAt(0), 3));
  return unit(mean.map((v) => v + scale * (own() + off * wander())));
}

/** A face of somebody. */
const face = (id: string, person: number, off: number, more: Partial<GroupFace> = {}): GroupFace => ({
  ...{ id, picture: id, pixels: 100, yaw: 0 },
  residual: descriptor(CROWD.residual.mean, person, off, id),
  separable: descriptor(CROWD.separable.mean, person, off, id),
  ...more,
});

const sets = (groups: string[][]): string[] => groups.map((ids) => [...ids].sort().join(' ')).sort();

describe('faces put together by person', () => {
  it('are together where they are alike, and apart where they are not', () => {
    const faces = [
      face('a1', 1, 0.15),
      face('a2', 1, 0.15),
      face('a3', 1, 0.15),
      face('b1', 2, 0.15),
      face('b2', 2, 0.15),
      face('c1', 3, 0.15),
    ];
    expect(sets(groupFaces(faces, []).groups)).toEqual(['a1 a2 a3', 'b1 b2', 'c1']);
    const centred = centredFaces(faces);
    expect(likeness(centred[0], centred[1])).toBeGreaterThan(0);
    expect(likeness(centred[0], centred[3])).toBeLessThan(0);
  });

  it('of one picture are two people, unless somebody says otherwise; it is worth asking', () => {
    const faces = [face('a1', 1, 0.1, { picture: 'scan' }), face('a2', 1, 0.1, { picture: 'scan' })];
    const { groups, questions } = groupFaces(faces, []);
    expect(groups).toHaveLength(2);
    expect(questions).toMatchObject([{ a: 'a2', b: 'a1' }]);
    expect(groupFaces(faces, [{ a: 'a1', b: 'a2', said: 'same' }]).groups).toHaveLength(1);
  });

  it('of one film may be one person where no frame shows both', () => {
    const along = (id: string, first: number, last: number) => face(id, 1, 0.1, { picture: 'film', along: { first, last } });
    expect(sets(groupFaces([along('a1', 0, 40), along('a2', 41, 90)], []).groups)).toEqual(['a1 a2']);
    expect(sets(groupFaces([along('a1', 0, 40), along('a2', 40, 90)], []).groups)).toEqual(['a1', 'a2']);
  });

  it('stay as they were told, and nobody is asked twice', () => {
    const faces = [face('a1', 1, 0.1), face('a2', 1, 0.1)];
    const answer = (said: PairAnswer['said']): PairAnswer[] => [{ a: 'a1', b: 'a2', said }];
    expect(groupFaces(faces, answer('different'))).toMatchObject({ groups: [['a1'], ['a2']], questions: [] });
    const doubtful = [face('a1', 1, 0.1), face('a2', 1, 2.6)];
    expect(groupFaces(doubtful, [])).toMatchObject({ groups: [['a1'], ['a2']], questions: [{ a: 'a2', b: 'a1' }] });
    expect(groupFaces(doubtful, answer('unsure'))).toMatchObject({ groups: [['a1'], ['a2']], questions: [] });
    expect(groupFaces(doubtful, answer('same')).groups).toHaveLength(1);
  });

  it('that stood elsewhere do not join somebody who was told of: it is asked about; new ones do', () => {
    const told = (more: Partial<GroupFace>): GroupFace[] => [
      face('a1', 1, 0.1, { person: 'ruth', stood: 'ruth' }),
      face('a2', 1, 0.1, { person: 'ruth', stood: 'ruth' }),
      face('a3', 1, 0.1, more),
    ];
    expect(sets(groupFaces(told({}), []).groups)).toEqual(['a1 a2 a3']);
    expect(sets(groupFaces(told({ stood: 'ruth' }), []).groups)).toEqual(['a1 a2 a3']);
    const { groups, questions } = groupFaces(told({ stood: 'a3' }), []);
    expect(sets(groups)).toEqual(['a1 a2', 'a3']);
    expect(questions).toHaveLength(1);
    expect(questions[0].likeness).toBeGreaterThan(0);
    // Where nobody said anything, faces are put together whatever they stood in.
    const untold = told({ stood: 'a3' }).map((f): GroupFace => ({ ...f, person: undefined }));
    expect(sets(groupFaces(untold, []).groups)).toEqual(['a1 a2 a3']);
  });

  it('of two people that were named never become one', () => {
    const faces = [face('a1', 1, 0.1, { person: 'ruth' }), face('a2', 1, 0.1, { person: 'iris' }), face('a3', 1, 0.1)];
    const { groups, questions } = groupFaces(faces, []);
    expect(groups).toHaveLength(2);
    expect(groups.find((ids) => ids.includes('a3'))).toHaveLength(2);
    expect(questions).toEqual([]);
  });

  it('small and from the side say less than large ones from the front', () => {
    const compared = (more: Partial<GroupFace>): number => {
      const [a, b] = centredFaces([face('a1', 1, 0.1, more), face('a2', 1, 0.1)]);
      return likeness(a, b);
    };
    expect(compared({ pixels: 16 })).toBeLessThan(compared({}));
    expect(compared({ yaw: 50 })).toBeLessThan(compared({}));
  });

  it('are each in one group, and never against what was told', () => {
    const faces = fc.array(
      fc.record({
        person: fc.integer({ min: 0, max: 3 }),
        picture: fc.integer({ min: 0, max: 5 }),
        off: fc.double({ min: 0.05, max: 0.4, noNaN: true }),
      }),
      { maxLength: 14 },
    );
    const pairs = fc.array(fc.tuple(fc.nat(13), fc.nat(13)), { maxLength: 6 });
    fc.assert(
      fc.property(faces, pairs, (told, parted) => {
        const all = told.map(({ person, picture, off }, n) => face(`f${n}`, person, off, { picture: String(picture) }));
        const answers = parted
          .filter(([a, b]) => a !== b && a < all.length && b < all.length)
          .map(([a, b]): PairAnswer => ({ a: `f${a}`, b: `f${b}`, said: 'different' }));
        const { groups, questions } = groupFaces(all, answers);
        expect(groups.flat().sort()).toEqual(all.map(({ id }) => id).sort());
        const together = (a: string, b: string): boolean => groups.some((ids) => ids.includes(a) && ids.includes(b));
        for (const { a, b } of answers) expect(together(a, b)).toBe(false);
        for (const ids of groups) expect(new Set(ids.map((id) => all[Number(id.slice(1))].picture)).size).toBe(ids.length);
        for (const { a, b } of questions) expect(together(a, b)).toBe(false);
      }),
      { numRuns: 60 },
    );
  });
});
