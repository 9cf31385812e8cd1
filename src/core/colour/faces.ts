import { meshedFaces } from '../faces/find';
import { convexHull } from '../faces/oval';
import { CHIN, EYES, HAIRLINE, LIPS, TOP } from '../faces/parts';
import { type Lightness, type Odds, oddsOf, type Telling } from './known';
import type { Tones } from './tones';

const PARTS = ['lips', 'eyes', 'face', 'neck', 'hair', 'clothes'] as const;
type Part = (typeof PARTS)[number];

/**
 * What a face tells of the colours round it, before anything is looked at: mean chroma and its deviation, in codes of 255, of the people that networks
 * learn from (`training/faces.py`): of lips, of eyes, on cheeks, forehead and nose, under the chin, above the forehead, and of dark clothes. Skin hardly
 * depends on how light it is.
 */
const ODDS: Record<Part, Odds> = {
  lips: oddsOf({ cb: -13, cr: 30, deviation: 11 }),
  eyes: oddsOf({ cb: -6, cr: 13.5, deviation: 9 }),
  face: oddsOf({ cb: -16, cr: 23.5, deviation: 11 }),
  neck: oddsOf({ cb: -14, cr: 23, deviation: 13 }),
  hair: oddsOf({ cb: -6, cr: 10, deviation: 12 }),
  clothes: oddsOf({ cb: 2.5, cr: 3, deviation: 12.5 }),
};

type Band = readonly [number, number, number, number];

/**
 * How light a neck, hair and dark clothes are against the face: surely so between the middle two, surely something else beyond the outer. Beards and
 * clothes are darker than skin, collars lighter; what is light may have any colour.
 */
const LIGHT: Partial<Record<Part, Band>> = {
  neck: [0.4, 0.5, 1.02, 1.12],
  hair: [-1, 0, 0.6, 0.75],
  clothes: [-1, 0, 0.36, 0.46],
};

/** Distance beyond an outline over which it ends, in parts of its width. */
const FADE = 0.1;
/** How far under the chin a neck goes, and how wide it is; how far hair goes above the forehead: in parts of the face's height. */
const NECK = { height: 0.32, width: 0.36 },
  HAIR = 0.3;
/** Where clothes lie under the chin, and how far they go to each side above and below: in parts of the face's height. */
const CLOTHES = [
  { under: 0.3, aside: 0.5 },
  { under: 1, aside: 1.1 },
  { under: 3, aside: 1.3 },
];
/** Least width of lips and eyes in places: smaller ones would colour what lies round them. */
const LEAST_WIDTH = 4;

interface Point {
  x: number;
  y: number;
}

/** Convex outlines of a face and of what belongs to it, in fractions of the picture. */
export type FaceOutlines = Record<Part, Point[][]>;

/** What is known round the faces that are found on the raster of a picture's tones: the colour of smaller ones is hardly seen. */
export async function facesOn({ luma, width, height }: Tones): Promise<FaceOutlines[]> {
  const data = new Uint8Array(3 * luma.length);
  luma.forEach((v, i) => data.fill(v, 3 * i, 3 * i + 3));
  const found = await meshedFaces({ data, width, height });
  return found.flatMap(({ mesh }) => (mesh ? [outlinesOf(mesh, width, height)] : []));
}

/** @param mesh 468 points in pixels. */
function outlinesOf(mesh: ArrayLike<number>, width: number, height: number): FaceOutlines {
  const at = (n: number): Point => ({ x: mesh[2 * n], y: mesh[2 * n + 1] });
  const moved = ({ x, y }: Point, by: number, along: number): Point => ({
    x: x + by * up.x + along * up.y,
    y: y + by * up.y - along * up.x,
  });
  const up = { x: at(TOP).x - at(CHIN).x, y: at(TOP).y - at(CHIN).y };
  const under = (by: number, aside: number): Point[] => [moved(at(CHIN), -by, -aside), moved(at(CHIN), -by, aside)];
  const outline = (of: readonly Point[]): Point[] =>
    convexHull(Float32Array.from(of.flatMap(({ x, y }) => [x, y]))).map(({ x, y }) => ({ x: x / width, y: y / height }));
  return {
    lips: [outline(LIPS.flatMap(({ outer }) => outer.map(at)))],
    eyes: EYES.map(({ corners, lids }) => outline([...corners, ...lids].map(at))),
    face: [outline(Array.from({ length: mesh.length / 2 }, (_, n) => at(n)))],
    neck: [outline([0, NECK.height].flatMap((by) => under(by, NECK.width / 2)))],
    hair: [outline(HAIRLINE.map(at).flatMap((point) => [point, moved(point, HAIR, 0)]))],
    // Two convex ones: shoulders slope.
    clothes: CLOTHES.slice(1).map((end, n) => outline([CLOTHES[n], end].flatMap(({ under: by, aside }) => under(by, aside)))),
  };
}

/**
 * What lies in the outlines round faces is likelier to have the colours of lips, eyes, skin, hair and dark clothes. One part after another of all
 * faces: skin and hair of one are no part of another's face.
 */
export function tellFaces({ tell }: Telling, { width, height, luma }: Lightness, faces: readonly FaceOutlines[]): void {
  const lights = faces.map(({ face }) => {
    let light = 0,
      places = 0;
    for (const outline of face)
      placesIn(outline, width, height, (i, inside) => {
        light += inside * luma[i];
        places += inside;
      });
    // Of a face that lies on no place nothing is told.
    return places > 0 ? light / places : NaN;
  });
  for (const part of PARTS) {
    const band = LIGHT[part];
    faces.forEach((face, n) => {
      for (const outline of face[part]) {
        const small = part === 'lips' || part === 'eyes';
        if (small && widthOf(outline) * width < LEAST_WIDTH) continue;
        placesIn(outline, width, height, (i, inside) => {
          const share = band ? inside * within(luma[i] / lights[n], band) : inside;
          // Their own outlines are seen, where those of skin pass into what is round it.
          tell(i, small ? Math.max(0, 2 * share - 1) : share, ODDS[part]);
        });
      }
    });
  }
}

const widthOf = (outline: readonly Point[]): number => Math.max(...outline.map(({ x }) => x)) - Math.min(...outline.map(({ x }) => x));

/** 1 between the middle two bounds, 0 beyond the outer ones. */
const within = (v: number, [none, from, to, end]: Band): number =>
  Math.min(1, Math.max(0, Math.min((v - none) / (from - none), (end - v) / (end - to)))) || 0;

/** Every place in an outline, and how far it is inside: 1, and less over its fading border. */
function placesIn(outline: readonly Point[], width: number, height: number, work: (i: number, inside: number) => void): void {
  const corners = outline.map(({ x, y }) => ({ x: x * width, y: y * height }));
  const xs = corners.map(({ x }) => x),
    ys = corners.map(({ y }) => y);
  const fade = Math.max(1, FADE * (Math.max(...xs) - Math.min(...xs)));
  const [left, right] = [Math.min(...xs) - fade, Math.max(...xs) + fade].map((v) => Math.min(width, Math.max(0, Math.round(v))));
  const [top, bottom] = [Math.min(...ys) - fade, Math.max(...ys) + fade].map((v) => Math.min(height, Math.max(0, Math.round(v))));
  for (let y = top; y < bottom; y++)
    for (let x = left; x < right; x++) {
      const inside = Math.min(1, 1 + depth(corners, x + 0.5, y + 0.5) / fade);
      if (inside > 0) work(y * width + x, inside);
    }
}

/** How far a point lies within a convex outline, clockwise on screen; below 0 outside. */
const depth = (corners: readonly Point[], x: number, y: number): number =>
  Math.min(
    ...corners.map((a, n) => {
      const b = corners[(n + 1) % corners.length];
      return ((b.x - a.x) * (y - a.y) - (b.y - a.y) * (x - a.x)) / (Math.hypot(b.x - a.x, b.y - a.y) || 1);
    }),
  );
