import { COPY_REACH, smoothOf } from '../fill/candidates';
import { fillHole } from '../fill/fill';
import type { Hole } from '../fill/hole';
import { cutBytes, cutCodes, holeOf, layOver, type DamageMask } from '../fill/onPicture';
import { deepened, seenThrough } from '../fill/stain';
import { healHole } from '../networks/heal';
import { networkCard } from '../networks/model';
import { printCells } from '../networks/printCells';
import { copyPicture, insideFrame, regionsMeet, type Picture, type Region, type StreamInfo } from '../picture/picture';
import type { Quality } from '../treatments/quality';
import { remembered } from '../networks/remembered';
import { LIFT_REACH, liftStains } from '../stains/lift';

/** Side of the cells that are mended one by one, and pixels in which the results of neighbours go over into one another. */
const CELL = 256,
  SEAM = 8;
/** Pixels round a cell's damage that are looked at to fill it, and to lift its stains: of one that reaches further the next cell would see another part. */
const AROUND = { filled: 40, lifted: 160 + LIFT_REACH };
/** Pixels round a part that mending it may look at: its cells, their seams, and what lies round them. @param lifting whether there may be stains in it. */
export const mendReach = (lifting: boolean): number => CELL + SEAM + (lifting ? AROUND.lifted : AROUND.filled);

export interface Mending {
  quality: Quality;
  /** Whether what shows through the damage may help. */
  seeThrough: boolean;
}

const rememberMended = remembered<Uint16Array[]>(1 << 18);

/**
 * A part of a picture with its damage mended, cell by cell of a fixed raster. Samples without damage stay as they are; coarse chroma samples
 * count as damaged where any of their pixels is.
 *
 * @param source and `damage` hold `mendReach` pixels round the region, as far as the frame goes.
 * @throws NetworkError when the best way needs a network that cannot be used.
 */
export async function mendDamage(source: Picture, damage: DamageMask, region: Region, how: Mending): Promise<Picture> {
  const result = copyPicture(source, region);
  const size = region.width * region.height;
  const sums = source.planes.map(() => new Float32Array(size));
  const weights = new Float32Array(size);
  for (const cell of printCells(widened(region, SEAM, source.info), source.info, CELL)) {
    const box = damagedBox(damage, widened(cell, SEAM, source.info));
    if (!box || !regionsMeet(box, region)) continue;
    const veiled = damage.veiled && cutBytes(damage.veiled, damage.region, box).some(Boolean) ? damage.veiled : undefined;
    const window = widened(box, AROUND.filled, source.info),
      seen = veiled ? widened(box, AROUND.lifted, source.info) : window;
    const made = await mendWindow(
      {
        ...{ hole: holeOf(source, damage, seen), info: source.info },
        veiled: veiled && cutBytes(veiled, damage.region, seen),
        window: { ...window, x: window.x - seen.x, y: window.y - seen.y },
      },
      how,
    );
    for (let y = Math.max(box.y, region.y); y < Math.min(box.y + box.height, region.y + region.height); y++) {
      for (let x = Math.max(box.x, region.x); x < Math.min(box.x + box.width, region.x + region.width); x++) {
        if (!damage.missing[(y - damage.region.y) * damage.region.width + x - damage.region.x]) continue;
        const weight = ramp(x - cell.x, cell.width) * ramp(y - cell.y, cell.height);
        const i = (y - region.y) * region.width + x - region.x,
          from = (y - window.y) * window.width + x - window.x;
        weights[i] += weight;
        for (let p = 0; p < sums.length; p++) sums[p][i] += weight * made[p][from];
      }
    }
  }
  const cover = new Float32Array(size);
  for (let i = 0; i < size; i++) {
    if (weights[i] === 0) continue;
    cover[i] = 1;
    for (const sum of sums) sum[i] /= weights[i];
  }
  layOver(result, region, sums, cover);
  return result;
}

const widened = ({ x, y, width, height }: Region, by: number, frame: StreamInfo): Region =>
  insideFrame({ x: x - by, y: y - by, width: width + 2 * by, height: height + 2 * by }, frame);

/** How much a cell's result counts at a place in it: half at its border, all of it from SEAM pixels inside, nothing from SEAM outside. */
const ramp = (at: number, length: number): number =>
  Math.min(1, Math.max(1e-3, (Math.min(at + 0.5, length - at - 0.5) + SEAM) / (2 * SEAM)));

/** The smallest part that holds all damage of a part; undefined where there is none. */
function damagedBox({ region, missing }: DamageMask, part: Region): Region | undefined {
  let left = Infinity,
    right = -1,
    top = -1,
    bottom = -1;
  for (let y = part.y; y < part.y + part.height; y++) {
    for (let x = part.x; x < part.x + part.width; x++) {
      if (!missing[(y - region.y) * region.width + x - region.x]) continue;
      if (top < 0) top = y;
      bottom = y;
      left = Math.min(left, x);
      right = Math.max(right, x);
    }
  }
  return top < 0 ? undefined : { x: left, y: top, width: right - left + 1, height: bottom - top + 1 };
}

/** Depths, in pixels, between which what shows through a stain takes over from copies. */
const DEEP = { from: 4, to: 8 };

function fillQuickly(hole: Hole, through: boolean): Uint16Array[] {
  const filled = fillHole(hole, { seed: 1, reach: COPY_REACH, texture: false });
  const seen = through ? seenThrough(hole, () => smoothOf(hole), DEEP.to) : undefined;
  return seen ? deepened(filled, seen, DEEP.from, DEEP.to) : filled;
}

/** What is to be mended in a window of what is looked at: all of it a hole, of which some may show the picture. */
interface Damaged {
  hole: Hole;
  veiled: Uint8Array | undefined;
  info: StreamInfo;
  window: Region;
}

function mendWindow({ hole, veiled, info, window }: Damaged, how: Mending): Promise<Uint16Array[]> {
  const best = how.quality === 'best';
  const names = JSON.stringify([how, window, hole.width, info.colour, best && networkCard('heal').sha256]);
  return rememberMended([...hole.planes, hole.missing, ...(veiled ? [veiled] : []), names], async () => {
    const rest = veiled ? cutHole(liftStains(hole, veiled, info), window) : hole;
    if (!rest.missing.includes(1)) return rest.planes;
    return best ? await healHole(rest, how.seeThrough) : fillQuickly(rest, how.seeThrough);
  });
}

function cutHole(hole: Hole, window: Region): Hole {
  const whole = { x: 0, y: 0, width: hole.width, height: hole.height };
  const { width, height } = window;
  return {
    ...{ width, height, missing: cutBytes(hole.missing, whole, window) },
    planes: hole.planes.map((plane) => cutCodes(plane, whole, window)),
  };
}
