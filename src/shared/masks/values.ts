import { assertNever } from '../assertNever';
import { invertPlace, keepsAxes, pointAt, type Place, type Projective } from '../maps/place';
import type { Combine, Mask, MaskPart, RoundShape, Shape } from './mask';
import { paintedSampler, type PaintedStore } from './painted';

/** Where a mask is looked at. */
export interface MaskView {
  /** Size of the source the mask lies in, in pixels. */
  source: { width: number; height: number };
  /** Where the pixels that are asked for lie in the source. */
  place: Projective;
  /** Whole pixels. */
  region: Place;
  /** Documents of painted parts. */
  painted: PaintedStore;
}

/** A value from 0 to 1 at a point of the source, in pixels. */
type Field = (x: number, y: number) => number;

/** How far a step works at each pixel of a region, 0 to 1, row by row. */
export async function maskValues(mask: Mask, view: MaskView): Promise<Float32Array> {
  const { region } = view;
  const out = new Float32Array(region.width * region.height);
  for (const part of mask.parts) combine(out, part.combine, await partValues(part, mask.feather, view));
  const share = mask.opacity / 100;
  if (mask.inverse) for (let i = 0; i < out.length; i++) out[i] = 1 - out[i];
  if (share !== 1) for (let i = 0; i < out.length; i++) out[i] *= share;
  return out;
}

function combine(out: Float32Array, how: Combine, values: Float32Array): void {
  for (let i = 0; i < out.length; i++) {
    if (how === 'add') out[i] = Math.max(out[i], values[i]);
    else out[i] = Math.min(out[i], how === 'subtract' ? 1 - values[i] : values[i]);
  }
}

async function partValues({ shape }: MaskPart, feather: number, view: MaskView): Promise<Float32Array> {
  const field = shape.kind === 'painted' ? await paintedSampler(shape, feather, view) : fieldOf(shape, feather, view.source);
  const { region, place } = view;
  const out = new Float32Array(region.width * region.height);
  const upright = keepsAxes(place);
  for (let row = 0; row < region.height; row++) {
    const v = region.y + row + 0.5;
    for (let column = 0; column < region.width; column++) {
      const u = region.x + column + 0.5;
      if (upright) out[row * region.width + column] = field(place[0] * u + place[2], place[4] * v + place[5]);
      else {
        const { x, y } = pointAt(place, u, v);
        out[row * region.width + column] = field(x, y);
      }
    }
  }
  return out;
}

function fieldOf(shape: Exclude<Shape, { kind: 'painted' }>, feather: number, source: { width: number; height: number }): Field {
  // A transition of one pixel draws an edge without steps.
  const soft = Math.max(1, feather * source.height);
  const edge = (inside: number): number => Math.min(1, Math.max(0, 0.5 + inside / soft));
  switch (shape.kind) {
    case 'oval':
    case 'box':
      return roundField(shape, source, edge);
    case 'polygon': {
      const corners = shape.corners.map((p) => ({ x: p.x * source.width, y: p.y * source.height }));
      return (x, y) => edge(insidePolygon(corners, x, y));
    }
    case 'straight': {
      const [ax, ay] = [shape.from.x * source.width, shape.from.y * source.height];
      const [dx, dy] = [shape.to.x * source.width - ax, shape.to.y * source.height - ay];
      const length = Math.max(1, dx * dx + dy * dy);
      return (x, y) => smooth(1 - ((x - ax) * dx + (y - ay) * dy) / length);
    }
    case 'radial': {
      const { rx, ry, cx, cy } = middle(shape, source);
      return (x, y) => smooth((1 - Math.hypot((x - cx) / rx, (y - cy) / ry)) / (1 - Math.min(0.999, shape.core)));
    }
    default:
      return assertNever(shape);
  }
}

/** Even at both ends, so that a gradient shows no line where it begins. */
function smooth(v: number): number {
  const t = Math.min(1, Math.max(0, v));
  return t * t * (3 - 2 * t);
}

interface Round {
  x: number;
  y: number;
  width: number;
  height: number;
}

function middle(shape: Round, source: { width: number; height: number }): { rx: number; ry: number; cx: number; cy: number } {
  const rx = (shape.width * source.width) / 2,
    ry = (shape.height * source.height) / 2;
  return { rx, ry, cx: shape.x * source.width + rx, cy: shape.y * source.height + ry };
}

/** Pixels inside the edge: exact for a box, along the radius for an oval. */
function roundField(shape: RoundShape, source: { width: number; height: number }, edge: (inside: number) => number): Field {
  const { rx, ry, cx, cy } = middle(shape, source);
  const inside =
    shape.kind === 'box'
      ? (dx: number, dy: number): number => Math.min(rx - dx, ry - dy)
      : (dx: number, dy: number): number => (1 - Math.hypot(dx / rx, dy / ry)) * Math.min(rx, ry);
  if (shape.turn === 0) return (x, y) => edge(inside(Math.abs(x - cx), Math.abs(y - cy)));
  const cos = Math.cos((shape.turn * Math.PI) / 180),
    sin = Math.sin((shape.turn * Math.PI) / 180);
  return (x, y) => {
    const dx = x - cx,
      dy = y - cy;
    return edge(inside(Math.abs(cos * dx + sin * dy), Math.abs(cos * dy - sin * dx)));
  };
}

/** Distance to the nearest side, in pixels: above 0 inside, by the even-odd rule. */
function insidePolygon(corners: { x: number; y: number }[], x: number, y: number): number {
  let nearest = Infinity,
    within = false;
  for (let i = 0, j = corners.length - 1; i < corners.length; j = i++) {
    const a = corners[j],
      b = corners[i];
    if (a.y > y !== b.y > y && x < ((a.x - b.x) * (y - b.y)) / (a.y - b.y) + b.x) within = !within;
    const dx = b.x - a.x,
      dy = b.y - a.y;
    const along = Math.min(1, Math.max(0, ((x - a.x) * dx + (y - a.y) * dy) / (dx * dx + dy * dy || 1)));
    nearest = Math.min(nearest, Math.hypot(x - a.x - along * dx, y - a.y - along * dy));
  }
  return within ? nearest : -nearest;
}

/** A shape's outline as it lies in another frame: corners for a polygon, the four corners of what bounds it for all others. @returns pixels of that frame. */
export function outlineOf(
  shape: Exclude<Shape, { kind: 'painted' }>,
  source: { width: number; height: number },
  place: Projective,
): { x: number; y: number }[] {
  const back = invertPlace(place);
  const at = (x: number, y: number): { x: number; y: number } => pointAt(back, x * source.width, y * source.height);
  if (shape.kind === 'polygon') return shape.corners.map((p) => at(p.x, p.y));
  if (shape.kind === 'straight') return [at(shape.from.x, shape.from.y), at(shape.to.x, shape.to.y)];
  const { x, y, width, height } = shape;
  return [at(x, y), at(x + width, y), at(x + width, y + height), at(x, y + height)];
}
