import { cutPicture, growRegion, planeRegion, type Picture, type Region } from '../picture/picture';
import { BORDER } from '../networks/cells';
import type { CleanRequest, Strength } from '../networks/steering';
import { maskValues, type Mask } from './mask';

/**
 * The step's result where its mask is 1, what it read where it is 0, and a mixture between.
 *
 * @param read covers at least the result's region, in the same raster.
 */
export function mixedByMask(read: Picture, made: Picture, mask: Mask): Picture {
  return mixed(read, made, maskValues(mask, made.info, made.region));
}

/** A row of steps of the cleaning network, which was steered by their masks; what lies outside all of them is kept to the last bit. */
export function outsideKept(read: Picture, made: Picture, masks: Mask[]): Picture {
  const all = masks.map((mask) => maskValues(mask, made.info, made.region));
  // Inside, the steering has made the transition already: this one takes the outer quarter of it.
  return mixed(
    read,
    made,
    all[0].map((_, i) => Math.min(1, 4 * Math.max(...all.map((values) => values[i])))),
  );
}

function mixed(read: Picture, made: Picture, weights: Float32Array): Picture {
  const { info, region } = made;
  const before = cutPicture(read, region);
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

/** A request to the cleaning network whose strengths hold where the mask is. */
export function maskedRequest(request: CleanRequest, mask: Mask, frame: { width: number; height: number }, cover: Region): CleanRequest {
  const region = growRegion(cover, BORDER, 2, frame);
  const values = maskValues(mask, frame, region);
  const steering = Object.fromEntries(
    Object.entries(request.steering).map(([kind, strength]: [string, Strength]) => [
      kind,
      typeof strength === 'number' ? { region, values: values.map((v) => v * strength) } : strength,
    ]),
  );
  return { ...request, steering };
}
