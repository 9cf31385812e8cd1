import { mkdirSync, readdirSync } from 'node:fs';
import { describer, descriptorDistance } from '../src/core/faces/descriptors';
import { findFaces } from '../src/core/faces/find';
import type { Rgb } from '../src/core/vision/rgb';
import {
  closeness,
  enlargedPlainly,
  type FaceDamage,
  facesFolder,
  inFace,
  inFeatures,
  made,
  POOR,
  rgbOf,
  seenAs,
  SOUND,
  trial,
} from './faceTrials';
import { pictureOf } from './subject';
import type { Row } from './table';

/** Widths of faces that are restored, in pixels. */
const WIDTHS = [24, 32, 48, 64];

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** What a width and a damage came to: gains in dB, and the distances to the truth after against before. */
interface Tried {
  gains: { face: number; features: number }[];
  nearer: number[];
  seen: number;
  all: number;
}

async function tried(width: number, damage: FaceDamage, work: string): Promise<Tried> {
  const names = readdirSync(facesFolder())
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
    const before = rgbOf(await made(source, faces, damage, { restore: false })),
      after = rgbOf(await made(source, faces, damage, { restore: true }));
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
