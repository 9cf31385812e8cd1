import { describe, expect, it } from 'vitest';
import { clean } from '../networks/clean';
import { psnr } from '../metrics/metrics';
import { cutPicture, wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import { blockCoded, noisyPlane, picture, streamInfo, texturedPlane } from '../testing/pictures';
import type { Graph } from '../graph/graph';
import { networksOf } from '../graph/cleaning';
import { layOut } from '../graph/layout';
import type { Node } from '../graph/node';
import { graphOver, planOf, runOver, stepNodes, type Step } from '../testing/plans';
import type { Plan } from '../../shared/plan';

/** A run over made-up frames, seen further on with every one, with grain of `sigma` codes on the luma. */
const runOf = (info: StreamInfo, sigma: number, ...steps: Step[]): Node => grainy(info, sigma, planOf(...steps)).output;

function grainy(info: StreamInfo, sigma: number, plan: Plan): Graph {
  const frame = (n: number): Picture => {
    const made = picture(info, n);
    return { ...made, planes: [noisyPlane(made.planes[0], sigma * 256, n + 1), ...made.planes.slice(1)] };
  };
  return graphOver(info, frame, plan);
}

const still = streamInfo({ width: 500, height: 300, frames: 1, fieldOrder: 'progressive' });
const film = streamInfo({ width: 416, height: 272, frames: 8, fieldOrder: 'progressive' });
const fields = streamInfo({ width: 416, height: 272, frames: 8, fieldOrder: 'top-first' });

describe('the best choice', () => {
  it.each<[string, StreamInfo, Record<string, unknown>]>([
    ['deinterlace', fields, { quality: 'best' }],
    ['grain', still, { quality: 'best', luma: 8 }],
    ['grain', film, { quality: 'best', luma: 8 }],
    ['compression', still, { quality: 'best', coding: 12 }],
    ['focus', still, { quality: 'best', blur: 0.8 }],
    ['upscale', still, { quality: 'best', target: 'factor', factor: 2 }],
    ['upscale', still, { quality: 'best', target: 'factor', factor: 2.25, grain: 6 }],
  ])('of %s gives any part as it is in the whole', async (treatment, info, settings) => {
    const whole = await runOf(info, 8, [treatment, settings]).frame(
      info.frames > 1 ? 3 : 0,
      wholeRegion(runOf(info, 8, [treatment, settings]).stream),
    );
    const run = runOf(info, 8, [treatment, settings]);
    const scale = run.stream.width / info.width;
    for (const [x, y] of [
      [10, 8],
      [370, 240],
    ]) {
      const region = { x: 2 * Math.round((x * scale) / 2), y: 2 * Math.round((y * scale) / 2), width: 30, height: 24 };
      const part = cutPicture(await run.frame(info.frames > 1 ? 3 : 0, region), region);
      expect(part.planes).toEqual(cutPicture(whole, region).planes);
    }
  });

  it('works steps of the cleaning network that follow one another in one pass', async () => {
    const plan = planOf(
      ['compression', { quality: 'best', coding: 10, keep: 0 }],
      ['grain', { quality: 'best', luma: 8, chroma: 2, keep: 0 }],
      ['focus', { quality: 'best', blur: 0.5 }],
    );
    const graph = grainy(still, 8, plan);
    const worked = (): number[] => stepNodes(graph, plan).map((node) => node.spent.frames);
    const whole = wholeRegion(still);
    const result = await graph.output.frame(0, whole);
    expect(worked()).toEqual([0, 0, 1]);
    const source = await runOf(still, 8).frame(0, whole);
    const once = await clean(source, whole, { grainLuma: 8, grainChroma: 2, step: 10, blur: 0.5, grainSize: 0 }, { luma: 1, chroma: 1 });
    expect(result.planes).toEqual(once.planes);
    // A look after the first two steps leaves the third out.
    await stepNodes(graph, plan)[1].frame(0, whole);
    expect(worked()).toEqual([0, 1, 1]);
  });

  it('has the neighbouring frames help all the cleaning steps in a row', async () => {
    const told: Step[] = [
      ['compression', { quality: 'best', coding: 6 }],
      ['grain', { quality: 'best', luma: 8, chroma: 2, keep: 0 }],
    ];
    const plan = planOf(...told);
    const graph = grainy(film, 8, plan);
    const whole = wholeRegion(film);
    const made = await graph.output.frame(3, whole);
    expect(stepNodes(graph, plan).map((node) => node.spent.frames)).toEqual([0, 1]);
    expect(psnr(made.planes[0], picture(film, 3).planes[0], 65280)).toBeGreaterThan(
      psnr((await runOf(film, 8).frame(3, whole)).planes[0], picture(film, 3).planes[0], 65280) + 3,
    );
    const names = (source: StreamInfo, steps: Step[]): string[][] => {
      const named = planOf(...steps);
      const networks = networksOf(layOut(named, source));
      return named.steps.map(({ id }) => networks.get(id) ?? []);
    };
    expect(names(film, told)).toEqual([['temporal'], ['temporal']]);
    expect(names(still, told)).toEqual([['clean'], ['clean']]);
    // A fast step between parts the row.
    expect(names(film, [['focus', { quality: 'best' }], ['compression', { quality: 'fast' }], told[1]])).toEqual([
      ['clean'],
      [],
      ['temporal'],
    ]);
    // Chroma finer than 4:2:0 is cleaned frame by frame.
    expect(names({ ...film, chromaShiftY: 0 }, told)[0]).toEqual(['temporal', 'clean']);
  });

  it('of Upscale gives the source back when its light is gathered', async () => {
    const info = streamInfo({ width: 200, height: 120, frames: 1, fieldOrder: 'progressive', pixelAspect: { num: 1, den: 1 } });
    const run = runOf(info, 0, ['upscale', { quality: 'best', target: 'factor', factor: 2 }]);
    const large = await run.frame(0, wholeRegion(run.stream));
    const back = runOver(run.stream, () => large, ['upscale', { quality: 'fast', target: 'factor', factor: 0.5 }]);
    const small = await back.frame(0, wholeRegion(back.stream));
    expect(psnr(small.planes[0], picture(info).planes[0])).toBeGreaterThan(48);
  });

  it('of Grain on film leaves less flicker than frame by frame', async () => {
    const info = { ...film, width: 160, height: 112 };
    const flicker = async (neighbours: number): Promise<number> => {
      const run = runOf({ ...info, rate: { num: 25, den: 1 } }, 10, [
        'grain',
        { quality: 'best', luma: 10, chroma: 0, keep: 0, neighbours },
      ]);
      let sum = 0;
      for (const n of [3, 4]) {
        const made = (await run.frame(n, wholeRegion(info))).planes[0],
          truth = picture(info, n).planes[0];
        const other = (await run.frame(n + 1, wholeRegion(info))).planes[0],
          otherTruth = picture(info, n + 1).planes[0];
        made.data.forEach((v, i) => (sum += Math.abs(v - truth.data[i] - (other.data[i] - otherTruth.data[i]))));
      }
      return sum;
    };
    expect(await flicker(2)).toBeLessThan(await flicker(0));
  });
});

describe('the fast choice', () => {
  it('of Compression takes blocks off', async () => {
    const truth = texturedPlane(160, 120);
    const info = streamInfo({ width: 160, height: 120, frames: 1, planes: 1, fieldOrder: 'progressive' });
    const coded = blockCoded(truth, 24);
    const run = runOver(info, () => ({ info, region: wholeRegion(info), planes: [coded] }), ['compression', { coding: 24, keep: 0 }]);
    const [made] = (await run.frame(0, wholeRegion(info))).planes;
    expect(psnr(made, truth)).toBeGreaterThan(psnr(coded, truth) + 0.5);
  });
});
