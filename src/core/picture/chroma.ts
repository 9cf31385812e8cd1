import { newPlane, planeRegion, type Picture, type Plane, type StreamInfo } from './picture';

/**
 * A whole picture with finer chroma: linear between samples, which lie on their first pixel sideways and between lines downwards, as of
 * video. Samples at the same place stay as they are.
 *
 * @param shiftX log2 of the pixels that share a sample, at most the picture's own; `shiftY` of the lines.
 */
export function withFinerChroma(picture: Picture, shiftX: number, shiftY: number): Picture {
  const { info } = picture;
  if (info.planes === 1 || (shiftX === info.chromaShiftX && shiftY === info.chromaShiftY)) return picture;
  const output: StreamInfo = { ...info, chromaShiftX: shiftX, chromaShiftY: shiftY };
  const { width, height } = planeRegion(output, 1, picture.region);
  const finer = (plane: Plane): Plane => {
    const out = newPlane(width, height);
    const across = placesOf(width, plane.width, info.chromaShiftX - shiftX, 0),
      down = placesOf(height, plane.height, info.chromaShiftY - shiftY, 0.5);
    for (let y = 0; y < height; y++) {
      const a = down[y].first * plane.width,
        b = down[y].next * plane.width,
        fy = down[y].share;
      for (let x = 0; x < width; x++) {
        const { first, next, share } = across[x];
        const left = plane.data[a + first] + (plane.data[b + first] - plane.data[a + first]) * fy,
          right = plane.data[a + next] + (plane.data[b + next] - plane.data[a + next]) * fy;
        out.data[y * width + x] = Math.round(left + (right - left) * share);
      }
    }
    return out;
  };
  const [luma, ...colour] = picture.planes;
  return { info: output, region: picture.region, planes: [luma, ...colour.map(finer)] };
}

/** A picture with a sample of chroma for each pixel again with coarser chroma, sited as `withFinerChroma` says, each the mean of what is round it. */
export function withCoarserChroma(picture: Picture, shiftX: number, shiftY: number): Picture {
  const { info } = picture;
  if (info.planes === 1 || (shiftX === 0 && shiftY === 0)) return picture;
  const output: StreamInfo = { ...info, chromaShiftX: shiftX, chromaShiftY: shiftY };
  const { width, height } = planeRegion(output, 1, picture.region);
  const coarser = (plane: Plane): Plane => {
    const out = newPlane(width, height);
    const held = (at: number, length: number): number => Math.min(length - 1, Math.max(0, at));
    const across = shiftX ? [-1, 0, 0, 1] : [0],
      down = shiftY ? [0, 1] : [0];
    for (let y = 0; y < height; y++) {
      for (let x = 0; x < width; x++) {
        let sum = 0;
        for (const dy of down)
          for (const dx of across)
            sum += plane.data[held((y << shiftY) + dy, plane.height) * plane.width + held((x << shiftX) + dx, plane.width)];
        out.data[y * width + x] = Math.round(sum / (across.length * down.length));
      }
    }
    return out;
  };
  const [luma, ...colour] = picture.planes;
  return { info: output, region: picture.region, planes: [luma, ...colour.map(coarser)] };
}

/** For each of `count` samples the two of a line of `length`, 2^shift times as coarse, that it lies between. `siting` is where in its pixels a sample lies. */
function placesOf(count: number, length: number, shift: number, siting: 0 | 0.5): { first: number; next: number; share: number }[] {
  const held = (at: number): number => Math.min(length - 1, Math.max(0, at));
  return Array.from({ length: count }, (_, i) => {
    const at = (i + siting) / (1 << shift) - siting,
      base = Math.floor(at);
    return { first: held(base), next: held(base + 1), share: at - base };
  });
}
