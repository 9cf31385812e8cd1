import { mkdirSync, readdirSync } from 'node:fs';
import path from 'node:path';
import sharp from 'sharp';
import { facesAt, type FilmFaces, joinFilmFaces, measureFilmFaces } from '../src/core/faces/film';
import type { Faces } from '../src/core/faces/find';
import { sampledRgb } from '../src/core/faces/sampled';
import { PictureCache } from '../src/core/graph/cache';
import { compile } from '../src/core/graph/graph';
import { toRgb } from '../src/core/picture/matrix';
import { cutPicture, type Picture, type StreamInfo, wholeRegion } from '../src/core/picture/picture';
import { readPlan } from '../src/core/plan/read';
import type { Rgb } from '../src/core/vision/rgb';
import { jpegStep } from './coding';
import { closeness, damagedFile, FACE, facesFolder, inFace, inFeatures, POOR, type Trial } from './faceTrials';
import { pictureOf } from './subject';
import type { Row } from './table';

/** Held-out faces filmed by a camera that moves and turns a little, damaged frame by frame, against what they were. */

const FRAMES = 14;
/** Width of the faces in the films, and of the films' frames, in pixels. */
const WIDTH = 48,
  SIDE = 200;
const PEOPLE = 10;
/** Frames at either end that are not judged: fewer stand beside them. */
const ENDS = 2;

interface Film {
  /** Frames at twice the size, where the face lies in them, and the damaged ones. */
  trials: Trial[];
  frames: Picture[];
}

/** A face as a camera sees it that drifts, turns and goes nearer. */
async function filmOf(name: string, work: string): Promise<Film | undefined> {
  const file = path.join(facesFolder(), name);
  const own = (await sharp(file).metadata()).width;
  const side = (2 * WIDTH) / FACE;
  if (side > 1.34 * own) return undefined;
  const round = Math.round(own);
  const { data, info } = await sharp(await sharp(file).removeAlpha().toColourspace('srgb').png().toBuffer())
    .extend({ ...{ top: round, bottom: round, left: round, right: round }, extendWith: 'copy' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const still: Rgb = { data: new Uint8Array(data), width: info.width, height: info.height };
  const trials: Trial[] = [],
    frames: Picture[] = [];
  for (let n = 0; n < FRAMES; n++) {
    const angle = 0.05 * Math.sin(n / 3),
      scale = (own / side) * (1 - 0.003 * n);
    const a = scale * Math.cos(angle),
      b = scale * Math.sin(angle);
    const middle = { x: SIDE + 1.7 * (n - FRAMES / 2), y: SIDE + 0.9 * (n - FRAMES / 2) };
    const centre = round + own / 2;
    const at = { a, b, x: centre - a * middle.x + b * middle.y, y: centre - b * middle.x - a * middle.y };
    const truth: Rgb = {
      data: Uint8Array.from(sampledRgb(still, at, 2 * SIDE), (v) => Math.min(255, Math.max(0, Math.round(v)))),
      width: 2 * SIDE,
      height: 2 * SIDE,
    };
    const drawn = own / scale;
    const damaged = await damagedFile(truth, POOR, 100 * n + 7, path.join(work, `${n}-${name.replace('.png', '.jpg')}`));
    trials.push({
      ...{ name, truth, file: damaged, damage: POOR },
      ...{ left: Math.round(middle.x - drawn / 2), top: Math.round(middle.y - drawn / 2), side: Math.round(drawn) },
    });
    frames.push(await pictureOf(damaged));
  }
  return { trials, frames };
}

/** What a plan makes of pictures, at twice their size. */
async function made(frames: Picture[], found: Faces | FilmFaces, restore: boolean): Promise<Rgb[]> {
  const { grain, quality } = POOR;
  const steps = [
    { treatment: 'compression', on: true, settings: { quality: 'best', coding: jpegStep(quality) } },
    { treatment: 'grain', on: true, settings: { quality: 'best', luma: grain, chroma: 0, keep: 0 } },
    { treatment: 'upscale', on: true, settings: { quality: 'best', target: 'factor', factor: 2 } },
    { treatment: 'faces', on: restore, settings: { noise: grain, coding: jpegStep(quality) } },
  ];
  const info: StreamInfo = { ...frames[0].info, frames: frames.length };
  const { output } = compile(
    readPlan({ format: 'wairetic-plan', version: 2, steps }),
    { info, key: `${Math.random()}`, frame: (n, region) => Promise.resolve({ ...cutPicture(frames[n], region), info }) },
    { cache: new PictureCache(64 << 20), analysis: () => ({ hash: 'found', value: found }) },
  );
  const out: Rgb[] = [];
  for (let n = 0; n < frames.length; n++) {
    const picture = await output.frame(n, wholeRegion(output.stream));
    out.push({ data: toRgb(picture, 8) as Uint8Array, width: picture.region.width, height: picture.region.height });
  }
  return out;
}

/** How much what is wrong changes from frame to frame, in codes of luma within the face. */
function flicker(pictures: Rgb[], trials: Trial[]): number {
  let sum = 0,
    count = 0;
  const luma = (data: Uint8Array, i: number): number => 0.299 * data[3 * i] + 0.587 * data[3 * i + 1] + 0.114 * data[3 * i + 2];
  for (let n = ENDS + 1; n < pictures.length - ENDS; n++) {
    const { left, top, side, truth } = trials[n];
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        if (!inFace((x + 0.5) / side, (y + 0.5) / side)) continue;
        const i = (y + top) * truth.width + x + left;
        const off = (at: number): number => luma(pictures[at].data, i) - luma(trials[at].truth.data, i);
        sum += (off(n) - off(n - 1)) ** 2;
        count++;
      }
  }
  return Math.sqrt(sum / count);
}

const mean = (values: number[]): number => values.reduce((sum, v) => sum + v, 0) / values.length;

/** Faces of films restored along their shots, against frames treated one by one and against the plan without Faces. */
export async function facesInFilms(work: string): Promise<Row[]> {
  const folder = facesFolder();
  mkdirSync(work, { recursive: true });
  const overStills: number[] = [],
    overPlan: number[] = [],
    features: number[] = [],
    flickers: number[] = [];
  let followed = 0,
    frames = 0;
  for (const name of readdirSync(folder)
    .filter((file) => file.startsWith('real-'))
    .sort()) {
    if (frames >= PEOPLE * FRAMES) break;
    const film = await filmOf(name, work);
    if (!film) continue;
    const info: StreamInfo = { ...film.frames[0].info, frames: FRAMES };
    const found = joinFilmFaces([
      await measureFilmFaces(info, (n) => Promise.resolve(film.frames[n]), { first: 0, end: FRAMES, progress: () => Promise.resolve() }),
    ]);
    frames += FRAMES;
    followed += found.tracks.reduce((most, { meshes }) => Math.max(most, meshes.length), 0);
    if (found.tracks.length === 0) continue;
    const along = await made(film.frames, found, true),
      without = await made(film.frames, found, false);
    const single = await singly(film, found);
    const plain = await Promise.all(
      film.trials.map(async ({ file, truth }) => {
        const data = await sharp(file)
          .toColourspace('srgb')
          .resize(truth.width, truth.height, { kernel: 'cubic' })
          .removeAlpha()
          .raw()
          .toBuffer();
        return { ...truth, data: new Uint8Array(data) };
      }),
    );
    const judged = film.trials.slice(ENDS, FRAMES - ENDS);
    const close = (pictures: Rgb[], within: typeof inFace): number =>
      mean(judged.map((trial, n) => closeness(pictures[n + ENDS], trial, within)));
    overStills.push(close(along, inFace) - close(single, inFace));
    overPlan.push(close(along, inFace) - close(without, inFace));
    features.push(close(along, inFeatures) - close(without, inFeatures));
    flickers.push(flicker(along, film.trials) / flicker(plain, film.trials));
  }
  const group = `Faces: films of ${WIDTH} px wide faces, blurred, grain 8, JPEG 50 frame by frame, made twice as large`;
  const row = (what: string, values: number[], marks: Partial<Row> = {}): Row => ({
    ...{ group, what, shown: `${mean(values).toFixed(2)} (worst ${Math.min(...values).toFixed(2)})`, value: mean(values) },
    ...marks,
  });
  return [
    row('face over frames treated as stills, dB', overStills, { atLeast: 1 }),
    row('face over the plan without Faces, dB', overPlan),
    row('eyes and mouth over the plan without Faces, dB', features),
    {
      ...row('flicker of the face against the source made larger', flickers, { atMost: 1 }),
      shown: `${mean(flickers).toFixed(2)} (worst ${Math.max(...flickers).toFixed(2)})`,
    },
    { group, what: 'frames in which the face is followed', shown: `${followed} of ${frames}`, value: followed / frames, atLeast: 0.95 },
  ];
}

/** Frames treated as stills, each by itself. */
async function singly({ frames }: Film, film: FilmFaces): Promise<Rgb[]> {
  const out: Rgb[] = [];
  for (const [n, frame] of frames.entries()) {
    out.push(...(await made([frame], facesAt(film, n), true)));
  }
  return out;
}
