import { reducedArea } from '../kernels/reduce';
import { newPlane, type Picture, planeRegion, wholeRegion } from './picture';

/** A whole picture reduced by a whole number: samples are means over those they stand for, what is left over at the right and below is cut off. */
export function reducedPicture(picture: Picture, by: number): Picture {
  const { info, region, planes } = picture;
  if (by <= 1) return picture;
  // Whole chroma samples on both sides.
  const width = (Math.floor(region.width / by) >> info.chromaShiftX) << info.chromaShiftX,
    height = (Math.floor(region.height / by) >> info.chromaShiftY) << info.chromaShiftY;
  const reduced = planes.map((plane, index) => {
    const out = newPlane(index ? width >> info.chromaShiftX : width, index ? height >> info.chromaShiftY : height);
    for (let y = 0; y < out.height; y++)
      for (let x = 0; x < out.width; x++) {
        let sum = 0;
        for (let v = y * by; v < (y + 1) * by; v++) for (let u = x * by; u < (x + 1) * by; u++) sum += plane.data[v * plane.width + u];
        out.data[y * out.width + x] = sum / (by * by);
      }
    return out;
  });
  const smaller = { ...info, width, height };
  return { info: smaller, region: wholeRegion(smaller), planes: reduced };
}

/** Means of one plane's samples over squares of `by` pixels of the luma. */
export function reducedPlane({ info, region, planes }: Picture, index: number, by: number, width: number, height: number): Float32Array {
  const { data } = planes[index];
  const own = planeRegion(info, index, region);
  const shiftX = index ? info.chromaShiftX : 0,
    shiftY = index ? info.chromaShiftY : 0;
  const out = new Float32Array(width * height);
  for (let y = 0; y < height; y++)
    for (let x = 0; x < width; x++) {
      const left = (x * by) >> shiftX,
        right = Math.max(left + 1, ((x + 1) * by) >> shiftX),
        top = (y * by) >> shiftY,
        bottom = Math.max(top + 1, ((y + 1) * by) >> shiftY);
      let sum = 0;
      for (let v = top; v < bottom; v++) for (let u = left; u < right; u++) sum += data[v * own.width + u];
      out[y * width + x] = sum / ((right - left) * (bottom - top));
    }
  return out;
}

/**
 * A part of a picture at another size, with chroma for each of its samples; each is the mean of the area it covers.
 * @returns undefined where a plane of it is smaller than that.
 */
export function areaPicture({ info, planes }: Picture, width: number, height: number): Picture | undefined {
  if (planes.some((plane) => plane.width < width || plane.height < height)) return undefined;
  const smaller = { ...info, width, height, chromaShiftX: 0, chromaShiftY: 0 };
  return { info: smaller, region: wholeRegion(smaller), planes: planes.map((plane) => reducedArea(plane, width, height)) };
}
