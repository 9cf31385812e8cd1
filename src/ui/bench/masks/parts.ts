import type { Combine, Mask, MaskPart, Point, Shape, ShapeKind } from '../../../shared/masks/mask';
import { assertNever } from '../../../shared/assertNever';
import { movedShape } from '../../../shared/masks/shapes';

/** Smallest side of a shape, and sides of a new one, in fractions of the source. */
const SMALLEST = 0.004;
const FRESH = { width: 0.3, height: 0.4 };

/** How far a shape may lie outside of the frame, in fractions of it. */
const OUTSIDE = 1;

const held = (v: number, least: number, most: number): number => Number(Math.min(most, Math.max(least, v)).toFixed(5));
const heldPoint = ({ x, y }: Point): Point => ({ x: held(x, -OUTSIDE, 1 + OUTSIDE), y: held(y, -OUTSIDE, 1 + OUTSIDE) });

/** Shapes that have a middle, a width and a height. */
export type RoundedShape = Extract<Shape, { width: number }>;
export const isRounded = (shape: Shape): shape is RoundedShape => 'width' in shape;

/** A new shape round a point. @param document of a painted one. */
export function freshShape(kind: ShapeKind, u: number, v: number, document = ''): Shape {
  const box = { x: held(u - FRESH.width / 2, -OUTSIDE, 1), y: held(v - FRESH.height / 2, -OUTSIDE, 1), ...FRESH };
  switch (kind) {
    case 'oval':
    case 'box':
      return { kind, ...box, turn: 0 };
    case 'radial':
      return { kind, ...box, core: 0.2 };
    case 'straight':
      return { kind, from: heldPoint({ x: u, y: v - 0.2 }), to: heldPoint({ x: u, y: v + 0.2 }) };
    case 'polygon': {
      const corners = Array.from({ length: 6 }, (_, n) => {
        const angle = (Math.PI * (2 * n + 1)) / 6;
        return heldPoint({ x: u + (FRESH.width / 2) * Math.cos(angle), y: v + (FRESH.height / 2) * Math.sin(angle) });
      });
      return { kind, corners };
    }
    case 'painted':
      return { kind, document, x: 0, y: 0 };
    default:
      return assertNever(kind);
  }
}

/** The shape further on, within reach of the frame. */
export function moved<S extends Shape>(shape: S, dx: number, dy: number): S {
  const there = movedShape(shape, dx, dy);
  if (there.kind === 'polygon') return { ...there, corners: there.corners.map(heldPoint) } as S;
  if (there.kind === 'straight') return { ...there, from: heldPoint(there.from), to: heldPoint(there.to) } as S;
  if (isRounded(there))
    return {
      ...there,
      x: held(there.x, -there.width / 2, 1 - there.width / 2),
      y: held(there.y, -there.height / 2, 1 - there.height / 2),
    } as S;
  return { ...there, ...heldPoint(there) } as S;
}

/** The shape wider and higher by fractions of the source; the others grow about their first point. */
export function stretched<S extends Shape>(shape: S, dx: number, dy: number): S {
  if (isRounded(shape)) return { ...shape, width: held(shape.width + dx, SMALLEST, 3), height: held(shape.height + dy, SMALLEST, 3) };
  if (shape.kind === 'straight') return { ...shape, to: heldPoint({ x: shape.to.x + dx, y: shape.to.y + dy }) };
  if (shape.kind !== 'polygon') return shape;
  const xs = shape.corners.map((c) => c.x),
    ys = shape.corners.map((c) => c.y);
  const [left, top] = [Math.min(...xs), Math.min(...ys)];
  const wide = Math.max(SMALLEST, Math.max(...xs) - left),
    high = Math.max(SMALLEST, Math.max(...ys) - top);
  const sx = Math.max(SMALLEST, wide + dx) / wide,
    sy = Math.max(SMALLEST, high + dy) / high;
  return { ...shape, corners: shape.corners.map((c) => heldPoint({ x: left + (c.x - left) * sx, y: top + (c.y - top) * sy })) };
}

/** A polygon with a corner elsewhere. */
export const cornerMoved = (corners: Point[], index: number, to: Point): Point[] => corners.with(index, heldPoint(to));

/** A polygon with one corner more, in the middle of the side that ends at `index`. */
export function cornerAdded(corners: Point[], index: number): Point[] {
  const a = corners.at(index - 1) as Point,
    b = corners[index];
  return corners.toSpliced(index === 0 ? corners.length : index, 0, heldPoint({ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }));
}

/** A polygon with one corner less; three stay. */
export const cornerRemoved = (corners: Point[], index: number): Point[] => (corners.length > 3 ? corners.toSpliced(index, 1) : corners);

/** Whether a part of this kind is added to what is there, or makes a mask of its own. */
export const withPart = (mask: Mask | undefined, shape: Shape, combine: Combine = 'add'): Mask => ({
  inverse: mask?.inverse ?? false,
  // The brush has a softness of its own.
  feather: mask?.feather ?? (shape.kind === 'painted' ? 0 : 0.02),
  opacity: mask?.opacity ?? 100,
  parts: [...(mask?.parts ?? []), { shape, combine: mask ? combine : 'add' }],
});

export const replaced = (mask: Mask, index: number, change: Partial<MaskPart>): Mask => ({
  ...mask,
  parts: mask.parts.with(index, { ...mask.parts[index], ...change }),
});

/** Without one part; undefined where it was the last. What comes first then is added, since there is nothing before it. */
export function without(mask: Mask, index: number): Mask | undefined {
  const [first, ...others] = mask.parts.toSpliced(index, 1);
  return first && { ...mask, parts: [{ ...first, combine: 'add' }, ...others] };
}

const percent = (v: number): number => Math.round(v * 100);

/** oval, 30 × 40 % */
export function shapeText(shape: Shape): string {
  switch (shape.kind) {
    case 'oval':
    case 'box':
      return `${shape.kind}, ${percent(shape.width)} × ${percent(shape.height)} %${shape.turn ? `, ${Math.round(shape.turn)}°` : ''}`;
    case 'radial':
      return `round gradient, ${percent(shape.width)} × ${percent(shape.height)} %`;
    case 'straight':
      return 'straight gradient';
    case 'polygon':
      return `polygon, ${shape.corners.length} corners`;
    case 'painted':
      return 'painted';
    default:
      return assertNever(shape);
  }
}
