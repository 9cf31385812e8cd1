import { mkdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { PICTURES } from '../demo/people/sheet';
import { type Face, findFaces } from '../src/core/faces/find';
import { boundsOf } from '../src/core/faces/mesh';
import type { LaidPicture } from '../src/core/picture/laid';
import { toldByPlace } from './demoPeople';
import { closeness, damagedFile, enlargedPlainly, FACE, inFace, inFeatures, made, POOR, rgbOf, seenAs, type Trial } from './faceTrials';
import { pictureOf } from './subject';
import type { Row } from './table';

/**
 * Poor faces of the demo's people restored by pictures of the same people as they were years before or after: undamaged plates, drawn anew for each year, so
 * that nothing of the other picture comes from the same photograph.
 */

const PLATES = path.resolve(import.meta.dirname, '../demo/plates');
/** Width in pixels of the faces that are made poor. */
const WIDTH = 40;
/** Faces that are tried, at most, and pictures that each is restored by. */
const TRIED = 14,
  REFERENCES = 3;

/** Somebody on one of the plates. */
interface Shown {
  who: string;
  year: number;
  plate: string;
  face: Face & { mesh: number[] };
}

async function everybody(): Promise<Shown[]> {
  const all: Shown[] = [];
  for (const [plate, { year }] of Object.entries(PICTURES)) {
    const { faces } = await findFaces(await pictureOf(path.join(PLATES, `${plate}.png`)));
    for (const { face, who } of toldByPlace(faces, plate))
      if (face.mesh) all.push({ who, year, plate, face: { ...face, mesh: face.mesh } });
  }
  return all;
}

/** A plate as others are restored by it. */
async function referenceOf({ plate, face }: Shown): Promise<LaidPicture> {
  const { data, info } = await sharp(path.join(PLATES, `${plate}.png`))
    .removeAlpha()
    .toColourspace('srgb')
    .raw()
    .toBuffer({ resolveWithObject: true });
  return {
    ...{ width: info.width, height: info.height, data: Uint16Array.from(data, (v) => 257 * v) },
    mesh: Float32Array.from(face.mesh, (v, i) => v * (i % 2 ? info.height : info.width)),
  };
}

/** What is round a face of a plate, with the face twice as wide as it is made poor, and the damaged picture of it. */
async function trialOf({ who, year, plate, face }: Shown, work: string): Promise<Trial> {
  const file = path.join(PLATES, `${plate}.png`);
  const { width: w, height: h } = await sharp(file).metadata();
  const box = boundsOf(Float32Array.from(face.mesh, (v, i) => v * (i % 2 ? h : w)));
  const scale = (2 * WIDTH) / box.width;
  const side = 4 * Math.round((2 * WIDTH) / FACE / 4);
  const around = side / scale;
  const from = Math.round(1.5 * around),
    left = Math.round(box.x + box.width / 2 - from),
    top = Math.round(box.y + box.height / 2 - from);
  const cut = await sharp(file)
    .removeAlpha()
    .toColourspace('srgb')
    .extend({ ...{ top: from, bottom: from, left: from, right: from }, extendWith: 'copy' })
    .png()
    .toBuffer();
  const { data, info } = await sharp(cut)
    .extract({ left: left + from, top: top + from, width: 2 * from, height: 2 * from })
    .resize(3 * side, 3 * side, { kernel: 'cubic' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const truth = { data: new Uint8Array(data), width: info.width, height: info.height };
  const name = `${who}-${year}`;
  return {
    ...{ name, truth, left: side, top: side, side, damage: POOR },
    file: await damagedFile(truth, POOR, year, path.join(work, `${name}.jpg`)),
  };
}

const mean = (values: readonly number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** The demo's people restored by what they looked like in other years. */
export async function facesByOtherYears(work: string): Promise<Row[]> {
  mkdirSync(work, { recursive: true });
  const all = await everybody();
  const group = `Faces: the demo’s people, ${WIDTH} px wide, blurred, grain 8, JPEG 50, made twice as large, by up to ${REFERENCES} pictures of other years, dB`;
  const gains: { features: number; face: number; alone: number; years: number }[] = [];
  // Every few of those who are seen more than once, so that all years take part.
  const often = all.filter((one) => all.some((other) => other.who === one.who && other.plate !== one.plate));
  const stride = Math.max(1, Math.floor(often.length / TRIED));
  for (const one of often.filter((_, n) => n % stride === 0).slice(0, TRIED)) {
    const trial = await trialOf(one, work);
    const source = await pictureOf(trial.file);
    const faces = await findFaces(source);
    if (faces.faces.length === 0) continue;
    const others = all
      .filter((other) => other.who === one.who && other.plate !== one.plate)
      .sort((a, b) => Math.abs(a.year - one.year) - Math.abs(b.year - one.year))
      .slice(0, REFERENCES);
    const plain = await enlargedPlainly(trial),
      plan = rgbOf(await made(source, faces, POOR, { restore: false })),
      alone = rgbOf(await made(source, faces, POOR, { restore: true })),
      guided = rgbOf(await made(source, faces, POOR, { restore: true, by: await Promise.all(others.map(referenceOf)) }));
    if (process.env.WAIRETIC_SEEN) await seenAs(`years-${trial.name}.png`, [plain, plan, alone, guided, trial.truth], trial);
    const over = (within: typeof inFace): number => closeness(guided, trial, within) - closeness(alone, trial, within);
    gains.push({
      ...{ features: over(inFeatures), face: over(inFace) },
      alone: closeness(alone, trial, inFeatures) - closeness(plan, trial, inFeatures),
      years: Math.abs(others[0].year - one.year),
    });
  }
  const row = (what: string, values: number[], marks: Partial<Row> = {}): Row => ({
    ...{
      group,
      what,
      shown: `${mean(values).toFixed(2)} (worst ${Math.min(...values).toFixed(2)}, best ${Math.max(...values).toFixed(2)})`,
    },
    ...{ value: mean(values), ...marks },
  });
  const features = gains.map((g) => g.features);
  return [
    row('eyes and mouth, over Faces without them', features, { value: Math.min(...features), atLeast: -0.1 }),
    row(
      'face, over the same',
      gains.map((g) => g.face),
    ),
    row(
      'eyes and mouth without them, over the plan without Faces',
      gains.map((g) => g.alone),
    ),
    {
      group,
      what: 'faces; gain by them; years to the nearest of them, mean',
      shown: `${gains.length}; ${features.filter((v) => v > 0.05).length}; ${mean(gains.map((g) => g.years)).toFixed(0)}`,
    },
  ];
}
