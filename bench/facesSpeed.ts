import { mkdirSync } from 'node:fs';
import path from 'node:path';
import sharp, { type Sharp } from 'sharp';
import { findFaces } from '../src/core/faces/find';
import { median } from '../src/core/metrics/median';
import { fromRgb } from '../src/core/picture/matrix';
import type { Picture } from '../src/core/picture/picture';
import { damagedFile, made, POOR } from './faceTrials';
import { still } from './colourTrials';
import { pictureOf } from './subject';
import type { Row } from './table';

const PLATES = path.resolve(import.meta.dirname, '../demo/plates');
/** Rendered pictures of the demo's people that make a group beside one another, and how many people those are. */
const GROUP = ['family.png', 'group.png', 'portrait.png'],
  PEOPLE = 20;
/** Height of the group. */
const TALL = 1000;
/** Width of the face that is restored, before it is made twice as large. */
const WIDTH = 64;
const RUNS = 5;

async function pictured(at: Sharp): Promise<Picture> {
  const { data, info } = await at.removeAlpha().toColourspace('srgb').raw().toBuffer({ resolveWithObject: true });
  return fromRgb(new Uint8Array(data), 3, still(info.width, info.height, 3));
}

async function groupOfTwenty(): Promise<Picture> {
  const parts = await Promise.all(
    GROUP.map((name) => sharp(path.join(PLATES, name)).resize({ height: TALL }).png().toBuffer({ resolveWithObject: true })),
  );
  let left = 0;
  const laid = parts.map(({ data, info }) => {
    const at = { input: data, left, top: 0 };
    left += info.width;
    return at;
  });
  const all = sharp({ create: { width: left, height: TALL, channels: 3, background: '#777' } }).composite(laid);
  return pictured(sharp(await all.png().toBuffer()));
}

/** The portrait with a face of that width, damaged as faces are that are restored. */
async function poorPortrait(work: string): Promise<Picture> {
  const file = path.join(PLATES, 'portrait.png');
  const [face] = (await findFaces(await pictureOf(file))).faces;
  const { width = 0, height = 0 } = await sharp(file).metadata();
  const by = (2 * WIDTH) / (face.width * width);
  const [w, h] = [width, height].map((v) => 2 * Math.round((v * by) / 2));
  const data = await sharp(file).removeAlpha().resize(w, h, { fit: 'fill' }).raw().toBuffer();
  mkdirSync(work, { recursive: true });
  return pictureOf(await damagedFile({ data: new Uint8Array(data), width: w, height: h }, POOR, 5, path.join(work, 'portrait.jpg')));
}

/** Seconds that each of several things takes, the middle of some runs in turn; the first run loads what they need. */
async function seconds(...things: (() => Promise<unknown>)[]): Promise<number[]> {
  const took: number[][] = things.map(() => []);
  for (let run = 0; run <= RUNS; run++)
    for (const [n, thing] of things.entries()) {
      const start = performance.now();
      await thing();
      if (run > 0) took[n].push((performance.now() - start) / 1000);
    }
  return took.map((runs) => median(runs));
}

export async function facesInTime(work: string): Promise<Row[]> {
  const group = 'Faces: time, two cores';
  const twenty = await groupOfTwenty();
  const found = (await findFaces(twenty)).faces.length;
  if (found !== PEOPLE) throw new Error(`of a group of ${PEOPLE}, ${found} faces were found`);
  const poor = await poorPortrait(work);
  const faces = await findFaces(poor);
  const [finding, without, restored] = await seconds(
    () => findFaces(twenty),
    () => made(poor, faces, POOR, { restore: false }),
    () => made(poor, faces, POOR, { restore: true }),
  );
  const { width, height } = twenty.info;
  return [
    { group, what: `a group of ${PEOPLE} found (${width} x ${height}), s`, shown: finding.toFixed(2), value: finding, atMost: 2 },
    {
      group,
      what: `a face ${WIDTH} px wide restored at best, over the plan without Faces, s`,
      shown: `${(restored - without).toFixed(2)} (the plan without: ${without.toFixed(2)})`,
      value: restored - without,
      atMost: 0.4,
    },
  ];
}
