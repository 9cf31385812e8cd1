import { COPY_REACH, smoothOf } from '../fill/candidates';
import { fillWithGrain } from '../fill/grain';
import type { Hole } from '../fill/hole';
import { labelsOf } from '../fill/labels';
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
/** Side of the blocks of a cell in which damage hangs together; what is apart is mended apart, for it is little of the cell. */
const BLOCK = 16;
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
    for (const cluster of clustersOf(damage, widened(cell, SEAM, source.info), source.info))
      if (regionsMeet(cluster.box, region)) await mend(cell, cluster);
  }
  const cover = new Float32Array(size);
  for (let i = 0; i < size; i++) {
    if (weights[i] === 0) continue;
    cover[i] = 1;
    for (const sum of sums) sum[i] /= weights[i];
  }
  layOver(result, region, sums, cover);
  return result;

  async function mend(cell: Region, { box, holds }: Cluster): Promise<void> {
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
        if (!damage.missing[(y - damage.region.y) * damage.region.width + x - damage.region.x] || !holds(x, y)) continue;
        const weight = ramp(x - cell.x, cell.width) * ramp(y - cell.y, cell.height);
        const i = (y - region.y) * region.width + x - region.x,
          from = (y - window.y) * window.width + x - window.x;
        weights[i] += weight;
        for (let p = 0; p < sums.length; p++) sums[p][i] += weight * made[p][from];
      }
    }
  }
}

const widened = ({ x, y, width, height }: Region, by: number, frame: StreamInfo): Region =>
  insideFrame({ x: x - by, y: y - by, width: width + 2 * by, height: height + 2 * by }, frame);

/** How much a cell's result counts at a place in it: half at its border, all of it from SEAM pixels inside, nothing from SEAM outside. */
const ramp = (at: number, length: number): number =>
  Math.min(1, Math.max(1e-3, (Math.min(at + 0.5, length - at - 0.5) + SEAM) / (2 * SEAM)));

/** Damage of a part that is mended at once. */
interface Cluster {
  box: Region;
  /** Whether damage at a place of the frame is of this one. */
  holds(this: void, x: number, y: number): boolean;
}

/** Damage of a part, told apart by blocks that touch, as long as that leaves less to look at than all of it at once. */
function clustersOf({ region, missing, veiled }: DamageMask, part: Region, frame: StreamInfo): Cluster[] {
  const across = Math.ceil(part.width / BLOCK);
  const blockAt = (x: number, y: number): number => Math.floor((y - part.y) / BLOCK) * across + Math.floor((x - part.x) / BLOCK);
  const damaged = new Uint8Array(across * Math.ceil(part.height / BLOCK));
  eachDamaged((x, y) => (damaged[blockAt(x, y)] = 1));
  if (!damaged.includes(1)) return [];
  const labels = labelsOf(damaged, across, damaged.length / across);
  const all = new Corners(),
    each = new Map<number, Corners>();
  eachDamaged((x, y) => {
    const label = labels[blockAt(x, y)];
    let own = each.get(label);
    if (!own) each.set(label, (own = new Corners()));
    own.hold(x, y);
    all.hold(x, y);
  });
  const looked = (corners: Corners): number => {
    const { width, height } = widened(corners.box, AROUND.filled, frame);
    return width * height;
  };
  const apart = [...each.values()].reduce((sum, corners) => sum + looked(corners), 0);
  // What lies round stains is wide, and looked at once.
  const stained = veiled && cutBytes(veiled, region, all.box).some(Boolean);
  if (stained || apart >= looked(all)) return [{ box: all.box, holds: () => true }];
  return [...each].map(([label, { box }]) => ({ box, holds: (x, y) => labels[blockAt(x, y)] === label }));

  function eachDamaged(seen: (x: number, y: number) => void): void {
    for (let y = part.y; y < part.y + part.height; y++) {
      const row = (y - region.y) * region.width - region.x;
      for (let x = part.x; x < part.x + part.width; x++) if (missing[row + x]) seen(x, y);
    }
  }
}

class Corners {
  private left = Infinity;
  private top = Infinity;
  private right = -Infinity;
  private bottom = -Infinity;

  hold(x: number, y: number): void {
    this.left = Math.min(this.left, x);
    this.right = Math.max(this.right, x);
    this.top = Math.min(this.top, y);
    this.bottom = Math.max(this.bottom, y);
  }

  get box(): Region {
    return { x: this.left, y: this.top, width: this.right - this.left + 1, height: this.bottom - this.top + 1 };
  }
}

/** Depths, in pixels, between which what shows through a stain takes over from copies. */
const DEEP = { from: 4, to: 8 };

function fillQuickly(hole: Hole, through: boolean): Uint16Array[] {
  const filled = fillWithGrain(hole, { seed: 1, reach: COPY_REACH, texture: false });
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
  return rememberMended([...hole.planes, hole.missing, ...[veiled, hole.painted].flatMap((plane) => plane ?? []), names], async () => {
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
    painted: hole.painted && cutBytes(hole.painted, whole, window),
    planes: hole.planes.map((plane) => cutCodes(plane, whole, window)),
  };
}
