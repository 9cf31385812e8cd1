import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { ratio } from './rational';
import {
  composeTime,
  evenTime,
  framesOf,
  framesShowing,
  keptStretches,
  rational,
  sameTime,
  sourceFrame,
  timeAt,
  timesOf,
  type TimeMap,
} from './time';

/** Maps of a clip of `frames` frames, as treatments make them. */
const MAKERS: ((frames: number, a: number, b: number) => TimeMap)[] = [
  (frames) => evenTime(2 * frames, rational(0), rational(1, 2)),
  (frames, a, b) => {
    const first = a % frames;
    return evenTime(1 + (b % (frames - first)), rational(first), rational(1));
  },
  // Backwards.
  (frames) => evenTime(frames, rational(frames - 1), rational(-1)),
  // The second half before the first.
  (frames) => {
    const half = frames >> 1;
    const late = { first: 0, count: frames - half, start: rational(half), step: rational(1) };
    return half ? [late, { first: frames - half, count: half, start: rational(0), step: rational(1) }] : [late];
  },
  // Five frames made of four.
  (frames) => evenTime(Math.max(1, Math.floor((5 * frames) / 4)), rational(0), rational(4, 5)),
];

/** Those that ask for times between frames. */
const BETWEEN = [0, 4];

const chain = fc.tuple(
  fc.integer({ min: 1, max: 60 }),
  fc.array(fc.tuple(fc.nat(MAKERS.length - 1), fc.nat(500), fc.nat(500)), { maxLength: 5 }),
);

/** A chain's maps one by one, and as one. */
function built(frames: number, makers: [number, number, number][]): { steps: TimeMap[]; whole: TimeMap } {
  const steps: TimeMap[] = [];
  let whole = sameTime(frames);
  for (const [kind, a, b] of makers) {
    // Between frames that were put out of order, or run backwards, nothing was seen.
    if (BETWEEN.includes(kind) && steps.some((map) => map.length > 1 || map.some(({ step }) => step.num < 0))) continue;
    const own = MAKERS[kind](framesOf(whole), a, b);
    steps.unshift(own);
    whole = composeTime(own, whole);
  }
  return { steps, whole };
}

describe('time maps', () => {
  it('composed say of each frame what they say one after the other', () => {
    fc.assert(
      fc.property(chain, ([frames, makers]) => {
        const { steps, whole } = built(frames, makers);
        for (let n = 0; n < framesOf(whole); n++) {
          const stepwise = steps.reduce((at, map) => timeAt(map, at), rational(n));
          expect(timeAt(whole, rational(n))).toEqual(stepwise);
        }
      }),
      { numRuns: 60 },
    );
  });

  it('lead there and back through any chain', () => {
    fc.assert(
      fc.property(chain, ([frames, makers]) => {
        const { whole } = built(frames, makers);
        for (let n = 0; n < framesOf(whole); n++) expect(timesOf(whole, timeAt(whole, rational(n)))).toContainEqual(rational(n));
        // And what is not shown is said to be shown nowhere.
        for (let n = 0; n < frames; n++) for (const at of timesOf(whole, rational(n))) expect(timeAt(whole, at)).toEqual(rational(n));
      }),
      { numRuns: 60 },
    );
  });

  it('tell which frames show a stretch of the source', () => {
    fc.assert(
      fc.property(chain, fc.nat(60), fc.nat(60), ([frames, makers], a, b) => {
        const { whole } = built(frames, makers);
        const [first, last] = [Math.min(a, b), Math.max(a, b)];
        const shown = Array.from({ length: framesOf(whole) }, (_, n) => n).filter((n) => {
          const at = sourceFrame(whole, n);
          return at >= first && at <= last;
        });
        expect(framesShowing(whole, first, last)).toEqual(shown.length ? { first: shown[0], last: shown[shown.length - 1] } : undefined);
      }),
    );
  });

  it('are one piece where they go on evenly', () => {
    const halves = composeTime(sameTime(10), [
      { first: 0, count: 4, start: rational(0), step: rational(1) },
      { first: 4, count: 6, start: rational(4), step: rational(1) },
    ]);
    expect(halves).toEqual(sameTime(10));
  });

  it('tell frames of fields by the frame they lie in, and their time by the half', () => {
    const doubled = composeTime(evenTime(20, rational(0), rational(1, 2)), evenTime(10, rational(30), rational(1)));
    expect([sourceFrame(doubled, 0), sourceFrame(doubled, 1), sourceFrame(doubled, 7)]).toEqual([30, 30, 33]);
    expect(ratio(timeAt(doubled, rational(7)))).toBe(33.5);
    expect(keptStretches(doubled)).toEqual([{ start: rational(30), end: rational(40) }]);
  });

  it('refuse frames that are not there', () => {
    expect(() => timeAt(sameTime(5), rational(5))).toThrow('frame 5 of 5');
    expect(() => composeTime(evenTime(5, rational(3), rational(1)), sameTime(5))).toThrow('time 5 of 5');
  });

  it('keep a film of a day exact at 60000/1001 frames a second', () => {
    const frames = 24 * 3600 * 60;
    const map = composeTime(evenTime(2 * frames, rational(0), rational(1, 2)), evenTime(frames, rational(7), rational(1)));
    expect(timeAt(map, rational(2 * frames - 1))).toEqual(rational(2 * (frames + 7) - 1, 2));
  });
});
