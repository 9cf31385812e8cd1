import { labelsOf } from '../fill/labels';
import { type Lightness, oddsOf, type Telling } from './known';

/**
 * Mounts of albums and white margins of prints: even areas along all sides of a picture, round prints, which are rectangular. Their colour is told by
 * nothing that is shown, and a dark one would pass for a sky.
 */

/** Codes of lightness that neighbouring places of a margin differ by at most, and all of it from its usual lightness. */
const STEP = 12,
  APART = 30;
/** Share of each side along which a margin runs at least: a print may lie over the edge of its mount, or be torn. */
const ALONG = 0.85;
/** Least share of the picture that prints take together, and each of those that count. */
const PRINTS = 0.15,
  PRINT = 0.015;
/** Share of the box round it that a print fills at least, in the mean of all that is in them: it may lie a little askew. */
const RECTANGULAR = 0.84;
/** Paper is hardly coloured; without this much of doubt a wrong margin could not be coloured by what it shows. */
const PAPER = oddsOf({ cb: -3, cr: 2, deviation: 8 });

/** Says of places in the margin of a picture, where it has one, that they are paper. */
export function tellMargin({ tell }: Telling, { width, height, luma }: Lightness): void {
  marginOf(luma, width, height)?.forEach((inside, i) => inside && tell(i, 1, PAPER));
}

/** @returns 1 in the margin; none where a picture has no margin. */
export function marginOf(luma: Float32Array, width: number, height: number): Uint8Array | undefined {
  const sides = [
    Array.from({ length: width }, (_, x) => x),
    Array.from({ length: width }, (_, x) => (height - 1) * width + x),
    Array.from({ length: height }, (_, y) => y * width),
    Array.from({ length: height }, (_, y) => y * width + width - 1),
  ];
  const border = sides.flat();
  const usual = border.map((i) => luma[i]).sort((a, b) => a - b)[border.length >> 1];
  const alike = (i: number): boolean => Math.abs(luma[i] - usual) <= APART;
  const margin = new Uint8Array(luma.length);
  const open: number[] = [];
  const reach = (i: number): void => {
    if (margin[i] || !alike(i)) return;
    margin[i] = 1;
    open.push(i);
  };
  border.forEach(reach);
  for (let i = open.pop(); i !== undefined; i = open.pop()) {
    const x = i % width;
    for (const j of [x > 0 ? i - 1 : -1, x < width - 1 ? i + 1 : -1, i - width, i + width])
      if (j >= 0 && j < luma.length && Math.abs(luma[j] - luma[i]) <= STEP) reach(j);
  }
  const runs = sides.every((side) => side.filter((i) => margin[i]).length >= ALONG * side.length);
  return runs && roundPrints(margin, width, height) ? margin : undefined;
}

/** Whether what a margin leaves is rectangular: a thing before an even wall is not. */
function roundPrints(margin: Uint8Array, width: number, height: number): boolean {
  const labels = labelsOf(
    margin.map((v) => 1 - v),
    width,
    height,
  );
  const pieces = new Map<number, { places: number; left: number; right: number; top: number; bottom: number }>();
  labels.forEach((label, i) => {
    if (!label) return;
    const x = i % width,
      y = Math.floor(i / width);
    const piece = pieces.get(label) ?? { places: 0, left: x, right: x, top: y, bottom: y };
    pieces.set(label, piece);
    piece.places++;
    [piece.left, piece.right] = [Math.min(piece.left, x), Math.max(piece.right, x)];
    piece.bottom = y;
  });
  const prints = [...pieces.values()].filter(({ places }) => places >= PRINT * margin.length);
  const places = prints.reduce((sum, print) => sum + print.places, 0);
  const boxes = prints.reduce((sum, { left, right, top, bottom }) => sum + (right - left + 1) * (bottom - top + 1), 0);
  return places >= PRINTS * margin.length && places >= RECTANGULAR * boxes;
}
