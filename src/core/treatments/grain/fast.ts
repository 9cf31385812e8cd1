import type { MotionField } from '../../kernels/reference/motion';
import { shrinkGrain } from '../../kernels/shrink';
import { cutPicture, type Picture, type Plane, type Region } from '../../picture/picture';
import { levelsIn, MOTION, motionIn, neighboursOf, type Neighbours } from './align';
import { codingNoise, grainNoise, addedNoise } from '../noise';
import type { Stilled } from './standing';

/** What the fast choice takes off. */
export interface Grains {
  /** Deviations in codes of 255. */
  luma: number;
  chroma: number;
  /** Radii of a grain in samples of its plane. */
  size: number;
  chromaSize: number;
  /** Quantiser step of a codec whose noise goes too; none where left out. */
  step?: number;
  /** Share left in, in percent. */
  keep: number;
}

/** What was found out about a window before it is shrunk. */
interface Known {
  near: Neighbours;
  /** Of blocks that stand still, see `Stilled`, and the middle picture before they were averaged. */
  levels?: Float32Array;
  original?: Picture;
}

/** Pixels round a part that its result depends on: the motion search's reach and a window, in whole motion blocks. */
export const AROUND = 48;

/**
 * A part of the middle picture with its grain taken off, with the help of the others: what `shrinkPicture` of the whole frames gives
 * there, to the last bit. The answer may be larger than the part.
 *
 * @param stilled whole frames.
 * @param original the middle one as it came.
 */
export function shrinkPart(
  { window, levels }: Stilled,
  original: Picture,
  part: Region,
  grains: Grains,
): { region: Region; planes: Plane[] } {
  const current = window[(window.length - 1) / 2];
  const { info } = current;
  const near = neighboursOf(window, levels);
  const { blockWidth, blockHeight } = MOTION;
  const x = Math.max(0, Math.floor((part.x - AROUND) / blockWidth) * blockWidth),
    y = Math.max(0, Math.floor((part.y - AROUND) / blockHeight) * blockHeight);
  const right = Math.min(info.width, Math.ceil((part.x + part.width + AROUND) / blockWidth) * blockWidth),
    bottom = Math.min(info.height, Math.ceil((part.y + part.height + AROUND) / blockHeight) * blockHeight);
  const around = { x, y, width: right - x, height: bottom - y };
  if (2 * around.width * around.height > info.width * info.height)
    return { region: current.region, planes: shrinkPicture(window, grains, true, { near, levels, original }) };
  const cut = window.map((p) => cutPicture(p, around));
  const pictures = near.pictures.map((p) => cut[window.indexOf(p)]);
  const motions = near.motions.map((field) => motionIn(field, around));
  const known = { near: { pictures, motions }, levels: levels && levelsIn(levels, around, info), original: cutPicture(original, around) };
  const made = { ...current, region: around, planes: shrinkPicture(cut, grains, true, known) };
  return cutPicture(made, part);
}

/**
 * The middle picture's planes with their grain taken off in the spectrum, with the help of the others.
 *
 * @param window an odd number of pictures; one alone helps itself.
 * @param moving whether the picture is one of many: then speed counts for more.
 */
export function shrinkPicture(window: Picture[], grains: Grains, moving: boolean, known: Known = { near: neighboursOf(window) }): Plane[] {
  const current = window[(window.length - 1) / 2];
  return current.planes.map((plane, index) => shrinkPlane(plane, index, known, grains, moving, current));
}

function shrinkPlane(
  plane: Plane,
  index: number,
  { near, levels, original }: Known,
  grains: Grains,
  moving: boolean,
  current: Picture,
): Plane {
  const noise = addedNoise(
    grainNoise(index === 0 ? grains.luma : grains.chroma, index === 0 ? grains.size : grains.chromaSize),
    codingNoise(grains.step ?? 0, moving, index > 0),
  );
  if (noise.sigma === 0 || grains.keep >= 100) return original?.planes[index] ?? plane;
  const sx = index ? current.info.chromaShiftX : 0,
    sy = index ? current.info.chromaShiftY : 0;
  const neighbours = near.pictures.map((p, i) => ({ plane: p.planes[index], motion: scaled(near.motions[i], sx, sy) }));
  return shrinkGrain(
    plane,
    neighbours,
    { blockWidth: MOTION.blockWidth >> sx, blockHeight: MOTION.blockHeight >> sy },
    {
      ...noise,
      step: moving ? 4 : 2,
      threshold: 2.2,
      trust: 10,
      keep: grains.keep / 100,
      original: original?.planes[index],
      levels,
    },
  );
}

/** Vectors in samples of a coarser plane. */
function scaled(field: MotionField, sx: number, sy: number): MotionField {
  if (!sx && !sy) return field;
  return { ...field, vectors: field.vectors.map((v, i) => Math.round(v / (1 << (i & 1 ? sy : sx)))) };
}
