import { describe, expect, it } from 'vitest';
import { cutPicture, wholeRegion, type Picture, type StreamInfo } from '../picture/picture';
import type { Plan } from '../../shared/plan';
import { picture, streamInfo } from '../testing/pictures';
import { planOf as plan, stepNodes } from '../testing/plans';
import { PictureCache } from './cache';
import { compile, frameBefore, placeBetween, type Graph } from './graph';
import { Cancelled, type FrameSource } from './node';
import { tiledPicture } from './tiled';

class MadeUp implements FrameSource {
  key = 'made up';
  asked: number[] = [];
  constructor(readonly info: StreamInfo) {}
  frame(n: number): Promise<Picture> {
    this.asked.push(n);
    return Promise.resolve(picture(this.info, n));
  }
}

const run = (source: FrameSource, p: Plan, cancelled?: () => boolean): Graph =>
  compile(p, source, { cache: new PictureCache(1 << 28), cancelled });

describe('a graph', () => {
  const info = streamInfo({ width: 96, height: 64, fieldOrder: 'top-first', frames: 9 });
  const all: [string, Record<string, unknown>?][] = [
    ['trim', { first: 1, last: 7 }],
    ['crop', { left: 4, top: 4 }],
    ['deinterlace'],
    ['grain', { luma: 3, neighbours: 1 }],
    ['upscale', { target: 'factor', factor: 2 }],
    ['regrain', { amount: 4 }],
    ['fit', { width: 240, height: 130 }],
  ];

  it('gives any part of any step as it is in the whole', async () => {
    const p = plan(...all);
    const graph = run(new MadeUp(info), p);
    for (const node of stepNodes(graph, p)) {
      const frame = frameBefore(graph.output, 7, node);
      const complete = await node.frame(frame, wholeRegion(node.stream));
      const region = { x: (node.stream.width >> 2) & ~1, y: (node.stream.height >> 2) & ~1, width: 26, height: 18 };
      const part = (await run(new MadeUp(info), p).node(node.id)?.frame(frame, region)) as Picture;
      expect(part.planes.map((p) => p.data)).toEqual(cutPicture(complete, region).planes.map((p) => p.data));
    }
  });

  it('gives the same bytes whatever was asked before, and in tiles', async () => {
    const forwards = run(new MadeUp(info), plan(...all)).output,
      backwards = run(new MadeUp(info), plan(...all)).output;
    const region = wholeRegion(forwards.stream);
    const a = [],
      b = [];
    for (let n = 0; n < 6; n++) a.push(await forwards.frame(n, region));
    for (let n = 5; n >= 0; n--) b.unshift(await backwards.frame(n, region));
    expect(b).toEqual(a);
    expect(await tiledPicture(run(new MadeUp(info), plan(...all)).output, 3)).toEqual(a[3]);
  });

  it('works a large still in tiles that do not show', async () => {
    const still = streamInfo({ width: 700, height: 900, frames: 1, chromaShiftX: 0, chromaShiftY: 0 });
    const p = plan(['upscale', { target: 'factor', factor: 4 }]);
    const tiled = await tiledPicture(run(new MadeUp(still), p).output, 0);
    const strip = { x: 900, y: 1000, width: 300, height: 60 };
    const direct = await run(new MadeUp(still), p).output.frame(0, strip);
    expect(cutPicture(tiled, strip).planes[0].data).toEqual(direct.planes[0].data);
  });

  it('computes again only what a change concerns', async () => {
    const source = new MadeUp(info),
      cache = new PictureCache(1 << 28);
    const first = compile(plan(['deinterlace'], ['regrain', { amount: 1 }]), source, { cache }).output;
    await first.frame(4, wholeRegion(first.stream));
    source.asked = [];
    const changed = plan(['deinterlace'], ['regrain', { amount: 9 }]);
    const second = compile(changed, source, { cache });
    await second.output.frame(4, wholeRegion(second.output.stream));
    expect(source.asked).toEqual([]);
    expect(stepNodes(second, changed).map((node) => node.spent.frames)).toEqual([0, 1]);
  });

  it('stops when it is no longer wanted, and refuses what is not there', async () => {
    let left = 2;
    const stopped = run(new MadeUp(info), plan(['deinterlace']), () => left-- <= 0).output;
    await expect(stopped.frame(4, wholeRegion(stopped.stream))).rejects.toThrow(Cancelled);
    const r = run(new MadeUp(info), plan(['deinterlace'])).output;
    await expect(r.frame(18, wholeRegion(r.stream))).rejects.toThrow('frame 18 of 18');
    await expect(r.frame(0, { x: 90, y: 0, width: 20, height: 20 })).rejects.toThrow('leaves the frame');
  });

  it('knows where the source lies in the output', () => {
    const r = run(new MadeUp(info), plan(['crop', { left: 16, right: 16 }], ['upscale', { target: 'factor', factor: 2 }]));
    expect(placeBetween(r.source, 0, r.output, 0, wholeRegion(info))).toEqual({ x: -32, y: 0, width: 192, height: 128 });
    expect(placeBetween(r.output, 0, r.output, 0, wholeRegion(r.output.stream))).toEqual({ x: 0, y: 0, width: 128, height: 128 });
  });
});

describe('frames at the ends of a clip', () => {
  it('are the same whatever is remembered between steps', async () => {
    const noisy = streamInfo({ width: 96, height: 64, frames: 7 });
    const p = plan(['grain', { luma: 6, chroma: 3 }], ['regrain', { amount: 1 }]);
    const of = async (cache: PictureCache, n: number): Promise<Picture> => {
      const { output } = compile(p, new MadeUp(noisy), { cache });
      return output.frame(n, wholeRegion(output.stream));
    };
    for (const n of [0, 1, 6]) expect((await of(new PictureCache(0), n)).planes).toEqual((await of(new PictureCache(1 << 28), n)).planes);
  });
});

describe('an enlargement', () => {
  it('of noise gives any part as it is in the whole, wherever the part begins', async () => {
    const still = streamInfo({ width: 120, height: 90, frames: 1, chromaShiftX: 0, chromaShiftY: 0 });
    const p = plan(['regrain', { amount: 12 }], ['upscale', { target: 'factor', factor: 2 }]);
    const whole = await tiledPicture(run(new MadeUp(still), p).output, 0);
    // Every row of a ring of three, and of a vector of four.
    for (const [x, y] of [
      [12, 0],
      [14, 2],
      [18, 4],
      [22, 6],
      [40, 34],
      [60, 50],
    ]) {
      const region = { x, y, width: 100, height: 60 };
      const part = await run(new MadeUp(still), p).output.frame(0, region);
      expect(part.planes).toEqual(cutPicture(whole, region).planes);
    }
  });
});
