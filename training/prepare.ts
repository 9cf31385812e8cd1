/**
 * Adds to made-up clips what the program itself computes: `prepare.ts fields BASE` the fast deinterlacing of every field,
 * `prepare.ts temporal BASE` the neighbouring frames laid over the middle one and its fast cleaning; to damaged prints, `prepare.ts heal BASE`,
 * what each way to fill gives. Reads BASE.json, BASE.true, BASE.damaged and BASE.strengths (see clips.py, blemishSamples.py), writes
 * BASE.prepared.
 */
import { open, readFile, rename } from 'node:fs/promises';
import { fillCandidates } from '../src/core/fill/candidates';
import { fillFields } from '../src/core/kernels/deinterlace';
import { newPlane, wholeRegion, type Picture, type Plane } from '../src/core/picture/picture';
import { streamInfo } from '../src/core/testing/pictures';
import { prepareMoving } from '../src/core/treatments/grain/moving';

interface Shape {
  width: number;
  height: number;
  frames: number;
  clips: number;
}

const plane = (bytes: Uint8Array, width: number, height: number): Plane => {
  const out = newPlane(width, height);
  for (let i = 0; i < bytes.length; i++) out.data[i] = bytes[i] * 257;
  return out;
};

const bytesOf = (p: Plane): Uint8Array => Uint8Array.from(p.data, (v) => Math.round(v / 257));

/** Of 8 fields, the fast result of fields 2 to 5: the two frames that have a frame on both sides. */
function fields(clip: Uint8Array, { width, height, frames }: Shape): Uint8Array[] {
  const size = width * height;
  const woven = Array.from({ length: frames / 2 }, (_, n) => {
    const bytes = new Uint8Array(size);
    for (let y = 0; y < height; y++) {
      const from = (2 * n + (y & 1)) * size + y * width;
      bytes.set(clip.subarray(from, from + width), y * width);
    }
    return plane(bytes, width, height);
  });
  return [1, 2].flatMap((n) => {
    const three: [Plane, Plane, Plane] = [woven[n - 1], woven[n], woven[n + 1]];
    return fillFields(three, true, { motion: true, edges: true }).map(bytesOf);
  });
}

/** All frames of the clip, the others than the middle one laid over it, and the middle one as the fast choice cleans it. */
function temporal(clip: Uint8Array, { width, height, frames }: Shape, strengths: Float32Array): Uint8Array[] {
  const size = width * height,
    one = (size * 3) / 2;
  const info = streamInfo({ width, height, frames });
  const window = Array.from({ length: frames }, (_, n): Picture => {
    const at = n * one;
    const planes = [
      plane(clip.subarray(at, at + size), width, height),
      plane(clip.subarray(at + size, at + size * 1.25), width / 2, height / 2),
      plane(clip.subarray(at + size * 1.25, at + one), width / 2, height / 2),
    ];
    return { info, region: wholeRegion(info), planes };
  });
  const [grainLuma, grainChroma, step, blur, grainSize] = strengths;
  const made = prepareMoving(window, { grainLuma, grainChroma, step, blur, grainSize });
  return [...made.frames, made.fast].flatMap((p) => p.map(bytesOf));
}

/** The luma that each way to fill gives for a picture and its mask. */
function heal(print: Uint8Array, { width, height }: Shape): Uint8Array[] {
  const size = width * height;
  const part = (n: number): Uint8Array => print.subarray(n * size, (n + 1) * size);
  const planes = [0, 1, 2].map((n) => plane(part(n), width, height).data);
  const missing = part(3).map((v) => (v ? 1 : 0));
  return fillCandidates({ width, height, planes, missing }, true).ways.map(([luma]) => bytesOf({ width, height, data: luma }));
}

const [kind, base] = process.argv.slice(2);
const work = { fields, temporal, heal }[kind];
if (!work || !base) throw new Error('usage: prepare.ts fields|temporal|heal BASE');
const shape = JSON.parse(await readFile(`${base}.json`, 'utf8')) as Shape;
const input = await open(`${base}.${kind === 'fields' ? 'true' : 'damaged'}`);
const output = await open(`${base}.prepared.new`, 'w');
/** Bytes of a pixel: luma, luma and chroma at 4:2:0, luma, chroma and a mask. */
const PIXEL = { fields: 1, temporal: 1.5, heal: 4 }[kind as 'fields' | 'temporal' | 'heal'];
const bytes = shape.width * shape.height * shape.frames * PIXEL;
const buffer = new Uint8Array(bytes);
/** Strengths of one clip, as of `Steering`. */
const KNOWN = 5;
const strengths =
  kind === 'temporal' ? new Float32Array((await readFile(`${base}.strengths`)).buffer) : new Float32Array(KNOWN * shape.clips);
for (let n = 0; n < shape.clips; n++) {
  await input.read(buffer, 0, bytes, n * bytes);
  for (const part of work(buffer, shape, strengths.subarray(KNOWN * n, KNOWN * (n + 1)))) await output.write(part);
}
await Promise.all([input.close(), output.close()]);
await rename(`${base}.prepared.new`, `${base}.prepared`);
