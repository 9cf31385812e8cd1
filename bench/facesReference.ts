import { mkdirSync, readdirSync } from 'node:fs';
import sharp from 'sharp';
import { describer, descriptorDistance } from '../src/core/faces/descriptors';
import { type Faces, findFaces } from '../src/core/faces/find';
import { normalStream } from '../src/core/picture/random';
import type { LaidPicture } from '../src/core/picture/laid';
import type { Picture } from '../src/core/picture/picture';
import type { Rgb } from '../src/core/vision/rgb';
import {
  closeness,
  enlargedPlainly,
  FACE,
  facesFolder,
  inFace,
  inFeatures,
  made,
  POOR,
  rgbOf,
  seenAs,
  type Trial,
  trial,
} from './faceTrials';
import { pictureOf, pictureOfBytes } from './subject';
import type { Row } from './table';

/**
 * Poor faces restored by one other picture of the same person. Packages carry one photograph of each of the people held out, so the other picture is made of it:
 * the head turned and tilted, the mouth moved, lit from the side, in another contrast, with grain and coding of its own. Its mesh is found as the program does.
 */

const WIDTHS = [24, 32, 48, 64];
/** How far the middle of a head that turns moves against its outline, how far the mouth's corners move, in parts of the frame, and degrees of the tilt. */
const TURNED = 0.05,
  MOUTH = 0.018,
  TILTED = 7;
/** How much lighter one side is, the contrast's power, the grain's deviation in codes, and the coding's quality. */
const SIDE_LIGHT = 0.35,
  GAMMA = 0.8,
  GRAIN = 3,
  QUALITY = 85;

/** Another picture of the person that a photograph of a face shows in its middle. @param way 1 or -1: to which side the head turns, and is lit. */
async function another(truth: Rgb, { left, top, side }: { left: number; top: number; side: number }, way: number): Promise<Rgb> {
  const { width, height } = truth;
  const out = new Uint8Array(truth.data.length);
  const angle = (way * TILTED * Math.PI) / 180;
  const normal = normalStream(side);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const u0 = (x + 0.5 - left) / side - 0.5,
        v0 = (y + 0.5 - top) / side - 0.5;
      const u = u0 * Math.cos(angle) + v0 * Math.sin(angle),
        v = v0 * Math.cos(angle) - u0 * Math.sin(angle);
      // A head bulges towards the camera: what is nearer moves further.
      const near = Math.sqrt(Math.max(0, 1 - (u / 0.42) ** 2 - ((v - 0.03) / 0.52) ** 2));
      const mouth = Math.exp(-(((Math.abs(u) - 0.1) / 0.06) ** 2) - ((v - 0.245) / 0.06) ** 2);
      const px = (u + 0.5 - way * TURNED * near - Math.sign(u) * MOUTH * mouth) * side + left - 0.5,
        py = (v + 0.5 + MOUTH * mouth) * side + top - 0.5;
      const grain = GRAIN * normal();
      const light = 1 + way * SIDE_LIGHT * Math.max(-1, Math.min(1, 2 * u));
      for (let c = 0; c < 3; c++) {
        const v8 = 255 * Math.min(1, (between(truth, px, py, c) / 255) * light) ** GAMMA;
        out[3 * (y * width + x) + c] = Math.min(255, Math.max(0, Math.round(v8 + grain)));
      }
    }
  const coded = await sharp(out, { raw: { width, height, channels: 3 } })
    .jpeg({ quality: QUALITY })
    .toBuffer();
  return { data: new Uint8Array(await sharp(coded).toColourspace('srgb').removeAlpha().raw().toBuffer()), width, height };
}

function between({ data, width, height }: Rgb, x: number, y: number, c: number): number {
  const cx = Math.min(width - 1.001, Math.max(0, x)),
    cy = Math.min(height - 1.001, Math.max(0, y));
  const x0 = Math.floor(cx),
    y0 = Math.floor(cy);
  const at = (dx: number, dy: number): number => data[3 * ((y0 + dy) * width + x0 + dx) + c];
  const fx = cx - x0,
    fy = cy - y0;
  return (at(0, 0) * (1 - fx) + at(1, 0) * fx) * (1 - fy) + (at(0, 1) * (1 - fx) + at(1, 1) * fx) * fy;
}

/** A picture of a face as a reference: with the mesh that is found in it; undefined where none is. */
async function referenceOf(rgb: Rgb): Promise<LaidPicture | undefined> {
  const [face] = (await findFaces(pictureOfBytes(rgb))).faces;
  if (!face?.mesh) return undefined;
  const { width, height } = rgb;
  return {
    ...{ width, height, data: Uint16Array.from(rgb.data, (v) => 257 * v) },
    mesh: Float32Array.from(face.mesh, (v, i) => v * (i % 2 ? height : width)),
  };
}

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

interface Gains {
  /** Over the better of bicubic and the plan without Faces, in dB. */
  features: number;
  face: number;
  /** What Faces gains in eyes and mouth without a reference, over the better of bicubic and the plan without Faces. */
  alone: number;
  /** By somebody else's picture, over Faces without a reference. */
  stranger?: number;
}

/** A face, its damaged picture with what is found there, another picture of the person, and what that is known by. */
interface Referred {
  one: Trial;
  source: Picture;
  faces: Faces;
  reference: LaidPicture;
  descriptor: Float32Array;
}

/** How far the middle of a face may lie off where it is, and how much larger or smaller it may be found, against its width. */
const OFF = 0.35,
  SIZES = { least: 0.6, most: 1.6 };

/** The faces of a damaged picture: as they are found, or, as a restorer would do, the one that is there placed by hand. */
async function facesOf(source: Picture, { left, side, truth }: Trial): Promise<{ faces: Faces; found: boolean }> {
  const faces = await findFaces(source);
  const middle = (left + side / 2) / truth.width,
    width = (FACE * side) / truth.width;
  const found = faces.faces.some(
    (face) =>
      Math.abs(face.x + face.width / 2 - middle) < OFF * width &&
      Math.abs(face.y + face.height / 2 - middle) < OFF * width &&
      face.width > SIZES.least * width &&
      face.width < SIZES.most * width,
  );
  if (found) return { faces, found };
  const placed = { x: middle - width / 2, y: middle - width / 2, width, height: width };
  return { faces: { ...faces, faces: [{ ...placed, score: 1, pixels: Math.round((FACE * side) / 2), yaw: 0, roll: 0 }] }, found };
}

/** Held-out faces of that width with another picture of each, and how many were found without a hand. */
async function referredAt(width: number, work: string): Promise<{ referred: Referred[]; found: number }> {
  const describe = await describer('residual');
  const referred: Referred[] = [];
  let all = 0,
    seen = 0;
  for (const name of readdirSync(facesFolder())
    .filter((file) => file.startsWith('real-'))
    .sort()) {
    const one = await trial(name, width, POOR, work);
    if (!one) continue;
    all++;
    const source = await pictureOf(one.file);
    const { faces, found } = await facesOf(source, one);
    if (found) seen++;
    const reference = await referenceOf(await another(one.truth, one, all % 2 ? 1 : -1));
    const descriptor = await describe.at(one.truth, { a: one.side, b: 0, x: one.left, y: one.top });
    if (reference) referred.push({ one, source, faces, reference, descriptor });
  }
  return { referred, found: seen };
}

/** Two faces whose descriptors are further apart are two people (the packages have some people several times). */
const TWO_PEOPLE = 0.05;

/** The picture of somebody else who looks most like a face. */
function stranger(to: Float32Array, all: readonly Referred[]): LaidPicture | undefined {
  const off = ({ descriptor }: Referred): number => descriptorDistance(to, descriptor);
  return all.filter((other) => off(other) > TWO_PEOPLE).sort((a, b) => off(a) - off(b))[0]?.reference;
}

async function gainsAt(width: number, work: string): Promise<{ gains: Gains[]; found: number }> {
  const { referred, found } = await referredAt(width, work);
  const gains: Gains[] = [];
  for (const { one, source, faces, reference, descriptor } of referred) {
    const by = async (picture?: LaidPicture): Promise<Rgb> =>
      rgbOf(await made(source, faces, POOR, { restore: true, ...(picture && { by: [picture] }) }));
    const plain = await enlargedPlainly(one),
      plan = rgbOf(await made(source, faces, POOR, { restore: false })),
      alone = await by(),
      guided = await by(reference);
    if (process.env.WAIRETIC_SEEN) await seenAs(`reference-${width}-${one.name}`, [plain, plan, alone, guided, one.truth], one);
    const over = (picture: Rgb, within: typeof inFace): number =>
      closeness(picture, one, within) - Math.max(closeness(plain, one, within), closeness(plan, one, within));
    const other = stranger(descriptor, referred);
    gains.push({
      ...{ features: over(guided, inFeatures), face: over(guided, inFace), alone: over(alone, inFeatures) },
      ...(other && { stranger: over(await by(other), inFace) - over(alone, inFace) }),
    });
  }
  return { gains, found };
}

/** Faces restored by one reference, and by somebody else's. */
export async function facesByReference(work: string): Promise<Row[]> {
  mkdirSync(work, { recursive: true });
  const rows: Row[] = [];
  for (const width of WIDTHS) {
    const { gains, found } = await gainsAt(width, work);
    const group = `Faces: ${width} px wide, blurred, grain 8, JPEG 50, made twice as large, by one reference of another pose and light, dB`;
    const row = (what: string, values: number[], marks: Partial<Row> = {}): Row => ({
      ...{ group, what, shown: `${mean(values).toFixed(2)} (worst ${Math.min(...values).toFixed(2)})`, value: mean(values) },
      ...marks,
    });
    const strangers = gains.flatMap((g) => g.stranger ?? []);
    rows.push(
      row(
        'eyes and mouth, over the better of bicubic and the plan without Faces',
        gains.map((g) => g.features),
        { atLeast: 1.5 },
      ),
      row(
        'face, over the same',
        gains.map((g) => g.face),
      ),
      row(
        'eyes and mouth without the reference',
        gains.map((g) => g.alone),
      ),
      {
        ...row('face, by the picture of the stranger most like them, over none', strangers),
        ...{ value: Math.min(...strangers), atLeast: -0.1 },
      },
      { group, what: 'found at that size; the others are placed by hand', shown: `${found} of ${gains.length}` },
    );
  }
  return rows;
}
