import { codes } from '../picture/matrix';
import { NEUTRAL_CHROMA, planeRegion, type Picture } from '../picture/picture';
import type { FramedFace } from './restore';
import { invert, moved, type Similarity } from './frame';

/**
 * Cuts a face out and lays it straight: cubic between samples (Keys, 1981), means where the frame is coarser than the picture.
 * @param at takes the frame's pixels to the picture's. The part of the frame that lies outside of what the picture holds repeats its border.
 */
export function layStraight(picture: Picture, at: Similarity, side: number): FramedFace {
  const { info, region } = picture;
  const { black, luma, chroma } = codes(info.colour.range);
  const spot = new Float64Array(2);
  const parts = Math.max(1, Math.ceil(Math.hypot(at.a, at.b) - 0.25));
  const planes = [0, 1, 2].map((index) => {
    const plane = picture.planes.at(index);
    if (!plane) return new Float32Array(side * side).fill(0.5);
    const own = planeRegion(info, index, region);
    const sx = index ? 1 << info.chromaShiftX : 1,
      sy = index ? 1 << info.chromaShiftY : 1;
    const out = new Float32Array(side * side);
    for (let y = 0; y < side; y++)
      for (let x = 0; x < side; x++) {
        let sum = 0;
        for (let v = 0; v < parts; v++)
          for (let u = 0; u < parts; u++) {
            moved(at, x + (u + 0.5) / parts, y + (v + 0.5) / parts, spot, 0);
            sum += cubicAt(plane.data, plane.width, plane.height, spot[0] / sx - 0.5 - own.x, spot[1] / sy - 0.5 - own.y);
          }
        const v = sum / (parts * parts);
        out[y * side + x] = index ? (v - NEUTRAL_CHROMA) / chroma + 0.5 : (v - black) / luma;
      }
    return out;
  });
  return { side, planes: planes as FramedFace['planes'] };
}

/** Weights of four samples for a place so far beyond the second of them (Keys, a = -1/2). */
function keysWeights(t: number, out: Float64Array): void {
  const t2 = t * t,
    t3 = t2 * t;
  out[0] = -0.5 * t3 + t2 - 0.5 * t;
  out[1] = 1.5 * t3 - 2.5 * t2 + 1;
  out[2] = -1.5 * t3 + 2 * t2 + 0.5 * t;
  out[3] = 0.5 * t3 - 0.5 * t2;
}

const across = new Float64Array(4),
  down = new Float64Array(4);

/** A sample of a plane between its own (Keys, 1981), its border repeated beyond it. */
export function cubicAt(data: Uint16Array, width: number, height: number, x: number, y: number): number {
  const x0 = Math.floor(x),
    y0 = Math.floor(y);
  keysWeights(x - x0, across);
  keysWeights(y - y0, down);
  const inside = x0 >= 1 && y0 >= 1 && x0 + 2 < width && y0 + 2 < height;
  let sum = 0;
  for (let v = 0; v < 4; v++) {
    const row = (inside ? y0 + v - 1 : Math.min(height - 1, Math.max(0, y0 + v - 1))) * width;
    let line = 0;
    for (let u = 0; u < 4; u++) line += across[u] * data[row + (inside ? x0 + u - 1 : Math.min(width - 1, Math.max(0, x0 + u - 1)))];
    sum += down[v] * line;
  }
  return sum;
}

/**
 * Adds a straight face's correction to a picture, in place.
 * @param weight how much of it, for each pixel of the frame, 0 to 1.
 */
export function layBack(picture: Picture, correction: FramedFace, weight: Float32Array, at: Similarity): void {
  const { info, region } = picture;
  const { side } = correction;
  const { luma, chroma } = codes(info.colour.range);
  const back = invert(at);
  const corners = [0, side].flatMap((u) => [0, side].map((v) => [at.a * u - at.b * v + at.x, at.b * u + at.a * v + at.y]));
  const spot = new Float64Array(2);
  for (const [index, plane] of picture.planes.entries()) {
    const own = planeRegion(info, index, region);
    const sx = index ? 1 << info.chromaShiftX : 1,
      sy = index ? 1 << info.chromaShiftY : 1;
    const weighted = correction.planes[index].map((v, i) => v * weight[i]);
    const scale = index ? chroma : luma;
    const from = (axis: 0 | 1, step: number, start: number): number =>
      Math.max(0, Math.floor(Math.min(...corners.map((c) => c[axis])) / step) - start);
    const to = (axis: 0 | 1, step: number, start: number, size: number): number =>
      Math.min(size, Math.ceil(Math.max(...corners.map((c) => c[axis])) / step) - start);
    for (let y = from(1, sy, own.y); y < to(1, sy, own.y, plane.height); y++)
      for (let x = from(0, sx, own.x); x < to(0, sx, own.x, plane.width); x++) {
        moved(back, (x + own.x + 0.5) * sx, (y + own.y + 0.5) * sy, spot, 0);
        const value = linearAt(weighted, side, spot[0] - 0.5, spot[1] - 0.5);
        if (value === 0) continue;
        const i = y * plane.width + x;
        plane.data[i] = Math.min(65535, Math.max(0, Math.round(plane.data[i] + value * scale)));
      }
  }
}

/** Between four samples; nothing beyond the frame. */
function linearAt(data: Float32Array, side: number, x: number, y: number): number {
  if (x < 0 || y < 0 || x > side - 1 || y > side - 1) return 0;
  const x0 = Math.min(side - 2, Math.floor(x)),
    y0 = Math.min(side - 2, Math.floor(y));
  const fx = x - x0,
    fy = y - y0,
    i = y0 * side + x0;
  return (data[i] * (1 - fx) + data[i + 1] * fx) * (1 - fy) + (data[i + side] * (1 - fx) + data[i + side + 1] * fx) * fy;
}
