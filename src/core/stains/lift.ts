import type { Hole } from '../fill/hole';
import { labelsOf } from '../fill/labels';
import { meansWithin } from '../fill/means';
import { HALF } from '../kernels/reference/patches';
import { codes, fromRgbMatrix, toRgbMatrix } from '../picture/matrix';
import { NEUTRAL_CHROMA, type Region, type StreamInfo } from '../picture/picture';
import { foundBorder, MISPLACED, movedBorder } from './border';
import { stainLight, withoutStain, type StainLight } from './light';
import { signedDepth, type Surface } from './raster';
import { median } from '../metrics/median';

/** What a pixel is of a stain: of it, so near that it may be of it, or of it as it was painted, which is rough. */
export const STAINED = 1,
  BESIDE = 2,
  PAINTED = 3;
/** Pixels round a stain that are looked at to lift it. */
export const LIFT_REACH = MISPLACED + 16;
/** Pixels to both sides of a stain's border that are filled: there it is neither inside nor outside, and a line would be left. */
const EDGE = 2.2;
/** Share of the surroundings that is at most as light as what was lifted may be. */
const USUAL = 0.98;
/** Fewest pixels of a stain. */
const FEWEST = 20;
/** A stain hides what it leaves less than this logarithm of. */
const HIDDEN = 2.2;
/** Share of the fine detail of its surroundings that shows in what lets them through, and the radius over which that is told. */
const LETS_THROUGH = 0.2,
  FINE = 3;
/** What is seen in a stain follows its surroundings along its border by so much at least, if it is seen through. */
const FOLLOWS = 0.3;
/** Fine detail, in codes of 255, of all but a tenth of what lies round a stain, and in it, below which there is nothing in it to be lost. */
const EVEN = { outside: 0.8, inside: 2.5 };

/**
 * Gives back what stains took from the picture that shows through them; nothing is painted anew.
 *
 * @param hole a window with its damage; `veiled` says STAINED, BESIDE or PAINTED where that is a stain, 0 elsewhere.
 * @returns the window without its stains. What hides the picture is missing still, as is all other damage.
 */
export function liftStains(hole: Hole, veiled: Uint8Array, info: StreamInfo): Hole {
  const { width, height } = hole;
  const labels = labelsOf(
    veiled.map((v) => Number(v === STAINED || v === PAINTED)),
    width,
    height,
  );
  // With what else is damaged nothing can be compared.
  const free = hole.missing.map((m, i) => Number(!m || veiled[i] > 0));
  const stains = [...boxesOf(labels, width)]
    .filter(([, { pixels }]) => pixels >= FEWEST)
    .map(([label, { box }]) => {
      const window = grown(box, width, height);
      const surface = surfaceOf(hole, window, info);
      const found = cut(labels, width, window).map((v) => Number(v === label));
      const painted = cut(veiled, width, window).some((v, n) => v === PAINTED && found[n] > 0);
      return { label, window, surface, found, ...(painted ? foundBorder : movedBorder)(surface, Uint8Array.from(found)) };
    });
  for (const { window, inside } of stains) eachOf(window, width, (i, n) => (free[i] &= 1 - inside[n]));
  const planes = hole.planes.map((plane) => plane.slice());
  const missing = hole.missing.map((m, i) => Number(m > 0 && veiled[i] !== BESIDE));
  const lay = layer(info, planes);
  // At the edge of the picture too little is seen to fill a line by.
  const inFull = (i: number): boolean =>
    Math.min(i % width, width - 1 - (i % width), Math.floor(i / width), height - 1 - Math.floor(i / width)) >= 2 * HALF;
  for (const { window, surface, found, inside, seen } of stains) {
    const here = Uint8Array.from(cut(free, width, window));
    const light = stainLight(surface, { inside, seen }, here);
    if (light === 'narrow' || (light && filled(surface, inside, here, light))) continue;
    const depth = signedDepth(inside, window.width, window.height);
    const bounds = surface.colours.map((colour) => boundOf(colour, here, light));
    eachOf(window, width, (i, n) => {
      if (found[n]) missing[i] = 0;
      // Where all that is seen is stained, nothing says by how much: it stays.
      if (!light || !inside[n] || !veiled[i]) return;
      lay(
        i,
        surface.colours.map((colour, c) => held(withoutStain(colour[n], light.logarithms[c][n], light.lighter), colour[n], bounds[c])),
      );
    });
    if (light) eachOf(window, width, (i, n) => veiled[i] && Math.abs(depth[n]) < EDGE && inFull(i) && (missing[i] = 1));
  }
  return { ...hole, planes, missing };
}

/** What nearly all of the surroundings are at most, or at least. */
interface Bound {
  lighter: boolean;
  value: number;
}

function boundOf(colour: Float32Array, free: Uint8Array, light: StainLight | undefined): Bound {
  const around = [...colour].filter((_, n) => free[n]).sort((a, b) => a - b);
  const lighter = light?.lighter ?? false;
  return { lighter, value: around[Math.floor((lighter ? 1 - USUAL : USUAL) * around.length)] ?? (lighter ? 0 : 255) };
}

/** What was lifted, but no further than to what the surroundings have: a stain is not equally strong everywhere, and in its middle nothing says how strong. */
const held = (made: number, seen: number, { lighter, value }: Bound): number =>
  lighter ? Math.max(made, Math.min(seen, value)) : Math.min(made, Math.max(seen, value));

/** Each label's box and how many pixels it has. */
function boxesOf(labels: Int32Array, width: number): Map<number, { box: Region; pixels: number }> {
  const boxes = new Map<number, { box: Region; pixels: number }>();
  labels.forEach((label, i) => {
    if (!label) return;
    const x = i % width,
      y = Math.floor(i / width);
    const own = boxes.get(label);
    if (!own) {
      boxes.set(label, { box: { x, y, width: 1, height: 1 }, pixels: 1 });
      return;
    }
    const { box } = own;
    const right = Math.max(box.x + box.width, x + 1);
    box.x = Math.min(box.x, x);
    box.width = right - box.x;
    box.height = y + 1 - box.y;
    own.pixels++;
  });
  return boxes;
}

function grown({ x, y, width, height }: Region, frameWidth: number, frameHeight: number): Region {
  const left = Math.max(0, x - LIFT_REACH),
    top = Math.max(0, y - LIFT_REACH);
  return {
    x: left,
    y: top,
    width: Math.min(frameWidth, x + width + LIFT_REACH) - left,
    height: Math.min(frameHeight, y + height + LIFT_REACH) - top,
  };
}

/** Calls for each pixel of a window with its place in the whole and in the window. */
function eachOf({ x, y, width, height }: Region, stride: number, visit: (i: number, n: number) => void): void {
  for (let row = 0, n = 0; row < height; row++) {
    const from = (y + row) * stride + x;
    for (let column = 0; column < width; column++, n++) visit(from + column, n);
  }
}

function cut(values: ArrayLike<number>, stride: number, window: Region): number[] {
  const out: number[] = new Array<number>(window.width * window.height);
  eachOf(window, stride, (i, n) => (out[n] = values[i]));
  return out;
}

/** R'G'B' of a window, or its grey. */
function surfaceOf({ width: stride, planes }: Hole, window: Region, { colour }: StreamInfo): Surface {
  const { black, luma, chroma } = codes(colour.range);
  const rows = planes.length > 1 ? toRgbMatrix(colour.matrix) : [[1, 0, 0]];
  const colours = rows.map(() => new Float32Array(window.width * window.height));
  eachOf(window, stride, (i, n) => {
    const y = (planes[0][i] - black) / luma,
      b = planes.length > 1 ? (planes[1][i] - NEUTRAL_CHROMA) / chroma : 0,
      r = planes.length > 1 ? (planes[2][i] - NEUTRAL_CHROMA) / chroma : 0;
    rows.forEach((row, c) => (colours[c][n] = 255 * (row[0] * y + row[1] * b + row[2] * r)));
  });
  return { width: window.width, height: window.height, colours };
}

/** What lays R'G'B' of 255, or a grey, at a pixel of planes. */
function layer({ colour }: StreamInfo, planes: Uint16Array[]): (i: number, colours: number[]) => void {
  const { black, luma, chroma } = codes(colour.range);
  const rows = planes.length > 1 ? fromRgbMatrix(colour.matrix) : [[1]];
  return (i, colours) =>
    planes.forEach((plane, p) => {
      const v = rows[p].reduce((sum, weight, c) => sum + (weight * colours[c]) / 255, 0);
      plane[i] = Math.min(65535, Math.max(0, Math.round(p === 0 ? black + v * luma : NEUTRAL_CHROMA + v * chroma)));
    });
}

/** Whether a stain is filled rather than lifted: it hides what lies under it, or all round it is so even that there is nothing to be lost. */
function filled({ width, height, colours }: Surface, inside: Uint8Array, free: Uint8Array, light: StainLight): boolean {
  const { lighter, logarithms, follows } = light;
  const places = [...inside.keys()].filter((i) => inside[i]);
  if (logarithms.every((plane) => median(places.map((i) => Math.abs(plane[i]))) > HIDDEN)) return true;
  const green = colours.length >> 1;
  const lifted = colours[green].map((v, i) => (inside[i] ? withoutStain(v, logarithms[green][i], lighter) : v));
  const detail = (counts: Uint8Array, share: number): number => {
    const mean = meansWithin(lifted, counts, width, height, FINE);
    const off: number[] = [];
    for (let i = 0; i < counts.length; i++) if (counts[i]) off.push(Math.abs(lifted[i] - mean[i]));
    return off.sort((a, b) => a - b)[Math.floor(share * off.length)] ?? 0;
  };
  if (follows < FOLLOWS && detail(inside, 0.5) < LETS_THROUGH * detail(free, 0.5)) return true;
  return detail(free, 0.9) < EVEN.outside && detail(inside, 0.9) < EVEN.inside;
}
