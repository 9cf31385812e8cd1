import { type Descriptor, describer, descriptorDistance } from './descriptors';
import type { Rgb } from '../vision/rgb';
import type { Similarity } from './frame';
import type { FramedFace } from './restore';

/** How far the descriptor of a face may move: under half of what lies between two people who look alike. */
const MOST = 0.1;
/** Shares of a correction that are tried, from all of it down. */
const SHARES = [1, 0.7, 0.5, 0.35, 0.2, 0];

/** What a guard leaves of a correction. */
export interface Guarded {
  /** Share of the correction, 0 to 1. */
  left: number;
  /** How far the descriptor moves with it, beyond where other pictures of the person lead. */
  moved: number;
}

const described = new WeakMap<KnownFace, Promise<Descriptor>>();

/** The descriptor of a known face, found once. */
function descriptorOf(face: KnownFace): Promise<Descriptor> {
  const before = described.get(face);
  if (before) return before;
  const { picture, at } = face;
  const found = describer('separable').then((describe) => describe.at(picture, at));
  described.set(face, found);
  // What failed once may go well another time.
  found.catch(() => described.delete(face));
  return found;
}

/** How far it may move at most towards what other pictures of the person show. */
const MOST_TOWARDS = 0.3;

/** A picture of a face, and the frame it is laid straight by there, in pixels. */
export interface KnownFace {
  picture: Rgb;
  at: Similarity;
}

/** What a guard is told beside the face. */
export interface Guarding {
  /** Share of the correction that is asked for, 0 to 1. */
  wanted: number;
  /** Whether what is left changes by little from one frame to the next, as it must along a film. */
  finely?: boolean;
  /** Other pictures of the person that the correction was made by. */
  others?: readonly KnownFace[];
}

/**
 * Holds a correction back until the face stays who it is to a network that took no part in restoring it.
 * Where it was made by other pictures of the person, it may move further, as long as that is not away from all of them.
 * @throws NetworkError where networks cannot run.
 */
export async function guarded(
  face: FramedFace,
  correction: FramedFace,
  mask: Float32Array,
  { wanted, finely, others = [] }: Guarding,
): Promise<Guarded> {
  const describe = await describer('separable');
  const frame = { a: face.side, b: 0, x: 0, y: 0 };
  const rgb = (share: number): Rgb => ({ data: rgbOf(face, correction, mask, share), width: face.side, height: face.side });
  const before = await describe.at(rgb(0), frame);
  const known: Float32Array[] = [];
  for (const other of others) known.push(await descriptorOf(other));
  const off = (descriptor: Float32Array): number => Math.min(...known.map((one) => descriptorDistance(one, descriptor)));
  const movedBy = async (share: number): Promise<number> => {
    if (share === 0) return 0;
    const after = await describe.at(rgb(wanted * share), frame);
    const moved = descriptorDistance(before, after);
    const towards = known.length > 0 && off(after) <= off(before);
    return towards && moved <= MOST_TOWARDS ? Math.min(moved, MOST) : moved;
  };
  if (finely) return halved(movedBy, wanted);
  for (const share of SHARES) {
    const moved = await movedBy(share);
    if (moved <= MOST) return { left: wanted * share, moved };
  }
  return { left: 0, moved: 0 };
}

/** Halvings by which a share is found. */
const HALVINGS = 5;

/** The share by which a descriptor moves as far as it may. */
async function halved(movedBy: (share: number) => Promise<number>, wanted: number): Promise<Guarded> {
  const all = await movedBy(1);
  if (all <= MOST) return { left: wanted, moved: all };
  let low = 0,
    high = 1,
    moved = 0;
  for (let n = 0; n < HALVINGS; n++) {
    const share = (low + high) / 2,
      by = await movedBy(share);
    if (by <= MOST) [low, moved] = [share, by];
    else high = share;
  }
  return { left: wanted * low, moved };
}

/** Red, green and blue of a face with a share of its correction (ITU-R BT.601; a descriptor minds no other matrix). */
function rgbOf({ side, planes }: FramedFace, correction: FramedFace, mask: Float32Array, share: number): Uint8Array {
  const out = new Uint8Array(3 * side * side);
  const code = (v: number): number => Math.min(255, Math.max(0, Math.round(255 * v)));
  for (let i = 0; i < side * side; i++) {
    const [y, b, r] = planes.map((plane, index) => plane[i] + share * mask[i] * correction.planes[index][i] - (index ? 0.5 : 0));
    out[3 * i] = code(y + 1.402 * r);
    out[3 * i + 1] = code(y - 0.344136 * b - 0.714136 * r);
    out[3 * i + 2] = code(y + 1.772 * b);
  }
  return out;
}
