import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SAME_PLACE, scaling, type Projective } from '../../../shared/maps/place';
import type { FilmFaces } from '../../faces/film';
import type { Face, Faces } from '../../faces/find';
import { FRAME } from '../../faces/frame';
import { cutPicture, growRegion, wholeRegion, type Picture, type Region } from '../../picture/picture';
import { PictureCache } from '../../graph/cache';
import { compile } from '../../graph/graph';
import { evidenceMap, ownPlan, supportedPlan } from '../../plan/evidence';
import type { Plan } from '../../../shared/plan';
import { readPlan } from '../../plan/read';
import { contextOf } from '../../testing/context';
import { noisyPlane, picture, streamInfo } from '../../testing/pictures';
import { faces } from './faces';
import type { LaidPicture } from '../../picture/laid';
import { FacesSettings } from './settings';

const info = streamInfo({ width: 240, height: 180, frames: 1 });
const source = picture(info);

/** A mesh whose landmarks lie as in a frame of that side at that place, and whose other points go round it. */
function mesh(left: number, top: number, side: number): number[] {
  const at = Array.from({ length: 468 }, (_, n) => [0.5 + 0.34 * Math.cos(n), 0.53 + 0.42 * Math.sin(n)]);
  [[33, 133, 159, 145], [362, 263, 386, 374], [1], [61], [291]].forEach((points, n) => {
    for (const p of points) at[p] = [FRAME[2 * n], FRAME[2 * n + 1]];
  });
  return at.flatMap(([u, v]) => [(left + side * u) / info.width, (top + side * v) / info.height]);
}

const face = (left: number, top: number, side: number): Face => ({
  ...{ x: (left + 0.16 * side) / info.width, y: (top + 0.11 * side) / info.height },
  ...{ width: (0.68 * side) / info.width, height: (0.84 * side) / info.height },
  ...{ score: 0.9, pixels: Math.round(0.68 * side), yaw: 0, roll: 0, mesh: mesh(left, top, side) },
});
const found: Faces = { faces: [face(20, 30, 64), face(130, 60, 96)], width: info.width, height: info.height };

async function made(given: Partial<FacesSettings>, region: Region = wholeRegion(info), place: Projective = SAME_PLACE): Promise<Picture> {
  const settings = { ...new FacesSettings(), ...given };
  const work = { marks: [], place, seen: [0], pictures: {}, analyses: { faces: found } };
  const reach = faces.reach?.(region, settings, info, work) ?? region;
  const part = growRegion(reach, 0, 2, info);
  return faces.apply([cutPicture(source, part)], settings, contextOf(info, region, work));
}

const changed = (result: Picture, x: number, y: number): boolean =>
  result.planes[0].data[y * info.width + x] !== source.planes[0].data[y * info.width + x];

describe('faces', () => {
  it('are changed, and nothing else is', async () => {
    const result = await made({});
    expect(changed(result, 52, 64)).toBe(true);
    expect(changed(result, 178, 110)).toBe(true);
    for (const [x, y] of [
      [2, 2],
      [110, 60],
      [238, 170],
      [24, 34],
    ])
      expect(changed(result, x, y)).toBe(false);
  });

  it('get what is said of each', async () => {
    const one = await made({ each: '0.21667,0.34444,0' });
    expect(changed(one, 52, 64)).toBe(false);
    expect(changed(one, 178, 110)).toBe(true);
    const none = await made({ amount: 0 });
    none.planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
  });

  it('get what is said of their areas', async () => {
    const nothing = await made({ eyes: 0, mouth: 0, skin: 0 });
    nothing.planes.forEach((plane, p) => expect(plane.data).toEqual(source.planes[p].data));
    // A face without a mesh is all skin.
    const added = { each: '0.45,0.85,100,0.2' };
    expect(changed(await made({ ...added, eyes: 0, mouth: 0 }), 108, 150)).toBe(true);
    expect(changed(await made({ ...added, skin: 0 }), 108, 150)).toBe(false);
  });

  it('that are placed by hand lie as they are turned, and stand for what was found there', async () => {
    // A narrow face at the left below, upright and on its side: only the latter reaches so far to the left.
    const upright = await made({ each: '0.45,0.8,100,0.2' }),
      turned = await made({ each: '0.45,0.8,100,0.2,90' });
    expect([changed(upright, 108, 172), changed(turned, 108, 172)]).toEqual([true, false]);
    expect([changed(upright, 79, 144), changed(turned, 79, 144)]).toEqual([false, true]);
    // Where the first was found, one is placed that gets nothing.
    const none = await made({ each: '0.21667,0.34444,0,0.18' });
    expect(changed(none, 52, 64)).toBe(false);
    expect(changed(none, 178, 110)).toBe(true);
  });

  it('that were added by hand are worked too', async () => {
    const result = await made({ each: '0.45,0.85,100,0.2' });
    expect(changed(result, 108, 150)).toBe(true);
  });

  /** A picture twice as large, whose left face lies where it does here. */
  const twice = (sampleAt: (x: number, y: number) => number): LaidPicture => ({
    ...{ width: 480, height: 360, mesh: Float32Array.from(mesh(20, 30, 64), (v, i) => v * (i % 2 ? 360 : 480)) },
    data: Uint16Array.from({ length: 3 * 480 * 360 }, (_, i) => sampleAt((Math.floor(i / 3) % 480) >> 1, Math.floor(i / 3 / 480) >> 1)),
  });
  const luma = (x: number, y: number): number => source.planes[0].data[y * 240 + x];
  const same = twice(luma),
    stranger = twice((x, y) => luma(239 - x, 179 - y));
  /** Names of the two: what is remembered of a picture goes by its name. */
  const NAME = 'a'.repeat(64),
    STRANGER = 'c'.repeat(64);
  const referringTo = (name: string): FacesSettings => ({ ...new FacesSettings(), references: `0.21667,0.34444=${name}` });
  const referring = referringTo(NAME);
  const pictures = { [NAME]: same, [STRANGER]: stranger };
  const contextIn = (region: Region): ReturnType<typeof contextOf> =>
    contextOf(info, region, { marks: [], place: SAME_PLACE, seen: [0], pictures, analyses: { faces: found } });

  it('are restored by the pictures that are named for them, and the others are not', async () => {
    expect(faces.pictures?.({ ...referring, references: `${referring.references},-${'b'.repeat(64)}` })).toEqual([NAME]);
    const guided = await faces.apply([source], referring, contextIn(wholeRegion(info))),
      alone = await made({});
    const off = (left: number, right: number): number => {
      let count = 0;
      for (let y = 0; y < 180; y++)
        for (let x = left; x < right; x++) count += Number(guided.planes[0].data[y * 240 + x] !== alone.planes[0].data[y * 240 + x]);
      return count;
    };
    expect(off(20, 84)).toBeGreaterThan(200);
    expect(off(130, 226)).toBe(0);
  });

  it('tell which pictures they were not restored by, since those show somebody else', async () => {
    const told = async (name: string, region = wholeRegion(info)): Promise<Record<string, unknown>> => {
      const { counts = [], unused } = (await faces.found?.([cutPicture(source, region)], referringTo(name), contextIn(region))) ?? {};
      return { unused, ...Object.fromEntries(counts.map((one) => [one.name, one.count])) };
    };
    expect(await told(NAME)).toMatchObject({
      unused: [],
      Faces: 2,
      'Restored by other pictures': 1,
      'Other pictures that do not agree': 0,
    });
    expect(await told(STRANGER)).toMatchObject({
      ...{ unused: [STRANGER], 'Restored by other pictures': 0, 'Other pictures that do not agree': 1 },
    });
    // The middle of neither face lies in the part between them.
    expect(await told(STRANGER, { x: 60, y: 0, width: 60, height: 180 })).toMatchObject({ unused: [], Faces: 0 });
  });

  it('show in the evidence where another picture made them, and nowhere else', async () => {
    const plan = readPlan({
      format: 'wairetic-plan',
      version: 2,
      steps: [{ treatment: 'faces', on: true, settings: { ...referring, noise: 6 } }],
    });
    const resources = {
      cache: new PictureCache(0),
      analysis: () => ({ hash: 'found', value: found }),
      picture: () => Promise.resolve(same),
    };
    const of = (given: Plan | undefined): Promise<Picture> =>
      compile(
        given ?? plan,
        { info, key: 'still', frame: (_, region) => Promise.resolve(cutPicture(source, region)) },
        resources,
      ).output.frame(0, wholeRegion(info));
    const { own = new Uint8Array() } = evidenceMap(await of(plan), await of(supportedPlan(plan)), await of(ownPlan(plan)));
    const borrowed = [...own.keys()].filter((i) => own[i] < 250);
    expect(borrowed.length).toBeGreaterThan(20);
    for (const i of borrowed) expect(i % 240).toBeLessThan(90);
  });

  it('of any part are those of the whole', async () => {
    const whole = await made({});
    await fc.assert(
      fc.asyncProperty(fc.nat(90), fc.nat(60), async (x, y) => {
        const region = { x: 2 * x, y: 2 * y, width: 60, height: 60 };
        const part = await made({}, region);
        const expected = cutPicture(whole, region);
        part.planes.forEach((plane, p) => expect(plane.data).toEqual(expected.planes[p].data));
      }),
      { numRuns: 8 },
    );
  });

  it('lie where the steps before have put them', async () => {
    // The input shows the source's right half, twice as large.
    const place = scaling(0.5, 0.5, 120, 0);
    const result = await made({}, wholeRegion(info), place);
    expect(changed(result, 2 * (178 - 120), 2 * 85)).toBe(true);
    expect(changed(result, 20, 20)).toBe(false);
  });

  it('are counted, and told where they are too small for more than evidence', async () => {
    const region = wholeRegion(info);
    const small = { faces: { ...found, faces: [face(20, 30, 50)] } };
    const told = await faces.found?.([source], new FacesSettings(), contextOf(info, region, { analyses: small }));
    expect(told?.counts.slice(0, 2)).toEqual([
      { name: 'Faces', count: 1 },
      { name: 'Too small for more than evidence', count: 1 },
    ]);
  });
});

describe('faces of a film', () => {
  const film = streamInfo({ width: 240, height: 180, frames: 12 });
  const still = picture(film);
  const meshes = Array.from({ length: 12 }, () => Float32Array.from(mesh(20, 30, 64)));
  const followed: FilmFaces = { width: 240, height: 180, frames: 12, shots: [0], tracks: [{ first: 0, meshes }] };
  /** Frames of the same, each with noise of its own. */
  const frames = Array.from({ length: 12 }, (_, n) => ({
    ...still,
    planes: [noisyPlane(still.planes[0], 1500, n), ...still.planes.slice(1)],
  }));
  const { before, after } = faces.needs(new FacesSettings(), film);

  function at(n: number, given: Partial<FacesSettings> = {}, window = frames): Promise<Picture> | Picture {
    const seen = Array.from({ length: before + 1 + after }, (_, k) => Math.min(11, Math.max(0, n - before + k)));
    const settings = { ...new FacesSettings(), noise: 6, grain: 0, ...given };
    const work = { marks: [], analyses: { 'film-faces': followed }, frame: n, seen };
    return faces.apply(
      seen.map((k) => window[k]),
      settings,
      contextOf(film, wholeRegion(film), work),
    );
  }
  /** How far two results are apart in the middle of the face, in samples. */
  function apart(a: Picture, b: Picture): number {
    let sum = 0;
    for (let y = 50; y < 76; y++) for (let x = 40; x < 64; x++) sum += (a.planes[0].data[y * 240 + x] - b.planes[0].data[y * 240 + x]) ** 2;
    return Math.sqrt(sum / (26 * 24));
  }

  it('take what the frames beside say of them', async () => {
    const among = await at(5),
      alone = await at(
        5,
        {},
        frames.map(() => frames[5]),
      );
    expect(apart(among, alone)).toBeGreaterThan(500);
  });

  it('get what is said of them, named by any of their frames', async () => {
    const none = await at(5, { each: '0.21667,0.34444,0@9' });
    expect(none.planes[0].data).toEqual(frames[5].planes[0].data);
    const other = await at(5, { each: '0.21667,0.34444,0@40' });
    expect(other.planes[0].data).not.toEqual(frames[5].planes[0].data);
  });

  it('are read from the frames beside only where they are, and in part as in the whole', async () => {
    const read: number[] = [];
    const steps = [{ treatment: 'faces', on: true, settings: { noise: 6 } }];
    const { output } = compile(
      readPlan({ format: 'wairetic-plan', version: 2, steps }),
      {
        ...{ info: film, key: 'film' },
        frame: (n, region) => {
          read.push(n);
          return Promise.resolve(cutPicture(frames[n], region));
        },
      },
      { cache: new PictureCache(0), analysis: () => ({ hash: 'found', value: followed }) },
    );
    await output.frame(5, { x: 160, y: 100, width: 40, height: 40 });
    expect(read).toEqual([5]);
    const region = { x: 40, y: 50, width: 30, height: 24 };
    const part = await output.frame(5, region);
    expect(new Set(read).size).toBe(before + 1 + after);
    const whole = await output.frame(5, wholeRegion(film));
    expect(cutPicture(part, region).planes).toEqual(cutPicture(whole, region).planes);
  });
});
