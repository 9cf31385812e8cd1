import { newPlane, type Picture, type Region } from './picture';

/**
 * A part of a picture at half its size, with chroma for each pixel.
 * @param part in pixels of half the size, inside of `frame`, the whole of it.
 */
export function halvedPart(source: Picture, part: Region, frame: { width: number; height: number }): Picture {
  const { info, region } = source;
  const planes = source.planes.map((plane, index) => {
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    const ownX = region.x >> shiftX,
      ownY = region.y >> shiftY;
    const out = newPlane(part.width, part.height);
    const { data } = plane,
      made = out.data;
    for (let y = 0, i = 0; y < part.height; y++) {
      const [upper, lower] = [0, 1].map((n) => (((2 * (part.y + y) + n) >> shiftY) - ownY) * plane.width - ownX);
      for (let x = 2 * part.x; x < 2 * (part.x + part.width); x += 2, i++) {
        const a = x >> shiftX,
          b = (x + 1) >> shiftX;
        made[i] = (data[upper + a] + data[upper + b] + data[lower + a] + data[lower + b] + 2) >> 2;
      }
    }
    return out;
  });
  return { info: { ...info, ...frame, chromaShiftX: 0, chromaShiftY: 0 }, region: part, planes };
}
