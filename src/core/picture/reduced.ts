import { newPlane, type Picture, wholeRegion } from './picture';

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
