import { createWriteStream } from 'node:fs';
import { mkdtemp, rm } from 'node:fs/promises';
import path from 'node:path';
import { Readable } from 'node:stream';
import { pipeline } from 'node:stream/promises';
import { archive, currentPlan, describePlan, type Item, keepPicture, type LaidAnswer, probedItem } from '../archive';
import { CodedError, insideFrame, type LaidPicture, reductionOf, rgbThrough } from '../core';
import { inlayToSource, FACE_PART } from '../shared/inlay';
import { composePlaces, invertPlace, type Place, placeOf, scaling } from '../shared/maps/place';
import { emptyPlan, type Plan } from '../shared/plan';
import { inlayOf } from './itemFaces';
import { layFile, proofItem } from './proofPool';

/** Longest side of a picture that is kept: one that is laid in is seldom looked at closer. */
const LONGEST = 4096;
/** Pixels across of a face that is kept, at most and at least. */
const FACE_WIDTH = 1024,
  LEAST_FACE = 16;
/** Bytes of a file that is laid in, at most. */
const LARGEST_FILE = 512 << 20;

/** A part of a still as its plan makes it now, in sRGB, four bytes a pixel, and where it lies, in fractions of the result. */
async function shownOf(item: Item, plan: Plan, region: Place, longest: number): Promise<ShownPart> {
  const fit = { width: longest, height: longest };
  const query = { plan, frame: 0, region, fit, viewer: `laid ${item.id}`, turn: 1, lane: 'side' } as const;
  const { pixels: data, width, height, place } = await proofItem(item, query);
  return { data, width, height, place };
}

interface ShownPart {
  data: Uint8Array;
  width: number;
  height: number;
  place: Place;
}

/** A part of a still as a picture to lay in: 16 bits a sample, without opacity. */
function laidOf({ data, width, height }: ShownPart): LaidPicture {
  const rgb = new Uint16Array(3 * width * height);
  for (let i = 0; i < width * height; i++) for (let c = 0; c < 3; c++) rgb[3 * i + c] = 257 * data[4 * i + c];
  return { data: rgb, width, height };
}

const presentPlan = async (item: Item): Promise<Plan> => (await currentPlan(await archive(), item.id))?.plan ?? emptyPlan();

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
  const at = await inlayOf(item, face);
  const plan = await presentPlan(item);
  const { geometry, output } = describePlan(item, plan);
  const size = { width: at.width, height: (at.width * FACE_PART.height) / FACE_PART.width };
  const toOutput = composePlaces(invertPlace(geometry), inlayToSource(at, size));
  const box = insideFrame(placeOf(toOutput, { x: 0, y: 0, ...size }), output);
  if (box.width < LEAST_FACE || box.height < LEAST_FACE) throw new CodedError('mark', 'The plan has cut that face off.');
  const part = { x: box.x / output.width, y: box.y / output.height, width: box.width / output.width, height: box.height / output.height };
  const shown = await shownOf(item, plan, part, 2 * FACE_WIDTH);
  const { place } = shown;
  const scale = { x: shown.width / place.width, y: shown.height / place.height };
  const toShown = scaling(scale.x / output.width, scale.y / output.height, -scale.x * place.x, -scale.y * place.y);
  // As fine as the result is, and no finer.
  const own = reductionOf(composePlaces(toShown, toOutput), { x: 0, y: 0, ...size });
  const width = Math.min(FACE_WIDTH, Math.max(LEAST_FACE, Math.round(own * size.width)));
  const region = { x: 0, y: 0, width, height: Math.round((width * FACE_PART.height) / FACE_PART.width) };
  const to = composePlaces(toShown, composePlaces(invertPlace(geometry), inlayToSource(at, region)));
  return kept({ width, height: region.height, data: rgbThrough(laidOf(shown), { to, reduction: reductionOf(to, region) }, region) });
}

/**
 * Keeps a picture from a file, in the colours that an item is worked in, with all its bits.
 * @param body the file's bytes.
 * @throws MediaError where it is no still that can be read, CodedError where it is too large.
 */
export async function layOutside(item: Item, body: ReadableStream<Uint8Array> | null): Promise<LaidAnswer> {
  const a = await archive();
  const folder = await mkdtemp(path.join(a.paths.uploads, 'laid-'));
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
    const { profile } = (await probedItem(a, item)).facts;
    return await layFile({ file, profile, folder: a.paths.marks });
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
