import type { Vector } from './head';

/** A turn and a size about the origin, row by row, and where the origin goes. */
export interface Place {
  rows: [Vector, Vector, Vector];
  at: Vector;
}

export const dot = (a: Vector, b: Vector): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vector, b: Vector): Vector => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const unit = ([x, y, z]: Vector): Vector => {
  const n = Math.hypot(x, y, z) || 1;
  return [x / n, y / n, z / n];
};

const turns = ({ rows, at }: Place, p: Vector): Vector => [dot(rows[0], p) + at[0], dot(rows[1], p) + at[1], dot(rows[2], p) + at[2]];

/** About one of the axes, in degrees, as POV-Ray turns. */
export function turned(axis: 'x' | 'y' | 'z', degrees: number): Place {
  const c = Math.cos((degrees * Math.PI) / 180),
    s = Math.sin((degrees * Math.PI) / 180);
  const rows: Place['rows'] = {
    x: [
      [1, 0, 0],
      [0, c, -s],
      [0, s, c],
    ] as Place['rows'],
    y: [
      [c, 0, s],
      [0, 1, 0],
      [-s, 0, c],
    ] as Place['rows'],
    z: [
      [c, -s, 0],
      [s, c, 0],
      [0, 0, 1],
    ] as Place['rows'],
  }[axis];
  return { rows, at: [0, 0, 0] };
}

export const moved = (at: Vector, size = 1): Place => ({
  rows: [
    [size, 0, 0],
    [0, size, 0],
    [0, 0, size],
  ],
  at,
});

/** One place after the other. */
export function placed(...places: Place[]): Place {
  return places.reduce((before, after) => {
    const columns = [0, 1, 2].map((i): Vector => [before.rows[0][i], before.rows[1][i], before.rows[2][i]]);
    return {
      rows: after.rows.map((row): Vector => [dot(row, columns[0]), dot(row, columns[1]), dot(row, columns[2])]) as Place['rows'],
      at: turns(after, before.at),
    };
  });
}

/** Where a point goes. */
export const put = turns;

/** The direction before a place that it turns into this one; of length 1. */
export function before({ rows }: Place, d: Vector): Vector {
  return unit([0, 1, 2].map((i) => rows[0][i] * d[0] + rows[1][i] * d[1] + rows[2][i] * d[2]) as Vector);
}
