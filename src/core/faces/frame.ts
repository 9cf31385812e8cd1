/** A box in pixels. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

/** Turns, scales and moves: (u, v) comes to (a u - b v + x, b u + a v + y). */
export interface Similarity {
  a: number;
  b: number;
  x: number;
  y: number;
}

/** Where eyes, nose and mouth lie in the frame that faces are laid straight in, in parts of its side. */
export const FRAME = Float64Array.of(0.345, 0.41, 0.655, 0.41, 0.5, 0.59, 0.382, 0.745, 0.618, 0.745);

/** Writes where a point comes to. */
export function moved({ a, b, x, y }: Similarity, u: number, v: number, out: Float32Array | Float64Array, at: number): void {
  out[at] = a * u - b * v + x;
  out[at + 1] = b * u + a * v + y;
}

/** One similarity after another: first `inner`, then `outer`. */
export function within(outer: Similarity, inner: Similarity): Similarity {
  const at = new Float64Array(2);
  moved(outer, inner.x, inner.y, at, 0);
  return { a: outer.a * inner.a - outer.b * inner.b, b: outer.b * inner.a + outer.a * inner.b, x: at[0], y: at[1] };
}

/** The way back. */
export function invert({ a, b, x, y }: Similarity): Similarity {
  const n = a * a + b * b;
  return { a: a / n, b: -b / n, x: -(a * x + b * y) / n, y: (b * x - a * y) / n };
}

/**
 * The similarity that takes five landmarks of a face as near as can be, in the least squares, to their places in a frame of that side (Umeyama, 1991,
 * in the plane: a multiplication of complex numbers).
 */
export function fitted(landmarks: Float64Array, side: number): Similarity {
  const count = landmarks.length / 2;
  const mean = (points: Float64Array, axis: number): number => {
    let sum = 0;
    for (let n = 0; n < count; n++) sum += points[2 * n + axis];
    return sum / count;
  };
  const [mx, my, fx, fy] = [mean(landmarks, 0), mean(landmarks, 1), mean(FRAME, 0) * side, mean(FRAME, 1) * side];
  let re = 0,
    im = 0,
    all = 0;
  for (let n = 0; n < count; n++) {
    const x = landmarks[2 * n] - mx,
      y = landmarks[2 * n + 1] - my,
      u = FRAME[2 * n] * side - fx,
      v = FRAME[2 * n + 1] * side - fy;
    re += x * u + y * v;
    im += x * v - y * u;
    all += x * x + y * y;
  }
  const a = re / all,
    b = im / all;
  return { a, b, x: fx - (a * mx - b * my), y: fy - (b * mx + a * my) };
}
