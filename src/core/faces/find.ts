import { measureBlur } from '../condition/blur';
import { cutPlane, type Picture } from '../picture/picture';
import { fewerPixels, paddedRgb, type Rgb, rgbOf } from '../vision/rgb';
import { copied, part, type RgbView, turned, viewOf } from '../vision/view';
import { apartFrom, type Face as Seen, fullRangeDetector, separate, shared } from './detector';
import { boundsOf, landmarksOf, type Mesh, meshNetwork } from './mesh';

/** A face of a picture; its box and its mesh are in fractions of the picture's width and height. */
export interface Face extends Seen {
  /** 468 pairs of x and y; left out where no mesh could be laid over it. */
  mesh?: number[];
  /** Width in pixels of the picture. */
  pixels: number;
  /** Deviation of the point spread at its edges, in pixels; left out where there are too few. */
  blur?: number;
  /** Degrees it is turned to its own left, and tilted clockwise. */
  yaw: number;
  roll: number;
}

/** The faces of a picture, the largest first. */
export interface Faces {
  faces: Face[];
  /** Size of the picture in pixels. */
  width: number;
  height: number;
}

/** Sizes of the parts that are looked at, in parts of the picture, and the shorter side in pixels from which on they are; of long pictures nine tenths of the side of a square as large. */
const LOOKS = [
  { size: 1, from: 0 },
  { size: 0.6, from: 300 },
  { size: 0.3, from: 900 },
];
/** A finer look that is taken where faces as small as this share of the finest parts above were seen: there may be smaller ones. */
const FINER = { size: 0.15, from: 700, seen: 0.12 };
const OVERLAP = 1 / 3;
/** Parts are no longer than this many times their height, or higher than that many times their width: of a long row of people each would show little. */
const LONGEST = 2;
/**
 * Shorter side under which a picture is looked at with a border round it too, by how much of it, as larger ones are that show no face: faces that fill a
 * picture are not seen as such.
 */
const SMALL = 400,
  PADDED = 0.4;
/** What a face of a part is looked at in once more: so many times as large as itself. */
const SECOND_LOOK = 3.5;
/** How sure a second look must be, and how sure where two parts that overlap were as sure as that before. */
const SURE = 0.75,
  SURE_OF_TWO = 0.6;
/** How sure a mesh must be that it lies over a face. */
export const MESH_SURE = 0.5;

/** Pixels that are looked at: the networks see no more of larger pictures. */
export const MAX_PIXELS = 4_000_000;

/** Tells faces in a picture. */
export type Detector = Awaited<ReturnType<typeof fullRangeDetector>>;

let networks: Promise<[Detector, Awaited<ReturnType<typeof meshNetwork>>]> | undefined;

/** What finds faces, and what lays meshes over them; loaded once. */
export const faceNetworks = (): NonNullable<typeof networks> => (networks ??= Promise.all([fullRangeDetector(), meshNetwork()]));

/** A face that was seen, in pixels, by how many quarters the picture was turned to see it, and whether all of it was looked at, or a part. */
export interface Turned extends Seen {
  quarters: number;
  inAll: boolean;
}

/** Finds the faces of a picture. */
export async function findFaces(picture: Picture): Promise<Faces> {
  const whole = rgbOf(fewerPixels(picture, MAX_PIXELS));
  const found = await meshedFaces(whole);
  return { faces: found.map((face) => described(face, whole, picture)), width: picture.region.width, height: picture.region.height };
}

/** A face with its mesh in pixels, where one could be laid over it. */
export interface Meshed extends Turned {
  mesh?: Mesh;
}

/**
 * The faces of a picture with their meshes, the largest first: the detector sees it whole, upright and turned by quarters, and in parts, since it tells
 * faces by their size in what it sees; what parts and turned pictures show is looked at once more by itself, since they show faces in patterns.
 */
export async function meshedFaces(whole: Rgb): Promise<Meshed[]> {
  const [detect, meshOf] = await faceNetworks();
  const { seen, most } = await seenFaces(whole, detect, [0, 1, 2, 3]);
  const faces: Meshed[] = [];
  for (const face of seen) faces.push({ ...face, mesh: await surestMesh(face) });
  return faces;

  /** Its mesh: faces that lie on their side are now and then seen upright, so the way most of the picture's lie is tried first. */
  async function surestMesh(face: Turned): Promise<Mesh | undefined> {
    for (const quarters of new Set([most, face.quarters, 0, 1, 3, 2])) {
      const { mesh, score } = await meshOf(whole, face, (-quarters * Math.PI) / 2);
      if (score >= MESH_SURE) return mesh;
    }
    return undefined;
  }
}

/**
 * The faces that are seen in a picture, the largest first, no mesh laid over them.
 * @param turns quarters of a circle by which the picture is turned to look.
 * @returns also by how many of them most of the faces stand upright.
 */
export async function seenFaces(whole: Rgb, detect: Detector, turns: readonly number[]): Promise<{ seen: Turned[]; most: number }> {
  const found: Turned[] = [];
  const all = viewOf(whole);
  const shorter = Math.min(whole.width, whole.height);
  const look = async (size: number, quarters: number): Promise<void> => {
    for (const { left, top, seen } of partsOf(turned(all, quarters), size))
      for (const face of await detect(seen)) {
        const placed = turnedBack({ ...face, x: face.x + left, y: face.y + top }, whole, quarters);
        found.push({ ...placed, quarters, inAll: size === 1 });
      }
  };
  for (const quarters of turns) await look(1, quarters);
  const most = uprightBy(found);
  if (shorter < SMALL || found.length === 0) {
    const by = Math.round(PADDED * shorter);
    for (const face of await detect(viewOf(paddedRgb(copied(turned(all, most)), by)))) {
      const placed = turnedBack({ ...face, x: face.x - by, y: face.y - by }, whole, most);
      found.push({ ...placed, quarters: most, inAll: true });
    }
  }
  const extent = Math.max(shorter, 0.9 * Math.sqrt(whole.width * whole.height));
  const sizes = LOOKS.filter(({ size, from }) => size < 1 && extent >= from);
  for (const { size } of sizes) await look(size, most);
  const small = FINER.seen * Math.min(...sizes.map(({ size }) => size), 1) * shorter;
  if (shorter >= FINER.from && found.some((face) => !face.inAll && face.width < small)) await look(FINER.size, most);
  // Those seen in all of it first, so that what parts show of them too is not looked at again.
  const needsNoMore = ({ inAll, quarters }: Turned): boolean => inAll && quarters === most;
  const sure = separate(found.filter(needsNoMore)),
    unsure = separate(found.filter((face) => !needsNoMore(face))).filter((face) => apartFrom(sure, face));
  const seenTwice = (face: Turned): boolean => found.filter((other) => other.score >= SURE && shared(other, face) >= 1 / 3).length >= 2;
  const seen: Turned[] = [];
  for (const face of [...sure, ...unsure].sort((a, b) => b.width * b.height - a.width * a.height))
    if (needsNoMore(face) || (await again(face, whole, detect)) >= (seenTwice(face) ? SURE_OF_TWO : SURE)) seen.push(face);
  return { seen, most };
}

/** Quarters by which the picture is turned for most of its faces to stand upright. */
function uprightBy(found: Turned[]): number {
  const sums = [0, 1, 2, 3].map((quarters) => found.reduce((sum, f) => sum + (f.quarters === quarters && f.inAll ? f.score : 0), 0));
  return sums.indexOf(Math.max(...sums));
}

/** What is told of a face. */
function described({ x, y, width, height, score, mesh }: Meshed, { width: w, height: h }: Rgb, picture: Picture): Face {
  const short = (v: number): number => Math.round(v * 1e5) / 1e5;
  const scale = picture.region.width / w;
  const blur = blurOf(mesh ? boundsOf(mesh) : { x, y, width, height }, scale, picture);
  return {
    ...{
      x: short(x / w),
      y: short(y / h),
      width: short(width / w),
      height: short(height / h),
      score: short(score),
      pixels: Math.round(scale * width),
    },
    ...(mesh && { mesh: Array.from(mesh, (v, i) => short(v / (i % 2 ? h : w))) }),
    ...(blur !== undefined && { blur: short(blur) }),
    ...(mesh ? poseOf(mesh) : { yaw: 0, roll: 0 }),
  };
}

/** How soft a face is. @param scale from the box's pixels to the picture's. */
function blurOf(
  box: { x: number; y: number; width: number; height: number },
  scale: number,
  { planes: [luma] }: Picture,
): number | undefined {
  const left = Math.max(0, Math.floor(scale * box.x)),
    top = Math.max(0, Math.floor(scale * box.y));
  const width = Math.min(luma.width, Math.ceil(scale * (box.x + box.width))) - left,
    height = Math.min(luma.height, Math.ceil(scale * (box.y + box.height))) - top;
  if (width < 8 || height < 8) return undefined;
  return measureBlur(cutPlane(luma, left, top, width, height));
}

/** How far the nose's tip stands out from between the eyes, in their distance, when a face is seen from the side. */
const NOSE = 0.6;

/** Turned left and tilted clockwise, in degrees, from eyes and nose. */
export function poseOf(mesh: Mesh): { yaw: number; roll: number } {
  const [lx, ly, rx, ry, nx, ny] = landmarksOf(mesh);
  const apart = Math.hypot(rx - lx, ry - ly);
  const along = ((nx - (lx + rx) / 2) * (rx - lx) + (ny - (ly + ry) / 2) * (ry - ly)) / apart ** 2;
  const degrees = (v: number): number => Math.round((180 / Math.PI) * v) || 0;
  return { yaw: degrees(Math.asin(Math.min(1, Math.max(-1, along / NOSE)))), roll: degrees(Math.atan2(ry - ly, rx - lx)) };
}

/** A box in the picture before it was turned. */
function turnedBack(face: Seen, { width, height }: Rgb, quarters: number): Seen {
  const { x, y, width: w, height: h } = face;
  if (quarters === 1) return { ...face, x: y, y: height - x - w, width: h, height: w };
  if (quarters === 2) return { ...face, x: width - x - w, y: height - y - h };
  if (quarters === 3) return { ...face, x: width - y - h, y: x, width: h, height: w };
  return face;
}

/** Parts of a size that overlap by a third: larger faces are seen in larger parts. */
function partsOf(whole: RgbView, size: number): { left: number; top: number; seen: RgbView }[] {
  const width = Math.round(Math.min(whole.width, LONGEST * whole.height) * size),
    height = Math.round(Math.min(whole.height, LONGEST * whole.width) * size);
  if (size === 1) return [{ left: 0, top: 0, seen: whole }];
  const starts = (all: number, own: number): number[] => {
    const count = Math.ceil((all - own) / (own * (1 - OVERLAP))) + 1;
    return Array.from({ length: count }, (_, n) => Math.round(((all - own) * n) / Math.max(1, count - 1)));
  };
  return starts(whole.width, width).flatMap((left) =>
    starts(whole.height, height).map((top) => ({ left, top, seen: part(whole, left, top, width, height) })),
  );
}

/** How sure it is that a face is one when it is looked at by itself. */
async function again({ x, y, width, height, quarters }: Turned, whole: Rgb, detect: Detector): Promise<number> {
  const side = Math.round(SECOND_LOOK * Math.max(width, height));
  const left = Math.max(0, Math.min(whole.width - side, Math.round(x + width / 2 - side / 2))),
    top = Math.max(0, Math.min(whole.height - side, Math.round(y + height / 2 - side / 2)));
  const near = part(viewOf(whole), left, top, Math.min(side, whole.width - left), Math.min(side, whole.height - top));
  const seen = (await detect(turned(near, quarters))).map((face) => turnedBack(face, near, quarters));
  const there = seen.filter((face) => Math.abs(face.x + left - x) < width / 2 && Math.abs(face.y + top - y) < height / 2);
  return Math.max(0, ...there.map(({ score }) => score));
}
