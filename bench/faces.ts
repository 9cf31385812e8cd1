import { existsSync, mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { describer, descriptorDistance } from '../src/core/faces/descriptors';
import { findFaces } from '../src/core/faces/find';
import { toRgb } from '../src/core/picture/matrix';
import type { Picture } from '../src/core/picture/picture';
import type { Rgb } from '../src/core/vision/rgb';
import {
  closeness,
  damagedFile,
  enlargedPlainly,
  type FaceDamage,
  inFace,
  inFeatures,
  made,
  POOR,
  seenAs,
  SOUND,
  type Trial,
} from './faceTrials';
import { FOLDER } from './prints';
import { pictureOf } from './subject';
import type { Row } from './table';

/** Widths of faces that are restored, in pixels. */
const WIDTHS = [24, 32, 48, 64];
/** Width of a face against the side of the frame it is laid straight in. */
const FACE = 0.68;
/** What surrounds the frame, in parts of its side: detectors want to see a head in a picture. */
const ROUND = 1;

const folder = (): string => {
  const at = path.join(FOLDER, 'faces');
  if (!existsSync(at)) throw new Error(`${at} is missing; "./run train held-out" makes it`);
  return at;
};

async function trial(name: string, width: number, damage: FaceDamage, work: string): Promise<Trial | undefined> {
  const file = path.join(folder(), name);
  const own = (await sharp(file).metadata()).width;
  const side = 4 * Math.round((2 * width) / FACE / 4);
  // Enlarged by a third at most: beyond that there is nothing to judge by.
  if (side > 1.34 * own) return undefined;
  const left = 2 * Math.round((ROUND * side) / 2);
  const { data, info } = await sharp(await sharp(file).removeAlpha().resize(side, side, { kernel: 'cubic' }).png().toBuffer())
    .extend({ ...{ top: left, bottom: left, left, right: left }, extendWith: 'copy' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const truth: Rgb = { data: new Uint8Array(data), width: info.width, height: info.height };
  const at = path.join(work, `${width}-${damage.grain}-${name.replace('.png', '.jpg')}`);
  return { name, truth, left, top: left, side, file: await damagedFile(truth, damage, width, at), damage };
}

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** What a width and a damage came to: gains in dB, and the distances to the truth after against before. */
interface Tried {
  gains: { face: number; features: number }[];
  nearer: number[];
  seen: number;
  all: number;
}

const rgbOf = (picture: Picture): Rgb => ({
  data: toRgb(picture, 8) as Uint8Array,
  ...{ width: picture.region.width, height: picture.region.height },
});

async function tried(width: number, damage: FaceDamage, work: string): Promise<Tried> {
  const names = readdirSync(folder())
    .filter((name) => /^(real|mixed)-/.test(name))
    .sort();
  const describe = await describer('residual');
  const out: Tried = { gains: [], nearer: [], seen: 0, all: 0 };
  for (const name of names) {
    const one = await trial(name, width, damage, work);
    if (!one) continue;
    out.all++;
    const source = await pictureOf(one.file);
    const faces = await findFaces(source);
    if (faces.faces.length === 0) continue;
    out.seen++;
    const plain = await enlargedPlainly(one);
    const before = rgbOf(await made(source, faces, damage, false)),
      after = rgbOf(await made(source, faces, damage, true));
    if (process.env.WAIRETIC_SEEN) await seenAs(`${width}-${damage.grain}-${name}`, [plain, before, after, one.truth], one);
    const gain = (within: typeof inFace): number =>
      closeness(after, one, within) - Math.max(closeness(plain, one, within), closeness(before, one, within));
    out.gains.push({ face: gain(inFace), features: gain(inFeatures) });
    const frame = { a: one.side, b: 0, x: one.left, y: one.top };
    const truth = await describe.at(one.truth, frame);
    const off = async (picture: Rgb): Promise<number> => descriptorDistance(truth, await describe.at(picture, frame));
    out.nearer.push((await off(after)) / (await off(before)));
  }
  return out;
}

const gained = (group: string, what: string, values: number[], atLeast?: number): Row => ({
  ...{ group, what, shown: `${mean(values).toFixed(2)} (worst ${Math.min(...values).toFixed(2)})` },
  ...(atLeast !== undefined && { value: mean(values), atLeast }),
});

function harmed(group: string, gains: Tried['gains']): Row {
  const count = gains.filter(({ face }) => face < -0.1).length;
  return { group, what: 'worse by more than 0.1 dB', shown: `${count} of ${gains.length}`, value: count, atMost: 0 };
}

/** Width of sound faces, which ought to be left as they are. */
const SOUND_WIDTH = 64;

export async function facesRestored(work: string): Promise<Row[]> {
  mkdirSync(work, { recursive: true });
  const rows: Row[] = [];
  const nearer: number[] = [];
  for (const width of WIDTHS) {
    const { gains, seen, all, ...rest } = await tried(width, POOR, work);
    nearer.push(...rest.nearer);
    const group = `Faces: ${width} px wide, blurred, grain 8, JPEG 50, made twice as large, over the better of bicubic and the plan without Faces, dB`;
    rows.push(
      gained(
        group,
        'eyes and mouth',
        gains.map((g) => g.features),
        0.7,
      ),
      gained(
        group,
        'face',
        gains.map((g) => g.face),
        0.4,
      ),
      harmed(group, gains),
      { group, what: 'found at that size', shown: `${seen} of ${all}`, value: seen / all, atLeast: 0.97 },
    );
  }
  const { gains } = await tried(SOUND_WIDTH, SOUND, work);
  const sound = `Faces: ${SOUND_WIDTH} px wide, sound, made twice as large, over the better of bicubic and the plan without Faces, dB`;
  rows.push(
    gained(
      sound,
      'face',
      gains.map((g) => g.face),
    ),
    harmed(sound, gains),
  );
  const group = 'Faces: identity, distance to the truth after against before (a descriptor that took no part)';
  rows.push(
    {
      group,
      what: 'nearer',
      shown: `${nearer.filter((v) => v < 1).length} of ${nearer.length}`,
      value: nearer.filter((v) => v < 1).length / nearer.length,
      atLeast: 0.95,
    },
    {
      group,
      what: 'further by more than 3 %',
      shown: `${nearer.filter((v) => v > 1.03).length} of ${nearer.length}`,
      value: nearer.filter((v) => v > 1.03).length,
      atMost: 0,
    },
    { group, what: 'mean distance left', shown: mean(nearer).toFixed(3) },
  );
  return rows;
}
