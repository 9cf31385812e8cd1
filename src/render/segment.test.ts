import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { Cancelled, compile, type Picture, PictureCache, readPlan, wholeRegion } from '../core';
import type { Plan } from '../shared/plan';
import { picture, streamInfo } from '../core/testing/pictures';
import { masterCodec, openSource, VideoEncoder } from '../media';
import { probe } from '../media/probe';
import { renderSegment, type SegmentTask, type SourceRef } from './segment';

const info = streamInfo({ width: 96, height: 64, frames: 9, fieldOrder: 'top-first' });
const plan: Plan = readPlan({
  format: 'wairetic-plan',
  version: 2,
  steps: [
    { id: 'fields', treatment: 'deinterlace', on: true, settings: { order: 'top' } },
    { id: 'size', treatment: 'upscale', on: true, settings: { target: 'factor', factor: 1.5 } },
  ],
});

let root = '';
let source: SourceRef;
const at = (name: string): string => path.join(root, name);

beforeAll(async () => {
  root = mkdtempSync(path.join(tmpdir(), 'wairetic-segment-'));
  const encoder = new VideoEncoder(info, [{ path: at('clip.mkv'), format: 'matroska', codec: masterCodec(info) }]);
  for (let n = 0; n < info.frames; n++) await encoder.write(picture(info, n));
  await encoder.finish();
  const probed = await probe(at('clip.mkv'));
  source = { path: at('clip.mkv'), key: 'clip', probed, info: probed.facts.stream };
});
afterAll(() => rmSync(root, { recursive: true }));

const task = (first: number, count: number, part: Partial<SegmentTask>): SegmentTask => ({
  source,
  plan,
  first,
  count,
  ppi: 300,
  shared: new SharedArrayBuffer(8),
  ...part,
});

/** Frames `first` on of what the plan makes of the clip. */
async function made(first: number, count: number, of: Plan = plan): Promise<Picture[]> {
  const opened = await openSource(source.path, source.key, source.probed, source.info);
  const { output } = compile(of, opened, { cache: new PictureCache(0) });
  const pictures: Picture[] = [];
  for (let n = first; n < first + count; n++) pictures.push(await output.frame(n, wholeRegion(output.stream)));
  opened.close?.();
  return pictures;
}

/** All frames of a file, samples alone. */
async function read(file: string, frames: number): Promise<number[][][]> {
  const opened = await openSource(file, file);
  const out: number[][][] = [];
  for (let n = 0; n < frames; n++) out.push((await opened.frame(n, wholeRegion(opened.info))).planes.map((p) => [...p.data]));
  opened.close?.();
  return out;
}

/** As a file of ten bits keeps it. */
const rounded = (p: Picture): number[][] => p.planes.map(({ data }) => [...data].map((v) => Math.min(1023, (v + 32) >> 6) << 6));

describe('renderSegment', () => {
  it('writes forks, masks and spans as the graph gives them', async () => {
    const oval = { parts: [{ shape: { kind: 'oval', x: 0.2, y: 0.1, width: 0.6, height: 0.7 } }], feather: 0.2 };
    const grain = (luma: number): object => ({ treatment: 'grain', on: true, settings: { luma, neighbours: 1 } });
    const forked = readPlan({
      format: 'wairetic-plan',
      version: 2,
      steps: [
        plan.steps[0],
        {
          on: true,
          branches: [
            { name: 'gentle', on: true, opacity: 100, steps: [grain(2)] },
            { name: 'strong', on: true, opacity: 70, mask: oval, span: { first: 3, last: 6 }, steps: [grain(20)] },
          ],
        },
      ],
    });
    const file = at('forked.mkv');
    await renderSegment(task(4, 6, { plan: forked, master: { path: file, still: { kind: 'tiff' } } }));
    expect(await read(file, 6)).toEqual((await made(4, 6, forked)).map(rounded));
  });

  it('writes the frames of its piece and no others, tells how far it is and what each step took', async () => {
    const shared = new SharedArrayBuffer(8);
    const file = at('piece.mkv');
    const { steps } = await renderSegment(task(5, 4, { master: { path: file, still: { kind: 'tiff' } }, shared }));
    expect(await read(file, 4)).toEqual((await made(5, 4)).map(rounded));
    expect(new Int32Array(shared)[0]).toBe(4);
    expect(steps.map((s) => s.id)).toEqual(['fields', 'size']);
    expect(steps.every((s) => s.frames === 4 && s.milliseconds > 0)).toBe(true);
  });

  it('stops when told so and says nothing was made', async () => {
    const shared = new SharedArrayBuffer(8);
    Atomics.store(new Int32Array(shared), 1, 1);
    await expect(renderSegment(task(0, 4, { access: { path: at('stopped.nut') }, shared }))).rejects.toThrow(Cancelled);
    expect(new Int32Array(shared)[0]).toBe(0);
  });

  it('never writes over a file', async () => {
    const file = at('there.mkv');
    await renderSegment(task(0, 2, { master: { path: file, still: { kind: 'tiff' } } }));
    await expect(renderSegment(task(0, 2, { master: { path: file, still: { kind: 'tiff' } } }))).rejects.toThrow('encoder stopped');
  });

  it('writes a still once as master and access copy', async () => {
    const still = streamInfo({ width: 40, height: 30, frames: 1, rate: { num: 0, den: 1 }, fieldOrder: 'progressive' });
    const pixels = Buffer.from(Uint8Array.from({ length: still.width * still.height * 3 }, (_, i) => (i * 7) & 255));
    await sharp(pixels, { raw: { width: still.width, height: still.height, channels: 3 } })
      .png()
      .toFile(at('still.png'));
    const probed = await probe(at('still.png'));
    await renderSegment(
      task(0, 1, {
        source: { path: at('still.png'), key: 'still', probed, info: probed.facts.stream },
        plan: { ...plan, steps: plan.steps.slice(1) },
        master: { path: at('master.tif'), still: { kind: 'tiff' } },
        access: { path: at('access.jpg') },
      }),
    );
    for (const name of ['master.tif', 'access.jpg']) {
      expect(existsSync(at(name))).toBe(true);
      expect(await sharp(at(name)).metadata()).toMatchObject({ width: 60, height: 45, density: 300 });
    }
  });
});
