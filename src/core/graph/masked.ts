import type { Geometry } from '../../shared/maps/place';
import type { Mask } from '../../shared/masks/mask';
import type { PaintedStore } from '../../shared/masks/painted';
import { maskValues } from '../../shared/masks/values';
import { BORDER } from '../networks/cells';
import type { CleanRequest, Strength } from '../networks/steering';
import { asColour } from '../picture/asColour';
import { cutPicture, growRegion, planeRegion, type Picture, type Region } from '../picture/picture';

/** Reads a mask for a region of frame `n` of one node: values from 0 to 1, row by row. */
export type MaskReader = (mask: Mask, n: number, region: Region) => Promise<Float32Array>;

export const maskReader =
  (source: { width: number; height: number }, geometry: Geometry, painted: PaintedStore): MaskReader =>
  (mask, n, region) =>
    maskValues(mask, { source, place: geometry(n), region, painted });

/** The whole of a row of steps of the cleaning network, which was steered by their masks; what lies outside all of them is kept to the last bit. */
export function keepOutside(read: Picture, made: Picture, values: Float32Array[]): Picture {
  // Inside, the steering has made the transition already: this one takes the outer quarter of it.
  return mixPictures(
    read,
    made,
    values[0].map((_, i) => Math.min(1, 4 * Math.max(...values.map((v) => v[i])))),
  );
}

/**
 * What was made where the weights are 1, what was there where they are 0, and a mixture between.
 *
 * @param below covers at least the region of what was made, in the same raster; a monochrome one counts as grey.
 * @param weights one for each pixel of that region.
 */
export function mixPictures(below: Picture, made: Picture, weights: Float32Array): Picture {
  const { info, region } = made;
  const before = asColour(cutPicture(below, region), info);
  const planes = made.planes.map((plane, index) => {
    const own = planeRegion(info, index, region);
    const shiftX = index ? info.chromaShiftX : 0,
      shiftY = index ? info.chromaShiftY : 0;
    const from = before.planes[index].data;
    const inside = (v: number, size: number): number => Math.min(size - 1, Math.max(0, v));
    const data = plane.data.map((v, i) => {
      const x = inside(((own.x + (i % plane.width)) << shiftX) - region.x, region.width),
        y = inside(((own.y + Math.floor(i / plane.width)) << shiftY) - region.y, region.height);
      return Math.round(from[i] + (v - from[i]) * weights[y * region.width + x]);
    });
    return { ...plane, data };
  });
  return { ...made, planes };
}

/** Region whose mask values steer a pass over `cover`. */
export const steeredRegion = (cover: Region, frame: { width: number; height: number }): Region => growRegion(cover, BORDER, 2, frame);

/** A request to the cleaning network whose strengths hold where a mask's values are. */
export function maskedRequest(request: CleanRequest, region: Region, values: Float32Array): CleanRequest {
  const steering = Object.fromEntries(
    Object.entries(request.steering).map(([kind, strength]: [string, Strength]) => [
      kind,
      typeof strength === 'number' ? { region, values: values.map((v) => v * strength) } : strength,
    ]),
  );
  return { ...request, steering };
}
