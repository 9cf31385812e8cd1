import { createHash } from 'node:crypto';
import { describe, expect, it } from 'vitest';
import { wholeRegion, type Picture, type Plane, type StreamInfo } from '../picture/picture';
import { randomStream } from '../picture/random';
import { streamInfo } from '../testing/pictures';
import { graphOver, type Step } from '../testing/plans';
import { TREATMENTS } from '../treatments/register';
import { readPlan } from './read';

/**
 * Fixed plans over fixed pictures, and the SHA-256 of the samples they make: what changes how plans run must not change what they make.
 * Where a treatment's own computation is changed on purpose, its version rises and its rows are renewed with it.
 */

const VIDEO = streamInfo({ width: 160, height: 96, frames: 9 });
const FIELDS: StreamInfo = { ...VIDEO, fieldOrder: 'top-first' };
const STILL = streamInfo({ width: 150, height: 110, frames: 1, depth: 16, chromaShiftX: 0, chromaShiftY: 0 });

/** Slanting bands, patches and noise that move on with every frame; whole numbers alone, so that no machine draws them otherwise. */
function drawn({ width, height }: { width: number; height: number }, dx: number, dy: number, seed: number): Plane {
  const random = randomStream(seed);
  const data = new Uint16Array(width * height);
  for (let i = 0; i < data.length; i++) {
    const u = (i % width) + dx,
      v = Math.floor(i / width) + dy;
    const band = Math.abs(((3 * u + 2 * v) % 128) - 64) * 260,
      patch = ((u >> 4) + (v >> 3)) % 3 === 0 ? 9000 : 0;
    data[i] = 9000 + band + patch + Math.floor(random() * 1500);
  }
  return { width, height, data };
}

function frame(info: StreamInfo, n: number): Picture {
  const chroma = { width: info.width >> info.chromaShiftX, height: info.height >> info.chromaShiftY };
  return {
    info,
    region: wholeRegion(info),
    planes: [drawn(info, 3 * n, n, n + 1), drawn(chroma, n + 20, 5, 100 + n), drawn(chroma, n + 70, 30, 200 + n)],
  };
}

const OVAL = { areas: [{ shape: 'oval', x: 0.1, y: 0.15, width: 0.5, height: 0.6 }], outside: false, soft: 0.1 };

const SPAN = { first: 3, last: 5 };

const PLANS: [name: string, info: StreamInfo, steps: Step[], sum: string][] = [
  ['nothing', VIDEO, [], '56029c86188885cc'],
  ['fields', FIELDS, [['deinterlace']], 'dc7ebf858288568d'],
  ['fields once a frame, without motion', FIELDS, [['deinterlace', { rate: 'single', motion: false }]], 'bb2b604d7609b4b6'],
  ['grain of moving images', VIDEO, [['grain', { luma: 5, chroma: 3 }]], '4eb8ad980d612217'],
  ['grain of a still', STILL, [['grain', { luma: 6, chroma: 4, size: 0.5 }]], '6dea77c3d01180ee'],
  [
    'compression and grain',
    VIDEO,
    [
      ['compression', { coding: 12 }],
      ['grain', { luma: 3, chroma: 0 }],
    ],
    'c52dee5a1c34df7c',
  ],
  [
    'focus and regrain',
    STILL,
    [
      ['focus', { blur: 0.8 }],
      ['regrain', { amount: 2, chroma: 1 }],
    ],
    '292a38034aa90dda',
  ],
  ['twice the size', STILL, [['upscale', { target: 'factor', factor: 2 }]], '40c6de01a493a7ed'],
  [
    'trimmed and cropped',
    VIDEO,
    [
      ['trim', { first: 2, last: 7 }],
      ['crop', { left: 8, top: 6, right: 4, bottom: 2 }],
    ],
    '6f6a54ef2fe8f753',
  ],
  ['into a frame', VIDEO, [['fit', { mode: 'bars', width: 200, height: 150 }]], 'f0df8bf7e7da8263'],
  ['grain in an oval', STILL, [['grain', { luma: 6, chroma: 0 }, OVAL]], '288da382cc7a2817'],
  [
    'regrain for a while, after a trim',
    VIDEO,
    [
      ['trim', { first: 1, last: 8 }],
      ['regrain', { amount: 3 }, undefined, SPAN],
    ],
    '720cf2a40d97e944',
  ],
  [
    'a tape from end to end',
    FIELDS,
    [
      ['deinterlace'],
      ['compression', { coding: 8 }],
      ['grain', { luma: 4, chroma: 4 }, OVAL, SPAN],
      ['crop', { left: 4, right: 4, top: 2, bottom: 2 }],
      ['focus', { blur: 0.5 }, OVAL],
      ['upscale', { target: 'factor', factor: 1.5 }],
      ['regrain', { amount: 1 }],
    ],
    'e1c33ad5bbfbe044',
  ],
];

const VERSIONS = {
  trim: 1,
  torn: 2,
  lens: 1,
  turn: 1,
  perspective: 1,
  crop: 1,
  negative: 1,
  deinterlace: 2,
  silvering: 1,
  dirt: 13,
  heal: 3,
  inlay: 1,
  halftone: 3,
  compression: 3,
  grain: 2,
  halos: 1,
  focus: 2,
  stairsteps: 1,
  tone: 1,
  colourise: 8,
  toning: 1,
  background: 1,
  redact: 1,
  upscale: 3,
  faces: 6,
  fit: 2,
  regrain: 1,
};

describe('plans make what they made', () => {
  it('with treatments of these versions', () => {
    expect(Object.fromEntries(TREATMENTS.map(({ id, version }) => [id, version]))).toEqual(VERSIONS);
  });

  it.each(PLANS)('%s', async (_, info, steps, sum) => {
    // As they were written down first, with masks in the frames of their steps.
    const listed = steps.map(([treatment, settings, mask, span]) => ({ treatment, on: true, settings, mask, span }));
    const { output } = graphOver(info, (n) => frame(info, n), readPlan({ format: 'wairetic-plan', version: 1, steps: listed }, info));
    const hash = createHash('sha256');
    for (const n of [0, output.stream.frames >> 1, output.stream.frames - 1]) {
      const { planes } = await output.frame(n, wholeRegion(output.stream));
      for (const { data } of planes) hash.update(new Uint8Array(data.buffer, data.byteOffset, data.byteLength));
    }
    expect(hash.digest('hex').slice(0, 16)).toBe(sum);
  });
});
