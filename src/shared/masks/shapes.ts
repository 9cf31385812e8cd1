import type { Point, Shape } from './mask';

/** The shape moved by fractions of the source. */
export function movedShape(shape: Shape, dx: number, dy: number): Shape {
  const moved = <P extends Point>(p: P): P => ({ ...p, x: p.x + dx, y: p.y + dy });
  if (shape.kind === 'polygon') return { ...shape, corners: shape.corners.map(moved) };
  if (shape.kind === 'straight') return { ...shape, from: moved(shape.from), to: moved(shape.to) };
  return moved(shape);
}
