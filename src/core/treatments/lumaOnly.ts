import { cutPlane, planeRegion, type Picture, type Plane, type Region } from '../picture/picture';
import type { ApplyContext } from './treatment';

/** A part of a picture whose luma is worked and whose chroma stays. @param work makes the luma of the region of the whole plane. */
export function lumaOnly(
  source: Picture,
  { output, region }: ApplyContext,
  work: (luma: Plane, own: Region, region: Region) => Plane,
): Picture {
  const { info } = source;
  const planes = source.planes.map((plane, index) => {
    const own = planeRegion(info, index, source.region),
      wanted = planeRegion(info, index, region);
    return index === 0 ? work(plane, own, wanted) : cutRegion(plane, own, wanted);
  });
  return { info: output, region, planes };
}

/** A region of a plane that lies at `own` in the frame. */
export const cutRegion = (plane: Plane, own: Region, region: Region): Plane =>
  cutPlane(plane, region.x - own.x, region.y - own.y, region.width, region.height);
