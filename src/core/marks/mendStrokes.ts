import { COPY_REACH } from '../fill/candidates';
import type { FillOptions } from '../fill/fill';
import { fillWithGrain } from '../fill/grain';
import { smoothFill } from '../fill/guess';
import { dilated, type Hole } from '../fill/hole';
import { holeOf, layOver } from '../fill/onPicture';
import { remembered } from '../networks/remembered';
import { healHole } from '../networks/heal';
import { networkCard } from '../networks/model';
import { normalStream } from '../picture/random';
import { coveringBoth, insideFrame, regionsMeet, type Picture, type Region } from '../picture/picture';
import type { Quality } from '../treatments/quality';
import { strokeCover, type LaidStroke } from './strokes';
import { median } from '../metrics/median';

/** Of 16 bits: what a mark takes that nothing lies round. */
const GREY = 32768;
/** Pixels round a stroke that it may copy from: so many times its width, within bounds; a thing that is removed looks further. */
const HEAL_ROUND = { times: 1.5, least: 32, most: 96 },
  REMOVE_ROUND = { times: 0.8, least: 64, most: 640 };
/** Widest stroke, in pixels, that the network heals: it was taught to bridge what is not wide. */
const WIDEST_HEALED = 24;
/** Pixels of a rim over which copied light is compared. */
const RIM = 4;

/** Part of the frame that a stroke changes or looks at. */
export function strokeWindow({ box, size, mark, from }: LaidStroke, frame: { width: number; height: number }): Region {
  const { times, least, most } = mark.use === 'remove' ? REMOVE_ROUND : HEAL_ROUND;
  const extent = mark.use === 'remove' ? Math.max(box.width, box.height) : size;
  const round = Math.round(Math.min(most, Math.max(least, times * extent)));
  const own = { x: box.x - round, y: box.y - round, width: box.width + 2 * round, height: box.height + 2 * round };
  const all = from ? coveringBoth(own, { ...box, x: box.x + from.x, y: box.y + from.y }) : own;
  // Coarse chroma samples stay whole.
  const x = Math.floor(all.x / 4) * 4,
    y = Math.floor(all.y / 4) * 4;
  return insideFrame(
    { x, y, width: Math.ceil((all.x + all.width - x) / 4) * 4, height: Math.ceil((all.y + all.height - y) / 4) * 4 },
    frame,
  );
}

/**
 * The strokes that what happens in a region depends on, in their order: those that touch it, and earlier ones that touch what those look at;
 * and the part of the picture they need.
 */
export function strokesFor(
  strokes: readonly LaidStroke[],
  region: Region,
  frame: { width: number; height: number },
): { strokes: LaidStroke[]; reach: Region } {
  const parts = [region];
  const taken: LaidStroke[] = [];
  for (const stroke of [...strokes].reverse()) {
    if (!parts.some((part) => regionsMeet(stroke.box, part))) continue;
    taken.unshift(stroke);
    parts.push(strokeWindow(stroke, frame));
  }
  return { strokes: taken, reach: insideFrame(parts.reduce(coveringBoth), frame) };
}

const rememberFilled = remembered<Uint16Array[]>(1 << 19);

/** Fills a stroke in a picture, which is changed. */
export async function mendStroke(picture: Picture, stroke: LaidStroke, quality: Quality): Promise<void> {
  const window = strokeWindow(stroke, picture.info);
  if (window.width === 0 || window.height === 0) return;
  const cover = strokeCover(stroke, window);
  const missing = new Uint8Array(cover.map((v) => (v > 0 ? 1 : 0)));
  const hole = holeOf(picture, { region: window, missing }, window);
  const { mark, from, size } = stroke;
  const network = quality === 'best' && mark.use === 'heal' && !from && size <= WIDEST_HEALED && !mark.answer;
  const how = JSON.stringify([mark.use, mark.answer, from, window.width, network && networkCard('heal').sha256]);
  const filled = await rememberFilled([...hole.planes, missing, how], () =>
    network ? healHole(hole, false) : Promise.resolve(filledBy(stroke, hole)),
  );
  layOver(picture, window, filled, cover);
}

function filledBy(stroke: LaidStroke, hole: Hole): Uint16Array[] {
  const { mark, from } = stroke;
  if (from) return copied(hole, from);
  return mark.use === 'tone' ? toned(hole, stroke.box.x * 7919 + stroke.box.y) : fillWithGrain(hole, fillingOf(stroke));
}

/** Other answers begin elsewhere, and one of them goes by lightness and colour alone. */
function fillingOf({ mark: { use, answer = 0 }, size }: LaidStroke): FillOptions {
  const how = { seed: 1 + answer, texture: answer !== 1 };
  return use === 'remove' ? how : { ...how, reach: Math.max(COPY_REACH, size) };
}

/** Pixels of the rim whose tone a loss takes. */
const TONE_RIM = 12;

/** The middle tone of the rim, with as much grain as there is in it. */
function toned({ width, height, planes, missing }: Hole, seed: number): Uint16Array[] {
  const rim = dilated(missing, width, height, TONE_RIM);
  const normal = normalStream(seed);
  return planes.map((plane, p) => {
    const there: number[] = [],
      steps: number[] = [];
    for (let i = 1; i < plane.length; i++) {
      if (!rim[i] || missing[i]) continue;
      there.push(plane[i]);
      if (rim[i - 1] && !missing[i - 1]) steps.push(Math.abs(plane[i] - plane[i - 1]));
    }
    const tone = there.length ? median(there) : GREY;
    // Steps between neighbours of normal noise have this middle, in its deviations (Rousseeuw and Croux, 1993).
    const grain = p === 0 ? median(steps) / 0.954 : 0;
    return plane.map((v, i) => (missing[i] ? Math.min(65535, Math.max(0, Math.round(tone + grain * normal()))) : v));
  });
}

/** What lies `from` away, in the light of the rim: differences there are carried smoothly inwards. */
function copied({ width, height, planes, missing }: Hole, from: { x: number; y: number }): Uint16Array[] {
  const there = (i: number): number => {
    const x = Math.min(width - 1, Math.max(0, (i % width) + from.x)),
      y = Math.min(height - 1, Math.max(0, Math.floor(i / width) + from.y));
    return y * width + x;
  };
  const rim = dilated(missing, width, height, RIM);
  const known = new Float32Array(missing).map((m, i) => (rim[i] && !m && !missing[there(i)] ? 0.2 : 0));
  const off = planes.map((plane) => new Float32Array(plane).map((v, i) => (known[i] > 0 ? v - plane[there(i)] : 0)));
  const light = smoothFill(off, known, width, height);
  return planes.map((plane, p) =>
    plane.map((v, i) => (missing[i] ? Math.min(65535, Math.max(0, Math.round(plane[there(i)] + light[p][i]))) : v)),
  );
}
