import { describe, expect, it } from 'vitest';
import type { FilmColours } from '../../colour/film';
import type { Guess } from '../../colour/guess';
import { measureFilm } from '../../colour/measureFilm';
import type { ConditionReport } from '../../condition/report';
import { layOut } from '../../graph/layout';
import { planWarnings } from '../../plan/warnings';
import { tonesOf } from '../../colour/tones';
import { PictureCache } from '../../graph/cache';
import { compile, type Graph } from '../../graph/graph';
import { NEUTRAL_CHROMA, newPlane, type Picture, wholeRegion } from '../../picture/picture';
import { monochromePlan } from '../../plan/monochrome';
import { readPlan } from '../../plan/read';
import { whatIsDone } from '../../plan/done';
import { picture, streamInfo, texturedPlane } from '../../testing/pictures';
import { madeSource, planOf } from '../../testing/plans';
import type { StrokeMark } from '../../../shared/marks';
import type { Plan } from '../../../shared/plan';

const info = streamInfo({ width: 96, height: 64, frames: 1, planes: 1, chromaShiftX: 0, chromaShiftY: 0 });
const grey = picture(info);

/** All of it green. */
const guess: Guess = {
  ...{ width: 12, height: 8 },
  answers: {
    likely: new Int8Array(192).fill(-20),
    warm: Int8Array.from({ length: 192 }, (_, i) => (i < 96 ? -30 : 30)),
    cool: Int8Array.from({ length: 192 }, (_, i) => (i < 96 ? 30 : -30)),
  },
  doubt: new Uint8Array(96),
};

function made(plan: Plan, source: Picture = grey): Promise<Picture> {
  const known: Record<string, unknown> = { tones: tonesOf(source), colours: guess };
  const graph = compile(
    plan,
    madeSource(source.info, () => source),
    { cache: new PictureCache(0), analysis: (_key, id) => ({ hash: id, value: known[id] }) },
  );
  return graph.output.frame(0, wholeRegion(source.info));
}

/** Mean chroma in codes, of all or of one half. */
function chroma({ planes, info: { width } }: Picture, within: (x: number) => boolean = () => true): [number, number] {
  return [1, 2].map((index) => {
    const values = [...planes[index].data].filter((_, i) => within(i % width));
    return (values.reduce((sum, v) => sum + v, 0) / values.length - NEUTRAL_CHROMA) / 257;
  }) as [number, number];
}

const green = ([b, r]: [number, number]): boolean => b < -5 && r < -5;

describe('Colourise', () => {
  it('gives a monochrome picture colours and leaves its lightness', async () => {
    const result = await made(planOf(['colourise']));
    expect(result.planes).toHaveLength(3);
    expect(result.planes[0].data).toEqual(grey.planes[0].data);
    expect(green(chroma(result))).toBe(true);
    const [warm, cool, muted] = await Promise.all(
      ['warm', 'cool', 'muted'].map(async (begin) => chroma(await made(planOf(['colourise', { begin }])))),
    );
    expect(warm[1] - warm[0]).toBeGreaterThan(20);
    expect(cool[1] - cool[0]).toBeLessThan(-20);
    expect(muted[0] / chroma(result)[0]).toBeCloseTo(0.55, 1);
  });

  it('leaves a picture that has colours, unless it is told to', async () => {
    const source = picture({ ...info, planes: 3 });
    source.planes[1].data.forEach((_, i) => (source.planes[1].data[i] = NEUTRAL_CHROMA + 256 * Math.round(30 * Math.sin(i / 300))));
    expect(tonesOf(source).own).toBe('coloured');
    expect((await made(planOf(['colourise']), source)).planes).toEqual(source.planes);
    expect(green(chroma(await made(planOf(['colourise', { over: true }]), source)))).toBe(true);
  });

  it('is held to a part of a monochrome picture; the rest is grey', async () => {
    const mask = { parts: [{ combine: 'add', shape: { kind: 'box', x: 0, y: 0, width: 0.5, height: 1 } }], feather: 0.02 };
    const result = await made(planOf(['colourise', {}, mask]));
    expect(green(chroma(result, (x) => x < 36))).toBe(true);
    expect(chroma(result, (x) => x > 60)).toEqual([0, 0]);
  });

  it('is a branch of a fork over a monochrome ground', async () => {
    const plan = readPlan({
      ...{ format: 'wairetic-plan', version: 2 },
      steps: [
        {
          ...{ id: 'f', on: true },
          branches: [
            { id: 'a', name: 'as it is', on: true, opacity: 100, steps: [] },
            { id: 'b', name: 'coloured', on: true, opacity: 50, steps: [{ treatment: 'colourise', on: true }] },
          ],
        },
      ],
    });
    const [half, whole] = [await made(plan), await made(planOf(['colourise']))].map((p) => chroma(p));
    expect(half[0] / whole[0]).toBeCloseTo(0.5, 1);
  });

  it('says that colour was added, and a plan can be had without', () => {
    const plan = planOf(['colourise', { amount: 80 }], ['regrain']);
    expect(whatIsDone(plan, info)[0]).toBe('Colourise: colour added, likely, 80 %');
    expect(monochromePlan(plan)).toMatchObject({ steps: [{ on: false }, { on: true }] });
    expect(monochromePlan(planOf(['colourise', { amount: 0 }]))).toBeUndefined();
    expect(monochromePlan(planOf(['regrain']))).toBeUndefined();
  });
});

/** A picture that is red all over, and its name. */
const name = 'b'.repeat(64);
const red = { width: 96, height: 64, data: Uint16Array.from({ length: 3 * 96 * 64 }, (_, i) => (i % 3 === 0 ? 42000 : 24000)) };

describe('Colourise by reference', () => {
  it('lays nothing until a picture is chosen', async () => {
    expect(chroma(await made(planOf(['colourise', { begin: 'reference' }])))).toEqual([0, 0]);
  });

  it('takes the colours of the picture that is chosen', async () => {
    const graph = compile(
      planOf(['colourise', { begin: 'reference', reference: name, quiet: 0 }]),
      madeSource(info, () => grey),
      { cache: new PictureCache(0), analysis: (_key, id) => ({ hash: id, value: tonesOf(grey) }), picture: () => Promise.resolve(red) },
    );
    const [cb, cr] = chroma(await graph.output.frame(0, wholeRegion(info)));
    expect(cr).toBeGreaterThan(15);
    expect(cb).toBeLessThan(0);
  });
});

describe('Colourise of a film', () => {
  const film = { ...info, width: 192, height: 144, frames: 6 };
  /** A camera that goes to the left: what is seen goes to the right. */
  const frames = [0, 1, 2, 3, 4, 5].map((n): Picture => ({
    info: film,
    region: wholeRegion(film),
    planes: [texturedPlane(192, 144, -3 * n)],
  }));
  const measured = (): Promise<FilmColours> =>
    measureFilm(film, (n) => Promise.resolve(frames[n]), { first: 0, end: 6, progress: () => Promise.resolve() });

  async function coloured(
    settings: Record<string, unknown>,
    marks: StrokeMark[],
    look: (graph: Graph) => Promise<Picture>,
  ): Promise<Picture> {
    const found: FilmColours = { ...(await measured()), keys: [{ frame: 0, guess }] };
    const plan = planOf(['colourise', settings]);
    const graph = compile(
      { ...plan, steps: plan.steps.map((step) => ({ ...step, ...(marks.length && { marks: 'a'.repeat(64) }) })) },
      madeSource(film, (n) => frames[n]),
      { cache: new PictureCache(0), analysis: () => ({ hash: 'film', value: found }), marks: () => Promise.resolve(marks) },
    );
    return look(graph);
  }
  const at =
    (n: number, region = wholeRegion(film)) =>
    (graph: Graph) =>
      graph.output.frame(n, region);

  it('gives every frame the colours of the looks at it, and leaves its lightness', async () => {
    const made = await coloured({}, [], at(4));
    expect(made.planes[0].data).toEqual(frames[4].planes[0].data);
    expect(green(chroma(made))).toBe(true);
  });

  it('gives a part what it gives the whole, at a film’s ends too', async () => {
    for (const n of [0, 3, 5]) {
      const region = { x: 40, y: 16, width: 64, height: 48 };
      const [part, whole] = [await coloured({}, [], at(n, region)), await coloured({}, [], at(n))];
      for (const index of [0, 1, 2])
        for (let y = 0; y < 48; y++)
          for (let x = 0; x < 64; x++) {
            const [p, w] = [part, whole].map(
              ({ region: own, planes }) => planes[index].data[(16 + y - own.y) * own.width + 40 + x - own.x],
            );
            if (p !== w) expect([n, index, x, y, p]).toEqual([n, index, x, y, w]);
          }
    }
  });

  it('carries a mark of one frame to the others', async () => {
    const mark: StrokeMark = {
      ...{ id: 'm', use: 'colour', on: true, size: 12, softness: 0, colour: '#b0b040404040', frame: 0 },
      points: [{ x: 60, y: 70 }],
    };
    const red = async (n: number, marks: StrokeMark[]): Promise<number> => {
      const { planes } = await coloured({ begin: 'hand', reach: 5 }, marks, at(n));
      return (planes[2].data[70 * film.width + 60 + 3 * n] - NEUTRAL_CHROMA) / 257;
    };
    expect(await red(5, [mark])).toBeGreaterThan(15);
    expect(await red(5, [{ ...mark, on: false }])).toBe(0);
  });

  it('takes the colours of another picture, and none until one is chosen', async () => {
    const found = await measured();
    const by = async (settings: object): Promise<Picture> => {
      const graph = compile(
        planOf(['colourise', { begin: 'reference', quiet: 0, ...settings }]),
        madeSource(film, (n) => frames[n]),
        { cache: new PictureCache(0), analysis: () => ({ hash: 'film', value: found }), picture: () => Promise.resolve(red) },
      );
      return graph.output.frame(4, wholeRegion(film));
    };
    const [cb, cr] = chroma(await by({ reference: name }));
    expect(cr).toBeGreaterThan(15);
    expect(cb).toBeLessThan(0);
    expect(chroma(await by({}))).toEqual([0, 0]);
  });

  it('rests until the film is measured, and leaves one that has colours', async () => {
    const source = madeSource(film, (n) => frames[n]);
    const layout = layOut(planOf(['colourise']), film, source.key);
    expect(layout.missing).toMatchObject([{ analysis: 'film-colours', key: layout.source.key }]);
    const own: FilmColours = { ...(await measured()), own: 'coloured' };
    const graph = compile(planOf(['colourise']), source, { cache: new PictureCache(0), analysis: () => ({ hash: 'own', value: own }) });
    expect(chroma(await graph.output.frame(2, wholeRegion(film)))).toEqual([0, 0]);
  });
});

it('is warned of where the report reads colours', () => {
  const told = (settings: object, monochrome: boolean): number => {
    const plan = planOf(['colourise', { ...settings }]);
    const report = { measurements: { monochrome }, findings: [], sampled: [0] } as unknown as ConditionReport;
    return planWarnings(plan, layOut(plan, info), report).length;
  };
  expect([told({}, false), told({ over: true }, false), told({}, true)]).toEqual([1, 0, 0]);
});

describe('Toning', () => {
  it('tones a monochrome picture, and takes any tone off', async () => {
    const source = { info, region: wholeRegion(info), planes: [newPlane(96, 64, 30000)] };
    const [cb, cr] = chroma(await made(planOf(['toning', { tone: 'sepia' }]), source));
    expect(cr - cb).toBeGreaterThan(10);
    expect(chroma(await made(planOf(['toning', { tone: 'sepia' }], ['toning']), source))).toEqual([0, 0]);
  });
});
