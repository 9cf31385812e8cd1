import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { archive, currentPlan, describePlan, type Item, keepPicture, type LaidAnswer, probedItem } from '../archive';
import { CodedError, insideFrame, type LaidPicture } from '../core';
import { composePlaces, invertPlace, type Place, scaling } from '../shared/maps/place';
import { framesShowing } from '../shared/maps/time';
import { emptyPlan, type Plan } from '../shared/plan';
import { FACE_WIDTHS, facePart, placeOfFace } from './facePart';
import { meshOfFace } from './itemFaces';
import { layFile, proofItem } from './proofPool';

/** Longest side of a picture that is kept: one that is laid in is seldom looked at closer. */
const LONGEST = 4096;
/** Bytes of a file that is laid in, at most. */
const LARGEST_FILE = 512 << 20;

/** A part of a frame as a plan makes it, in sRGB, four bytes a pixel, and where it lies, in fractions of the result. */
async function shownOf(item: Item, plan: Plan, region: Place, longest: number, frame = 0): Promise<ShownPart> {
  const fit = { width: longest, height: longest };
  const query = { plan, frame, region, fit, viewer: `laid ${item.id}`, turn: 1, lane: 'side' } as const;
  const { pixels: data, width, height, place } = await proofItem(item, query);
  return { data, width, height, place };
}

interface ShownPart {
  data: Uint8Array;
  width: number;
  height: number;
  place: Place;
}

/** A part of a frame as a picture to lay in: 16 bits a sample, without opacity. */
function laidOf({ data, width, height }: ShownPart): LaidPicture {
  const rgb = new Uint16Array(3 * width * height);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) rgb[3 * i + c] = 257 * data[4 * i + c];
  return { data: rgb, width, height };
}

/** An item's plan as it is now. */
export const presentPlan = async (item: Item): Promise<Plan> => (await currentPlan(await archive(), item.id))?.plan ?? emptyPlan();

async function kept(picture: Omit<ShownPart, 'place'> | LaidPicture): Promise<LaidAnswer> {
  const { width, height } = picture;
  return { picture: await keepPicture((await archive()).paths.marks, picture), width, height };
}

/** Keeps a still as its plan makes it now, so that steps of other items may lay it in. */
export async function layPicture(item: Item): Promise<LaidAnswer> {
  const whole = { x: 0, y: 0, width: 1, height: 1 };
  return kept(await shownOf(item, await presentPlan(item), whole, LONGEST));
}

/**
 * Keeps what is round a face of a still, upright, as the still's plan makes it now.
 * @throws CodedError where there is no such face, or the plan has cut it off.
 */
export async function layFace(item: Item, face: number): Promise<LaidAnswer> {
  const shown = await shownFace(item, { mesh: await meshOfFace(item, face), frame: 0 }, await presentPlan(item), FACE_WIDTHS.most);
  if (!shown) throw new CodedError('mark', 'The plan has cut that face off.');
  return kept(shown);
}

/** A face of an item: its mesh in pixels of the source, in one of the source's frames. */
export interface FaceInFrame {
  mesh: Float32Array;
  frame: number;
}

/** What is round a face, upright and in square pixels, as a plan makes it, so many pixels across at most; undefined where the plan cuts it off. */
export async function shownFace(
  item: Item,
  { mesh: stored, frame }: FaceInFrame,
  plan: Plan,
  most: number,
): Promise<(LaidPicture & { mesh: Float32Array }) | undefined> {
  const { geometry, output, source, time } = describePlan(item, plan);
  const showing = framesShowing(time, frame, frame);
  if (!showing) return undefined;
  const aspect = source.pixelAspect.num / source.pixelAspect.den;
  const mesh = stored.map((v, i) => (i % 2 ? v : v * aspect));
  const toOutput = composePlaces(invertPlace(geometry), scaling(1 / aspect, 1));
  const box = insideFrame(placeOfFace(mesh, toOutput), output);
  if (box.width < FACE_WIDTHS.least || box.height < FACE_WIDTHS.least) return undefined;
  const part = { x: box.x / output.width, y: box.y / output.height, width: box.width / output.width, height: box.height / output.height };
  const shown = await shownOf(item, plan, part, 2 * most, showing.first);
  const { place } = shown;
  const scale = { x: shown.width / place.width, y: shown.height / place.height };
  const toShown = scaling(scale.x / output.width, scale.y / output.height, -scale.x * place.x, -scale.y * place.y);
  return facePart(laidOf(shown), mesh, { to: composePlaces(toShown, toOutput), most });
}

/**
 * Keeps a picture from a file, in the colours that an item is worked in, with all its bits.
 * @param body the file's bytes.
 * @throws MediaError where it is no still that can be read, CodedError where it is too large.
 */
export const layOutside = (item: Item, body: ReadableStream<Uint8Array> | null): Promise<LaidAnswer> =>
  withFile(body, async (file) => {
    const a = await archive();
    const { profile } = (await probedItem(a, item)).facts;
    return layFile({ file, profile, folder: a.paths.marks });
  });

/** Has a picture that comes from outside as a file while it is worked on. @throws CodedError where it is too large. */
export async function withFile<T>(body: ReadableStream<Uint8Array> | null, work: (file: string) => Promise<T>): Promise<T> {
  const folder = await mkdtemp(path.join((await archive()).paths.uploads, 'laid-'));
  try {
    const file = path.join(folder, 'picture');
    let bytes = 0;
    const counted = async function* (chunks: AsyncIterable<Uint8Array>): AsyncIterable<Uint8Array> {
      for await (const chunk of chunks) {
        bytes += chunk.length;
        if (bytes > LARGEST_FILE) throw new CodedError('media', `The file is larger than ${LARGEST_FILE >> 20} MB.`);
        yield chunk;
      }
    };
    await pipeline(body ? Readable.fromWeb(body as never) : Readable.from([]), counted, createWriteStream(file));
    return await work(file);
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
